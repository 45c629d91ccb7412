"""From evidence to one change: estimate where the cup is, predict where each change would put it, rank by the gain."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from hakari.core.advice.causes import WeighedCause, remedy_support, weigh
from hakari.core.advice.evidence import Case, Signs, signs_of
from hakari.core.advice.first_answer import extraction_wanted, goes_against, rank_in, rule_for, too_large
from hakari.core.advice.goal import CupGoal, State
from hakari.core.advice.moves import Candidate, Kind, candidates
from hakari.core.advice.order import ORDER, leaning
from hakari.core.advice.plausibility import check_outcome, check_strength, check_times
from hakari.core.advice.status import (
    Status,
    better_before,
    judged_nothing,
    praised_without_complaint,
    time_against_goal,
)
from hakari.core.advice.wording import NAMES, caution_for, reason_for, side_effects_of, why_not
from hakari.core.brew.units import clock
from hakari.core.extraction.extract import extract
from hakari.core.extraction.result import Extraction
from hakari.core.flow.percolation import SEARCH_STEP_S
from hakari.core.flow.result import Flow
from hakari.core.flow.simulate import simulate_flow

HAND_TIME = 0.05  # spread of one brew's time, as a share of it
HAND_EY = 0.28
CHECK_POURING = "If the next two brews taste different, check your pouring first."
AGAIN = "If the second cup says the same, change one thing then."
MODEL_SHARE = 0.3  # relative error of a predicted change
FITTED_TIME_SHARE = 0.07  # the same once fitted, for brews as alike as usual
UNFITTED_TIME_SHARE = 0.16  # how far off a predicted time may be before being late says much
GAIN_WEIGHT = 0.6  # what the models say of a change against what the causes say
LEAST_COST = 1.0
USUAL_TARGET = "classical"
_PAIRS = (("coarser", "finer"), ("hotter", "cooler"), ("longer", "shorter"), ("more", "less"))
OPPOSITES = {a: b for pair in _PAIRS for a, b in (pair, pair[::-1])}
AGAIN_OUTSIDE = 0.2
OFFERED, HARMFUL, SPOKEN_FOR = 0.08, -0.05, 0.3
# Who starts coarse comes finer by small steps.
FINER_STEP_LN = 0.08


@dataclass(frozen=True)
class Move:
    """A change on offer: before → after with 95 % half-widths, why, and what would show it wrong."""

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
    score: float
    caution: str = ""


@dataclass(frozen=True)
class RuledOut:
    """A change that would do harm, and why."""

    kind: Kind
    direction: str
    reason: str


@dataclass(frozen=True)
class Advice:
    """Moves best first, causes heaviest first, moves ruled out, where the cup is taken to be, and whether to change at all.

    ``back_to`` names the earlier slip to go back to where ``status`` is ``back``.
    """

    moves: tuple[Move, ...]
    causes: tuple[WeighedCause, ...]
    ruled_out: tuple[RuledOut, ...]
    now: State
    measured: tuple[str, ...]
    status: Status
    back_to: str | None = None


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
    check_strength(case.outcome.tds_percent, case.outcome.drink_g or float(flow.drink_g[-1]), case.plan.dose_g)
    now, measured = _now(case, flow, cup)
    ey_measured = "ey_percent" in measured
    ey_known = now.ey_percent if ey_measured else None
    signs = signs_of(case, flow.bare_bed_s, ey_known, _time_share(case))
    causes = weigh(signs, case.learned)
    wanted = CupGoal.from_signs(case, signs, now, flow.bare_bed_s)
    best: dict[tuple[Kind, str], _Weighed] = {}
    for candidate, run in runs.changes:
        if case.only is not None and candidate.modelled and candidate.kind not in case.only:
            continue
        if too_large(case, candidate, now, ey_measured):
            continue
        weighed = _weighed(case, candidate, (runs.now, run), now, wanted, causes)
        key = (candidate.kind, candidate.direction)
        if key not in best or weighed.score > best[key].score:
            best[key] = weighed
    ranked = sorted(best.values(), key=lambda w: -w.score)
    good = [w for w in ranked if w.score > OFFERED]
    rule = rule_for(case, now, ey_measured)
    if rule is not None:
        # A rule outranks an estimate, but not a measurement that speaks against it.
        spoken = [(rank_in(rule, w.candidate), w) for w in ranked if w.score > HARMFUL or not ey_measured]
        preferred = [w for _, w in sorted(((r, w) for r, w in spoken if r is not None), key=lambda pair: pair[0])]
        good = preferred + [w for w in good if w not in preferred]
    axis = extraction_wanted(case, now, ey_measured)
    good = [w for w in good if not goes_against(axis, w.candidate)]
    back_to = better_before(case)
    status = _settled(case, wanted, now, back_to)
    quiet: tuple[Move, ...]
    if status is not None:
        quiet = (_instead_of_a_change(status, wanted, now, back_to),)
    else:
        quiet = () if rule is not None and good else _no_change_advice(case, signs, wanted, now, good)
    moves = _without_opposites([_move(case, w, now, causes) for w in good])
    if quiet:
        moves = [m for m in moves if (m.kind, m.direction) != (quiet[0].kind, quiet[0].direction)]
    ruled = tuple(
        RuledOut(w.candidate.kind, w.candidate.direction, why_not(w.candidate, w.then, now))
        for w in ranked
        if w.candidate.modelled and w not in good and (w.score <= OFFERED or goes_against(axis, w.candidate))
    )
    moves = [*quiet, *moves]
    status = status or ("repeat" if moves and moves[0].kind == "repeat" else "change")
    return Advice(tuple(moves), causes, ruled, now, measured, status, back_to if status == "back" else None)


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


@dataclass(frozen=True)
class _Weighed:
    """A candidate with where it leads and how much there is to be said for it."""

    candidate: Candidate
    then: State
    score: float


def _weighed(
    case: Case, candidate: Candidate, runs: tuple[Run, Run | None], now: State, wanted: CupGoal,
    causes: tuple[WeighedCause, ...],
) -> _Weighed:  # fmt: skip
    """Return what the causes say for a change, and what the models say it would do; in the style's order."""
    speaks = remedy_support(causes, candidate.kind, candidate.direction) + leaning(case, candidate)
    order = ORDER[case.school][candidate.kind]
    if not candidate.modelled:
        then = now
        if candidate.kind == "seating" and candidate.direction == "reseat":
            then = replace(now, drawdown_s=runs[0][0].bare_bed_s)
        # A cup that was measured outside the box is not brewed again unchanged.
        outside = wanted.measured and not wanted.inside(now) and candidate.direction == "again"
        # Where no model speaks, a change is taken to mend as much as the causes say.
        return _Weighed(candidate, then, order * speaks * (AGAIN_OUTSIDE if outside else 1 + GAIN_WEIGHT))
    then = _after(case, candidate, now, runs)
    here = max(wanted.cost(now), LEAST_COST)
    gain = float(np.clip((wanted.cost(now) - wanted.cost(then)) / here, -1.0, 1.0))
    if wanted.free_tds and candidate.kind in ("bypass-water", "dilution"):
        gain = speaks
    if speaks >= SPOKEN_FOR:
        gain = max(gain, 0.0)  # what was seen goes before what a model would do to the figures
    if gain < HARMFUL:
        return _Weighed(candidate, then, gain)
    score = order * (speaks + GAIN_WEIGHT * gain) - 0.02 * _strain(candidate, now, then)
    if case.school == "start-coarse" and candidate.direction == "finer":
        score -= 0.8 * max(0.0, float(np.log(case.grind.d50_um / candidate.grind.d50_um)) - FINER_STEP_LN)
    return _Weighed(candidate, then, score)


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
    per_dose = case.plan.dose_g * drunk / (o.drink_g or cup.drink_g * drunk + o.added_water_g)
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
    if changed is None:
        drink = case.outcome.drink_g or c0.drink_g
        return replace(now, tds_percent=now.tds_percent * drink / (drink + candidate.added_g))
    f1, c1 = changed
    ey = now.ey_percent * c1.ey_percent / c0.ey_percent
    tds = now.tds_percent * c1.tds_percent / c0.tds_percent
    return State(now.drawdown_s * f1.bare_bed_s / f0.bare_bed_s, tds, ey, 100 * c1.evenness)


