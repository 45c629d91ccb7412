"""Samples: photos in, a measured grind out, kept with all of its grounds."""

from __future__ import annotations

import numpy as np
from sqlalchemy.orm import Session, lazyload

from hakari.core.errors import InputError
from hakari.core.photo.pipeline import ScaleChoice
from hakari.core.photo.result import Particles, PhotoResult, concatenate
from hakari.core.photo.review import review
from hakari.core.psd.summary import Summary
from hakari.formats.measurement import MeasurementDocument
from hakari.formats.plan import GrindClasses
from hakari.service.cache import Cache
from hakari.service.grinders.curves import present_era
from hakari.service.grinders.points import add_point_row
from hakari.service.plans.choices import choose_sample, put_sample_away
from hakari.service.samples.grounds import Outlines, grounds_of, outlines_of, pack
from hakari.service.samples.measuring import as_sample, measure_one, summarise_grounds
from hakari.service.samples.pictures import reduced_jpeg
from hakari.service.samples.views import (
    SampleDetail,
    SampleList,
    SampleView,
    curve_view,
    photo_row,
    sample_detail_view,
    sample_view,
    standing_edits,
)
from hakari.service.workspace.at_hand import at_hand
from hakari.service.workspace.paging import NEWEST, PageOf, page_of
from hakari.service.workspace.transaction import (
    NotFoundError,
    Workspace,
    check_version,
    find,
    lookup,
    mark_deleted,
)
from hakari.store import models


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
    check_place(ws, grinder_id, setting)
    results = [ws.processes.run(measure_one, data, scale) for _, data in photos]
    kept = [(name, ws.files.put(data)) for name, data in photos]
    return keep_sample(
        ws, kept, results, coffee_id=coffee_id, grinder_id=grinder_id, setting=setting, simulated=simulated
    )


def check_place(ws: Workspace, grinder_id: int | None, setting: str | None) -> None:
    """Refuse a setting that its grinder does not have, before anything is measured."""
    with ws.transaction() as session:
        if grinder_id is not None and setting:
            present_era(find(session, models.Grinder, grinder_id, "grinder"), setting)


def keep_sample(
    ws: Workspace,
    photos: list[tuple[str, str]],
    results: list[PhotoResult],
    *,
    coffee_id: int | None = None,
    grinder_id: int | None = None,
    setting: str | None = None,
    simulated: bool = False,
) -> SampleDetail:
    """Keep measured photos of one grind, by name and content hash, as a sample and put it on the bench."""
    measured = as_sample(results)
    grounds_hash = ws.files.put(pack(measured.particles))
    with ws.transaction() as session:
        row = models.Sample(
            d50_um=measured.document.d50_um, measurement=measured.document,
            curve=curve_view(measured.summary),
            whole=GrindClasses.of(measured.summary.whole), grounds_hash=grounds_hash, simulated=simulated,
            photos=[photo_row(h, name, p) for (name, h), p in zip(photos, results, strict=True)],
        )  # fmt: skip
        put_on_bench(session, row, coffee_id, grinder_id, setting)
        return sample_detail_view(ws, session, row)


def put_on_bench(
    session: Session, row: models.Sample, coffee_id: int | None, grinder_id: int | None, setting: str | None
) -> None:
    """Add a sample's row and make it what is being worked on."""
    coffee = find(session, models.Coffee, coffee_id, "coffee") if coffee_id is not None else None
    row.coffee_id = coffee.id if coffee else None
    session.add(row)
    session.flush()
    if grinder_id is not None and setting:
        _place(session, row, grinder_id, setting)
    choose_sample(session, row)


def add_photos(
    ws: Workspace,
    sample_id: int,
    photos: list[tuple[str, str]],
    results: list[PhotoResult],
) -> SampleDetail:
    """Add measured photos of the same grind to a sample; corrections made so far stand."""
    hashes = [h for _, h in photos]
    with ws.transaction() as session:
        row = find(session, models.Sample, sample_id, "sample")
        if row.source != "photo":
            raise InputError("not-from-photos", "This sample was not measured on photos.", "Make a new sample of them.")
        known = {p.content_hash for p in row.photos}
        if any(h in known for h in hashes):
            raise InputError(
                "photo-known", "This photo is part of the sample already.", "Spread a new pinch.", "photos"
            )
        held = grounds_of(ws, row.grounds_hash)
        parts = [held.select(np.flatnonzero(held.photo == k)) for k in range(len(row.photos))]
        together = concatenate([*parts, *(r.particles for r in results)])
        old = row.measurement
        limit = max(old.resolution_limit_um, *(r.resolution_limit_um for r in results))
        row.grounds_hash = ws.files.put(pack(together))
        row.photos.extend(photo_row(h, name, p) for (name, h), p in zip(photos, results, strict=True))
        summary = _summary(row, together, limit, max(old.light_error, *(r.light_error for r in results)))
        _rewrite(session, row, summary, old.extended(summary, results))
        return sample_detail_view(ws, session, row)


def _summary(row: models.Sample, machine: Particles, limit_um: float, light_error: float) -> Summary:
    return summarise_grounds(review(machine, standing_edits(row)).particles, limit_um, light_error)


