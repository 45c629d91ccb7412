"""Brews: a plan being poured, timed by the server's record; taps, notes, the weighed dose, and what a log told."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from sqlalchemy.orm import Session

from hakari.core.errors import InputError
from hakari.core.flow.capture import FoundPour, capture
from hakari.core.photo.decode import decode
from hakari.formats.base import Document, Grams
from hakari.formats.brew_log import (
    BrewDocument,
    BrewNote,
    CapturedDocument,
    LogDocument,
    NoteName,
    StepMark,
    read_log,
    write_log,
)
from hakari.formats.plan import PlanDocument
from hakari.service.brew_views import BrewView, brew_view_of, elapsed_s, marks_of, standing_of, steps_of_brew
from hakari.service.pictures import reduced_jpeg
from hakari.service.scales import MOST_LOG_CHARS, make_scale
from hakari.service.workspace import Workspace, bench_row, find
from hakari.store import models

EARLY_S = 5.0  # a pour may begin this much before its time
PHOTO_PX = 1600


class StartBrew(Document):
    """How to start: what stands under the brew, and how fast its clock runs (the practice scale may play fast)."""

    scale: Literal["none", "practice-brewer", "practice-cup", "replay"] = "none"
    speed: Annotated[float, Field(ge=1, le=20)] = 1.0
    log_csv: Annotated[str, Field(max_length=MOST_LOG_CHARS)] | None = None
    dose_g: Grams | None = None


class BrewTap(Document):
    """What a hand reports during a brew.

    ``done``: the step that was seen to be on, ``step``, is over; a step that is over already stays as it was.
    """

    what: Literal["done", "bare-bed", "last-drip", "stalled", "undo"]
    step: Annotated[int, Field(ge=0, le=200)] | None = None


class BrewNoteChange(Document):
    """A note to make or take back."""

    what: NoteName
    on: bool = True


class WeighedDose(Document):
    """The dose that lies in the brewer."""

    dose_g: Grams


def start_brew(ws: Workspace, how: StartBrew) -> BrewView:
    """Start the clock on the plan that is on the bench.

    Raises
    ------
    InputError
        ``speed-is-practice`` when anything but a stand-in should play fast; ``log-malformed``.
    """
    if how.speed != 1.0 and how.scale == "none":
        raise InputError(
            "speed-is-practice", "A brew by hand runs at the clock's own speed.", "Choose the practice scale, or 1.",
            field="speed",
        )  # fmt: skip
    with ws.brewing, ws.transaction() as session:
        bench = bench_row(session)
        plan = find(session, models.Plan, bench.plan_id, "plan on the bench")
        row = models.Brew(plan_id=plan.id, speed=how.speed, marks=[], notes=[], dose_g=_checked(how.dose_g, plan))
        session.add(row)
        session.flush()
        row.scale = make_scale(ws, how.scale, how.log_csv, seed=row.id)
        row.started_at = datetime.now(UTC)
        session.flush()
        bench.brew_id = row.id
        bench.scale = how.scale if how.scale != "replay" else "none"
        return brew_view_of(session, row)


def set_usual_scale(ws: Workspace, key: Literal["none", "practice-brewer", "practice-cup"]) -> None:
    """What the next brew is followed with unless something else is chosen."""
    with ws.transaction() as session:
        bench_row(session).scale = key


def brew_view(ws: Workspace, brew_id: int) -> BrewView:
    """A brew as it stands."""
    with ws.transaction() as session:
        return brew_view_of(session, find(session, models.Brew, brew_id, "brew"))


def tap_brew(ws: Workspace, brew_id: int, tap: BrewTap) -> BrewView:
    """Note that a step is over, an end or a stall at this moment; ``undo`` takes the last tap back."""
    with ws.brewing, ws.transaction() as session:
        row = find(session, models.Brew, brew_id, "brew")
        if tap.what == "undo":
            _take_back(session, row)
        elif tap.what == "stalled":
            row.stalled = True
            _note(row, "stalled", True)
        else:
            _check_running(row)
            steps = steps_of_brew(session, row)
            wanted = {"bare-bed": "drain", "last-drip": "last-drip"}.get(tap.what)
            step = tap.step
            if wanted is not None:
                kinds = [s.kind for s in steps]
                step = kinds.index(wanted) if wanted in kinds else kinds.index("press")
            mark(session, row, standing_of(steps, row).now if step is None else step, elapsed_s(row) or 0.0, "tap")
        session.flush()
        return brew_view_of(session, row)


def mark(session: Session, row: models.Brew, step: int, at_s: float, by: Literal["tap", "scale"]) -> None:
    """Note that a step is over; the ends of the brew are kept with it, and the last step closes it.

    A step that is over already, or is not yet on, stays as it is: a second tap and a slow page change nothing.
    """
    steps = steps_of_brew(session, row)
    marks = marks_of(row)
    if step >= len(steps) or any(m.step == step for m in marks):
        return
    standing = standing_of(steps, row)
    place = standing.places[step]
    if by == "tap" and place.step.kind == "pour" and at_s < place.at_s - EARLY_S:
        return
    kind = place.step.kind
    row.marks = [m.model_dump() for m in [*marks, StepMark(step=step, at_s=round(at_s, 1), by=by)]]
    if kind in ("drain", "press"):
        row.bare_bed_s, row.bare_bed_by = round(at_s, 1), by
    if kind in ("last-drip", "press"):
        row.last_drip_s = round(max(at_s, row.bare_bed_s or 0.0), 1)
    if kind == "last-drip" and row.bare_bed_s is None:
        row.bare_bed_s, row.bare_bed_by = round(at_s, 1), by
    if step == len(steps) - 1:
        _close(session, row)


def note_brew(ws: Workspace, brew_id: int, change: BrewNoteChange) -> BrewView:
    """Note something seen, or take the note back."""
    with ws.brewing, ws.transaction() as session:
        row = find(session, models.Brew, brew_id, "brew")
        _note(row, change.what, change.on)
        if change.what == "stalled":
            row.stalled = change.on or None
        session.flush()
        return brew_view_of(session, row)


def weigh_dose(ws: Workspace, brew_id: int, weighed: WeighedDose) -> BrewView:
    """Say what really lies in the brewer: what is still to be poured follows, the ratio stays."""
    with ws.brewing, ws.transaction() as session:
        row = find(session, models.Brew, brew_id, "brew")
        plan = find(session, models.Plan, row.plan_id, "plan")
        dose = _checked(weighed.dose_g, plan)
        standing = standing_of(steps_of_brew(session, row), row)
        row.dose_g, row.weighed_after = dose, standing.now
        session.flush()
        return brew_view_of(session, row)


def set_scale(ws: Workspace, brew_id: int, connected: bool) -> BrewView:
    """Unplug the scale, or plug it in again; the brew goes on by taps meanwhile."""
    with ws.brewing, ws.transaction() as session:
        row = find(session, models.Brew, brew_id, "brew")
        if row.scale is None:
            raise InputError("no-scale", "This brew is followed by hand.", "Choose a scale before the first pour.")
        row.scale = {**row.scale, "connected": connected}
        session.flush()
        return brew_view_of(session, row)


def close_brew(ws: Workspace, brew_id: int) -> BrewView:
    """Close a brew that was left: what was seen of it stays."""
    with ws.brewing, ws.transaction() as session:
        row = find(session, models.Brew, brew_id, "brew")
        if row.closed_at is None and row.started_at is not None:
            _close(session, row)
        session.flush()
        return brew_view_of(session, row)


def keep_bed_photo(ws: Workspace, brew_id: int, data: bytes) -> BrewView:
    """Keep a photo of the spent bed; ``InputError`` when it is no picture."""
    decode(data)
    kept = ws.files.put(data)
    with ws.brewing, ws.transaction() as session:
        row = find(session, models.Brew, brew_id, "brew")
        row.bed_photo = kept
        session.flush()
        return brew_view_of(session, row)


def bed_photo_jpeg(ws: Workspace, brew_id: int) -> bytes:
    """The bed's photo upright, reduced for a screen and without its metadata, as JPEG."""
    with ws.transaction() as session:
        row = find(session, models.Brew, brew_id, "brew")
        if row.bed_photo is None:
            raise InputError("no-photo", "There is no photo of this bed.", "Take one after the brew.")
        return reduced_jpeg(ws.files.get(row.bed_photo), PHOTO_PX)


