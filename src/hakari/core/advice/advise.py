"""From evidence to one change, in stages: read the cup, see whether it can be judged, choose the lever and its size."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from hakari.core.advice.causes import WeighedCause, weigh
from hakari.core.advice.evidence import Case, Signs, signs_of
from hakari.core.advice.goal import CupGoal, State
from hakari.core.advice.levers import Refusal, lever_order, refusal_of, wished
from hakari.core.advice.moves import Candidate, Kind, candidates
from hakari.core.advice.plausibility import check_outcome, check_strength, check_times
from hakari.core.advice.reading import Reading, read
from hakari.core.advice.rules import Judged, Rule, rank_in, rule_for
from hakari.core.advice.sizing import too_large
from hakari.core.advice.status import (
    SinceLast,
    Status,
    better_before,
    judged_nothing,
    praised_without_complaint,
    said_again,
    since_last,
    time_against_goal,
)
from hakari.core.advice.wording import NAMES, cause_mended, caution_for, reason_for, side_effects_of, why_not
from hakari.core.brew.units import clock
from hakari.core.extraction.extract import extract
from hakari.core.extraction.result import Extraction
from hakari.core.flow.percolation import SEARCH_STEP_S
from hakari.core.flow.result import Flow
from hakari.core.flow.simulate import simulate_flow

HAND_TIME = 0.05  # spread of one brew's time, as a share of it
HAND_EY = 0.28
READ_TDS = 0.01  # readings of one drink differ by so much, %, whatever was extracted
CHECK_POURING = "If the next two brews taste different, check your pouring first."
AGAIN = "If the second cup says the same, change one thing then."
MODEL_SHARE = 0.3  # relative error of a predicted change
FITTED_TIME_SHARE = 0.07  # the same once fitted, for brews as alike as usual
UNFITTED_TIME_SHARE = 0.16  # how far off a predicted time may be before being late says much
MOST_STEPS_OF_TIME = 4  # a steep further off than so many steps of time is ground otherwise
USUAL_TARGET = "classical"
_PAIRS = (("coarser", "finer"), ("hotter", "cooler"), ("longer", "shorter"), ("more", "less"))
HARMFUL: tuple[Refusal, ...] = ("wrong-way", "leaves-the-target")
OPPOSITES = {a: b for pair in _PAIRS for a, b in (pair, pair[::-1])}


@dataclass(frozen=True)
class Move:
    """A change on offer: before → after with 95 % half-widths, why, and what would show it wrong.

    ``effect_size`` is the factor on the models' change that earlier slips taught.
    """

    kind: Kind
    direction: str
    start: str
    end: str
    words: str
    reason: str
    wrong_if: str
    side_effects: tuple[str, ...]
    before: State
    after: State
    half_width: State
    caution: str = ""
    effect_size: float = 1.0


@dataclass(frozen=True)
class RuledOut:
    """A change that is not offered, and why."""

    kind: Kind
    direction: str
    reason: str


@dataclass(frozen=True)
class Advice:
    """Moves best first, causes heaviest first, moves ruled out, where the cup is taken to be, and whether to change at all.

    ``reading`` says what is wrong; ``back_to`` names the earlier slip to go back to where ``status`` is ``back``; ``since``
    what was changed since the slip before.
    """

    moves: tuple[Move, ...]
    causes: tuple[WeighedCause, ...]
    ruled_out: tuple[RuledOut, ...]
    now: State
    measured: tuple[str, ...]
    status: Status
    reading: Reading
    back_to: str | None = None
    since: SinceLast | None = None


Run = tuple[Flow, Extraction]


@dataclass(frozen=True)
class SimulatedMoves:
    """What the models say of a plan and of every change to it; good for any outcome, target and style of one brew."""

    now: Run
    changes: tuple[tuple[Candidate, Run | None], ...]


def simulate_moves(case: Case) -> SimulatedMoves:
    """Run the models for a case and all changes worth weighing.

    Parameters
    ----------
    case : Case
        The brew to be judged.

    Returns
    -------
    SimulatedMoves
        The brew as it is and every change, with what the models say.

    Raises
    ------
    InputError
        When the plan or the setting cannot be used.
    """
    runs = ((c, _run(case, c) if c.modelled and c.added_g == 0 else None) for c in candidates(case))
    return SimulatedMoves(_run(case, None), tuple(runs))


def advise(case: Case, simulated: SimulatedMoves | None = None) -> Advice:
    """Judge one brew.

    Parameters
    ----------
    simulated
        What ``simulate_moves`` gave for the same plan, grind, gear and amounts; computed where it is not at hand.

    Returns
    -------
    Advice
        The moves in order, the causes, and what was ruled out.

    Raises
    ------
    InputError
        When the outcome, the plan or the setting cannot be used.
    """
    check_outcome(case.outcome, case.plan.dose_g)
    runs = simulated or simulate_moves(case)
    flow, cup = runs.now
    if case.plan.steep is None and flow.pour_starts_s:
        check_times(case.outcome.drawdown_s, flow.pour_starts_s[-1])
    check_strength(case.outcome.tds_percent, case.drink_g(float(flow.drink_g[-1])), case.plan.dose_g)
    now, measured = _now(case, flow, cup)
    ey_measured = "ey_percent" in measured
    ey_known = now.ey_percent if ey_measured else None
    signs = signs_of(case, flow.bare_bed_s, ey_known, _time_share(case))
    causes = weigh(signs)
    wanted = CupGoal.from_signs(case, signs, now, flow.bare_bed_s)
    judged = Judged(case, signs, now, read(case, signs, now, measured), ey_measured)
    options, rule = _options(judged, runs, wanted), rule_for(judged)
    good = _ranked(judged, rule, options)
    back_to = better_before(case)
    status = _settled(case, wanted, now, back_to)
    quiet: tuple[Move, ...]
    if status is not None:
        quiet = (_instead_of_a_change(status, wanted, now, back_to),)
    else:
        quiet = () if good and rule is not None else _no_change_advice(case, signs, wanted, now, good)
    moves = _without_opposites([_move(case, o, now, causes) for o in good])
    if quiet:
        moves = [m for m in moves if (m.kind, m.direction) != (quiet[0].kind, quiet[0].direction)]
    ruled = tuple(
        RuledOut(o.candidate.kind, o.candidate.direction, why_not(o.candidate, o.then, now, o.refusal))
        for o in options
        if o.candidate.modelled and o.refusal not in (None, "not-seen") and o not in good
    )
    moves = [*quiet, *moves]
    status = status or ("repeat" if moves and moves[0].kind == "repeat" else "change")
    heading = cause_mended(moves[0].kind, moves[0].direction, causes) if moves else None
    causes = tuple(sorted(causes, key=lambda c: c is not heading))
    back_to = back_to if status == "back" else None
    return Advice(tuple(moves), causes, ruled, now, measured, status, judged.reading, back_to, since_last(case))


@dataclass(frozen=True)
class _Option:
    """A change with where it leads, how far that is from the goal, and why it is not offered, if it is not."""

    candidate: Candidate
    then: State
    cost: float
    refusal: Refusal | None


def _options(judged: Judged, runs: SimulatedMoves, wanted: CupGoal) -> list[_Option]:
    """Every kind and direction of change once, at its best size: one that may be offered, and the nearest to the goal."""
    case, now = judged.case, judged.now
    best: dict[tuple[Kind, str], _Option] = {}
    for candidate, run in runs.changes:
        if case.only is not None and candidate.modelled and candidate.kind not in case.only:
            continue
        if too_large(case, candidate, now, judged.measured):
            continue
        then = _after(case, candidate, now, (runs.now, run))
        refusal = refusal_of(candidate, judged.reading, judged.signs, now, then, wanted)
        option = _Option(candidate, then, wanted.cost(then), refusal)
        key = (candidate.kind, candidate.direction)
        known = best.get(key)
        if known is None or (refusal is not None, option.cost) < (known.refusal is not None, known.cost):
            best[key] = option
    return list(best.values())


def _ranked(judged: Judged, rule: Rule | None, options: list[_Option]) -> list[_Option]:
    """Return what may be offered: what the situation asks for, what serves the goal, then the levers in their order."""
    order = lever_order(judged.case)
    ranked: list[tuple[tuple[float, ...], _Option]] = []
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


def _worth_asking(judged: Judged, option: _Option) -> bool:
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


def _without_opposites(moves: list[Move]) -> list[Move]:
    """Return the moves without those that undo one before them."""
    kept: list[Move] = []
    for move in moves:
        if not any(m.kind == move.kind and OPPOSITES.get(m.direction) == move.direction for m in kept):
            kept.append(move)
    return kept


def _settled(case: Case, wanted: CupGoal, now: State, back_to: str | None) -> Status | None:
    """Return the status that evidence alone decides, before any change is weighed; ``None`` where a change is to be found."""
    if judged_nothing(case):
        return "taste-first"
    # A goal that was set and is missed counts as a complaint; an estimate outside the usual box does not.
    goal_missed = case.lean is not None or (case.target.name != USUAL_TARGET and not wanted.inside(now))
    goal_missed = goal_missed or time_against_goal(case) != 0
    if praised_without_complaint(case) and not goal_missed:
        return "keep"
    return "back" if back_to is not None else None


def _instead_of_a_change(status: Status, wanted: CupGoal, now: State, back_to: str | None) -> Move:
    """Return what stands first where the evidence alone decides."""
    if status == "taste-first":
        reason = "Nothing was tasted yet, and a time alone does not say whether a cup is good."
        return _make_noop_move("none", "taste", "taste it first", reason, "Tap what you taste, then look again.", now)
    if status == "back":
        words = f"go back to {back_to}"
        reason = f"{str(back_to)[:1].upper()}{str(back_to)[1:]} was clearly better, by your own words."
        return _make_noop_move(
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
    return _make_noop_move("none", "keep", "keep the recipe", reason, CHECK_POURING, now)


def _time_share(case: Case) -> float:
    """How far off the predicted time may be, as a share of it."""
    return FITTED_TIME_SHARE * case.factors.brew_scale if case.factors.fitted_on_brews else UNFITTED_TIME_SHARE


def _run(case: Case, candidate: Candidate | None) -> Run:
    plan = candidate.plan if candidate else case.plan
    grind = candidate.grind if candidate else case.grind
    flow = simulate_flow(plan, grind, case.factors, SEARCH_STEP_S)
    return flow, extract(plan, grind, flow)


def _now(case: Case, flow: Flow, cup: Extraction) -> tuple[State, tuple[str, ...]]:
    """Measured where it was measured, else predicted; a late or early brew moves the predicted extraction along."""
    o = case.outcome
    measured = []
    time = flow.bare_bed_s
    if o.drawdown_s is not None:
        time = o.drawdown_s
        measured.append("drawdown_s")
    # What was held back of a concentrate took its share of the coffee with it.
    drunk = max(0.0, 1.0 - case.held_back_g / cup.drink_g)
    per_dose = case.plan.dose_g * drunk / case.drink_g(cup.drink_g)
    if o.tds_percent is not None:
        measured += ["tds_percent", "ey_percent"]
        return State(time, o.tds_percent, o.tds_percent / per_dose, 100 * cup.evenness), tuple(measured)
    if o.spent_dry_g is not None:
        measured.append("ey_percent")
        ey = 100 * (1 - o.spent_dry_g / case.plan.dose_g)
    else:
        # Contact time and surface move together: about 0.2 % of extraction for 1 % of time.
        ey = cup.ey_percent * (time / flow.bare_bed_s) ** 0.2
    return State(time, ey * per_dose, ey, 100 * cup.evenness), tuple(measured)


def _after(case: Case, candidate: Candidate, now: State, runs: tuple[Run, Run | None]) -> State:
    """Move the real brew by the ratio that the model predicts; levels are the user's own, only changes the model's."""
    (f0, c0), changed = runs
    if not candidate.modelled:
        reseated = candidate.kind == "seating" and candidate.direction == "reseat"
        return replace(now, drawdown_s=f0.bare_bed_s) if reseated else now
    if changed is None:
        drink = case.drink_g(c0.drink_g)
        return replace(now, tds_percent=now.tds_percent * drink / (drink + candidate.added_g))
    f1, c1 = changed
    size = case.effect_sizes.get(candidate.kind, 1.0)
    ey = now.ey_percent * (c1.ey_percent / c0.ey_percent) ** size
    tds = now.tds_percent * (c1.tds_percent / c0.tds_percent) ** size
    return State(now.drawdown_s * (f1.bare_bed_s / f0.bare_bed_s) ** size, tds, ey, 100 * c1.evenness)


def _move(case: Case, option: _Option, now: State, causes: tuple[WeighedCause, ...]) -> Move:
    candidate, then = option.candidate, option.then
    seen = f" at {clock(then.drawdown_s)} and {then.tds_percent:.2f} %" if candidate.modelled else ""
    half = _half_width(now, then) if candidate.modelled else _noise(now)
    return Move(
        candidate.kind, candidate.direction, candidate.start, candidate.end, candidate.words,
        reason_for(case, candidate, causes),
        f"If the taste is still the same{seen}, {NAMES[candidate.kind]} was not the cause.",
        side_effects_of(candidate, now, then), now, then, half, caution_for(case, candidate),
        case.effect_sizes.get(candidate.kind, 1.0),
    )  # fmt: skip


def _half_width(now: State, then: State) -> State:
    """95 % half-widths of the after: the noise of hand and reading in two brews, and the model's share of the change."""

    def width(noise: float, change: float) -> float:
        return 1.96 * float(np.hypot(noise * np.sqrt(2), MODEL_SHARE * change))

    ey = width(HAND_EY, then.ey_percent - now.ey_percent)
    tds = float(np.hypot(ey * then.tds_percent / max(then.ey_percent, 1e-9), width(READ_TDS, 0.0)))
    return State(width(HAND_TIME * then.drawdown_s, then.drawdown_s - now.drawdown_s), tds, ey)


