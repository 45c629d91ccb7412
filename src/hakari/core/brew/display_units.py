"""How masses and temperatures are written for people; everything is computed in grams and °C."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

GRAMS_PER_OUNCE = 28.349523125  # avoirdupois, exact


@dataclass(frozen=True)
class DisplayUnits:
    """The units a person reads: grams or ounces, °C or °F."""

    mass: Literal["g", "oz"] = "g"
    temperature: Literal["C", "F"] = "C"

    def masses(self, *grams: float, digits: int | None = 0, between: str = "") -> str:
        """Masses with one unit after the last.

        Parameters
        ----------
        *grams : float
            The masses, g.
        digits : int or None
            Decimals in grams; ``None`` drops zeros, as in "17 g" and "17.5 g". Ounces have two more, or as many as a
            hundredth of the smallest needs.
        between : str
            What joins them, for example " to ".

        Returns
        -------
        str
            For example "17 g", "59 to 66 g", "0.6 oz".
        """
        if self.mass == "oz":
            places = 2 if min(abs(g) for g in grams) < 5 * GRAMS_PER_OUNCE else 1
            texts = [f"{g / GRAMS_PER_OUNCE:.{places}f}" for g in grams]
        else:
            texts = [f"{round(g, 2):g}" if digits is None else f"{g:.{digits}f}" for g in grams]
        return f"{between.join(texts)} {self.mass}"

    def heat(self, celsius: float) -> str:
        """Temperature given in °C, rounded to a degree: "93 °C" or "199 °F".

        Parameters
        ----------
        celsius : float
            Temperature, °C.

        Returns
        -------
        str
            Temperature given in °C, rounded to a degree.
        """
        return f"{celsius if self.temperature == 'C' else 32 + 1.8 * celsius:.0f} °{self.temperature}"

    def heat_difference(self, kelvin: float) -> str:
        """Difference of two temperatures, rounded to a degree: "3 °C" or "5 °F".

        Parameters
        ----------
        kelvin : float
            Difference of two temperatures, K.

        Returns
        -------
        str
            Difference of two temperatures, rounded to a degree.
        """
        return f"{kelvin * (1.0 if self.temperature == 'C' else 1.8):.0f} °{self.temperature}"
