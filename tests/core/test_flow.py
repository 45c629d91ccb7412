"""Flow and extraction by their laws: conservation, monotony, limits and known closed forms."""

from dataclasses import replace

import numpy as np
import pytest

from hakari.core.brew.brewers import BUILT_IN, cone, flat
from hakari.core.brew.schedule import Heat, Plan, Pour, check_plan
from hakari.core.brew.styles import draft, style_of
from hakari.core.errors import InputError
from hakari.core.extraction.percolation import percolate
from hakari.core.extraction.prediction import predict
from hakari.core.extraction.soluble_fractions import (
    DIFFUSION_M2_PER_S,
    SOLUBLE_SHARE,
    SURFACE_DEPTH_UM,
    SURFACE_S,
    heat_factors,
    make_pools,
)
from hakari.core.flow.bed import BETA, make_bed, viscosity_pa_s
from hakari.core.flow.factors import FlowFactors
from hakari.core.flow.fouling import CLEAN_PAPER_PER_M, FOULING_M_PER_KG
from hakari.core.flow.percolation import COMPACTION_PER_SPAN, REFERENCE_HEAD_M, SEARCH_STEP_S, simulate_percolation
from hakari.core.psd.grind_sources import grind_from_figures

GRIND = grind_from_figures(700, 1.1, 0.08)
CONE, FLAT = BUILT_IN["ribbed-cone"], BUILT_IN["flat-bottom"]


def plan(brewer=CONE, dose=17.0, water=280.0, celsius=93.0, **changes) -> Plan:
    made = draft(style_of("staged"), dose, water, brewer, {})
    pours, actions = made.pours, made.actions
    return replace(Plan(brewer, dose, celsius, "light", pours, actions), **changes)


@pytest.mark.parametrize("brewer", [CONE, FLAT, BUILT_IN["smooth-cone"], cone(25, 8, "ribs"), flat(55, "none")])
def test_water_is_conserved_and_levels_come_back(brewer) -> None:
    f = simulate_percolation(plan(brewer), GRIND)
    assert np.abs(f.poured_g - f.drink_g - f.absorbed_g - f.standing_g).max() < 1e-6
    assert f.finished and (f.level_mm >= 0).all() and f.level_mm[-1] == 0
    assert f.bare_bed_s <= f.last_drip_s
    assert (np.diff(f.drink_g) >= -1e-9).all()


def test_volume_and_height_are_inverse() -> None:
    for brewer in (CONE, FLAT, cone(20, 6, "none")):
        for h in (0.001, 0.02, 0.09):
            assert brewer.height_m(brewer.volume_m3(h)) == pytest.approx(h, rel=1e-9)


def test_viscosity_of_water() -> None:
    for celsius, mpas in ((20, 1.002), (80, 0.356), (96, 0.296)):
        assert viscosity_pa_s(celsius) * 1000 == pytest.approx(mpas, rel=0.01)


def test_same_depth_and_head_in_another_width_takes_the_same_time() -> None:
    factor = 1.9**2

    def brewed(diameter_mm: float, k: float):
        # All of it at room temperature: walls do not grow with the bed, and heat would tell the two apart.
        pours = (Pour(40 * k, 8, 0.0), Pour(120 * k, 20, 40.0), Pour(120 * k, 20, 90.0))
        cold = Heat("plastic", False, True)
        return simulate_percolation(
            Plan(flat(diameter_mm, "none"), 17 * k, 60, "light", pours, heat=cold, room_c=60), GRIND
        )

    narrow, wide = brewed(60, 1.0), brewed(60 * 1.9, factor)
    assert wide.bed.depth_m == pytest.approx(narrow.bed.depth_m, rel=1e-6)
    assert wide.bare_bed_s == pytest.approx(narrow.bare_bed_s, rel=0.01)


def times(values, make) -> list[float]:
    return [make(v).bare_bed_s for v in values]


def poured(strength) -> Plan:
    return plan(pours=tuple(replace(p, strength=strength) for p in plan().pours))


def test_finer_dustier_cooler_deeper_is_slower() -> None:
    rising = [
        times([0.03, 0.06, 0.09, 0.12], lambda v: simulate_percolation(plan(), grind_from_figures(700, 1.1, v))),
        times([1000, 800, 650, 500], lambda v: simulate_percolation(plan(), grind_from_figures(v, 1.1, 0.08))),
        times([96, 90, 84, 75], lambda v: simulate_percolation(plan(celsius=v), GRIND)),
        times([14, 17, 20, 24], lambda v: simulate_percolation(plan(dose=v, water=16.5 * v), GRIND)),
        times(["soft", "normal", "hard"], lambda v: simulate_percolation(poured(v), GRIND)),
    ]  # fmt: skip
    for series in rising:
        assert all(a < b for a, b in zip(series[:-1], series[1:], strict=True)), series


