"""Station 4, Brew: the clock, the hand's taps, the scale's stream, logs, and what earlier brews say of the flow."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from typing import Annotated, Any

from flask import Response, current_app, request
from flask_openapi3 import FileStorage
from pydantic import BaseModel, Field

from hakari.service.brews import logs as brew_logs
from hakari.service.brews import scales
from hakari.service.brews import use_cases as brews
from hakari.service.brews.desk import BrewDesk, StreamEvent
from hakari.service.brews.live_reading import LiveReading
from hakari.service.brews.views import BrewView
from hakari.service.fits import use_cases as fits
from hakari.service.workbench.displayed import DisplayedBrew, displayed_brew
from hakari.web.pairing import still_let_in
from hakari.web.shared import ById, EmptyBody, OfPass, Station, file_response, workspace

api = Station("brew", "/api")
ASK_AGAIN_S = 2.0  # how soon a device that was shut out hears nothing more
# Each event has a name, and what it says as JSON in a string.
EVENTS: dict[Any, Any] = {
    200: {"description": "Server-sent events: brew, reading, over", "content": {"text/event-stream": {"schema": {
        "type": "object", "required": ["event"], "properties": {"event": {"type": "string"}, "data": {"type": "string"}},
    }}}},
}  # fmt: skip


class StreamFrom(BaseModel):
    """How many readings the page has heard already."""

    index: int = Field(default=0, ge=0, le=10_000_000)


class ScaleChange(BaseModel):
    """Whether the scale is plugged in."""

    connected: bool


class BedPhoto(BaseModel):
    """A photo of the spent bed."""

    photo: FileStorage


def desk() -> BrewDesk:
    """Who follows the running brews."""
    found: BrewDesk = current_app.extensions["brew_desk"]
    return found


@api.get("/scales", responses={200: scales.ScaleOptions})
def list_scales() -> scales.ScaleOptions:
    """Return what a brew can be followed with."""
    return scales.scale_options()


@api.post("/brews", responses={201: BrewView})
def start_brew(body: brews.StartBrew, query: OfPass) -> tuple[BrewView, int]:
    """Start the clock of a pass."""
    return desk().changed(brews.start_brew(workspace(query), body)), 201


@api.get("/brews/displayed", responses={200: DisplayedBrew})
def get_displayed_brew() -> DisplayedBrew:
    """Return the brew that runs at this counter, for a display."""
    return displayed_brew(workspace())


@api.get("/brews/<int:id>", responses={200: BrewView})
def get_brew(path: ById) -> BrewView:
    """Return a brew as it stands."""
    return brews.brew_view(workspace(), path.id)


@api.post("/brews/<int:id>/taps", responses={200: BrewView})
def tap_brew(path: ById, body: brews.BrewTap) -> BrewView:
    """Note what the hand reports now."""
    desk().keep_log(path.id)
    return desk().changed(brews.tap_brew(workspace(), path.id, body))


@api.post("/brews/<int:id>/notes", responses={200: BrewView})
def note_brew(path: ById, body: brews.BrewNoteChange) -> BrewView:
    """Note something seen, or take it back."""
    return desk().changed(brews.note_brew(workspace(), path.id, body))


@api.post("/brews/<int:id>/dose", responses={200: BrewView})
def weigh_dose(path: ById, body: brews.WeighedDose) -> BrewView:
    """Say what lies in the brewer; what is still to be poured follows."""
    return desk().changed(brews.weigh_dose(workspace(), path.id, body))


@api.post("/brews/<int:id>/scale", responses={200: BrewView})
def set_scale(path: ById, body: ScaleChange) -> BrewView:
    """Unplug the scale, or plug it in again."""
    return desk().changed(brews.set_scale(workspace(), path.id, body.connected))


@api.post("/brews/<int:id>/close", responses={200: BrewView})
def close_brew(path: ById, body: EmptyBody) -> BrewView:
    """Close a brew that was left."""
    desk().keep_log(path.id)
    return desk().changed(brews.close_brew(workspace(), path.id))


@api.post("/brews/<int:id>/bed-photo", responses={200: BrewView})
def keep_bed_photo(path: ById, form: BedPhoto) -> BrewView:
    """Keep a photo of the spent bed."""
    return desk().changed(brews.keep_bed_photo(workspace(), path.id, form.photo.read()))


@api.get("/brews/<int:id>/bed-photo", responses=file_response("image/jpeg"))
def get_bed_photo(path: ById) -> Response:
    """Return the bed's photo, reduced and without its metadata."""
    return Response(brews.bed_photo_jpeg(workspace(), path.id), mimetype="image/jpeg")


@api.get("/brews/<int:id>/log.csv", responses=file_response("text/csv"))
def get_log(path: ById) -> Response:
    """Return the log of a brew: ``time_s,poured_g,drink_g,event``."""
    desk().keep_log(path.id)
    name = f"attachment; filename=brew-{path.id}.csv"
    return Response(
        brew_logs.log_csv(workspace(), path.id), mimetype="text/csv", headers={"Content-Disposition": name}
    )  # fmt: skip


class LogText(BaseModel):
    """A log's CSV as text."""

    csv: Annotated[str, Field(max_length=scales.MOST_LOG_CHARS)]


@api.post("/brews/from-log", responses={201: BrewView})
def import_log(body: LogText, query: OfPass) -> tuple[BrewView, int]:
    """Keep a log from elsewhere as the brew of a pass."""
    return brew_logs.import_log(workspace(query), body.csv), 201


@api.get("/brews/<int:id>/reading", responses={200: LiveReading})
def get_reading(path: ById, query: StreamFrom) -> LiveReading:
    """Return what the stream would say next, once: for a device that cannot hold a stream."""
    return desk().follow(path.id).reading(query.index)


@api.get("/brews/<int:id>/stream", responses=EVENTS)
def stream_brew(path: ById, query: StreamFrom) -> Response:
    """Server-sent events of a brew: ``brew`` when it changed, ``reading`` for what the scale says and the clock.

    A page that lost the connection goes on where it was: an event's id counts the readings that were heard.
    """
    heard = request.headers.get("Last-Event-ID", "")
    index = int(heard) if heard.isdigit() and len(heard) < 9 else query.index
    brews.brew_view(workspace(), path.id)
    told = desk().listen(path.id, index)
    headers = {"Cache-Control": "no-store", "X-Accel-Buffering": "no"}
    return Response(_events(told, still_let_in()), mimetype="text/event-stream", headers=headers)


def _events(told: Iterator[StreamEvent], may_hear: Callable[[], bool]) -> Iterator[str]:
    """Write events as they are told, until the brew is over or its listener is shut out."""
    asked = time.monotonic()
    for message in told:
        if time.monotonic() - asked > ASK_AGAIN_S:
            asked = time.monotonic()
            if not may_hear():
                return
        body: Any = message.body
        number = f"id: {body.index + len(body.t_s)}\n" if message.event == "reading" else ""
        yield f"{number}event: {message.event}\ndata: {body.model_dump_json()}\n\n"
    yield "event: over\ndata: {}\n\n"


@api.get("/fits/current", responses={200: fits.FitView})
def get_fit() -> fits.FitView:
    """Return what predictions for the bench's plan rest on."""
    return fits.fit_view(workspace())


@api.patch("/fits/current", responses={200: fits.FitView})
def use_brews(body: fits.FitUse) -> fits.FitView:
    """Let brews count, or leave them out."""
    return fits.use_brews(workspace(), body)
