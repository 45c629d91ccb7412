"""Families of curves in which D^λ is linear in the dial (λ = 1 straight, λ = 0 exponential, λ > 1 flattening).

Each family is a Bayesian linear regression in closed form (Bishop 2006, §3.3): both ends of the dial, a small smooth
departure, and one offset for each further roast that was measured.
"""

from __future__ import annotations

import numpy as np

from hakari.core.arrays import FloatArray

FAMILIES = (0.0, 0.25, 0.5, 0.75, 1.0, 1.25, 1.6, 2.0)
# Before anything is measured: straight is the likeliest, since the gap between burrs grows evenly along the dial.
FAMILY_PRIOR = (0.09, 0.09, 0.09, 0.09, 0.4, 0.09, 0.08, 0.07)
# Sizes at the fine and the coarse end of a dial: median and ln spread. Wide on purpose.
FINE_END_UM, FINE_END_SD = 260.0, 0.42
COARSE_END_UM, COARSE_END_SD = 1400.0, 0.36
DEPARTURES = 3
DEPARTURE_SD = 0.02
ROAST_SD = 0.05


def transform(d: FloatArray, family: float) -> FloatArray:
    """D^λ, or ln D for λ = 0.

    Parameters
    ----------
    d : ndarray of float64
        Sizes, µm, (n,).
    family : float
        Exponent of the family of curves.

    Returns
    -------
    ndarray of float64
        The transformed sizes.
    """
    return np.log(d) if family == 0 else np.asarray(d**family)


def inverse(t: FloatArray, family: float) -> FloatArray:
    """D of a transformed size; NaN where there is none.

    Parameters
    ----------
    t : ndarray of float64
        Times, s, (n,).
    family : float
        Exponent of the family of curves.

    Returns
    -------
    ndarray of float64
        Sizes, µm.
    """
    if family == 0:
        return np.exp(np.minimum(t, 12.0))
    with np.errstate(invalid="ignore"):
        return np.where(t > 0, np.maximum(t, 1e-9) ** (1 / family), np.nan)


def slope(d: FloatArray | float, family: float) -> FloatArray:
    """dt/dlnD, which turns a relative into a transformed error.

    Parameters
    ----------
    d : ndarray of float64 or float
        Sizes, µm, (n,).
    family : float
        Exponent of the family of curves.

    Returns
    -------
    ndarray of float64
        Slope at each size.
    """
    return np.asarray(np.ones_like(np.asarray(d, np.float64)) if family == 0 else family * np.asarray(d) ** family)


def basis(x: FloatArray, family: float, typical_um: float) -> FloatArray:
    """Fine end, coarse end, and smooth departures worth ``DEPARTURE_SD`` of the size; x is 0 at the fine end, then 1.

    Parameters
    ----------
    x : ndarray of float64
        Places along the dial from 0 (fine) to 1 (coarse), (n,).
    family : float
        Exponent of the family of curves.
    typical_um : float
        Typical size, µm.

    Returns
    -------
    ndarray of float64
        Fine end, coarse end, and smooth departures worth ``DEPARTURE_SD`` of the size.
    """
    scale = float(slope(typical_um, family))
    waves = [scale * np.cos(k * np.pi * x) / k for k in range(2, 2 + DEPARTURES)]
    return np.column_stack([1 - x, x, *waves])


def posterior(
    family: float, x: FloatArray, d: FloatArray, ln_sd: FloatArray, roasts: FloatArray
) -> tuple[FloatArray, FloatArray, float]:
    """Mean and covariance of the coefficients, and the log evidence in ln D.

    ``roasts`` (n, r) is 1 where a sample is of a further roast; its coefficients are ln offsets.

    Parameters
    ----------
    family : float
        Exponent of the family of curves.
    x : ndarray of float64
        Places along the dial from 0 (fine) to 1 (coarse), (n,).
    d : ndarray of float64
        Sizes, µm, (n,).
    ln_sd : ndarray of float64
        Standard deviation of ln size.
    roasts : ndarray of float64
        Which further roast each sample has, (n, roasts).

    Returns
    -------
    tuple[ndarray of float64, ndarray of float64, float]
        Mean and covariance of the coefficients, and the log evidence in ln D.
    """
    scale = float(slope(d.mean(), family))
    phi = np.column_stack([basis(x, family, float(d.mean())), scale * roasts])
    mean0 = np.zeros(phi.shape[1])
    ends = np.array([FINE_END_UM, COARSE_END_UM])
    mean0[:2] = transform(ends, family)
    sd0 = np.full(phi.shape[1], DEPARTURE_SD)
    sd0[:2] = slope(ends, family) * [FINE_END_SD, COARSE_END_SD]
    sd0[2 + DEPARTURES :] = ROAST_SD
    noise = slope(d, family) * ln_sd
    s = phi * sd0
    marginal = s @ s.T + np.diag(noise**2)
    residual = transform(d, family) - phi @ mean0
    gain = np.linalg.solve(marginal, phi * sd0**2).T
    mean = mean0 + gain @ residual
    covariance = np.diag(sd0**2) - gain @ (phi * sd0**2)
    _, log_det = np.linalg.slogdet(marginal)
    log_evidence = -0.5 * float(residual @ np.linalg.solve(marginal, residual)) - 0.5 * float(log_det)
    # Densities are compared in ln D, so each family pays its Jacobian.
    log_evidence += float(np.log(slope(d, family)).sum())
    return mean, (covariance + covariance.T) / 2, log_evidence
