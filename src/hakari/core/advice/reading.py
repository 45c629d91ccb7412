"""Stage one, reading the cup: on which axis something is wrong, and which way it should go.

Strength and extraction are separate: "strong" alone says nothing of extraction. The tongue decides whether something is
wrong; a measurement says where the cup is and wins over the tongue in the direction; an estimate never causes a change.
"""

from __future__ import annotations

from dataclasses import dataclass

from hakari.core.advice.evidence import Case
from hakari.core.advice.goal import State
from hakari.core.advice.signs import Signs
from hakari.core.advice.status import time_against_goal

UNDER = ("sour", "sharp", "thin", "hollow", "salty")
OVER = ("bitter", "drying", "harsh", "heavy")
VERY_LATE = 1.5  # how slow a bed is, in spreads of its time, where that alone wants mending


@dataclass(frozen=True)
class Reading:
    """What is wrong: for each axis 1 where more is wanted, −1 where less is, 0 where nothing is wrong or known.

    ``time`` is 1 for slower; ``uneven`` holds for under- and over-extraction at once.
    """

    extraction: int
    strength: int
    time: int
    uneven: bool

    @property
    def wrong(self) -> bool:
        """Whether any axis that a lever moves is off."""
        return bool(self.extraction or self.strength or self.time)


def said(case: Case, words: tuple[str, ...]) -> float:
    """Strength of some words together.

    Parameters
    ----------
    case : Case
        The brew to be judged.
    words : tuple[str, ...]
        Taste words.

    Returns
    -------
    float
        Sum of their strengths.
    """
    return sum(v for word, v in case.outcome.tasted.items() if word in words)


def read(case: Case, signs: Signs, now: State, measured: tuple[str, ...]) -> Reading:
    """Return what is wrong with a cup.

    Parameters
    ----------
    case : Case
        The brew to be judged.
    signs : Signs
        Evidence as numbers.
    now : State
        The cup as it is.
    measured : tuple[str, ...]
        Names of the figures in ``now`` that were measured.

    Returns
    -------
    Reading
        What is wrong, by axis.
    """
    uneven = min(said(case, UNDER), said(case, OVER)) > 0
    asked = -time_against_goal(case)
    if case.outcome.stalled or case.outcome.plunger_stuck:
        return Reading(0, 0, -1, uneven)
    if asked:
        return Reading(0, 0, asked, uneven)
    late = signs["slow"] > VERY_LATE and case.time_goal_s is None and not said(case, UNDER)
    strength = _strength(case, now, "tds_percent" in measured)
    extraction = _extraction(case, now, "ey_percent" in measured)
    low, high = case.target.ey_percent
    right = "ey_percent" in measured and low <= now.ey_percent <= high
    if strength < 0 and right and said(case, ("strong",)) >= said(case, OVER):
        extraction = 0  # what is strong at the right extraction tastes harsh from its strength
    return Reading(extraction, strength, -1 if late else 0, uneven)


def _extraction(case: Case, now: State, measured: bool) -> int:
    """Return the way; a measurement outside the target wins over the tongue, but bitter at a low extraction is uneven."""
    tongue = said(case, UNDER) - said(case, OVER)
    low, high = case.target.ey_percent
    if measured and not case.is_concentrate and now.ey_percent > high:
        return -1
    if measured and not case.is_concentrate and now.ey_percent < low:
        return 1 if tongue >= 0 else 0
    return 1 if tongue > 0 else -1 if tongue < 0 else 0


def _strength(case: Case, now: State, measured: bool) -> int:
    low, high = case.target.tds_percent
    # What is not diluted yet is set in the cup.
    if measured and not (case.is_concentrate and not case.diluted):
        if now.tds_percent > high:
            return -1
        if now.tds_percent < low:
            return 1
    tongue = said(case, ("weak",)) - said(case, ("strong",))
    return 1 if tongue > 0 else -1 if tongue < 0 else 0
