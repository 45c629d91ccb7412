"""Station 2, Grinders: dials on one µm axis, translation, the grind guide and the setting card."""

from __future__ import annotations

from typing import Literal

from flask import Response, request
from pydantic import BaseModel, Field

from hakari.core.errors import InputError
from hakari.formats.base import parse_json
from hakari.formats.grinder import DialDocument, GrinderCollection, GrinderDocument
from hakari.service.grinders import grind_guide as guide
from hakari.service.grinders import points, setting_card
from hakari.service.grinders import translation as translating
from hakari.service.grinders import use_cases as service
from hakari.service.grinders.views import GrinderView
from hakari.web.shared import NO_CONTENT, ById, Station, file_response, workspace

api = Station("grinders", "/api")
LARGEST_IMPORT_BYTES = 2 * 1024 * 1024
CARD_TYPES = {"pdf": "application/pdf", "png": "image/png", "csv": "text/csv"}


class DialBody(BaseModel):
    """A dial that is being drawn."""

    dial: DialDocument


class CardQuery(BaseModel):
    """Which methods, by their labels, one after the other with ``|`` between; the usual ones when left out."""

    methods: str | None = Field(default=None, max_length=2000)

    def labels(self) -> list[str] | None:
        """Return the labels."""
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


@api.post("/grinders", responses={201: GrinderView})
def add_grinder(body: service.NewGrinder) -> tuple[GrinderView, int]:
    """Add a grinder."""
    return service.add_grinder(workspace(), body), 201


@api.patch("/grinders/<int:id>", responses={200: GrinderView})
def change_grinder(path: ById, body: service.GrinderChange) -> GrinderView:
    """Change a grinder."""
    return service.change_grinder(workspace(), path.id, body)


@api.delete("/grinders/<int:id>", responses={204: None})
def delete_grinder(path: ById) -> tuple[str, int]:
    """Put a grinder away."""
    service.set_grinder_deleted(workspace(), path.id, True)
    return NO_CONTENT


@api.post("/grinders/<int:id>/restore", responses={200: GrinderView})
def restore_grinder(path: ById) -> GrinderView:
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


@api.post("/grinders/import", responses={201: service.ImportedGrinders})
def import_grinders() -> tuple[service.ImportedGrinders, int]:
    """Add the grinders of a file: one, a list, or a collection, as the body."""
    if (request.content_length or 0) > LARGEST_IMPORT_BYTES:
        raise InputError("file-too-large", "That file is too large for grinders.", "Choose a file of grinders.")
    data = parse_json(request.get_data(), "That file is not a file of grinders.", "Choose a file that Hakari wrote.")
    return service.import_grinders(workspace(), data), 201


@api.post("/dials/preview", responses={200: service.DialPreview})
def preview_dial(body: DialBody) -> service.DialPreview:
    """Return the settings of a dial that is being drawn."""
    return service.preview_dial(body.dial)


@api.post("/grinders/<int:id>/points", responses={201: points.AddedToGrinder})
def add_point(path: ById, body: points.NewPoint) -> tuple[points.AddedToGrinder, int]:
    """Add a typed measurement of a setting."""
    return points.add_point(workspace(), path.id, body), 201


@api.post("/grinders/<int:id>/habits/preview", responses={200: points.HabitView})
def read_habit(path: ById, body: points.NewHabit) -> points.HabitView:
    """Return what a habit's words mean, without keeping it."""
    return points.read_habit(workspace(), path.id, body)


@api.post("/grinders/<int:id>/habits", responses={201: points.AddedToGrinder})
def add_habit(path: ById, body: points.NewHabit) -> tuple[points.AddedToGrinder, int]:
    """Take a setting that is used for a method, "about 8 for the cone", as a weak point of the curve."""
    return points.add_habit(workspace(), path.id, body), 201


@api.patch("/points/<int:id>", responses={200: GrinderView})
def change_point(path: ById, body: points.PointChange) -> GrinderView:
    """Leave a measured setting out of the curve, or count it again."""
    return points.change_point(workspace(), path.id, body)


@api.delete("/points/<int:id>", responses={204: None})
def delete_point(path: ById) -> tuple[str, int]:
    """Take a measured setting off its curve."""
    points.set_point_deleted(workspace(), path.id, True)
    return NO_CONTENT


@api.post("/points/<int:id>/restore", responses={200: GrinderView})
def restore_point(path: ById) -> GrinderView:
    """Put a measured setting back."""
    return points.set_point_deleted(workspace(), path.id, False)


@api.post("/grinders/<int:id>/equivalences", responses={201: points.AddedToGrinder})
def add_equivalence(path: ById, body: points.NewSettingEquivalence) -> tuple[points.AddedToGrinder, int]:
    """Record that a setting is equivalent to one on another grinder."""
    return points.add_equivalence(workspace(), path.id, body), 201


@api.delete("/equivalences/<int:id>", responses={204: None})
def delete_equivalence(path: ById) -> tuple[str, int]:
    """Delete an equivalence."""
    points.set_equivalence_deleted(workspace(), path.id, True)
    return NO_CONTENT


@api.post("/equivalences/<int:id>/restore", responses={200: GrinderView})
def restore_equivalence(path: ById) -> GrinderView:
    """Restore a deleted equivalence."""
    return points.set_equivalence_deleted(workspace(), path.id, False)


@api.post("/grinders/<int:id>/eras", responses={201: GrinderView})
def begin_era(path: ById, body: service.NewEra) -> tuple[GrinderView, int]:
    """Log a cleaning, a move, wear or new burrs."""
    return service.begin_era(workspace(), path.id, body), 201


@api.delete("/eras/<int:id>", responses={204: None})
def end_era(path: ById) -> tuple[str, int]:
    """Take the latest event back."""
    service.end_era(workspace(), path.id)
    return NO_CONTENT


@api.get("/translations", responses={200: translating.Translations})
def translate(query: translating.Ask) -> translating.Translations:
    """Return a setting, a size, words or a photo's grind, on one grinder or on all."""
    return translating.translate_ask(workspace(), query)


@api.get("/windows", responses={200: guide.GuideView})
def read_guide(query: GuideQuery) -> guide.GuideView:
    """Return the grind guide, judged for a grind."""
    return guide.read_guide(workspace(), query.sample_id)


@api.put("/windows", responses={200: guide.GuideView})
def set_window(body: guide.OwnWindowEntry) -> guide.GuideView:
    """Set one's own window for a method."""
    return guide.set_window(workspace(), body)


@api.delete("/windows", responses={204: None})
def reset_window(query: LabelQuery) -> tuple[str, int]:
    """Back to the starting window of a method."""
    guide.reset_window(workspace(), query.label)
    return NO_CONTENT


@api.get("/setting-cards", responses={200: setting_card.CardView})
def read_card(query: CardQuery) -> setting_card.CardView:
    """Return the setting card as a table."""
    return setting_card.read_card(workspace(), query.labels())


@api.get("/setting-cards/<string:form>", responses=file_response("application/pdf", "image/png", "text/csv"))
def card_file(path: CardPath, query: CardQuery) -> Response:
    """Return the setting card to print or keep."""
    data = setting_card.card_file(workspace(), path.form, query.labels())
    name = f'attachment; filename="setting-card.{path.form}"'
    return Response(data, mimetype=CARD_TYPES[path.form], headers={"Content-Disposition": name})
