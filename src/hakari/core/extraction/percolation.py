"""Extraction of a drip brew: layers of bed washed by the flow model's outflow."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from hakari.core.arrays import FloatArray
from hakari.core.brew.schedule import Plan
from hakari.core.extraction.mass_transfer import NO_LIQUID, Exchanges, exchange, exchanges_of, full_tanks, side_by_side
from hakari.core.extraction.result import Extraction
from hakari.core.extraction.soluble_fractions import heat_factors, make_pools
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
TOGETHER = 12  # brews that are washed side by side
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
    return _Beds([_Wash(plan, grind, flow, evenness)]).run()[0]


def percolate_all(brews: Sequence[tuple[Plan, Grind, Flow]]) -> list[Extraction]:
    """Wash several beds, each with its predicted flow.

    Parameters
    ----------
    brews : sequence of (Plan, Grind, Flow)
        The brews.

    Returns
    -------
    list of Extraction
        What was dissolved in each, and where it is: the same as of each alone, in about half the time.
    """
    order = sorted(range(len(brews)), key=lambda k: -len(brews[k][2].t_s))
    cups: dict[int, Extraction] = {}
    for begin in range(0, len(brews), TOGETHER):
        washes = {k: _Wash(*brews[k]) for k in order[begin : begin + TOGETHER]}
        longest_first = sorted(washes, key=lambda k: -len(washes[k]))
        cups |= zip(longest_first, _Beds([washes[k] for k in longest_first]).run(), strict=True)
    return [cups[k] for k in range(len(brews))]


def _sweeps(into_g: FloatArray, out_g: FloatArray, pore_g: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Return how steps of the liquid carry solids from cell to cell, (..., cells, cells), and out, (...).

    A step's table times what the cells hold, g per g of each cell's coffee, is what they hold after it; what enters is
    counted in the top cell first. Both zones are taken at the end of the step, from the top layer down: however long the
    step, nothing is carried past its source.
    """
    held = np.maximum(pore_g, 1e-6)[..., None] / LAYERS
    # Flow falls or rises evenly from what enters the top to what leaves the bottom.
    turns = (into_g[..., None] + (out_g - into_g)[..., None] * DOWN) / held
    away, renewed = turns / (1.0 - STAGNANT), turns / RENEWAL_TURNS
    stagnant_kept = 1.0 / (1.0 + renewed * (1.0 - STAGNANT))
    # What the moving zone gives the stagnant one, and the other way, each in g per g of the coffee of the zone that gets it.
    given, got = renewed * (1.0 - STAGNANT) * stagnant_kept, renewed * STAGNANT * stagnant_kept
    kept = 1.0 / (1.0 + away + got)
    carried = np.zeros((*into_g.shape, 2 * LAYERS, 2 * LAYERS))
    moving, stagnant = carried[..., :LAYERS, :], carried[..., LAYERS:, :]
    passed = kept[..., 1:] * away[..., :-1]
    for i in range(LAYERS):
        moving[..., i, i] = kept[..., i]
        if i:
            moving[..., i, :i] = passed[..., i - 1, None] * moving[..., i - 1, :i]
    moving[..., LAYERS:] = moving[..., :LAYERS] * got[..., None, :]
    stagnant[:] = given[..., None] * moving
    stagnant[..., range(LAYERS), range(LAYERS, 2 * LAYERS)] += stagnant_kept
    return carried, away[..., -1]


