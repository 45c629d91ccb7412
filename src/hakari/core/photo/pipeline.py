"""One photo from bytes to measured grounds: the order of the steps, and nothing else."""

from __future__ import annotations

import time
from typing import Literal

import numpy as np
import numpy.typing as npt

from hakari.core.errors import InputError
from hakari.core.photo.contact_shadow import without_contact_shadows
from hakari.core.photo.decode import Picture, decode, linear_light
from hakari.core.photo.detect import Sharpness, find_level, sharpness
from hakari.core.photo.flakes import flakes
from hakari.core.photo.flatten import darkness
from hakari.core.photo.measure import Blobs, measure_blobs
from hakari.core.photo.outline import polygon_area
from hakari.core.photo.quality import Evidence, limit_um, photo_findings
from hakari.core.photo.reject import colours, not_coffee
from hakari.core.photo.result import LEFT_OUT, FloatArray, Particles, PhotoResult, concatenate, points_of
from hakari.core.photo.separate import Labels, separate
from hakari.core.photo.sharpen import sharpened
from hakari.core.photo.unresolved import share_out
from hakari.core.photo.view import CardScale, DiscScale, PointsScale, ScaleChoice, View, find_view

__all__ = ["CardScale", "DiscScale", "PointsScale", "Polarity", "ScaleChoice", "measure_photo"]

Polarity = Literal["dark", "bright"]
SMALLEST_LEFT_OUT_UM = 150.0  # below this, what was left out is not worth keeping


def measure_photo(data: bytes, choice: ScaleChoice, polarity: Polarity = "dark") -> PhotoResult:
    """Measure the grounds in one photo.

    Parameters
    ----------
    data:
        The picture file.
    choice:
        Where the scale comes from.
    polarity:
        ``dark`` things on bright paper, as coffee is, or ``bright`` ones on a dark ground; those are not judged by colour.

    Raises
    ------
    InputError
        When the file, the scale or the picture cannot be used; nothing is guessed.
    """
    started = time.perf_counter()
    picture = decode(data)
    decoded = time.perf_counter()
    view = find_view(picture.rgb, choice)
    rgb = picture.rgb[view.y0 : view.y1, view.x0 : view.x1]
    if polarity == "bright":
        rgb = 255 - rgb
    light = linear_light(rgb)
    um_per_px = view.scale.um_per_px
    dark = darkness(light, um_per_px, view.inside)
    if view.inside is not None:
        np.multiply(dark, view.inside, out=dark)
    sharp = sharpness(dark, um_per_px)
    if sharp is None or sharp.plateau < 0.15:
        raise InputError(
            "no-grounds",
            "No ground coffee was found in the photo.",
            "Spread a pinch of grounds on white paper, inside the card's well, and photograph it from above.",
        )
    coverage = np.divide(dark, np.float32(sharp.plateau), out=dark)
    del dark  # the steps below may make a picture of their own; this one is then let go
    coverage = without_contact_shadows(coverage, sharp)
    as_taken = sharp
    coverage, sharp = sharpened(coverage, sharp, um_per_px)
    labels = separate(coverage, find_level(sharp, um_per_px), sharp, um_per_px)
    blobs = measure_blobs(coverage, labels, sharp, um_per_px)
    particles = _particles(blobs, labels, rgb, view, sharp, coloured=polarity == "dark")
    if polarity == "dark":
        particles = concatenate([particles, flakes(labels.veil, rgb, view)], one_photo=True)
    return _result(picture, view, light, as_taken, particles, started, decoded)


def _belonging(blobs: Blobs, view: View, centres_px: FloatArray) -> tuple[npt.NDArray[np.bool_], FloatArray]:
    """Which blobs belong to the measured area (n,), and their weights."""
    if view.card is not None:
        well = view.card.card.well
        mm = view.card.plane.to_mm(centres_px)
        member = (mm[:, 0] >= well.x) & (mm[:, 0] <= well.x + well.width)
        member &= (mm[:, 1] >= well.y) & (mm[:, 1] <= well.y + well.height)
        return member, np.ones(len(mm))
    # Miles–Lantuéjoul (ISO 13322-1): a cut ground is dropped, the others stand in by their chance of being whole.
    width, height = view.x1 - view.x0, view.y1 - view.y0
    w, h = (blobs.box_px[:, k + 2] - blobs.box_px[:, k] for k in (0, 1))
    return np.ones(len(w), np.bool_), width * height / np.maximum((width - w) * (height - h), 1.0)


