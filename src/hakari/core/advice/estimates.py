"""Where the cup is, and where each change leads: what was measured, and the models for the rest."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from hakari.core.advice.candidate import Candidate
from hakari.core.advice.evidence import Case
from hakari.core.advice.goal import State
from hakari.core.advice.moves import candidates
from hakari.core.extraction.extract import extract_all
from hakari.core.extraction.result import Extraction
from hakari.core.flow.percolation import SEARCH_STEP_S
from hakari.core.flow.result import Flow
from hakari.core.flow.simulate import simulate_flow

HAND_EY = 0.28


READ_TDS = 0.01  # readings of one drink differ by so much, %, whatever was extracted


MODEL_SHARE = 0.3  # relative error of a predicted change


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
    every = candidates(case)
    plans = [(case.plan, case.grind), *((c.plan, c.grind) for c in every if _brewed_otherwise(c))]
    flows = [simulate_flow(plan, grind, case.factors, SEARCH_STEP_S) for plan, grind in plans]
    cups = extract_all([(*brew, flow) for brew, flow in zip(plans, flows, strict=True)])
    runs = zip(flows, cups, strict=True)
    now = next(runs)
    return SimulatedMoves(now, tuple((c, next(runs) if _brewed_otherwise(c) else None) for c in every))


def _brewed_otherwise(candidate: Candidate) -> bool:
    """Whether a change is one that the models know, and is made before the drink is."""
    return candidate.modelled and candidate.added_g == 0


def estimate_now(case: Case, flow: Flow, cup: Extraction) -> tuple[State, tuple[str, ...]]:
    """Measured where it was measured, else predicted; a late or early brew moves the predicted extraction along.

    Parameters
    ----------
    case : Case
        The brew to be judged.
    flow, cup : Flow, Extraction
        What the models say of it.

    Returns
    -------
    tuple[State, tuple of str]
        The cup, and the names of what of it was measured.
    """
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


def estimate_after(case: Case, candidate: Candidate, now: State, runs: tuple[Run, Run | None]) -> State:
    """Move the real brew by the ratio that the model predicts; levels are the user's own, only changes the model's.

    Parameters
    ----------
    case : Case
        The brew to be judged.
    candidate : Candidate
        The change.
    now : State
        Where the cup is.
    runs : tuple
        What the models say of the brew as it is, and as it would be.

    Returns
    -------
    State
        Where the change leads.
    """
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


def half_width_of(now: State, then: State, hand_time_share: float) -> State:
    """95 % half-widths of the after: the noise of hand and reading in two brews, and the model's share of the change.

    Parameters
    ----------
    now, then : State
        The cup before and after.
    hand_time_share : float
        Spread of one brew's time, as a share of it.

    Returns
    -------
    State
        Half widths, s and %.
    """

    def width(noise: float, change: float) -> float:
        return 1.96 * float(np.hypot(noise * np.sqrt(2), MODEL_SHARE * change))

    ey = width(HAND_EY, then.ey_percent - now.ey_percent)
    tds = float(np.hypot(ey * then.tds_percent / max(then.ey_percent, 1e-9), width(READ_TDS, 0.0)))
    return State(width(hand_time_share * then.drawdown_s, then.drawdown_s - now.drawdown_s), tds, ey)


def repeat_noise(now: State, hand_time_share: float) -> State:
    """How far two brews of one plan differ, 95 %.

    Parameters
    ----------
    now : State
        Where the cup is.
    hand_time_share : float
        Spread of one brew's time, as a share of it.

    Returns
    -------
    State
        Half widths, s and %.
    """
    return State(hand_time_share * now.drawdown_s * 2.77, 0.06, HAND_EY * 2.77)
