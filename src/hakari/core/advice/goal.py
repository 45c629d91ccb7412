"""Where a cup is and where it should go."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hakari.core.advice.evidence import Case, Target
from hakari.core.advice.signs import Signs

TASTE_EY = 0.8  # how far one strength of a taste word puts the extraction from where it is wanted, % of dose
TASTE_TDS = 0.08
NEAR = 0.35  # distance from the goal inside the box, against leaving the box
ASKED = 40.0  # a time that was asked for and is missed, per e-fold: it goes before all else
LATE = 2.0  # a bed that stood or drained very late, per e-fold of its time


def outside(value: float, span: tuple[float, float]) -> float:
    """Return how far a value lies out of a span; 0 inside.

    Parameters
    ----------
    value : float
        Any figure.
    span : tuple[float, float]
        From and to, in its unit.

    Returns
    -------
    float
        Distance to the nearer end, in its unit.
    """
    return max(span[0] - value, value - span[1], 0.0)


def time_missed_ln(time_s: float, span_s: tuple[float, float]) -> float:
    """Return how far a time lies out of a span, in e-folds.

    Parameters
    ----------
    time_s : float
        A time, s.
    span_s : tuple[float, float]
        From and to, s.

    Returns
    -------
    float
        Natural logarithm of the ratio to the nearer end; 0 inside.
    """
    return outside(float(np.log(time_s)), (float(np.log(span_s[0])), float(np.log(span_s[1]))))


@dataclass(frozen=True)
class State:
    """Time, strength and extraction of a brew, measured or estimated."""

    drawdown_s: float
    tds_percent: float
    ey_percent: float
    evenness_percent: float | None = None


@dataclass(frozen=True)
class CupGoal:
    """Where the cup should go: the target's box, leaned by what was tasted."""

    target: Target
    ey_goal: float
    tds_goal: float
    free_tds: bool  # a concentrate's strength is set in the cup
    shift: tuple[float, float]  # what stands between a level that was not measured and the middle of the box
    time_goal_s: tuple[float, float] | None  # a span asked for
    due_s: float | None  # when the bed should have been bare, where it was so late that this alone wants mending

    @classmethod
    def from_signs(cls, case: Case, signs: Signs, now: State, due_s: float) -> CupGoal:
        """From target and tongue; ``due_s`` is when the bed should have been bare.

        Parameters
        ----------
        case : Case
            The brew to be judged.
        signs : Signs
            Evidence as numbers.
        now : State
            The cup as it is.
        due_s : float
            Predicted time of the bare bed, s.

        Returns
        -------
        CupGoal
            What the cup should become.
        """
        target = case.target
        measured = case.outcome.tds_percent is not None or case.outcome.spent_dry_g is not None
        mid_ey, mid_tds = sum(target.ey_percent) / 2, sum(target.tds_percent) / 2
        # A model's level is not to be trusted as its changes are: unmeasured, the cup is where the tongue puts it.
        shift = (0.0, 0.0) if measured else (mid_ey - now.ey_percent, mid_tds - now.tds_percent)
        lean = TASTE_EY * (signs["under"] - signs["over"])
        taste_goal = now.ey_percent + shift[0] + lean
        heard = min(1.0, (signs["under"] + signs["over"]) / 2) * 0.6 if measured else 1.0
        ey_goal = (1 - heard) * mid_ey + heard * taste_goal
        tds_goal = mid_tds + TASTE_TDS * (signs["weak"] - signs["strong"]) * (0.5 if measured else 1.0)
        half = (target.ey_percent[1] - target.ey_percent[0]) / 2
        ey_goal = float(np.clip(ey_goal, mid_ey - 1.5 * half, mid_ey + 1.5 * half))
        late = case.outcome.stalled or signs["slow"] > 1.5
        return cls(
            target, ey_goal, tds_goal, signs["concentrate"] > 0, shift, case.time_goal_s, due_s if late else None
        )

    @property
    def measured(self) -> bool:
        """Whether the level was measured."""
        return self.shift == (0.0, 0.0)

    def leaves(self, now: State, then: State, noise_ey_percent: float, noise_tds_percent: float) -> bool:
        """Whether a figure that was measured in the box would leave it by more than a repeat may.

        Parameters
        ----------
        now, then : State
            The cup before and after a change.
        noise_ey_percent : float
            What a repeat differs by in extraction, % of dose.
        noise_tds_percent : float
            What it differs by in strength, %.

        Returns
        -------
        bool
            Whether one of the two goes out.
        """
        if not self.measured:
            return False
        axes = [(now.ey_percent, then.ey_percent, self.target.ey_percent, noise_ey_percent)]
        if not self.free_tds:
            axes.append((now.tds_percent, then.tds_percent, self.target.tds_percent, noise_tds_percent))
        return any(outside(was, span) == 0 and outside(will, span) > noise for was, will, span, noise in axes)

    def inside(self, state: State) -> bool:
        """Whether a cup is in the box as far as is known; a concentrate by its extraction alone.

        Parameters
        ----------
        state : State
            Time, strength and extraction.

        Returns
        -------
        bool
            Whether a cup is in the box as far as is known.
        """
        tds = sum(self.target.tds_percent) / 2 if self.free_tds else state.tds_percent
        return self.target.holds(state.ey_percent, tds)

    def cost(self, state: State) -> float:
        """Distance from the goal: extraction in steps of 1 %, strength in steps of 0.1 %, outside the box dearer.

        Parameters
        ----------
        state : State
            Time, strength and extraction.

        Returns
        -------
        float
            Distance from the goal.
        """
        ey, tds = state.ey_percent + self.shift[0], state.tds_percent + self.shift[1]
        out = outside(ey, self.target.ey_percent)
        near = abs(ey - self.ey_goal)
        if not self.free_tds:
            out += outside(tds, self.target.tds_percent) / 0.1
            near += 0.5 * abs(tds - self.tds_goal) / 0.1
        late = max(0.0, float(np.log(state.drawdown_s / self.due_s))) if self.due_s else 0.0
        asked = time_missed_ln(state.drawdown_s, self.time_goal_s) if self.time_goal_s else 0.0
        return out + NEAR * near + LATE * late + ASKED * asked
