"""Sieves and mixtures conserve mass; modes, photos and differences are told apart only when they are there."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.core.test_review import squares

from hakari.core.errors import InputError
from hakari.core.photo.result import Particles
from hakari.core.psd.compare import compare
from hakari.core.psd.distribution import smooth_curve
from hakari.core.psd.grind_sources import grind_from_figures
from hakari.core.psd.modes import fit_modes
from hakari.core.psd.photo_variance import between_photos, photos_needed, widening
from hakari.core.psd.sieve import Classes, classes_from_sieves, mix, sieve

GRIND = grind_from_figures(700, 1.1, 0.08)


@given(st.floats(150, 1200), st.floats(4, 40))
def test_what_stays_on_a_sieve_and_what_passes_are_the_whole(aperture: float, sharpness: float) -> None:
    over, under = (sieve(GRIND, aperture, keep, sharpness) for keep in ("over", "under"))
    again = over.kept.mass_fraction * (1 - over.lost) + under.kept.mass_fraction * (1 - under.lost)
    assert again == pytest.approx(GRIND.mass_fraction, abs=1e-12)
    assert over.kept.d50_um > GRIND.d50_um > under.kept.d50_um


def test_a_sharp_sieve_loses_what_lies_below_it() -> None:
    left = sieve(GRIND, 400, "over", 400)
    assert left.lost == pytest.approx(GRIND.below(400), abs=0.01) and left.kept.below(380) < 1e-3
    for aperture, keep in ((5, "over"), (3400, "over")):
        with pytest.raises(InputError):
            sieve(GRIND, aperture, keep, 400)


@given(st.floats(0, 1), st.floats(200, 1500))
def test_a_mixture_lies_between_its_parts(share: float, size: float) -> None:
    other = grind_from_figures(450, 0.9, 0.12)
    mixed = mix(GRIND, other, share)
    expected = share * GRIND.below(size) + (1 - share) * other.below(size)
    assert mixed.mass_fraction.sum() == pytest.approx(1) and mixed.below(size) == pytest.approx(expected, abs=0.01)


@given(st.lists(st.floats(0.0, 20), min_size=3, max_size=3), st.floats(0.5, 20))
def test_sieve_masses_bound_the_curve(retained: list[float], pan: float) -> None:
    classes = classes_from_sieves([1000, 300, 600], retained, pan)
    total = sum(retained) + pan
    assert classes.grind.below(300) == pytest.approx(pan / total) and classes.grind.below(600) <= classes.grind.below(
        1000
    )
    sizes = np.array([250.0, 450.0, 800.0])
    low, high = classes.band(sizes)
    assert all(
        a <= classes.grind.below(s) + 1e-9 and classes.grind.below(s) <= b + 1e-9
        for a, s, b in zip(low, sizes, high, strict=True)
    )
    edge_low, edge_high = Classes(classes.grind).range_um(0.5)
    assert edge_low <= classes.quantile_um(0.5) <= edge_high


def test_two_modes_are_told_only_where_there_are_two() -> None:
    rng = np.random.default_rng(4)
    one = rng.lognormal(np.log(400), 0.3, 3000)
    assert len(fit_modes(one, np.ones(3000))) == 1
    both = np.concatenate([rng.lognormal(np.log(250), 0.18, 6000), rng.lognormal(np.log(750), 0.18, 300)])
    small, large = fit_modes(both, np.ones(len(both)))
    assert small.median_um == pytest.approx(250 * np.exp(3 * 0.18**2), rel=0.06)
    assert large.median_um == pytest.approx(750 * np.exp(3 * 0.18**2), rel=0.06)
    assert small.share + large.share == pytest.approx(1)


def sample_of(photos: list[np.ndarray]) -> Particles:
    d = np.concatenate(photos)
    rows = squares(1).select(np.zeros(len(d), np.int64))
    number = np.concatenate([np.full(len(p), k, np.int32) for k, p in enumerate(photos)])
    return Particles(**{**rows.__dict__, "diameter_um": d, "photo": number})


def test_photos_of_one_grind_agree_and_those_of_two_do_not() -> None:
    rng = np.random.default_rng(8)
    alike = [rng.lognormal(np.log(400), 0.3, 1500) for _ in range(4)]
    same = between_photos(sample_of(alike), 4, 100.0)
    assert same is not None and not same.differ and 1 < widening(same, 0.02) < 1.6
    other = between_photos(sample_of([*alike[:2], *(1.25 * p for p in alike[2:])]), 4, 100.0)
    assert other is not None and other.differ and other.tau_ln > 0.06 and widening(other, 0.02) > 1.5
    assert between_photos(sample_of(alike[:1]), 1, 100.0) is None


@given(st.floats(0.005, 0.2), st.integers(1, 5), st.floats(0.01, 0.1))
def test_enough_photos_are_enough(half: float, photos: int, wanted: float) -> None:
    more = photos_needed(half, photos, wanted)
    if more is not None:
        assert half * np.sqrt(photos / (photos + more)) <= wanted + 1e-9
        assert more == 0 or half * np.sqrt(photos / (photos + more - 1)) > wanted - 1e-9


def test_a_real_difference_is_real_and_the_distance_of_a_shift_is_the_shift() -> None:
    rng = np.random.default_rng(2)
    d = rng.lognormal(np.log(400), 0.3, 20_000)
    first, second = smooth_curve(d, np.ones(len(d))), smooth_curve(1.2 * d, np.ones(len(d)))
    far = compare(600.0, (590.0, 610.0), 500.0, (490.0, 510.0), second, first)
    assert far.real and far.d50 == pytest.approx(0.2) and far.interval95[0] < 0.2 < far.interval95[1]
    assert far.distance_ln == pytest.approx(np.log(1.2), rel=0.02)
    near = compare(505.0, (480.0, 530.0), 500.0, (470.0, 530.0), first, first)
    assert not near.real and near.distance_ln == 0
