"""What a pour style is: a generator of pours with a few real options, its reason, and its honest limits."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from hakari.core.brew.brewers import Brewer
from hakari.core.brew.schedule import Action, Pour, Steep

OptionValue = str


@dataclass(frozen=True)
class Option:
    """A choice that a style really has: values with their words; the first is the usual one."""

    name: str
    label: str
    values: tuple[tuple[OptionValue, str], ...]

    @property
    def usual(self) -> OptionValue:
        """The value where none is chosen."""
        return self.values[0][0]


@dataclass(frozen=True)
class Order:
    """What is brewed: dose, all the water of the drink, the brewer, and a value for each of the style's options."""

    dose_g: float
    water_g: float
    brewer: Brewer
    options: Mapping[str, OptionValue]


@dataclass(frozen=True)
class Draft:
    """Pours and actions of a plan; what of the water is added afterwards or as ice; and what to do that no model sees.

    ``dilution_g`` is hot water added to the drink, ``ice_g`` ice that waits under the brewer and melts.
    """

    pours: tuple[Pour, ...]
    actions: tuple[Action, ...] = ()
    steep: Steep | None = None
    dilution_g: float = 0.0
    ice_g: float = 0.0
    room_c: float | None = None
    by_hand: tuple[str, ...] = ()


@dataclass(frozen=True)
class RecipeStyle:
    """A school: for which brewers (the usual one first), doses, ratios and water, and how it makes a plan.

    ``grind`` says how it wants the grind against the brewer's window: a factor on the window's middle.
    """

    name: str
    label: str
    reason: str
    brewers: tuple[str, ...]
    build: Callable[[Order], Draft]
    options: tuple[Option, ...] = ()
    dose_g: tuple[float, float] = (10.0, 40.0)
    ratio: float = 16.5
    ratios: tuple[float, float] = (10.0, 20.0)
    water_c: float = 93.0
    kettle: str = "any kettle"
    grind: float = 1.0
    method: str | None = None


def even(total_g: float, count: int) -> list[float]:
    """Equal parts.

    Parameters
    ----------
    total_g : float
        Water in all, g.
    count : int
        How many parts.

    Returns
    -------
    list[float]
        Equal parts.
    """
    return [total_g / count] * count


def bloom_of(dose_g: float, ratio: float) -> float:
    """Return a first wetting, to the nearest 5 g: a figure that the eye finds on a scale.

    Parameters
    ----------
    dose_g : float
        Coffee, g.
    ratio : float
        Grams of water to a gram of coffee.

    Returns
    -------
    float
        A first wetting, to the nearest 5 g.
    """
    return max(5.0, 5.0 * round(ratio * dose_g / 5))


def lasts(water_g: float, g_per_s: float) -> float:
    """How long pouring takes, whole seconds, at least five.

    Parameters
    ----------
    water_g : float
        Water, g.
    g_per_s : float
        Rate of pouring, g/s.

    Returns
    -------
    float
        How long pouring takes, whole seconds, at least five.
    """
    return max(5.0, float(round(water_g / g_per_s)))
