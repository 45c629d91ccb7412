"""The grind guide: which sizes suit which method, the user's own windows over the starting ones, and what fits a grind."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated

from pydantic import Field
from sqlalchemy.orm import Session

from hakari.core.brew.methods import FILTER_EFFECTS, STRONG_QUESTIONS, UNDER_PRESSURE, WINDOWS, Window
from hakari.core.errors import InputError
from hakari.formats.base import Document, Pair
from hakari.service.workspace.at_hand import at_hand
from hakari.service.workspace.transaction import (
    NotFoundError,
    Workspace,
    check_may_delete,
    list_active,
    lookup,
)
from hakari.store import models


class WindowRow(Document):
    """A method's window; ``verdict`` says where the grind on the bench lies: ``fine``, ``inside`` or ``coarse``."""

    method: str
    label: str
    low_um: float
    high_um: float
    looks_like: str
    contact: str
    forecast: bool
    own: bool
    starting_um: Pair
    verdict: str | None


class GuideView(Document):
    """All windows from fine to coarse, the grind on the bench, and what to keep in mind."""

    windows: list[WindowRow]
    size_um: float | None
    fits: list[str]
    effects: list[str]
    strong: list[str]
    pressure: list[str]


class OwnWindowEntry(Document):
    """A user's own window."""

    label: Annotated[str, Field(max_length=80)]
    low_um: Annotated[float, Field(ge=20, le=3000)]
    high_um: Annotated[float, Field(ge=20, le=3000)]


def windows_of(session: Session) -> tuple[Window, ...]:
    """Return the starting windows with the user's own in their place."""
    own = {w.label: w for w in list_active(session, models.OwnWindow)}
    return tuple(
        replace(w, low_um=own[w.label].low_um, high_um=own[w.label].high_um, own=True) if w.label in own else w
        for w in WINDOWS
    )


def read_guide(ws: Workspace, sample_id: int | None = None) -> GuideView:
    """Return the guide, judged for a sample or for the grind on the bench."""
    with ws.transaction() as session:
        return _view(session, sample_id)


def set_window(ws: Workspace, entry: OwnWindowEntry) -> GuideView:
    """Set the user's own window for a method; ``InputError`` ``window-empty`` or ``not-found``."""
    _known(entry.label)
    if entry.high_um < 1.05 * entry.low_um:
        raise InputError(
            "window-empty", "The coarse end of a window lies above its fine end.", "Type the fine end first.",
            field="high_um",
        )  # fmt: skip
    with ws.transaction() as session:
        row = session.query(models.OwnWindow).filter_by(label=entry.label).one_or_none()
        if row is None:
            row = models.OwnWindow(label=entry.label)
            session.add(row)
        row.low_um, row.high_um, row.deleted_at = entry.low_um, entry.high_um, None
        session.flush()
        return _view(session, None)


def reset_window(ws: Workspace, label: str) -> GuideView:
    """Back to the starting window of a method."""
    _known(label)
    with ws.transaction() as session:
        row = session.query(models.OwnWindow).filter_by(label=label).one_or_none()
        if row is not None:
            check_may_delete(session, row)
            session.delete(row)
            session.flush()
        return _view(session, None)


def _known(label: str) -> Window:
    for window in WINDOWS:
        if window.label == label:
            return window
    raise NotFoundError("not-found", f"There is no method called “{label}”.", "Choose one from the guide.")


def _view(session: Session, sample_id: int | None) -> GuideView:
    sample = lookup(session, models.Sample, sample_id or at_hand(session).sample_id)
    size = sample.d50_um if sample is not None and sample.deleted_at is None else None
    rows = [
        WindowRow(
            method=w.method, label=w.label, low_um=w.low_um, high_um=w.high_um, looks_like=w.looks_like,
            contact=w.contact, forecast=w.forecast, own=w.own, starting_um=(start.low_um, start.high_um),
            verdict=w.verdict(size) if size is not None else None,
        )
        for w, start in zip(windows_of(session), WINDOWS, strict=True)
    ]  # fmt: skip
    fits = [r.label for r in rows if r.verdict == "inside"]
    return GuideView(
        windows=rows,
        size_um=size,
        fits=fits,
        effects=list(FILTER_EFFECTS),
        strong=list(STRONG_QUESTIONS),
        pressure=list(UNDER_PRESSURE),
    )
