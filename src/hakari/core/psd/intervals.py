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
    """95 % percentile intervals (low, high) of the headline figures, and a band around the density."""

    d10_um: tuple[float, float]
    d50_um: tuple[float, float]
    d90_um: tuple[float, float]
    size_um: FloatArray
    density_low: FloatArray
    density_high: FloatArray


def bootstrap(
    diameter_um: FloatArray,
    weight: FloatArray,
    rng: np.random.Generator,
    smoothing_ln: float,
    replicates: int = REPLICATES,
) -> Intervals:
    """Resample grounds; done on narrow bins of ln d, where a Poisson count stands for drawing with replacement."""
    size = log_grid(step_ln=_STEP_LN)
    bins = np.clip(np.rint(np.log(diameter_um / size[0]) / _STEP_LN).astype(np.int64), 0, len(size) - 1)
    count = np.bincount(bins, minlength=len(size)).astype(np.float64)
    mass = np.bincount(bins, weights=volumes(diameter_um, weight), minlength=len(size))
    used = np.flatnonzero(count)
    draws = rng.poisson(count[used], size=(replicates, len(used))) * (mass[used] / count[used])
    draws = draws[draws.sum(axis=1) > 0]
    quantiles = _quantiles(size[used], draws, np.array([0.1, 0.5, 0.9]))
    low, high = np.percentile(quantiles, [2.5, 97.5], axis=0)
    full = np.zeros((len(draws), len(size)))
    full[:, used] = draws / draws.sum(axis=1, keepdims=True)
    k = kernel(_STEP_LN, smoothing_ln)
    spectrum = np.fft.rfft(full, 2 * len(size), axis=1) * np.fft.rfft(k, 2 * len(size))
    smooth = np.fft.irfft(spectrum, axis=1)[:, len(k) // 2 : len(k) // 2 + len(size)] / _STEP_LN
    band = np.percentile(smooth, [2.5, 97.5], axis=0)
    pairs = [(float(a), float(b)) for a, b in zip(low, high, strict=True)]
    return Intervals(pairs[0], pairs[1], pairs[2], size, np.maximum(band[0], 0), np.maximum(band[1], 0))


def _quantiles(size: FloatArray, draws: FloatArray, shares: npt.NDArray[np.float64]) -> FloatArray:
    """Quantiles of each replicate (replicates, len(shares)), interpolated in ln d."""
    ahead = np.cumsum(draws, axis=1)
    middle = (ahead - 0.5 * draws) / ahead[:, -1:]
    ln_size = np.log(size)
    return np.exp([np.interp(shares, row, ln_size) for row in middle])
