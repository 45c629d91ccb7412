"""From evidence to one change, in stages: read the cup, see whether it can be judged, choose the lever and its size."""

from __future__ import annotations

from hakari.core.advice.answer import Advice, Move, RuledOut
from hakari.core.advice.causes import WeighedCause, weigh
from hakari.core.advice.estimates import SimulatedMoves, estimate_now, half_width_of, repeat_noise, simulate_moves
from hakari.core.advice.evidence import Case
from hakari.core.advice.goal import CupGoal, State
from hakari.core.advice.judged import Judged
from hakari.core.advice.no_change import instead_of_a_change, no_change_advice, settled_by_evidence
from hakari.core.advice.options import Option, options_of, ranked_options
from hakari.core.advice.plausibility import check_outcome, check_strength
from hakari.core.advice.reading import read
from hakari.core.advice.rules import rule_for
from hakari.core.advice.signs import signs_of
from hakari.core.advice.status import (
    better_before,
    since_last,
)
from hakari.core.advice.wording import cause_mended, caution_for, name_of, reason_for, side_effects_of, why_not
from hakari.core.brew.units import clock

FITTED_TIME_SHARE = 0.07  # the same once fitted, for brews as alike as usual
UNFITTED_TIME_SHARE = 0.16  # how far off a predicted time may be before being late says much
_PAIRS = (("coarser", "finer"), ("hotter", "cooler"), ("longer", "shorter"), ("more", "less"))
OPPOSITES = {a: b for pair in _PAIRS for a, b in (pair, pair[::-1])}


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
    check_strength(case.outcome.tds_percent, case.drink_g(float(flow.drink_g[-1])), case.plan.dose_g)
    now, measured = estimate_now(case, flow, cup)
    ey_measured = "ey_percent" in measured
    ey_known = now.ey_percent if ey_measured else None
    signs = signs_of(case, flow.bare_bed_s, ey_known, _time_share(case))
    causes = weigh(signs)
    wanted = CupGoal.from_signs(case, signs, now, flow.bare_bed_s)
    judged = Judged(case, signs, now, read(case, signs, now, measured), ey_measured)
    options, rule = options_of(judged, runs, wanted), rule_for(judged)
    good = ranked_options(judged, rule, options)
    back_to = better_before(case)
    status = settled_by_evidence(case, wanted, now, back_to)
    quiet: tuple[Move, ...]
    if status is not None:
        quiet = (instead_of_a_change(case, status, wanted, now, back_to),)
    else:
        quiet = () if good and rule is not None else no_change_advice(case, signs, wanted, now, good)
    moves = _without_opposites([_move(case, o, now, causes, leads=k == 0) for k, o in enumerate(good)])
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


def _without_opposites(moves: list[Move]) -> list[Move]:
    """Return the moves without those that undo one before them."""
    kept: list[Move] = []
    for move in moves:
        if not any(m.kind == move.kind and OPPOSITES.get(m.direction) == move.direction for m in kept):
            kept.append(move)
    return kept


def _time_share(case: Case) -> float:
    """How far off the predicted time may be, as a share of it: the model's part, or what the user's own repeats differ by."""
    model = FITTED_TIME_SHARE * case.factors.brew_scale if case.factors.fitted_on_brews else UNFITTED_TIME_SHARE
    return max(model, case.own_time_share or 0.0)


def _move(case: Case, option: Option, now: State, causes: tuple[WeighedCause, ...], leads: bool) -> Move:
    candidate, then = option.candidate, option.then
    seen = f" at {clock(then.drawdown_s)} and {then.tds_percent:.2f} %" if candidate.modelled else ""
    half = (
        half_width_of(now, then, case.hand_time_share)
        if candidate.modelled
        else repeat_noise(now, case.hand_time_share)
    )
    return Move(
        candidate.kind, candidate.direction, candidate.start, candidate.end, candidate.words,
        reason_for(case, candidate, causes, leads),
        f"If the taste is still the same{seen}, {name_of(candidate)} was not the cause.",
        side_effects_of(case, candidate, now, then), now, then, half, caution_for(case, candidate),
        case.effect_sizes.get(candidate.kind, 1.0),
    )  # fmt: skip
