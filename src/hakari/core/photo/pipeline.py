"""One photo from bytes to measured grounds: the order of the steps, and nothing else."""

from __future__ import annotations

import time
from dataclasses import dataclass

import cv2
import numpy as np
import numpy.typing as npt

from hakari.core.errors import InputError
from hakari.core.photo.basins import CELL_PX
from hakari.core.photo.card import FoundCard, find_card
from hakari.core.photo.decode import Picture, decode, linear_light
from hakari.core.photo.detect import Sharpness, find_level, sharpness
from hakari.core.photo.flatten import darkness
from hakari.core.photo.measure import Blobs, measure_blobs
from hakari.core.photo.quality import limit_um, photo_findings
from hakari.core.photo.reject import colours, not_coffee
from hakari.core.photo.result import FloatArray, Particles, PhotoResult, Scale
from hakari.core.photo.scale import PlaneMap, plane_from_points
from hakari.core.photo.separate import Labels, separate
from hakari.core.photo.unresolved import share_out

WELL_MARGIN_MM = 0.6
POINT_MARK_MM = 0.5
SMALLEST_FLAKE_UM = 300.0  # below this, what was left out is not worth a word


@dataclass(frozen=True)
class CardScale:
    """Scale by the printed card."""


@dataclass(frozen=True)
class PointsScale:
    """Scale by two points of the upright picture, px, and their distance in mm."""

    x1: float
    y1: float
    x2: float
    y2: float
    distance_mm: float


ScaleChoice = CardScale | PointsScale


@dataclass(frozen=True)
class _View:
    """Where to look: the plane, the box of pixels that is measured and the polygon that owns grounds."""

    plane: PlaneMap
    scale: Scale
    x0: int
    y0: int
    x1: int
    y1: int
    inside: npt.NDArray[np.uint8] | None
    found: FoundCard | None
    corners_px: FloatArray


def measure_photo(data: bytes, choice: ScaleChoice) -> PhotoResult:
    """Measure the grounds in one photo.

    Raises
    ------
    InputError
        When the file, the scale or the picture cannot be used; nothing is guessed.
    """
    started = time.perf_counter()
    picture = decode(data)
    decoded = time.perf_counter()
    view = _view(picture, choice)
    rgb = picture.rgb[view.y0 : view.y1, view.x0 : view.x1]
    light = linear_light(rgb)
    um_per_px = view.scale.um_per_px
    dark = darkness(light, um_per_px, view.inside)
    if view.inside is not None:
        dark *= view.inside
    sharp = sharpness(dark, um_per_px)
    if sharp is None or sharp.plateau < 0.15:
        raise InputError(
            "no-grounds",
            "No ground coffee was found in the photo.",
            "Spread a pinch of grounds on white paper, inside the card's well, and photograph it from above.",
        )
    coverage = dark / np.float32(sharp.plateau)
    labels = separate(coverage, find_level(sharp, um_per_px), sharp, um_per_px)
    blobs = measure_blobs(coverage, labels, sharp, um_per_px)
    particles, chaff = _particles(blobs, labels, rgb, view, sharp.plateau, sharp.blur_sigma_px)
    seconds = {"decode": decoded - started, "total": time.perf_counter() - started}
    return _result(picture, view, light, sharp, particles, chaff, seconds)


