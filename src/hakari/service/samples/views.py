"""What the page is shown of a sample."""

from __future__ import annotations

from typing import Any

import numpy as np
from sqlalchemy.orm import Session

from hakari.core.arrays import FloatArray
from hakari.core.brew.methods import window_for
from hakari.core.photo.result import PhotoResult
from hakari.core.photo.review import Edit, EditKind, Reviewed, review
from hakari.core.psd.summary import Summary
from hakari.formats.base import Document, Pair
from hakari.formats.measurement import MeasurementDocument
from hakari.service.grinders.grind_guide import windows_of
from hakari.service.samples.grounds import Outlines, RulerGround, grain_ruler, grounds_of, outlines_of
from hakari.service.samples.more_photos import MorePhotosView, more_photos
from hakari.service.workspace.at_hand import at_hand
from hakari.service.workspace.transaction import Workspace, lookup
from hakari.store import models
from hakari.store.snapshots import CurveView, PhotoDetails


class PhotoView(PhotoDetails):
    """A photo as shown: its picture, its size, and where its scale was taken from and can be checked."""

    content_hash: str
    file_name: str
    width_px: int
    height_px: int
    um_per_px: float


class WindowView(Document):
    """A method's window and where this median lies in it."""

    method: str
    label: str
    low_um: float
    high_um: float
    verdict: str


class EditView(Document):
    """A correction by hand, in words; ``undone`` ones can be done again."""

    id: int
    kind: str
    words: str
    undone: bool


class ReviewView(Document):
    """What corrections change of the machine's result: numbers of grounds, and the grounds made by hand by photo."""

    edits: list[EditView]
    excluded: list[int]
    included: list[int]
    replaced: list[int]
    made: list[Outlines]


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
    source: str
    d50_um: float
    d50_ci95_um: Pair
    photo_name: str | None


class SampleDetail(SampleView):
    """A sample with everything that its station shows."""

    photos: list[PhotoView]
    measurement: MeasurementDocument
    curve: CurveView
    ruler: list[RulerGround]
    windows: list[WindowView]
    review: ReviewView
    more_photos: MorePhotosView


class SampleList(Document):
    """Some samples, newest first; of ``total``, those before ``before`` are on the next page."""

    samples: list[SampleView]
    total: int
    before: int | None


def _points(values: Any) -> list[Pair]:
    return [(round(float(x), 1), round(float(y), 1)) for x, y in values] if values is not None else []


def photo_row(content_hash: str, name: str, photo: PhotoResult) -> models.Photo:
    """Return a photo's row with what its measuring said."""
    return models.Photo(
        content_hash=content_hash, file_name=name[:200], width_px=photo.width_px, height_px=photo.height_px,
        um_per_px=photo.scale.um_per_px,
        details=PhotoDetails(
            scale_method=photo.scale.method, tilt_deg=photo.scale.tilt_deg, region_px=_points(photo.region_px),
            scale_mark_px=_points(photo.scale_mark_px), ten_mm_px=_points(photo.ten_mm_px),
        ),
    )  # fmt: skip


def photo_view(row: models.Photo) -> PhotoView:
    """Return a photo as shown."""
    return PhotoView(
        **row.details.model_dump(), content_hash=row.content_hash, file_name=row.file_name, width_px=row.width_px,
        height_px=row.height_px, um_per_px=row.um_per_px,
    )  # fmt: skip


def rounded(values: FloatArray, digits: int = 5) -> list[float]:
    """Numbers as they are sent."""
    return [float(v) for v in np.round(values, digits)]


def curve_view(summary: Summary) -> CurveView:
    """Every second point of a summary's curve with its band."""
    curve, band = summary.curve, summary.band
    keep = np.arange(0, len(curve.size_um), 2)
    return CurveView(
        size_um=rounded(curve.size_um[keep], 2), density=rounded(curve.density[keep]),
        cumulative=rounded(curve.cumulative[keep]),
        low=rounded(np.interp(curve.size_um[keep], band.size_um, band.low)),
        high=rounded(np.interp(curve.size_um[keep], band.size_um, band.high)),
    )  # fmt: skip


