"""Dials: how a grinder's positions are written, and which positions exist.

A position is a number that rises along the dial; a setting is how people write it.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal, Protocol

import numpy as np

from hakari.core.errors import InputError
from hakari.core.photo.result import FloatArray

Finer = Literal["down", "up"]


class Dial(Protocol):
    """What every kind of dial can do."""

    @property
    def finer(self) -> Finer:
        """Whether smaller (``down``) or larger (``up``) positions grind finer."""

    @property
    def unit(self) -> str:
        """The smallest step in words, singular."""

    def positions(self) -> FloatArray:
        """All valid positions, rising."""

    def parse(self, setting: str) -> float:
        """Read a setting as a position; ``InputError`` ``setting-unreadable`` or ``setting-off-dial``."""

    def write(self, position: float) -> str:
        """Write a valid position as people do."""


@dataclass(frozen=True)
class ClickDial:
    """Counted clicks, as on a hand mill: "22", "22 clicks", "1 turn 4"."""

    clicks_per_turn: int
    minimum: int
    maximum: int
    finer: Finer = "down"

    unit = "click"

    def positions(self) -> FloatArray:
        """Every click from ``minimum`` to ``maximum``."""
        return np.arange(self.minimum, self.maximum + 1, dtype=np.float64)

    def parse(self, setting: str) -> float:
        """Read clicks, or turns and clicks ("1+7", "1 turn 7")."""
        text = setting.strip().lower()
        turned = re.fullmatch(r"(\d+)\s*(?:\+|turns?\s*\+?)\s*(\d+)?(?:\s*clicks?)?", text)
        if turned:
            value = int(turned[1]) * self.clicks_per_turn + int(turned[2] or 0)
        else:
            plain = re.fullmatch(r"([+-]?\d+)\s*(?:clicks?)?", text)
            if not plain:
                raise _unreadable(setting, f"Type whole clicks, for example {self.minimum + 20} or 1+4.")
            value = int(plain[1])
        return _on_dial(self, float(value), self.minimum, self.maximum, setting)

    def write(self, position: float) -> str:
        """Clicks from zero."""
        return str(round(position))


@dataclass(frozen=True)
class NumberDial:
    """Numbers with parts between them, as on a bench grinder: "4", "4 1/4", "4.25"."""

    minimum: int
    maximum: int
    parts: int
    finer: Finer = "down"

    @property
    def unit(self) -> str:
        """The smallest step in words."""
        return {1: "number", 2: "half", 3: "third", 4: "quarter", 5: "fifth", 8: "eighth", 10: "tenth"}.get(
            self.parts, f"1/{self.parts} number"
        )

    def positions(self) -> FloatArray:
        """Every part from ``minimum`` to ``maximum``."""
        return self.minimum + np.arange((self.maximum - self.minimum) * self.parts + 1) / self.parts

    def parse(self, setting: str) -> float:
        """Read a whole number, a mixed fraction or a decimal; it must lie on a part."""
        text = setting.strip().replace(",", ".")
        for glyph, written in (("¼", " 1/4"), ("½", " 1/2"), ("¾", " 3/4"), ("⅓", " 1/3"), ("⅔", " 2/3")):
            text = text.replace(glyph, written)
        text = text.strip()
        mixed = re.fullmatch(r"(?:(-?\d+)\s*[+ ]\s*)?(\d+)\s*/\s*(\d+)", text)
        decimal = re.fullmatch(r"-?(\d+(\.\d*)?|\.\d+)", text)
        if mixed and int(mixed[3]) > 0:
            value = Fraction(int(mixed[1] or 0)) + Fraction(int(mixed[2]), int(mixed[3]))
        elif decimal:
            value = Fraction(text if text[-1] != "." else text[:-1])
        else:
            raise _unreadable(setting, "Type a number with its part, for example 4 1/4.")
        steps = value * self.parts
        if abs(steps - round(steps)) > Fraction(1, 20):
            raise InputError(
                "setting-between-steps", f"“{setting}” lies between two {self.unit} marks of this dial.",
                f"Use whole {self.unit} marks, for example {self.write(float(Fraction(round(steps), self.parts)))}.",
                field="setting",
            )  # fmt: skip
        position = float(Fraction(round(steps), self.parts))
        return _on_dial(self, position, self.minimum, self.maximum, setting)

    def write(self, position: float) -> str:
        """Whole number and reduced fraction."""
        steps = Fraction(round(position * self.parts), self.parts)
        whole = steps.numerator // steps.denominator
        rest = steps - whole
        if rest == 0:
            return str(whole)
        return f"{whole} {rest}" if whole else str(rest)


def _unreadable(setting: str, remedy: str) -> InputError:
    return InputError("setting-unreadable", f"“{setting}” is not a setting of this dial.", remedy, field="setting")


def _on_dial(dial: Dial, position: float, low: float, high: float, setting: str) -> float:
    if not low <= position <= high:
        raise InputError(
            "setting-off-dial", f"“{setting}” is off the dial, which runs from {dial.write(low)} to {dial.write(high)}.",
            f"Type a setting from {dial.write(low)} to {dial.write(high)}.", field="setting",
        )  # fmt: skip
    return position


def check_dial(dial: ClickDial | NumberDial) -> None:
    """Refuse a dial that has no steps; ``InputError`` ``dial-malformed``."""
    parts = dial.parts if isinstance(dial, NumberDial) else dial.clicks_per_turn
    count = (dial.maximum - dial.minimum) * (dial.parts if isinstance(dial, NumberDial) else 1)
    if parts < 1 or count < 1 or count > 5000:
        raise InputError(
            "dial-malformed", "The dial needs at least two positions, at most 5000, and parts of one or more.",
            "Check its smallest and largest setting and its parts.", field="dial",
        )  # fmt: skip


def step_words(dial: Dial, steps: int) -> str:
    """Say a number of steps in barista's words, with the direction: "two quarters coarser"."""
    names = (
        "no",
        "one",
        "two",
        "three",
        "four",
        "five",
        "six",
        "seven",
        "eight",
        "nine",
        "ten",
        "eleven",
        "twelve",
    )
    n = abs(steps)
    unit = dial.unit
    plural = {"half": "halves"}.get(unit, f"{unit}s")
    count = names[n] if n < len(names) else str(n)
    coarser = (steps > 0) == (dial.finer == "down")
    return f"{count} {unit if n == 1 else plural} {'coarser' if coarser else 'finer'}"
