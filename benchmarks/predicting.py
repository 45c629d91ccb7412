"""Speed of predicting a drip brew, beside the same equations given to ``scipy.integrate.solve_ivp``, runs taking turns.

``python -m benchmarks.predicting`` prints times and how far the two differ, the time of a search over 200 candidates, and,
with ``--table``, each style's default plan for docs/how-it-predicts.md.
"""

from __future__ import annotations

import sys
import time
from dataclasses import replace

import numpy as np
import numpy.typing as npt
from scipy.integrate import solve_ivp

from hakari.core.brew.brewers import built_in
from hakari.core.brew.filters import filter_of
from hakari.core.brew.heat import WATER_J_PER_GK, Slurry, kettle_c
from hakari.core.brew.methods import window_for
from hakari.core.brew.schedule import Heat, Plan
from hakari.core.brew.styles import STYLES, RecipeStyle, draft
from hakari.core.extraction.extract import extract, extract_all
from hakari.core.extraction.percolation import LAYERS, RENEWAL_TURNS, STAGNANT, evenness_of
from hakari.core.extraction.prediction import predict
from hakari.core.extraction.soluble_fractions import (
    BOUND_G_PER_G,
    CLASSES,
    DIFFUSION_ACTIVATION_J_PER_MOL,
    DIFFUSION_M2_PER_S,
    FASTEST_PER_S,
    GAS_J_PER_MOLK,
    HELD_G_PER_G,
    MODES,
    REFERENCE_K,
    SURFACE_ACTIVATION_J_PER_MOL,
    SURFACE_DEPTH_UM,
    SURFACE_S,
    make_pools,
)
from hakari.core.flow import fouling
from hakari.core.flow.bed import RESIDUAL_SATURATION, make_bed, viscosity_pa_s
from hakari.core.flow.percolation import (
    BYPASS,
    COMPACTION_PER_SPAN,
    MOST_COMPACTION,
    REFERENCE_HEAD_M,
    RHO_G,
    SEARCH_STEP_S,
    UPTAKE_G_PER_G,
    UPTAKE_S,
)
from hakari.core.flow.simulate import simulate_flow
from hakari.core.psd.grind import Grind
from hakari.core.psd.grind_sources import grind_from_figures

RUNS, CANDIDATES = 7, 200
ZONES = np.array([1.0 - STAGNANT, STAGNANT])
# Methods beside each style's usual brewer.
ALSO = (
    ("staged", "part-ribbed-cone"), ("staged", "smooth-cone"), ("staged", "flat-bottom"), ("staged", "thick-paper-cone"),
    ("break-and-skim", "tasting-bowl"),
)  # fmt: skip
Array = npt.NDArray[np.float64]


def usual() -> tuple[Plan, Grind]:
    """Return a staged brew of about four minutes, its swirl left out: the reference has smooth actions only."""
    made = draft(STYLES["staged"], 20.0, 330.0, built_in("ribbed-cone"), {"stages": "4"})
    return Plan(built_in("ribbed-cone"), 20.0, 93.0, "medium", made.pours), grind_from_figures(700, 1.1, 0.09)


