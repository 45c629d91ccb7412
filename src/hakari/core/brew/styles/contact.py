"""How long coffee and water are together in a steep, and how it ends."""

from __future__ import annotations

from hakari.core.brew.schedule import PressForce, Steep
from hakari.core.brew.styles.style import Order, lasts

FILL_G_S = 16.0


FORCES: dict[str, PressForce] = {"gentle": "gentle", "firm": "firm", "hard": "hard"}


def pressed(order: Order, seconds: float, stir_s: float) -> Steep:
    """Return a steep that a plunger ends, as it was chosen."""
    chosen = order.options
    return Steep(
        seconds, stir_s, float(chosen["press"]), force=FORCES[chosen["force"]], decant=chosen["after"] == "decant"
    )


def chosen_seconds(order: Order) -> float:
    """Return the time that was chosen in minutes, in whole seconds."""
    return float(round(60 * float(order.options["minutes"])))


def fill_seconds(water_g: float, seconds: float) -> float:
    """Return how long the one pour of a steep lasts: it is in before the steep ends."""
    return min(lasts(water_g, FILL_G_S), seconds)


def contact_seconds(chosen: float, fill: float, stir_s: float) -> tuple[float, tuple[str, ...]]:
    """Return when the press begins, s, and what to know where stirring outlasts the chosen time."""
    if stir_s and fill + stir_s > chosen:
        return fill + stir_s, ("The press waits until the stirring is done.",)
    return chosen, ()


FRIDGE_C, BENCH_C = 5.0, 21.0
