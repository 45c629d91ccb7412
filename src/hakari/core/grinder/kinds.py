"""The six kinds of dial."""

from __future__ import annotations

import re
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from hakari.core.errors import InputError
from hakari.core.grinder.dial import Dial, Finer

GLYPHS = {
    "¼": " 1/4", "½": " 1/2", "¾": " 3/4", "⅓": " 1/3", "⅔": " 2/3", "⅛": " 1/8", "⅜": " 3/8", "⅝": " 5/8", "⅞": " 7/8",
    "⅕": " 1/5", "⅖": " 2/5", "⅗": " 3/5", "⅘": " 4/5",
}  # fmt: skip


def in_print(setting: str) -> str:
    """Return a setting as it is printed, "4½" for "4 1/2".

    Parameters
    ----------
    setting : str
        Setting as the dial writes it.

    Returns
    -------
    str
        The same with one sign for its fraction.
    """
    glyph = next((g for g, written in GLYPHS.items() if f" {setting}".endswith(written)), None)
    return setting if glyph is None else f"{f' {setting}'.removesuffix(GLYPHS[glyph]).strip()}{glyph}"


@dataclass(frozen=True)
class ClickDial(Dial):
    """Counted clicks, as on a hand mill: "22", "22 clicks", "1+4", "1 turn 4"."""

    clicks_per_turn: int = 36
    minimum: int = 0
    maximum: int = 60

    unit = "click"

    def _settings(self) -> tuple[tuple[str, float], ...]:
        return tuple((str(n), float(n)) for n in range(self.minimum, self.maximum + 1))

    @property
    def units(self) -> dict[str, Fraction]:
        """Steps in each unit that is not one step."""
        return {"turn": Fraction(self.clicks_per_turn)}

    def _read(self, text: str) -> str:
        turned = re.fullmatch(r"(\d+)\s*(?:\+|turns?\s*(?:\+|and)?)\s*(\d+)?(?:\s*clicks?)?", text)
        if turned:
            return str(int(turned[1]) * self.clicks_per_turn + int(turned[2] or 0))
        plain = re.fullmatch(r"([+-]?\d+)\s*(?:c|clicks?)?", text)
        if not plain:
            raise self.unreadable(
                text, f"Type whole clicks, for example {min(self.maximum, self.minimum + 20)} or 1+4."
            )
        return str(int(plain[1]))


PARTS = {1: "number", 2: "half", 3: "third", 4: "quarter", 5: "fifth", 6: "sixth", 8: "eighth", 10: "tenth"}


@dataclass(frozen=True)
class NumberDial(Dial):
    """Numbers with parts between them, as on a bench grinder: "4", "4 1/4", "4.25"."""

    minimum: int = 0
    maximum: int = 14
    parts: int = 4

    @property
    def unit(self) -> str:
        """The smallest step in words."""
        return PARTS.get(self.parts, f"1/{self.parts} number")

    @property
    def units(self) -> dict[str, Fraction]:
        """Steps in each unit that is not one step."""
        return {name: Fraction(self.parts, part) for part, name in PARTS.items()}

    def _settings(self) -> tuple[tuple[str, float], ...]:
        count = (self.maximum - self.minimum) * self.parts + 1
        steps = [self.minimum * self.parts + k for k in range(count)]
        return tuple((self._mixed(Fraction(n, self.parts)), n / self.parts) for n in steps)

    def _mixed(self, value: Fraction) -> str:
        """Whole number and reduced fraction, the sign in front of both."""
        whole, rest = divmod(abs(value), 1)
        sign = "-" if value < 0 else ""
        return sign + " ".join(str(part) for part in (whole, rest) if part or (part is whole and not rest))

    def _read(self, text: str) -> str:
        words = text.replace(",", ".").replace("−", "-")
        for glyph, written in GLYPHS.items():
            words = words.replace(glyph, written)
        mixed = re.fullmatch(r"(-?)\s*(?:(\d+)\s*[+ ]\s*)?(\d+)\s*/\s*(\d+)", words.strip())
        decimal = re.fullmatch(r"-?(\d+(\.\d*)?|\.\d+)", words.strip())
        if mixed and int(mixed[4]) > 0:
            value = Fraction(int(mixed[2] or 0)) + Fraction(int(mixed[3]), int(mixed[4]))
            value = -value if mixed[1] else value
        elif decimal:
            value = Fraction(words.strip().removesuffix("."))
        else:
            raise self.unreadable(
                text, f"Type a number with its part, for example {self.settings[len(self.settings) // 3]}."
            )
        steps = value * self.parts
        nearest = self._mixed(Fraction(round(steps), self.parts))
        if abs(steps - round(steps)) > Fraction(1, 20):
            raise InputError(
                "setting-between-steps", f"“{text}” lies between two {self.unit} marks of this dial.",
                f"Use whole {self.unit} marks, for example {nearest}.", field="setting",
            )  # fmt: skip
        return nearest