class Reference:
    """Darcy flow, fouling, heat, and every pool of every size class in every layer, as one system of ODEs."""

    def __init__(self, plan: Plan, grind: Grind) -> None:
        self.plan = plan
        self.bed = make_bed(grind, plan.brewer, plan.dose_g)
        self.compaction = min(MOST_COMPACTION, COMPACTION_PER_SPAN * grind.span)
        self.area = plan.brewer.filter_area_m2(self.bed.depth_m)
        self.per_m = plan.brewer.bed_resistance_per_m(self.bed.depth_m)
        self.slurry = Slurry.start(plan.dose_g, plan.heat, plan.water_c, plan.room_c)
        pools = make_pools(grind, plan.roast)
        d = pools.diameter_um
        n = np.arange(1, MODES + 1)
        mode = 6 / (np.pi**2 * n**2)
        mode[-1] += 1 - mode.sum()
        surface = 1 - np.maximum(0, 1 - 2 * SURFACE_DEPTH_UM / d) ** 3
        inner = np.minimum(n**2 * np.pi**2 * DIFFUSION_M2_PER_S / (d[:, None] * 0.5e-6) ** 2, FASTEST_PER_S)
        self.rate = np.column_stack([np.full(len(d), 1 / SURFACE_S), inner])
        self.activation = np.array([SURFACE_ACTIVATION_J_PER_MOL] + MODES * [DIFFUSION_ACTIVATION_J_PER_MOL])
        self.mass = pools.soluble * pools.share[:, None] * np.column_stack([surface, (1 - surface)[:, None] * mode])
        self.soluble = pools.soluble
        self.washed = plan.dose_g * evenness_of(plan)
        self.paper = filter_of(plan.filter_name)

    def poured(self, t: float) -> tuple[float, float]:
        """Rate of pouring, g/s, and how hard it washes."""
        rate, strength = 0.0, self.plan.pours[0].strength
        for p in self.plan.pours:
            if (p.start_s or 0.0) <= t < (p.start_s or 0.0) + p.duration_s:
                rate = p.water_g / p.duration_s
            if t >= (p.start_s or 0.0):
                strength = p.strength
        return rate, fouling.POUR_WASH[strength]

    def slope(self, t: float, y: Array) -> Array:
        """Standing, absorbed, through, bypass, wash, heat, peak head, cup, solids above; then layers' zones and pools."""
        standing, absorbed, _, _, wash, celsius, peak, _, above = y[:9]
        cells = LAYERS * len(ZONES)
        solids, left = (
            y[9 : 9 + cells].reshape(LAYERS, -1),
            y[9 + cells :].reshape(LAYERS, len(ZONES), *self.rate.shape),
        )
        pour, hard = self.poured(t)
        bed, brewer, plan = self.bed, self.plan.brewer, self.plan
        free = max(standing - bed.pore_g, 0.0)
        head = brewer.height_m(bed.bulk_m3 + free * 1e-6) if free > 0 else bed.depth_m
        drunk = (UPTAKE_G_PER_G * plan.dose_g - absorbed) / UPTAKE_S if standing > 1e-9 else 0.0
        s = max(0.0, (min(1.0, standing / bed.pore_g) - RESIDUAL_SATURATION) / (1 - RESIDUAL_SATURATION))
        mu = viscosity_pa_s(celsius)
        k = bed.permeability_m2 * (REFERENCE_HEAD_M / max(peak, head)) ** self.compaction
        fines = bed.fines_kg * (1 - np.exp(-wash))
        paper = fouling.CLEAN_PAPER_PER_M * self.paper.resistance
        paper += fouling.FOULING_M_PER_KG * self.paper.fouling * fines / self.area
        out = 1e6 * RHO_G * head / (mu * (self.per_m / k + paper / self.area)) * s * s
        rim = 2 * np.pi * brewer.radius_m(head)
        past = (
            1e6 * BYPASS[brewer.bypass] * brewer.bypass_factor * (head - bed.depth_m) * rim * (0.001 / mu) / 3
            if free > 0
            else 0.0
        )
        kettle = kettle_c(plan.water_c, plan.room_c, t)
        capacity = self.slurry.capacity_j_per_k + standing * WATER_J_PER_GK
        heat = (
            pour * WATER_J_PER_GK * (kettle - celsius) - self.slurry.loss_w_per_k * (celsius - plan.room_c)
        ) / capacity
        late = 0.75 + 0.6 * sum(p.water_g for p in plan.pours if t >= (p.start_s or 0.0)) / plan.water_g
        into = out + drunk if free > 0 else pour
        strength_above = above / free if free > 1e-6 else 0.0
        entering = strength_above * into
        flux = into + (out - into) * np.arange(LAYERS + 1) / LAYERS
        pore = max(min(standing, bed.pore_g), 1e-6) / LAYERS
        strength = solids / (pore * ZONES)
        heated = np.exp(-self.activation / GAS_J_PER_MOLK * (1 / (celsius + 273.15) - 1 / REFERENCE_K))
        back = (HELD_G_PER_G + BOUND_G_PER_G) / self.soluble
        given = (left - back * strength[..., None, None]) * self.rate * heated
        if standing < 0.05:
            given = np.zeros_like(given)
        moved = flux[1:] * strength[:, 0]
        d_solids = (given * self.mass).sum(axis=(2, 3)) * self.washed * ZONES / LAYERS
        d_solids += flux[1:, None] / (pore * RENEWAL_TURNS) * (solids.sum(axis=1, keepdims=True) * ZONES - solids)
        d_solids[:, 0] -= moved
        d_solids[1:, 0] += moved[:-1]
        d_solids[0, 0] += entering
        head_rate = max(head - peak, 0.0)  # a lag of one second stands for the running maximum
        washed = hard * late * out * 1e-6 / (fouling.WASH_BED_VOLUMES * bed.bulk_m3)
        first = [pour - drunk - out - past, drunk, out, past, washed, heat, head_rate,
                 moved[-1] + strength_above * past, -entering - strength_above * past]  # fmt: skip
        return np.concatenate([first, d_solids.ravel(), -given.ravel()])

    def solve(self, method: str = "RK45") -> tuple[float, float, float]:
        """Time to a bare bed, strength in % and yield in %; by SciPy's usual method, or a cheaper one."""
        y = np.concatenate([np.zeros(5), [self.slurry.celsius, self.bed.depth_m], np.zeros(2 + LAYERS * len(ZONES))])
        y = np.concatenate([y, np.ones(LAYERS * len(ZONES) * self.rate.size)])
        starts = [(p.start_s or 0.0, p.duration_s) for p in self.plan.pours]
        stops = sorted({0.0, 360.0, *(s for s, _ in starts), *(s + d for s, d in starts)})
        bare, last = 0.0, stops[-2]
        for a, b in zip(stops[:-1], stops[1:], strict=True):
            part = solve_ivp(self.slope, (a, b), y, method, rtol=1e-4, atol=1e-6, max_step=0.5)
            y = part.y[:, -1]
            if a == last:
                above = part.y[0] > self.bed.pore_g
                bare = float(part.t[np.flatnonzero(above)[-1] + 1])
        drink = y[2] + y[3] + y[7]
        return bare, 100 * y[7] / drink, 100 * y[7] / self.plan.dose_g


