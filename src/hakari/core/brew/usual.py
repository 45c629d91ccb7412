"""Values that are possible but unusual: worth one question before they are used."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from hakari.core.brew.brewers import Brewer
from hakari.core.brew.styles.style import RecipeStyle

DOSE_SLACK = 1.25
HOT_C, USUAL_HOT_C, USUAL_COLD_C = 60.0, (75.0, 100.0), (1.0, 30.0)


@dataclass(frozen=True)
class Unlikely:
    """A value of a field, with the range that it usually lies in, in the field's own unit, and why it is asked about.

    ``before-last-pour`` is a bare bed before ``low``, the end of the plan's last pour: it may have been poured sooner.
    """

    field: str
    value: float
    low: float
    high: float
    why: Literal["unusual", "before-last-pour"] = "unusual"


def outside(field: str, value: float | None, low: float, high: float) -> Unlikely | None:
    """Return the value where it is outside its usual range; ``None`` where it is inside or not known.

    Parameters
    ----------
    field : str
        What an error is attached to.
    value : float or None
        The value; ``None`` where it is not known.
    low : float
        Lower end of the usual range.
    high : float
        Upper end of the usual range.

    Returns
    -------
    Unlikely or None
        The value where it is outside its usual range.
    """
    return None if value is None or low <= value <= high else Unlikely(field, value, low, high)


def unlikely_amounts(style: RecipeStyle, brewer: Brewer, dose_g: float, ratio: float, water_c: float) -> list[Unlikely]:
    """Amounts of a plan that are possible but unusual for its style and brewer.

    Parameters
    ----------
    style : RecipeStyle
        The style, with its doses, ratios and temperature.
    brewer : Brewer
        The brewer, with its doses.
    dose_g : float
        Coffee, g.
    ratio : float
        Grams of water to a gram of coffee.
    water_c : float
        Temperature of the water, °C.

    Returns
    -------
    list of Unlikely
        Each with its usual range.
    """
    low, high = max(brewer.dose_g[0], style.dose_g[0]), min(brewer.dose_g[1], style.dose_g[1])
    heat = USUAL_HOT_C if style.water_c > HOT_C else USUAL_COLD_C
    dose = outside("dose_g", dose_g, low / DOSE_SLACK, high * DOSE_SLACK) if low < high else None
    found = [
        Unlikely(dose.field, dose.value, low, high) if dose else None,
        outside("ratio", ratio, *style.ratios),
        outside("water_c", water_c, *heat),
    ]
    return [unlikely for unlikely in found if unlikely is not None]
