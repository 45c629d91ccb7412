"""Station 2, Grinders: dials on one µm axis."""

from __future__ import annotations

from pydantic import BaseModel, Field

from hakari.service import grinders as service
from hakari.web.shared import ById, blueprint, workspace

api = blueprint("grinders", "/api")


class TranslateQuery(BaseModel):
    """Which grinder to translate to, and from which sample when not the bench's."""

    to: int = Field(ge=1, le=2**53)
    sample_id: int | None = Field(default=None, ge=1, le=2**53)


@api.get("/grinders", responses={200: service.GrinderList})
def list_grinders() -> service.GrinderList:
    """All grinders."""
    return service.list_grinders(workspace())


@api.post("/grinders", responses={200: service.GrinderView})
def add_grinder(body: service.NewGrinder) -> service.GrinderView:
    """Add a grinder."""
    return service.add_grinder(workspace(), body)


@api.post("/grinders/<int:id>/points", responses={200: service.GrinderView})
def add_point(path: ById, body: service.NewPoint) -> service.GrinderView:
    """Add a typed measurement of a setting."""
    return service.add_point(workspace(), path.id, body)


@api.delete("/points/<int:id>", responses={200: service.GrinderView})
def delete_point(path: ById) -> service.GrinderView:
    """Take a measured setting off its curve."""
    return service.set_point_deleted(workspace(), path.id, True)


@api.post("/points/<int:id>/restore", responses={200: service.GrinderView})
def restore_point(path: ById) -> service.GrinderView:
    """Put a measured setting back."""
    return service.set_point_deleted(workspace(), path.id, False)


@api.get("/translate", responses={200: service.BenchTranslation})
def translate(query: TranslateQuery) -> service.BenchTranslation:
    """The bench's grind on another grinder's dial."""
    return service.translate_bench(workspace(), query.to, query.sample_id)
