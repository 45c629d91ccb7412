"""Health, and what the page needs before anything else."""

from __future__ import annotations

from flask import Response
from pydantic import BaseModel

from hakari.core.photo.card import card_of
from hakari.formats import card_drawing
from hakari.web.shared import blueprint, file_response

api = blueprint("system", "/api")


class Health(BaseModel):
    """The server is up."""

    status: str


@api.get("/health", responses={200: Health})
def health() -> Health:
    """Answer that the server is up."""
    return Health(status="ok")


@api.get("/cards/a4.pdf", responses=file_response("application/pdf"))
def card_pdf() -> Response:
    """A printer's sheet of pocket cards."""
    return Response(card_drawing.pdf(card_of("pocket"), "a4"), mimetype="application/pdf")
