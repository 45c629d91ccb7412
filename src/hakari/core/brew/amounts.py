"""Dose, ratio, water and cup: any two give the rest."""

from __future__ import annotations

from dataclasses import dataclass

from hakari.core.brew.brewers import Brewer
from hakari.core.errors import InputError


@dataclass(frozen=True)
class Amounts:
    """What goes in and what comes out, g; ``cup_g`` counts what the grounds keep."""

    dose_g: float
    water_g: float
    cup_g: float

    @property
    def ratio(self) -> float:
        """Water over dose."""
        return self.water_g / self.dose_g


def amounts(
    brewer: Brewer,
    dose_g: float | None,
    ratio: float | None,
    water_g: float | None,
    cup_g: float | None,
) -> Amounts:
    """Return the whole from two of the four; of three, the cup gives way, then the ratio.

    The grounds keep ``held_g_per_g`` of liquid a gram, so cup = water − held · dose.

    Parameters
    ----------
    brewer : Brewer
        The brewer.
    dose_g : float or None
        Coffee, g.
    ratio : float or None
        Grams of water to a gram of coffee.
    water_g : float or None
        Water, g.
    cup_g : float or None
        Mass of the drink, g.

    Returns
    -------
    Amounts
        The whole from two of the four.

    Raises
    ------
    InputError
        ``amounts-missing``, or ``amounts-impossible`` when the grounds would keep it all.
    """
    held = brewer.held_g_per_g
    if dose_g is not None and not dose_g > 0:
        raise InputError(
            "dose-not-positive", f"A dose of {dose_g:g} g cannot be brewed.",
            "Type the weight of dry coffee in grams, for example 17.", field="dose_g",
        )  # fmt: skip
    dose, water = (
        _of_dose(dose_g, ratio, water_g, cup_g, held)
        if dose_g is not None
        else _of_the_rest(ratio, water_g, cup_g, held)
    )
    if dose is None or water is None:
        raise InputError(
            "amounts-missing", "Two of dose, ratio, water and cup are needed.", "Type the dose and the ratio, for example.",
            field="dose_g",
        )  # fmt: skip
    if dose <= 0 or water <= held * dose:
        raise InputError(
            "amounts-impossible", f"The grounds would keep all of the water: they hold about {held:g} g a gram.",
            "Use more water or less coffee.", field="water_g",
        )  # fmt: skip
    return Amounts(dose, water, water - held * dose)


def _of_dose(
    dose_g: float, ratio: float | None, water_g: float | None, cup_g: float | None, held: float
) -> tuple[float, float | None]:
    if water_g is not None:
        return dose_g, water_g
    if ratio is not None:
        return dose_g, ratio * dose_g
    return dose_g, cup_g + held * dose_g if cup_g is not None else None


def _of_the_rest(
    ratio: float | None, water_g: float | None, cup_g: float | None, held: float
) -> tuple[float | None, float | None]:
    """Return dose and water where the dose is not known; a ratio that the grounds would drink up gives a negative dose."""
    if ratio is not None and ratio > 0:
        if water_g is not None:
            return water_g / ratio, water_g
        if cup_g is not None:
            dose = cup_g / (ratio - held) if ratio > held else -1.0
            return dose, ratio * dose
    elif water_g is not None and cup_g is not None:
        return (water_g - cup_g) / held, water_g
    return None, None
