"""Whether anything is wrong with a cup, and whether it can be judged: the tongue decides, an estimate never does."""

from __future__ import annotations

from typing import Literal

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


def better_before(case: Case) -> str | None:
    """Return the name of the latest earlier slip that was clearly better by words alone, if this cup has complaints.

    Parameters
    ----------
    case : Case
        The brew to be judged.

    Returns
    -------
    str or None
        The name of the latest earlier slip that was clearly better by words alone, if this cup has complaints.
    """
    here = praise(case.outcome) - complaints(case.outcome)
    if complaints(case.outcome) == 0:
        return None
    for earlier in case.previous:
        there = praise(earlier.outcome) - complaints(earlier.outcome)
        if earlier.differs and there > 0 and there - here >= CLEARLY_BETTER:
            return earlier.name
    return None
