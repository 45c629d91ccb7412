"""Extraction of a drip brew: layers of bed washed by the flow model's outflow."""

from __future__ import annotations

import numpy as np

from hakari.core.arrays import FloatArray
from hakari.core.brew.schedule import Plan
from hakari.core.extraction.mass_transfer import Step, exchange, steps_of
from hakari.core.extraction.result import Extraction
from hakari.core.extraction.soluble_fractions import Pools, heat_factors, make_pools
from hakari.core.flow.result import Flow
from hakari.core.flow.slow_drip import is_slow_drip
from hakari.core.psd.grind import Grind

LAYERS = 12
DOWN = np.arange(1, LAYERS + 1) / LAYERS
EVENNESS, EVENNESS_OF_DROPS = 0.9335, 0.88
EVENNESS_PER_ACTION = {"swirl": 0.015, "stir": 0.025, "stir-back": 0.025}
# Water finds its way through part of the pores; the rest is passed by and mixes with it once as much again has flowed
# through as the pores hold, times RENEWAL_TURNS (mobile and immobile zones: Coats & Smith 1964).
STAGNANT, RENEWAL_TURNS = 0.883, 2.87
SURFACE_QUICKENING = {"soft": 0.9, "normal": 1.0, "hard": 1.15}


def evenness_of(plan: Plan) -> float:
    """Share of the bed that is really washed; agitation raises it, drops find ways of their own.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    float
        Share of the bed that is really washed.
    """
    if is_slow_drip(plan):
        return EVENNESS_OF_DROPS
    actions = sum(EVENNESS_PER_ACTION.get(a.do, 0.0) for a in plan.actions)
    return min(0.99, EVENNESS + actions)


def percolate(plan: Plan, grind: Grind, flow: Flow, evenness: float | None = None) -> Extraction:
    """Wash the bed with the predicted flow.

    Liquid moves down through ``LAYERS`` layers, each of a moving and a stagnant zone; standing water is one pool above
    them. Solids are counted from zone to zone, so that what leaves the grounds is in the liquid or in the cup.

    Parameters
    ----------
    plan : Plan
        The plan.
    grind : Grind
        Size classes of the whole grind.
    flow : Flow
        The simulated flow.
    evenness : float or None
        How evenly the water went through the bed, 0 to 1.

    Returns
    -------
    Extraction
        What was dissolved, and where it is.
    """
    pools = make_pools(grind, plan.roast)
    even = evenness_of(plan) if evenness is None else evenness
    return _Wash(plan, pools, flow, even).run()


