"""The course of a brew's water."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hakari.core.arrays import BoolArray, FloatArray
from hakari.core.flow.bed import Bed


@dataclass(frozen=True)
class Flow:
    """The predicted course; arrays of one value a step, masses in g, level in mm above the bed.

    While the valve is closed all water is with the grounds. ``bare_bed_s`` is when no water stands over the bed any more, or
    a steep has been pressed or drawn off.
    """

    bed: Bed
    t_s: FloatArray
    level_mm: FloatArray
    poured_g: FloatArray
    through_g: FloatArray
    bypass_g: FloatArray
    absorbed_g: FloatArray
    standing_g: FloatArray
    pore_g: FloatArray
    celsius: FloatArray
    valve_open: BoolArray
    bare_bed_s: float
    last_drip_s: float
    stalled: bool
    pour_starts_s: tuple[float, ...]
    finished: bool

    @property
    def drink_g(self) -> FloatArray:
        """Water in the cup, through the bed and round it."""
        return np.asarray(self.through_g + self.bypass_g)

    @property
    def bypass_fraction(self) -> float:
        """Share of the drink that went round the bed."""
        return float(self.bypass_g[-1] / max(self.drink_g[-1], 1e-9))
