"""What the samples of a curve say about each other: which one does not fit, and which setting to measure next."""

from __future__ import annotations

import numpy as np

from hakari.core.arrays import BoolArray, FloatArray
from hakari.core.errors import InputError
from hakari.core.grinder.curve import REPEAT_SD, Curve, CurveSample, fit_curve
from hakari.core.grinder.dial import Dial

FEWEST_TO_JUDGE = 4
ODD_SIGMAS = 3.5
ONE_MORE_SD = 0.02  # ln, of a photo's median and of the repeat


def odd_samples(dial: Dial, samples: list[CurveSample], travel_um: float | None = None) -> tuple[float | None, ...]:
    """For each sample, how many standard deviations it lies from the curve of the others; ``None`` where that says nothing.

    Beyond ``ODD_SIGMAS`` it is worth a second look. An odd one makes its neighbours look odd: the oddest is set aside, and
    the others judged again without it. Fewer than four samples cannot tell which is the odd one.

    Parameters
    ----------
    dial : Dial
        The grinder's dial.
    samples : list[CurveSample]
        Measured settings.
    travel_um : float or None
        How far the burrs move over one unit of position, µm.

    Returns
    -------
    tuple[float or None, ...]
        For each sample, how many standard deviations it lies from the curve of the others.
    """
    sigmas: list[float | None] = [None] * len(samples)
    left = list(range(len(samples)))
    while len(left) >= FEWEST_TO_JUDGE:
        for i in left:
            sigmas[i] = _sigmas_off(dial, samples[i], [samples[k] for k in left if k != i], travel_um)
        oddest = max(left, key=lambda i: abs(sigmas[i] or 0.0))
        if abs(sigmas[oddest] or 0.0) <= ODD_SIGMAS:
            break
        left.remove(oddest)
    else:
        for i in left:
            sigmas[i] = None
    return tuple(sigmas)


def _sigmas_off(dial: Dial, sample: CurveSample, others: list[CurveSample], travel_um: float | None) -> float | None:
    try:
        curve = fit_curve(dial, others, np.random.default_rng(1), travel_um)
    except InputError:
        return None
    ln_um = np.log(curve.sizes_um(np.array([sample.position]), sample.roast)[:, 0])
    spread = float(np.hypot(np.hypot(sample.ln_sd, REPEAT_SD), np.std(ln_um)))
    return float((np.log(sample.d50_um) - np.mean(ln_um)) / spread)


def next_to_measure(curve: Curve, wanted: FloatArray, places: BoolArray) -> tuple[int, float, float]:
    """Return the place whose measuring narrows the curve most where it matters.

    Parameters
    ----------
    wanted:
        Weight of each place, (places,): where the user brews.
    places:
        Which places may be measured, boolean (places,).

    Returns
    -------
    place, before, after:
        The place, and the mean half-width of the 95 % interval over the wanted places, as a share, now and then. In a linear
        Gaussian model a sample at c takes cov(t, c)² / (var(c) + noise²) from the variance at t; the draws give these.
    """
    ln_um = np.log(curve.sizes_um(curve.positions))
    centred = ln_um - ln_um.mean(axis=0)
    candidates = np.flatnonzero(places)
    candidates = candidates[:: max(1, len(candidates) // 80)]
    at = np.flatnonzero(wanted > 0)
    share = wanted[at] / wanted[at].sum()
    n = len(centred)
    covariance = centred[:, at].T @ centred[:, candidates] / n
    before = (centred[:, at] ** 2).mean(axis=0)
    of_candidate = (centred[:, candidates] ** 2).mean(axis=0) + ONE_MORE_SD**2
    after = np.maximum(before[:, None] - covariance**2 / of_candidate, 0.0)
    widths = 1.96 * share @ np.sqrt(after)
    best = int(np.argmin(widths))
    return int(candidates[best]), float(1.96 * share @ np.sqrt(before)), float(widths[best])
