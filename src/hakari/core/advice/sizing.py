"""Stage five, how much: the size that comes nearest to the goal, within what one pass should change."""

from __future__ import annotations

import numpy as np

from hakari.core.advice.candidate import Candidate
from hakari.core.advice.evidence import Case
from hakari.core.advice.goal import State, outside, time_missed_ln

LARGEST_STEP_LN = 0.14  # 15 % in grind size in one pass, twice that after a stall or a gross miss
GROSS_MISS, GROSS_MISS_PERCENT, GROSS_MISS_LN = 3, 3.5, 0.1
LARGEST_FINER_LN = 0.1  # who starts coarse comes finer by small steps


def too_large(case: Case, candidate: Candidate, now: State, measured: bool) -> bool:
    """Whether a change of grind is more than one pass should make.

    Parameters
    ----------
    case : Case
        The brew to be judged.
    candidate : Candidate
        The change.
    now : State
        The cup as it is.
    measured : bool
        Whether the extraction was measured.

    Returns
    -------
    bool
        Whether a change of grind is more than one pass should make.
    """
    if candidate.kind not in ("grind", "compensated") or not candidate.modelled:
        return False
    missed = outside(now.ey_percent, case.target.ey_percent) if measured else 0.0
    gross = bool(case.outcome.stalled) or missed >= GROSS_MISS_PERCENT
    gross = gross or max(case.outcome.tasted.values(), default=0) >= GROSS_MISS or _far_from_goal(case)
    away = float(np.log(candidate.grind.d50_um / case.grind.d50_um))
    largest = LARGEST_STEP_LN * (2 if gross else 1)
    if case.change_first == "start-coarse" and away < 0:
        largest = LARGEST_FINER_LN
    return candidate.size_steps > 1 and abs(away) > largest


def _far_from_goal(case: Case) -> bool:
    """Whether a time that was asked for is missed by more than a tenth."""
    time, goal = case.outcome.drawdown_s, case.time_goal_s
    return time is not None and goal is not None and time_missed_ln(time, goal) > GROSS_MISS_LN