def test_the_sanity_values_of_a_usual_cone() -> None:
    """17 g, 280 g, 93 °C, staged: how fines, size and heat move the time to a bare bed."""
    usual = plan()

    def bare(um=700, fines=0.08, p=usual) -> float:
        return simulate_percolation(p, grind_from_figures(um, 1.1, fines)).bare_bed_s

    for value, wanted in (
        (bare(), 197),
        (bare(fines=0.04), 150),
        (bare(fines=0.12), 265),
        (bare(500), 235),
        (bare(900), 180),
    ):
        assert value == pytest.approx(wanted, rel=0.05)
    assert 12 < bare(p=plan(celsius=80)) - bare() < 28
    assert bare(p=plan(FLAT)) == pytest.approx(bare(), rel=0.08)


def test_known_orders_of_magnitude() -> None:
    base = simulate_percolation(plan(), GRIND)
    assert 180 <= base.bare_bed_s <= 215
    assert 25 <= base.last_drip_s - base.bare_bed_s <= 50
    assert 180 <= simulate_percolation(plan(FLAT), GRIND).bare_bed_s <= 215
    held = base.poured_g[-1] - base.drink_g[-1]
    assert held / 17 == pytest.approx(2.0, abs=0.3)


def test_draining_cylinder_matches_its_closed_form() -> None:
    # No fines, no uptake left, constant heat: dh/dt = −h/τ with τ = μ A (L/(kA) + R/A)/(ρ g), h above the outlet.
    grind = grind_from_figures(800, 0.8, 0.0)
    brewer = flat(80, "none")
    pours = (Pour(60, 5, 0.0), Pour(300, 5, 120.0))
    f = simulate_percolation(Plan(brewer, 20, 60, "light", pours, heat=Heat("plastic", True, True)), grind, step_s=0.05)
    area = np.pi * 0.04**2
    start = int(np.searchsorted(f.t_s, 130))
    end = int(np.searchsorted(f.t_s, f.bare_bed_s)) - 40
    head = f.bed.depth_m + f.level_mm / 1000
    k = f.bed.permeability_m2 * (REFERENCE_HEAD_M / head.max()) ** (COMPACTION_PER_SPAN * grind.span)
    mu = np.array([viscosity_pa_s(c) for c in f.celsius[start:end]])
    fouled = CLEAN_PAPER_PER_M + FOULING_M_PER_KG * f.bed.fines_kg / area
    for paper in (CLEAN_PAPER_PER_M, fouled):
        rate = 1000 * 9.81 / (mu * (f.bed.depth_m / (k * area) + paper / area)) / area
        predicted = head[start] * np.exp(-np.cumsum(rate) * 0.05)
        if paper == CLEAN_PAPER_PER_M:
            assert (head[start:end] >= predicted - 2e-4).all()
        else:
            assert (head[start:end] <= predicted + 2e-4).all()


def test_halving_the_step_changes_little() -> None:
    coarse, fine = simulate_percolation(plan(), GRIND, step_s=0.25), simulate_percolation(plan(), GRIND, step_s=0.0625)
    assert coarse.bare_bed_s == pytest.approx(fine.bare_bed_s, rel=0.005)
    quick = simulate_percolation(plan(), GRIND, step_s=SEARCH_STEP_S)
    assert quick.bare_bed_s == pytest.approx(fine.bare_bed_s, rel=0.008)
    yields = [percolate(plan(), GRIND, f).ey_percent for f in (quick, fine)]
    assert yields[0] == pytest.approx(yields[1], rel=0.005)


def test_bypass_only_past_open_walls_and_more_when_it_stands_higher() -> None:
    assert simulate_percolation(plan(BUILT_IN["smooth-cone"]), GRIND).bypass_fraction == 0
    low, high = (simulate_percolation(plan(), grind_from_figures(700, 1.1, f)).bypass_fraction for f in (0.04, 0.12))
    assert 0 < low < high


def test_pours_wait_for_their_events() -> None:
    pours = (
        Pour(40, 8, 0.0),
        Pour(100, 15, 40.0),
        Pour(100, 15, start_when="level-back"),
        Pour(60, 10, start_when="drained"),
    )
    f = simulate_percolation(Plan(CONE, 17, 93, "light", pours), GRIND)
    at = [int(np.searchsorted(f.t_s, t)) for t in f.pour_starts_s]
    assert f.level_mm[at[3]] < 0.2
    assert f.pour_starts_s == tuple(sorted(f.pour_starts_s)) and f.pour_starts_s[2] > 55


def test_pools_start_whole_and_heat_follows_arrhenius() -> None:
    pools = make_pools(GRIND, "medium")
    assert pools.weight.sum(axis=1) == pytest.approx(1) and pools.mass.sum() == pytest.approx(SOLUBLE_SHARE["medium"])
    assert pools.share.sum() == pytest.approx(1)
    # In endless clean water a sphere has given nearly all after r²/D, its opened surface after ten time constants.
    slow = (pools.diameter_um * 0.5e-6) ** 2 / DIFFUSION_M2_PER_S + 10 * SURFACE_S
    left = (pools.weight * np.exp(-pools.rate_per_s * slow[:, None])).sum(axis=1)
    assert left.max() < 0.002
    assert heat_factors(93.0) == pytest.approx(1.0)
    washing, diffusing = heat_factors(20.0)[0, :2]
    # Washing off a surface slows as water thickens (it does so 3.3 times between the two), diffusion through cells more.
    assert washing == pytest.approx(viscosity_pa_s(93) / viscosity_pa_s(20), rel=0.5) and diffusing < 0.2 * washing


