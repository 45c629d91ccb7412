"""Station 6, Slips: the pile."""

from __future__ import annotations

from flask import Response
from pydantic import BaseModel, Field

from hakari.service.plans.finer_coarser import SettingSteps, setting_steps_of_slip
from hakari.service.slips import use_cases as service
from hakari.service.slips.files import SlipForm, slip_file
from hakari.web.shared import NO_CONTENT, ById, OfPass, Station, file_response, workspace

api = Station("slips", "/api")


class ChangeChoice(BaseModel):
    """Which of a slip's moves to brew; -1 brews it again unchanged, or at another setting of its grinder."""

    move: int = Field(default=0, ge=-1, le=50)
    setting: str | None = Field(default=None, max_length=40)


@api.get("/slips", responses={200: service.SlipList})
def list_slips(query: service.SlipSearch) -> service.SlipList:
    """Return slips, the newest by default."""
    return service.list_slips(workspace(), query)


class OfCoffee(BaseModel):
    """A coffee by its name on slips."""

    coffee: str = Field(default="", max_length=80)


@api.get("/slips/over-time", responses={200: service.SlipsOverTime})
def slips_over_time(query: OfCoffee) -> service.SlipsOverTime:
    """Return a coffee's slips over its months."""
    return service.slips_over_time(workspace(), query.coffee)


@api.post("/slips", responses={201: service.SlipDetail})
def save_slip(body: service.NewSlip, query: OfPass) -> tuple[service.SlipDetail, int]:
    """Keep a pass as a slip."""
    return service.save_slip(workspace(query), body), 201


@api.get("/slips/<int:id>", responses={200: service.SlipDetail})
def get_slip(path: ById) -> service.SlipDetail:
    """One slip."""
    return service.slip_detail(workspace(), path.id)


@api.get("/slips/<int:id>/setting-steps", responses={200: SettingSteps})
def get_setting_steps(path: ById) -> SettingSteps:
    """Return what one step finer or coarser would do to the brew of a slip."""
    return setting_steps_of_slip(workspace(), path.id)


PAPERS = file_response("application/pdf", "image/png", "application/octet-stream")
SLIP_TYPES = {"pdf": "application/pdf", "png": "image/png", "json": "application/octet-stream"}


class SlipFileOf(BaseModel):
    """A slip in one of its forms."""

    id: int = Field(ge=1, le=2**53)
    form: SlipForm


class PaperDate(BaseModel):
    """The date as the device writes it, by its own language and zone."""

    dated: str = Field(default="", max_length=60)


@api.get("/slips/<int:id>/paper/<string:form>", responses=PAPERS)
def get_slip_file(path: SlipFileOf, query: PaperDate) -> Response:
    """Return a slip to print (PDF), to send (PNG) or to read elsewhere (JSON)."""
    data = slip_file(workspace(), path.id, path.form, query.dated)
    name = f'attachment; filename="slip-{path.id}.{path.form}"'
    return Response(data, mimetype=SLIP_TYPES[path.form], headers={"Content-Disposition": name})


@api.delete("/slips/<int:id>", responses={204: None})
def delete_slip(path: ById) -> tuple[str, int]:
    """Delete a slip."""
    service.set_slip_deleted(workspace(), path.id, True)
    return NO_CONTENT


@api.post("/slips/<int:id>/restore", responses={200: service.SlipView})
def restore_slip(path: ById) -> service.SlipView:
    """Bring a slip back."""
    return service.set_slip_deleted(workspace(), path.id, False)


@api.post("/slips/<int:id>/brew", responses={201: service.NextPlan})
def brew_change(path: ById, body: ChangeChoice) -> tuple[service.NextPlan, int]:
    """Put a slip's change, or the slip itself, on the bench."""
    return service.brew_change(workspace(), path.id, body.move, body.setting), 201
