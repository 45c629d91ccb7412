"""A brew as planned: dose, heat, and pours that start at a time or wait for an event."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from hakari.core.brew.brewers import Brewer, Material
from hakari.core.brew.filters import filter_of
from hakari.core.errors import InputError

Strength = Literal["soft", "normal", "hard"]
Where = Literal["centre", "spiral", "edge"]
Event = Literal["level-back", "half", "drained"]
# How a steep comes to its end: a plunger, a broken and skimmed crust, a tap or strainer, a vacuum, or the heat taken away.
Ending = Literal["press", "skim", "draw-off", "draw-down", "off-heat"]
PressForce = Literal["gentle", "firm", "hard"]
# "stir-back" is one stir each way, which stops the water from turning.
ActionKind = Literal["swirl", "stir", "stir-back", "press", "open-valve", "close-valve"]
STIRRINGS: tuple[ActionKind, ...] = ("swirl", "stir", "stir-back")
ROOM_C = 22.0
Roast = Literal["light", "medium", "medium-dark", "dark"]


@dataclass(frozen=True)
class Pour:
    """One pour; starts at ``start_s``, or when ``start_when`` has come after the pour before it.

    ``where`` is for the hand: the prediction does not tell the middle of the bed from its edge.
    """

    water_g: float
    duration_s: float
    start_s: float | None = None
    start_when: Event | None = None
    strength: Strength = "normal"
    where: Where = "spiral"


@dataclass(frozen=True)
class Action:
    """Something done to the bed at a time."""

    at_s: float
    do: ActionKind


@dataclass(frozen=True)
class Heat:
    """What takes heat from the water: the brewer's material, whether it was preheated, whether a lid is on."""

    material: Material = "plastic"
    preheated: bool = True
    lid: bool = False


@dataclass(frozen=True)
class Steep:
    """A steep: contact from the first pour until the press or the pouring off begins, stirring in it, and the press.

    ``stir_s`` is how long it is stirred in all; ``press_s`` how long its ``ending`` takes, and ``force`` how hard a plunger
    is pressed. With ``decant`` all of it is poured off at once after that.
    """

    seconds: float
    stir_s: float = 0.0
    press_s: float = 20.0
    ending: Ending = "press"
    force: PressForce = "gentle"
    decant: bool = False


@dataclass(frozen=True)
class Plan:
    """Everything that a brew is predicted from, but for the grind.

    With ``steep`` all the water stays with the grounds until the press. ``room_c`` is the temperature around it.
    """

    brewer: Brewer
    dose_g: float
    water_c: float
    roast: Roast
    pours: tuple[Pour, ...]
    actions: tuple[Action, ...] = ()
    heat: Heat = Heat()
    filter_name: str = "paper"
    steep: Steep | None = None
    room_c: float = ROOM_C

    @property
    def water_g(self) -> float:
        """Water poured in all."""
        return sum(p.water_g for p in self.pours)

    @property
    def ratio(self) -> float:
        """Water poured over dose."""
        return self.water_g / self.dose_g

    @property
    def is_pressed(self) -> bool:
        """Whether a person ends the contact: a steep that is pressed or poured off, not one that drains through a valve."""
        return self.steep is not None and self.brewer.way != "valve"

    def with_water(self, water_g: float) -> Plan:
        """Return the same plan with all pours scaled to another total; the bloom keeps its mass.

        Parameters
        ----------
        water_g : float
            Water, g.

        Returns
        -------
        Plan
            The same plan with all pours scaled to another total.
        """
        first, rest = self.pours[0], self.pours[1:]
        if not rest:
            return replace(self, pours=(replace(first, water_g=water_g),))
        factor = (water_g - first.water_g) / (self.water_g - first.water_g)
        return replace(self, pours=(first, *(replace(p, water_g=p.water_g * factor) for p in rest)))


MOST_DOSE_G = 400
LATEST_POUR_S = 7200.0
LONGEST_STEEP_S, LONGEST_DRIP_S = 48 * 3600.0, 24 * 3600.0


