"""Fines and span along a curve: what follows from a straight line in ln against ln, and from how much is known."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from hakari.core.grinder.trend import FINES, LEVEL_SD, SPAN, Law, fit_trend

SIZES = [400.0, 550.0, 700.0, 900.0, 1150.0]


@given(st.floats(-2.0, 0.5), st.floats(0.01, 0.2))
def test_many_samples_of_a_power_law_give_it_back(slope: float, level: float) -> None:
    sizes = SIZES * 8
    trend = fit_trend(sizes, [level * (d / 700) ** slope for d in sizes], FINES)
    assert trend is not None
    for d in (450.0, 800.0, 1000.0):
        assert trend.at(d) == pytest.approx(level * (d / 700) ** slope, rel=0.08)


def test_it_is_the_ridge_estimate_that_normal_equations_give() -> None:
    values = [0.09, 0.071, 0.05, 0.036, 0.03]
    trend = fit_trend(SIZES, values, FINES)  # type: ignore[arg-type]
    assert trend is not None
    x, y = np.log(SIZES), np.log(values)
    phi = np.column_stack([np.ones(5), x - x.mean()])
    prior = np.diag([1 / LEVEL_SD**2, 1 / FINES.slope_sd**2])
    precision = phi.T @ phi / FINES.scatter**2 + prior
    mean = np.linalg.solve(precision, phi.T @ y / FINES.scatter**2 + prior @ [y.mean(), FINES.slope])
    assert trend.mean == pytest.approx(mean) and trend.covariance == pytest.approx(np.linalg.inv(precision))


@pytest.mark.parametrize("law", [FINES, SPAN])
def test_one_sample_is_passed_through_and_the_slope_is_the_one_that_is_expected(law: Law) -> None:
    trend = fit_trend([700.0], [0.05], law)
    assert trend is not None
    assert trend.at(700) == pytest.approx(0.05, rel=0.01)
    assert np.log(trend.at(1400) / trend.at(700)) / np.log(2) == pytest.approx(law.slope, abs=1e-6)
    assert fit_trend([700.0, 800.0], [None, 0.0], law) is None


def test_an_interval_narrows_with_samples_and_widens_away_from_them() -> None:
    few, many = (fit_trend(SIZES * n, [0.05] * 5 * n, FINES) for n in (1, 6))
    assert few is not None and many is not None
    widths = [np.log(t.interval(d)[1] / t.interval(d)[0]) for t in (few, many) for d in (650.0, 2500.0)]
    assert widths[0] < widths[1] and widths[2] < widths[3] and widths[2] < widths[0]
    # Another photo scatters by itself, however well the trend is known.
    assert widths[2] > 2 * 1.96 * FINES.scatter


def test_intervals_hold_the_next_sample_as_often_as_they_say() -> None:
    rng = np.random.default_rng(77)
    held = []
    for _ in range(600):
        slope, level = rng.normal(FINES.slope, FINES.slope_sd), rng.uniform(-4, -2)
        sizes = rng.uniform(400, 1200, 4)
        seen = np.exp(level + slope * np.log(sizes / 700) + rng.normal(0, FINES.scatter, 4))
        trend = fit_trend(sizes.tolist(), seen.tolist(), FINES)
        assert trend is not None
        at = rng.uniform(400, 1200)
        low, high = trend.interval(at)
        held.append(low <= np.exp(level + slope * np.log(at / 700) + rng.normal(0, FINES.scatter)) <= high)
    assert 0.93 <= np.mean(held) <= 0.98
