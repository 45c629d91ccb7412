"""A setting that somebody uses for a method, "about 8 for the cone", as a weak statement of its size."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass, replace

from hakari.core.brew.methods import WINDOWS, Window
from hakari.core.errors import InputError
from hakari.core.grinder.dial import Dial
from hakari.core.translate.vocabulary import UNITS
from hakari.core.translate.words import GrindQuery, parse_grind_query

HABIT_SD = 0.10  # of a setting that somebody uses "about" so


@dataclass(frozen=True)
class Habit:
    """A setting that a person uses for a method: the setting as the dial writes it, and the grind it gives."""

    setting: str
    grind: GrindQuery


def parse_habit(words: str, dial: Dial, windows: tuple[Window, ...] = WINDOWS, label: str | None = None) -> Habit:
    """Read "about 8 for the cone" as a weak statement of a setting's size.

    Parameters
    ----------
    words : str
        A setting of the dial, "for", and a method; "about", "clicks" and the like may stand with the setting.
    dial : Dial
        The grinder's dial.
    windows : tuple of Window
        The sizes that suit each method.
    label : str or None
        The window that is meant, by its label, in place of the words for it.

    Returns
    -------
    Habit
        The middle of the method's window in µm, with a standard deviation (ln) of a quarter of the window's width and
        ``HABIT_SD`` together: neither the habit nor the window is a measurement.

    Raises
    ------
    InputError
        ``words-unreadable``, or as ``Dial.parse`` for a setting that is not on the dial.
    """
    said = re.fullmatch(
        rf"(?:(?:i use|about|around|roughly|circa|ca\.?|maybe|~|some)\s*)*(.+?)(?:\s+(?:{UNITS}))?"
        r"\s+(?:for|suits|on|with)\s+(.+)",
        words.strip().lower().strip(" .!?"),
    )
    if said is None:
        raise InputError(
            "words-unreadable", f"“{words.strip()}” does not name a setting and a method.",
            "Say it like “about 8 for the cone”.", field="words",
        )  # fmt: skip
    meant = parse_grind_query(said[2] if label is None else label, windows)
    assert isinstance(meant, GrindQuery)  # only a dial in use makes it a setting
    try:
        setting = dial.write(dial.parse(said[1].strip()))
    except InputError as error:
        raise InputError(error.code, error.message, error.remedy, field="words") from error
    return Habit(setting, replace(meant, ln_sd=math.hypot(meant.ln_sd, HABIT_SD)))