@dataclass(frozen=True)
class SteplessDial(Dial):
    """A collar without stops, read to ``readable``: "4.35". What is typed finer than that is read to the nearest."""

    minimum: float = 0.0
    maximum: float = 10.0
    readable: float = 0.05

    unit = "mark"

    @property
    def units(self) -> dict[str, Fraction]:
        """Steps in each unit that is not one step."""
        parts = {"number": 1.0, "half": 0.5, "quarter": 0.25, "tenth": 0.1}
        return {name: Fraction(part / self.readable).limit_denominator(100) for name, part in parts.items()}

    @property
    def _decimals(self) -> int:
        text = f"{self.readable:.6f}".rstrip("0")
        return max(len(text) - text.index(".") - 1, 0)

    def _settings(self) -> tuple[tuple[str, float], ...]:
        count = int(np.floor((self.maximum - self.minimum) / self.readable + 1e-6)) + 1
        places = [self.minimum + k * self.readable for k in range(count)]
        return tuple((f"{p + 0.0:.{self._digits}f}", float(p)) for p in places)

    @property
    def _digits(self) -> int:
        """Decimals that tell all marks apart: those of the smallest mark too, where it is finer."""
        text = f"{abs(self.minimum):.6f}".rstrip("0")
        return max(self._decimals, len(text) - text.index(".") - 1)

    def _read(self, text: str) -> str:
        words = text.replace(",", ".").replace("−", "-")
        if not re.fullmatch(r"[+-]?(\d+(\.\d*)?|\.\d+)", words):
            raise self.unreadable(text, f"Type a number, for example {self.settings[len(self.settings) // 3]}.")
        if len(words) > 20:
            raise self.unreadable(text, "Type no more digits than the collar shows.")
        steps = round((float(words) - self.minimum) / self.readable)
        return f"{self.minimum + steps * self.readable + 0.0:.{self._digits}f}"


