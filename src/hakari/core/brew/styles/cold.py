"""Concentrates, cold steeps and cold drips."""

from __future__ import annotations

from hakari.core.brew.schedule import Pour, Steep
from hakari.core.brew.styles.contact import BENCH_C, FORCES, FRIDGE_C, contact_seconds
from hakari.core.brew.styles.style import Draft, Order, lasts


def concentrate(order: Order) -> Draft:
    """Build a plan of a very short ratio, a minute or two, a slow press, then hot water in small steps to taste.

    Parameters
    ----------
    order : Order
        Dose, water, brewer and options.

    Returns
    -------
    Draft
        A plan of a very short ratio, a minute or two, a slow press, then hot water in small steps to taste.
    """
    ratio = float(order.options["short"])
    brewed = min(ratio * order.dose_g, order.brewer.capacity_g, order.water_g)
    chosen, stir = float(order.options["seconds"]), float(order.options["stir"])
    fill = min(lasts(brewed, 12.0), chosen)
    seconds, late = contact_seconds(chosen, fill, stir)
    return Draft(
        (Pour(brewed, fill, 0.0),),
        steep=Steep(seconds, stir, float(order.options["press"]), force=FORCES[order.options["force"]]),
        dilution_g=max(order.water_g - brewed, 0.0), held_back_g=float(order.options["back"]),
        by_hand=("Press on a steady jug or cup that bears it; stop when it hisses.", *late),
    )  # fmt: skip


def cold_steep(order: Order) -> Draft:
    """Hours in cold water.

    Parameters
    ----------
    order : Order
        Dose, water, brewer and options.

    Returns
    -------
    Draft
        Hours in cold water.
    """
    hours = float(order.options["hours"])
    room = FRIDGE_C if order.options["where"] == "fridge" else BENCH_C
    fill = lasts(order.water_g, 20.0)
    return Draft(
        (Pour(order.water_g, fill, 0.0),), steep=Steep(3600 * hours, 15.0, 300.0, "draw-off"), room_c=room,
        by_hand=("Clean jar, clean hands; keep it cold once it is drawn off, and drink it within a few days.",),
    )  # fmt: skip


def cold_drip(order: Order) -> Draft:
    """Build a plan of drops over hours.

    Parameters
    ----------
    order : Order
        Dose, water, brewer and options.

    Returns
    -------
    Draft
        A plan of drops over hours.
    """
    hours = float(order.options["hours"])
    return Draft(
        (Pour(order.water_g, 3600 * hours, 0.0, strength="soft"),),
        by_hand=("Lay a paper on the bed so that the drops spread.", "Keep it cold once it is drawn off."),
    )  # fmt: skip
