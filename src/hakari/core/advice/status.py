"""Whether anything is wrong with a cup, and whether it can be judged: the tongue decides, an estimate never does."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from hakari.core.advice.evidence import Case, Outcome

Status = Literal["taste-first", "keep", "repeat", "back", "change"]

PRAISE = ("sweet", "balanced")
BED_IN_ORDER = ("flat", "cone", "shiny")
LIKED_FROM, DISLIKED_TO = 4, 2
CLEARLY_BETTER = 2.0


def complaints(outcome: Outcome) -> float:
    """Strength of all that is not praise, from taste words; 0 when nothing was said against the cup.

    Parameters
    ----------
    outcome : Outcome
        What was recorded of the cup.

    Returns
    -------
    float
        Strength of all that is not praise, from taste words.
    """
    said = sum(v for word, v in outcome.tasted.items() if word not in PRAISE)
    return said + (1.0 if outcome.liked is not None and outcome.liked <= DISLIKED_TO else 0.0)


def praise(outcome: Outcome) -> float:
    """Strength of what was said for the cup.

    Parameters
    ----------
    outcome : Outcome
        What was recorded of the cup.

    Returns
    -------
    float
        Strength of what was said for the cup.
    """
    said = sum(v for word, v in outcome.tasted.items() if word in PRAISE)
    return said + (2.0 if outcome.liked is not None and outcome.liked >= LIKED_FROM else 0.0)


def judged_nothing(case: Case) -> bool:
    """Whether nothing was tasted, measured or seen that a change could rest on; a time alone is not enough.

    Parameters
    ----------
    case : Case
        The brew to be judged.

    Returns
    -------
    bool
        Whether nothing was tasted, measured or seen that a change could rest on.
    """
    o = case.outcome
    measured = o.tds_percent is not None or o.spent_dry_g is not None
    seen = o.stalled or o.plunger_stuck or any(sign not in BED_IN_ORDER for sign in o.bed)
    return not (complaints(o) or praise(o) or o.liked is not None or measured or seen)


def praised_without_complaint(case: Case) -> bool:
    """Whether the cup is good as it is: praised, nothing against it, and nothing wrong with the brew itself.

    Parameters
    ----------
    case : Case
        The brew to be judged.

    Returns
    -------
    bool
        Whether the cup is good as it is.
    """
    o = case.outcome
    return praise(o) > 0 and complaints(o) == 0 and not o.stalled and not o.plunger_stuck


def time_against_goal(case: Case) -> int:
    """Return whether the brew took longer (1) or shorter (−1) than was asked for; 0 where it did not, or one is not known.

    Parameters
    ----------
    case : Case
        The brew to be judged.

    Returns
    -------
    int
        1, −1 or 0.
    """
    time, goal = case.outcome.drawdown_s, case.time_goal_s
    if time is None or goal is None:
        return 0
    return 1 if time > goal[1] else -1 if time < goal[0] else 0


def said_again(case: Case) -> bool:
    """Whether the same brew was complained of in the same words before: then a repeat has told what it can.

    Parameters
    ----------
    case : Case
        The brew to be judged.

    Returns
    -------
    bool
        Whether the latest earlier slip of this very plan shares a complaint.
    """
    same = next((e for e in case.previous if not e.differs), None)
    if same is None:
        return False
    here = {word for word, strength in case.outcome.tasted.items() if strength > 0 and word not in PRAISE}
    return bool(here & {word for word, strength in same.outcome.tasted.items() if strength > 0})


@dataclass(frozen=True)
class SinceLast:
    """What was changed since the slip before, and how this cup compares with that one by what was tasted.

    ``compared`` is 1 where this cup is better, −1 where it is worse, 0 where they are alike, ``None`` where either was not
    tasted.
    """

    name: str
    changed: tuple[str, ...]
    compared: int | None


def since_last(case: Case) -> SinceLast | None:
    """Compare a cup with the one before it alone: of several things changed at once, taste says only whether they helped.

    Parameters
    ----------
    case : Case
        The brew to be judged.

    Returns
    -------
    SinceLast or None
        ``None`` where there is no earlier slip.
    """
    if not case.previous:
        return None
    last = case.previous[0]
    here, there = _verdict(case.outcome), _verdict(last.outcome)
    compared = None if here is None or there is None else int(np.sign(here - there))
    return SinceLast(last.name, last.changed, compared)


def _verdict(outcome: Outcome) -> float | None:
    """Return what was said for a cup less what was said against it; ``None`` where it was not tasted."""
    told = praise(outcome) or complaints(outcome) or outcome.liked is not None
    return _good(outcome) if told else None


def better_before(case: Case) -> str | None:
    """Return the name of the best earlier slip that was clearly better, if this cup has complaints.

    The best is the one that was liked most, then the one with the best words, then the latest; estimates have no say.

    Parameters
    ----------
    case : Case
        The brew to be judged.

    Returns
    -------
    str or None
        Its name.
    """
    better = [e for e in case.previous if e.differs and clearly_better(e.outcome, case.outcome)]
    # ``max`` takes the first of equals, which is the newest.
    best = max(better, key=lambda e: merit(e.outcome), default=None)
    return best.name if best is not None else None


def clearly_better(earlier: Outcome, here: Outcome) -> bool:
    """Whether an earlier cup was good and clearly better than one that was complained of.

    Parameters
    ----------
    earlier, here : Outcome
        What was recorded of the two cups.

    Returns
    -------
    bool
        Whether to go back to the earlier one.
    """
    return complaints(here) > 0 and _good(earlier) > 0 and _good(earlier) - _good(here) >= CLEARLY_BETTER


def merit(outcome: Outcome) -> tuple[int, float]:
    """Return what good cups are compared by: how they were liked, then their words; estimates have no say.

    Parameters
    ----------
    outcome : Outcome
        What was recorded of the cup.

    Returns
    -------
    tuple of int and float
        Larger is better.
    """
    return outcome.liked or 0, _good(outcome)


def _good(outcome: Outcome) -> float:
    """Return what was said for a cup less what was said against it."""
    return praise(outcome) - complaints(outcome)
