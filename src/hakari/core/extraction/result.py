"""What is in the cup."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hakari.core.arrays import FloatArray


@dataclass(frozen=True)
class Extraction:
    """What is in the cup: shares in %, by size class and by thirds of the drink.

    ``ey_percent`` is what is in the cup over the dose, ``ey_total_percent`` counts what stays dissolved with the grounds as
    well. ``evenness`` is the share of the grounds that took part.
    """

    drink_g: float
    tds_percent: float
    ey_percent: float
    ey_total_percent: float
    diameter_um: FloatArray
    ey_by_size_percent: FloatArray
    tds_by_third_percent: tuple[float, float, float]
    evenness: float

    @classmethod
    def of(
        cls,
        dose_g: float,
        drink_water_g: FloatArray,
        cup_solids_g: FloatArray,
        left_dissolved_g: float,
        diameter_um: FloatArray,
        gone: FloatArray,
        share: FloatArray,
        evenness: float,
    ) -> Extraction:
        """From the course of water and solids in the cup, and what each class gave (scaled to what is in the cup).

        Parameters
        ----------
        dose_g : float
            Coffee, g.
        drink_water_g : ndarray of float64
            Water in the drink so far, g, (times,).
        cup_solids_g : ndarray of float64
            Dissolved solids in the drink so far, g, (times,).
        left_dissolved_g : float
            Dissolved solids left in the brewer, g.
        diameter_um : ndarray of float64
            Diameters of the grounds or classes, µm, (n,).
        gone : ndarray of float64
            Share of each pool that is gone, (classes, pools).
        share : ndarray of float64
            Share of mass, 0 to 1.
        evenness : float
            How evenly the water went through the bed, 0 to 1.

        Returns
        -------
        Extraction
            From the course of water and solids in the cup, and what each class gave (scaled to what is in the cup).
        """
        solids, water = float(cup_solids_g[-1]), float(drink_water_g[-1])
        drink = water + solids
        thirds = np.linspace(0, water, 4)
        parts = np.diff(np.interp(thirds, drink_water_g, cup_solids_g))
        t = [float(100 * p / max(q + p, 1e-9)) for p, q in zip(parts, np.diff(thirds), strict=True)]
        scale = solids / max(float(gone @ share) * dose_g, 1e-9)
        return cls(
            drink_g=drink, tds_percent=100 * solids / max(drink, 1e-9), ey_percent=100 * solids / dose_g,
            ey_total_percent=100 * (solids + left_dissolved_g) / dose_g, diameter_um=diameter_um,
            ey_by_size_percent=100 * gone * scale, tds_by_third_percent=(t[0], t[1], t[2]), evenness=evenness,
        )  # fmt: skip