def _particles(
    blobs: Blobs, labels: Labels, rgb: npt.NDArray[np.uint8], view: View, sharp: Sharpness, coloured: bool
) -> Particles:
    """Pixels to micrometres, membership, weights, and why something is left out."""
    centres = np.column_stack([blobs.x_px + view.x0, blobs.y_px + view.y0])
    um_per_px = np.sqrt(view.plane.mm2_per_px(centres)) * 1000
    diameter_px = np.sqrt(4 * blobs.area_px / np.pi)
    mm = view.plane.to_mm(centres)
    left_out = np.zeros(len(diameter_px), np.int8)
    if coloured:
        tint, red = colours(rgb, labels.image, blobs, sharp.plateau)
        left_out = not_coffee(blobs, diameter_px * um_per_px, diameter_px, tint, red)
    boxes = blobs.box_px
    height, width = rgb.shape[:2]
    cut = (boxes[:, 0] <= 1) | (boxes[:, 1] <= 1) | (boxes[:, 2] >= width - 1) | (boxes[:, 3] >= height - 1)
    member, weight = _belonging(blobs, view, centres)
    if view.card is None:
        left_out[cut & (left_out == 0)] = LEFT_OUT.index("cut by the edge")
    rows, area_px = share_out(blobs.area_px, blobs.contrast, sharp.blur_sigma_px)
    kept = member & ((left_out == 0) | (diameter_px * um_per_px > SMALLEST_LEFT_OUT_UM))
    keep, area_px = rows[kept[rows]], area_px[kept[rows]]
    # The grounds of a melted blob share its outline, which stays with the first.
    later = np.concatenate([[False], keep[1:] == keep[:-1]])
    lengths = np.where(later, 0, np.diff(blobs.outline_start)[keep])
    points, outline_start = points_of(blobs.outline_start[:-1][keep], lengths)
    outline = blobs.outline_px[points] + np.array([view.x0, view.y0], np.float32)
    diameter = np.sqrt(4 * area_px / np.pi) * um_per_px[keep]
    smaller = np.sqrt(area_px / blobs.area_px[keep]) * um_per_px[keep]
    return Particles(
        photo=np.zeros(len(keep), np.int32),
        x_mm=mm[keep, 0], y_mm=mm[keep, 1], x_px=centres[keep, 0], y_px=centres[keep, 1],
        area_um2=diameter**2 * np.pi / 4, diameter_um=diameter,
        min_feret_um=blobs.min_feret_px[keep] * smaller, max_feret_um=blobs.max_feret_px[keep] * smaller,
        aspect_ratio=blobs.max_feret_px[keep] / blobs.min_feret_px[keep],
        circularity=blobs.circularity[keep], solidity=blobs.solidity[keep], darkness=blobs.plateau[keep],
        touches_edge=cut[keep], was_split=labels.was_split[keep] | (np.bincount(keep)[keep] > 1), weight=weight[keep],
        left_out=left_out[keep],
        outline_start=outline_start, outline_px=outline,
    )  # fmt: skip


def _result(
    picture: Picture,
    view: View,
    light: npt.NDArray[np.float32],
    sharp: Sharpness,
    particles: Particles,
    started: float,
    decoded: float,
) -> PhotoResult:
    um_per_px = view.scale.um_per_px
    fwhm_um = sharp.fwhm_px * um_per_px
    area_mm2 = polygon_area(view.plane.to_mm(view.corners_px))
    counted = particles.counted
    coverage = float((counted.area_um2 * counted.weight).sum() / 1e6 / max(area_mm2, 1e-6))
    evidence = Evidence(
        view=view, light=light, particles=particles, fwhm_um=fwhm_um, coverage=coverage, jpeg_step=picture.jpeg_step
    )
    return PhotoResult(
        particles=particles, scale=view.scale, width_px=picture.width_px, height_px=picture.height_px,
        blur_fwhm_um=fwhm_um, resolution_limit_um=limit_um(fwhm_um, um_per_px), coverage=coverage,
        findings=photo_findings(evidence),
        seconds={"decode": decoded - started, "total": time.perf_counter() - started},
        region_px=view.corners_px, scale_mark_px=view.mark_px, ten_mm_px=view.ten_mm_px,
    )  # fmt: skip
