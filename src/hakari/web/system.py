"""Health, and what the page needs before anything else."""

from __future__ import annotations

from typing import Literal

from flask import Response
from pydantic import BaseModel

from hakari.core.photo.card import card_of
from hakari.formats import card_drawing
from hakari.service.workspace.health import troubles
from hakari.web.shared import Station, file_response, workspace

api = Station("system", "/api")


class Health(BaseModel):
    """Whether the server can work: it reads its database, has room on its disk, and measures."""

    status: Literal["ok"] = "ok"


class Failing(BaseModel):
    """What keeps the server from working."""

    status: Literal["failing"] = "failing"
    failing: list[str]


@api.get("/health", responses={200: Health, 503: Failing})
def health() -> Health | tuple[Failing, int]:
    """Answer whether the server can work."""
    failing = troubles(workspace())
    return (Failing(failing=failing), 503) if failing else Health()


@api.get("/cards/a4.pdf", responses=file_response("application/pdf"))
def card_pdf() -> Response:
    """Return a printer's sheet of pocket cards."""
    return Response(card_drawing.pdf(card_of("pocket"), "a4"), mimetype="application/pdf")
