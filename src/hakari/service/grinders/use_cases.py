"""Grinders: adding, changing, measured settings, equivalences, eras, and files of them."""

from __future__ import annotations

import itertools
from datetime import UTC, datetime
from typing import Annotated, Any, Literal

from pydantic import Field
from sqlalchemy.orm import Session

from hakari.core.errors import InputError
from hakari.core.grinder.curve import assumed_interval_um
from hakari.core.grinder.dial import Dial
from hakari.formats.base import Document, Name, Note
from hakari.formats.grinder import CurveSampleDocument, DialDocument, GrinderCollection, GrinderDocument, read_grinders
from hakari.service.grinders.curves import bare_document, live_eras, live_points
from hakari.service.grinders.points import HABIT
from hakari.service.grinders.views import GrinderView, grinder_view
from hakari.service.workspace.transaction import Workspace, check_version, find, list_active, mark_deleted
from hakari.store import models

KEPT_BASES = ("photo", "sieve", "table")
Travel = Annotated[float, Field(gt=0, le=1000)]


class GrinderList(Document):
    """All grinders."""

    grinders: list[GrinderView]


class NewGrinder(Document):
    """What is typed for a new grinder."""

    name: Name
    burrs: Annotated[str, Field(max_length=40)] = "unknown"
    note: Note = ""
    dial: DialDocument
    step_travel_um: Travel | None = None


class GrinderChange(NewGrinder):
    """A grinder as it shall be, against the version that was seen."""

    version: int


class DialPreview(Document):
    """A dial that is being drawn: its settings and positions, and the smallest step's name."""

    settings: list[str]
    positions: list[float]
    step_unit: str


class ImportedGrinder(Document):
    """A grinder that was added, by its identity and the name it got."""

    id: int
    name: str


class ImportedGrinders(Document):
    """What a file brought."""

    grinders: list[ImportedGrinder]


class NewEra(Document):
    """What happened to the grinder."""

    reason: Literal["cleaned", "moved", "worn", "new burrs"]


def list_grinders(ws: Workspace) -> GrinderList:
    """All grinders with their rails."""
    with ws.transaction() as session:
        return GrinderList(grinders=[grinder_view(session, g) for g in list_active(session, models.Grinder)])


def preview_dial(dial: DialDocument) -> DialPreview:
    """Return the settings of a dial that is not kept yet; ``InputError`` when it has no steps."""
    core = dial.core()
    return DialPreview(
        settings=list(core.settings), positions=[round(float(p), 6) for p in core.positions()], step_unit=core.unit
    )


def add_grinder(ws: Workspace, new: NewGrinder) -> GrinderView:
    """Add a grinder; ``InputError`` when its dial has no steps or its name is taken."""
    new.dial.core()
    with ws.transaction() as session:
        _check_name(session, new.name, None)
        row = _new_row(session, new)
        return grinder_view(session, row)


def change_grinder(ws: Workspace, grinder_id: int, change: GrinderChange) -> GrinderView:
    """Change a grinder; ``InputError`` ``settings-left-off`` when a measured setting is not on the new dial."""
    dial = change.dial.core()
    with ws.transaction() as session:
        row = find(session, models.Grinder, grinder_id, "grinder")
        check_version(row, change.version)
        _check_name(session, change.name, row.id)
        for point in (p for era in live_eras(row) for p in live_points(era)):
            try:
                point.setting = dial.write(dial.parse(point.setting))
            except InputError as error:
                raise InputError(
                    "settings-left-off", f"The measured setting {point.setting} is not on the new dial.",
                    "Widen the dial, or take that setting off the curve first.", field="dial",
                ) from error  # fmt: skip
        row.name, row.burrs, row.note = change.name.strip(), change.burrs, change.note
        row.dial, row.step_travel_um = change.dial, change.step_travel_um
        session.flush()
        return grinder_view(session, row)


def set_grinder_deleted(ws: Workspace, grinder_id: int, deleted: bool) -> GrinderView:
    """Put a grinder away, or bring it back."""
    with ws.transaction() as session:
        row = find(session, models.Grinder, grinder_id, "grinder", deleted_too=True)
        if not deleted:
            _check_name(session, row.name, row.id)
        mark_deleted(row, deleted)
        session.flush()
        return grinder_view(session, row)


