"""Station 1, Measure: photos in, samples out, corrections, curves, files."""

from __future__ import annotations

from typing import Literal

from flask import Response, current_app
from flask_openapi3 import FileStorage
from pydantic import BaseModel, Field

from hakari.core.photo.review import EditKind
from hakari.formats.base import Pair
from hakari.formats.measurement import MeasurementDocument
from hakari.service.samples import corrections, distributions, reports, sieves
from hakari.service.samples import use_cases as service
from hakari.service.samples.demo_photos import DemoPhotoList, add_demo_sample, list_demo_photos
from hakari.service.samples.framing import FramingView, judge_frame
from hakari.service.samples.grounds import Outlines
from hakari.service.samples.measurement_queue import MeasurementOrder, MeasurementQueue, MeasuringJob
from hakari.service.samples.views import SampleDetail, SampleList, SampleView
from hakari.service.workspace.paging import PageOf
from hakari.web.shared import NO_CONTENT, ById, Station, file_response, workspace

api = Station("measure", "/api")
MOST_DRAWN = 2000


class MeasuringUpload(BaseModel):
    """Photos of one grind and what is known of it; with ``sample_id`` they are added to that sample."""

    photos: list[FileStorage]
    scale: str = "card"
    bar_mm: float | None = None
    coffee_id: int | None = None
    grinder_id: int | None = None
    setting: str | None = Field(default=None, max_length=40)
    sample_id: int | None = None


class CameraFrame(BaseModel):
    """A small frame of a camera's live view."""

    frame: FileStorage


class PhotoOf(BaseModel):
    """A photo of a sample."""

    id: int = Field(ge=1, le=2**53)
    index: int = Field(ge=0, le=1000)


class EditOf(BaseModel):
    """A correction of a sample."""

    id: int = Field(ge=1, le=2**53)
    edit_id: int = Field(ge=1, le=2**53)


class ByHash(BaseModel):
    """A photo by its content."""

    content_hash: str = Field(pattern="^[0-9a-f]{64}$")


class Placement(BaseModel):
    """Where a sample was ground; with ``version`` only if the sample is as it was seen."""

    version: int | None = None
    grinder_id: int = Field(ge=1, le=2**53)
    setting: str = Field(min_length=1, max_length=40)


class DemoChoice(BaseModel):
    """Which of the shipped photos to measure."""

    name: str = Field(pattern="^[a-z0-9-]+$", max_length=60)


class Correction(BaseModel):
    """A correction: what to do to which grounds of a photo, and the line or patch drawn on it, px."""

    kind: EditKind
    photo: int = Field(default=0, ge=0, le=1000)
    grounds: list[int] = Field(default=[], max_length=5000)
    drawn_px: list[Pair] = Field(default=[], max_length=MOST_DRAWN)


class CurveQuery(BaseModel):
    """How to see a size curve."""

    weighting: distributions.Weighting = "volume"
    diameter: distributions.Diameter = "area"
    fines_um: float = Field(default=200.0, ge=20, le=4000)
    boulders_um: float | None = Field(default=None, ge=20, le=6000)


class CompareQuery(BaseModel):
    """Which samples to lay over each other."""

    ids: str = Field(pattern=r"^\d{1,15}(,\d{1,15}){0,9}$")


class SieveQuery(BaseModel):
    """A sieve to think of."""

    aperture_um: float
    keep: Literal["over", "under"] = "over"


class MixQuery(BaseModel):
    """A second sample and the share of the first in the mixture."""

    with_id: int = Field(ge=1, le=2**53)
    share: float


class TableUpload(BaseModel):
    """A distribution made elsewhere: rows of low_um, high_um, mass."""

    table: FileStorage


def _desk() -> MeasurementQueue:
    found: MeasurementQueue = current_app.extensions["measuring_desk"]
    return found


def _download(body: str | bytes, mimetype: str, name: str) -> Response:
    return Response(body, mimetype=mimetype, headers={"Content-Disposition": f"attachment; filename={name}"})


@api.post("/measurements", responses={202: MeasuringJob})
def start_measuring(form: MeasuringUpload) -> tuple[MeasuringJob, int]:
    """Start measuring uploaded photos."""
    photos = [(p.filename or "photo", p.stream) for p in form.photos]
    order = MeasurementOrder(
        photos=[], scale=form.scale, bar_mm=form.bar_mm, coffee_id=form.coffee_id, grinder_id=form.grinder_id,
        setting=form.setting or None, sample_id=form.sample_id, counter_id=workspace().counter_id,
    )  # fmt: skip
    return _desk().start(photos, order, workspace().device_id), 202


@api.get("/measurements/<int:id>", responses={200: MeasuringJob})
def get_measurement_job(path: ById) -> MeasuringJob:
    """How far the measuring of each photo is."""
    return _desk().look(path.id)


@api.post("/camera-frames", responses={200: FramingView})
def judge_camera_frame(form: CameraFrame) -> FramingView:
    """Say what to do before the photo is taken: closer, flatter, more light. Nothing is kept."""
    return judge_frame(form.frame.read())


@api.get("/samples", responses={200: SampleList})
def list_samples(query: PageOf) -> SampleList:
    """Return samples, the newest by default."""
    return service.list_samples(workspace(), query)


@api.get("/samples/<int:id>", responses={200: SampleDetail})
def get_sample(path: ById) -> SampleDetail:
    """One sample."""
    return service.sample_detail(workspace(), path.id)


@api.patch("/samples/<int:id>", responses={200: SampleDetail})
def place_sample(path: ById, body: Placement) -> SampleDetail:
    """Say at which setting a sample was ground."""
    return service.place_sample(workspace(), path.id, body.grinder_id, body.setting, body.version)


