"""The light that belongs to each ground: pixels shared out between neighbours, and the paper's shade beside them.

Distances are taken between cells of 2×2 pixels, which is exact enough for a reach of several pixels and four times as
quick; inside a cell every pixel of a ground keeps its own label. The picture is worked through in bands, each with as
much of its neighbours as can be felt in it.
"""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import partial

import cv2
import numpy as np

from hakari.core.arrays import BoolArray, FloatArray, Image32, Int32Array, IntArray, Mask, Uint8Array, as_image, as_mask

CELL_PX = 2
RING_PX = 2.5
LARGEST_SHADE = 0.45
CLEAR_SIGMAS = 3.1  # this deep inside a ground its blurred rim is not felt
BAND_CELLS = 256
DIAGONAL = 2.0**0.5


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


@dataclass(frozen=True)
class _Reach:
    """How far things are felt, by the picture's blur; ``basin`` and ``ring`` bound distances from a ground in cells."""

    basin: float
    ring: float
    ring_sigma: float
    core_px: float

    @classmethod
    def of_blur(cls, sigma_px: float) -> _Reach:
        basin_px = int(np.ceil(2.6 * sigma_px + 0.7)) + 1.0
        return cls(
            basin=basin_px / CELL_PX, ring=(basin_px + RING_PX) / CELL_PX,
            ring_sigma=(0.6 * (basin_px - 1.0) + 1.0) / CELL_PX,
            core_px=max(1.5, CLEAR_SIGMAS * sigma_px) + 0.5,
        )  # fmt: skip

    @property
    def margin(self) -> int:
        """Cells beyond a band that are felt in it; the Gaussian is cut off at four of its widths."""
        return int(np.ceil(max(self.ring + 4 * self.ring_sigma, self.core_px / CELL_PX))) + 4


@dataclass(frozen=True)
class _Band:
    """Basins of one band, and the cells of cores in it: whose they are (from 1) and their coverage."""

    at: IntArray
    owner: Int32Array
    labelled: BoolArray
    cover: Image32
    shade: Image32
    core_of: Int32Array
    core_cover: Image32


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
    band = partial(_draw_band, coverage, labels, _Reach.of_blur(blur_sigma_px))
    with ThreadPoolExecutor(2) as pool:
        bands = list(pool.map(band, range(0, len(labels) // CELL_PX, BAND_CELLS)))
    core_of = np.concatenate([b.core_of for b in bands])
    cells = np.bincount(core_of, minlength=count + 1)[1:].astype(np.float64)
    total = np.bincount(core_of, weights=np.concatenate([b.core_cover for b in bands]), minlength=count + 1)[1:]
    return Basins(
        at=np.concatenate([b.at for b in bands]), owner=np.concatenate([b.owner for b in bands]),
        labelled=np.concatenate([b.labelled for b in bands]), cover=np.concatenate([b.cover for b in bands]),
        shade=np.concatenate([b.shade for b in bands]),
        core_cover=np.where(cells >= 2, total / np.maximum(cells, 1), np.nan),
    )  # fmt: skip


def _draw_band(coverage: Image32, labels: Int32Array, reach: _Reach, top: int) -> _Band:
    """Basins in the rows of cells from ``top`` on."""
    rows, width = len(labels) // CELL_PX, labels.shape[1]
    first, last = max(0, top - reach.margin), min(rows, top + BAND_CELLS + reach.margin)
    here = slice(top - first, min(top + BAND_CELLS, rows) - first)
    pixels = slice(CELL_PX * first, CELL_PX * last)
    pooled, full = _pooled(labels[pixels])
    cells = as_image(cv2.resize(coverage[pixels], pooled.shape[::-1], interpolation=cv2.INTER_AREA))
    grounds = (pooled > 0).view(np.uint8)
    basins, rings = (as_mask(cv2.dilate(grounds, _disc(r))) for r in (reach.basin, reach.ring))
    is_near = basins[here] > 0
    near = np.flatnonzero(is_near)
    ring = as_image(rings ^ basins)
    shade = _local_shade(cells, ring, reach.ring_sigma, here, near)

    # Flat index of a cell's first pixel: its own, twice, and a row of pixels more for each row of cells above it.
    row = np.repeat(np.arange(top, top + len(is_near)), np.count_nonzero(is_near, axis=1))
    first_pixel = CELL_PX * (near + top * pooled.shape[1]) + width * row
    at = (first_pixel[:, None] + np.array([0, 1, width, width + 1])).ravel()
    owner = labels.ravel()[at]
    labelled = owner > 0
    by_cell = owner.reshape(-1, CELL_PX**2)
    nearest = _nearest(pooled, basins)[here].ravel()[near].astype(np.int32)
    np.copyto(by_cell, nearest[:, None], where=by_cell == 0)
    owner -= 1
    depth_px = CELL_PX * cv2.distanceTransform(full, cv2.DIST_L2, 3)[here]
    core = np.flatnonzero(depth_px > reach.core_px)
    return _Band(
        at=at, owner=owner, labelled=labelled, cover=coverage.ravel()[at], shade=np.repeat(shade, CELL_PX**2),
        core_of=pooled[here].ravel()[core].astype(np.int32), core_cover=cells[here].ravel()[core],
    )  # fmt: skip


def _pooled(image: Int32Array) -> tuple[Image32, Uint8Array]:
    """Return the largest label in each cell (exact up to 2²⁴ of them), and 1 where all of a cell is labelled."""
    upper, lower = image[0::2], image[1::2]
    most, least = np.asarray(cv2.max(upper, lower)), np.asarray(cv2.min(upper, lower))
    full = np.minimum(least[:, 0::2], least[:, 1::2]) > 0
    return np.maximum(most[:, 0::2], most[:, 1::2]).astype(np.float32), full.view(np.uint8)


def _disc(radius: float) -> Mask:
    """Return the cells whose middle is within a distance of the one in the middle."""
    steps = np.arange(-int(radius), int(radius) + 1)
    return (steps[:, None] ** 2 + steps**2 <= radius**2 + 1e-6).view(np.uint8)


def _nearest(grounds: Image32, wanted: Mask) -> Image32:
    """Label of the nearest ground at the wanted cells; of two as near, the one with the higher label.

    Exact up to two cells away; further off, labels spread by sides and corners, a cell at a time.
    """
    found = grounds
    for distance in (1.0, DIAGONAL, 2.0):
        found = _spread(found, grounds, distance)
    while np.any((found == 0) & (wanted > 0)):
        found = _spread(found, found, DIAGONAL)
    return found


def _spread(found: Image32, source: Image32, distance: float) -> Image32:
    """Give cells without a label the highest within a distance in ``source``."""
    spread = as_image(cv2.dilate(source, _disc(distance)))
    np.copyto(spread, found, where=found > 0)
    return spread


def _local_shade(cells: Image32, ring: Image32, sigma: float, rows: slice, at: IntArray) -> Image32:
    """Coverage of the paper beside grounds (what is left of a soft shadow), carried from the rings to cells ``at``."""
    known, total = (
        cv2.GaussianBlur(of_ring, (0, 0), sigma, borderType=cv2.BORDER_CONSTANT)[rows].ravel()[at]
        for of_ring in (ring, cv2.multiply(ring, cells))
    )
    # Where little of a ring is near (a crowded ground), it says little: shrink towards none.
    return np.asarray(np.clip(total / (known + 0.03), 0.0, LARGEST_SHADE), np.float32)
