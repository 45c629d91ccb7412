"""Telling touching grounds apart: blobs with a waist are cut along their best chord, recursively."""

from __future__ import annotations

from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from math import pi, sqrt

import cv2
import numpy as np
from cv2.typing import MatLike

from hakari.core.arrays import BoolArray, FloatArray, Image32, Int32Array, IntArray, Uint8Array
from hakari.core.photo.components import Box, Components, find_components
from hakari.core.photo.concavity_split import MIN_PART_SHARE, fullness, resample, split_outlines
from hakari.core.photo.crevices import part_at_crevices
from hakari.core.photo.detect import Sharpness
from hakari.core.photo.traced import lay_out

SMALL_BLOB_PX = 30.0
SMALLEST_SPLIT_UM, LARGEST_SPLIT_UM = 82.0, 8000.0  # a larger blob is a coin, a hand or the table
MIN_HOLE_PX = 5.0
TOO_SMALL_PX = 7  # so small a blob has no outline long enough to be judged
OPEN_HOLE_COVERAGE = 0.3
HALF, LEAST_PART_PX, LEAST_OUTLINE_POINTS = 0.6, 2, 12

# How full its hull a blob is that is one ground for certain; blur rounds the waist of small ones.
# A small ground on a large one hardly makes it less full, so large ones are looked at more closely too.
FULL, FULL_SOFT, SOFT_SIGMAS, LARGE_PX = 0.955, 0.972, 10.0, 18.0
PARENT = 3  # column of OpenCV's hierarchy of outlines: the outline round about, −1 for none


@dataclass(frozen=True)
class Labels:
    """Label image (0 = paper, 1…count = grounds), and which grounds came out of a split."""

    image: Int32Array
    count: int
    was_split: BoolArray


