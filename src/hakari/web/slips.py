"""Station 6, Slips: the pile."""

from __future__ import annotations

from pydantic import BaseModel, Field

from hakari.service import slips as service
from hakari.web.shared import ById, blueprint, workspace

api = blueprint("slips", "/api")


class ChangeChoice(BaseModel):
    """Which of a slip's moves to brew; -1 brews it again unchanged."""

    move: int = Field(default=0, ge=-1, le=50)


@api.get("/slips", responses={200: service.SlipList})
def list_slips() -> service.SlipList:
    """All slips."""
    return service.list_slips(workspace())


@api.post("/slips", responses={200: service.SlipDetail})
def save_slip(body: service.CupEntry) -> service.SlipDetail:
    """Keep the pass as a slip."""
    return service.save_slip(workspace(), body)


@api.get("/slips/<int:id>", responses={200: service.SlipDetail})
def get_slip(path: ById) -> service.SlipDetail:
    """One slip."""
    return service.slip_detail(workspace(), path.id)


@api.delete("/slips/<int:id>", responses={200: service.SlipView})
def delete_slip(path: ById) -> service.SlipView:
    """Delete a slip."""
    return service.set_slip_deleted(workspace(), path.id, True)


@api.post("/slips/<int:id>/restore", responses={200: service.SlipView})
def restore_slip(path: ById) -> service.SlipView:
    """Bring a slip back."""
    return service.set_slip_deleted(workspace(), path.id, False)


@api.post("/slips/<int:id>/brew", responses={200: service.NextPlan})
def brew_change(path: ById, body: ChangeChoice) -> service.NextPlan:
    """Put a slip's change, or the slip itself, on the bench."""
    return service.brew_change(workspace(), path.id, body.move)