def speed() -> None:
    plan, grind = usual()
    ours: list[float] = []
    theirs: list[float] = []
    for run in range(RUNS):
        started = time.perf_counter()
        flow = simulate_flow(plan, grind)
        cup = extract(plan, grind, flow)
        ours.append(time.perf_counter() - started)
        if run < 3:
            started = time.perf_counter()
            bare, tds, ey = Reference(plan, grind).solve()
            theirs.append(time.perf_counter() - started)
    a, b = float(np.median(ours)), float(np.median(theirs))
    print(
        f"One drip of {flow.last_drip_s:.0f} s, {CLASSES} size classes, {LAYERS} layers: Hakari {1000 * a:.0f} ms (median of "
        f"{RUNS}), solve_ivp {1000 * b:.0f} ms (median of {len(theirs)}), {b / a:.0f} times as fast"
    )
    print(f"  bare bed {flow.bare_bed_s:.1f} s, reference {bare:.1f} ({100 * (flow.bare_bed_s / bare - 1):+.2f} %)")
    print(f"  strength {cup.tds_percent:.3f} %, reference {tds:.3f} ({100 * (cup.tds_percent / tds - 1):+.2f} %)")
    print(f"  yield {cup.ey_percent:.2f} %, reference {ey:.2f} ({100 * (cup.ey_percent / ey - 1):+.2f} %)")
    started = time.perf_counter()
    grinds = [grind.scaled(float(factor)) for factor in np.linspace(0.7, 1.4, CANDIDATES)]
    extract_all([(plan, g, simulate_flow(plan, g, None, SEARCH_STEP_S)) for g in grinds])
    took = time.perf_counter() - started
    quick = simulate_flow(plan, grind, None, SEARCH_STEP_S)
    off = 100 * abs(quick.bare_bed_s / bare - 1), 100 * abs(extract(plan, grind, quick).ey_percent / ey - 1)
    print(
        f"{CANDIDATES} candidates of a search: {took:.2f} s, {CANDIDATES * b / took:.0f} times as fast; "
        f"within {off[0]:.2f} % of the reference in time and {off[1]:.2f} % in yield"
    )
    started = time.perf_counter()
    predict(plan, grind)
    print(f"a whole prediction with its intervals: {1000 * (time.perf_counter() - started):.0f} ms")


