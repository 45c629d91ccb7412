"""Sizes of separated grounds, from the light that they take away."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
import numpy.typing as npt

from hakari.core.photo.detect import Sharpness
from hakari.core.photo.flatten import Image32
from hakari.core.photo.outline import outlines
from hakari.core.photo.result import FloatArray
from hakari.core.photo.separate import Labels
from hakari.core.photo.shade import LARGE_PX, SMALL_PX, SMALLEST_PX, Rim, shadow_factor

# Below GREY_ONLY blur widths across, a ground has no plateau and only its light counts; above EDGE_ONLY its
# half-height edge is the better measure, because shading inside it does not matter there.
GREY_ONLY_SIGMAS = 6.0
EDGE_ONLY_SIGMAS = 12.0


@dataclass(frozen=True)
class Blobs:
    """Grounds in pixel units, one row each, with their outlines one after the other."""

    area_px: FloatArray
    x_px: FloatArray
    y_px: FloatArray
    plateau: FloatArray
    min_feret_px: FloatArray
    max_feret_px: FloatArray
    circularity: FloatArray
    solidity: FloatArray
    box_px: FloatArray
    outline_start: npt.NDArray[np.int64]
    outline_px: npt.NDArray[np.float32]


RING_PX = 2.5
CORE_LEVEL = 0.9


def _basins(
    labels: npt.NDArray[np.int32], reach_px: int
) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.int32], npt.NDArray[np.bool_]]:
    """Flat indices of the pixels within ``reach_px`` of a ground or in the ring outside, their owner, and if in the ring."""
    paper = (labels == 0).astype(np.uint8)
    distance, nearest = cv2.distanceTransformWithLabels(paper, cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL)
    flat_labels = labels.ravel()
    own = np.flatnonzero(flat_labels)
    table = np.zeros(int(nearest.max()) + 1, np.int32)
    table[nearest.ravel()[own]] = flat_labels[own]
    at = np.flatnonzero(distance.ravel() <= reach_px + RING_PX)
    return at, table[nearest.ravel()[at]], distance.ravel()[at] > reach_px


def _local_shade(coverage: Image32, ring_at: npt.NDArray[np.int64], reach_px: int) -> Image32:
    """Coverage of the paper beside grounds (what flattening left of a soft shadow), carried under them from the rings."""
    known = np.zeros(coverage.shape, np.float32)
    known.ravel()[ring_at] = 1.0
    size, sigma = (0, 0), 0.6 * reach_px + 1.0
    weight = cv2.GaussianBlur(known, size, sigma, borderType=cv2.BORDER_CONSTANT)
    total = cv2.GaussianBlur(known * coverage, size, sigma, borderType=cv2.BORDER_CONSTANT)
    # Where little of a ring is near (a crowded ground), it says little: shrink towards none.
    return np.asarray(np.clip(total / (weight + 0.03), 0.0, 0.45), np.float32)


def _offsets_from_core(
    at: npt.NDArray[np.int64], owner: npt.NDArray[np.int32], values: FloatArray, n: int, width: int
) -> tuple[FloatArray, FloatArray]:
    """Offset of each basin pixel from the centre of the darkest part of its ground, px."""
    x, y = (at % width).astype(np.float64), (at // width).astype(np.float64)
    peak = np.full(n, 1e-6)
    np.maximum.at(peak, owner, values)
    core = np.clip(values / peak[owner] - CORE_LEVEL, 0, None)
    total = np.maximum(np.bincount(owner, weights=core, minlength=n), 1e-9)
    centre_x = np.bincount(owner, weights=core * x, minlength=n) / total
    centre_y = np.bincount(owner, weights=core * y, minlength=n) / total
    return x - centre_x[owner], y - centre_y[owner]


def _plateaus(coverage: Image32, labels: Labels, sharp: Sharpness) -> FloatArray:
    """Mean coverage in the core of each ground; 1 where it is too small to have one."""
    depth = cv2.distanceTransform((labels.image > 0).astype(np.uint8), cv2.DIST_L2, 3)
    core = np.flatnonzero(depth.ravel() > max(1.5, 2.5 * sharp.blur_sigma_px))
    which = labels.image.ravel()[core]
    n = labels.count + 1
    pixels = np.bincount(which, minlength=n)[1:].astype(np.float64)
    total = np.bincount(which, weights=coverage.ravel()[core], minlength=n)[1:]
    mean = np.where(pixels >= 6, total / np.maximum(pixels, 1), 1.0)
    return np.clip(mean, 0.25, 1.6)


def measure_blobs(coverage: Image32, labels: Labels, sharp: Sharpness) -> Blobs:
    """Measure every labelled ground.

    Area is a blend by size: the sum of coverage over the ground's basin, divided by its own plateau (small ones: blur
    moves light about but keeps its sum), and the pixels above half the plateau (large ones: an edge's half height
    stays in place under blur).
    """
    reach = int(np.ceil(2.6 * sharp.blur_sigma_px + 0.7))
    area, plateau = _areas(coverage, labels, sharp, reach)
    shape = outlines(labels, coverage, plateau)
    x, y, aspect_of_moments = _centres(labels, coverage.shape[1])
    diameter = np.sqrt(4 * area / np.pi)
    # Grounds too small for an outline take the axes of the ellipse with their second moments.
    aspect = np.where(shape.known, shape.max_feret / np.maximum(shape.min_feret, 0.5), aspect_of_moments)
    min_feret = np.where(shape.known, shape.min_feret * diameter / shape.diameter, diameter / np.sqrt(aspect))
    around = np.column_stack([x - diameter / 2, y - diameter / 2, x + diameter / 2, y + diameter / 2])
    return Blobs(
        area_px=area, x_px=x, y_px=y, plateau=plateau,
        min_feret_px=min_feret, max_feret_px=min_feret * aspect,
        circularity=shape.circularity, solidity=shape.solidity, box_px=np.where(np.isnan(shape.box), around, shape.box),
        outline_start=shape.outline_start, outline_px=shape.outline_px,
    )  # fmt: skip


def _areas(coverage: Image32, labels: Labels, sharp: Sharpness, reach_px: int) -> tuple[FloatArray, FloatArray]:
    """Area of each ground in px and its plateau of coverage."""
    n = labels.count
    basins = _basins(labels.image, reach_px)
    at, owner, in_ring = basins
    owner -= 1
    ring_pixels = np.bincount(owner[in_ring], minlength=n).astype(np.float64)
    shade = _local_shade(coverage, at[in_ring], reach_px)
    near = ~in_ring
    at, owner = at[near], owner[near]
    plateau = _plateaus(coverage, labels, sharp)
    below = shade.ravel()[at]
    values = (coverage.ravel()[at] - below) / np.maximum(plateau[owner] - below, 0.2)
    inside = values > 0.5
    pixels = np.bincount(owner[inside], minlength=n).astype(np.float64)
    # A closed outline turns by 2π, so blur of σ takes πσ² from the area within half height, whatever its shape.
    half = pixels + np.pi * sharp.blur_sigma_px**2 * (pixels > 0)
    size_px = np.sqrt(4 * np.maximum(half, 1) / np.pi)
    size_sigmas = size_px / max(sharp.blur_sigma_px, 0.4)
    edge_share = np.clip((size_sigmas - GREY_ONLY_SIGMAS) / (EDGE_ONLY_SIGMAS - GREY_ONLY_SIGMAS), 0, 1)
    light = (edge_share * half / np.maximum(pixels, 1))[owner] * inside + (1 - edge_share)[owner] * values
    ring_wanted = np.pi * RING_PX * (size_px + 2 * reach_px + RING_PX)
    isolated = (ring_pixels > 0.9 * ring_wanted) & (size_px > SMALLEST_PX) & (size_px < LARGE_PX)
    lone = isolated[owner]
    dx, dy = _offsets_from_core(at[lone], owner[lone], values[lone], n, coverage.shape[1])
    unshaded = shadow_factor(size_px, owner[lone], dx, dy, light[lone], isolated,
                             _rim(at, owner, values, size_px, coverage.shape[1]))  # fmt: skip
    area = np.asarray(np.bincount(owner, weights=light, minlength=n), np.float64) * unshaded
    return np.maximum(area, 0.05), plateau


def _rim(
    at: npt.NDArray[np.int64], owner: npt.NDArray[np.int32], values: FloatArray, size_px: FloatArray, width: int
) -> Rim:
    """The rims of large grounds."""
    inside = np.flatnonzero((values > 0.5) & (size_px[owner] > SMALL_PX))
    who = owner[inside]
    x, y = (at[inside] % width).astype(np.float64), (at[inside] // width).astype(np.float64)
    pixels = np.maximum(np.bincount(who, minlength=len(size_px)), 1)
    # The middle of the ground from its safe part, so that the rim does not move it.
    cx = np.bincount(who, weights=x, minlength=len(size_px)) / pixels
    cy = np.bincount(who, weights=y, minlength=len(size_px)) / pixels
    rim = values[inside] < 0.75
    return Rim(who[rim], x[rim] - cx[who[rim]], y[rim] - cy[who[rim]])


def _centres(labels: Labels, width: int) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Centre of each ground in px and the aspect ratio of the ellipse with its second moments."""
    found = np.flatnonzero(labels.image.ravel())
    which = labels.image.ravel()[found] - 1
    x, y = (found % width).astype(np.float64), (found // width).astype(np.float64)
    pixels = np.maximum(np.bincount(which, minlength=labels.count), 1).astype(np.float64)

    def mean(values: FloatArray) -> FloatArray:
        return np.asarray(np.bincount(which, weights=values, minlength=labels.count) / pixels)

    cx, cy = mean(x), mean(y)
    dx, dy = x - cx[which], y - cy[which]
    sxx, syy, sxy = mean(dx * dx) + 1 / 12, mean(dy * dy) + 1 / 12, mean(dx * dy)
    root = np.sqrt(np.maximum((sxx - syy) ** 2 / 4 + sxy**2, 0))
    long_axis = np.sqrt((sxx + syy) / 2 + root)
    return cx, cy, long_axis / np.sqrt(np.maximum((sxx + syy) / 2 - root, 1 / 12))
