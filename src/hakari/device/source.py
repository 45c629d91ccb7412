"""What a source of weight over time is."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, Protocol

ScaleState = Literal["brewer", "cup"]


@dataclass(frozen=True)
class Reading:
    """One reading: seconds since the first pour, and the weight in g since the scale was set to nothing."""

    t_s: float
    weight_g: float


class WeightSource(Protocol):
    """A scale, or what stands in for one.

    ``standing`` says what it weighs: the whole brewer with the water poured, or the cup under it. ``lag_s`` is how late it
    shows a change. It is asked again and again by one thread.
    """

    label: str
    standing: ScaleState
    simulated: bool
    lag_s: float

    def until(self, t_s: float) -> list[Reading]:
        """Return the readings that came since it was last asked, up to ``t_s``; none while it is silent."""
        ...

    def ended(self, t_s: float) -> bool:
        """Whether nothing more will come after ``t_s``."""
        ...