def _sweeps(into_g: FloatArray, out_g: FloatArray, pore_g: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Return how one step of the liquid carries solids from cell to cell, (steps, cells, cells), and out, (steps,).

    A step's table times what the cells hold is what they hold after it; what enters is counted in the top cell first. Both
    zones are taken at the end of the step, from the top layer down: however long the step, nothing is carried past its
    source.
    """
    held = np.maximum(pore_g, 1e-6)[:, None] / LAYERS
    # Flow falls or rises evenly from what enters the top to what leaves the bottom.
    turns = (into_g[:, None] + (out_g - into_g)[:, None] * DOWN) / held
    away, renewed = turns / (1.0 - STAGNANT), turns / RENEWAL_TURNS
    stagnant_kept = 1.0 / (1.0 + renewed * (1.0 - STAGNANT))
    taken_up = renewed * STAGNANT * stagnant_kept
    offered = renewed * (1.0 - STAGNANT) * stagnant_kept
    kept = 1.0 / (1.0 + away + taken_up)
    carried = np.zeros((len(into_g), 2 * LAYERS, 2 * LAYERS))
    moving, stagnant = carried[:, :LAYERS], carried[:, LAYERS:]
    for i in range(LAYERS):
        moving[:, i, i] = kept[:, i]
        if i:
            moving[:, i, :i] = (kept[:, i] * away[:, i - 1])[:, None] * moving[:, i - 1, :i]
    moving[:, :, LAYERS:] = moving[:, :, :LAYERS] * offered[:, None]
    stagnant[:] = taken_up[:, :, None] * moving
    stagnant[:, range(LAYERS), range(LAYERS, 2 * LAYERS)] += stagnant_kept
    return carried, away[:, -1]


class _Wash:
    """State of one wash."""

    def __init__(self, plan: Plan, pools: Pools, flow: Flow, evenness: float) -> None:
        self.plan, self.pools, self.flow, self.evenness = plan, pools, flow, evenness
        self.washed_g = plan.dose_g * evenness
        # One row a cell: the moving zones of all layers from the top down, then the stagnant ones.
        self.cells = np.repeat(np.array([1.0 - STAGNANT, STAGNANT]) / LAYERS, LAYERS)
        self.left = np.ones((len(self.cells), len(pools.rate_per_s)))
        self.dry_g = self.washed_g * self.cells
        self.solids = np.zeros(len(self.cells))
        self.standing_solids = 0.0
        self.cup = 0.0

    def run(self) -> Extraction:
        f = self.flow
        at = np.append(np.arange(0, len(f.t_s) - 1, self._stride()), len(f.t_s) - 1)
        quick = max((SURFACE_QUICKENING[p.strength] for p in self.plan.pours), default=1.0)
        rates = self.pools.rate_per_s.copy()
        rates[0] *= quick * (1.0 + 0.1 * len(self.plan.actions))
        moving = rates * heat_factors(f.celsius[at[1:]]) * np.diff(f.t_s[at])[:, None]
        pore, standing = f.pore_g[at], f.standing_g[at]
        free = np.maximum(standing - pore, 0.0)
        out, past = np.diff(f.through_g[at]), np.diff(f.bypass_g[at])
        above = free[:-1] + np.diff(f.poured_g[at])
        into = np.maximum(above - past - free[1:], 0.0)
        sweeps, leaving = _sweeps(into, out, pore[:-1])
        steps = zip(
            steps_of(self.pools, moving), f.valve_open[at[1:]].tolist(), sweeps, leaving.tolist(), past.tolist(),
            above.tolist(), into.tolist(), pore[1:].tolist(), standing[1:].tolist(), strict=True,
        )  # fmt: skip
        cup = [0.0]
        for step, valve_open, sweep, away, past_g, above_g, into_g, pore_g, standing_g in steps:
            if valve_open:
                self._move(sweep, away, past_g, above_g, into_g)
                self._exchange(step, pore_g)
            else:
                self._steep(step, standing_g, pore_g)
            cup.append(self.cup)
        return self._result(np.array(cup), f.drink_g[at])

    def _stride(self) -> int:
        """Return how many steps of the flow are taken together, so that they make a second."""
        return max(1, round(1.0 / float(self.flow.t_s[1] - self.flow.t_s[0])))

    def _move(self, sweep: FloatArray, away: float, past_g: float, above_g: float, into_g: float) -> None:
        """Carry liquid down by one step: standing water into the bed, layer to layer, out and round."""
        thick = self.standing_solids / above_g if above_g > 1e-9 else 0.0
        entering = min(thick * into_g, self.standing_solids)
        rounding = min(thick * past_g, self.standing_solids - entering)
        self.standing_solids -= entering + rounding
        self.solids[0] += entering
        self.solids = sweep @ self.solids
        self.cup += rounding + away * float(self.solids[LAYERS - 1])

    def _exchange(self, step: Step, liquid_g: float) -> None:
        """Let the grounds and liquid of every cell exchange; solids are conserved."""
        if liquid_g <= 1e-6:
            return
        self.left, solids = exchange(self.left, self.solids / self.dry_g, liquid_g / self.washed_g, step)
        self.solids = solids * self.dry_g

    def _steep(self, step: Step, liquid_g: float, pore_g: float) -> None:
        """Behind a closed valve bed and water are one tank."""
        if liquid_g <= 1e-6:
            return
        solids = np.array([self.solids.sum() + self.standing_solids]) / self.washed_g
        left, solids = exchange(self._left_of_all()[None], solids, liquid_g / self.washed_g, step)
        self.left = np.repeat(left, len(self.cells), axis=0)
        together = float(solids[0]) * self.washed_g
        in_bed = together * min(pore_g / liquid_g, 1.0)
        self.solids = in_bed * self.cells
        self.standing_solids = together - in_bed

    def _left_of_all(self) -> FloatArray:
        """Return what is left at each rate over the whole bed, (rates,)."""
        return np.asarray(self.cells @ self.left)

    def _result(self, cup: FloatArray, drink: FloatArray) -> Extraction:
        gone = self.pools.by_size(1 - self._left_of_all())
        # The liquid inside the grounds is as strong as that around them.
        pore, inside = float(self.flow.pore_g[-1]), float(self.flow.absorbed_g[-1])
        dissolved = float(self.solids.sum()) * (1 + inside / max(pore, 1e-6)) + self.standing_solids
        return Extraction.of(
            self.plan.dose_g, drink, cup, dissolved, self.pools.diameter_um, gone, self.pools.share, self.evenness
        )
