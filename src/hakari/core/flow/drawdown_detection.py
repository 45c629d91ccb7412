"""The two ends of a brew in the weight of the cup: where the bed falls bare the rate of flow breaks off."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hakari.core.arrays import FloatArray
from hakari.core.flow.percolation import LAST_DRIP_G_PER_S

SETTLE_S = 2.0
LONGEST_FIT_S = 900.0
MOST_POINTS = 500
COARSE_S, FINE_S = 2.0, 0.4
TAU_S = np.array([1.5, 2.5, 4.0, 6.5, 10.0, 16.0, 26.0])
TAU_NEAR = np.exp(np.linspace(-0.6, 0.6, 7))
BEFORE_S, AFTER_S, NEAR_S = 35.0, 25.0, 8.0
DRIP_WINDOW_S = 12.0
# A bare bed is told only where the break explains the course better than none does, by this factor in the sum of squares.
BREAK_GAIN = 1.08
LEAST_AFTER_S = 4.0


@dataclass(frozen=True)
class Drain:
    """The bare bed with its standard deviation, and the last drip; ``None`` where the log does not reach it."""

    bare_bed_s: float | None
    bare_sd_s: float | None
    last_drip_s: float | None


NOT_SEEN = Drain(None, None, None)


def find_drain(t_s: FloatArray, drink_g: FloatArray, poured_by_s: float) -> Drain:
    """Find both ends after the last pour.

    While water stands over the bed the cup fills along a smooth curve; once the bed is bare the pores empty and the rate
    falls as Q₀/(1 + u)², u = (t − t_b)/τ, which follows from an outflow that goes with the square of the saturation. Both
    parts share weight and rate at t_b. t_b and τ are found by search, the rest by least squares.

    Parameters
    ----------
    t_s, drink_g
        Weight of the cup at even times, shape (n,).
    poured_by_s
        When the last pour ended.

    Returns
    -------
    Drain
        Bare bed and last drip, with what they rest on.
    """
    part = (t_s >= poured_by_s + SETTLE_S) & (t_s <= poured_by_s + LONGEST_FIT_S)
    t, w = _thinned(t_s[part], drink_g[part])
    # Sums of squares lose their digits on large weights.
    if len(w):
        w = w - w[-1]
    if len(t) < 20 or t[-1] - t[0] < 8:
        return NOT_SEEN
    seen = _search(t, w, np.arange(t[0] + 1.0, t[-1] - LEAST_AFTER_S, COARSE_S), TAU_S)
    if seen is None:
        return NOT_SEEN
    # Far from the break, cooling and fouling bend the course: look again close to it.
    for _ in range(2):
        near = (t_s >= max(t[0], seen.bare_s - BEFORE_S)) & (t_s <= seen.bare_s + AFTER_S)
        close, weight = _thinned(t_s[near], drink_g[near] - drink_g[near][-1])
        first, last = max(close[0] + 0.5, seen.bare_s - NEAR_S), min(close[-1] - LEAST_AFTER_S, seen.bare_s + NEAR_S)
        again = _search(close, weight, np.arange(first, last, FINE_S), seen.tau_s * TAU_NEAR) if last > first else None
        if again is None:
            return NOT_SEEN
        seen = again
    if seen.rate_g_s <= LAST_DRIP_G_PER_S or _smooth(close, weight) < BREAK_GAIN * seen.least:
        return NOT_SEEN
    drip = _last_drip(t_s, drink_g, seen.bare_s)
    return Drain(seen.bare_s, seen.sd_s, drip)


@dataclass(frozen=True)
class _Break:
    """The best break of a search, its rate and time constant, and how sharply it is known."""

    bare_s: float
    tau_s: float
    rate_g_s: float
    least: float
    sd_s: float


def _thinned(t: FloatArray, w: FloatArray) -> tuple[FloatArray, FloatArray]:
    thin = max(1, len(t) // MOST_POINTS)
    return t[::thin], w[::thin]


def _search(t: FloatArray, w: FloatArray, bares: FloatArray, taus: FloatArray) -> _Break | None:
    """Try every pair of break and time constant."""
    if len(bares) == 0:
        return None
    sums, rates = _fits(t, w, bares, taus)
    i, j = np.unravel_index(int(sums.argmin()), sums.shape)
    least = float(sums[i, j])
    sd = _sd(bares, sums.min(axis=1), least, len(t))
    return _Break(float(bares[i]), float(taus[j]), float(rates[i, j]), least, sd)


def _last_drip(t: FloatArray, w: FloatArray, bare_s: float) -> float | None:
    """When the flow has fallen to drops: the first time after the bare bed that the rate over a few seconds is so low."""
    from scipy.signal import savgol_filter  # as in capture.py

    after = t >= bare_s
    x, y = t[after], w[after]
    step = float(np.median(np.diff(x))) if len(x) > 2 else 0.0
    half = round(DRIP_WINDOW_S / 2 / step) if step > 0 else 0
    if half < 2 or len(x) <= 2 * half:
        return None
    rate = savgol_filter(y, 2 * half + 1, 1, deriv=1, delta=step)[half:-half]
    low, high = np.flatnonzero(rate < LAST_DRIP_G_PER_S), np.flatnonzero(rate >= LAST_DRIP_G_PER_S)
    if len(low) == 0 or len(high) == 0 or low[-1] < high[-1]:
        return None
    # Noise crosses the mark early and late: the middle of the two.
    return float(x[(low[0] + high[-1]) // 2 + half])


def _fits(t: FloatArray, w: FloatArray, bares: FloatArray, taus: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Least squares for every break and time constant: sums of squares, and rates at the break in g/s; (breaks, taus)."""
    x = t - bares[:, None]
    before = np.minimum(x, 0.0)
    after = np.maximum(x, 0.0)[:, None]
    b = before / np.maximum(bares - t[0], 1.0)[:, None]
    square = b * b
    same = np.stack(
        [np.ones_like(x), square, square * b, square * square], axis=-1
    )  # does not depend on the time constant
    line = after * taus[:, None]
    line /= after + taus[:, None]
    line += before[:, None]
    shape = (len(bares), len(taus))
    products = np.empty((*shape, 5, 5))
    sides = np.empty((*shape, 5))
    products[..., :4, :4] = (same.transpose(0, 2, 1) @ same)[:, None]
    cross = line @ same
    products[..., 4, :4], products[..., :4, 4] = cross, cross
    products[..., 4, 4] = np.einsum("btn,btn->bt", line, line)
    sides[..., :4] = (same.transpose(0, 2, 1) @ w)[:, None]
    sides[..., 4] = line @ w
    # A touch of damping keeps the curve before an early break from taking up its noise.
    products += np.diag([1e-9, 1e-3, 1e-2, 1e-2, 1e-9])
    weights = np.linalg.solve(products, sides[..., None])[..., 0]
    sums = w @ w - 2 * (weights * sides).sum(axis=-1) + np.einsum("...i,...ij,...j", weights, products, weights)
    return np.maximum(sums, 1e-12).astype(float), weights[..., 4].astype(float)


def _smooth(t: FloatArray, w: FloatArray) -> float:
    """Sum of squares of a smooth course without a break."""
    x = (t - t.mean()) / max(np.ptp(t) / 2, 1e-9)
    return float(((w - np.polyval(np.polyfit(x, w, 5), x)) ** 2).sum())


def _sd(at: FloatArray, sums: FloatArray, least: float, n: int) -> float:
    """Return the standard deviation of the break from how fast the sum of squares rises beside it; at least the step."""
    variance = least / max(n - 7, 1)
    inside = at[sums <= least + variance]
    return max(FINE_S / 2, float(np.ptp(inside)) / 2)
