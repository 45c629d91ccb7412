"""How well counting a finite number of grounds knows the grind: bootstrap over grounds (Efron 1979)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from hakari.core.photo.result import FloatArray
from hakari.core.psd.distribution import kernel, log_grid, volumes

REPLICATES = 400
_STEP_LN = 0.01


@dataclass(frozen=True)
class Intervals:
    """95 % percentile intervals (low, high) of the headline figures."""

    d10_um: tuple[float, float]
    d50_um: tuple[float, float]
    d90_um: tuple[float, float]


@dataclass(frozen=True)
class Band:
    """95 % band around a smooth density of mass per ln d, at each size."""

    size_um: FloatArray
    low: FloatArray
    high: FloatArray


def bootstrap(
    diameter_um: FloatArray, weight: FloatArray, rng: np.random.Generator, replicates: int = REPLICATES
) -> Intervals:
    """Intervals of the figures of these grounds."""
    size, used, draws = _resampled(diameter_um, weight, rng, replicates)
    quantiles = _quantiles(size[used], draws, np.array([0.1, 0.5, 0.9]))
    low, high = np.percentile(quantiles, [2.5, 97.5], axis=0)
    pairs = [(float(a), float(b)) for a, b in zip(low, high, strict=True)]
    return Intervals(pairs[0], pairs[1], pairs[2])


def density_band(
    diameter_um: FloatArray,
    weight: FloatArray,
    rng: np.random.Generator,
    smoothing_ln: float,
    replicates: int = REPLICATES,
) -> Band:
    """Band around the kernel density of these grounds."""
    size, used, draws = _resampled(diameter_um, weight, rng, replicates)
    full = np.zeros((len(draws), len(size)))
    full[:, used] = draws / draws.sum(axis=1, keepdims=True)
    k = kernel(_STEP_LN, smoothing_ln)
    spectrum = np.fft.rfft(full, 2 * len(size), axis=1) * np.fft.rfft(k, 2 * len(size))
    smooth = np.fft.irfft(spectrum, axis=1)[:, len(k) // 2 : len(k) // 2 + len(size)] / _STEP_LN
    low, high = np.maximum(np.percentile(smooth, [2.5, 97.5], axis=0), 0)
    return Band(size, low, high)


def _resampled(
    diameter_um: FloatArray, weight: FloatArray, rng: np.random.Generator, replicates: int
) -> tuple[FloatArray, npt.NDArray[np.int64], FloatArray]:
    """Sizes of narrow bins of ln d, which of them hold grounds, and masses drawn in those (replicates, used).

    On bins, a Poisson count stands for drawing with replacement.
    """
    size = log_grid(step_ln=_STEP_LN)
    bins = np.clip(np.rint(np.log(diameter_um / size[0]) / _STEP_LN).astype(np.int64), 0, len(size) - 1)
    count = np.bincount(bins, minlength=len(size)).astype(np.float64)
    mass = np.bincount(bins, weights=volumes(diameter_um, weight), minlength=len(size))
    used = np.flatnonzero(count)
    draws = rng.poisson(count[used], size=(replicates, len(used))) * (mass[used] / count[used])
    return size, used, draws[draws.sum(axis=1) > 0]


def _quantiles(size: FloatArray, draws: FloatArray, shares: npt.NDArray[np.float64]) -> FloatArray:
    """Quantiles of each replicate (replicates, len(shares)), interpolated in ln d."""
    ahead = np.cumsum(draws, axis=1)
    middle = (ahead - 0.5 * draws) / ahead[:, -1:]
    ln_size = np.log(size)
    return np.exp([np.interp(shares, row, ln_size) for row in middle])