class _Wash:
    """One brew's steps, prepared."""

    def __init__(self, plan: Plan, grind: Grind, flow: Flow, evenness: float | None = None) -> None:
        self.plan, self.flow, self.pools = plan, flow, make_pools(grind, plan.roast)
        self.evenness = evenness_of(plan) if evenness is None else evenness
        self.washed_g = plan.dose_g * self.evenness
        self.at = np.append(np.arange(0, len(flow.t_s) - 1, self._stride()), len(flow.t_s) - 1)
        self._prepare()

    def __len__(self) -> int:
        """How many steps there are."""
        return len(self.at) - 1

    def _stride(self) -> int:
        """Return how many steps of the flow are taken together, so that they make a second."""
        return max(1, round(1.0 / float(self.flow.t_s[1] - self.flow.t_s[0])))

    def _prepare(self) -> None:
        f, at = self.flow, self.at
        quick = max((SURFACE_QUICKENING[p.strength] for p in self.plan.pours), default=1.0)
        rates = self.pools.rate_per_s.copy()
        rates[0] *= quick * (1.0 + 0.1 * len(self.plan.actions))
        moving = rates * heat_factors(f.celsius[at[1:]]) * np.diff(f.t_s[at])[:, None]
        pore, standing, is_open = f.pore_g[at], f.standing_g[at], f.valve_open[at[1:]]
        # Behind a closed valve bed and water are one tank.
        liquid = np.where(is_open, pore[1:], standing[1:]) / self.washed_g
        self.exchanges = exchanges_of(self.pools, moving, liquid)
        self.share_in_bed = {
            int(i): min(float(pore[i + 1] / standing[i + 1]), 1.0)
            for i in np.flatnonzero(~is_open & (liquid > NO_LIQUID))
        }
        free = np.maximum(standing - pore, 0.0)
        past, above = np.diff(f.bypass_g[at]), free[:-1] + np.diff(f.poured_g[at])
        self.into_g = np.where(is_open, np.maximum(above - past - free[1:], 0.0), 0.0)
        self.through_g, self.pore_g = np.where(is_open, np.diff(f.through_g[at]), 0.0), pore[:-1]
        # Of the solids in the water above the bed: what goes into it, round it, and stays.
        per_g = np.where(is_open & (above > 1e-9), 1.0 / np.maximum(above, 1e-9), 0.0)
        entering = np.minimum(self.into_g * per_g, 1.0)
        self.rounding = np.minimum(past * per_g, 1.0 - entering)
        self.staying = 1.0 - entering - self.rounding
        self.entering_per_g = entering / (self.washed_g * CELLS[0])

    def result(self, tanks: FloatArray, standing_solids_g: float, cup_g: FloatArray) -> Extraction:
        """Return what is where once the last drop has fallen."""
        gone = self.pools.by_size(1 - tanks[:-1] @ CELLS)
        # The liquid inside the grounds is as strong as that around them.
        pore, inside = float(self.flow.pore_g[-1]), float(self.flow.absorbed_g[-1])
        dissolved = float(tanks[-1] @ CELLS) * self.washed_g * (1 + inside / max(pore, 1e-6)) + standing_solids_g
        return Extraction.of(
            self.plan.dose_g, self.flow.drink_g[self.at], cup_g, dissolved, self.pools.diameter_um, gone, self.pools.share,
            self.evenness,
        )  # fmt: skip


class _Beds:
    """Brews that are washed side by side, the longest first; one that is over is left as it is."""

    def __init__(self, washes: Sequence[_Wash]) -> None:
        self.washes = washes
        self.exchanges = Exchanges.of_all([w.exchanges for w in washes])
        into, through, pore = (
            side_by_side([getattr(w, name) for w in washes]) for name in ("into_g", "through_g", "pore_g")
        )
        self.sweeps, away = _sweeps(into, through, pore)
        self.leaving_g = away * [w.washed_g * CELLS[LAYERS - 1] for w in washes]
        self.entering_per_g = side_by_side([w.entering_per_g for w in washes])
        self.rounding = side_by_side([w.rounding for w in washes])
        self.staying = side_by_side([w.staying for w in washes])
        self.tanks = full_tanks(washes[0].pools, len(CELLS), len(washes))
        # Dissolved solids above the beds, and those that each step brings into the cups.
        self.above_g, self.out_g = np.zeros(len(washes)), np.zeros((len(washes[0]), len(washes)))

    def run(self) -> list[Extraction]:
        begin = 0
        for going in range(len(self.washes), 0, -1):
            end = len(self.washes[going - 1])
            self._run_together(begin, end, going)
            begin = end
        return [
            w.result(self.tanks[k], float(self.above_g[k]), np.append(0.0, np.cumsum(self.out_g[: len(w), k])))
            for k, w in enumerate(self.washes)
        ]

    def _run_together(self, begin: int, end: int, going: int) -> None:
        """Take steps in which so many brews are going on."""
        tanks, above_g, of = self.tanks[:going], self.above_g[:going], (slice(begin, end), slice(going))
        solids = tanks[:, -1, :, None]
        top, bottom = solids[:, 0, 0], solids[:, LAYERS - 1, 0]
        valved = [k for k, w in enumerate(self.washes[:going]) if w.share_in_bed]
        rows = zip(
            self.entering_per_g[of], self.rounding[of], self.staying[of], self.sweeps[of], self.leaving_g[of],
            self.out_g[of], self.exchanges.rows(of[0], going), strict=True,
        )  # fmt: skip
        for step, (entering, rounding, staying, sweep, leaving_g, out_g, row) in enumerate(rows, begin):
            closed = [k for k in valved if step in self.washes[k].share_in_bed]
            for k in closed:
                self._stir(k)
            # Standing water goes into the bed and round it, and what is in the bed from layer to layer and out.
            top += above_g * entering
            np.multiply(above_g, rounding, out=out_g)
            above_g *= staying
            solids[:] = sweep @ solids
            out_g += leaving_g * bottom
            exchange(tanks, *row)
            for k in closed:
                self._part(step, k)

    def _stir(self, k: int) -> None:
        """Make one tank of all grounds and all water of a brew."""
        together = self.tanks[k] @ CELLS
        together[-1] += self.above_g[k] / self.washes[k].washed_g
        self.tanks[k] = together[:, None]

    def _part(self, step: int, k: int) -> None:
        """Part that tank into what is in the bed and what stands above it."""
        solids, wash = self.tanks[k, -1], self.washes[k]
        in_bed = wash.share_in_bed[step]
        self.above_g[k] = solids[0] * (1.0 - in_bed) * wash.washed_g
        solids *= in_bed
