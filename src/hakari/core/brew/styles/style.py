"""What a pour style is: a generator of pours with a few real options, its reason, and its honest limits."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Literal

from hakari.core.brew.brewers import Brewer
from hakari.core.brew.schedule import Action, Pour, Steep
from hakari.core.brew.units import SECONDS_IN, parse_number, parse_ratio, parse_seconds
from hakari.core.errors import InputError

OptionValue = str


@dataclass(frozen=True)
class OwnValue:
    """A quantity that may be typed in place of an option's choices: its unit, and from what to what."""

    unit: Literal["s", "min", "h", "ratio", "%", "g", "g/s"]
    least: float
    most: float

    def words(self, value: float) -> str:
        """Return a value with its unit, as it can be typed again.

        Parameters
        ----------
        value : float
            In the unit.

        Returns
        -------
        str
            For example "1:5", "40 %", "90 s", "16 h".
        """
        if self.unit == "ratio":
            return f"1:{value:g}"
        if self.unit == "%":
            return f"{value:g} %"
        if self.unit in ("g", "g/s"):
            return f"{value:g} {self.unit}"
        seconds = value * SECONDS_IN[self.unit]
        unit = "h" if seconds >= 7200 else "min" if seconds >= 120 else "s"
        return f"{seconds / SECONDS_IN[unit]:g} {unit}"

    def read(self, text: str, field: str) -> float:
        """Read what was typed; a plain number is in the unit.

        Parameters
        ----------
        text : str
            For example "16", "16 h", "3:30", "1:5", "38 %".
        field : str
            What an error is attached to.

        Returns
        -------
        float
            The value in the unit.

        Raises
        ------
        InputError
            As the reader of the unit.
        """
        plain = text.strip()
        if self.unit == "ratio":
            return parse_ratio(plain, field)
        if self.unit in ("g", "g/s"):
            return parse_number(plain.removesuffix("/s"), field, ("grams", "g"))
        if self.unit == "%" or re.fullmatch(r"[\d.,]+", plain):
            return parse_number(plain.removesuffix("%"), field)
        return parse_seconds(plain, field) / SECONDS_IN[self.unit]


@dataclass(frozen=True)
class Option:
    """A choice that a style really has: values with their words; the first is the usual one.

    ``own`` says what may be typed instead; ``minor`` ones are seldom changed.
    """

    name: str
    label: str
    values: tuple[tuple[OptionValue, str], ...]
    own: OwnValue | None = None
    minor: bool = False

    @property
    def usual(self) -> OptionValue:
        """The value where none is chosen."""
        return self.values[0][0]

    def chosen(self, text: str) -> OptionValue:
        """Return the value that was chosen or typed.

        Parameters
        ----------
        text : str
            One of the choices, or what was typed.

        Returns
        -------
        str
            The choice, or the typed value as a number.

        Raises
        ------
        InputError
            ``option-unknown`` or ``option-out-of-range``.
        """
        choices = {value for value, _ in self.values}
        if text in choices:
            return text
        field = f"options.{self.name}"
        if self.own is None:
            raise InputError(
                "option-unknown",
                f"“{text}” is no choice of {self.label}.",
                f"Use {', '.join(sorted(choices))}.",
                field=field,
            )
        value = self.own.read(text, field)
        if not self.own.least <= value <= self.own.most:
            least, most = self.own.words(self.own.least), self.own.words(self.own.most)
            raise InputError(
                "option-out-of-range", f"“{text}” is outside what this style is made for.", f"Type {least} to {most}.",
                field=field,
            )  # fmt: skip
        return f"{value:.10g}"


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

    ``dilution_g`` is hot water added to the drink, ``ice_g`` ice that waits under the brewer and melts. ``held_back_g`` of a
    concentrate are kept out of the cup. ``by_marks``: there is no scale, every pour is a cup filled to the same mark.
    """

    pours: tuple[Pour, ...]
    actions: tuple[Action, ...] = ()
    steep: Steep | None = None
    dilution_g: float = 0.0
    ice_g: float = 0.0
    held_back_g: float = 0.0
    by_marks: bool = False
    room_c: float | None = None
    by_hand: tuple[str, ...] = ()


@dataclass(frozen=True)
class RecipeStyle:
    """A style: for which brewers (the usual one first), doses, ratios and water, and how it makes a plan.

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
