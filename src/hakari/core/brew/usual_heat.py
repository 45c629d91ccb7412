"""The heat of the water that a roast usually wants, by the style it is brewed in."""

from __future__ import annotations

from hakari.core.brew.schedule import Roast
from hakari.core.brew.styles.style import RecipeStyle
from hakari.core.brew.usual import HOT_C

# Against a medium roast, °C: light ones want it hotter, dark ones cooler. Opinions differ; a starting point.
BY_ROAST_C: dict[Roast, float] = {"light": 3.0, "medium": 0.0, "medium-dark": -3.0, "dark": -6.0}
LEAST_C = 3.0  # nobody tastes less
# Heat that nobody sets by a kettle.
NOT_BY_KETTLE = ("the machine's own", "the pot's own burner", "the pot's own heat", "none")


def usual_heat_c(style: RecipeStyle, roast: Roast) -> float | None:
    """Return the usual temperature of the water.

    Parameters
    ----------
    style : RecipeStyle
        The style, whose own temperature is for a medium roast.
    roast : Roast
        How dark the coffee is roasted.

    Returns
    -------
    float or None
        Temperature, °C; ``None`` where the kettle does not decide it, or it is brewed cold.
    """
    if style.kettle in NOT_BY_KETTLE or style.water_c < HOT_C:
        return None
    return style.water_c + BY_ROAST_C[roast]