def log_csv(ws: Workspace, brew_id: int) -> str:
    """The log as CSV, with marks and notes as events."""
    with ws.transaction() as session:
        row = find(session, models.Brew, brew_id, "brew")
        steps = steps_of_brew(session, row)
        events = [(m.at_s, f"{steps[m.step].kind} over, by {m.by}") for m in marks_of(row) if m.step < len(steps)]
        events += [(n.at_s, n.what) for n in map(BrewNote.model_validate, row.notes) if n.at_s is not None]
        return write_log(log_of(row), events)


def import_log(ws: Workspace, text: str) -> BrewView:
    """Keep a log from elsewhere as a brew of the plan on the bench, and find out what happened in it."""
    log, _ = read_log(text)
    with ws.brewing, ws.transaction() as session:
        bench = bench_row(session)
        plan = find(session, models.Plan, bench.plan_id, "plan on the bench")
        row = models.Brew(plan_id=plan.id, marks=[], notes=[])
        row.started_at = datetime.now(UTC) - timedelta(seconds=max(log.t_s[-1], 0.0))
        row.closed_at = datetime.now(UTC)
        for standing, values in (("brewer", log.poured_g), ("cup", log.drink_g)):
            readings = [[t, v] for t, v in zip(log.t_s, values, strict=True) if v is not None]
            if readings:
                row.parts.append(models.LogPart(standing=standing, readings=readings))
        session.add(row)
        session.flush()
        row.scale = {"key": "file", "label": "a log from a file", "standing": "cup" if any(
            v is not None for v in log.drink_g) else "brewer", "simulated": False, "connected": False}  # fmt: skip
        find_out(session, row)
        session.flush()
        bench.brew_id, bench.slip_id = row.id, None
        return brew_view_of(session, row)