def _view(picture: Picture, choice: ScaleChoice) -> _View:
    width, height = picture.width_px, picture.height_px
    if isinstance(choice, PointsScale):
        points = (choice.x1, choice.y1, choice.x2, choice.y2)
        plane = plane_from_points(points, choice.distance_mm, width, height)
        um_per_px = float(np.sqrt(plane.mm2_per_px([[width / 2, height / 2]])[0]) * 1000)
        corners = np.array([[0, 0], [width - 1, 0], [width - 1, height - 1], [0, height - 1]], float)
        scale = Scale("points", um_per_px, None)
        x1, y1 = width - width % CELL_PX, height - height % CELL_PX
        return _View(plane, scale, 0, 0, x1, y1, _without_marks(choice, um_per_px, x1, y1), None, corners)
    found = find_card(picture.rgb)
    well = found.card.well
    m = WELL_MARGIN_MM

    def polygon(margin: float) -> FloatArray:
        left, top = well.x - margin, well.y - margin
        right, bottom = well.x + well.width + margin, well.y + well.height + margin
        along = np.linspace(0, 1, 9)[:-1]
        edges = [((left, top), (right, top)), ((right, top), (right, bottom)),
                 ((right, bottom), (left, bottom)), ((left, bottom), (left, top))]  # fmt: skip
        mm = [(a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t) for a, b in edges for t in along]
        return found.plane.to_px(mm)

    outer = polygon(m)
    low = np.floor(outer.min(axis=0)).astype(int)
    high = np.ceil(outer.max(axis=0)).astype(int) + 1
    x0, y0 = max(0, int(low[0])), max(0, int(low[1]))
    x1, y1 = min(width, int(high[0])), min(height, int(high[1]))
    if (x1 - x0) < 0.5 * (high[0] - low[0]) or (y1 - y0) < 0.5 * (high[1] - low[1]):
        raise InputError(
            "well-not-in-picture",
            "Most of the card's well lies outside the photo.",
            "Hold the phone so that the whole well is in the picture.",
        )
    x1, y1 = x1 - (x1 - x0) % CELL_PX, y1 - (y1 - y0) % CELL_PX
    inside = np.zeros((y1 - y0, x1 - x0), np.uint8)
    cv2.fillPoly(inside, [np.round((outer - (x0, y0)) * 16).astype(np.int32)], 1, shift=4)
    return _View(found.plane, found.scale, x0, y0, x1, y1, inside, found, polygon(0.0))


def _without_marks(choice: PointsScale, um_per_px: float, width: int, height: int) -> npt.NDArray[np.uint8]:
    """Everything but small discs round the two points, where a mark drawn on the paper is likely."""
    inside = np.ones((height, width), np.uint8)
    for x, y in ((choice.x1, choice.y1), (choice.x2, choice.y2)):
        cv2.circle(inside, (round(x), round(y)), round(POINT_MARK_MM * 1000 / um_per_px), 0, cv2.FILLED)
    return inside


def _particles(
    blobs: Blobs, labels: Labels, rgb: npt.NDArray[np.uint8], view: _View, plateau: float, sigma_px: float
) -> tuple[Particles, int]:
    """Pixels to micrometres, membership and weights; also the number of flakes and marks left out."""
    centres = np.column_stack([blobs.x_px + view.x0, blobs.y_px + view.y0])
    um_per_px = np.sqrt(view.plane.mm2_per_px(centres)) * 1000
    diameter_px = np.sqrt(4 * blobs.area_px / np.pi)
    mm = view.plane.to_mm(centres)
    tint, red = colours(rgb, labels.image, blobs, plateau)
    strange = not_coffee(blobs, diameter_px * um_per_px, diameter_px, tint, red)
    boxes = blobs.box_px
    height, width = rgb.shape[:2]
    cut = (boxes[:, 0] <= 1) | (boxes[:, 1] <= 1) | (boxes[:, 2] >= width - 1) | (boxes[:, 3] >= height - 1)
    if view.found is not None:
        well = view.found.card.well
        member = (mm[:, 0] >= well.x) & (mm[:, 0] <= well.x + well.width)
        member &= (mm[:, 1] >= well.y) & (mm[:, 1] <= well.y + well.height)
        weight = np.ones(len(diameter_px))
    else:
        # Miles–Lantuéjoul (ISO 13322-1): a cut ground is dropped, the others stand in by their chance of being whole.
        member = ~cut
        w, h = boxes[:, 2] - boxes[:, 0], boxes[:, 3] - boxes[:, 1]
        weight = width * height / np.maximum((width - w) * (height - h), 1.0)
    rows, area_px = share_out(blobs.area_px, blobs.contrast, sigma_px)
    kept = (member & ~strange)[rows]
    keep, area_px = rows[kept], area_px[kept]
    # The grounds of a melted blob share its outline, which stays with the first.
    later = np.concatenate([[False], keep[1:] == keep[:-1]])
    starts, counts = blobs.outline_start[:-1][keep], np.where(later, 0, np.diff(blobs.outline_start)[keep])
    points = np.repeat(starts - np.concatenate([[0], np.cumsum(counts)[:-1]]), counts) + np.arange(counts.sum())
    outline = blobs.outline_px[points] + np.array([view.x0, view.y0], np.float32)
    diameter = np.sqrt(4 * area_px / np.pi) * um_per_px[keep]
    smaller = np.sqrt(area_px / blobs.area_px[keep]) * um_per_px[keep]
    particles = Particles(
        photo=np.zeros(len(keep), np.int32),
        x_mm=mm[keep, 0], y_mm=mm[keep, 1], x_px=centres[keep, 0], y_px=centres[keep, 1],
        area_um2=diameter**2 * np.pi / 4, diameter_um=diameter,
        min_feret_um=blobs.min_feret_px[keep] * smaller, max_feret_um=blobs.max_feret_px[keep] * smaller,
        aspect_ratio=blobs.max_feret_px[keep] / blobs.min_feret_px[keep],
        circularity=blobs.circularity[keep], solidity=blobs.solidity[keep], darkness=blobs.plateau[keep],
        touches_edge=cut[keep], was_split=labels.was_split[keep] | (np.bincount(keep)[keep] > 1), weight=weight[keep],
        outline_start=np.concatenate([[0], np.cumsum(counts)]).astype(np.int64), outline_px=outline,
    )  # fmt: skip
    return particles, int((strange & member & (diameter_px * um_per_px > SMALLEST_FLAKE_UM)).sum())


