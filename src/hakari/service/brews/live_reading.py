"""What a page hears of a running brew, reading by reading."""

from __future__ import annotations

import numpy as np

from hakari.core.brew.schedule import Plan
from hakari.core.flow.bed import Bed
from hakari.core.flow.percolation import UPTAKE_G_PER_G, UPTAKE_S
from hakari.formats.base import Document


class LiveReading(Document):
    """What a page hears of a running brew: the readings since the last time, and where things stand now.

    ``index`` counts the readings before these. ``expected_g`` is what the scale should show, ``wanted_g_s`` how fast a pour
    should be, ``pace`` the two rates in words; ``silent`` says that a scale which should speak does not; ``level_mm`` is the
    water over the bed, ``level_from`` its source.
    """

    index: int
    t_s: list[float]
    weight_g: list[float]
    elapsed_s: float
    rate_g_s: float | None
    expected_g: float
    wanted_g_s: float | None
    pace: str | None
    silent: bool
    level_mm: float
    level_from: str


def free_g(plan: Plan, bed: Bed, elapsed_s: float, held_g: float) -> float:
    """Water that stands over the bed, g, where the brewer holds ``held_g``; what grounds and pores hold is not free."""
    return held_g - UPTAKE_G_PER_G * plan.dose_g * (1 - float(np.exp(-elapsed_s / UPTAKE_S))) - bed.pore_g


def level_mm(plan: Plan, bed: Bed, elapsed_s: float, held_g: float) -> float:
    """Water over the bed, mm, where the brewer holds ``held_g`` of water."""
    free = free_g(plan, bed, elapsed_s, held_g)
    if free <= 0:
        return 0.0
    return 1000 * (plan.brewer.height_m(bed.bulk_m3 + free * 1e-6) - bed.depth_m)
