"""Station 1, Measure: photos in, samples out."""

from __future__ import annotations

from flask import Response
from flask_openapi3 import FileStorage
from pydantic import BaseModel, Field

from hakari.service import samples as service
from hakari.service.demo_photos import DemoPhotoList, add_demo_sample, list_demo_photos
from hakari.service.grounds import Outlines
from hakari.service.measuring import parse_scale
from hakari.web.shared import ById, blueprint, file_response, workspace

api = blueprint("measure", "/api")


class SampleUpload(BaseModel):
    """Photos of one grind and what is known of it."""

    photos: list[FileStorage]
    scale: str = "card"
    coffee_id: int | None = None
    grinder_id: int | None = None
    setting: str | None = Field(default=None, max_length=40)


class PhotoOf(BaseModel):
    """A photo of a sample."""

    id: int = Field(ge=1, le=2**53)
    index: int = Field(ge=0, le=1000)


class ByHash(BaseModel):
    """A photo by its content."""

    content_hash: str = Field(pattern="^[0-9a-f]{64}$")


class Placement(BaseModel):
    """Where a sample was ground."""

    grinder_id: int = Field(ge=1, le=2**53)
    setting: str = Field(min_length=1, max_length=40)


class DemoChoice(BaseModel):
    """Which of the shipped photos to measure."""

    name: str = Field(pattern="^[a-z0-9-]+$", max_length=60)


@api.post("/samples", responses={200: service.SampleDetail})
def add_sample(form: SampleUpload) -> service.SampleDetail:
    """Measure uploaded photos."""
    photos = [(p.filename or "photo", p.read()) for p in form.photos]
    return service.add_sample(
        workspace(), photos, parse_scale(form.scale), coffee_id=form.coffee_id, grinder_id=form.grinder_id,
        setting=form.setting or None,
    )  # fmt: skip


@api.get("/samples", responses={200: service.SampleList})
def list_samples() -> service.SampleList:
    """All samples."""
    return service.list_samples(workspace())


@api.get("/samples/<int:id>", responses={200: service.SampleDetail})
def get_sample(path: ById) -> service.SampleDetail:
    """One sample."""
    return service.sample_detail(workspace(), path.id)


@api.put("/samples/<int:id>/place", responses={200: service.SampleDetail})
def place_sample(path: ById, body: Placement) -> service.SampleDetail:
    """Say at which setting a sample was ground."""
    return service.place_sample(workspace(), path.id, body.grinder_id, body.setting)


@api.delete("/samples/<int:id>", responses={200: service.SampleView})
def delete_sample(path: ById) -> service.SampleView:
    """Delete a sample."""
    return service.set_sample_deleted(workspace(), path.id, True)


@api.post("/samples/<int:id>/restore", responses={200: service.SampleView})
def restore_sample(path: ById) -> service.SampleView:
    """Bring a deleted sample back."""
    return service.set_sample_deleted(workspace(), path.id, False)


@api.get("/samples/<int:id>/photos/<int:index>/outlines", responses={200: Outlines})
def get_outlines(path: PhotoOf) -> Outlines:
    """Outlines of one photo's grounds."""
    return service.outlines(workspace(), path.id, path.index)


@api.get("/samples/<int:id>/particles.csv", responses=file_response("text/csv"))
def get_particles(path: ById) -> Response:
    """All grounds of a sample as CSV."""
    return Response(
        service.sample_particles_csv(workspace(), path.id), mimetype="text/csv",
        headers={"Content-Disposition": f"attachment; filename=sample-{path.id}-particles.csv"},
    )  # fmt: skip


@api.get("/photos/<content_hash>", responses=file_response("image/jpeg"))
def get_picture(path: ByHash) -> Response:
    """A photo for the screen."""
    response = Response(service.display_picture(workspace(), path.content_hash), mimetype="image/jpeg")
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return response


@api.get("/demo-photos", responses={200: DemoPhotoList})
def get_demo_photos() -> DemoPhotoList:
    """The shipped photos."""
    return list_demo_photos()


@api.post("/demo-photos", responses={200: service.SampleDetail})
def measure_demo_photo(body: DemoChoice) -> service.SampleDetail:
    """Measure one of the shipped photos."""
    return add_demo_sample(workspace(), body.name)
