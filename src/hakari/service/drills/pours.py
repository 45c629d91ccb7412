"""Pours to practise: what is asked, and how a pour by the on-screen kettle or from a scale's log is scored."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from pydantic import Field
from sqlalchemy.orm import Session

from hakari.core.brew.steps import Step
from hakari.core.errors import InputError
from hakari.core.experiment.pouring import BAND_G, BAND_SHARE, judge_pour
from hakari.core.flow.accuracy import pour_accuracy
from hakari.core.flow.capture import find_pours
from hakari.formats.base import Document, Pair
from hakari.formats.brew_log import read_log
from hakari.service.brews.views import AccuracyView
from hakari.service.drills.progress import record
from hakari.service.workspace.at_hand import at_hand
from hakari.service.workspace.transaction import Workspace, lookup
from hakari.store import models

WELL_FROM = 70
OWN = "plan"
MOST_READINGS = 20_000
STARTED_G = 1.0


class PourCurve(Document):
    """A pour that is asked for: corners of wanted weight over time; ``name`` is a code, or ``plan`` for the bench's own."""

    name: str
    points: list[Pair]
    rate_g_s: float | None
    band_g: float = BAND_G
    band_share: float = BAND_SHARE


class PourCurveList(Document):
    """All pours that can be practised."""

    curves: list[PourCurve]


class PourEntry(Document):
    """A pour as it went: by the on-screen kettle, which is a simulation, or from a scale's log."""

    curve: Annotated[str, Field(max_length=20)]
    readings: Annotated[list[Pair], Field(max_length=MOST_READINGS)] = []
    log: Annotated[str, Field(max_length=2_000_000)] | None = None


class PourResult(Document):
    """How a pour went, with its readings; ``score`` is the share of the time within the band, in per cent.

    ``accuracy`` judges each pour as after a brew; it is missing where another number of pours is seen than was asked for.
    """

    score: int
    in_band_share: float
    off_g: float
    rate_g_s: float
    rate_sd_g_s: float
    end_off_g: float
    readings: list[Pair]
    accuracy: AccuracyView | None


STEADY: dict[str, tuple[tuple[float, float], ...]] = {
    "slow": ((0, 0), (40, 120)),
    "steady": ((0, 0), (30, 150)),
    "fast": ((0, 0), (25, 200)),
    "two-pours": ((0, 0), (10, 45), (30, 45), (55, 170)),
}


def curves_of(session: Session) -> list[PourCurve]:
    """Return the pours that can be practised; the last is the bench's own plan."""
    found = [PourCurve(name=n, points=list(p), rate_g_s=_rate(p)) for n, p in STEADY.items()]
    plan = lookup(session, models.Plan, at_hand(session).plan_id)
    if plan is not None:
        points = plan_curve(plan)
        if len(points) > 1:
            found.append(PourCurve(name=OWN, points=points, rate_g_s=None))
    return found


def list_curves(ws: Workspace) -> PourCurveList:
    """Return all pours that can be practised."""
    with ws.transaction() as session:
        return PourCurveList(curves=curves_of(session))


def plan_curve(plan: models.Plan) -> list[Pair]:
    """Return the wanted weight of a plan's pours at the times that are predicted for them."""
    starts = plan.prediction.pour_starts_s
    points: list[Pair] = [(0.0, 0.0)]
    for pour, start_s in zip(plan.document.pours, starts, strict=False):
        total = points[-1][1]
        if start_s > points[-1][0]:
            points.append((start_s, total))
        points.append((start_s + max(pour.duration_s, 1.0), total + pour.water_g))
    return points


def score_pour(ws: Workspace, entry: PourEntry) -> PourResult:
    """Score a pour, and keep its score.

    Raises
    ------
    InputError
        ``unknown-pour``; as ``judge_pour`` and the reading of a log.
    """
    with ws.transaction() as session:
        curve = next((c for c in curves_of(session) if c.name == entry.curve), None)
        if curve is None:
            raise InputError(
                "unknown-pour", f"There is no pour “{entry.curve}”.", "Choose one of the list.", field="curve"
            )
        readings = _readings(entry)
        found = judge_pour(
            [t for t, _ in readings], [w for _, w in readings], [t for t, _ in curve.points],
            [g for _, g in curve.points],
        )  # fmt: skip
        record(session, "pour", entry.curve, float(found.score), 100.0, found.score >= WELL_FROM)
        return PourResult(
            score=found.score, in_band_share=found.in_band_share, off_g=found.off_g, rate_g_s=found.rate_g_s,
            rate_sd_g_s=found.rate_sd_g_s, end_off_g=found.end_off_g, readings=readings,
            accuracy=_accuracy(curve, readings),
        )  # fmt: skip


def _readings(entry: PourEntry) -> list[Pair]:
    if entry.log is None:
        return sorted({t: (t, w) for t, w in entry.readings}.values())
    log, _ = read_log(entry.log)
    weights = log.poured_g if any(w is not None for w in log.poured_g) else log.drink_g
    read = [(t, w) for t, w in zip(log.t_s, weights, strict=False) if w is not None]
    # A pour begins with the last reading before the scale moves; without any there is nothing to judge.
    start = next((k - 1 for k, (_, w) in enumerate(read) if w - read[0][1] > STARTED_G), 0)
    return [(t - read[start][0], w - read[start][1]) for t, w in read[start:]]


def _accuracy(curve: PourCurve, readings: list[Pair]) -> AccuracyView | None:
    """Judge each pour of a curve as a brew's pours are judged."""
    t, w = (np.array(column, float) for column in zip(*readings, strict=True))
    corners = zip(curve.points, curve.points[1:], strict=False)
    steps = tuple(Step("pour", t0, t1 - t0, g1 - g0, g1) for (t0, g0), (t1, g1) in corners if g1 > g0)
    judged = pour_accuracy(steps, find_pours(t, w))
    return AccuracyView.model_validate(judged, from_attributes=True) if judged else None


def _rate(points: tuple[tuple[float, float], ...]) -> float | None:
    (_, start), (end_s, end) = points[0], points[-1]
    return (end - start) / end_s if len(points) == 2 else None
