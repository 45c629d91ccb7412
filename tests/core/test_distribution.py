"""Distributions by their closed forms, intervals by simulation, the whole by conservation."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from hakari.core.errors import InputError
from hakari.core.psd.distribution import binned_mass, effective_count, log_grid, mass_below, moments
from hakari.core.psd.grind import Grind
from hakari.core.psd.grind_sources import grind_from_classes, grind_from_figures, grind_from_photo
from hakari.core.psd.intervals import counting_intervals

RNG = np.random.default_rng(11)


def test_lognormal_follows_hatch_and_choate() -> None:
    sigma, number_median = 0.3, 400.0
    d = RNG.lognormal(np.log(number_median), sigma, 400_000)
    m = moments(d, np.ones(len(d)))
    assert m.d50_um == pytest.approx(number_median * np.exp(3 * sigma**2), rel=0.01)
    assert m.d32_um == pytest.approx(number_median * np.exp(2.5 * sigma**2), rel=0.01)
    assert m.d90_um / m.d50_um == pytest.approx(np.exp(1.2816 * sigma), rel=0.015)


@given(st.lists(st.floats(50, 2000), min_size=2, max_size=60), st.floats(0.2, 5))
def test_scaling_sizes_scales_figures(sizes: list[float], factor: float) -> None:
    d = np.array(sizes)
    a, b = moments(d, np.ones(len(d))), moments(d * factor, np.ones(len(d)))
    assert b.d50_um == pytest.approx(a.d50_um * factor)
    assert b.span == pytest.approx(a.span, abs=1e-9)
    assert a.d10_um <= a.d50_um <= a.d90_um
    assert 1 - 1e-9 <= effective_count(d, np.ones(len(d))) <= len(d) + 1e-9


def test_equal_grounds_count_fully_and_binning_keeps_mass() -> None:
    d = np.full(50, 300.0)
    assert effective_count(d, np.ones(50)) == pytest.approx(50)
    assert mass_below(d, np.ones(50), 300) == 0
    sizes = RNG.uniform(60, 1500, 500)
    assert binned_mass(log_grid(), sizes, sizes**3).sum() == pytest.approx((sizes**3).sum())


def test_interval_of_the_median_holds_the_truth_about_as_often_as_it_says() -> None:
    sigma, true = 0.35, 500 * np.exp(3 * 0.35**2)
    held = 0
    for seed in range(150):
        rng = np.random.default_rng(seed)
        d = rng.lognormal(np.log(500), sigma, 900)
        low, high = counting_intervals(d, np.ones(900)).d50_um
        held += low <= true <= high
    assert 0.91 <= held / 150 <= 0.99


@settings(deadline=None, max_examples=20)
@given(st.floats(300, 1200), st.floats(0.6, 1.5), st.floats(0.0, 0.15))
def test_a_grind_from_figures_has_those_figures(median: float, span: float, fines: float) -> None:
    grind = grind_from_figures(median, span, fines)
    assert grind.mass_fraction.sum() == pytest.approx(1)
    assert grind.d50_um == pytest.approx(median, rel=0.01)
    assert grind.below(100.0) == pytest.approx(fines, abs=0.012)
    assert grind.span == pytest.approx(span, rel=0.12)


def test_moving_the_coarse_mode_leaves_the_fines() -> None:
    grind = grind_from_figures(600, 1.0, 0.08)
    coarser = grind.scaled(1.2)
    assert coarser.below(100.0) == pytest.approx(grind.below(100.0), abs=0.004)
    assert coarser.quantile_um(0.6) == pytest.approx(1.2 * grind.quantile_um(0.6), rel=0.03)
    assert grind.with_fines(0.12).below(100.0) == pytest.approx(0.12, abs=0.01)
    assert grind.with_fines(0.12).d32_um < grind.d32_um


@pytest.mark.parametrize("limit_um", [45.0, 70.0])
def test_unseen_fines_are_put_back(limit_um: float) -> None:
    coarse = RNG.lognormal(np.log(450), 0.32, 1500)
    fine = RNG.lognormal(np.log(55), 0.35, 60_000)
    everything = np.concatenate([coarse, fine])
    true = float((fine[fine < 100] ** 3).sum() / (everything**3).sum())
    seen = everything[everything > limit_um]
    whole, method = grind_from_photo(seen, np.ones(len(seen)), limit_um)
    assert method == "fitted fine mode"
    assert whole.below(100.0) == pytest.approx(true, rel=0.25)


@pytest.mark.parametrize(("edges", "mass"), [([1, 2], []), ([3, 2, 1], [1, 1]), ([1, 2, 3], [1, -1]), ([1, 2], [0])])
def test_malformed_classes_are_refused(edges: list[float], mass: list[float]) -> None:
    with pytest.raises(InputError):
        grind_from_classes(np.array(edges), np.array(mass))


def test_quantiles_of_classes_are_consistent() -> None:
    grind = Grind(np.array([50.0, 100, 400, 1600]), np.array([0.1, 0.4, 0.5]))
    assert grind.below(grind.quantile_um(0.37)) == pytest.approx(0.37)
    assert grind.quantile_um(0.5, above_um=100.0) > grind.d50_um
