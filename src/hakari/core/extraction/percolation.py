"""Extraction of a drip brew: layers of bed washed by the flow model's outflow."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hakari.core.brew.schedule import Plan
from hakari.core.extraction.pools import HELD_G_PER_G, Pools, heat_factor, make_pools
from hakari.core.flow.drawdown import Flow
from hakari.core.photo.result import FloatArray
from hakari.core.psd.whole import Grind

LAYERS = 10
EVENNESS = 0.93
EVENNESS_PER_DEED = {"swirl": 0.015, "stir": 0.025}
EVENNESS_PER_POUR = 0.004
SURFACE_QUICKENING = {"soft": 0.9, "normal": 1.0, "hard": 1.15}


@dataclass(frozen=True)
class Extraction:
    """What is in the cup: shares in %, by size class and by thirds of the drink."""

    drink_g: float
    tds_percent: float
    ey_percent: float
    ey_total_percent: float
    diameter_um: FloatArray
    ey_by_size_percent: FloatArray
    tds_by_third_percent: tuple[float, float, float]
    evenness: float


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
        self.left = np.repeat(pools.start[None], LAYERS, axis=0)
        self.balance = pools.start / pools.start.sum(axis=1, keepdims=True) * HELD_G_PER_G
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
        rates[:, 0] *= quick * (1.0 + 0.1 * len(self.plan.actions))
        cup, drink = [0.0], [0.0]
        for a, b in zip(at[:-1], at[1:], strict=True):
            self._move(int(a), int(b))
            dt = float(f.t_s[b] - f.t_s[a])
            self._dissolve(dt, rates * float(heat_factor(f.celsius[b])), float(f.pore_g[b] + f.absorbed_g[b]))
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
        held = max(float(f.pore_g[a] + f.absorbed_g[a]), 1e-6) / LAYERS
        pieces = max(1, int(np.ceil(flux.max() / (0.8 * held))))
        for _ in range(min(pieces, 12)):
            share = np.minimum(flux[1:] / min(pieces, 12) / held, 1.0)
            leaving = self.solids * share
            self.solids -= leaving
            self.solids[1:] += leaving[:-1]
            self.solids[0] += entering / min(pieces, 12)
            self.cup += float(leaving[-1])

    def _dissolve(self, dt: float, rates: FloatArray, liquid_g: float) -> None:
        """Move every pool towards balance with its layer's liquid; solids are conserved."""
        if liquid_g <= 1e-6:
            return
        layer_liquid = liquid_g / LAYERS
        strength = self.solids / layer_liquid
        balance = strength[:, None, None] * self.balance[None]
        given = (self.left - balance) * (1 - np.exp(-rates * dt))
        weight = self.pools.share * self.washed_g / LAYERS
        total = (given.sum(axis=2) * weight).sum(axis=1)
        # Never more than would bring layer and grounds level with each other.
        self.left -= given
        self.solids += total

    def _result(self, cup: FloatArray, drink: FloatArray) -> Extraction:
        dose = self.plan.dose_g
        drink_g = float(drink[-1] + cup[-1])
        thirds = np.linspace(0, drink[-1], 4)
        at = np.interp(thirds, drink, cup)
        parts = np.diff(at)
        liquid = np.diff(thirds) + parts
        in_liquid = float(self.solids.sum() + self.standing_solids)
        gone = (self.pools.start[None] - self.left).sum(axis=2).mean(axis=0)
        scale = cup[-1] / max(float((gone * self.pools.share).sum()) * dose, 1e-9)
        t = [float(100 * p / max(q, 1e-9)) for p, q in zip(parts, liquid, strict=True)]
        return Extraction(
            drink_g=drink_g, tds_percent=100 * float(cup[-1]) / max(drink_g, 1e-9),
            ey_percent=100 * float(cup[-1]) / dose, ey_total_percent=100 * (float(cup[-1]) + in_liquid) / dose,
            diameter_um=self.pools.diameter_um, ey_by_size_percent=100 * gone * scale,
            tds_by_third_percent=(t[0], t[1], t[2]), evenness=self.evenness,
        )  # fmt: skip
