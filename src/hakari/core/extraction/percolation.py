"""Extraction of a drip brew: layers of bed washed by the flow model's outflow."""

from __future__ import annotations

import numpy as np

from hakari.core.arrays import FloatArray
from hakari.core.brew.schedule import Plan
from hakari.core.extraction.mass_transfer import Exchange, exchanges_of, full_tanks
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
# Each cell's part of the bed: the moving zones of all layers from the top down, then the stagnant ones.
CELLS = np.repeat(np.array([1.0 - STAGNANT, STAGNANT]) / LAYERS, LAYERS)
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

    A step's table times what the cells hold, g per g of each cell's coffee, is what they hold after it; what enters is
    counted in the top cell first. Both zones are taken at the end of the step, from the top layer down: however long the
    step, nothing is carried past its source.
    """
    held = np.maximum(pore_g, 1e-6)[:, None] / LAYERS
    # Flow falls or rises evenly from what enters the top to what leaves the bottom.
    turns = (into_g[:, None] + (out_g - into_g)[:, None] * DOWN) / held
    away, renewed = turns / (1.0 - STAGNANT), turns / RENEWAL_TURNS
    stagnant_kept = 1.0 / (1.0 + renewed * (1.0 - STAGNANT))
    # What the moving zone gives the stagnant one, and the other way, each in g per g of the coffee of the zone that gets it.
    given, got = renewed * (1.0 - STAGNANT) * stagnant_kept, renewed * STAGNANT * stagnant_kept
    kept = 1.0 / (1.0 + away + got)
    carried = np.zeros((len(into_g), 2 * LAYERS, 2 * LAYERS))
    moving, stagnant = carried[:, :LAYERS], carried[:, LAYERS:]
    passed = kept[:, 1:] * away[:, :-1]
    for i in range(LAYERS):
        moving[:, i, i] = kept[:, i]
        if i:
            moving[:, i, :i] = passed[:, i - 1, None] * moving[:, i - 1, :i]
    moving[:, :, LAYERS:] = moving[:, :, :LAYERS] * got[:, None]
    stagnant[:] = given[:, :, None] * moving
    stagnant[:, range(LAYERS), range(LAYERS, 2 * LAYERS)] += stagnant_kept
    return carried, away[:, -1]


class _Wash:
    """State of one wash."""

    def __init__(self, plan: Plan, pools: Pools, flow: Flow, evenness: float) -> None:
        self.plan, self.pools, self.flow, self.evenness = plan, pools, flow, evenness
        self.washed_g = plan.dose_g * evenness
        self.tanks = full_tanks(pools, len(CELLS))
        self.left, self.solids = self.tanks[:-1], self.tanks[-1]
        self.top_g, self.bottom_g = (float(self.washed_g * CELLS[k]) for k in (0, LAYERS - 1))
        self.standing_solids = 0.0
        self.cup = 0.0

    def run(self) -> Extraction:
        f = self.flow
        at = np.append(np.arange(0, len(f.t_s) - 1, self._stride()), len(f.t_s) - 1)
        quick = max((SURFACE_QUICKENING[p.strength] for p in self.plan.pours), default=1.0)
        rates = self.pools.rate_per_s.copy()
        rates[0] *= quick * (1.0 + 0.1 * len(self.plan.actions))
        moving = rates * heat_factors(f.celsius[at[1:]]) * np.diff(f.t_s[at])[:, None]
        pore, standing, valve_open = f.pore_g[at], f.standing_g[at], f.valve_open[at[1:]]
        free = np.maximum(standing - pore, 0.0)
        out, past = np.diff(f.through_g[at]), np.diff(f.bypass_g[at])
        above = free[:-1] + np.diff(f.poured_g[at])
        into = np.maximum(above - past - free[1:], 0.0)
        sweeps, leaving = _sweeps(into, out, pore[:-1])
        # Behind a closed valve bed and water are one tank.
        liquid_g = np.where(valve_open, pore[1:], standing[1:])
        in_bed = np.minimum(pore[1:] / np.maximum(standing[1:], 1e-9), 1.0)
        steps = zip(
            exchanges_of(self.pools, moving, liquid_g / self.washed_g), valve_open.tolist(), sweeps, leaving.tolist(),
            past.tolist(), above.tolist(), into.tolist(), in_bed.tolist(), strict=True,
        )  # fmt: skip
        cup = [0.0]
        for exchange, is_open, sweep, away, past_g, above_g, into_g, share_in_bed in steps:
            if is_open:
                self._move(sweep, away, past_g, above_g, into_g)
                if exchange:
                    exchange.apply(self.tanks)
            elif exchange:
                self._steep(exchange, share_in_bed)
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
        self.solids[0] += entering / self.top_g
        self.solids[:] = sweep @ self.solids
        self.cup += rounding + away * float(self.solids[LAYERS - 1]) * self.bottom_g

    def _steep(self, exchange: Exchange, share_in_bed: float) -> None:
        """Let all grounds and all water exchange as one tank."""
        together = self.tanks @ CELLS
        together[-1] += self.standing_solids / self.washed_g
        exchange.apply(together[:, None])
        self.tanks[:] = together[:, None]
        self.solids *= share_in_bed
        self.standing_solids = float(together[-1]) * (1.0 - share_in_bed) * self.washed_g

    def _left_of_all(self) -> FloatArray:
        """Return what is left at each rate over the whole bed, (rates,)."""
        return np.asarray(self.left @ CELLS)

    def _result(self, cup: FloatArray, drink: FloatArray) -> Extraction:
        gone = self.pools.by_size(1 - self._left_of_all())
        # The liquid inside the grounds is as strong as that around them.
        pore, inside = float(self.flow.pore_g[-1]), float(self.flow.absorbed_g[-1])
        dissolved = float(self.solids @ CELLS) * self.washed_g * (1 + inside / max(pore, 1e-6)) + self.standing_solids
        return Extraction.of(
            self.plan.dose_g, drink, cup, dissolved, self.pools.diameter_um, gone, self.pools.share, self.evenness
        )
