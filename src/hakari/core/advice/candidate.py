"""A candidate change: what it is called, and the brew that it makes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from hakari.core.brew.schedule import Plan
from hakari.core.psd.grind import Grind

Kind = Literal[
    "grind", "temperature", "ratio", "dose", "pours", "agitation", "time", "filter", "seating", "mesh", "sieve",
    "bypass-water", "dilution", "preheat", "brewer", "coffee", "water", "compensated", "rest", "repeat", "none",
]  # fmt: skip


@dataclass(frozen=True)
class Candidate:
    """One change: what it is called, from and to in the gear's own notation, and the brew that it makes.

    ``added_g`` is water put into the drink afterwards beyond what was; ``dilution_g`` all of it, where it is diluted.
    ``modelled`` is false for what no equation here sees: paper seated again, other coffee, other water; ``option`` is the
    style's option that it sets.
    """

    kind: Kind
    direction: str
    start: str
    end: str
    words: str
    size_steps: int
    plan: Plan
    grind: Grind
    added_g: float = 0.0
    modelled: bool = True
    dilution_g: float | None = None
    option: tuple[str, str] | None = None