def default_plan(style: RecipeStyle, brewer_name: str) -> tuple[Plan, Grind, float]:
    """Return a style's usual plan in a brewer, on the middle of the window that it wants, and what is added to the drink."""
    brewer = built_in(brewer_name)
    dose = float(np.clip(17.0, max(style.dose_g[0], brewer.dose_g[0]), min(style.dose_g[1], brewer.dose_g[1])))
    made = draft(style, dose, round(style.ratio * dose), brewer, {})
    window = window_for(style.method or brewer_name, dose) or window_for("ribbed-cone", dose)
    um = window.middle_um * style.grind if window else 700.0
    plan = Plan(
        brewer, dose, style.water_c, "medium", made.pours, made.actions, Heat(brewer.material, style.water_c > 50),
        brewer.filter_name, made.steep, made.room_c if made.room_c is not None else 22.0,
    )  # fmt: skip
    return plan, grind_from_figures(um, 1.1, 0.08 * (um / 700) ** -1.3), made.dilution_g + made.ice_g


def table() -> None:
    def figures(plan: Plan, grind: Grind) -> tuple[float, float, float]:
        flow = simulate_flow(plan, grind)
        cup = extract(plan, grind, flow)
        return flow.bare_bed_s, cup.tds_percent, cup.ey_percent

    print("| style | brewer | dose, water | grind | ends | strength | yield | size ±10 % | fines ±4 pts | ±10 °C |")
    print("|---|---|---|---|---|---|---|---|---|---|")
    for style, brewer in [*((s, s.brewers[0]) for s in STYLES.values()), *((STYLES[s], b) for s, b in ALSO)]:
        plan, grind, added = default_plan(style, brewer)
        t, tds, ey = figures(plan, grind)
        fines = grind.below(100.0)
        swings = (
            [figures(plan, grind.scaled(f)) for f in (0.9, 1.1)],
            [figures(plan, grind.with_fines(max(0.005, fines + f))) for f in (0.04, -0.04)],
            [figures(replace(plan, water_c=min(plan.water_c + c, 99.0)), grind) for c in (10, -10)],
        )
        said = [f"{a[0] - t:+.0f}/{b[0] - t:+.0f} s, {a[2] - ey:+.1f}/{b[2] - ey:+.1f} %" for a, b in swings]
        ends = f"{t / 3600:.1f} h" if t > 7200 else f"{int(t // 60)}:{int(t % 60):02d}"
        water = f"{plan.dose_g:g} g, {plan.water_g:.0f}" + (f" + {added:.0f} g" if added else " g")
        grade = f"{grind.quantile_um(0.5, 100.0):.0f} µm"
        print(
            f"| {style.label} | {plan.brewer.label} | {water} | {grade} | {ends} | {tds:.2f} % | {ey:.1f} % | "
            + " | ".join(said) + " |"
        )  # fmt: skip


if __name__ == "__main__":
    table() if "--table" in sys.argv else speed()
