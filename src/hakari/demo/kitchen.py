"""The demo's kitchen: what really happens when a plan is poured there. Simulated, with factors the program does not know."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from hakari.core.brew.schedule import Plan
from hakari.core.extraction.percolation import percolate
from hakari.core.flow.drawdown import simulate
from hakari.core.psd.whole import whole_from_figures
from hakari.demo.grinders import TrueGrinder
from hakari.device.practice_scale import PRACTICE_KITCHEN

YIELD_FACTOR = 1.01
HAND_S = 4.0


@dataclass(frozen=True)
class Brewed:
    """What was read off the bench after a brew."""

    drawdown_s: float
    last_drip_s: float
    tds_percent: float
    drink_g: float
    stalled: bool


def brew(plan: Plan, grinder: TrueGrinder, position: float, rng: np.random.Generator) -> Brewed:
    """Pour a plan with the true grind of a setting and the noise of a hand."""
    grind = whole_from_figures(grinder.median_um(position), 0.95, grinder.fines_share(position) * 0.75)
    flow = simulate(plan, grind, PRACTICE_KITCHEN)
    cup = percolate(plan, grind, flow)
    late = float(rng.normal(0, HAND_S))
    cup = replace(cup, tds_percent=cup.tds_percent * YIELD_FACTOR)
    return Brewed(
        round(flow.bare_bed_s + late), round(flow.last_drip_s + late), round(cup.tds_percent, 2), round(cup.drink_g),
        flow.bare_bed_s > 300,
    )  # fmt: skip