def _windows(session: Session, d50_um: float, dose_g: float | None) -> list[WindowView]:
    """Windows of the methods, each at the dose on the bench where it matters."""
    windows = windows_of(session)
    chosen = {w.method: window_for(w.method, dose_g or 17.0, windows) or w for w in windows}
    return [
        WindowView(method=w.method, label=w.label, low_um=w.low_um, high_um=w.high_um, verdict=w.verdict(d50_um))
        for w in chosen.values()
    ]


def sample_view(session: Session, row: models.Sample) -> SampleView:
    """Return a sample in a list."""
    era = lookup(session, models.Era, row.era_id)
    coffee = lookup(session, models.Coffee, row.coffee_id)
    return SampleView(
        id=row.id, version=row.version, created_at=row.created_at.isoformat(), coffee_id=row.coffee_id,
        coffee_name=coffee.name if coffee else None, grinder_id=era.grinder_id if era else None,
        grinder_name=era.grinder.name if era else None, setting=row.setting, simulated=row.simulated,
        source=row.source, d50_um=row.d50_um, d50_ci95_um=(row.d50_low_um, row.d50_high_um),
        photo_name=row.photos[0].file_name if row.photos else None,
    )  # fmt: skip


def _core_edit(row: models.Edit) -> Edit:
    """Return a stored correction as the core knows it."""
    kind: EditKind = row.kind  # type: ignore[assignment]
    drawn = tuple((float(x), float(y)) for x, y in row.drawn_px)
    return Edit(row.id, kind, row.photo, tuple(int(g) for g in row.grounds), drawn)


def standing_edits(row: models.Sample) -> list[Edit]:
    """Return the corrections of a sample that were not taken back."""
    return [_core_edit(e) for e in row.edits if e.deleted_at is None]


def reviewed(ws: Workspace, row: models.Sample) -> Reviewed:
    """Return a sample's grounds after the corrections that stand."""
    return review(grounds_of(ws, row.grounds_hash), standing_edits(row))


def _words(edit: models.Edit) -> str:
    n = len(edit.grounds)
    return {
        "exclude": "left out a ground" if n == 1 else f"left out {n} grounds",
        "include": "counted a ground again" if n == 1 else f"counted {n} grounds again",
        "split": "split a ground", "join": f"joined {n} grounds", "lasso": "left out a patch",
        "photo": f"left out photo {edit.photo + 1}",
    }[edit.kind]  # fmt: skip


def _review_view(ws: Workspace, row: models.Sample, now: Reviewed) -> ReviewView:
    machine = grounds_of(ws, row.grounds_hash)
    old = now.numbers < len(machine)
    was, is_now = machine.left_out[now.numbers[old]] > 0, now.particles.left_out[old] > 0
    made = np.flatnonzero(~old)
    return ReviewView(
        edits=[EditView(id=e.id, kind=e.kind, words=_words(e), undone=e.deleted_at is not None) for e in row.edits],
        excluded=now.numbers[old][~was & is_now].tolist(), included=now.numbers[old][was & ~is_now].tolist(),
        replaced=list(now.replaced),
        made=[
            outlines_of(now.particles, now.numbers, made[now.particles.photo[made] == k]) for k in range(len(row.photos))
        ],
    )  # fmt: skip


def sample_detail_view(ws: Workspace, session: Session, row: models.Sample) -> SampleDetail:
    """Return a sample with everything that its station shows."""
    m = row.measurement
    plan = lookup(session, models.Plan, at_hand(session).plan_id)
    now = reviewed(ws, row)
    return SampleDetail(
        **sample_view(session, row).model_dump(), measurement=m, curve=row.curve,
        photos=[photo_view(p) for p in row.photos],
        ruler=grain_ruler(now.particles, m.resolution_limit_um, m.scale.um_per_px),
        windows=_windows(session, m.d50_um, plan.document.dose_g if plan else None),
        review=_review_view(ws, row, now), more_photos=more_photos(session, row, now),
    )  # fmt: skip
