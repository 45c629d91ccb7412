"""Telling touching grounds apart: blobs with a waist are cut along their best chord, recursively.

A chord between two points of an outline is a likely contact when it is short against the smaller part that it
cuts off. Chord over diameter of the smaller part is scale free, so one threshold serves all sizes.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import cv2
import numpy as np
import numpy.typing as npt
from cv2.typing import MatLike

from hakari.core.photo.detect import Sharpness
from hakari.core.photo.flatten import Image32
from hakari.core.photo.result import FloatArray

MAX_CHORD_RATIO = 0.72
MIN_SOLIDITY = 0.93
MIN_PART_SHARE = 0.015
OUTLINE_POINTS = 72
SMALL_BLOB_PX = 30.0
SMALLEST_SPLIT_UM = 82.0
MIN_HOLE_PX = 5.0
OPEN_HOLE_COVERAGE = 0.3
VEIL_FROM, VEIL_UP_TO = 0.2, 0.55


@dataclass(frozen=True)
class Labels:
    """Label image (0 = paper, 1…count = grounds), which grounds came out of a split, and where a veil lies (1)."""

    image: npt.NDArray[np.int32]
    count: int
    was_split: npt.NDArray[np.bool_]
    veil: npt.NDArray[np.uint8]


def _cross(a: FloatArray, b: FloatArray) -> FloatArray:
    return np.asarray(a[..., 0] * b[..., 1] - a[..., 1] * b[..., 0])


def _resample(outline: FloatArray) -> FloatArray:
    """Points at even arc length along a closed outline, lightly smoothed against pixel stairs."""
    closed = np.concatenate([outline, outline[:1]])
    step = closed[1:] - closed[:-1]
    along = np.zeros(len(closed))
    np.cumsum(np.sqrt(step[:, 0] ** 2 + step[:, 1] ** 2), out=along[1:])
    n = int(min(OUTLINE_POINTS, max(16, 0.45 * along[-1])))
    at = np.arange(-1, n + 1) * (along[-1] / n) % along[-1]
    points = np.column_stack([np.interp(at, along, closed[:, 0]), np.interp(at, along, closed[:, 1])])
    return np.asarray(0.25 * points[:-2] + 0.5 * points[1:-1] + 0.25 * points[2:])


def _next(points: FloatArray) -> FloatArray:
    return np.concatenate([points[1:], points[:1]])


@lru_cache(maxsize=256)
def _pairs(n: int) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.int64]]:
    return np.triu_indices(n, 3)


def _area(points: FloatArray) -> float:
    return 0.5 * abs(float(_cross(points, _next(points)).sum()))


def _solidity(points: FloatArray) -> float:
    p = points.astype(np.float32)
    hull = float(cv2.contourArea(cv2.convexHull(p)))
    return _area(points) / hull if hull > 0 else 1.0


def best_chord(points: FloatArray) -> tuple[int, int, float]:
    """Return indices i < j of the chord with the least length over diameter of the smaller part, and that ratio.

    ``points`` is a closed outline (n, 2). Chords that leave the outline are not considered.
    """
    n = len(points)
    steps = _cross(points, _next(points))
    ahead = np.concatenate([[0.0], np.cumsum(steps)])
    total = ahead[-1]
    i, j = _pairs(n)
    part = 0.5 * (ahead[j] - ahead[i] + _cross(points[j], points[i])) * np.sign(total)
    whole = 0.5 * abs(total)
    smaller = np.minimum(part, whole - part)
    fits = smaller > MIN_PART_SHARE * whole
    i, j, smaller = i[fits], j[fits], smaller[fits]
    if len(i) == 0:
        return 0, 0, np.inf
    x, y = points[:, 0], points[:, 1]
    squared = ((x[i] - x[j]) ** 2 + (y[i] - y[j]) ** 2) / smaller
    outline = points.astype(np.float32)
    few = np.argpartition(squared, min(11, len(squared) - 1))[:12]
    few = few[np.argsort(squared[few])]
    for k in few:
        ratio = float(np.sqrt(squared[k] * np.pi / 4))
        if ratio > MAX_CHORD_RATIO:
            break
        a, b = points[i[k]], points[j[k]]
        inner = all(
            cv2.pointPolygonTest(outline, (float(x), float(y)), True) > -0.4
            for x, y in (a + (b - a) * t for t in (0.25, 0.5, 0.75))
        )
        if inner:
            return int(i[k]), int(j[k]), ratio
    return 0, 0, np.inf


def split_outline(points: FloatArray, depth: int = 0) -> list[FloatArray]:
    """Cut an outline into the outlines of its parts; one part when it has no waist."""
    if depth > 6 or len(points) < 8 or _solidity(points) >= MIN_SOLIDITY:
        return [points]
    i, j, ratio = best_chord(points)
    if ratio > MAX_CHORD_RATIO:
        return [points]
    first, second = points[i : j + 1], np.vstack([points[j:], points[: i + 1]])
    return split_outline(first, depth + 1) + split_outline(second, depth + 1)


def _opened_rings(binary: npt.NDArray[np.uint8], min_hole_px: float) -> Sequence[MatLike]:
    """Outer outlines of a blob's pieces; grounds that close a ring are opened at its narrowest place first."""
    contours, hierarchy = cv2.findContours(binary, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    opened = False
    for contour, links in zip(contours, hierarchy[0] if hierarchy is not None else (), strict=True):
        if links[3] < 0 or cv2.contourArea(contour) < min_hole_px:
            continue
        hole, rim = contour[:, 0, :].astype(np.float64), contours[links[3]][:, 0, :].astype(np.float64)
        squared = ((hole[:, None, :] - rim[None, :, :]) ** 2).sum(axis=2)
        a, b = np.unravel_index(int(np.argmin(squared)), squared.shape)
        ends = [tuple(int(v) for v in p) for p in (hole[a], rim[b])]
        cv2.line(binary, ends[0], ends[1], 0, 2)
        opened = True
    if opened:
        contours, _ = cv2.findContours(binary, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
        return contours
    if hierarchy is None:
        return []
    return [c for c, links in zip(contours, hierarchy[0], strict=True) if links[3] < 0]


def _fill_closed_holes(
    binary: npt.NDArray[np.uint8], coverage: Image32, contours: Sequence[MatLike], hierarchy: MatLike
) -> None:
    """Fill what shines inside a ground; leave a gap through which paper shows between grounds that close a ring."""
    filled = []
    for contour, links in zip(contours, hierarchy[0], strict=True):
        if links[3] < 0:
            continue
        if cv2.contourArea(contour) >= MIN_HOLE_PX:
            x, y, w, h = cv2.boundingRect(contour)
            inner = np.zeros((h, w), np.uint8)
            cv2.drawContours(inner, [contour - (x, y)], 0, 1, cv2.FILLED)
            inside = coverage[y : y + h, x : x + w][(inner > 0) & (binary[y : y + h, x : x + w] == 0)]
            if inside.size and float(inside.min()) < OPEN_HOLE_COVERAGE:
                continue
        filled.append(contour)
    cv2.drawContours(binary, filled, -1, 1, thickness=cv2.FILLED)


def _veil(coverage: Image32, level: float, sharp: Sharpness) -> npt.NDArray[np.uint8]:
    """Areas of middling coverage wider than a blurred rim: flakes of chaff, deep shadow; 1 there.

    A ground that lies on a flake is then found without it.
    """
    reach = int(np.ceil(1.6 * sharp.blur_sigma_px + 0.8))
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * reach + 1, 2 * reach + 1))
    middling = np.asarray(cv2.inRange(coverage, min(level, VEIL_FROM), VEIL_UP_TO), np.uint8)
    core = cv2.erode(middling, kernel, borderType=cv2.BORDER_CONSTANT, borderValue=0)
    if not core.any():
        return np.zeros_like(middling)
    wide = cv2.dilate(core, cv2.dilate(kernel, np.ones((3, 3), np.uint8)))
    return np.asarray((wide > 0) & (middling > 0), np.uint8)


