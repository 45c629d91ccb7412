"""Samples: photos in, a measured grind out, kept with all of its grounds."""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np
from cv2.typing import MatLike
from sqlalchemy.orm import Session

from hakari.core.brew.methods import WINDOWS, window_for
from hakari.core.errors import InputError
from hakari.core.photo.decode import decode
from hakari.core.photo.pipeline import ScaleChoice
from hakari.formats.base import Document, Pair
from hakari.formats.measurement import MeasurementDocument, particles_csv
from hakari.formats.plan import GrindClasses
from hakari.service.grinders import add_point_row, present_era
from hakari.service.grounds import Outlines, RulerGround, grain_ruler, outlines_of, pack, unpack
from hakari.service.measuring import MeasuredSample
from hakari.service.workspace import NotFoundError, Workspace, alive, bench_row, find, lookup, mark_deleted
from hakari.store import models

DISPLAY_LONG_SIDE_PX = 3200


class PhotoView(Document):
    """A photo as shown: where its picture is and its size."""

    content_hash: str
    file_name: str
    width_px: int
    height_px: int
    um_per_px: float


class CurveView(Document):
    """The smooth curve and its band: density of mass per ln d at each size."""

    size_um: list[float]
    density: list[float]
    cumulative: list[float]
    low: list[float]
    high: list[float]


class WindowView(Document):
    """A method's window and where this median lies in it."""

    method: str
    label: str
    low_um: float
    high_um: float
    verdict: str


class SampleView(Document):
    """A sample in a list."""

    id: int
    version: int
    created_at: str
    coffee_id: int | None
    coffee_name: str | None
    grinder_id: int | None
    grinder_name: str | None
    setting: str | None
    simulated: bool
    d50_um: float
    d50_ci95_um: Pair
    photos: list[PhotoView]


class SampleDetail(SampleView):
    """A sample with everything that its station shows."""

    measurement: MeasurementDocument
    curve: CurveView
    ruler: list[RulerGround]
    windows: list[WindowView]


class SampleList(Document):
    """All samples, newest first."""

    samples: list[SampleView]


def add_sample(
    ws: Workspace,
    photos: list[tuple[str, bytes]],
    scale: ScaleChoice,
    *,
    coffee_id: int | None = None,
    grinder_id: int | None = None,
    setting: str | None = None,
    simulated: bool = False,
) -> SampleDetail:
    """Measure photos of one grind, keep them, and put the sample on the bench.

    When grinder and setting are known, the sample becomes a point of that grinder's present curve.

    Raises
    ------
    InputError
        When a photo or the setting cannot be used; then nothing is kept.
    """
    if not photos:
        raise InputError("no-photo", "No photo came with this.", "Choose one or more photos.", field="photos")
    with ws.transaction() as session:
        if grinder_id is not None and setting:
            present_era(find(session, models.Grinder, grinder_id, "grinder"), setting)
    measured = ws.measure([data for _, data in photos], scale)
    hashes = [ws.files.put(data) for _, data in photos]
    grounds_hash = ws.files.put(pack(measured.particles))
    with ws.transaction() as session:
        coffee = find(session, models.Coffee, coffee_id, "coffee") if coffee_id is not None else None
        row = models.Sample(
            coffee_id=coffee.id if coffee else None, era_id=None, setting=None, simulated=simulated,
            d50_um=measured.document.d50_um, measurement=measured.document.model_dump(mode="json"),
            curve=_curve(measured).model_dump(), whole=GrindClasses.of(measured.summary.whole).model_dump(),
            grounds_hash=grounds_hash,
            photos=[
                models.Photo(
                    content_hash=h, file_name=name[:200], width_px=p.width_px, height_px=p.height_px,
                    um_per_px=p.scale.um_per_px,
                )
                for h, (name, _), p in zip(hashes, photos, measured.photos, strict=True)
            ],
        )  # fmt: skip
        session.add(row)
        session.flush()
        bench = bench_row(session)
        bench.sample_id = row.id
        if coffee:
            bench.coffee_id = coffee.id
        # A photo of unknown setting says nothing of the grinder that stood on the bench before.
        bench.grinder_id = bench.setting = None
        if grinder_id is not None and setting:
            _place(session, row, grinder_id, setting)
            bench.grinder_id, bench.setting = grinder_id, row.setting
        return _detail(ws, session, row)


def place_sample(ws: Workspace, sample_id: int, grinder_id: int, setting: str) -> SampleDetail:
    """Say at which setting of which grinder a sample was ground; it then becomes a point of that curve."""
    with ws.transaction() as session:
        row = find(session, models.Sample, sample_id, "sample")
        _place(session, row, grinder_id, setting)
        bench = bench_row(session)
        bench.sample_id, bench.grinder_id, bench.setting = row.id, grinder_id, row.setting
        return _detail(ws, session, row)


def _place(session: Session, row: models.Sample, grinder_id: int, setting: str) -> None:
    grinder = find(session, models.Grinder, grinder_id, "grinder")
    era, written = present_era(grinder, setting)
    for point in session.query(models.CurvePoint).filter_by(sample_id=row.id):
        session.delete(point)
    m = MeasurementDocument.model_validate(row.measurement)
    row.era_id, row.setting = era.id, written
    add_point_row(
        session,
        era,
        written,
        m.d50_um,
        m.ci95.d50_um,
        m.extrapolated.mass_below_um.get("100"),
        m.span,
        row.id,
    )