def log_of(row: models.Brew) -> LogDocument:
    """All readings of a brew in the order of time, each in the column of what the scale stood under."""
    read = sorted((t, part.standing, w) for part in row.parts for t, w in part.readings)
    log = LogDocument()
    for t, standing, w in read:
        if log.t_s and log.t_s[-1] == t:
            (log.poured_g if standing == "brewer" else log.drink_g)[-1] = w
            continue
        log.t_s.append(t)
        log.poured_g.append(w if standing == "brewer" else None)
        log.drink_g.append(w if standing == "cup" else None)
    return log


def find_out(session: Session, row: models.Brew) -> None:
    """Find pours, ends and a stall in what was logged and tapped, and keep them with the brew.

    What a scale under the cup shows of the bare bed goes before a tap, which is kept among the marks.
    """
    plan_row = find(session, models.Plan, row.plan_id, "plan")
    document = PlanDocument.model_validate(plan_row.document)
    log = log_of(row).core()
    lag = float(row.scale.get("lag_s", 0.0)) if row.scale else 0.0
    found = capture(document.core(), document.grind.core(), log, _tapped(session, row), lag)
    row.found = CapturedDocument.of(found).model_dump()
    if document.steep is not None:
        return
    if found.bare_bed_s is not None:
        row.bare_bed_s, row.bare_bed_by = round(found.bare_bed_s, 1), "scale"
        drip = found.last_drip_s if found.last_drip_s is not None else row.last_drip_s
        row.last_drip_s = round(max(drip, found.bare_bed_s), 1) if drip is not None else None
    if found.stalled_at_s is not None:
        row.stalled = True


def brew_document(session: Session, row: models.Brew) -> BrewDocument:
    """A brew as it stands on its slip, with its log."""
    plan = find(session, models.Plan, row.plan_id, "plan")
    return BrewDocument(
        dose_g=row.dose_g or plan.document["dose_g"], scale=row.scale["label"] if row.scale else None,
        simulated=bool(row.scale and row.scale["simulated"]), bare_bed_by=row.bare_bed_by, marks=marks_of(row),
        notes=[BrewNote.model_validate(n) for n in row.notes],
        found=CapturedDocument.model_validate(row.found) if row.found else None, log=log_of(row),
    )  # fmt: skip


def _tapped(session: Session, row: models.Brew) -> tuple[FoundPour, ...]:
    """Pours as the taps tell them: each from its time as things stood until it was reported; nothing without a tap."""
    steps = steps_of_brew(session, row)
    if not any(steps[m.step].kind == "pour" for m in marks_of(row) if m.step < len(steps)):
        return ()
    pours: list[FoundPour] = []
    for place in standing_of(steps, row).places:
        if place.step.kind == "pour":
            start = max(place.at_s, pours[-1].end_s if pours else 0.0)
            pours.append(FoundPour(start, max(place.ends_s, start + 1.0), place.step.amount_g))
    return tuple(pours)


def _close(session: Session, row: models.Brew) -> None:
    row.closed_at = datetime.now(UTC)
    find_out(session, row)


def _take_back(session: Session, row: models.Brew) -> None:
    """Take the last tap back, and with it an end that it set; a brew that it closed runs again."""
    marks = marks_of(row)
    last = next((m for m in reversed(marks) if m.by == "tap"), None)
    if last is None:
        if row.stalled:
            row.stalled = None
            _note(row, "stalled", False)
        return
    steps = steps_of_brew(session, row)
    kind = steps[last.step].kind if last.step < len(steps) else ""
    row.marks = [m.model_dump() for m in marks if m is not last]
    row.closed_at = None
    if kind in ("drain", "press"):
        row.bare_bed_s = row.bare_bed_by = None
    if kind in ("drain", "press", "last-drip"):
        row.last_drip_s = None


def _note(row: models.Brew, what: NoteName, on: bool) -> None:
    kept = [n for n in row.notes if n["what"] != what]
    at = elapsed_s(row) if row.closed_at is None else None
    row.notes = [*kept, BrewNote(what=what, at_s=round(at, 1) if at is not None else None).model_dump()] if on else kept


def _check_running(row: models.Brew) -> None:
    if row.started_at is None or row.closed_at is not None:
        raise InputError("brew-not-running", "This brew's clock does not run.", "Start it with the first pour.")


def _checked(dose_g: float | None, plan: models.Plan) -> float | None:
    """A weighed dose within what the plan can be rescaled to."""
    if dose_g is None:
        return None
    planned = float(plan.document["dose_g"])
    if not 0.5 * planned <= dose_g <= 1.6 * planned:
        raise InputError(
            "dose-far-from-plan", f"{dose_g:g} g is far from the {planned:g} g of the plan.",
            "Check the weight, or plan that dose.", field="dose_g",
        )  # fmt: skip
    return None if np.isclose(dose_g, planned, atol=0.02) else dose_g
