"""The changes that come into question, each at its best size, in the order in which they are offered."""

from __future__ import annotations

from dataclasses import dataclass

from hakari.core.advice.candidate import Candidate, Kind
from hakari.core.advice.estimates import SimulatedMoves, estimate_after
from hakari.core.advice.goal import CupGoal, State
from hakari.core.advice.judged import Judged
from hakari.core.advice.levers import Refusal, lever_order, refusal_of, wished
from hakari.core.advice.rules import Rule, rank_in
from hakari.core.advice.sizing import too_large

MOST_STEPS_OF_TIME = 4  # a steep further off than so many steps of time is ground otherwise


HARMFUL: tuple[Refusal, ...] = ("wrong-way", "leaves-the-target")


@dataclass(frozen=True)
class Option:
    """A change with where it leads, how far that is from the goal, and why it is not offered, if it is not."""

    candidate: Candidate
    then: State
    cost: float
    refusal: Refusal | None


def options_of(judged: Judged, runs: SimulatedMoves, wanted: CupGoal) -> list[Option]:
    """Every kind and direction of change once, at its best size: one that may be offered, and the nearest to the goal.

    Parameters
    ----------
    judged : Judged
        The cup as it was read.
    runs : SimulatedMoves
        What the models say of every change.
    wanted : CupGoal
        Where the cup is to go.

    Returns
    -------
    list[Option]
        One for each kind and direction of change.
    """
    case, now = judged.case, judged.now
    best: dict[tuple[Kind, str], Option] = {}
    for candidate, run in runs.changes:
        if case.only is not None and candidate.modelled and candidate.kind not in case.only:
            continue
        if too_large(case, candidate, now, judged.measured):
            continue
        then = estimate_after(case, candidate, now, (runs.now, run))
        refusal = refusal_of(candidate, judged.reading, judged.signs, now, then, wanted)
        option = Option(candidate, then, wanted.cost(then), refusal)
        key = (candidate.kind, candidate.direction)
        known = best.get(key)
        if known is None or (refusal is not None, option.cost) < (known.refusal is not None, known.cost):
            best[key] = option
    return list(best.values())


def ranked_options(judged: Judged, rule: Rule | None, options: list[Option]) -> list[Option]:
    """Return what may be offered: what the situation asks for, what serves the goal, then the levers in their order.

    Parameters
    ----------
    judged : Judged
        The cup as it was read.
    rule : Rule or None
        What the situation asks for.
    options : list[Option]
        All that come into question.

    Returns
    -------
    list[Option]
        What may be offered, first things first.
    """
    order = lever_order(judged.case)
    ranked: list[tuple[tuple[float, ...], Option]] = []
    for option in options:
        candidate = option.candidate
        asked = rank_in(rule, candidate) if rule is not None else None
        leans = wished(judged.case, candidate)
        if asked is not None and _worth_asking(judged, option):
            ranked.append(((0, asked, option.cost), option))
        elif leans is not None and option.refusal not in HARMFUL:
            ranked.append(((1, leans, option.cost), option))
        elif option.refusal is None and candidate.kind in order:
            ranked.append(((2, order.index(candidate.kind), option.cost), option))
    return [option for _, option in sorted(ranked, key=lambda pair: pair[0])]


def _worth_asking(judged: Judged, option: Option) -> bool:
    """Whether a change that the situation asks for does no harm, after a stall more than a repeat would, and is no trifle.

    A step of time that would be needed many times over is no answer to a steep that is far off.
    """
    if option.refusal in HARMFUL:
        return False
    put_right = judged.case.pressed_late or judged.case.pressed_early
    if option.candidate.kind == "time" and not put_right:
        does = abs(option.then.ey_percent - judged.now.ey_percent)
        if judged.miss_percent > MOST_STEPS_OF_TIME * does:
            return False
    return not (judged.stalled and option.candidate.modelled and option.refusal == "too-small")
