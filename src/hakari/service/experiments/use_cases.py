"""Experiments: begin, note, taste blind, finish, and put the winner on the bench."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, datetime
from typing import Annotated

from pydantic import Field
from sqlalchemy.orm import Session

from hakari.core.errors import InputError
from hakari.formats.base import Document, Name
from hakari.formats.experiment import (
    Body,
    ExperimentDocument,
    Ladder,
    LadderCup,
    Liking,
    Sieve,
    Triangle,
    TriangleAnswer,
)
from hakari.service.experiments.blind_rounds import HiddenRound, hidden_round, new_seed, rounds_done
from hakari.service.experiments.views import (
    ExperimentDetail,
    ExperimentList,
    ExperimentView,
    PouredCup,
    PouringSheet,
    detail_view,
    list_view,
)
from hakari.service.workspace.at_hand import at_hand
from hakari.service.workspace.transaction import (
    Workspace,
    check_version,
    find,
    list_active,
    mark_deleted,
)
from hakari.store import models

Taster = Annotated[str, Field(max_length=80)]


class NewExperiment(Document):
    """An experiment to begin; of two ways, ``slip_id`` and ``other_slip_id`` say whose plans they are, else the bench's."""

    name: Name
    note: Annotated[str, Field(max_length=600)] = ""
    alone: bool = False
    experiment: Body
    slip_id: int | None = None
    other_slip_id: int | None = None


class ExperimentChange(Document):
    """What to change of an experiment; what is left out stays. What was answered blind cannot be changed."""

    version: int | None = None
    name: Name | None = None
    note: Annotated[str, Field(max_length=600)] | None = None
    finished: bool | None = None
    experiment: Body | None = None


class NamedCup(Document):
    """Which cup a taster named as the odd one, by its place from 0; alone, whether it was right."""

    taster: Name = "taster"
    named: Annotated[int, Field(ge=0, le=2)] | None = None
    right: bool | None = None


class RoundAnswer(Document):
    """The answers of a blind round: of a triangle one a taster, of a ladder how each cup was liked in the order of codes."""

    number: Annotated[int, Field(ge=0, le=10_000)]
    named: Annotated[list[NamedCup], Field(max_length=8)] = []
    liked: Annotated[list[Liking], Field(max_length=7)] = []


def list_experiments(ws: Workspace) -> ExperimentList:
    """Return all experiments, newest first."""
    with ws.transaction() as session:
        rows = list_active(session, models.Experiment)
        return ExperimentList(experiments=[list_view(session, r) for r in reversed(rows)])


def begin(ws: Workspace, new: NewExperiment) -> ExperimentDetail:
    """Begin an experiment on what is on the bench."""
    with ws.transaction() as session:
        here = at_hand(session)
        row = models.Experiment(
            name=new.name, note=new.note, alone=new.alone, document=_without_answers(new.experiment),
            blind_seed=new_seed(), coffee_id=here.coffee_id, grinder_id=here.grinder_id,
            plan_id=_plan_of(session, new.slip_id) or here.plan_id, other_plan_id=_plan_of(session, new.other_slip_id),
            sheets=[],
        )  # fmt: skip
        session.add(row)
        session.flush()
        return detail_view(session, row)


def read_experiment(ws: Workspace, identity: int) -> ExperimentDetail:
    """Return an experiment."""
    with ws.transaction() as session:
        return detail_view(session, _find(session, identity))


def experiment_document(ws: Workspace, identity: int) -> ExperimentDocument:
    """Return an experiment in the open format."""
    with ws.transaction() as session:
        row = _find(session, identity)
        return ExperimentDocument(name=row.name, note=row.note, experiment=row.document)


def change_experiment(ws: Workspace, identity: int, change: ExperimentChange) -> ExperimentDetail:
    """Change what was noted, the name or the number of rounds; ``InputError`` ``other-kind``."""
    with ws.transaction() as session:
        row = _find(session, identity)
        check_version(row, change.version)
        if change.name is not None:
            row.name = change.name
        if change.note is not None:
            row.note = change.note
        if change.finished is not None:
            row.finished_at = datetime.now(UTC) if change.finished else None
        if change.experiment is not None:
            row.document = _merged(row, change.experiment)
        session.flush()
        return detail_view(session, row)


def delete_experiment(ws: Workspace, identity: int, deleted: bool) -> ExperimentView:
    """Delete an experiment, or bring it back."""
    with ws.transaction() as session:
        row = find(session, models.Experiment, identity, "experiment", deleted_too=True)
        mark_deleted(row, deleted)
        session.flush()
        return list_view(session, row)


def open_pouring_sheet(ws: Workspace, identity: int) -> PouringSheet:
    """Open what goes into the cups of the next round, for the one who pours; that it was opened is kept.

    Raises
    ------
    InputError
        ``nothing-to-pour`` where no blind round is to come.
    """
    with ws.transaction() as session:
        row = _find(session, identity)
        hidden = _next_round(row)
        if hidden.number not in row.sheets:
            row.sheets = [*row.sheets, hidden.number]
        names = _names(row.document)
        cups = [PouredCup(code=c, holds=names.get(h, h)) for c, h in zip(hidden.codes, hidden.holds, strict=True)]
        return PouringSheet(round=hidden.number, cups=cups)


