"""The practice scale: a simulated hand pours the plan with human error, the flow model drips, and a scale reads it badly."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from hakari.core.brew.schedule import Plan, Pour
from hakari.core.flow.factors import FlowFactors
from hakari.core.flow.result import Flow
from hakari.core.flow.simulate import simulate_flow
from hakari.core.psd.grind import Grind
from hakari.device.replay import ReplayedScale
from hakari.device.source import ScaleState

# The kitchen that the practice scale stands in: its beds and its paper are not the program's starting points.
PRACTICE_KITCHEN = FlowFactors(bed_factor=0.86, filter_factor=1.2)
READINGS_PER_S = 10.0
STEP_S = 0.1
LONGEST_S = 1800.0


@dataclass(frozen=True)
class Hand:
    """The error of a hand: standard deviations of a pour's start, its length (relative) and its water."""

    start_s: float = 1.0
    length: float = 0.12
    water_g: float = 2.0


@dataclass(frozen=True)
class Faults:
    """What is wrong with the readings: noise, drift, lag, single losses and silences of seconds."""

    noise_g: float = 0.08
    drift_g_per_s: float = 0.001
    lag_s: float = 0.4
    lost: float = 0.02
    silences: int = 1
    silence_s: float = 3.0


HAND, FAULTS = Hand(), Faults()


class PracticeScale(ReplayedScale):
    """A simulated scale. ``truth`` is what really happened, for whoever checks what was made of the readings."""

    def __init__(
        self, plan: Plan, grind: Grind, standing: ScaleState, seed: int,
        factors: FlowFactors = PRACTICE_KITCHEN, hand: Hand = HAND, faults: Faults = FAULTS,
    ) -> None:  # fmt: skip
        rng = np.random.default_rng(seed)
        self.poured_plan = poured_by_hand(plan, hand, rng)
        self.truth: Flow = simulate_flow(self.poured_plan, grind, factors, STEP_S)
        truth = self.truth
        end = min(float(truth.t_s[-1]) + 30.0, LONGEST_S)
        t = np.round(np.arange(0.0, end, 1 / READINGS_PER_S), 3)
        true = np.interp(t, truth.t_s, truth.poured_g if standing == "brewer" else truth.drink_g)
        super().__init__(t, _read(t, true, faults, rng), standing, "practice scale, simulated")
        self.simulated, self.lag_s = True, faults.lag_s


def poured_by_hand(plan: Plan, hand: Hand, rng: np.random.Generator) -> Plan:
    """Return the plan as a hand pours it: a little late, uneven, and over or short; pours stay in order."""
    pours: list[Pour] = []
    over, owed = 0.0, 0.0
    for i, p in enumerate(plan.pours):
        lasts = max(2.0, p.duration_s * float(np.exp(rng.normal(0, hand.length))))
        slip = float(rng.normal(0, hand.water_g))
        water = max(
            2.0, p.water_g + slip - owed
        )  # totals are read off the scale, so the next pour makes up for the last
        owed = slip
        if p.start_s is None:
            pours.append(replace(p, duration_s=lasts, water_g=water))
            continue
        late = 0.0 if i == 0 else abs(float(rng.normal(0, hand.start_s)))
        start = max(p.start_s + late, over)
        over = start + lasts + 0.5
        pours.append(replace(p, start_s=start, duration_s=lasts, water_g=water))
    steep = plan.steep
    if steep is not None:
        steep = replace(steep, seconds=max(steep.seconds, over))
    return replace(plan, pours=tuple(pours), steep=steep)


def _read(
    t: np.ndarray[tuple[int], np.dtype[np.float64]], true: np.ndarray[tuple[int], np.dtype[np.float64]],
    faults: Faults, rng: np.random.Generator,
) -> np.ndarray[tuple[int], np.dtype[np.float64]]:  # fmt: skip
    """Return readings of a true weight; NaN where nothing came."""
    shown = np.empty_like(true)
    follow = 1 - np.exp(-1 / (READINGS_PER_S * max(faults.lag_s, 1e-3)))
    at = 0.0
    for k, weight in enumerate(true):
        at += follow * (weight - at)
        shown[k] = at
    shown = np.round(shown + faults.drift_g_per_s * t + rng.normal(0, faults.noise_g, len(t)), 2)
    shown[rng.random(len(t)) < faults.lost] = np.nan
    for start in rng.uniform(20, max(21.0, t[-1] - 60), faults.silences):
        shown[(t > start) & (t < start + faults.silence_s)] = np.nan
    return shown
