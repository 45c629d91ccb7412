"""Extraction of a drip brew: layers of bed washed by the flow model's outflow."""

from __future__ import annotations

import numpy as np

from hakari.core.brew.schedule import Plan
from hakari.core.extraction.exchange import exchange
from hakari.core.extraction.pools import Pools, heat_factor, make_pools
from hakari.core.extraction.result import Extraction
from hakari.core.flow.course import Flow
from hakari.core.photo.result import FloatArray
from hakari.core.psd.whole import Grind

LAYERS = 12
EVENNESS = 0.93
EVENNESS_PER_DEED = {"swirl": 0.015, "stir": 0.025}
EVENNESS_PER_POUR = 0.004
SURFACE_QUICKENING = {"soft": 0.9, "normal": 1.0, "hard": 1.15}


def evenness_of(plan: Plan) -> float:
    """Share of the bed that is really washed; agitation and more pours raise it."""
    deeds = sum(EVENNESS_PER_DEED.get(a.do, 0.0) for a in plan.actions)
    return min(0.99, EVENNESS + deeds + EVENNESS_PER_POUR * (len(plan.pours) - 2))


def percolate(plan: Plan, grind: Grind, flow: Flow, evenness: float | None = None) -> Extraction:
    """Wash the bed with the predicted flow.

    Liquid moves down through ``LAYERS`` well-mixed layers; standing water is one pool above them. Solids are counted
    from layer to layer, so that what leaves the grounds is in the liquid or in the cup.
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
        f, stride = self.flow, 2
        at = np.arange(0, len(f.t_s), stride)
        if at[-1] != len(f.t_s) - 1:
            at = np.append(at, len(f.t_s) - 1)
        quick = max((SURFACE_QUICKENING[p.strength] for p in self.plan.pours), default=1.0)
        rates = self.pools.rate_per_s.copy()
        rates[0] *= quick * (1.0 + 0.1 * len(self.plan.actions))
        cup, drink = [0.0], [0.0]
        for a, b in zip(at[:-1], at[1:], strict=True):
            dt = float(f.t_s[b] - f.t_s[a])
            part = -np.expm1(-rates * float(heat_factor(f.celsius[b])) * dt)
            if f.valve_open[b]:
                self._move(int(a), int(b))
                self._dissolve(part, float(f.pore_g[b]))
            else:
                self._steep(part, float(f.standing_g[b]), float(f.pore_g[b]))
            cup.append(self.cup)
            drink.append(float(f.drink_g[b]))
        return self._result(np.array(cup), np.array(drink))

    def _move(self, a: int, b: int) -> None:
        """Carry liquid down by one step: standing water into the bed, layer to layer, out and round."""
        f = self.flow
        out = float(f.through_g[b] - f.through_g[a])
        past = float(f.bypass_g[b] - f.bypass_g[a])
        standing = max(float(f.standing_g[a] - f.pore_g[a]), 0.0) + float(f.poured_g[b] - f.poured_g[a])
        standing_after = max(float(f.standing_g[b] - f.pore_g[b]), 0.0)
        into = max(standing - past - standing_after, 0.0)
        thick = self.standing_solids / standing if standing > 1e-9 else 0.0
        entering = min(thick * into, self.standing_solids)
        rounding = min(thick * past, self.standing_solids - entering)
        self.standing_solids -= entering + rounding
        self.cup += rounding
        # Flow falls or rises evenly from what enters the top to what leaves the bottom.
        flux = into + (out - into) * np.arange(LAYERS + 1) / LAYERS
        held = max(float(f.pore_g[a]), 1e-6) / LAYERS
        pieces = max(1, int(np.ceil(flux.max() / (0.8 * held))))
        for _ in range(min(pieces, 12)):
            share = np.minimum(flux[1:] / min(pieces, 12) / held, 1.0)
            leaving = self.solids * share
            self.solids -= leaving
            self.solids[1:] += leaving[:-1]
            self.solids[0] += entering / min(pieces, 12)
            self.cup += float(leaving[-1])

    def _dissolve(self, part: FloatArray, liquid_g: float) -> None:
        """Let every layer's grounds and liquid exchange; solids are conserved."""
        if liquid_g <= 1e-6:
            return
        liquid = np.full(LAYERS, liquid_g / LAYERS)
        self.left, self.solids = exchange(
            self.left, self.mass, self.pools.soluble, self.solids, liquid, self.washed_g / LAYERS, part
        )

    def _steep(self, part: FloatArray, liquid_g: float, pore_g: float) -> None:
        """Behind a closed valve bed and water are one tank."""
        if liquid_g <= 1e-6:
            return
        together = np.array([self.solids.sum() + self.standing_solids])
        left = self.left.mean(axis=0, keepdims=True)
        left, together = exchange(
            left, self.mass, self.pools.soluble, together, np.array([liquid_g]), self.washed_g, part
        )
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