def list_samples(ws: Workspace) -> SampleList:
    """All samples, newest first."""
    with ws.transaction() as session:
        return SampleList(samples=[_view(session, s) for s in reversed(alive(session, models.Sample))])


def sample_detail(ws: Workspace, sample_id: int) -> SampleDetail:
    """One sample with its curve and grain ruler."""
    with ws.transaction() as session:
        return _detail(ws, session, find(session, models.Sample, sample_id, "sample"))


def set_sample_deleted(ws: Workspace, sample_id: int, deleted: bool) -> SampleView:
    """Delete a sample with its curve point, or bring both back."""
    with ws.transaction() as session:
        row = find(session, models.Sample, sample_id, "sample", deleted_too=not deleted)
        mark_deleted(row, deleted)
        for point in session.query(models.CurvePoint).filter_by(sample_id=row.id):
            mark_deleted(point, deleted)
        bench = bench_row(session)
        if deleted and bench.sample_id == row.id:
            bench.sample_id = None
        elif not deleted and bench.sample_id is None:
            bench.sample_id = row.id
        return _view(session, row)


def outlines(ws: Workspace, sample_id: int, photo_index: int) -> Outlines:
    """Outlines of the grounds of one photo."""
    with ws.transaction() as session:
        row = find(session, models.Sample, sample_id, "sample")
        if not 0 <= photo_index < len(row.photos):
            raise InputError("no-such-photo", "The sample has no such photo.", "Choose one of its photos.")
        return outlines_of(unpack(ws.files.get(row.grounds_hash)), photo_index)


def sample_particles_csv(ws: Workspace, sample_id: int) -> str:
    """All grounds of a sample as CSV."""
    with ws.transaction() as session:
        row = find(session, models.Sample, sample_id, "sample")
        return particles_csv(unpack(ws.files.get(row.grounds_hash)))


def display_picture(ws: Workspace, content_hash: str) -> bytes:
    """A photo upright, reduced for a screen and without its metadata, as JPEG."""
    with ws.transaction() as session:
        known = session.query(models.Photo).filter_by(content_hash=content_hash).first()
    if known is None:
        raise NotFoundError("no-such-photo", "There is no such photo.", "Choose one of the sample's photos.")
    rgb: MatLike = decode(ws.files.get(content_hash)).rgb
    factor = min(1.0, DISPLAY_LONG_SIDE_PX / max(rgb.shape[:2]))
    if factor < 1:
        rgb = cv2.resize(rgb, None, fx=factor, fy=factor, interpolation=cv2.INTER_AREA)
    _, jpeg = cv2.imencode(".jpg", rgb[:, :, ::-1], [cv2.IMWRITE_JPEG_QUALITY, 85])
    return jpeg.tobytes()


def _curve(measured: MeasuredSample) -> CurveView:
    curve, band = measured.summary.curve, measured.summary.band
    keep = np.arange(0, len(curve.size_um), 2)

    def rounded(values: Any) -> list[float]:
        return [round(float(v), 5) for v in values]

    return CurveView(
        size_um=[round(float(v), 2) for v in curve.size_um[keep]], density=rounded(curve.density[keep]),
        cumulative=rounded(curve.cumulative[keep]),
        low=rounded(np.interp(curve.size_um[keep], band.size_um, band.low)),
        high=rounded(np.interp(curve.size_um[keep], band.size_um, band.high)),
    )  # fmt: skip


def _windows(d50_um: float, dose_g: float | None) -> list[WindowView]:
    """Windows of the methods, each at the dose on the bench where it matters."""
    chosen = {w.method: window_for(w.method, dose_g or 17.0) or w for w in WINDOWS}
    return [
        WindowView(method=w.method, label=w.label, low_um=w.low_um, high_um=w.high_um, verdict=w.verdict(d50_um))
        for w in chosen.values()
    ]


def _view(session: Session, row: models.Sample) -> SampleView:
    era = lookup(session, models.Era, row.era_id)
    coffee = lookup(session, models.Coffee, row.coffee_id)
    return SampleView(
        id=row.id, version=row.version, created_at=row.created_at.isoformat(), coffee_id=row.coffee_id,
        coffee_name=coffee.name if coffee else None, grinder_id=era.grinder_id if era else None,
        grinder_name=era.grinder.name if era else None, setting=row.setting, simulated=row.simulated,
        d50_um=row.d50_um, d50_ci95_um=tuple(row.measurement["ci95"]["d50_um"]),
        photos=[
            PhotoView(content_hash=p.content_hash, file_name=p.file_name, width_px=p.width_px, height_px=p.height_px,
                      um_per_px=p.um_per_px)
            for p in row.photos
        ],
    )  # fmt: skip


def _detail(ws: Workspace, session: Session, row: models.Sample) -> SampleDetail:
    m = MeasurementDocument.model_validate(row.measurement)
    bench = bench_row(session)
    plan = lookup(session, models.Plan, bench.plan_id)
    particles = unpack(ws.files.get(row.grounds_hash))
    return SampleDetail(
        **_view(session, row).model_dump(), measurement=m, curve=CurveView.model_validate(row.curve),
        ruler=grain_ruler(particles, m.resolution_limit_um, m.scale.um_per_px),
        windows=_windows(m.d50_um, float(plan.document["dose_g"]) if plan else None),
    )  # fmt: skip