@dataclass(frozen=True)
class TurnDial(Dial):
    """Turns, numbers and clicks: "1.4.2". "1.4" is number 4 of turn 1, click 0; a lone number is a number of turn 0."""

    numbers_per_turn: int = 10
    clicks_per_number: int = 5
    minimum: str = "0.0.0"
    maximum: str = "3.0.0"

    unit = "click"

    @property
    def units(self) -> dict[str, Fraction]:
        """Steps in each unit that is not one step."""
        number = Fraction(self.clicks_per_number)
        return {"number": number, "turn": number * self.numbers_per_turn}

    def _settings(self) -> tuple[tuple[str, float], ...]:
        low, high = (self.clicks(s) for s in (self.minimum, self.maximum))
        return tuple((self._written(n), float(n)) for n in range(low, high + 1))

    def _written(self, clicks: int) -> str:
        number, click = divmod(clicks, self.clicks_per_number)
        turn, number = divmod(number, self.numbers_per_turn)
        return f"{turn}.{number}.{click}"

    def clicks(self, text: str) -> int:
        """Return a setting, or "31 clicks", as clicks from 0.0.0; ``InputError`` for anything else.

        Parameters
        ----------
        text : str
            Setting as a person writes it.

        Returns
        -------
        int
            A setting, or "31 clicks", as clicks from 0.0.0.
        """
        counted = re.fullmatch(r"(\d+)\s*clicks?", text)
        if counted:
            return int(counted[1])
        parts = re.fullmatch(r"(\d+)(?:[.,:/\-](\d+))?(?:[.,:/\-](\d+))?", re.sub(r"\s+", "", text))
        remedy = f"Type turn.number.click, for example 1.{min(4, self.numbers_per_turn - 1)}.0."
        if not parts:
            raise self.unreadable(text, remedy)
        given = [int(p) for p in parts.groups() if p is not None]
        turn, number, click = [0, given[0], 0] if len(given) == 1 else [*given, 0][:3]
        if number >= self.numbers_per_turn or click >= self.clicks_per_number:
            ends = f"Numbers run from 0 to {self.numbers_per_turn - 1}, clicks from 0 to {self.clicks_per_number - 1}."
            raise self.unreadable(text, f"{ends} {remedy}")
        return (turn * self.numbers_per_turn + number) * self.clicks_per_number + click

    def _read(self, text: str) -> str:
        return self._written(self.clicks(text))


@dataclass(frozen=True)
class RingDial(Dial):
    """Two rings, a coarse and a fine one: "C4". The pair of labels is the setting; positions may coincide.

    ``fine_span`` is how many steps of the coarse ring the whole fine ring covers.
    """

    coarse: tuple[str, ...] = ("A", "B", "C")
    fine: tuple[str, ...] = ("1", "2", "3")
    fine_span: float = 1.0

    unit = "fine mark"

    @property
    def _joint(self) -> str:
        """What stands between the labels: nothing, unless two pairs would then read alike."""
        joined = {(c + f).lower() for c in self.coarse for f in self.fine}
        return "" if len(joined) == len(self.coarse) * len(self.fine) else "-"

    def _settings(self) -> tuple[tuple[str, float], ...]:
        joint, share = self._joint, self.fine_span / len(self.fine)
        pairs = [(i + j * share, i, j) for i in range(len(self.coarse)) for j in range(len(self.fine))]
        return tuple((f"{self.coarse[i]}{joint}{self.fine[j]}", p) for p, i, j in sorted(pairs))

    def _read(self, text: str) -> str:
        joint = self._joint
        tight = re.sub(r"[\s./+\-]+", joint, text.strip())
        for c in self.coarse:
            rest = tight[len(c) :].removeprefix(joint) if tight.startswith(c.lower()) else None
            for f in self.fine:
                if rest is not None and rest == f.lower() and (not joint or tight == f"{c}{joint}{f}".lower()):
                    return f"{c}{joint}{f}"
        raise self.unreadable(
            text, f"Type a mark of each ring, for example {self.coarse[len(self.coarse) // 2]}{joint}{self.fine[0]}."
        )


@dataclass(frozen=True)
class BladeDial(Dial):
    """Blades have no settings, only how long they run and whether the jar was shaken: "12 s", "12 s shaken"."""

    finer: Finer = "up"
    minimum: int = 2
    maximum: int = 60

    unit = "second"

    def _settings(self) -> tuple[tuple[str, float], ...]:
        return tuple(
            (f"{n} s{shaken}", float(n)) for n in range(self.minimum, self.maximum + 1) for shaken in ("", " shaken")
        )

    def _read(self, text: str) -> str:
        said = re.fullmatch(
            r"(\d+) ?(?:s|sec|seconds?)?(?:,? ?(?:(?:and )?(shaken|shaking)|(\d+) ?(?:shakes?|x shaken)))?", text
        )
        if not said:
            raise self.unreadable(text, "Type the seconds and whether you shook it, for example 12 s shaken.")
        return f"{int(said[1])} s{' shaken' if said[2] or int(said[3] or 0) else ''}"
