"""What stands between the formulas and a user's own beds: factors, how well they are known, and from how many brews."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from scipy.special import stdtrit

from hakari.core.arrays import FloatArray

Factor = Literal["bed", "filter", "fines"]
FACTORS: tuple[Factor, ...] = ("bed", "filter", "fines")
# Spread of kitchens about the starting points, as standard deviations of logarithms. That of the fines is the photo's own.
BED_LN_SD, FILTER_LN_SD, LEAST_FINES_LN_SD = 0.28, 0.25, 0.12
# From brew to brew the bed packs differently and the pinch that was photographed has its own fines: standard deviations of ln
# factors; and of ln time, the hand. A fit learns one scale for all three, which starts at 1 and counts for so many brews.
BREW_LN_SD = np.array([0.06, 0.03, 0.08])
HAND_LN_SD = 0.015
BREW_SCALE_WEIGHT = 5.0


def prior_covariance(fines_relative_sd: float) -> FloatArray:
    """Covariance of the factors' logarithms before any brew, shape (3, 3); ``fines_relative_sd`` as the grind knows it.

    Parameters
    ----------
    fines_relative_sd : float
        Relative standard deviation of the share of fines.

    Returns
    -------
    ndarray of float64
        Covariance of the factors' logarithms before any brew, shape (3, 3).
    """
    return np.diag(np.square([BED_LN_SD, FILTER_LN_SD, max(LEAST_FINES_LN_SD, fines_relative_sd)]))


def brew_variance(slopes: FloatArray) -> FloatArray:
    """Variance of ln time from brew to brew, for slopes of ln time against the ln factors, shape (..., 3).

    Parameters
    ----------
    slopes : ndarray of float64
        Slope of ln time against each ln factor, (3,).

    Returns
    -------
    ndarray of float64
        Variance of ln time from brew to brew, for slopes of ln time against the ln factors, shape (..., 3).
    """
    return np.asarray(((slopes * BREW_LN_SD) ** 2).sum(axis=-1) + HAND_LN_SD**2)


@dataclass(frozen=True)
class FlowFactors:
    """Multipliers for the flow model.

    ``bed_factor`` multiplies the permeability of the bed, ``filter_factor`` the resistance of paper and fines on it,
    ``fines_factor`` the share of fines that the photo told. ``ln_covariance`` is that of their logarithms, shape (3, 3),
    ``None`` before any brew; ``brew_scale`` is how far brews of one kitchen come out apart against ``brew_variance``, known
    from ``brew_freedom`` degrees of freedom.
    """

    bed_factor: float = 1.0
    filter_factor: float = 1.0
    fines_factor: float = 1.0
    fitted_on_brews: int = 0
    ln_covariance: FloatArray | None = None
    brew_scale: float = 1.0
    brew_freedom: float = BREW_SCALE_WEIGHT

    @property
    def ln(self) -> FloatArray:
        """Logarithms against the starting points, in the order of ``FACTORS``, shape (3,)."""
        return np.log([self.bed_factor, self.filter_factor, self.fines_factor])

    def moved(self, by_ln: FloatArray) -> FlowFactors:
        """Return the same with the logarithms moved, shape (3,).

        Parameters
        ----------
        by_ln : ndarray of float64
            What to add to the logarithms, (3,).

        Returns
        -------
        FlowFactors
            The same with the logarithms moved, shape (3,).
        """
        bed, paper, fines = np.exp(self.ln + by_ln)
        return replace(self, bed_factor=float(bed), filter_factor=float(paper), fines_factor=float(fines))

    def covariance(self, fines_relative_sd: float) -> FloatArray:
        """Covariance of the logarithms of the factors for a grind.

        Parameters
        ----------
        fines_relative_sd : float
            Relative standard deviation of the share of fines.

        Returns
        -------
        ndarray of float64
            Covariance of the logarithms of the factors for a grind.
        """
        return prior_covariance(fines_relative_sd) if self.ln_covariance is None else self.ln_covariance

    def half_width_ln(self, slopes: FloatArray, fines_relative_sd: float) -> float:
        """Half of the 95 % interval of ln time: the factors' part is normal, the brew's own a Student-t of its freedom.

        Parameters
        ----------
        slopes : ndarray of float64
            Slope of ln time against each ln factor, (3,).
        fines_relative_sd : float
            Relative standard deviation of the share of fines.

        Returns
        -------
        float
            Half of the 95 % interval of ln time, natural logarithm.
        """
        factors = float(slopes @ self.covariance(fines_relative_sd) @ slopes)
        brew = self.brew_scale**2 * float(brew_variance(slopes))
        t = float(stdtrit(self.brew_freedom, 0.975))
        return math.sqrt(1.96**2 * factors + t**2 * brew)
