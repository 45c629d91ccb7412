"""What stands between the formulas and a user's own beds: factors, how well they are known, and from how many brews."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from scipy.stats import t as student

from hakari.core.flow.bed import BED_FACTOR
from hakari.core.photo.result import FloatArray

Factor = Literal["bed", "filter", "fines"]
FACTORS: tuple[Factor, ...] = ("bed", "filter", "fines")
# Spread of kitchens about the starting points, as standard deviations of logarithms. That of the fines is the photo's own.
BED_LN_SD, FILTER_LN_SD, LEAST_FINES_LN_SD = 0.28, 0.25, 0.12
# Spread of a time from brew to brew that no factor explains: where it starts, and for how many brews that counts.
BREW_LN_SD, BREW_SD_WEIGHT = 0.045, 5.0


def prior_covariance(fines_relative_sd: float) -> FloatArray:
    """Covariance of the factors' logarithms before any brew, shape (3, 3); ``fines_relative_sd`` as the grind knows it."""
    return np.diag(np.square([BED_LN_SD, FILTER_LN_SD, max(LEAST_FINES_LN_SD, fines_relative_sd)]))


@dataclass(frozen=True)
class FlowFactors:
    """Multipliers for the flow model.

    ``bed_factor`` is β of the permeability, ``filter_factor`` multiplies the resistance of paper and fines on it,
    ``fines_factor`` the share of fines that the photo told. ``ln_covariance`` is that of their logarithms, shape (3, 3),
    ``None`` before any brew; ``brew_ln_sd`` the spread of a time from brew to brew, known from ``brew_freedom`` degrees of
    freedom.
    """

    bed_factor: float = BED_FACTOR
    filter_factor: float = 1.0
    fines_factor: float = 1.0
    fitted_on_brews: int = 0
    ln_covariance: FloatArray | None = None
    brew_ln_sd: float = BREW_LN_SD
    brew_freedom: float = BREW_SD_WEIGHT

    @property
    def ln(self) -> FloatArray:
        """Logarithms against the starting points, in the order of ``FACTORS``, shape (3,)."""
        return np.log([self.bed_factor / BED_FACTOR, self.filter_factor, self.fines_factor])

    def moved(self, by_ln: FloatArray) -> FlowFactors:
        """The same with the logarithms moved, shape (3,)."""
        bed, paper, fines = np.exp(self.ln + by_ln)
        return replace(self, bed_factor=BED_FACTOR * float(bed), filter_factor=float(paper), fines_factor=float(fines))

    def covariance(self, fines_relative_sd: float) -> FloatArray:
        """Covariance of the logarithms of the factors for a grind."""
        return prior_covariance(fines_relative_sd) if self.ln_covariance is None else self.ln_covariance

    def half_width_ln(self, by_factors_ln_var: float) -> float:
        """Half of the 95 % interval of ln time: the factors' part is normal, the brew's own a Student-t of its freedom."""
        if self.fitted_on_brews == 0:
            return float(1.96 * np.sqrt(by_factors_ln_var + self.brew_ln_sd**2))
        t = float(student.ppf(0.975, self.brew_freedom))
        return float(np.sqrt(1.96**2 * by_factors_ln_var + (t * self.brew_ln_sd) ** 2))