def answer_round(ws: Workspace, identity: int, answer: RoundAnswer) -> ExperimentDetail:
    """Keep the answers of a round, and open it.

    Raises
    ------
    InputError
        ``round-answered`` where the round is not the next one, ``answers-missing``, ``nothing-to-pour``.
    """
    with ws.transaction() as session:
        row = _find(session, identity)
        body = row.document
        if isinstance(body, Triangle | Sieve):
            row.document = body.model_copy(update={"answers": [*body.answers, *_triangle_answers(row, body, answer)]})
        elif isinstance(body, Ladder):
            row.document = body.model_copy(update={"cups": [*body.cups, *_ladder_cups(row, body, answer)]})
        else:
            raise _nothing_to_pour()
        session.flush()
        return detail_view(session, row)


def _triangle_answers(row: models.Experiment, body: Triangle | Sieve, answer: RoundAnswer) -> list[TriangleAnswer]:
    if not answer.named:
        raise _missing("Name the odd cup of each taster.", "named")
    _check_tasters([n.taster for n in answer.named])
    if row.alone:
        done = rounds_done(body)
        if answer.number != done or done >= body.rounds:
            raise _answered()
        if any(n.right is None for n in answer.named):
            raise _missing("Turn the cup over, and say whether it was the odd one.", "right")
        return [TriangleAnswer(round=done, taster=n.taster, right=n.right) for n in answer.named]
    hidden = _next_round(row)
    if answer.number != hidden.number:
        raise _answered()
    if any(n.named is None for n in answer.named):
        raise _missing("Name the odd cup of each taster.", "named")
    return [
        TriangleAnswer.model_validate(
            {"round": hidden.number, "taster": n.taster, "order": hidden.order, "named": n.named}
        )
        for n in answer.named
    ]


def _ladder_cups(row: models.Experiment, body: Ladder, answer: RoundAnswer) -> list[LadderCup]:
    hidden = _next_round(row)
    if answer.number != hidden.number:
        raise _answered()
    if len(answer.liked) != len(body.values):
        raise _missing("Say of every cup how you liked it.", "liked")
    return [LadderCup(value=float(v), liked=k) for v, k in zip(hidden.holds, answer.liked, strict=True)]


def _check_tasters(names: Sequence[str]) -> None:
    if len(set(names)) < len(names):
        raise InputError("taster-twice", "One taster answers a round once.", "Give each taster a name.", field="taster")


def _find(session: Session, identity: int) -> models.Experiment:
    return find(session, models.Experiment, identity, "experiment")


def _next_round(row: models.Experiment) -> HiddenRound:
    hidden = hidden_round(row)
    if hidden is None:
        raise _nothing_to_pour()
    return hidden


def _plan_of(session: Session, slip_id: int | None) -> int | None:
    if slip_id is None:
        return None
    slip = find(session, models.Slip, slip_id, "slip")
    return find(session, models.Brew, slip.brew_id, "brew").plan_id


def _names(body: Body) -> dict[str, str]:
    """Return what the letters of a triangle mean."""
    if isinstance(body, Triangle):
        return {"A": body.a, "B": body.b}
    return {"A": "sieved", "B": "not sieved"} if isinstance(body, Sieve) else {}


def _without_answers(body: Body) -> Body:
    """Return an experiment that nobody has answered yet."""
    if isinstance(body, Triangle | Sieve):
        return body.model_copy(update={"answers": []})
    return body.model_copy(update={"cups": []}) if isinstance(body, Ladder) else body


def _merged(row: models.Experiment, new: Body) -> Body:
    """Return the new notes with the blind answers unchanged, and no fewer rounds than were tasted."""
    old = row.document
    if old.kind != new.kind:
        raise InputError(
            "other-kind", f"This is another kind of experiment ({old.kind}).", "Begin a new one.", field="experiment"
        )
    if isinstance(old, Triangle | Sieve) and isinstance(new, Triangle | Sieve):
        kept = {"answers": old.answers, "rounds": max(new.rounds, rounds_done(old))}
        return new.model_copy(update=kept)
    if isinstance(old, Ladder) and isinstance(new, Ladder) and not row.alone:
        same = old.values if old.cups else new.values
        return new.model_copy(update={"cups": old.cups, "values": same, "variable": old.variable})
    return new


def _missing(remedy: str, field: str) -> InputError:
    return InputError("answers-missing", "The round is not answered whole.", remedy, field=field)


def _answered() -> InputError:
    return InputError("round-answered", "This round was answered already.", "Look again, and taste the next one.")


def _nothing_to_pour() -> InputError:
    return InputError(
        "nothing-to-pour", "There is no blind round to come.", "Add rounds, or begin a new experiment.", field="rounds"
    )
