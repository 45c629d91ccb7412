"""One mode or two: mixtures of lognormals by weighted expectation–maximisation, the number of modes by BIC.

Masses are the weights; the effective count stands for the number of observations, because a few large grounds carry the
mass (Dempster, Laird and Rubin 1977; Schwarz 1978).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hakari.core.arrays import FloatArray
from hakari.core.psd.distribution import binned_mass, effective_count, log_grid, volumes

STEPS = 200
NARROWEST = 0.05
CLEARLY_BETTER = 6.0


@dataclass(frozen=True)
class Mode:
    """One mode: its share of the mass, median in µm and width in ln d."""

    share: float
    median_um: float
    sigma_ln: float


def _bell(x: FloatArray) -> FloatArray:
    return np.asarray(np.exp(-0.5 * x**2) / np.sqrt(2 * np.pi))


def fit_modes(diameter_um: FloatArray, weight: FloatArray) -> tuple[Mode, ...]:
    """Two modes where they explain the grounds clearly better than one, else one; smallest first.

    Parameters
    ----------
    diameter_um : ndarray of float64
        Diameters of the grounds or classes, µm, (n,).
    weight : ndarray of float64
        Weight of each ground, (n,).

    Returns
    -------
    tuple[Mode, ...]
        Two modes where they explain the grounds clearly better than one, else one.
    """
    size = log_grid()
    mass = binned_mass(size, diameter_um, volumes(diameter_um, weight))
    used = mass > 0
    x, w = np.log(size[used]), mass[used] / mass.sum()
    count = effective_count(diameter_um, weight)
    one, two = _fit(x, w, 1), _fit(x, w, 2)
    bic = [-2 * count * _likelihood(x, w, m) + (3 * len(m) - 1) * np.log(count) for m in (one, two)]
    apart = abs(np.log(two[1].median_um / two[0].median_um)) > 0.5 * (two[0].sigma_ln + two[1].sigma_ln)
    better = bic[1] < bic[0] - CLEARLY_BETTER and apart and min(m.share for m in two) > 0.02
    return tuple(sorted(two if better else one, key=lambda m: m.median_um))


def density_of(modes: tuple[Mode, ...], size_um: FloatArray) -> FloatArray:
    """Density per ln d of each mode at each size, (modes, sizes).

    Parameters
    ----------
    modes : tuple[Mode, ...]
        Modes of the distribution.
    size_um : ndarray of float64
        Sizes, µm, (n,).

    Returns
    -------
    ndarray of float64
        Density per ln d of each mode at each size, (modes, sizes).
    """
    return np.array([m.share * _bell(np.log(size_um / m.median_um) / m.sigma_ln) / m.sigma_ln for m in modes])


def _likelihood(x: FloatArray, w: FloatArray, modes: list[Mode]) -> float:
    return float((w * np.log(np.maximum(density_of(tuple(modes), np.exp(x)).sum(axis=0), 1e-12))).sum())


def _fit(x: FloatArray, w: FloatArray, number: int) -> list[Mode]:
    mean = float((w * x).sum())
    spread = float(np.sqrt((w * (x - mean) ** 2).sum()))
    if number == 1:
        return [Mode(1.0, float(np.exp(mean)), max(spread, NARROWEST))]
    ahead = np.cumsum(w)
    best: list[Mode] = []
    best_likelihood = -np.inf
    for low, high in ((0.1, 0.6), (0.25, 0.75), (0.5, 0.9)):
        starts = [float(x[np.searchsorted(ahead, q)]) for q in (low, high)]
        modes = [Mode(0.5, float(np.exp(s)), max(0.5 * spread, NARROWEST)) for s in starts]
        for _ in range(STEPS):
            modes = _stepped(x, w, modes)
        likelihood = _likelihood(x, w, modes)
        if likelihood > best_likelihood:
            best, best_likelihood = modes, likelihood
    return best


def _stepped(x: FloatArray, w: FloatArray, modes: list[Mode]) -> list[Mode]:
    dense = density_of(tuple(modes), np.exp(x))
    part = w * dense / np.maximum(dense.sum(axis=0), 1e-300)
    share = np.maximum(part.sum(axis=1), 1e-9)
    mean = (part * x).sum(axis=1) / share
    sigma = np.sqrt((part * (x - mean[:, None]) ** 2).sum(axis=1) / share)
    return [
        Mode(float(s), float(np.exp(m)), max(float(d), NARROWEST)) for s, m, d in zip(share, mean, sigma, strict=True)
    ]
