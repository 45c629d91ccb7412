"""The packed bed: porosity, permeability and depth from the grind (Kozeny–Carman; Carman 1937)."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from hakari.core.brew.brewers import Brewer
from hakari.core.psd.distribution import CUT_UM
from hakari.core.psd.grind import Grind

ENVELOPE_DENSITY_KG_M3 = 650.0
SHAPE_FACTOR = 0.65
# Real beds are several times tighter than the formula.
BETA = 0.1183
RESIDUAL_SATURATION = 0.70


@dataclass(frozen=True)
class Bed:
    """A dry bed at rest in its brewer."""

    porosity: float
    permeability_m2: float
    depth_m: float
    bulk_m3: float
    fines_kg: float

    @property
    def pore_g(self) -> float:
        """Water that fills the pores, g."""
        return self.porosity * self.bulk_m3 * 1e6


def porosity(span: float) -> float:
    """Share of voids; wide grinds pack tighter: 0.46 − 0.045 ln(1 + span).

    Parameters
    ----------
    span : float
        (D90 − D10)/D50; ``None`` where unknown.

    Returns
    -------
    float
        Share of voids.
    """
    return 0.46 - 0.045 * float(np.log1p(span))


def make_bed(grind: Grind, brewer: Brewer, dose_g: float, bed_factor: float = 1.0) -> Bed:
    """Lay a dose in a brewer.

    ``BETA`` says how much tighter a real bed is than the formula; ``bed_factor``, against it, is fitted to a user's brews.

    Parameters
    ----------
    grind : Grind
        Size classes of the whole grind.
    brewer : Brewer
        The brewer.
    dose_g : float
        Coffee, g.
    bed_factor : float
        Factor on the bed's permeability, 1 for a usual one.

    Returns
    -------
    Bed
        The bed.
    """
    eps = porosity(grind.span)
    d = SHAPE_FACTOR * grind.d32_um * 1e-6
    k = BETA * bed_factor * eps**3 * d * d / (180 * (1 - eps) ** 2)
    bulk = dose_g * 1e-3 / ENVELOPE_DENSITY_KG_M3 / (1 - eps)
    return Bed(eps, k, brewer.height_m(bulk), bulk, grind.below(CUT_UM) * dose_g * 1e-3)


def viscosity_pa_s(celsius: float) -> float:
    """Viscosity of water by Vogel's equation.

    Parameters
    ----------
    celsius : float
        Temperature, °C.

    Returns
    -------
    float
        Viscosity of water by Vogel's equation, Pa s.
    """
    return math.exp(-3.7188 + 578.919 / (celsius + 273.15 - 137.546)) * 1e-3
