"""A ladder of one variable, tasted blind: where liking peaks, and how well that is known."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import stdtrit

from hakari.core.errors import InputError

FEWEST = 4
FEWEST_STEPS = 3


@dataclass(frozen=True)
class LadderResult:
    """Mean liking by step, and the peak of the parabola through all scores.

    ``peak`` lies within the ladder; ``ci95`` is its 95 % interval, cut to the ladder, and the whole ladder where the scores
    do not bend clearly enough to have a peak. ``best`` is the step nearest to the peak, or the one liked most where there is
    none; ``decided`` whether any step of the ladder is ruled out.
    """

    values: tuple[float, ...]
    mean_liked: tuple[float, ...]
    peak: float | None
    ci95: tuple[float, float]
    best: float
    decided: bool


def judge_ladder(values: Sequence[float], liked: Sequence[float]) -> LadderResult:
    """Find the best step of a ladder.

    A parabola is fitted to the scores by least squares; its peak is a ratio of two coefficients, and its interval that of
    Fieller, which is exact for normal errors and says when there is no peak to speak of.

    Parameters
    ----------
    values : Sequence[float]
        The step of each cup that was tasted, in its own unit, (n,).
    liked : Sequence[float]
        How it was liked, (n,).

    Returns
    -------
    LadderResult
        The best step with its interval.

    Raises
    ------
    InputError
        ``too-few-steps`` below three steps or four cups.

    References
    ----------
    E. C. Fieller: Some problems in interval estimation. Journal of the Royal Statistical Society B 16 (1954).
    """
    x, y = np.asarray(values, float), np.asarray(liked, float)
    steps = np.unique(x)
    if len(steps) < FEWEST_STEPS or len(x) < FEWEST or len(x) != len(y):
        raise InputError(
            "too-few-steps",
            "A ladder needs three steps and four cups at least.",
            "Taste one more round.",
            field="scores",
        )
    means = np.array([y[x == s].mean() for s in steps])
    ladder = (float(steps[0]), float(steps[-1]))
    peak, interval = _peak(x, y, ladder)
    liked_most = float(steps[int(means.argmax())])
    best = liked_most if peak is None else float(steps[int(np.abs(steps - peak).argmin())])
    return LadderResult(
        tuple(map(float, steps)), tuple(map(float, means)), peak, interval, best, interval != ladder
    )  # fmt: skip


def _peak(x: np.ndarray, y: np.ndarray, ladder: tuple[float, float]) -> tuple[float | None, tuple[float, float]]:
    """Return the peak of a parabola and Fieller's interval, both within the ladder; no peak where it does not bend down."""
    middle, scale = (ladder[0] + ladder[1]) / 2, (ladder[1] - ladder[0]) / 2
    u = (x - middle) / scale
    design = np.column_stack([np.ones_like(u), u, u**2])
    coefficients, *_ = np.linalg.lstsq(design, y, rcond=None)
    freedom = len(y) - 3
    residual = y - design @ coefficients
    variance = float(residual @ residual) / freedom
    cov = variance * np.linalg.inv(design.T @ design)
    # Twice the curvature times the peak is less the slope: a ratio of normal variables.
    a, b = -coefficients[1], 2 * coefficients[2]
    v11, v12, v22 = cov[1, 1], -2 * cov[1, 2], 4 * cov[2, 2]
    t2 = float(stdtrit(freedom, 0.975)) ** 2
    bends = b**2 - t2 * v22
    if b >= 0 or bends <= 0:
        inside = b < 0 and abs(a / b) <= 1
        return (middle + scale * a / b if inside else None), ladder
    half_b, c = a * b - t2 * v12, a**2 - t2 * v11
    root = float(np.sqrt(max(half_b**2 - bends * c, 0.0)))
    low, high = (float(np.clip((half_b + sign * root) / bends, -1, 1)) for sign in (-1, 1))
    return middle + scale * float(np.clip(a / b, -1, 1)), (middle + scale * low, middle + scale * high)