def _strain(candidate: Candidate, now: State, then: State) -> float:
    """Side effects in the same coin: more dial steps, and time far from where it was."""
    return 0.3 * candidate.size_steps + 2.0 * abs(float(np.log(then.drawdown_s / now.drawdown_s)))


def _move(case: Case, weighed: _Weighed, now: State, causes: tuple[WeighedCause, ...]) -> Move:
    candidate, then = weighed.candidate, weighed.then
    seen = f" at {clock(then.drawdown_s)} and {then.tds_percent:.2f} %" if candidate.modelled else ""
    half = _half_width(now, then) if candidate.modelled else _noise(now)
    return Move(
        candidate.kind, candidate.direction, candidate.start, candidate.end, candidate.words,
        reason_for(case, candidate, causes),
        f"If the taste is still the same{seen}, {NAMES[candidate.kind]} was not the cause.",
        side_effects_of(candidate, now, then), now, then, half, weighed.score,
        caution_for(case, candidate),
    )  # fmt: skip


def _half_width(now: State, then: State) -> State:
    """95 % half-widths of the after: the hand's noise in two brews, and the model's share of the change."""

    def width(noise: float, change: float) -> float:
        return 1.96 * float(np.hypot(noise * np.sqrt(2), MODEL_SHARE * change))

    ey = width(HAND_EY, then.ey_percent - now.ey_percent)
    return State(
        width(HAND_TIME * then.drawdown_s, then.drawdown_s - now.drawdown_s),
        ey * then.tds_percent / max(then.ey_percent, 1e-9), ey,
    )  # fmt: skip


def _no_change_advice(case: Case, signs: Signs, wanted: CupGoal, now: State, good: list[_Weighed]) -> tuple[Move, ...]:
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
    return Move(kind, direction, "", "", words, reason, wrong_if, (), now, now, _noise(now), 99.0)
