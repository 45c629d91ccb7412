"""Drafts of the stations, by device."""

from __future__ import annotations

from pydantic import BaseModel

from hakari.service.drafts import use_cases as service
from hakari.web.shared import NO_CONTENT, Station, workspace

api = Station("drafts", "/api")


class DraftOf(BaseModel):
    """Whose draft at which station."""

    station: service.Station


class ByDevice(BaseModel):
    """A device, by the name it gave itself."""

    device: service.Device


@api.get("/drafts/<string:station>", responses={200: service.DraftView})
def read_draft(path: DraftOf, query: ByDevice) -> service.DraftView:
    """Return what was typed at a station and not saved."""
    return service.read_draft(workspace(), path.station, query.device)


@api.put("/drafts/<string:station>", responses={200: service.DraftView})
def keep_draft(path: DraftOf, body: service.DraftEntry) -> service.DraftView:
    """Keep what is being typed."""
    return service.keep_draft(workspace(), path.station, body)


@api.delete("/drafts/<string:station>", responses={204: None})
def discard_draft(path: DraftOf, query: ByDevice) -> tuple[str, int]:
    """Forget what was typed."""
    service.discard_draft(workspace(), path.station, query.device)
    return NO_CONTENT
