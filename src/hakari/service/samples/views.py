"""What the page is shown of a sample."""

from __future__ import annotations

from typing import Any

import numpy as np
from sqlalchemy.orm import Session

from hakari.core.arrays import FloatArray
from hakari.core.brew.methods import WINDOWS, window_for
from hakari.core.errors import InputError
from hakari.core.photo.result import PhotoResult
from hakari.core.photo.review import Edit, EditKind, Reviewed, review
from hakari.core.psd.photo_requirement import (
    SAME_LIGHT_ERROR,
    half_width_with_more,
    is_limited_by_light,
    photos_to_narrow,
    same_light_half_width,
)
from hakari.core.psd.summary import Summary, narrowing
from hakari.formats.base import Document, Pair
from hakari.formats.measurement import MeasurementDocument
from hakari.service.grinders.curves import core_of, grinder_document
from hakari.service.samples.grounds import Outlines, RulerGround, grain_ruler, grounds_of, outlines_of
from hakari.service.workspace.transaction import Workspace, lookup, workbench_row
from hakari.store import models
from hakari.store.snapshots import CurveView, PhotoDetails

# Half width of D50, a share, that is enough where it is not known what one step of the grinder moves.
WANTED_IN_ONE_LIGHT = 0.04
MOST_WORTH_TAKING = 6


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


class NarrowedView(Document):
    """D50 and its interval of the first so many photos."""

    photos: int
    d50_um: float
    ci95_um: Pair


class MorePhotosView(Document):
    """What more photos of the same grind would buy, in words, and how the interval narrowed photo by photo.

    ``now`` is how well the median is known, in all and against another photo in the same light; ``narrowing`` is of the
    latter. ``step_share`` is how much one step of its grinder moves the median, where that is known; ``enough`` whether two
    samples as good as this one in the same light tell such a step apart, or the wanted width is reached. Where it is not
    enough, ``limited_by_light`` says that more photos in the same light no longer narrow it.
    """

    words: str
    now: str
    narrowing: list[NarrowedView]
    step_share: float | None
    enough: bool
    limited_by_light: bool


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
    photos: list[PhotoView]


class SampleDetail(SampleView):
    """A sample with everything that its station shows."""

    measurement: MeasurementDocument
    curve: CurveView
    ruler: list[RulerGround]
    windows: list[WindowView]
    review: ReviewView
    more_photos: MorePhotosView


class SampleList(Document):
    """All samples, newest first."""

    samples: list[SampleView]


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


def _windows(d50_um: float, dose_g: float | None) -> list[WindowView]:
    """Windows of the methods, each at the dose on the bench where it matters."""
    chosen = {w.method: window_for(w.method, dose_g or 17.0) or w for w in WINDOWS}
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
        source=row.source, d50_um=row.d50_um, d50_ci95_um=row.measurement.ci95.d50_um,
        photos=[photo_view(p) for p in row.photos],
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


def _step_share(session: Session, row: models.Sample) -> float | None:
    """How much one step of its grinder moves the median at the sample's setting, as a share; None where unknown."""
    era = lookup(session, models.Era, row.era_id)
    if era is None or row.setting is None:
        return None
    try:
        core = core_of(grinder_document(era.grinder, session))
        here = core.dial.parse(row.setting)
        away = np.abs(core.dial.positions() - core.dial.at(row.setting))
        near = int(np.argmin(np.where(away > 1e-9, away, np.inf)))
        median_um = core.curve().median_um
        return float(abs(np.log(median_um[near] / median_um[here])))
    except InputError:
        return None


def _more_photos(session: Session, row: models.Sample, now: Reviewed) -> MorePhotosView:
    """Return what more photos in the same light would buy, and whether these tell two steps of the grinder apart."""
    m = row.measurement
    half, photos, light = m.enough.half_width, max(m.photos, 1), min(m.light_error, SAME_LIGHT_ERROR)
    if row.source != "photo":
        return MorePhotosView(
            words="More sieves between these would narrow it.", now=f"±{100 * half:.0f} % now", narrowing=[],
            step_share=None, enough=False, limited_by_light=False,
        )  # fmt: skip
    same, step = same_light_half_width(half, m.light_error, photos), _step_share(session, row)
    # Two settings are told apart when the difference of two such samples is larger than its own interval.
    wanted = step / 2**0.5 if step is not None else WANTED_IN_ONE_LIGHT
    enough = half <= m.enough.wanted or same <= wanted
    limited = not enough and is_limited_by_light(same, light)
    shared = " against another photo in this light" if m.light_error > SAME_LIGHT_ERROR else ""
    if enough:
        words = f"D50 is known to ±{100 * same:.1f} %{shared}"
        words += ", enough to tell one step on this grinder" if step is not None and same <= wanted else ""
    elif limited:
        words = f"More photos in this light no longer narrow ±{100 * same:.1f} %{shared}"
    else:
        words = _with_more(same, photos, light, wanted, shared, tells_step=step is not None)
    if step is not None and "one step" not in words:
        words += f"; one step on this grinder is {100 * step:.1f} %"
    narrowed = narrowing(now.particles, m.resolution_limit_um, m.light_error) if photos > 1 else []
    return MorePhotosView(
        words=words + ".", step_share=step, enough=enough, limited_by_light=limited,
        now=f"±{100 * half:.0f} % in all, ±{100 * same:.1f} % within this light" if shared else f"±{100 * half:.1f} % now",
        narrowing=[NarrowedView(photos=n.photos, d50_um=n.d50_um, ci95_um=n.ci95_um) for n in narrowed],
    )  # fmt: skip


def _with_more(same: float, photos: int, light: float, wanted: float, shared: str, tells_step: bool) -> str:
    """Return what the next photos bring; where no reasonable number is enough, what three do."""
    more = photos_to_narrow(same, photos, light, wanted)
    more = more if more is not None and more <= MOST_WORTH_TAKING else None
    reached = wanted if more is not None else half_width_with_more(same, light, photos, 3)
    count = ("One", "Two", "Three", "Four", "Five", "Six")[(more or 3) - 1]
    words = f"{count} more {'photo' if more == 1 else 'photos'} would bring D50 to ±{100 * reached:.1f} %{shared}"
    return words + (", enough to tell one step on this grinder" if more is not None and tells_step else "")


def sample_detail_view(ws: Workspace, session: Session, row: models.Sample) -> SampleDetail:
    """Return a sample with everything that its station shows."""
    m = row.measurement
    plan = lookup(session, models.Plan, workbench_row(session).plan_id)
    now = reviewed(ws, row)
    return SampleDetail(
        **sample_view(session, row).model_dump(), measurement=m, curve=row.curve,
        ruler=grain_ruler(now.particles, m.resolution_limit_um, m.scale.um_per_px),
        windows=_windows(m.d50_um, plan.document.dose_g if plan else None),
        review=_review_view(ws, row, now), more_photos=_more_photos(session, row, now),
    )  # fmt: skip
