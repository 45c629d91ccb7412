"""How practice goes: scores over time, the eye's bias and threshold, and what is due."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, datetime

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from hakari.core.experiment.due import Practised, due_at
from hakari.core.experiment.guessing import judge_guesses
from hakari.core.experiment.staircase import Trial, threshold
from hakari.formats.base import Document, Pair
from hakari.service.drills.questions import Drill
from hakari.store import models

SERIES = 40
FEWEST_FOR_THRESHOLD = 12


class DrillPoint(Document):
    """One answer: a score in the drill's own measure, and whether it went well."""

    at: str
    value: float
    well: bool


class EyeBiasView(Document):
    """How far an eye is off in the median, %, above zero where it guesses large, and the spread about that."""

    bias_percent: float
    ci95_percent: Pair
    spread_percent: float


class ThresholdView(Document):
    """The smallest difference that an eye tells three times in four, %, with its 95 % interval."""

    percent: float
    ci95_percent: Pair
    trials: int


class DrillView(Document):
    """A drill: how often it was done, what is due, and how it went.

    ``series`` holds per cent off for sizes, the difference shown in per cent for pairs, scores for pours, and 1 or 0 for the
    others.
    """

    drill: Drill
    answers: int
    due: int
    items: int
    right_share: float | None
    series: list[DrillPoint]
    bias: EyeBiasView | None = None
    threshold: ThresholdView | None = None


def record(session: Session, drill: Drill, item: str, value: float, truth: float, well: bool) -> None:
    """Keep an answer."""
    session.add(models.DrillAnswer(drill=drill, item=item, value=value, truth=truth, well=well))
    session.flush()


def answers_of(session: Session, drill: Drill) -> list[models.DrillAnswer]:
    """Return all answers of a drill, oldest first."""
    return list(
        session.scalars(
            select(models.DrillAnswer)
            .where(models.DrillAnswer.drill == drill, models.DrillAnswer.deleted_at.is_(None))
            .order_by(models.DrillAnswer.id)
        )
    )


def next_item(
    session: Session, drill: Drill, items: Sequence[str], rng: np.random.Generator, now: datetime | None = None
) -> str:
    """Return what is asked next: what is due longest, then what was never asked, then what is due soonest."""
    at = now or datetime.now(UTC)
    due = _due(answers_of(session, drill), items)
    overdue = [(d, i) for i, d in due.items() if d is not None and d <= at]
    if overdue:
        return min(overdue)[1]
    new = [i for i, d in due.items() if d is None]
    if new:
        return new[int(rng.integers(len(new)))]
    return min((d, i) for i, d in due.items() if d is not None)[1]


def drill_view(session: Session, drill: Drill, items: Sequence[str]) -> DrillView:
    """Return how a drill goes."""
    rows, now = answers_of(session, drill), datetime.now(UTC)
    due = _due(rows, items)
    return DrillView(
        drill=drill, answers=len(rows), items=len(items),
        due=sum(1 for d in due.values() if d is None or d <= now),
        right_share=sum(r.well for r in rows) / len(rows) if rows else None,
        series=[
            DrillPoint(at=r.created_at.isoformat(), value=_shown(drill, r), well=r.well) for r in rows[-SERIES:]
        ],
        bias=_bias(rows) if drill == "size" else None,
        threshold=eye_threshold(session, drill) if drill in ("finer", "fines") else None,
    )  # fmt: skip


def eye_threshold(session: Session, drill: Drill = "finer") -> ThresholdView | None:
    """Return the smallest difference that the eye tells, once enough pairs were compared."""
    trials = trials_of(session, drill)
    found = threshold(trials)
    if found is None or found.trials < FEWEST_FOR_THRESHOLD:
        return None
    low, high = found.ci95_ln
    return ThresholdView(
        percent=_percent(found.difference_ln), ci95_percent=(_percent(low), _percent(high)), trials=found.trials
    )


def trials_of(session: Session, drill: Drill) -> list[Trial]:
    """Return the comparisons of a drill."""
    return [Trial(r.truth, r.well) for r in answers_of(session, drill)]


def _due(rows: Sequence[models.DrillAnswer], items: Sequence[str]) -> dict[str, datetime | None]:
    done: dict[str, list[Practised]] = {i: [] for i in items}
    for r in rows:
        if r.item in done:
            done[r.item].append(Practised(r.created_at, r.well))
    return {i: due_at(practised) for i, practised in done.items()}


def _shown(drill: Drill, row: models.DrillAnswer) -> float:
    if drill == "size":
        return 100 * (row.value / row.truth - 1)
    if drill in ("finer", "fines"):
        return _percent(row.truth)
    return row.value


def _bias(rows: Sequence[models.DrillAnswer]) -> EyeBiasView | None:
    found = judge_guesses([r.value for r in rows], [r.truth for r in rows])
    if found is None:
        return None
    low, high = found.ci95_ln
    return EyeBiasView(
        bias_percent=_percent(found.bias_ln), ci95_percent=(_percent(low), _percent(high)),
        spread_percent=_percent(found.spread.sd),
    )  # fmt: skip


def _percent(ln: float) -> float:
    return float(100 * np.expm1(ln))