def _parts_in_box(piece: Image32, own: npt.NDArray[np.bool_], level: float) -> npt.NDArray[np.int32] | None:
    """Label the parts of one blob in its box (0 outside), or ``None`` when it is one ground."""
    size = float(np.sqrt(4 * own.sum() / np.pi))
    zoom = 1 if size > SMALL_BLOB_PX else (2 if size > SMALL_BLOB_PX / 2 else 3)
    hidden = np.where(own, piece, np.minimum(piece, 0)).astype(np.float32)
    big = cv2.resize(hidden, None, fx=zoom, fy=zoom, interpolation=cv2.INTER_LINEAR) if zoom > 1 else hidden
    binary = (big > level).astype(np.uint8)
    contours = _opened_rings(binary, MIN_HOLE_PX * zoom**2)
    least = max(6.0, MIN_PART_SHARE * size**2) * zoom**2
    parts: list[FloatArray] = []
    for contour in contours:
        outline = contour[:, 0, :].astype(np.float64)
        if len(outline) >= 6 and _area(outline) >= least:
            parts += split_outline(_resample(outline))
    if len(parts) < 2:
        return None
    drawn: MatLike = np.zeros(big.shape, np.int32)
    for number, part in enumerate(parts, 1):
        cv2.fillPoly(drawn, [np.round(part * 16).astype(np.int32)], number, shift=4)
    if zoom > 1:
        drawn = cv2.resize(drawn, (piece.shape[1], piece.shape[0]), interpolation=cv2.INTER_NEAREST)
    return np.asarray(np.where(own, drawn, 0), np.int32)


