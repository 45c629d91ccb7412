"""A cup as the rules see it."""

from __future__ import annotations

from dataclasses import dataclass

from hakari.core.advice.evidence import COLD_C, Case
from hakari.core.advice.goal import TASTE_EY, State, outside
from hakari.core.advice.reading import OVER, UNDER, Reading, said
from hakari.core.advice.signs import Signs

LONG_STIR = 2.0  # 50 s
OPPOSITE_WORD = {"weak": ("strong",), "strong": ("weak",)}
OFF_TIME = 1.0  # spreads of the predicted time


@dataclass(frozen=True)
class Judged:
    """A brew with what is known of its cup; ``measured`` says that its extraction was."""

    case: Case
    signs: Signs
    now: State
    reading: Reading
    measured: bool

    def said(self, *words: str) -> bool:
        """Whether any of some words was tasted."""
        return said(self.case, words) > 0

    def only(self, word: str) -> bool:
        """Whether a word of strength was tasted more than its opposite, and nothing of extraction."""
        against = said(self.case, OPPOSITE_WORD.get(word, ()))
        return said(self.case, (word,)) > against and not self.said(*UNDER, *OVER)

    @property
    def over(self) -> bool:
        """Whether over-extraction was tasted, and nothing of under-extraction."""
        return self.said(*OVER) and not self.said(*UNDER)

    @property
    def under(self) -> bool:
        """Whether under-extraction was tasted, and nothing of over-extraction."""
        return self.said(*UNDER) and not self.said(*OVER)

    @property
    def slight(self) -> bool:
        """Whether no word of extraction is strong, nor a measured extraction out of the target."""
        words = self.case.outcome.tasted
        mild = all(words.get(w, 0) <= 1 for w in (*UNDER, *OVER))
        return mild and (self.in_range or not self.measured)

    @property
    def miss_percent(self) -> float:
        """How far the extraction is from where it should be: out of the target by measure, else as far as the tongue says."""
        if self.measured:
            return outside(self.now.ey_percent, self.case.target.ey_percent)
        return TASTE_EY * abs(self.signs["under"] - self.signs["over"])

    @property
    def in_range(self) -> bool:
        """Whether the extraction is in the target."""
        return outside(self.now.ey_percent, self.case.target.ey_percent) == 0

    @property
    def steeps(self) -> bool:
        """Whether a person chooses the time."""
        return self.case.plan.steep is not None

    @property
    def by_time(self) -> bool:
        """Whether a steep is put right by its time before its technique."""
        return self.case.change_first != "technique-first" or self.case.plan.water_c < COLD_C

    @property
    def stalled(self) -> bool:
        """Whether it did not drain."""
        return bool(self.case.outcome.stalled)

    @property
    def clean_bed(self) -> bool:
        """Whether the bed was looked at and is in order, in a cup that does not say over-extracted."""
        seen = self.signs["bed-flat"] > 0 and not self.muddy
        return seen and not self.said(*OVER, "strong") and not self.signs["ey-high"]

    @property
    def muddy(self) -> bool:
        """Whether fines lie on the bed."""
        return self.signs["bed-mud"] > 0 or self.signs["bed-shiny"] > 0
