"""All styles, and a plan's draft by one of them, within its limits."""

from __future__ import annotations

from collections.abc import Mapping

from hakari.core.brew.brewers import Brewer
from hakari.core.brew.styles.drip import DRIP_SCHOOLS
from hakari.core.brew.styles.steep import STEEP_SCHOOLS
from hakari.core.brew.styles.style import Draft, Order, RecipeStyle
from hakari.core.errors import InputError

STYLES = {s.name: s for s in (*DRIP_SCHOOLS, *STEEP_SCHOOLS)}


def style_of(name: str) -> RecipeStyle:
    """Return a style by its name; ``InputError`` ``unknown-school``.

    Parameters
    ----------
    name : str
        Its name.

    Returns
    -------
    RecipeStyle
        A style by its name.
    """
    if name not in STYLES:
        raise InputError("unknown-school", f"There is no school “{name}”.", f"Use {', '.join(STYLES)}.", field="school")
    return STYLES[name]


def draft(school: RecipeStyle, dose_g: float, water_g: float, brewer: Brewer, options: Mapping[str, str]) -> Draft:
    """Pours, actions and the rest by a school.

    Parameters
    ----------
    school : RecipeStyle
        The style.
    dose_g : float
        Coffee, g.
    water_g : float
        Water, g.
    brewer : Brewer
        The brewer.
    options : Mapping[str, str]
        The style's options by name.

    Returns
    -------
    Draft
        Pours, actions and the rest by a school.

    Raises
    ------
    InputError
        ``brewer-not-for-school``, ``option-unknown``, ``option-out-of-range``, ``ratio-out-of-range`` or
        ``too-little-water``.
    """
    if brewer.name not in school.brewers and brewer.way != "drip":
        raise InputError(
            "brewer-not-for-school", f"“{school.label}” is not for a {brewer.label}.",
            f"Use {', '.join(school.brewers)}.", field="brewer",
        )  # fmt: skip
    ratio = water_g / dose_g if dose_g > 0 else 0.0
    low, high = 0.8 * school.ratios[0], 1.25 * school.ratios[1]
    if not low <= ratio <= high:
        raise InputError(
            "ratio-out-of-range", f"“{school.label}” is made for ratios of 1:{low:.0f} to 1:{high:.0f}, not 1:{ratio:.1f}.",
            "Change the dose or the water.", field="water_g",
        )  # fmt: skip
    chosen = {o.name: o.chosen(options.get(o.name, o.usual)) for o in school.options}
    made = school.build(Order(dose_g, water_g, brewer, chosen))
    if any(p.water_g <= 0 for p in made.pours):
        raise InputError(
            "too-little-water", f"There is too little water for the pours of “{school.label}”.",
            "Use more water, or another school.", field="water_g",
        )  # fmt: skip
    return made
