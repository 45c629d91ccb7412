"""Words for a grind: "between cone and thick paper", "a touch finer than the cone", "0.7 mm", "half a turn coarser"."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass, replace
from fractions import Fraction

from hakari.core.brew.methods import WINDOWS, Window, window_for
from hakari.core.errors import InputError
from hakari.core.grinder.dial import COUNTS, Dial
from hakari.core.translate.vocabulary import AGAIN, AMOUNTS, FILLERS, GRADES_UM, LOOKS_UM, METHODS, UNITS, Named

DOSE_G = 17.0  # of a window that depends on the dose
LOOKS_SD = 0.10
UNIT_OF_SIZE = r"(mm|millimet(?:er|re)s?|µm|um|μm|micromet(?:er|re)s?|microns?)"
# An article begins an amount, "a bit finer", so it stays.
LEADING = re.compile(rf"^(?:(?:{'|'.join(sorted(FILLERS - {'a', 'an'}))})\b ?)+")
NUMBER = r"(\d+(?:[.,]\d+)?)"
EXAMPLES = (
    "Say a method, “medium-fine”, “between cone and thick paper”, “a touch finer than the cone”, “two clicks finer”, "
    "“semolina”, “700 µm” or a setting."
)


@dataclass(frozen=True)
class GrindQuery:
    """The size that words mean, how vague they are (ln), steps beyond it on whichever dial, and what was understood."""

    um: float
    ln_sd: float
    steps: int
    said: str


@dataclass(frozen=True)
class SettingQuery:
    """A setting of the grinder in use: where it starts, and how far it moves from there.

    ``settings`` are one setting or the two ends of a range, as the dial writes them; none is the setting in use. ``steps``
    of the dial count coarser; ``factor`` moves the size itself.
    """

    settings: tuple[str, ...] = ()
    steps: int = 0
    factor: float = 1.0
    said: str = ""


Query = GrindQuery | SettingQuery


def parse_grind_query(words: str, windows: tuple[Window, ...] = WINDOWS, dial: Dial | None = None) -> Query:
    """Read words for a grind.

    Parameters
    ----------
    words : str
        What was typed.
    windows : tuple of Window
        Sizes that suit each method.
    dial : Dial, optional
        The dial of the grinder in use, which plain numbers, "24 clicks" and "two clicks finer" belong to.

    Returns
    -------
    GrindQuery or SettingQuery
        The size that is meant, or the setting of the grinder in use.

    Raises
    ------
    InputError
        ``words-unreadable``, with the part that was not understood and examples; ``setting-between-steps`` for parts of a
        step that the dial does not have; as ``Dial.parse`` for a number that is not on the dial.
    """
    return _Reader(words, windows, dial).read(_plain(words))


def _plain(words: str) -> str:
    text = words.strip().lower().strip(" .!?").replace("–", "-").replace("—", "-")
    text = re.sub(r"(?<=[a-z])-(?=[a-z])", " ", text)
    text = re.sub(r"\s+", " ", text)
    return LEADING.sub("", text).strip()


@dataclass(frozen=True)
class _Reader:
    """Reads one phrase; ``words`` is what was typed, for errors."""

    words: str
    windows: tuple[Window, ...]
    dial: Dial | None

    def read(self, text: str) -> Query:
        for rule in (self._size, self._setting, self._between, self._counted, self._moved, self._end):
            found = rule(text)
            if found is not None:
                return found
        return self._named(text)

    def _size(self, text: str) -> Query | None:
        """Read "700 µm", "0.7 mm", "650 to 750 µm"; a bare "700" only where no grinder is in use."""
        unit = UNIT_OF_SIZE if self.dial is not None or not re.fullmatch(r"\d{3,4}", text) else f"{UNIT_OF_SIZE}?"
        found = re.fullmatch(rf"{NUMBER}(?: ?(?:-|to) ?{NUMBER})? ?{unit}", text)
        if not found:
            return None
        factor = 1000.0 if (found[3] or "").startswith("m") and not (found[3] or "").startswith("mic") else 1.0
        low = factor * float(found[1].replace(",", "."))
        high = factor * float(found[2].replace(",", ".")) if found[2] else low
        if not min(low, high) >= 20 or not max(low, high) <= 5000:
            raise self._refused(f"{text} is no size of ground coffee.")
        said = f"{low:.0f} µm" if low == high else f"{low:.0f} to {high:.0f} µm"
        return GrindQuery(math.sqrt(low * high), abs(math.log(high / low)) / 4, 0, said)

    def _setting(self, text: str) -> Query | None:
        """Read "24", "24 clicks", "22-24" on the dial in use."""
        if self.dial is None:
            return None
        try:
            return SettingQuery((self.dial.write(self.dial.parse(text)),), said=text)
        except InputError as error:
            off = error
        ends = re.fullmatch(r"(.+?) ?(?:-|\bto\b) ?(.+)", text)
        if ends:
            try:
                low, high = (self.dial.write(self.dial.parse(end)) for end in ends.groups())
                return SettingQuery((low, high), said=f"{low} to {high}")
            except InputError:
                pass
        if re.fullmatch(rf"{NUMBER}(?: clicks?)?", text):
            raise InputError(
                off.code, off.message, f"{off.remedy} For a size type “{text.split(' ')[0]} µm”.", field="words"
            )
        return None

    def _between(self, text: str) -> Query | None:
        ends = re.fullmatch(r"between (.+?) and (.+)", text)
        if not ends:
            return None
        a, b = (self._named(_plain(part)) for part in ends.groups())
        gap = abs(math.log(b.um / a.um))
        return GrindQuery(math.sqrt(a.um * b.um), max(gap / 4, 0.02), 0, f"between the {a.said} and the {b.said}")

    def _counted(self, text: str) -> Query | None:
        """Read "two clicks finer", with or without "than …"."""
        number = rf"\d+(?:[.,]\d+)?|\d+ \d/\d|\d/\d|half an?|half|a half|{'|'.join(COUNTS[1:])}|an?"
        found = re.fullmatch(rf"({number}) (?:an? )?({UNITS}) (finer|coarser)(?: than (.+))?", text)
        if not found:
            return None
        count = _count(found[1])
        base = self._base(found[4])
        way = 1 if found[3] == "coarser" else -1
        steps = way * self._steps(count, found[2], found[3])
        said = f"{found[1]} {found[2]} {found[3]}"
        if isinstance(base, GrindQuery):
            return replace(base, steps=base.steps + steps, said=f"{said} than {_article(base.said)}")
        return replace(base, steps=base.steps + steps, said=f"{said} than {base.said}" if base.said else said)

    def _steps(self, count: Fraction, unit: str, way: str) -> int:
        one = re.sub(r"^halves$", "half", re.sub(r"(?<=[a-z])s$", "", unit.replace("notches", "notch")))
        each = self.dial.steps_in(one) if self.dial is not None else Fraction(1)
        steps = count * each
        if steps.denominator != 1 or steps == 0:
            whole = max(1, math.ceil(steps))
            name = self.dial.unit if self.dial is not None else one
            raise InputError(
                "setting-between-steps", f"This dial has no part of a {name} to turn by.",
                f"The least it can do is one {name} {way}." if whole == 1 else f"Turn it {whole} {name}s {way}.",
                field="words",
            )  # fmt: skip
        return int(steps)

    def _moved(self, text: str) -> Query | None:
        """Read "a bit coarser", with or without "than …"."""
        for amount, share in AMOUNTS:
            found = re.fullmatch(rf"(?:{amount}) ?(finer|coarser)(?: than (.+))?", text)
            if not found:
                continue
            base = self._base(found[2])
            factor = 1 + share if found[1] == "coarser" else 1 / (1 + share)
            said = f"about {100 * share:.0f} % {found[1]}"
            if isinstance(base, GrindQuery):
                return replace(base, um=base.um * factor, said=f"{said} than {_article(base.said)}")
            return replace(base, factor=base.factor * factor, said=f"{said} than {base.said}" if base.said else said)
        return None

    def _base(self, text: str | None) -> Query:
        """Return what a comparison starts from: something named, a setting, or the setting in use."""
        if text is None or re.fullmatch(AGAIN, text.strip()):
            if self.dial is None:
                raise self._refused("No grinder is in use, so nothing is known to be finer or coarser than.")
            return SettingQuery()
        return self.read(_plain(text))

    def _end(self, text: str) -> Query | None:
        end = re.fullmatch(r"(fine|coarse) (?:end|side) (?:of )?(.+)", text)
        if not end:
            return None
        base = self._named(_plain(end[2]))
        factor = math.exp(2 * base.ln_sd) if end[1] == "coarse" else math.exp(-2 * base.ln_sd)
        return GrindQuery(base.um * factor, base.ln_sd / 2, 0, f"{end[1]} end of the {base.said}")

    def _named(self, text: str) -> GrindQuery:
        """Return a method's window, a grade or a kitchen word; a window's middle is vague by a quarter of its width."""
        bare = " ".join(word for word in text.split(" ") if word not in FILLERS)
        known = _lookup(bare, self.windows) or _lookup(re.sub(r"s\b", "", bare), self.windows)
        if known is None:
            raise self._refused(self._unread(bare))
        return GrindQuery(known.um, known.ln_sd, 0, known.said)

    def _unread(self, bare: str) -> str:
        vocabulary = {part for name in (*METHODS, *LOOKS_UM, *GRADES_UM) for part in name.split(" ")}
        vocabulary |= {"finer", "coarser", "than", "between", "and", "end", "side"} | FILLERS
        vocabulary |= {part for w in self.windows for part in _words_of(w.label).split(" ")}
        unread = [word for word in bare.split(" ") if word not in vocabulary and word.rstrip("s") not in vocabulary]
        if not bare or not unread or len(unread) == len(bare.split(" ")):
            return f"“{self.words.strip()}” is not understood as a grind."
        return f"“{' '.join(unread)}” in “{self.words.strip()}” is not understood."

    def _refused(self, message: str) -> InputError:
        return InputError("words-unreadable", message, EXAMPLES, field="words")


def _count(text: str) -> Fraction:
    if text.startswith("half") or text == "a half":
        return Fraction(1, 2)
    if text in ("a", "an"):
        return Fraction(1)
    if text in COUNTS:
        return Fraction(COUNTS.index(text))
    return sum((Fraction(part.replace(",", ".")) for part in text.split(" ")), Fraction(0))


def _article(said: str) -> str:
    return said if said[0].isdigit() or said.startswith(("between", "about")) else f"the {said}"


def _words_of(label: str) -> str:
    return re.sub(r"[\s\-–]+", " ", label)


def _lookup(text: str, windows: tuple[Window, ...]) -> Named | None:
    if text in LOOKS_UM:
        return Named(LOOKS_UM[text], LOOKS_SD, text)
    if text in GRADES_UM:
        low, high = GRADES_UM[text]
        return Named(math.sqrt(low * high), math.log(high / low) / 4, text.replace("medium ", "medium-"))
    window = next((w for w in windows if _words_of(w.label) == _words_of(text)), None)
    if window is None and text in METHODS:
        window = window_for(METHODS[text], DOSE_G, windows)
    if window is None:
        return None
    return Named(window.middle_um, math.log(window.high_um / window.low_um) / 4, window.label)