def begin_era(ws: Workspace, grinder_id: int, new: NewEra) -> GrinderView:
    """Log a cleaning, a move, wear or new burrs: the curve is kept, and its place is found again."""
    with ws.transaction() as session:
        row = find(session, models.Grinder, grinder_id, "grinder")
        today = datetime.now(UTC)
        row.eras.append(models.Era(reason=new.reason, label=f"{new.reason} {today.day} {today:%B %Y}"))
        session.flush()
        return grinder_view(session, row)


def end_era(ws: Workspace, era_id: int) -> GrinderView:
    """Take back the last era; ``InputError`` when it is not the last, or was measured in."""
    with ws.transaction() as session:
        era = find(session, models.Era, era_id, "era")
        row = era.grinder
        eras = live_eras(row)
        if era.id != eras[-1].id or len(eras) == 1 or live_points(era):
            raise InputError(
                "era-in-use", "Only the latest event can be taken back, and only before anything was measured after it.",
                "Take its measured settings off the curve first.", field="era",
            )  # fmt: skip
        mark_deleted(era, True)
        session.flush()
        return grinder_view(session, row)


def export_grinders(ws: Workspace, grinder_id: int | None = None) -> GrinderDocument | GrinderCollection:
    """One grinder, or all of them in one file."""
    with ws.transaction() as session:
        if grinder_id is not None:
            return bare_document(find(session, models.Grinder, grinder_id, "grinder"))
        return GrinderCollection(grinders=[bare_document(g) for g in list_active(session, models.Grinder)])


def import_grinders(ws: Workspace, data: Any) -> ImportedGrinders:
    """Add the grinders of a file, with their eras and measured settings, or none of them; a taken name gets a number.

    Raises
    ------
    InputError
        ``grinder-malformed``, ``too-many-grinders``, or what is wrong with a dial, a setting or a measured size.
    """
    documents = read_grinders(data)
    for document in documents:
        document.core()
    with ws.transaction() as session:
        taken = {g.name.lower() for g in list_active(session, models.Grinder)}
        rows = []
        for document in documents:
            name = _free_name(document.name, taken)
            taken.add(name.lower())
            rows.append(_row_of(document, name))
        session.add_all(rows)
        session.flush()
        return ImportedGrinders(grinders=[ImportedGrinder(id=r.id, name=r.name) for r in rows])


def _free_name(name: str, taken: set[str]) -> str:
    numbered = (f"{name[:74]} {number}" for number in itertools.count(2))
    return next(n for n in itertools.chain([name], numbered) if n.lower() not in taken)


def _row_of(document: GrinderDocument, name: str) -> models.Grinder:
    """Return a grinder's rows, with its eras and points, as a document has them."""
    dial = document.dial.core()
    ended_by = [*(e.ended_by for e in document.earlier), ""]
    measured = [*(e.samples for e in document.earlier), document.samples]
    eras = []
    for i, of_era in enumerate(measured):
        era = models.Era(reason=ended_by[i - 1], label=f"{ended_by[i - 1]}, read from a file") if i else models.Era()
        era.points = [_point_of(s, dial) for s in of_era]
        eras.append(era)
    return models.Grinder(
        name=name, burrs=document.burrs, note="", dial=document.dial, step_travel_um=document.step_travel_um, eras=eras
    )


def _point_of(s: CurveSampleDocument, dial: Dial) -> models.CurvePoint:
    low, high = s.ci95_um or assumed_interval_um(s.d50_um)
    return models.CurvePoint(
        setting=dial.write(dial.parse(s.setting)), d50_um=s.d50_um, ci95_low_um=low, ci95_high_um=high,
        fines_below_100=s.fines_below_100, span=s.span, roast=s.roast,
        basis=s.basis if s.basis in KEPT_BASES or (s.basis or "").startswith(HABIT) else "typed", used=s.used,
    )  # fmt: skip


def _new_row(session: Session, new: NewGrinder) -> models.Grinder:
    row = models.Grinder(
        name=new.name.strip(), burrs=new.burrs, note=new.note, dial=new.dial,
        step_travel_um=new.step_travel_um, eras=[models.Era()],
    )  # fmt: skip
    session.add(row)
    session.flush()
    return row


def _check_name(session: Session, name: str, own_id: int | None) -> None:
    if any(g.name.lower() == name.strip().lower() and g.id != own_id for g in list_active(session, models.Grinder)):
        raise InputError(
            "name-taken", f"There is a {name.strip()} already.", "Give this one another name.", field="name"
        )
