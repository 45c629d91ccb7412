"""How well counting a finite number of grounds knows the grind.

The figures' intervals are those of weighted quantiles on ln d: the standard error of the share of mass below a size, over
the density there (Bahadur 1966; Woodruff 1952), times factors for either side. A normal interval is too short towards
large sizes, because the few largest grounds carry the mass and the largest there are may be missing from a pinch; the
factors were found by simulating particle lists of known grinds (``bench/intervals.py`` checks them on other lists).
The band of a drawn curve is a bootstrap over grounds (Efron 1979).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hakari.core.arrays import FloatArray
from hakari.core.psd.distribution import effective_count, kernel, log_grid, quantile_um, volumes

REPLICATES = 400
_STEP_LN = 0.01
SHARES = (0.1, 0.5, 0.9)

# Standard errors that an interval reaches below and above D10, D50 and D90, by effective count.
_COUNTS = np.array([25.0, 40.0, 63.0, 103.0, 172.0, 298.0, 547.0, 1152.0])
_BELOW = {
    0.1: np.array([2.0, 2.0, 2.05, 2.1, 2.0, 2.0, 1.95, 1.96]),
    0.5: np.array([1.9, 1.75, 1.72, 1.7, 1.7, 1.7, 1.8, 1.9]),
    0.9: np.array([1.3, 1.3, 1.35, 1.4, 1.45, 1.55, 1.6, 1.7]),
}
_ABOVE = {
    0.1: np.array([2.2, 2.45, 2.5, 2.25, 2.15, 2.1, 2.1, 2.1]),
    0.5: np.array([2.3, 2.6, 2.5, 2.2, 2.12, 2.05, 2.0, 2.0]),
    0.9: np.array([4.4, 4.8, 4.6, 3.9, 3.5, 2.95, 2.5, 2.3]),
}


@dataclass(frozen=True)
class Intervals:
    """95 % intervals (low, high) of the headline figures of the grind."""

    d10_um: tuple[float, float]
    d50_um: tuple[float, float]
    d90_um: tuple[float, float]

    def widened(self, factors: tuple[float, float, float], centres_um: tuple[float, float, float]) -> Intervals:
        """Each interval stretched by a factor, in ln d, round its figure.

        Parameters
        ----------
        factors : tuple of three floats
            Flow factors of a fit.
        centres_um : tuple of three floats
            D10, D50 and D90, µm.

        Returns
        -------
        Intervals
            Each interval stretched by a factor, in ln d, round its figure.
        """
        pairs = [
            (c * (low / c) ** f, c * (high / c) ** f)
            for (low, high), f, c in zip((self.d10_um, self.d50_um, self.d90_um), factors, centres_um, strict=True)
        ]
        return Intervals(*pairs)


def standard_errors_ln(diameter_um: FloatArray, weight: FloatArray) -> FloatArray:
    """Return the standard errors of ln D10, ln D50 and ln D90 from counting, (3,).

    Parameters
    ----------
    diameter_um : ndarray of float64
        Diameters of the grounds or classes, µm, (n,).
    weight : ndarray of float64
        Weight of each ground, (n,).

    Returns
    -------
    ndarray of float64
        The standard errors of ln D10, ln D50 and ln D90 from counting, (3,), natural logarithm.
    """
    mass = volumes(diameter_um, weight)
    total, ln_d = float(mass.sum()), np.log(diameter_um)
    quantiles = np.log(quantile_um(diameter_um, mass, list(SHARES)))
    spread = max(float(quantiles[2] - quantiles[0]) / 2.563, 0.1)
    width = 1.2 * spread * effective_count(diameter_um, weight) ** -0.2
    errors = []
    for at, share in zip(quantiles, SHARES, strict=True):
        below = np.sqrt(float((mass**2 * ((ln_d <= at) - share) ** 2).sum())) / total
        near = np.exp(-0.5 * ((ln_d - at) / width) ** 2) / (width * np.sqrt(2 * np.pi))
        errors.append(below / max(float((mass * near).sum()) / total, 1e-3))
    return np.array(errors)


def counting_intervals(diameter_um: FloatArray, weight: FloatArray) -> Intervals:
    """95 % intervals of the grind's D10, D50 and D90 from one pinch of its grounds.

    Parameters
    ----------
    diameter_um : ndarray of float64
        Diameters of the grounds or classes, µm, (n,).
    weight : ndarray of float64
        Weight of each ground, (n,).

    Returns
    -------
    Intervals
        95 % intervals of the grind's D10, D50 and D90 from one pinch of its grounds.
    """
    figures = quantile_um(diameter_um, volumes(diameter_um, weight), list(SHARES))
    errors = standard_errors_ln(diameter_um, weight)
    ln_count = np.log(effective_count(diameter_um, weight))
    pairs = [
        (
            float(q * np.exp(-e * np.interp(ln_count, np.log(_COUNTS), _BELOW[share]))),
            float(q * np.exp(e * np.interp(ln_count, np.log(_COUNTS), _ABOVE[share]))),
        )
        for q, e, share in zip(figures, errors, SHARES, strict=True)
    ]
    return Intervals(*pairs)


@dataclass(frozen=True)
class Band:
    """95 % band around a smooth density of mass per ln d, at each size."""

    size_um: FloatArray
    low: FloatArray
    high: FloatArray


@dataclass(frozen=True)
class Resampled:
    """Pinches drawn again from the grounds of one: shares of mass (replicates, sizes) at narrow steps of ln d."""

    size_um: FloatArray
    share: FloatArray


def density_band(pinches: Resampled, smoothing_ln: float) -> Band:
    """Band around the kernel density of the grounds.

    Parameters
    ----------
    pinches : Resampled
        Resampled pinches.
    smoothing_ln : float
        Width of the smoothing in ln size.

    Returns
    -------
    Band
        Band around the kernel density of the grounds.
    """
    size = pinches.size_um
    k = kernel(_STEP_LN, smoothing_ln)
    spectrum = np.fft.rfft(pinches.share, 2 * len(size), axis=1) * np.fft.rfft(k, 2 * len(size))
    smooth = np.fft.irfft(spectrum, axis=1)[:, len(k) // 2 : len(k) // 2 + len(size)] / _STEP_LN
    low, high = np.maximum(np.percentile(smooth, [2.5, 97.5], axis=0), 0)
    return Band(size, low, high)


def cumulative_band(pinches: Resampled) -> Band:
    """Band around the cumulative share of mass of the grounds.

    Parameters
    ----------
    pinches : Resampled
        Resampled pinches.

    Returns
    -------
    Band
        Band around the cumulative share of mass of the grounds.
    """
    low, high = np.percentile(np.cumsum(pinches.share, axis=1), [2.5, 97.5], axis=0)
    return Band(pinches.size_um, low, high)


def resample(
    diameter_um: FloatArray, weight: FloatArray, rng: np.random.Generator, replicates: int = REPLICATES
) -> Resampled:
    """Draw pinches again with replacement; on narrow bins of ln d a Poisson count stands for it.

    Parameters
    ----------
    diameter_um : ndarray of float64
        Diameters of the grounds or classes, µm, (n,).
    weight : ndarray of float64
        Weight of each ground, (n,).
    rng : Generator
        Source of randomness.
    replicates : int
        How many resamplings.

    Returns
    -------
    Resampled
        The resampled pinches.
    """
    size = log_grid(step_ln=_STEP_LN)
    bins = np.clip(np.rint(np.log(diameter_um / size[0]) / _STEP_LN).astype(np.int64), 0, len(size) - 1)
    count = np.bincount(bins, minlength=len(size)).astype(np.float64)
    mass = np.bincount(bins, weights=volumes(diameter_um, weight), minlength=len(size))
    used = np.flatnonzero(count)
    draws = rng.poisson(count[used], size=(replicates, len(used))) * (mass[used] / count[used])
    draws = draws[draws.sum(axis=1) > 0]
    share = np.zeros((len(draws), len(size)))
    share[:, used] = draws / draws.sum(axis=1, keepdims=True)
    return Resampled(size, share)
