"""The light that belongs to each ground: pixels shared out between neighbours, and the paper's shade beside them.

Distances are taken between cells of 2×2 pixels, which is exact enough for a reach of several pixels and four times as
quick; inside a cell every pixel of a ground keeps its own label.
"""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import cv2
import numpy as np

from hakari.core.arrays import BoolArray, FloatArray, Image32, Int32Array, IntArray, Uint8Array, as_image

CELL_PX = 2
RING_PX = 2.5
LARGEST_SHADE = 0.45
CLEAR_SIGMAS = 3.1  # this deep inside a ground its blurred rim is not felt


@dataclass(frozen=True)
class Basins:
    """Pixels near grounds, one entry each, and what is known of the paper round about.

    ``owner`` counts grounds from 0; ``labelled`` marks the pixels of the grounds themselves; ``cover`` is coverage and
    ``shade`` that of the paper near by. ``core_cover`` (n,) is the mean coverage of each ground's core, NaN where it
    has none.
    """

    at: IntArray
    owner: Int32Array
    labelled: BoolArray
    cover: Image32
    shade: Image32
    core_cover: FloatArray
    reach_px: float


def _pooled(image: Int32Array) -> tuple[Int32Array, Uint8Array]:
    """Return the largest label in each cell, and 1 where all of a cell is labelled."""
    corners = (image[0::2, 0::2], image[0::2, 1::2], image[1::2, 0::2], image[1::2, 1::2])
    top = np.maximum(np.maximum(corners[0], corners[1]), np.maximum(corners[2], corners[3]))
    full = np.minimum(np.minimum(corners[0], corners[1]), np.minimum(corners[2], corners[3])) > 0
    return top, full.view(np.uint8)


def _local_shade(cells: Image32, ring: BoolArray, reach_px: float) -> Image32:
    """Coverage of the paper beside grounds (what is left of a soft shadow), carried under them from the rings."""
    known = ring.astype(np.float32)
    size, sigma = (0, 0), (0.6 * reach_px + 1.0) / CELL_PX
    with ThreadPoolExecutor(1) as pool:
        near = pool.submit(cv2.GaussianBlur, known, size, sigma, borderType=cv2.BORDER_CONSTANT)
        total = cv2.GaussianBlur(cv2.multiply(known, cells), size, sigma, borderType=cv2.BORDER_CONSTANT)
        weight = near.result()
    # Where little of a ring is near (a crowded ground), it says little: shrink towards none.
    return np.asarray(np.clip(total / (weight + 0.03), 0.0, LARGEST_SHADE), np.float32)


def draw_basins(coverage: Image32, labels: Int32Array, count: int, blur_sigma_px: float) -> Basins:
    """Share out the pixels within reach of the blur's tails between the grounds.

    Both images are (height, width) with even sides.

    Parameters
    ----------
    coverage : ndarray of float32
        Share of each pixel that coffee covers, (height, width).
    labels : ndarray of int32
        Label of each pixel, 0 for paper.
    count : int
        How many grounds.
    blur_sigma_px : float
        Standard deviation of the picture's blur, px.

    Returns
    -------
    Basins
        Pixels near grounds with their owners.
    """
    width = coverage.shape[1]
    reach = int(np.ceil(2.6 * blur_sigma_px + 0.7)) + 1.0
    pooled, full = _pooled(labels)
    with ThreadPoolExecutor(1) as pool:
        cores = pool.submit(_core_cover, coverage, pooled, full, count, blur_sigma_px)
        distance, nearest = cv2.distanceTransformWithLabels(
            (pooled == 0).view(np.uint8), cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL
        )
        cells, core_cover = cores.result()
    table = np.zeros(int(nearest.max()) + 1, np.int32)
    own = np.flatnonzero(pooled.ravel() > 0)
    table[nearest.ravel()[own]] = pooled.ravel()[own]
    flat_distance = distance.ravel()
    near = np.flatnonzero(flat_distance <= reach / CELL_PX)
    in_ring = (distance > reach / CELL_PX) & (distance <= (reach + RING_PX) / CELL_PX)
    shade = _local_shade(cells, in_ring, reach - 1.0)

    row, column = np.divmod(near, pooled.shape[1])
    at = (row * (CELL_PX * width) + CELL_PX * column)[:, None] + np.array([0, 1, width, width + 1])
    at = at.ravel()
    label = labels.ravel()[at]
    labelled = label > 0
    owner = np.where(labelled, label, np.repeat(table[nearest.ravel()[near]], 4)) - 1
    return Basins(
        at=at, owner=owner, labelled=labelled, cover=coverage.ravel()[at],
        shade=np.repeat(shade.ravel()[near], 4),
        core_cover=core_cover, reach_px=reach,
    )  # fmt: skip


def _core_cover(
    coverage: Image32, pooled: Int32Array, full: Uint8Array, count: int, blur_sigma_px: float
) -> tuple[Image32, FloatArray]:
    """Coverage by cell, and its mean in each ground's core, which blur does not reach.

    The mean is NaN where fewer than two cells lie that deep.
    """
    cells = as_image(cv2.resize(coverage, (pooled.shape[1], pooled.shape[0]), interpolation=cv2.INTER_AREA))
    depth_px = CELL_PX * cv2.distanceTransform(full, cv2.DIST_L2, 3)
    core = np.flatnonzero(depth_px.ravel() > max(1.5, CLEAR_SIGMAS * blur_sigma_px) + 0.5)
    which = pooled.ravel()[core]
    pixels = np.bincount(which, minlength=count + 1)[1:].astype(np.float64)
    total = np.bincount(which, weights=cells.ravel()[core], minlength=count + 1)[1:]
    return cells, np.where(pixels >= 2, total / np.maximum(pixels, 1), np.nan)