def _opened_rings(binary: Uint8Array, min_hole_px: float) -> Sequence[MatLike]:
    """Outer outlines of a blob's pieces; grounds that close a ring are opened at its narrowest place first."""
    contours, hierarchy = cv2.findContours(binary, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    opened = False
    for contour, links in zip(contours, hierarchy[0] if hierarchy is not None else (), strict=True):
        if links[PARENT] < 0 or cv2.contourArea(contour) < min_hole_px:
            continue
        hole, rim = contour[:, 0, :].astype(np.float64), contours[links[PARENT]][:, 0, :].astype(np.float64)
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
    return [c for c, links in zip(contours, hierarchy[0], strict=True) if links[PARENT] < 0]


def _with_holes_closed(
    found: Components, coverage: Image32, contours: Sequence[MatLike], hierarchy: MatLike | None
) -> Components:
    """Fill what shines inside a ground; leave a gap through which paper shows between grounds that close a ring."""
    holes = np.flatnonzero(hierarchy[0][:, PARENT] >= 0).tolist() if hierarchy is not None else []
    filled = [_fill(found.image, coverage, contours[k]) for k in holes]
    return found.relabelled(np.concatenate(filled)) if filled else found


def _fill(labels: Int32Array, coverage: Image32, hole: MatLike) -> IntArray:
    """Give a hole and what lies in it the label of most of its rim, unless paper shows there.

    Returns the flat indices of the pixels that had no label before.
    """
    x, y, w, h = cv2.boundingRect(hole)
    drawn = np.zeros((h, w), np.uint8)
    cv2.drawContours(drawn, [hole - (x, y)], 0, 1, cv2.FILLED)
    box = np.s_[y : y + h, x : x + w]
    part, inside = labels[box], drawn > 0
    empty = np.argwhere(inside & (part == 0)) + (y, x)
    if cv2.contourArea(hole) >= MIN_HOLE_PX and np.any(coverage[tuple(empty.T)] < OPEN_HOLE_COVERAGE):
        return np.zeros(0, np.int64)
    rim = labels[hole[:, 0, 1], hole[:, 0, 0]]
    part[inside & ~np.isin(part, rim)] = np.bincount(rim).argmax()
    return np.asarray(empty @ [labels.shape[1], 1], np.int64)


@dataclass(frozen=True)
class _Blob:
    """A blob that may be several grounds: its label, its box (rows, columns), and its outlines at the splitting level."""

    label: int
    box: Box
    zoom: int
    outlines: list[MatLike]


def _traced(label: int, box: Box, piece: Image32, own: BoolArray, size_px: float, level: float) -> _Blob:
    """Trace a blob above ``level``, small ones enlarged so that a waist has room to show."""
    zoom = 1 if size_px > SMALL_BLOB_PX else (2 if size_px > SMALL_BLOB_PX / 2 else 3)
    hidden = np.where(own, piece, np.minimum(piece, np.float32(0)))
    big = cv2.resize(hidden, None, fx=zoom, fy=zoom, interpolation=cv2.INTER_LINEAR) if zoom > 1 else hidden
    binary = (big > level).view(np.uint8)
    least = max(6.0, MIN_PART_SHARE * size_px**2) * zoom**2
    traced = [c for c in _opened_rings(binary, MIN_HOLE_PX * zoom**2) if len(c) >= 6 and cv2.contourArea(c) >= least]
    return _Blob(label, box, zoom, traced)


def _drawn_parts(blob: _Blob, parts: list[FloatArray], own: BoolArray) -> Int32Array:
    """Return the parts of a blob numbered from 1 in its box, 0 outside."""
    height, width = own.shape
    drawn: MatLike = np.zeros((height * blob.zoom, width * blob.zoom), np.int32)
    for number, part in enumerate(parts, 1):
        cv2.fillPoly(drawn, [np.round(part * 16).astype(np.int32)], number, shift=4)
    if blob.zoom > 1:
        drawn = cv2.resize(drawn, (width, height), interpolation=cv2.INTER_NEAREST)
    return np.asarray(np.where(own, drawn, 0), np.int32)


def _split_level(size_sigmas: float) -> float:
    """Share of the plateau at which a blob is cut: the smaller it is against the blur, the higher its waist."""
    return float(np.interp(size_sigmas, [6.0, 14.0, 30.0], [0.88, 0.8, 0.5]))


def separate(coverage: Image32, light: Image32, level: float, sharp: Sharpness, um_per_px: float) -> Labels:
    """Label grounds above ``level`` and cut touching ones apart: at their waists, then along dark crevices.

    Blobs that are small against the blur are cut at a higher level, where the waist is still a waist.

    Parameters
    ----------
    coverage : ndarray of float32
        Share of each pixel that coffee covers, (height, width).
    light : ndarray of float32
        Linear brightness, (height, width).
    level : float
        Coverage above which a pixel may belong to a ground.
    sharp : Sharpness
        What the picture can show.
    um_per_px : float
        Scale, µm per px.

    Returns
    -------
    Labels
        Labels of the separated grounds.
    """
    least_px = max(12.0, (SMALLEST_SPLIT_UM / um_per_px) ** 2)
    most_px = (LARGEST_SPLIT_UM / um_per_px) ** 2
    with ThreadPoolExecutor(1) as pool:
        finding_halves = pool.submit(lambda: find_components((coverage > max(level, HALF)).view(np.uint8)))
        found = find_components((coverage > level).view(np.uint8))
        contours, hierarchy = cv2.findContours(found.larger_than(TOO_SMALL_PX), cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
        judging = pool.submit(_doubtful, contours, hierarchy, least_px, sharp.blur_sigma_px)
        whole = _with_holes_closed(found, coverage, contours, hierarchy)
        halves = finding_halves.result()
    labels = whole.image
    boxes = _parted_at_half(whole, halves)
    split_ids = list(boxes)
    next_id = whole.count + len(boxes)
    owners = [i for i in _owners(judging.result(), labels) if i < whole.count]
    boxes |= dict(zip(owners, whole.boxes(np.array(owners, np.int64)), strict=True))
    blobs = []
    for i, box in boxes.items():
        piece, own = coverage[box], labels[box] == i
        pixels = np.count_nonzero(own)
        if least_px <= pixels <= most_px:
            size_px = sqrt(4 * pixels / pi)
            blobs.append(_traced(i, box, piece, own, size_px, _level_of(piece[own], level, sharp)))
    for blob, parts in zip(blobs, _parts_of(blobs), strict=True):
        if len(parts) < 2:
            continue
        view = labels[blob.box]
        own = view == blob.label
        drawn = _drawn_parts(blob, parts, own)
        present = (1 + np.flatnonzero(np.bincount(drawn.ravel(), minlength=2)[1:])).tolist()
        if len(present) < 2:
            continue
        split_ids.append(blob.label)
        # The rim below the splitting level goes to the nearest part when basins are drawn.
        view[own & (drawn != present[0])] = 0
        for part in present[1:]:
            view[drawn == part] = next_id
            split_ids.append(next_id)
            boxes[next_id] = blob.box
            next_id += 1
    parted = part_at_crevices(labels, light, boxes, most_px, next_id)
    split_ids += parted
    next_id = max([next_id - 1, *parted]) + 1
    was_split = np.zeros(next_id, np.bool_)
    was_split[split_ids] = True
    return Labels(labels, next_id - 1, was_split[1:])


def _parted_at_half(whole: Components, halves: Components) -> dict[int, Box]:
    """Relabel, in place, blobs that fall apart at half height: what only light between them joined.

    Returns the new labels with their boxes.
    """
    labels = whole.image.ravel()
    inside = np.zeros(halves.count, np.int32)
    inside[halves.labels_at] = labels[halves.at]
    sizeable = halves.areas_px >= LEAST_PART_PX
    several = np.bincount(inside[sizeable], minlength=whole.count) > 1
    chosen = np.flatnonzero(sizeable & several[inside])
    new = np.zeros(halves.count, np.int32)
    new[chosen] = whole.count + np.arange(len(chosen))
    changed = whole.at[several[whole.labels_at]]
    labels[changed] = new[halves.image.ravel()[changed]]
    return dict(zip(new[chosen].tolist(), halves.boxes(chosen), strict=True))


def _parts_of(blobs: list[_Blob]) -> list[list[FloatArray]]:
    """Return the outlines of each blob's parts, all blobs together."""
    split = iter(split_outlines(resample([o for blob in blobs for o in blob.outlines])))
    return [[part for _ in blob.outlines for part in next(split)] for blob in blobs]


def _level_of(strong: Image32, level: float, sharp: Sharpness) -> float:
    """Return the level to cut a blob at, by its own darkness and its size against the blur; ``strong`` are its pixels."""
    top = int(0.8 * (len(strong) - 1))
    plateau = min(max(float(np.partition(strong, top)[top]), 0.5), 1.2)
    size_sigmas = sqrt(len(strong)) / max(sharp.blur_sigma_px, 0.4)
    return max(level, _split_level(size_sigmas)) * plateau


def _doubtful(
    contours: Sequence[MatLike], hierarchy: MatLike | None, min_area_px: float, sigma_px: float
) -> list[MatLike]:
    """Outlines of blobs that are large enough and not convex enough to be one ground for certain."""
    if hierarchy is None:
        return []
    found = []
    long_enough = np.array([len(contour) for contour in contours]) >= LEAST_OUTLINE_POINTS
    for k in np.flatnonzero(long_enough & (hierarchy[0][:, PARENT] < 0)).tolist():
        contour = contours[k]
        # Outlines run through pixel centres: half a pixel all round belongs to the blob as well.
        area = cv2.contourArea(contour) + 0.5 * len(contour)
        if area < min_area_px:
            continue
        closely = area < (SOFT_SIGMAS * sigma_px) ** 2 or area > LARGE_PX**2
        if fullness(contour) < (FULL_SOFT if closely else FULL):
            found.append(contour)
    return found


def _owners(contours: list[MatLike], labels: Int32Array) -> list[int]:
    """Labels of the blobs that own most of each outline, in order: outlines join what meets at corners, labels do not."""
    traced = lay_out(contours, labels)
    alone = traced.alone
    found = set(traced.first[alone].tolist())
    for k in np.flatnonzero(~alone).tolist():
        found.add(int(np.bincount(traced.part(k)[1]).argmax()))
    return sorted(found - {0})
