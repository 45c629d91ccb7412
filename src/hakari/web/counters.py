"""Counters, and at which one a device works: the choice is kept by the device, in a cookie."""

from __future__ import annotations

from flask import Response, after_this_request
from pydantic import BaseModel, Field

from hakari.service.workbench import counters as service
from hakari.web.pairing import COOKIE_S
from hakari.web.shared import COUNTER_COOKIE, NO_CONTENT, ById, Station, workspace

api = Station("counters", "/api")


class ChosenCounter(BaseModel):
    """The counter that a device works at."""

    id: int = Field(ge=1, le=2**53)


@api.get("/counters", responses={200: service.CounterList})
def list_counters() -> service.CounterList:
    """Return the counters, and which is this device's."""
    return service.list_counters(workspace())


@api.post("/counters", responses={201: service.CounterView})
def add_counter(body: service.NewCounter) -> tuple[service.CounterView, int]:
    """Make a counter."""
    return service.add_counter(workspace(), body), 201


@api.put("/counters/current", responses={200: service.CounterList})
def choose_counter(body: ChosenCounter) -> service.CounterList:
    """Work at this counter from now on, on this device."""
    counters = service.choose_counter(workspace(), body.id)

    @after_this_request
    def keep(response: Response) -> Response:
        response.set_cookie(COUNTER_COOKIE, str(body.id), max_age=COOKIE_S, httponly=True, samesite="Strict", path="/")
        return response

    return counters


@api.patch("/counters/<int:id>", responses={200: service.CounterView})
def rename_counter(path: ById, body: service.CounterChange) -> service.CounterView:
    """Rename a counter."""
    return service.rename_counter(workspace(), path.id, body)


@api.delete("/counters/<int:id>", responses={204: None})
def delete_counter(path: ById) -> tuple[str, int]:
    """Delete a counter; what was made at it stays."""
    service.set_counter_deleted(workspace(), path.id, True)
    return NO_CONTENT


@api.post("/counters/<int:id>/restore", responses={200: service.CounterView})
def restore_counter(path: ById) -> service.CounterView:
    """Bring a counter back."""
    return service.set_counter_deleted(workspace(), path.id, False)
