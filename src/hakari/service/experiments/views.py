"""What the page is shown of experiments."""

from __future__ import annotations

from sqlalchemy.orm import Session

from hakari.formats.base import Document
from hakari.formats.experiment import Body, Kind, TwoWays
from hakari.formats.experiment_result import ExperimentResult, judge
from hakari.service.experiments.blind_rounds import hidden_round, next_pair
from hakari.service.workspace.transaction import lookup
from hakari.store import models


class BlindRound(Document):
    """A round to be tasted: its number from 0, and the codes on the cups in the order of tasting."""

    number: int
    codes: list[str]
    sheet_opened: bool


class ExperimentView(Document):
    """An experiment in a list."""

    id: int
    version: int
    kind: Kind
    name: str
    created_at: str
    finished: bool
    coffee: str | None
    result: ExperimentResult


class ExperimentList(Document):
    """All of them, newest first."""

    experiments: list[ExperimentView]


class ExperimentDetail(ExperimentView):
    """An experiment with what was noted; of a blind one only rounds that were answered are open.

    ``next_order`` is which of two ways is brewed first in the next pair. ``can_go_to_bench`` are the choices that can be put
    on the bench.
    """

    note: str
    alone: bool
    experiment: Body
    round: BlindRound | None
    next_order: str | None
    sheets_opened: int
    grinder: str | None
    can_go_to_bench: list[str]


class PouredCup(Document):
    """A cup on the pouring sheet: its code, and what goes into it."""

    code: str
    holds: str


class PouringSheet(Document):
    """What the one who pours needs, and nobody else may see."""

    round: int
    cups: list[PouredCup]


def list_view(session: Session, row: models.Experiment) -> ExperimentView:
    """Return an experiment as a list shows it."""
    coffee = lookup(session, models.Coffee, row.coffee_id)
    return ExperimentView(
        id=row.id, version=row.version, kind=row.document.kind, name=row.name, created_at=row.created_at.isoformat(),
        finished=row.finished_at is not None, coffee=coffee.name if coffee else None, result=judge(row.document),
    )  # fmt: skip


def detail_view(session: Session, row: models.Experiment) -> ExperimentDetail:
    """Return all of an experiment but what is hidden."""
    hidden = hidden_round(row)
    grinder = lookup(session, models.Grinder, row.grinder_id)
    session.flush()
    return ExperimentDetail(
        **list_view(session, row).model_dump(), note=row.note, alone=row.alone, experiment=row.document,
        round=BlindRound(number=hidden.number, codes=list(hidden.codes), sheet_opened=hidden.number in row.sheets)
        if hidden else None,
        next_order=next_pair(row, row.document) if isinstance(row.document, TwoWays) else None,
        sheets_opened=len(row.sheets), grinder=grinder.name if grinder else None, can_go_to_bench=bench_choices(row),
    )  # fmt: skip


def bench_choices(row: models.Experiment) -> list[str]:
    """Return what of an experiment can be put on the bench: settings, steps of a ladder, the two plans."""
    body = row.document
    if body.kind == "three-grinds" and row.grinder_id is not None:
        return [g.setting for g in body.grinds]
    if body.kind == "ladder" and row.plan_id is not None:
        return [f"{v:g}" for v in body.values]
    if body.kind == "two-ways":
        return [name for name, plan in (("A", row.plan_id), ("B", row.other_plan_id)) if plan is not None]
    return []
