"""Extraction of a drip brew: layers of bed washed by the flow model's outflow."""

from __future__ import annotations

import math

import numpy as np

from hakari.core.brew.schedule import Plan
from hakari.core.extraction.mass_transfer import exchange
from hakari.core.extraction.result import Extraction
from hakari.core.extraction.soluble_fractions import Pools, heat_factor, make_pools
from hakari.core.flow.result import Flow
from hakari.core.flow.slow_drip import is_slow_drip
from hakari.core.photo.result import FloatArray
from hakari.core.psd.grind import Grind

LAYERS = 12
DOWN = np.arange(1, LAYERS + 1) / LAYERS
EVENNESS, EVENNESS_OF_DROPS = 0.93, 0.8
EVENNESS_PER_ACTION = {"swirl": 0.015, "stir": 0.025}
EVENNESS_PER_POUR = 0.004
SURFACE_QUICKENING = {"soft": 0.9, "normal": 1.0, "hard": 1.15}


def evenness_of(plan: Plan) -> float:
    """Share of the bed that is really washed; agitation and more pours raise it, drops find ways of their own.

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
    return min(0.99, EVENNESS + actions + EVENNESS_PER_POUR * (len(plan.pours) - 2))


def percolate(plan: Plan, grind: Grind, flow: Flow, evenness: float | None = None) -> Extraction:
    """Wash the bed with the predicted flow.

    Liquid moves down through ``LAYERS`` well-mixed layers; standing water is one pool above them. Solids are counted
    from layer to layer, so that what leaves the grounds is in the liquid or in the cup.

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


class _Wash:
    """State of one wash."""

    def __init__(self, plan: Plan, pools: Pools, flow: Flow, evenness: float) -> None:
        self.plan, self.pools, self.flow, self.evenness = plan, pools, flow, evenness
        self.washed_g = plan.dose_g * evenness
        self.left = np.ones((LAYERS, len(pools.rate_per_s)))
        self.mass = pools.mass
        self.solids = np.zeros(LAYERS)
        self.standing_solids = 0.0
        self.cup = 0.0

    def run(self) -> Extraction:
        f = self.flow
        at = np.append(np.arange(0, len(f.t_s) - 1, self._stride()), len(f.t_s) - 1)
        quick = max((SURFACE_QUICKENING[p.strength] for p in self.plan.pours), default=1.0)
        rates = self.pools.rate_per_s.copy()
        rates[0] *= quick * (1.0 + 0.1 * len(self.plan.actions))
        moving = (rates * heat_factor(f.celsius[at[1:]])[:, None]) * np.diff(f.t_s[at])[:, None]
        parts = -np.expm1(-moving)
        pore, standing = f.pore_g[at], f.standing_g[at]
        free = np.maximum(standing - pore, 0.0)
        out, past = np.diff(f.through_g[at]), np.diff(f.bypass_g[at])
        above = free[:-1] + np.diff(f.poured_g[at])
        into = np.maximum(above - past - free[1:], 0.0)
        steps = zip(
            parts, f.valve_open[at[1:]].tolist(), out.tolist(), past.tolist(), above.tolist(), into.tolist(),
            pore[:-1].tolist(), pore[1:].tolist(), standing[1:].tolist(), strict=True,
        )  # fmt: skip
        cup = [0.0]
        for part, valve_open, out_g, past_g, above_g, into_g, held_g, pore_g, standing_g in steps:
            if valve_open:
                self._move(out_g, past_g, above_g, into_g, held_g)
                self._exchange(part, pore_g)
            else:
                self._steep(part, standing_g, pore_g)
            cup.append(self.cup)
        return self._result(np.array(cup), f.drink_g[at])

    def _stride(self) -> int:
        """Return steps of the flow that are taken together: two, unless they are long already (a drip over hours)."""
        return 2 if float(self.flow.t_s[1] - self.flow.t_s[0]) <= 1.0 else 1

    def _move(self, out_g: float, past_g: float, above_g: float, into_g: float, pore_g: float) -> None:
        """Carry liquid down by one step: standing water into the bed, layer to layer, out and round."""
        thick = self.standing_solids / above_g if above_g > 1e-9 else 0.0
        entering = min(thick * into_g, self.standing_solids)
        rounding = min(thick * past_g, self.standing_solids - entering)
        self.standing_solids -= entering + rounding
        self.cup += rounding
        held = max(pore_g, 1e-6) / LAYERS
        pieces = min(12, max(1, math.ceil(max(into_g, out_g) / (0.8 * held))))
        # Flow falls or rises evenly from what enters the top to what leaves the bottom.
        share = np.minimum((into_g + (out_g - into_g) * DOWN) / (pieces * held), 1.0)
        for _ in range(pieces):
            leaving = self.solids * share
            self.solids -= leaving
            self.solids[1:] += leaving[:-1]
            self.solids[0] += entering / pieces
            self.cup += float(leaving[-1])

    def _exchange(self, part: FloatArray, liquid_g: float) -> None:
        """Let every layer's grounds and liquid exchange; solids are conserved."""
        if liquid_g <= 1e-6:
            return
        self.left, self.solids = exchange(
            self.left, self.mass, self.pools.soluble, self.solids, liquid_g / LAYERS, self.washed_g / LAYERS, part
        )

    def _steep(self, part: FloatArray, liquid_g: float, pore_g: float) -> None:
        """Behind a closed valve bed and water are one tank."""
        if liquid_g <= 1e-6:
            return
        together = np.array([self.solids.sum() + self.standing_solids])
        left = self.left.mean(axis=0, keepdims=True)
        left, together = exchange(left, self.mass, self.pools.soluble, together, liquid_g, self.washed_g, part)
        self.left = np.repeat(left, LAYERS, axis=0)
        in_bed = float(together[0]) * min(pore_g / liquid_g, 1.0)
        self.solids = np.full(LAYERS, in_bed / LAYERS)
        self.standing_solids = float(together[0]) - in_bed

    def _result(self, cup: FloatArray, drink: FloatArray) -> Extraction:
        gone = self.pools.by_size((1 - self.left).mean(axis=0))
        # The liquid inside the grounds is as strong as that around them.
        pore, inside = float(self.flow.pore_g[-1]), float(self.flow.absorbed_g[-1])
        dissolved = float(self.solids.sum()) * (1 + inside / max(pore, 1e-6)) + self.standing_solids
        return Extraction.of(
            self.plan.dose_g, drink, cup, dissolved, self.pools.diameter_um, gone, self.pools.share, self.evenness
        )