def _result(
    picture: Picture,
    view: _View,
    light: npt.NDArray[np.float32],
    sharp: Sharpness,
    particles: Particles,
    chaff: int,
    seconds: dict[str, float],
) -> PhotoResult:
    um_per_px = view.scale.um_per_px
    fwhm_um = sharp.fwhm_px * um_per_px
    paper = light[::8, ::8] if view.inside is None else light[::8, ::8][view.inside[::8, ::8] > 0]
    tiles = _paper_tiles(light, view.inside)
    area_mm2 = _polygon_area(view.plane.to_mm(view.corners_px))
    coverage = float((particles.area_um2 * particles.weight).sum() / 1e6 / max(area_mm2, 1e-6))
    split = particles.was_split[particles.diameter_um > 150]
    findings = photo_findings(
        scale=view.scale, fwhm_um=fwhm_um, um_per_px=um_per_px, coverage=coverage,
        diameters_um=particles.diameter_um, split_share=float(split.mean()) if len(split) else 0.0,
        light_range=float(tiles.max() / max(float(tiles.min()), 1e-3)),
        overexposed_share=float((paper > 0.985).mean()), paper_level=float(np.quantile(paper, 0.8)),
        chaff=chaff,
        markers_seen=view.found.markers_seen if view.found else None,
        markers_total=len(view.found.card.markers) if view.found else None,
    )  # fmt: skip
    return PhotoResult(
        particles=particles, scale=view.scale, width_px=picture.width_px, height_px=picture.height_px,
        blur_fwhm_um=fwhm_um, resolution_limit_um=limit_um(fwhm_um, um_per_px), coverage=coverage,
        findings=findings, seconds=seconds, region_px=view.corners_px,
    )  # fmt: skip


def _paper_tiles(light: npt.NDArray[np.float32], inside: npt.NDArray[np.uint8] | None) -> FloatArray:
    """Brightness of the paper in a 6×4 grid of tiles, only those that lie inside."""
    height, width = light.shape
    values = []
    for rows in np.array_split(np.arange(0, height, 8), 4):
        for columns in np.array_split(np.arange(0, width, 8), 6):
            box = np.ix_(rows, columns)
            if inside is None or inside[box].mean() > 0.95:
                values.append(float(np.quantile(light[box], 0.7)))
    return np.array(values or [1.0])


def _polygon_area(points: FloatArray) -> float:
    x, y = points[:, 0], points[:, 1]
    return 0.5 * abs(float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))))
