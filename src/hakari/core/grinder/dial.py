"""Dials: the settings that exist on a grinder, how people write them, and where they lie.

A *setting* is what people write, a *place* its number among the dial's settings in rising order (from 0), a *position* the
number that the burrs follow: it rises, or on two rings stands still, along the places.
"""

from __future__ import annotations

import re
from abc import ABC, abstractmethod
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property
from typing import Literal

import numpy as np

from hakari.core.arrays import BoolArray, FloatArray
from hakari.core.errors import InputError

Finer = Literal["down", "up"]
MOST_PLACES = 5000
COUNTS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve")


@dataclass(frozen=True)
class Dial(ABC):
    """What every kind of dial can do.

    ``finer`` says whether smaller (``down``) or larger (``up``) positions grind finer; ``zero`` is the setting at which the
    burrs touch, where that is known: it and what lies beyond are no settings to grind at.
    """

    finer: Finer = "down"
    zero: str | None = None

    @property
    @abstractmethod
    def unit(self) -> str:
        """The smallest step in words, singular."""

    @abstractmethod
    def _settings(self) -> tuple[tuple[str, float], ...]:
        """Every setting with its position, in rising order."""

    @abstractmethod
    def _read(self, text: str) -> str:
        """Return a person's words, trimmed and in lower case, as this dial writes them; ``InputError`` for others."""

    @cached_property
    def settings(self) -> tuple[str, ...]:
        """All settings as people write them, by place."""
        return tuple(s for s, _ in self._settings())

    @cached_property
    def _places(self) -> dict[str, int]:
        return {s.lower(): i for i, s in enumerate(self.settings)}

    @cached_property
    def _positions(self) -> FloatArray:
        return np.array([p for _, p in self._settings()])

    def positions(self) -> FloatArray:
        """Position of every place.

        Returns
        -------
        ndarray of float64
            Position of every place.
        """
        return self._positions

    def parse(self, setting: str) -> int:
        """Read a setting as a place.

        Parameters
        ----------
        setting : str
            Setting as a person writes it.

        Returns
        -------
        int
            The place.

        Raises
        ------
        InputError
            ``setting-unreadable``, ``setting-between-steps`` or ``setting-off-dial``.
        """
        text = re.sub(r"^(?:(?:at|setting|number|no\.?)\s+|#\s*)", "", setting.strip().lower())
        written = self._read(text).lower()
        if written not in self._places:
            first, last = self.settings[0], self.settings[-1]
            raise InputError(
                "setting-off-dial", f"“{setting.strip()}” is off the dial, which runs from {first} to {last}.",
                f"Type a setting from {first} to {last}.", field="setting",
            )  # fmt: skip
        return self._places[written]

    def write(self, place: int) -> str:
        """Return the setting at a place.

        Parameters
        ----------
        place : int
            Place on the dial.

        Returns
        -------
        str
            The setting at a place.
        """
        return self.settings[place]

    @property
    def units(self) -> dict[str, Fraction]:
        """Steps in each unit that is not one step."""
        return {}

    def steps_in(self, unit: str) -> Fraction:
        """Return how many steps of the dial a unit is; any word for a step is one.

        Parameters
        ----------
        unit : str
            A word in the singular: "click", "quarter", "turn", "number".

        Returns
        -------
        Fraction
            Steps, which may be part of one.
        """
        return self.units.get(unit, Fraction(1))

    def at(self, setting: str) -> float:
        """Return the position of a setting; raises as ``parse``.

        Parameters
        ----------
        setting : str
            Setting as a person writes it.

        Returns
        -------
        float
            The position of a setting.
        """
        return float(self._positions[self.parse(setting)])

    def nearest(self, position: float) -> int:
        """Return the place whose position is nearest.

        Parameters
        ----------
        position : float
            Position on the dial.

        Returns
        -------
        int
            The place whose position is nearest.
        """
        return int(np.argmin(np.abs(self._positions - position)))

    def usable(self) -> BoolArray:
        """Which places can be ground at: those coarser than where the burrs touch.

        Returns
        -------
        ndarray of bool
            Which places can be ground at.
        """
        if self.zero is None:
            return np.ones(len(self._positions), np.bool_)
        zero = self.at(self.zero)
        return self._positions > zero if self.finer == "down" else self._positions < zero

    def unreadable(self, text: str, remedy: str) -> InputError:
        """Return the refusal of what is no setting of this dial.

        Parameters
        ----------
        text : str
            What was typed.
        remedy : str
            What to do instead.

        Returns
        -------
        InputError
            The refusal of what is no setting of this dial.
        """
        return InputError("setting-unreadable", f"“{text}” is not a setting of this dial.", remedy, field="setting")


