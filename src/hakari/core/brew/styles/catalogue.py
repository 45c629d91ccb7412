"""All styles, and a plan's draft by one of them, within its limits."""

from __future__ import annotations

from collections.abc import Mapping

from hakari.core.brew.brewers import Brewer
from hakari.core.brew.styles.drip_styles import DRIP_STYLES
from hakari.core.brew.styles.steep import STEEP_STYLES
from hakari.core.brew.styles.style import Draft, Order, RecipeStyle
from hakari.core.errors import InputError

STYLES = {s.name: s for s in (*DRIP_STYLES, *STEEP_STYLES)}


def style_of(name: str) -> RecipeStyle:
    """Return a style by its name; ``InputError`` ``unknown-style``.

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
        raise InputError("unknown-style", f"There is no style “{name}”.", f"Use {', '.join(STYLES)}.", field="school")
    return STYLES[name]


def draft(style: RecipeStyle, dose_g: float, water_g: float, brewer: Brewer, options: Mapping[str, str]) -> Draft:
    """Pours, actions and the rest by a style.

    Parameters
    ----------
    style : RecipeStyle
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
        Pours, actions and the rest by a style.

    Raises
    ------
    InputError
        ``brewer-not-for-style``, ``option-unknown``, ``option-out-of-range``, ``ratio-out-of-range`` or
        ``too-little-water``.
    """
    if brewer.name not in style.brewers and brewer.way != "drip":
        raise InputError(
            "brewer-not-for-style", f"“{style.label}” is not for a {brewer.label}.",
            f"Use {', '.join(style.brewers)}.", field="brewer",
        )  # fmt: skip
    ratio = water_g / dose_g if dose_g > 0 else 0.0
    low, high = 0.8 * style.ratios[0], 1.25 * style.ratios[1]
    if not low <= ratio <= high:
        raise InputError(
            "ratio-out-of-range", f"“{style.label}” is made for ratios of 1:{low:.0f} to 1:{high:.0f}, not 1:{ratio:.1f}.",
            "Change the dose or the water.", field="water_g",
        )  # fmt: skip
    chosen = {o.name: o.chosen(options.get(o.name, o.usual)) for o in style.options}
    made = style.build(Order(dose_g, water_g, brewer, chosen))
    if any(p.water_g <= 0 for p in made.pours):
        raise InputError(
            "too-little-water", f"There is too little water for the pours of “{style.label}”.",
            "Use more water, or another style.", field="water_g",
        )  # fmt: skip
    return made