def _no_change_advice(case: Case, signs: Signs, wanted: CupGoal, now: State, good: list[_Option]) -> tuple[Move, ...]:
    """“Brew it again first” when the evidence is inside the noise, “leave it” when the cup is where it should be."""
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
        return (_make_noop_move("none", "keep", "keep the recipe", reason, CHECK_POURING, now),)
    off_time = max(signs["slow"], signs["fast"]) > 1.2
    serious = case.outcome.stalled or (measured and not inside) or off_time or spoken > 1.0 or faults > 0
    serious = serious or said_again(case)
    if not serious:
        reason = "The differences are within what two brews of the same recipe differ by."
        return (_make_noop_move("repeat", "again", "brew it again first", reason, AGAIN, now),)
    if good:
        return ()
    reason = (
        "No change of grind, temperature or ratio brings the cup closer to the target: the coffee, its roast or the "
        "water may be the limit."
    )
    wrong = "Brew another coffee with this recipe; if that cup is right, it was the coffee."
    return (_make_noop_move("none", "coffee", "try another coffee or water", reason, wrong, now),)


def _noise(now: State) -> State:
    """How far two brews of one plan differ, 95 %."""
    return State(HAND_TIME * now.drawdown_s * 2.77, 0.06, HAND_EY * 2.77)


def _make_noop_move(kind: Kind, direction: str, words: str, reason: str, wrong_if: str, now: State) -> Move:
    """Return a move that changes nothing in the plan."""
    return Move(kind, direction, "", "", words, reason, wrong_if, (), now, now, _noise(now))
