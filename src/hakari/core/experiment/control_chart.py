"""A figure followed over time: limits from its noise, and whether it drifts or has jumped."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from hakari.core.arrays import FloatArray

Change = Literal["drift", "jump"]
# The chart begins with so many points, or a quarter of them; a median moving range is 0.954 standard deviations.
FEWEST, BASE_SHARE, MEDIAN_RANGE = 5, 0.25, 0.954
LIMIT_SD = 3.0
# A moving average that forgets a fifth of itself each time sees slow changes; with this limit it is wrong as rarely as 3 sd.
FORGETS, AVERAGE_LIMIT_SD = 0.2, 2.86


@dataclass(frozen=True)
class ControlChart:
    """A figure in ln over time: its centre and standard deviation at the beginning, and what changed.

    ``out`` are the places beyond three standard deviations; ``average_ln`` is the moving average. ``change`` says how it
    changed, at place ``since`` where it jumped; ``change_ln`` is by how much in all. All are empty or ``None`` while nothing
    is out of its limits.
    """

    centre_ln: float
    sd_ln: float
    low_ln: float
    high_ln: float
    average_ln: tuple[float, ...]
    out: tuple[int, ...]
    change: Change | None
    since: int | None
    change_ln: float


def control_chart(day: Sequence[float], value: Sequence[float], error_ln: Sequence[float]) -> ControlChart | None:
    """Follow a figure over time: an individuals chart with a moving average for slow changes.

    The spread is the larger of what neighbours differ by (moving range) and what measuring itself is uncertain by, so that a
    figure is not out of its limits for the noise of its photos.

    Parameters
    ----------
    day : Sequence[float]
        When, in days, growing, (n,).
    value : Sequence[float]
        The figure, above zero, (n,).
    error_ln : Sequence[float]
        Standard error of each, in ln, (n,).

    Returns
    -------
    ControlChart or None
        The chart; ``None`` with fewer than five points.

    References
    ----------
    W. A. Shewhart: Economic control of quality of manufactured product (1931).
    S. W. Roberts: Control chart tests based on geometric moving averages. Technometrics 1 (1959).
    """
    t, y = np.asarray(day, float), np.log(np.asarray(value, float))
    n = len(y)
    if n < FEWEST:
        return None
    base = max(FEWEST, round(BASE_SHARE * n))
    centre = float(y[:base].mean())
    ranges = float(np.median(np.abs(np.diff(y)))) / MEDIAN_RANGE  # which a single jump does not widen
    sd = max(ranges, float(np.sqrt(np.mean(np.square(error_ln)))), 1e-6)
    average, limit = _average(y, centre, sd)
    out = tuple(int(k) for k in np.flatnonzero(np.abs(y - centre) > LIMIT_SD * sd))
    changed = bool(out) or bool(np.any(np.abs(average - centre) > limit))
    change, since, by = _kind_of_change(t, y) if changed else (None, None, 0.0)
    return ControlChart(
        centre, sd, centre - LIMIT_SD * sd, centre + LIMIT_SD * sd, tuple(map(float, average)), out, change, since, by
    )


def _average(y: FloatArray, centre: float, sd: float) -> tuple[FloatArray, FloatArray]:
    """Return the moving average and its limits."""
    average, now = np.zeros_like(y), centre
    for k, v in enumerate(y):
        now = FORGETS * float(v) + (1 - FORGETS) * now
        average[k] = now
    left = 1 - (1 - FORGETS) ** (2 * np.arange(1, len(y) + 1))
    return average, AVERAGE_LIMIT_SD * sd * np.sqrt(FORGETS / (2 - FORGETS) * left)


def _kind_of_change(t: FloatArray, y: FloatArray) -> tuple[Change, int | None, float]:
    """Return whether a line or one step explains the figure better, where the step is, and the change in all."""
    slope, start = np.polyfit(t - t[0], y, 1)
    line = float(np.square(y - start - slope * (t - t[0])).sum())
    steps = [(float(_about(y[:k]) + _about(y[k:])), k) for k in range(1, len(y))]
    step, at = min(steps)
    if line <= step:
        return "drift", None, float(slope * (t[-1] - t[0]))
    return "jump", at, float(y[at:].mean() - y[:at].mean())


def _about(y: FloatArray) -> float:
    return float(np.square(y - y.mean()).sum())
