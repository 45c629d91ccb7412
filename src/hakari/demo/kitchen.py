"""The demo's kitchen: what really happens when a plan is poured there. Simulated, with factors the program does not know."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hakari.core.brew.schedule import Plan
from hakari.core.extraction.percolation import percolate
from hakari.core.psd.grind_sources import grind_from_figures
from hakari.demo.grinders import TrueGrinder
from hakari.device.practice_scale import PracticeScale
from hakari.formats.brew_log import LogDocument, write_log

YIELD_FACTOR = 1.03
LONGEST_S = 900.0


@dataclass(frozen=True)
class Brewed:
    """What was read off the bench after a brew, and the log of the scale under the cup as CSV."""

    tds_percent: float
    drink_g: float
    log_csv: str


def brew(plan: Plan, grinder: TrueGrinder, position: float, rng: np.random.Generator) -> Brewed:
    """Pour a plan by the practice hand with the true grind of a setting, over the practice scale."""
    grind = grind_from_figures(grinder.median_um(position), 0.95, grinder.fines_share(position) * 0.75)
    scale = PracticeScale(plan, grind, "cup", int(rng.integers(2**31)))
    cup = percolate(scale.poured_plan, grind, scale.truth)
    read = scale.until(LONGEST_S)
    log = LogDocument(
        t_s=[r.t_s for r in read], poured_g=[None] * len(read), drink_g=[r.weight_g for r in read]
    )  # fmt: skip
    return Brewed(round(cup.tds_percent * YIELD_FACTOR, 2), round(cup.drink_g), write_log(log, []))
