"""One photo from bytes to measured grounds: the order of the steps, and nothing else."""

from __future__ import annotations

import time
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import Literal

import numpy as np

from hakari.core.arrays import BoolArray, FloatArray, Image32, Mask, Uint8Array
from hakari.core.errors import InputError
from hakari.core.photo.areas import areas_left_out
from hakari.core.photo.cells import Cells, make_cells
from hakari.core.photo.coverage import coverage_of
from hakari.core.photo.decode import Picture, decode, linear_light
from hakari.core.photo.detect import Sharpness, find_level, sharpness
from hakari.core.photo.levels import BareLevels, Levels, find_levels
from hakari.core.photo.measure import Blobs, measure_blobs
from hakari.core.photo.outline import polygon_area
from hakari.core.photo.paper import PaperLight, find_paper
from hakari.core.photo.photo_evidence import PhotoEvidence
from hakari.core.photo.photo_light import light_error
from hakari.core.photo.quality import limit_um, photo_findings
from hakari.core.photo.regions import Regions, find_regions
from hakari.core.photo.reject import colours, not_coffee, scraps_of_shadow
from hakari.core.photo.result import ExclusionReason, Particles, PhotoResult, concatenate, points_of
from hakari.core.photo.separate import Labels, separate
from hakari.core.photo.sharpen import sharpened
from hakari.core.photo.unresolved import split_unresolved
from hakari.core.photo.view import CardScale, DiscScale, PointsScale, ScaleChoice, View, find_view

__all__ = ["CardScale", "DiscScale", "PointsScale", "Polarity", "ScaleChoice", "measure_photo"]

Polarity = Literal["dark", "bright"]
SHARP_PX, SHARPER_EDGES, SAMPLE_PX = 1.05, 0.8, 1200
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

    Returns
    -------
    PhotoResult
        Grounds, scale, findings and times.

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
    um_per_px = view.scale.um_per_px
    with ThreadPoolExecutor(1) as pool:
        finding_paper = pool.submit(find_paper, rgb, um_per_px, view.inside)
        light = linear_light(rgb)
        paper = finding_paper.result()
    seen = _see(rgb, light, paper, um_per_px, view.inside, coloured=polarity == "dark")
    sharp = sharpness(seen.coverage, um_per_px)
    if sharp is None or sharp.plateau < 0.3:
        raise no_grounds_found()
    coverage = np.divide(seen.coverage, np.float32(sharp.plateau), out=seen.coverage)
    as_taken = sharp
    coverage, sharp = sharpened(coverage, sharp, um_per_px)
    labels = separate(coverage, light, find_level(sharp, um_per_px), sharp, um_per_px)
    blobs = measure_blobs(coverage, labels, sharp, um_per_px, seen.levels.shade_beside)
    particles = _particles(blobs, labels, rgb, view, sharp, seen if polarity == "dark" else None)
    if polarity == "dark":
        areas = [areas_left_out(mask, seen.cells.size_px, reason, view) for mask, reason in seen.left_out]
        particles = concatenate([particles, *areas], one_photo=True)
    return _result(picture, view, light, as_taken, particles, seen, (started, decoded))


def no_grounds_found() -> InputError:
    """Return the refusal of a picture without coffee.

    Returns
    -------
    InputError
        The refusal of a picture without coffee.
    """
    return InputError(
        "no-grounds",
        "No ground coffee was found in the photo.",
        "Spread a pinch of grounds on white paper, inside the card's well, and photograph it from above.",
    )


@dataclass(frozen=True)
class Seen:
    """What was made of the light: coverage by coffee in pixels of the measured box, and what it rests on."""

    coverage: Image32
    cells: Cells
    paper: PaperLight
    regions: Regions
    levels: Levels | BareLevels

    @property
    def left_out(self) -> tuple[tuple[Mask, ExclusionReason], ...]:
        """Areas on the cell grid that are not coffee, with the reason."""
        return (self.regions.chaff, ExclusionReason.CHAFF), (self.regions.shade, ExclusionReason.SHADOW)


def _see(
    rgb: Uint8Array,
    light: Image32,
    paper: PaperLight,
    um_per_px: float,
    inside: Mask | None,
    coloured: bool,
) -> Seen:
    """Tell coffee from shadow, chaff and paper."""
    cell_px = _cell_px(light, paper, um_per_px, inside)
    cells = make_cells(rgb, light, paper, inside, cell_px)
    regions = find_regions(cells, coloured)
    levels = find_levels(cells, regions)
    coverage = coverage_of(rgb, light, paper, cells, regions, levels)
    if inside is not None:
        np.multiply(coverage, inside, out=coverage)
    return Seen(coverage, cells, paper, regions, levels)