def test_a_single_sphere_in_a_bath_empties_as_its_series_says() -> None:
    # Followed at a few rates only; Crank (1975), eq. 6.20, for the inner part, and an exponential for the opened surface.
    pools = make_pools(GRIND, "medium")
    k = int(np.argmin(np.abs(pools.diameter_um - 700)))
    radius = pools.diameter_um[k] * 0.5e-6
    surface = 1 - (1 - 2 * SURFACE_DEPTH_UM / pools.diameter_um[k]) ** 3
    n = np.arange(1, 4000)
    for seconds in (5.0, 30.0, 120.0, 600.0):
        inner = (6 / (np.pi**2 * n**2) * np.exp(-(n**2) * np.pi**2 * DIFFUSION_M2_PER_S * seconds / radius**2)).sum()
        left = surface * np.exp(-seconds / SURFACE_S) + (1 - surface) * inner
        followed = float(pools.weight[k] @ np.exp(-pools.rate_per_s * seconds))
        assert followed == pytest.approx(left, abs=0.006)


def test_yield_is_what_the_cup_holds_and_thirds_add_up() -> None:
    p = plan()
    f = simulate_percolation(p, GRIND)
    cup = percolate(p, GRIND, f)
    assert cup.ey_percent == pytest.approx(cup.tds_percent * cup.drink_g / p.dose_g)
    assert cup.ey_percent < cup.ey_total_percent < 29
    share = (cup.ey_by_size_percent * make_pools(GRIND, p.roast).share).sum()
    assert share == pytest.approx(cup.ey_percent, rel=1e-6)
    strongest, middle, last = cup.tds_by_third_percent
    assert strongest > middle > last > 0
    assert (np.diff(cup.ey_by_size_percent) <= 0.02).all()


def test_extraction_moves_with_grind_heat_and_water() -> None:
    def ey(grind=GRIND, **k) -> float:
        p = plan(**k)
        return percolate(p, grind, simulate_percolation(p, grind)).ey_percent

    assert ey(grind_from_figures(560, 1.1, 0.09)) > ey() > ey(grind_from_figures(900, 1.1, 0.06))
    assert ey(celsius=96) > ey(celsius=80)
    assert ey(water=320) > ey(water=240)
    p = plan()
    f = simulate_percolation(p, GRIND)
    assert percolate(p, GRIND, f, evenness=1.0).ey_percent > percolate(p, GRIND, f, evenness=0.8).ey_percent


def test_worked_values_and_intervals() -> None:
    for median in (620, 700):
        p = predict(plan(), grind_from_figures(median, 1.1, 0.08))
        assert 18 <= p.cup.ey_percent <= 21 and 1.2 <= p.cup.tds_percent <= 1.5
        assert p.drawdown_half_width_s > 10 and any("Not fitted" in a for a in p.assumptions)


def test_a_much_tighter_bed_is_slower_in_proportion_at_most() -> None:
    slow, usual = simulate_percolation(plan(), GRIND, FlowFactors(bed_factor=0.54)), simulate_percolation(plan(), GRIND)
    assert usual.bare_bed_s < slow.bare_bed_s < 2.2 * usual.bare_bed_s
    # Kozeny–Carman (Carman 1937) by hand for a clean bed of one size, and BETA of that.
    one_size = grind_from_figures(700, 0.3, 0.0)
    eps, d = 0.46 - 0.045 * np.log1p(one_size.span), 0.65 * one_size.d32_um * 1e-6
    assert make_bed(one_size, FLAT, 17).permeability_m2 == pytest.approx(
        BETA * eps**3 * d**2 / (180 * (1 - eps) ** 2), rel=1e-9
    )


@pytest.mark.parametrize(
    ("changes", "code"),
    [
        ({"dose_g": -3}, "dose-not-positive"), ({"dose_g": 500}, "dose-out-of-range"),
        ({"water_c": 130}, "water-temperature"),
        ({"pours": ()}, "no-pours"), ({"pours": (Pour(40, 10, 0.0), Pour(40, 10, 5.0))}, "pours-overlap"),
        ({"pours": (Pour(40, 10),)}, "pour-malformed"), ({"pours": (Pour(-40, 10, 0.0),)}, "pour-malformed"),
        ({"pours": (Pour(3, 10, 0.0),)}, "too-much-water"),
    ],
)  # fmt: skip
def test_plans_that_cannot_be_brewed_are_refused(changes, code: str) -> None:
    with pytest.raises(InputError) as refusal:
        check_plan(plan(**changes))
    assert refusal.value.code == code and refusal.value.remedy and refusal.value.field