def _check_steep(plan: Plan) -> None:
    steep = plan.steep
    if steep is None:
        if plan.brewer.way == "steep":
            raise InputError(
                "steep-missing", f"A {plan.brewer.label} steeps.", "Say how long, with steep.", field="steep"
            )
        return
    if not (
        5 <= steep.seconds <= LONGEST_STEEP_S and 0 <= steep.stir_s <= steep.seconds and 1 <= steep.press_s <= 3600
    ):
        raise InputError(
            "steep-malformed", "A steep takes 5 seconds to 48 hours, is stirred within it, and pressed in 1 s to an hour.",
            "Check seconds, stir_s and press_s.", field="steep",
        )  # fmt: skip


def check_plan(plan: Plan) -> None:
    """Refuse a plan that cannot be brewed.

    Parameters
    ----------
    plan : Plan
        The plan.

    Raises
    ------
    InputError
        ``dose-not-positive``, ``dose-out-of-range``, ``water-temperature``, ``no-pours``, ``pour-malformed``,
        ``pours-overlap``, ``too-much-water``.
    """
    if not plan.dose_g > 0:
        raise InputError(
            "dose-not-positive", f"A dose of {plan.dose_g:g} g cannot be brewed.",
            "Type the weight of dry coffee in grams, for example 17.", field="dose_g",
        )  # fmt: skip
    if not 3 <= plan.dose_g <= MOST_DOSE_G:
        raise InputError(
            "dose-out-of-range", f"A dose of {plan.dose_g:g} g is outside what is predicted.",
            f"Use 3 to {MOST_DOSE_G} g.", field="dose_g",
        )  # fmt: skip
    if plan.brewer.way == "advice":
        raise InputError(
            "flow-not-predicted", f"Flow under pressure is not predicted, so there is no forecast for a {plan.brewer.label}.",
            "Its window of grind and advice on the cup are still given; plan another method here.", field="brewer",
        )  # fmt: skip
    filter_of(plan.filter_name)
    _check_steep(plan)
    if not 1 <= plan.water_c <= 100:
        raise InputError(
            "water-temperature", f"Water at {plan.water_c:g} °C cannot be poured: it must be 1–100 °C.",
            "Type the kettle's temperature, for example 93.", field="water_c",
        )  # fmt: skip
    if not plan.pours:
        raise InputError("no-pours", "The plan has no pours.", "Add at least one pour.", field="pours")
    ends = 0.0
    for i, pour in enumerate(plan.pours):
        where = f"pours.{i}"
        timed = pour.start_s is not None
        if timed == (pour.start_when is not None):
            raise InputError(
                "pour-malformed", f"Pour {i + 1} needs either a start time or an event to wait for.",
                "Give start_s, or start_when.", field=where,
            )  # fmt: skip
        if pour.start_s is not None and not 0 <= pour.start_s <= LATEST_POUR_S:
            raise InputError(
                "pour-malformed", f"Pour {i + 1} starts at {pour.start_s:g} s: a pour starts within two hours.",
                "Check start_s.", field=where,
            )  # fmt: skip
        if not (0 < pour.water_g <= 3000 and 0 < pour.duration_s <= LONGEST_DRIP_S):
            raise InputError(
                "pour-malformed", f"Pour {i + 1} needs some water and some time.",
                "Give water_g and duration_s above nothing.", field=where,
            )  # fmt: skip
        if pour.start_s is not None:
            if pour.start_s < ends - 1e-6:
                raise InputError(
                    "pours-overlap", f"Pour {i + 1} starts before the one before it has ended.",
                    "Start it later, or pour the one before it faster.", field=where,
                )  # fmt: skip
            ends = pour.start_s + pour.duration_s
    if plan.ratio > 60 or plan.ratio < 1:
        raise InputError(
            "too-much-water", f"{plan.water_g:g} g of water on {plan.dose_g:g} g of coffee is no brew.",
            "Use between 1 and 60 g of water per gram.", field="pours",
        )  # fmt: skip