def _cell_px(light: Image32, paper: PaperLight, um_per_px: float, inside: Mask | None) -> float:
    """Width of the cells that local levels are kept on: two pixels, or wider in a soft picture.

    The blur is taken from the sharper parts of edges, because penumbrae are softer than the lens is.
    """
    height, width = light.shape
    # A part of the picture is enough to tell its blur.
    top, left = max(0, (height - SAMPLE_PX) // 2), max(0, (width - SAMPLE_PX) // 2)
    box = np.s_[top : top + SAMPLE_PX, left : left + SAMPLE_PX]
    dark = 1 - light[box] / paper.part(paper.light, (height, width), box)
    if inside is not None:
        dark *= inside[box]
    sharp = sharpness(dark, um_per_px, SHARPER_EDGES)
    if sharp is None:
        return 2.0
    return 2.0 * float(np.clip(sharp.blur_sigma_px / SHARP_PX, 1.0, 2.2))


def _belonging(blobs: Blobs, view: View, centres_px: FloatArray) -> tuple[BoolArray, FloatArray]:
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
    blobs: Blobs, labels: Labels, rgb: Uint8Array, view: View, sharp: Sharpness, seen: Seen | None
) -> Particles:
    """Pixels to micrometres, membership, weights, and why something is left out."""
    centres = np.column_stack([blobs.x_px + view.x0, blobs.y_px + view.y0])
    um_per_px = np.sqrt(view.plane.mm2_per_px(centres)) * 1000
    diameter_px = np.sqrt(4 * blobs.area_px / np.pi)
    mm = view.plane.to_mm(centres)
    left_out = np.zeros(len(diameter_px), np.int8)
    if seen is not None:
        colour = colours(rgb, labels.image, blobs, sharp.plateau, seen.cells, seen.regions)
        coloured = seen.regions.coffee.coloured
        scraps = scraps_of_shadow(rgb.shape, blobs, seen.cells, seen.regions)
        size_cells = diameter_px / seen.cells.size_px
        left_out = not_coffee(blobs, diameter_px * um_per_px, size_cells, colour, scraps, coloured)
    boxes = blobs.box_px
    height, width = rgb.shape[:2]
    cut = (boxes[:, 0] <= 1) | (boxes[:, 1] <= 1) | (boxes[:, 2] >= width - 1) | (boxes[:, 3] >= height - 1)
    member, weight = _belonging(blobs, view, centres)
    if view.card is None:
        left_out[cut & (left_out == 0)] = ExclusionReason.CUT_BY_THE_EDGE
    rows, area_px = split_unresolved(blobs.area_px, blobs.contrast, sharp.blur_sigma_px)
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
    light: Image32,
    sharp: Sharpness,
    particles: Particles,
    seen: Seen,
    times: tuple[float, float],
) -> PhotoResult:
    um_per_px = view.scale.um_per_px
    fwhm_um = sharp.fwhm_px * um_per_px
    area_mm2 = polygon_area(view.plane.to_mm(view.corners_px))
    counted = particles.counted
    coverage = float((counted.area_um2 * counted.weight).sum() / 1e6 / max(area_mm2, 1e-6))
    evidence = PhotoEvidence(
        view=view, light=light, particles=particles, fwhm_um=fwhm_um, coverage=coverage, jpeg_step=picture.jpeg_step,
        shadow_light=seen.regions.shadow.light, shadow_share=seen.regions.shadow.share,
        red_over_blue=seen.paper.red_over_blue, coloured=seen.regions.coffee.coloured,
        shade_beside=seen.levels.shade_beside,
    )  # fmt: skip
    started, decoded = times
    return PhotoResult(
        particles=particles, scale=view.scale, width_px=picture.width_px, height_px=picture.height_px,
        blur_fwhm_um=fwhm_um, resolution_limit_um=limit_um(fwhm_um, um_per_px), coverage=coverage,
        findings=photo_findings(evidence),
        seconds={"decode": decoded - started, "total": time.perf_counter() - started},
        region_px=view.corners_px, scale_mark_px=view.mark_px, ten_mm_px=view.ten_mm_px, light_error=light_error(evidence),
    )  # fmt: skip
