"""Station 2, Grinders: dials on one µm axis, translation, the grind guide and the setting card."""

from __future__ import annotations

from typing import Any, Literal

from flask import Response, request
from pydantic import BaseModel, Field

from hakari.core.errors import InputError
from hakari.formats.grinder import DialDocument, GrinderCollection, GrinderDocument
from hakari.service.grinders import grind_guide as guide
from hakari.service.grinders import setting_card
from hakari.service.grinders import translation as translating
from hakari.service.grinders import use_cases as service
from hakari.service.grinders.views import GrinderView
from hakari.web.shared import ById, blueprint, file_response, workspace

api = blueprint("grinders", "/api")
LARGEST_IMPORT_BYTES = 2 * 1024 * 1024
CARD_TYPES = {"pdf": "application/pdf", "png": "image/png", "csv": "text/csv"}


class DialBody(BaseModel):
    """A dial that is being drawn."""

    dial: DialDocument


class CardQuery(BaseModel):
    """Which methods, by their labels, one after the other with ``|`` between; the usual ones when left out."""

    methods: str | None = Field(default=None, max_length=2000)

    def labels(self) -> list[str] | None:
        """The labels."""
        return [m for m in (self.methods or "").split("|") if m] or None


class CardPath(BaseModel):
    """The form of the card's file."""

    form: Literal["pdf", "png", "csv"]


class GuideQuery(BaseModel):
    """Which sample to judge; the one on the bench when left out."""

    sample_id: int | None = Field(default=None, ge=1, le=2**53)


class LabelQuery(BaseModel):
    """A method of the guide by its label."""

    label: str = Field(max_length=80)


@api.get("/grinders", responses={200: service.GrinderList})
def list_grinders() -> service.GrinderList:
    """All grinders."""
    return service.list_grinders(workspace())


@api.post("/grinders", responses={200: GrinderView})
def add_grinder(body: service.NewGrinder) -> GrinderView:
    """Add a grinder."""
    return service.add_grinder(workspace(), body)


@api.put("/grinders/<int:id>", responses={200: GrinderView})
def change_grinder(path: ById, body: service.GrinderChange) -> GrinderView:
    """Change a grinder."""
    return service.change_grinder(workspace(), path.id, body)


@api.delete("/grinders/<int:id>", responses={200: service.GrinderList})
def delete_grinder(path: ById) -> service.GrinderList:
    """Put a grinder away."""
    return service.set_grinder_deleted(workspace(), path.id, True)


@api.post("/grinders/<int:id>/restore", responses={200: service.GrinderList})
def restore_grinder(path: ById) -> service.GrinderList:
    """Bring a grinder back."""
    return service.set_grinder_deleted(workspace(), path.id, False)


@api.get("/grinders/export", responses={200: GrinderCollection})
def export_grinders() -> GrinderDocument | GrinderCollection:
    """All grinders in one file."""
    return service.export_grinders(workspace())


@api.get("/grinders/<int:id>/export", responses={200: GrinderDocument})
def export_grinder(path: ById) -> GrinderDocument | GrinderCollection:
    """One grinder as ``hakari.grinder/1``."""
    return service.export_grinders(workspace(), path.id)


@api.post("/grinders/import", responses={200: service.GrinderList})
def import_grinders() -> service.GrinderList:
    """Add the grinders of a file: one, a list, or a collection, as the body."""
    if (request.content_length or 0) > LARGEST_IMPORT_BYTES:
        raise InputError("file-too-large", "That file is too large for grinders.", "Choose a file of grinders.")
    data: Any = request.get_json(force=True, silent=True)
    if data is None:
        raise InputError("not-json", "That file is not JSON.", "Choose a file of grinders that Hakari wrote.")
    return service.import_grinders(workspace(), data)


@api.post("/dials/preview", responses={200: service.DialPreview})
def preview_dial(body: DialBody) -> service.DialPreview:
    """The settings of a dial that is being drawn."""
    return service.preview_dial(body.dial)


@api.post("/grinders/<int:id>/points", responses={200: GrinderView})
def add_point(path: ById, body: service.NewPoint) -> GrinderView:
    """Add a typed measurement of a setting."""
    return service.add_point(workspace(), path.id, body)


@api.put("/points/<int:id>", responses={200: GrinderView})
def change_point(path: ById, body: service.PointChange) -> GrinderView:
    """Leave a measured setting out of the curve, or count it again."""
    return service.change_point(workspace(), path.id, body)


@api.delete("/points/<int:id>", responses={200: GrinderView})
def delete_point(path: ById) -> GrinderView:
    """Take a measured setting off its curve."""
    return service.set_point_deleted(workspace(), path.id, True)


@api.post("/points/<int:id>/restore", responses={200: GrinderView})
def restore_point(path: ById) -> GrinderView:
    """Put a measured setting back."""
    return service.set_point_deleted(workspace(), path.id, False)


@api.post("/grinders/<int:id>/equivalences", responses={200: GrinderView})
def add_equivalence(path: ById, body: service.NewSettingEquivalence) -> GrinderView:
    """Record that a setting is equivalent to one on another grinder."""
    return service.add_equivalence(workspace(), path.id, body)


@api.delete("/equivalences/<int:id>", responses={200: service.GrinderList})
def delete_equivalence(path: ById) -> service.GrinderList:
    """Delete an equivalence."""
    return service.set_equivalence_deleted(workspace(), path.id, True)


@api.post("/equivalences/<int:id>/restore", responses={200: service.GrinderList})
def restore_equivalence(path: ById) -> service.GrinderList:
    """Restore a deleted equivalence."""
    return service.set_equivalence_deleted(workspace(), path.id, False)


@api.post("/grinders/<int:id>/eras", responses={200: GrinderView})
def begin_era(path: ById, body: service.NewEra) -> GrinderView:
    """Log a cleaning, a move, wear or new burrs."""
    return service.begin_era(workspace(), path.id, body)


@api.delete("/eras/<int:id>", responses={200: GrinderView})
def end_era(path: ById) -> GrinderView:
    """Take the latest event back."""
    return service.end_era(workspace(), path.id)


@api.get("/translations", responses={200: translating.Translations})
def translate(query: translating.Ask) -> translating.Translations:
    """A setting, a size, words or a photo's grind, on one grinder or on all."""
    return translating.translate_ask(workspace(), query)


@api.get("/guide", responses={200: guide.GuideView})
def read_guide(query: GuideQuery) -> guide.GuideView:
    """The grind guide, judged for a grind."""
    return guide.read_guide(workspace(), query.sample_id)


@api.put("/guide", responses={200: guide.GuideView})
def set_window(body: guide.OwnWindowEntry) -> guide.GuideView:
    """Set one's own window for a method."""
    return guide.set_window(workspace(), body)


@api.delete("/guide", responses={200: guide.GuideView})
def reset_window(query: LabelQuery) -> guide.GuideView:
    """Back to the starting window of a method."""
    return guide.reset_window(workspace(), query.label)


@api.get("/setting-card", responses={200: setting_card.CardView})
def read_card(query: CardQuery) -> setting_card.CardView:
    """The setting card as a table."""
    return setting_card.read_card(workspace(), query.labels())


@api.get("/setting-card/<string:form>", responses=file_response("application/octet-stream"))
def card_file(path: CardPath, query: CardQuery) -> Response:
    """The setting card to print or keep."""
    data = setting_card.card_file(workspace(), path.form, query.labels())
    name = f'attachment; filename="setting-card.{path.form}"'
    return Response(data, mimetype=CARD_TYPES[path.form], headers={"Content-Disposition": name})
