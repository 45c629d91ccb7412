"""What both picture makers share of a grind: its fine mode, and how many grounds of either mode cover a well."""

from __future__ import annotations

import numpy as np

from hakari.core.arrays import FloatArray

# The fine mode, lognormal by number.
FINE_MEDIAN_UM, FINE_SIGMA = 55.0, 0.35


def number_median_um(median_um: float, sigma_ln: float) -> float:
    """Number-weighted median of a lognormal with this volume-weighted one (Hatch and Choate 1929)."""
    return float(median_um * np.exp(-3 * sigma_ln**2))


def filled(coarse_um: FloatArray, fine_um: FloatArray, fines_share: float, area_mm2: float, most: int) -> FloatArray:
    """Diameters, large first, of as many grounds as cover an area, the fine mode holding its share of the mass.

    ``coarse_um`` and ``fine_um`` are drawn diameters, more than are needed; ``most`` bounds the number of grounds.
    """
    coarse_area = np.cumsum(np.pi / 4 * coarse_um**2) / 1e6
    fine_mass = np.cumsum(fine_um**3)
    for n in (int(np.searchsorted(coarse_area, area_mm2 * share)) for share in np.arange(1.0, 0.01, -0.02)):
        mass = float((coarse_um[:n] ** 3).sum()) * fines_share / (1 - fines_share)
        k = int(np.searchsorted(fine_mass, mass))
        area = coarse_area[max(n - 1, 0)] + float((np.pi / 4 * fine_um[:k] ** 2).sum()) / 1e6
        if area <= area_mm2 and n + k <= most:
            break
    return np.sort(np.concatenate([coarse_um[:n], fine_um[:k]]))[::-1]