def check_dial(dial: Dial, places: int) -> None:
    """Refuse a dial with fewer than two or more than 5000 places, two alike, or a zero that is not on it.

    Parameters
    ----------
    dial : Dial
        The grinder's dial.
    places : int
        How many places the dial has.

    Raises
    ------
    InputError
        ``dial-malformed``.
    """
    if not 2 <= places <= MOST_PLACES:
        raise InputError(
            "dial-malformed", "The dial needs at least two settings, at most 5000, and parts of one or more.",
            "Check its smallest and largest setting and its parts.", field="dial",
        )  # fmt: skip
    if len({s.lower() for s in dial.settings}) < places:
        raise InputError(
            "dial-malformed", "Two settings of this dial would be written alike.",
            "Give every mark of a ring a label of its own.", field="dial",
        )  # fmt: skip
    try:
        good = bool(dial.usable().any())
    except InputError as error:
        raise InputError("dial-malformed", f"Burrs touching: {error.message}", error.remedy, field="dial") from error
    if not good:
        raise InputError(
            "dial-malformed", "With the burrs touching there, no setting is left to grind at.",
            "Check at which setting the burrs touch, and which way is finer.", field="dial",
        )  # fmt: skip


def step_words(dial: Dial, start: int, end: int) -> str:
    """Say the way from one place to another in a barista's words: "two quarters coarser".

    Places of a two-ring dial that lie at one position are no step apart.

    Parameters
    ----------
    dial : Dial
        The grinder's dial.
    start : int
        Place where the change starts.
    end : int
        Place where the change ends.

    Returns
    -------
    str
        For example "two clicks coarser".
    """
    positions = dial.positions()
    low, high = sorted((start, end))
    n = len(np.unique(np.round(positions[low : high + 1], 9))) - 1
    names = {"half": "halves"}
    count = COUNTS[n] if n < len(COUNTS) else str(n)
    coarser = (positions[end] > positions[start]) == (dial.finer == "down")
    unit = dial.unit if n == 1 else names.get(dial.unit, f"{dial.unit}s")
    return f"{count} {unit} {'coarser' if coarser else 'finer'}" if n else "the same setting"


def stepped(dial: Dial, place: int, steps: int) -> int:
    """Return the place so many steps coarser; negative for finer.

    Places of a two-ring dial that lie at one position are no step apart.

    Parameters
    ----------
    dial : Dial
        The grinder's dial.
    place : int
        Place where the change starts.
    steps : int
        Steps of the dial.

    Returns
    -------
    int
        Place where it ends.

    Raises
    ------
    InputError
        ``setting-off-dial`` where the dial ends before that.
    """
    if not steps:
        return place
    positions = np.round(dial.positions(), 9)
    levels, first = np.unique(positions, return_index=True)
    usable = dial.usable()[first]
    at = int(np.searchsorted(levels, positions[place]))
    end = at + steps * (1 if dial.finer == "down" else -1)
    if not (0 <= end < len(levels) and usable[end]):
        way = "coarser" if steps > 0 else "finer"
        raise InputError(
            "setting-off-dial", f"The dial ends before {abs(steps)} steps {way} than {dial.write(place)}.",
            "Ask for a smaller change.", field="words",
        )  # fmt: skip
    return int(first[end])
