"""Station 5, Cup: evidence in, one change out."""

from __future__ import annotations

from hakari.service import slips as service
from hakari.web.shared import blueprint, workspace

api = blueprint("cup", "/api")


@api.post("/cup/preview", responses={200: service.CupView})
def preview_cup(body: service.CupEntry) -> service.CupView:
    """Judge the brew on the bench without keeping it."""
    return service.preview_cup(workspace(), body)
