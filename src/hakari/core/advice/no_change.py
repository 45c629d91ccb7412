"""What is answered instead of a change: taste it first, go back, keep it, brew it again."""

from __future__ import annotations

from hakari.core.advice.answer import Move
from hakari.core.advice.candidate import Kind
from hakari.core.advice.estimates import repeat_noise
from hakari.core.advice.evidence import Case
from hakari.core.advice.goal import CupGoal, State
from hakari.core.advice.options import Option
from hakari.core.advice.signs import Signs
from hakari.core.advice.status import (
    Status,
    judged_nothing,
    praised_without_complaint,
    said_again,
    time_against_goal,
)

CHECK_POURING = "If the next two brews taste different, check your pouring first."


AGAIN = "If the second cup says the same, change one thing then."


USUAL_TARGET = "classical"


def settled_by_evidence(case: Case, wanted: CupGoal, now: State, back_to: str | None) -> Status | None:
    """Return the status that evidence alone decides, before any change is weighed; ``None`` where a change is to be found.

    Parameters
    ----------
    case : Case
        The brew to be judged.
    wanted : CupGoal
        Where the cup is to go.
    now : State
        Where it is.
    back_to : str or None
        An earlier slip that was better.

    Returns
    -------
    Status or None
        The status, where nothing needs to be weighed.
    """
    if judged_nothing(case):
        return "taste-first"
    # A goal that was set and is missed counts as a complaint; an estimate outside the usual box does not.
    goal_missed = case.lean is not None or (case.target.name != USUAL_TARGET and not wanted.inside(now))
    goal_missed = goal_missed or time_against_goal(case) != 0
    if praised_without_complaint(case) and not goal_missed:
        return "keep"
    return "back" if back_to is not None else None


def instead_of_a_change(case: Case, status: Status, wanted: CupGoal, now: State, back_to: str | None) -> Move:
    """Return what stands first where the evidence alone decides.

    Parameters
    ----------
    case : Case
        The brew that is judged.
    status : Status
        What the evidence decided.
    wanted : CupGoal
        Where the cup is to go.
    now : State
        Where it is.
    back_to : str or None
        An earlier slip that was better.

    Returns
    -------
    Move
        What stands first.
    """
    if status == "taste-first":
        reason = "Nothing was tasted yet, and a time alone does not say whether a cup is good."
        return _make_noop_move(
            case, "none", "taste", "taste it first", reason, "Tap what you taste, then look again.", now
        )
    if status == "back":
        words = f"go back to {back_to}"
        reason = f"{str(back_to)[:1].upper()}{str(back_to)[1:]} was clearly better, by your own words."
        return _make_noop_move(
            case,
            "repeat",
            "back",
            words,
            reason,
            "If it is not better again, the coffee, the water or the pouring has changed.",
            now,
        )
    reason = "You liked the cup, and the tongue decides."
    if not wanted.inside(now):
        reason += " Strength or extraction lies outside the usual box; that is a remark, not a fault."
    return _make_noop_move(case, "none", "keep", "keep the recipe", reason, CHECK_POURING, now)


def no_change_advice(case: Case, signs: Signs, wanted: CupGoal, now: State, good: list[Option]) -> tuple[Move, ...]:
    """“Brew it again first” when the evidence is inside the noise, “leave it” when the cup is where it should be.

    Parameters
    ----------
    case : Case
        The brew to be judged.
    signs : Signs
        What was said and seen, weighed.
    wanted : CupGoal
        Where the cup is to go.
    now : State
        Where it is.
    good : list[Option]
        Changes that may be offered.

    Returns
    -------
    tuple of Move
        One, or none where a change is called for.
    """
    spoken = signs["over"] + signs["under"] + signs["weak"] + signs["strong"]
    faults = signs["papery"] + signs["silty"] + signs["plunger-stuck"] + signs["hollow"] + signs["muddled"]
    praised = signs["sweet"] + signs["balanced"] > 0
    measured = case.outcome.tds_percent is not None
    inside = wanted.inside(now)
    if case.lean is not None and good and not case.outcome.stalled and spoken <= 1.0 and faults == 0:
        return ()
    if inside and not case.outcome.stalled and spoken <= 0.5 and faults == 0 and (measured or praised):
        reason = "The cup is in your target and tastes as it should."
        if max(signs["slow"], signs["fast"]) > 0.5:
            reason += " It drained at another time than predicted, but the cup counts, not the clock."
        return (_make_noop_move(case, "none", "keep", "keep the recipe", reason, CHECK_POURING, now),)
    off_time = max(signs["slow"], signs["fast"]) > 1.2
    serious = case.outcome.stalled or (measured and not inside) or off_time or spoken > 1.0 or faults > 0
    serious = serious or said_again(case)
    if not serious:
        reason = "The differences are within what two brews of the same recipe differ by."
        if case.own_time_share is not None:
            noise_s = repeat_noise(now, case.own_time_share).drawdown_s
            reason = f"Your own repeats differ by up to {noise_s:.0f} s: this is within that."
        return (_make_noop_move(case, "repeat", "again", "brew it again first", reason, AGAIN, now),)
    if good:
        return ()
    reason = (
        "No change of grind, temperature or ratio brings the cup closer to the target: the coffee, its roast or the "
        "water may be the limit."
    )
    wrong = "Brew another coffee with this recipe; if that cup is right, it was the coffee."
    return (_make_noop_move(case, "none", "coffee", "try another coffee or water", reason, wrong, now),)


def _make_noop_move(case: Case, kind: Kind, direction: str, words: str, reason: str, wrong_if: str, now: State) -> Move:
    """Return a move that changes nothing in the plan."""
    return Move(kind, direction, "", "", words, reason, wrong_if, (), now, now, repeat_noise(now, case.hand_time_share))
