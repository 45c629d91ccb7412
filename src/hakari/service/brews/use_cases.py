"""Brews: a plan being poured, timed by the server's record; taps, notes, the weighed dose, and what a log told."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from sqlalchemy.orm import Session

from hakari.core.errors import InputError
from hakari.formats.base import Document, Grams
from hakari.formats.brew_log import BrewNote, NoteName, StepMark
from hakari.service.brews.ends import estimate_bare_bed
from hakari.service.brews.logs import analyse_log
from hakari.service.brews.scales import MOST_LOG_CHARS, make_scale
from hakari.service.brews.views import BrewView, brew_view_of, elapsed_s, progress_of, steps_of_brew
from hakari.service.plans.beginning import plan_to_brew
from hakari.service.samples.pictures import check_picture, reduced_jpeg
from hakari.service.workspace.at_hand import at_hand, brew_of, state_now
from hakari.service.workspace.transaction import Workspace, find, workbench_row
from hakari.store import models

PHOTO_PX = 1600


class StartBrew(Document):
    """How to start: what stands under the brew, and how fast its clock runs (the practice scale may play fast)."""

    scale: Literal["none", "practice-brewer", "practice-cup", "replay"] = "none"
    speed: Annotated[float, Field(ge=1, le=2000)] = 1.0
    log_csv: Annotated[str, Field(max_length=MOST_LOG_CHARS)] | None = None
    dose_g: Grams | None = None


class BrewTap(Document):
    """What a hand reports during a brew.

    ``done``: the step that was seen to be on, ``step``, is over; a step that is over already stays as it was. ``begin``: it
    begins now, sooner or later than planned. ``amount_g`` is
    what was really added, for the water that goes into a concentrate. ``at_s`` is when it was tapped, in seconds of the brew,
    where the tap had to wait for the server.
    """

    what: Literal["done", "begin", "bare-bed", "last-drip", "stalled", "undo"]
    step: Annotated[int, Field(ge=0, le=200)] | None = None
    amount_g: Annotated[float, Field(ge=0, le=3000)] | None = None
    at_s: Annotated[float, Field(ge=0, le=200_000)] | None = None


class BrewNoteChange(Document):
    """A note to make or take back."""

    what: NoteName
    on: bool = True


class WeighedDose(Document):
    """The dose that lies in the brewer."""

    dose_g: Grams


def start_brew(ws: Workspace, how: StartBrew) -> BrewView:
    """Start the clock on the plan at hand.

    A pass whose clock runs goes on; where the one at hand is over, the same plan is a new pass's.

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
        here = at_hand(session)
        running = brew_of(session, here)
        if running is not None and state_now(session, here) == "brewing":
            return brew_view_of(session, running)
        plan = plan_to_brew(session)
        row = models.Brew(plan_id=plan.id, speed=how.speed, marks=[], notes=[], dose_g=_checked(how.dose_g, plan))
        session.add(row)
        session.flush()
        row.scale = make_scale(ws, how.scale, how.log_csv, seed=row.id)
        row.started_at = datetime.now(UTC)
        session.flush()
        at_hand(session).brew_id = row.id
        workbench_row(session).scale = how.scale if how.scale != "replay" else "none"
        return brew_view_of(session, row)


def set_usual_scale(ws: Workspace, key: Literal["none", "practice-brewer", "practice-cup"]) -> None:
    """Return what the next brew is followed with unless something else is chosen."""
    with ws.transaction() as session:
        workbench_row(session).scale = key


def _change(ws: Workspace, brew_id: int, do: Callable[[Session, models.Brew], None]) -> BrewView:
    """Write to a brew, one writer at a time; the brew as it then stands."""
    with ws.brewing, ws.transaction() as session:
        row = find(session, models.Brew, brew_id, "brew")
        do(session, row)
        session.flush()
        return brew_view_of(session, row)


def brew_view(ws: Workspace, brew_id: int) -> BrewView:
    """Return a brew as it stands."""
    with ws.transaction() as session:
        return brew_view_of(session, find(session, models.Brew, brew_id, "brew"))


def tap_brew(ws: Workspace, brew_id: int, tap: BrewTap) -> BrewView:
    """Note that a step is over, an end or a stall at this moment; ``undo`` takes the last tap back."""

    def do(session: Session, row: models.Brew) -> None:
        if tap.what == "undo":
            _take_back(session, row)
        elif tap.what == "stalled":
            _note(row, "stalled", True)
        else:
            _check_running(row)
            now_s = elapsed_s(row) or 0.0
            at_s = now_s if tap.at_s is None else min(tap.at_s, now_s)
            if tap.what == "begin":
                _begin(session, row, _tapped_step(session, row, tap), at_s)
                return
            mark(session, row, _tapped_step(session, row, tap), at_s, "tap", tap.amount_g)

    return _change(ws, brew_id, do)


def _tapped_step(session: Session, row: models.Brew, tap: BrewTap) -> int:
    """Which step a tap is about: an end by its name (a steep ends with its press), the one that was seen, or the present."""
    steps = steps_of_brew(session, row)
    wanted = {"bare-bed": "drain", "last-drip": "last-drip"}.get(tap.what)
    if wanted is not None:
        kinds = [s.kind for s in steps]
        return kinds.index(wanted) if wanted in kinds else kinds.index("press")
    return progress_of(steps, row).now if tap.step is None else tap.step