def _split_level(size_sigmas: float) -> float:
    """Share of the plateau at which a blob is cut: the smaller it is against the blur, the higher its waist."""
    return float(np.interp(size_sigmas, [10.0, 30.0], [0.8, 0.5]))


def separate(coverage: Image32, level: float, sharp: Sharpness, um_per_px: float) -> Labels:
    """Label grounds above ``level`` and cut touching ones apart.

    Blobs that are small against the blur are cut at a higher level, where the waist is still a waist.
    """
    veil = _veil(coverage, level, sharp)
    binary = (coverage > level).astype(np.uint8)
    binary[veil > 0] = 0
    contours, hierarchy = cv2.findContours(binary, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    if hierarchy is not None:
        _fill_closed_holes(binary, coverage, contours, hierarchy)
    count, found, stats, _ = cv2.connectedComponentsWithStats(binary, connectivity=4, ltype=cv2.CV_32S)
    labels = np.asarray(found, np.int32)
    split_ids: list[int] = []
    next_id = count
    for i in _waisted(contours, hierarchy, labels, max(12.0, (SMALLEST_SPLIT_UM / um_per_px) ** 2)):
        x, y, w, h = (int(v) for v in stats[i, :4])
        box = labels[y : y + h, x : x + w]
        parts = _parts_of(coverage[y : y + h, x : x + w], box == i, level, sharp)
        present = [] if parts is None else [int(p) for p in np.unique(parts) if p > 0]
        if parts is None or len(present) < 2:
            continue
        split_ids.append(i)
        # The rim below the splitting level goes to the nearest part when basins are drawn.
        box[(box == i) & (parts != present[0])] = 0
        for part in present[1:]:
            box[parts == part] = next_id
            split_ids.append(next_id)
            next_id += 1
    was_split = np.zeros(next_id, np.bool_)
    was_split[split_ids] = True
    return Labels(labels, next_id - 1, was_split[1:], veil)


def _parts_of(
    piece: Image32, own: npt.NDArray[np.bool_], level: float, sharp: Sharpness
) -> npt.NDArray[np.int32] | None:
    """Label the parts of one blob at a level that suits its own darkness and its size against the blur."""
    strong = piece[own]
    top = int(0.8 * (len(strong) - 1))
    plateau = float(np.clip(np.partition(strong, top)[top], 0.5, 1.2))
    size_sigmas = float(np.sqrt(len(strong))) / max(sharp.blur_sigma_px, 0.4)
    return _parts_in_box(piece, own, max(level, _split_level(size_sigmas)) * plateau)


def _waisted(
    contours: Sequence[MatLike], hierarchy: MatLike | None, labels: npt.NDArray[np.int32], min_area_px: float
) -> list[int]:
    """Labels of blobs that are large enough and not convex enough to be one ground for certain."""
    found: set[int] = set()
    if hierarchy is None:
        return []
    for contour, links in zip(contours, hierarchy[0], strict=True):
        if links[3] >= 0 or len(contour) < 12:
            continue
        # Outlines run through pixel centres: half a pixel all round belongs to the blob as well.
        area = cv2.contourArea(contour) + 0.5 * len(contour)
        if area < min_area_px:
            continue
        hull = cv2.convexHull(contour)
        if area < 0.955 * (cv2.contourArea(hull) + 0.5 * len(contour)):
            # Outlines join what meets at corners, labels do not: the one that owns most of the outline is meant.
            owners = labels[contour[:, 0, 1], contour[:, 0, 0]]
            found.add(int(np.bincount(owners).argmax()))
    found.discard(0)
    return sorted(found)