@api.delete("/samples/<int:id>", responses={204: None})
def delete_sample(path: ById) -> tuple[str, int]:
    """Delete a sample."""
    service.set_sample_deleted(workspace(), path.id, True)
    return NO_CONTENT


@api.post("/samples/<int:id>/restore", responses={200: SampleView})
def restore_sample(path: ById) -> SampleView:
    """Bring a deleted sample back."""
    return service.set_sample_deleted(workspace(), path.id, False)


@api.get("/samples/<int:id>/photos/<int:index>/outlines", responses={200: Outlines})
def get_outlines(path: PhotoOf) -> Outlines:
    """Outlines of one photo's grounds, as the machine found them."""
    return service.outlines(workspace(), path.id, path.index)


@api.post("/samples/<int:id>/edits", responses={201: SampleDetail})
def correct_sample(path: ById, body: Correction) -> tuple[SampleDetail, int]:
    """Correct the grounds by hand."""
    return corrections.correct(workspace(), path.id, body.kind, body.photo, body.grounds, body.drawn_px), 201


@api.post("/samples/<int:id>/edits/<int:edit_id>/undo", responses={200: SampleDetail})
def undo_correction(path: EditOf) -> SampleDetail:
    """Take a correction back."""
    return corrections.set_undone(workspace(), path.id, path.edit_id, True)


@api.post("/samples/<int:id>/edits/<int:edit_id>/redo", responses={200: SampleDetail})
def redo_correction(path: EditOf) -> SampleDetail:
    """Do a correction again."""
    return corrections.set_undone(workspace(), path.id, path.edit_id, False)


@api.get("/samples/<int:id>/distribution", responses={200: distributions.DistributionView})
def get_distribution(path: ById, query: CurveQuery) -> distributions.DistributionView:
    """Return the size curve as asked for."""
    return distributions.distribution(
        workspace(), path.id, query.weighting, query.diameter, query.fines_um, query.boulders_um
    )


@api.get("/comparisons", responses={200: distributions.ComparisonView})
def compare_samples(query: CompareQuery) -> distributions.ComparisonView:
    """Up to four samples over each other."""
    return distributions.compare_samples(workspace(), list(dict.fromkeys(int(k) for k in query.ids.split(","))))


@api.get("/samples/<int:id>/sieved", responses={200: sieves.WhatIfView})
def sieve_sample(path: ById, query: SieveQuery) -> sieves.WhatIfView:
    """Return what a sieve would leave."""
    return sieves.sieve_sample(workspace(), path.id, query.aperture_um, query.keep)


@api.get("/samples/<int:id>/mixed", responses={200: sieves.WhatIfView})
def mix_samples(path: ById, query: MixQuery) -> sieves.WhatIfView:
    """Two samples mixed by mass."""
    return sieves.mix_samples(workspace(), path.id, query.with_id, query.share)


@api.post("/sievings", responses={201: SampleDetail})
def add_sieving(body: sieves.SieveMasses) -> tuple[SampleDetail, int]:
    """Keep weighed sieves as a sample."""
    return sieves.add_sieving(workspace(), body), 201


@api.post("/distributions", responses={201: SampleDetail})
def import_distribution(form: TableUpload) -> tuple[SampleDetail, int]:
    """Keep a distribution that was made elsewhere as a sample."""
    return sieves.import_distribution(workspace(), form.table.read()), 201


@api.get("/samples/<int:id>/particles.csv", responses=file_response("text/csv"))
def get_particles(path: ById) -> Response:
    """All grounds of a sample as CSV."""
    return _download(
        reports.sample_particles_csv(workspace(), path.id), "text/csv", f"sample-{path.id}-particles.csv"
    )  # fmt: skip


@api.get("/samples/<int:id>/distribution.csv", responses=file_response("text/csv"))
def get_distribution_csv(path: ById) -> Response:
    """Return the whole grind of a sample as class masses."""
    return _download(
        sieves.distribution_csv(workspace(), path.id), "text/csv", f"sample-{path.id}-distribution.csv"
    )  # fmt: skip


@api.get("/samples/<int:id>/measurement.json", responses={200: MeasurementDocument})
def get_measurement(path: ById) -> Response:
    """Return a sample's measurement in its open format."""
    return _download(reports.measurement_json(workspace(), path.id), "application/json", f"sample-{path.id}.json")


@api.get("/samples/<int:id>/report.pdf", responses=file_response("application/pdf"))
def get_report(path: ById) -> Response:
    """Return a page to print."""
    return _download(reports.report_pdf(workspace(), path.id), "application/pdf", f"sample-{path.id}.pdf")


@api.get("/samples/<int:id>/photos/<int:index>/annotated.png", responses=file_response("image/png"))
def get_annotated(path: PhotoOf) -> Response:
    """Return a photo with the outlines of its grounds."""
    body = reports.annotated_png(workspace(), path.id, path.index)
    return _download(body, "image/png", f"sample-{path.id}-photo-{path.index + 1}.png")


@api.get("/photos/<content_hash>", responses=file_response("image/jpeg"))
def get_picture(path: ByHash) -> Response:
    """Return a photo for the screen."""
    response = Response(service.display_picture(workspace(), path.content_hash), mimetype="image/jpeg")
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return response


@api.get("/demo-photos", responses={200: DemoPhotoList})
def get_demo_photos() -> DemoPhotoList:
    """Return the shipped photos."""
    return list_demo_photos()


@api.post("/demo-photos", responses={201: SampleDetail})
def measure_demo_photo(body: DemoChoice) -> tuple[SampleDetail, int]:
    """Measure one of the shipped photos."""
    return add_demo_sample(workspace(), body.name), 201