def mark(
    session: Session,
    row: models.Brew,
    step: int,
    at_s: float,
    by: Literal["tap", "scale"],
    amount_g: float | None = None,
) -> None:
    """Note that a step is over; the ends of the brew are kept with it, and the last step closes it.

    A step that is over already stays as it is: a second tap and a slow page change nothing.
    """
    steps = steps_of_brew(session, row)
    marks = row.marks
    if step >= len(steps) or any(m.step == step for m in marks):
        return
    kind = steps[step].kind
    row.marks = [*marks, StepMark(step=step, at_s=round(at_s, 1), by=by, amount_g=amount_g if kind == "add" else None)]
    if kind in ("drain", "press"):
        row.bare_bed_s, row.bare_bed_by = round(at_s, 1), by
    if kind in ("last-drip", "press"):
        row.last_drip_s = round(max(at_s, row.bare_bed_s or 0.0), 1)
    if kind == "last-drip" and row.bare_bed_s is None:
        estimate_bare_bed(session, row)
    if step == len(steps) - 1:
        _close(session, row)


def _begin(session: Session, row: models.Brew, step: int, at_s: float) -> None:
    """Note that a step begins at this moment; one that is over already is left alone."""
    over = any(m.step == step for m in row.marks)
    if step < len(steps_of_brew(session, row)) and not over:
        others = [m for m in row.begun if m.step != step]
        row.begun = [*others, StepMark(step=step, at_s=round(at_s, 1), by="tap")]


def note_brew(ws: Workspace, brew_id: int, change: BrewNoteChange) -> BrewView:
    """Note something seen, or take the note back."""
    return _change(ws, brew_id, lambda _, row: _note(row, change.what, change.on))


def weigh_dose(ws: Workspace, brew_id: int, weighed: WeighedDose) -> BrewView:
    """Say what really lies in the brewer: what is still to be poured follows, the ratio stays."""

    def do(session: Session, row: models.Brew) -> None:
        dose = _checked(weighed.dose_g, find(session, models.Plan, row.plan_id, "plan"))
        row.weighed_after = progress_of(steps_of_brew(session, row), row).now
        row.dose_g = dose

    return _change(ws, brew_id, do)


def set_scale(ws: Workspace, brew_id: int, connected: bool) -> BrewView:
    """Unplug the scale, or plug it in again; the brew goes on by taps meanwhile."""

    def do(_: Session, row: models.Brew) -> None:
        if row.scale is None:
            raise InputError("no-scale", "This brew is followed by hand.", "Choose a scale before the first pour.")
        row.scale = row.scale.model_copy(update={"connected": connected})

    return _change(ws, brew_id, do)


def close_brew(ws: Workspace, brew_id: int) -> BrewView:
    """Close a brew that was left: what was seen of it stays."""

    def do(session: Session, row: models.Brew) -> None:
        if row.closed_at is None and row.started_at is not None:
            _close(session, row)

    return _change(ws, brew_id, do)


def keep_bed_photo(ws: Workspace, brew_id: int, data: bytes) -> BrewView:
    """Keep a photo of the spent bed; ``InputError`` when it is no picture."""
    ws.processes.run(check_picture, data)
    kept = ws.files.put(data)
    return _change(ws, brew_id, lambda _, row: setattr(row, "bed_photo", kept))


def bed_photo_jpeg(ws: Workspace, brew_id: int) -> bytes:
    """Return the bed's photo upright, reduced for a screen and without its metadata, as JPEG."""
    with ws.transaction() as session:
        row = find(session, models.Brew, brew_id, "brew")
        if row.bed_photo is None:
            raise InputError("no-photo", "There is no photo of this bed.", "Take one after the brew.")
        kept = row.bed_photo
    return ws.processes.run(reduced_jpeg, ws.files.get(kept), PHOTO_PX)


def _close(session: Session, row: models.Brew) -> None:
    row.closed_at = datetime.now(UTC)
    analyse_log(session, row)


def _take_back(session: Session, row: models.Brew) -> None:
    """Take the last tap back, and with it an end that it set; a brew that it closed runs again."""
    marks = row.marks
    last = next((m for m in reversed(marks) if m.by == "tap"), None)
    begun = row.begun[-1] if row.begun else None
    if begun is not None and (last is None or (begun.at_s, begun.step) > (last.at_s, last.step)):
        row.begun = row.begun[:-1]
        return
    if last is None:
        if row.stalled:
            _note(row, "stalled", False)
        return
    steps = steps_of_brew(session, row)
    kind = steps[last.step].kind if last.step < len(steps) else ""
    row.marks = [m for m in marks if m is not last]
    row.closed_at = None
    if kind in ("drain", "press") or row.bare_bed_by == "drip":
        row.bare_bed_s = row.bare_bed_by = None
    if kind in ("drain", "press", "last-drip"):
        row.last_drip_s = None


def _note(row: models.Brew, what: NoteName, on: bool) -> None:
    """Make a note or take it back; a stall is a mark of its own as well."""
    kept = [n for n in row.notes if n.what != what]
    at = elapsed_s(row) if row.closed_at is None else None
    row.notes = [*kept, BrewNote(what=what, at_s=round(at, 1) if at is not None else None)] if on else kept
    if what == "stalled":
        row.stalled = on or None


def _check_running(row: models.Brew) -> None:
    if row.started_at is None or row.closed_at is not None:
        raise InputError("brew-not-running", "This brew's clock does not run.", "Start it with the first pour.")


def _checked(dose_g: float | None, plan: models.Plan) -> float | None:
    """Return a weighed dose within what the plan can be rescaled to."""
    if dose_g is None:
        return None
    planned = plan.document.dose_g
    if not 0.5 * planned <= dose_g <= 1.6 * planned:
        raise InputError(
            "dose-far-from-plan", f"{dose_g:g} g is far from the {planned:g} g of the plan.",
            "Check the weight, or plan that dose.", field="dose_g",
        )  # fmt: skip
    return None if np.isclose(dose_g, planned, atol=0.02) else dose_g
