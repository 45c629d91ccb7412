"""Brewers in which the water moves itself: vacuum pot and percolator."""

from __future__ import annotations

from hakari.core.brew.schedule import Pour, Steep
from hakari.core.brew.styles.style import Draft, Order, lasts


def vacuum(order: Order) -> Draft:
    """Water driven up, stirred, and drawn down through cloth as the lower bulb cools.

    Parameters
    ----------
    order : Order
        Dose, water, brewer and options.

    Returns
    -------
    Draft
        Water driven up, stirred, and drawn down through cloth as the lower bulb cools.
    """
    seconds = float(order.options["seconds"])
    fill = lasts(order.water_g, 20.0)
    return Draft(
        (Pour(order.water_g, fill, 0.0),), steep=Steep(fill + seconds, 15.0, 40.0, "draw-down"),
        by_hand=("Glass under heat and vacuum: dry it outside, never heat it empty, let the makers' instructions lead.",),
    )  # fmt: skip


def percolator(order: Order) -> Draft:
    """Water lifted over the grounds again and again: as good as one stirred tank.

    Parameters
    ----------
    order : Order
        Dose, water, brewer and options.

    Returns
    -------
    Draft
        Water lifted over the grounds again and again.
    """
    minutes = float(order.options["minutes"])
    fill = lasts(order.water_g, 40.0)
    return Draft(
        (Pour(order.water_g, fill, 0.0),), steep=Steep(round(60 * minutes), 60.0, 10.0, "off-heat"),
        by_hand=("Take it off the heat when the time is up; the pot and its steam scald.",),
    )  # fmt: skip
