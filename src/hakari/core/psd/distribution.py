"""Volume-weighted size distributions of measured grounds (ISO 9276-2)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hakari.core.arrays import FloatArray
from hakari.core.errors import InputError

CUT_UM = 100.0
BOULDER_FACTOR = 1.6
SHARE_LIMITS_UM = (100.0, 200.0, 300.0)
SMOOTHING_LN = 0.05


@dataclass(frozen=True)
class Moments:
    """Headline figures of one distribution, all volume-weighted, µm and shares of mass."""

    d10_um: float
    d50_um: float
    d90_um: float
    d32_um: float
    d43_um: float

    @property
    def span(self) -> float:
        """Width (D90 − D10)/D50."""
        return (self.d90_um - self.d10_um) / self.d50_um


def volumes(diameter_um: FloatArray, weight: FloatArray) -> FloatArray:
    """Mass-like weight of each ground, w·d³ (a sphere is assumed behind each outline).

    Parameters
    ----------
    diameter_um : ndarray of float64
        Diameters of the grounds or classes, µm, (n,).
    weight : ndarray of float64
        Weight of each ground, (n,).

    Returns
    -------
    ndarray of float64
        Mass-like weight of each ground, w·d³ (a sphere is assumed behind each outline).
    """
    return np.asarray(weight * diameter_um**3)


def quantile_um(diameter_um: FloatArray, mass: FloatArray, share: list[float]) -> FloatArray:
    """Sizes at which the given shares of the mass are smaller; the curve runs through the middle of each step.

    Parameters
    ----------
    diameter_um : ndarray of float64
        Diameters of the grounds or classes, µm, (n,).
    mass : ndarray of float64
        Mass of each size, (n,).
    share : list[float]
        Shares of mass, 0 to 1.

    Returns
    -------
    ndarray of float64
        Sizes at which the given shares of the mass are smaller, µm.
    """
    order = np.argsort(diameter_um)
    ahead = np.cumsum(mass[order])
    middle = (ahead - 0.5 * mass[order]) / ahead[-1]
    return np.asarray(np.interp(share, middle, diameter_um[order]))


def moments(diameter_um: FloatArray, weight: FloatArray) -> Moments:
    """Headline figures of grounds; at least one is needed.

    Parameters
    ----------
    diameter_um : ndarray of float64
        Diameters of the grounds or classes, µm, (n,).
    weight : ndarray of float64
        Weight of each ground, (n,).

    Returns
    -------
    Moments
        Headline figures of grounds.
    """
    mass = volumes(diameter_um, weight)
    d10, d50, d90 = (float(v) for v in quantile_um(diameter_um, mass, [0.1, 0.5, 0.9]))
    cube = float(mass.sum())
    return Moments(
        d10, d50, d90,
        d32_um=cube / float((weight * diameter_um**2).sum()),
        d43_um=float((weight * diameter_um**4).sum()) / cube,
    )  # fmt: skip


def mass_below(diameter_um: FloatArray, weight: FloatArray, limit_um: float) -> float:
    """Share of the mass in grounds smaller than ``limit_um``.

    Parameters
    ----------
    diameter_um : ndarray of float64
        Diameters of the grounds or classes, µm, (n,).
    weight : ndarray of float64
        Weight of each ground, (n,).
    limit_um : float
        Smallest size that the photo resolves, µm.

    Returns
    -------
    float
        Share of the mass in grounds smaller than ``limit_um``.
    """
    mass = volumes(diameter_um, weight)
    return float(mass[diameter_um < limit_um].sum() / mass.sum())


def effective_count(diameter_um: FloatArray, weight: FloatArray) -> float:
    """(Σw)²/Σw² of the volume weights: how many equal grounds would know the curve as well (Kish 1965).

    Parameters
    ----------
    diameter_um : ndarray of float64
        Diameters of the grounds or classes, µm, (n,).
    weight : ndarray of float64
        Weight of each ground, (n,).

    Returns
    -------
    float
        (Σw)²/Σw² of the volume weights.
    """
    mass = volumes(diameter_um, weight)
    return float(mass.sum() ** 2 / (mass**2).sum())


@dataclass(frozen=True)
class Curve:
    """A smooth distribution on an even grid of ln d: density per ln d and cumulative share at ``size_um``."""

    size_um: FloatArray
    density: FloatArray
    cumulative: FloatArray


def log_grid(low_um: float = 20.0, high_um: float = 4000.0, step_ln: float = 0.01) -> FloatArray:
    """Sizes on an even grid of ln d.

    Parameters
    ----------
    low_um : float
        Lower end, µm.
    high_um : float
        Upper end, µm.
    step_ln : float
        Step of the grid in ln size.

    Returns
    -------
    ndarray of float64
        Sizes on an even grid of ln d.
    """
    return np.asarray(np.exp(np.arange(np.log(low_um), np.log(high_um), step_ln)), np.float64)


def binned_mass(size_um: FloatArray, diameter_um: FloatArray, mass: FloatArray) -> FloatArray:
    """Mass shared out linearly between the two grid sizes around each ground, (len(size_um),).

    Parameters
    ----------
    size_um : ndarray of float64
        Sizes, µm, (n,).
    diameter_um : ndarray of float64
        Diameters of the grounds or classes, µm, (n,).
    mass : ndarray of float64
        Mass of each size, (n,).

    Returns
    -------
    ndarray of float64
        Mass shared out linearly between the two grid sizes around each ground, (len(size_um),).
    """
    step = np.log(size_um[1] / size_um[0])
    at = np.clip(np.log(diameter_um / size_um[0]) / step, 0, len(size_um) - 1.001)
    low = at.astype(np.int64)
    part = at - low
    n = len(size_um)
    below = np.bincount(low, weights=mass * (1 - part), minlength=n)
    return np.asarray(below + np.bincount(low + 1, weights=mass * part, minlength=n), np.float64)


def kernel(step_ln: float, width_ln: float) -> FloatArray:
    """Gaussian weights of a smoothing kernel in ln d, summing to 1.

    Parameters
    ----------
    step_ln : float
        Step of the grid in ln size.
    width_ln : float
        Width of the kernel in ln size.

    Returns
    -------
    ndarray of float64
        Gaussian weights of a smoothing kernel in ln d, summing to 1.
    """
    reach = int(np.ceil(4 * width_ln / step_ln))
    x = np.arange(-reach, reach + 1) * step_ln
    k = np.exp(-0.5 * (x / width_ln) ** 2)
    return np.asarray(k / k.sum())


def kernel_width_ln(m: Moments, count: float) -> float:
    """Kernel width for the drawn curve: Silverman's rule on ln d with the effective count, so that it shows no noise.

    Parameters
    ----------
    m : Moments
        Moments of ln size.
    count : float
        Effective number of grounds.

    Returns
    -------
    float
        Kernel width for the drawn curve, natural logarithm.
    """
    sigma = float(np.log(m.d90_um / m.d10_um)) / 2.563
    return float(np.clip(0.9 * sigma * count**-0.2, SMOOTHING_LN, 0.16))


def smooth_curve(diameter_um: FloatArray, weight: FloatArray, width_ln: float = SMOOTHING_LN) -> Curve:
    """Kernel density in ln d of the volume-weighted distribution.

    Parameters
    ----------
    diameter_um : ndarray of float64
        Diameters of the grounds or classes, µm, (n,).
    weight : ndarray of float64
        Weight of each ground, (n,).
    width_ln : float
        Width of the kernel in ln size.

    Returns
    -------
    Curve
        Kernel density in ln d of the volume-weighted distribution.
    """
    size = log_grid()
    step = float(np.log(size[1] / size[0]))
    binned = binned_mass(size, diameter_um, volumes(diameter_um, weight))
    smooth = np.convolve(binned, kernel(step, width_ln), mode="same")
    smooth /= smooth.sum()
    return Curve(size, smooth / step, np.cumsum(smooth))


def require_some(diameter_um: FloatArray, cut_um: float) -> None:
    """Raise ``InputError`` ``no-grounds`` when nothing lies at or above the cut.

    Parameters
    ----------
    diameter_um : ndarray of float64
        Diameters of the grounds or classes, µm, (n,).
    cut_um : float
        Size below which nothing counts, µm.
    """
    if not (diameter_um >= cut_um).any():
        raise InputError(
            "no-grounds",
            f"No grounds of {cut_um:.0f} µm or more were found.",
            "Spread a pinch of grounds on the card and photograph it closely.",
        )
