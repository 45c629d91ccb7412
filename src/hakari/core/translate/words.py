"""Words for a grind: "between cone and thick paper", "a touch finer than the cone", "six clicks coarser than semolina"."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace

import numpy as np

from hakari.core.brew.methods import WINDOWS, Window, window_for
from hakari.core.errors import InputError
from hakari.core.grinder.dial import COUNTS, Dial

DOSE_G = 17.0  # of a window that depends on the dose
# Names for methods, longest first where one holds another.
NAMES = {
    "boiled": "boiled-pot", "unfiltered pot": "boiled-pot", "pressure shot": "pressure-shot", "shot": "pressure-shot",
    "espresso": "pressure-shot", "stovetop": "stovetop-pot", "plunger": "plunger-tube", "tube": "plunger-tube",
    "thick paper cone": "thick-paper-cone", "thick paper": "thick-paper-cone", "smooth cone": "smooth-cone",
    "ribbed cone": "ribbed-cone", "cone": "ribbed-cone", "pour over": "ribbed-cone", "drip": "ribbed-cone",
    "flat bottomed dripper": "flat-bottom", "flat": "flat-bottom", "valve dripper": "valve-dripper",
    "valve": "valve-dripper", "vacuum": "vacuum-pot", "siphon": "vacuum-pot", "tasting bowl": "tasting-bowl",
    "bowl": "tasting-bowl", "cupping": "tasting-bowl", "slow cold drip": "drip-tower", "cold drip": "drip-tower",
    "drip machine": "drip-machine", "machine": "drip-machine", "long press pot": "press-pot-long",
    "stirred press pot": "press-pot-stirred", "press pot": "press-pot", "press": "press-pot",
    "percolator": "percolator-pot", "cold steep": "cold-jar", "cold jar": "cold-jar", "cold brew": "cold-jar",
}  # fmt: skip
# Kitchen words as sizes in µm: the eye's measure, good to a fifth.
LOOKS_UM = {
    "flour": 90.0, "icing sugar": 200.0, "caster sugar": 350.0, "fine salt": 450.0, "coarse salt": 1050.0, "salt": 580.0,
    "semolina": 750.0, "demerara": 900.0, "cracked pepper": 1150.0,
}  # fmt: skip
LOOKS_SD = 0.10
HABIT_SD = 0.10  # of a setting that somebody uses "about" so
AMOUNTS = (
    (r"a (?:touch|bit|little|shade|hair)|slightly|touch|bit", 0.05),
    (r"much|a lot|far|clearly|way", 0.20),
    (r"", 0.10),
)
UNITS = r"clicks?|steps?|marks?|quarters?|numbers?|notches?|halves|half"


@dataclass(frozen=True)
class GrindQuery:
    """The size that words mean, how vague they are (ln), steps beyond it on whichever dial, and what was understood."""

    um: float
    ln_sd: float
    steps: int
    said: str


def parse_grind_query(words: str, windows: tuple[Window, ...] = WINDOWS) -> GrindQuery:
    """Read words for a grind.

    Parameters
    ----------
    words : str
        What was typed.
    windows : tuple[Window, ...]
        Sizes that suit each method.

    Returns
    -------
    GrindQuery
        The size that is meant.

    Raises
    ------
    InputError
        ``words-unreadable``, with examples.
    """
    text = re.sub(r"[\s\-–]+", " ", words.strip().lower()).strip(" .!?")
    text = re.sub(r"\b(?:grind|ground|it|please|the|my|for|like|as|an?(?= (?:cone|press|flat)))\b ?", " ", text)
    text = re.sub(r"\s+", " ", text).strip()
    typed = re.fullmatch(r"(\d{2,4}(?:[.,]\d+)?) ?(?:µm|um|μm|micrometres?|microns?)?", text)
    if typed:
        um = float(typed[1].replace(",", "."))
        return GrindQuery(um, 0.0, 0, f"{um:.0f} µm")
    between = re.fullmatch(r"between (.+?) and (.+)", text)
    if between:
        a, b = (_named(part, words, windows) for part in between.groups())
        gap = abs(float(np.log(b.um / a.um)))
        return GrindQuery(float(np.sqrt(a.um * b.um)), max(gap / 4, 0.02), 0, f"between the {a.said} and the {b.said}")
    counted = re.fullmatch(rf"(\d+|{'|'.join(COUNTS)}|a|one) ({UNITS}) (finer|coarser) than (.+)", text)
    if counted:
        count = int(counted[1]) if counted[1].isdigit() else 1 if counted[1] == "a" else COUNTS.index(counted[1])
        base = _named(counted[4], words, windows)
        sign = 1 if counted[3] == "coarser" else -1
        return GrindQuery(
            base.um, base.ln_sd, sign * count, f"{counted[1]} {counted[2]} {counted[3]} than the {base.said}"
        )
    for amount, share in AMOUNTS:
        moved = re.fullmatch(rf"(?:{amount}) ?(finer|coarser) than (.+)", text)
        if moved:
            base = _named(moved[2], words, windows)
            factor = 1 + share if moved[1] == "coarser" else 1 / (1 + share)
            return GrindQuery(
                base.um * factor, base.ln_sd, 0, f"about {100 * share:.0f} % {moved[1]} than the {base.said}"
            )
    end = re.fullmatch(r"(fine|coarse) (?:end|side) (?:of )?(.+)", text)
    if end:
        base = _named(end[2], words, windows)
        factor = float(np.exp(2 * base.ln_sd)) if end[1] == "coarse" else float(np.exp(-2 * base.ln_sd))
        return GrindQuery(base.um * factor, base.ln_sd / 2, 0, f"{end[1]} end of the {base.said}")
    return _named(text, words, windows)


@dataclass(frozen=True)
class Habit:
    """A setting that a person uses for a method: the setting as the dial writes it, and what grind it stands for."""

    setting: str
    grind: GrindQuery


def parse_habit(words: str, dial: Dial, windows: tuple[Window, ...] = WINDOWS) -> Habit:
    """Read "about 8 for the cone" as a weak statement of a setting's size.

    Parameters
    ----------
    words : str
        A setting of the dial, "for", and a method; "about", "clicks" and the like may stand with the setting.
    dial : Dial
        The grinder's dial.
    windows : tuple of Window
        The sizes that suit each method.

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
    meant = parse_grind_query(said[2], windows)
    try:
        setting = dial.write(dial.parse(said[1].strip()))
    except InputError as error:
        raise InputError(error.code, error.message, error.remedy, field="words") from error
    return Habit(setting, replace(meant, ln_sd=float(np.hypot(meant.ln_sd, HABIT_SD))))


def _named(text: str, words: str, windows: tuple[Window, ...]) -> GrindQuery:
    """Return a method's window or a kitchen word; a window's middle is vague by a quarter of its width."""
    for look in sorted(LOOKS_UM, key=len, reverse=True):
        if text == look:
            return GrindQuery(LOOKS_UM[look], LOOKS_SD, 0, look)
    known = {w.label.replace("-", " ").replace("–", " "): w for w in windows}
    window = known.get(text)
    if window is None:
        for name in sorted(NAMES, key=len, reverse=True):
            if re.search(rf"\b{name}s?\b", text):
                window = window_for(NAMES[name], DOSE_G, windows)
                break
    if window is None:
        raise InputError(
            "words-unreadable", f"“{words.strip()}” is not understood as a grind.",
            "Say a method, “between cone and thick paper”, “a touch finer than the cone”, “semolina” or “700 µm”.",
            field="words",
        )  # fmt: skip
    return GrindQuery(window.middle_um, float(np.log(window.high_um / window.low_um)) / 4, 0, window.label)