def recompute(ws: Workspace, session: Session, row: models.Sample) -> None:
    """Bring a sample's figures up to date with the corrections that stand."""
    document = row.measurement
    summary = _summary(row, grounds_of(ws, row.grounds_hash), document.resolution_limit_um, document.light_error)
    _rewrite(session, row, summary, document.revised(summary))


def _rewrite(session: Session, row: models.Sample, summary: Summary, document: MeasurementDocument) -> None:
    row.measurement, row.d50_um = document, document.d50_um
    row.curve = curve_view(summary)
    row.whole = GrindClasses.of(summary.whole)
    session.flush()
    # Its own points follow, in their own era, used or not, deleted or not as they were.
    for point in session.query(models.CurvePoint).filter_by(sample_id=row.id):
        _copy_figures(session, row, point)


def place_sample(
    ws: Workspace, sample_id: int, grinder_id: int, setting: str, version: int | None = None
) -> SampleDetail:
    """Say at which setting of which grinder a sample was ground; it then becomes a point of that curve."""
    with ws.transaction() as session:
        row = find(session, models.Sample, sample_id, "sample")
        check_version(row, version)
        _place(session, row, grinder_id, setting)
        choose_sample(session, row)
        return sample_detail_view(ws, session, row)


def _place(session: Session, row: models.Sample, grinder_id: int, setting: str) -> None:
    grinder = find(session, models.Grinder, grinder_id, "grinder")
    era, written = present_era(grinder, setting)
    before = lookup(session, models.Era, row.era_id)
    if before is not None and before.grinder_id == grinder_id and row.setting == written:
        return  # it lies there already
    for point in session.query(models.CurvePoint).filter_by(sample_id=row.id):
        session.delete(point)
    row.era_id, row.setting = era.id, written
    point = models.CurvePoint(setting=written, sample_id=row.id, basis=row.source)
    _copy_figures(session, row, point)
    add_point_row(session, era, point)


def _copy_figures(session: Session, row: models.Sample, point: models.CurvePoint) -> None:
    """Return what was measured, as a point of a curve."""
    m = row.measurement
    coffee = lookup(session, models.Coffee, row.coffee_id)
    point.d50_um = m.d50_um
    point.ci95_low_um, point.ci95_high_um = m.ci95.d50_um
    point.fines_below_100, point.span = m.extrapolated.mass_below_um.get("100"), m.span
    point.roast = coffee.roast if coffee else None


def list_samples(ws: Workspace, page: PageOf = NEWEST) -> SampleList:
    """Return the newest samples, or those before them, newest first."""
    with ws.transaction() as session:
        rows, total, before = page_of(
            session, models.Sample, models.Sample.id, page, options=(lazyload(models.Sample.edits),)
        )
        return SampleList(samples=[sample_view(session, s) for s in rows], total=total, before=before)


def sample_detail(ws: Workspace, sample_id: int) -> SampleDetail:
    """One sample with its curve and grain ruler."""
    with ws.transaction() as session:
        return sample_detail_view(ws, session, find(session, models.Sample, sample_id, "sample"))


def set_sample_deleted(ws: Workspace, sample_id: int, deleted: bool) -> SampleView:
    """Delete a sample with its curve point, or bring both back."""
    with ws.transaction() as session:
        row = find(session, models.Sample, sample_id, "sample", deleted_too=not deleted)
        together = row.deleted_at  # a point that was deleted by itself stays deleted
        mark_deleted(row, deleted)
        for point in session.query(models.CurvePoint).filter_by(sample_id=row.id):
            if point.deleted_at == together:
                point.deleted_at = row.deleted_at
        session.flush()
        here = at_hand(session)
        if deleted and here.sample_id == row.id:
            put_sample_away(session)
        elif not deleted and here.sample_id is None:
            choose_sample(session, row)
        return sample_view(session, row)


def find_photo(row: models.Sample, photo_index: int) -> models.Photo:
    """Return a photo of a sample; ``InputError`` ``no-such-photo``."""
    if not 0 <= photo_index < len(row.photos):
        raise InputError("no-such-photo", "The sample has no such photo.", "Choose one of its photos.")
    return row.photos[photo_index]


def outlines(ws: Workspace, sample_id: int, photo_index: int) -> Outlines:
    """Outlines of the grounds of one photo, as the machine found them."""
    with ws.transaction() as session:
        row = find(session, models.Sample, sample_id, "sample")
        find_photo(row, photo_index)
        machine = grounds_of(ws, row.grounds_hash)
        return outlines_of(machine, np.arange(len(machine)), np.flatnonzero(machine.photo == photo_index))


# Each device asks for a photo once; decoding it takes half a second.
_shown: Cache[bytes] = Cache(8)


def display_picture(ws: Workspace, content_hash: str) -> bytes:
    """Return a photo upright, reduced for a screen and without its metadata, as JPEG."""
    with ws.transaction() as session:
        known = session.query(models.Photo).filter_by(content_hash=content_hash).first()
    if known is None:
        raise NotFoundError("no-such-photo", "There is no such photo.", "Choose one of the sample's photos.")
    return _shown.get(content_hash, lambda: ws.processes.run(reduced_jpeg, ws.files.get(content_hash)))
