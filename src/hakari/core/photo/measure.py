"""Sizes of separated grounds, from the light that they take away."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import cv2
import numpy as np
import numpy.typing as npt

from hakari.core.arrays import BoolArray, FloatArray, Image32, Int32Array, IntArray
from hakari.core.photo.basins import Basins, draw_basins
from hakari.core.photo.detect import Sharpness
from hakari.core.photo.outline import Owned, outlines, with_discs
from hakari.core.photo.separate import Labels
from hakari.core.photo.small_grounds import without_own_shade

# Below GREY_ONLY blur widths across, a ground has no plateau and only its light counts; above EDGE_ONLY its
# half-height edge is the better measure, because shading inside it does not matter there.
GREY_ONLY_SIGMAS = 6.0
EDGE_ONLY_SIGMAS = 12.0
SPECK_UM = 90.0
MANY_SPECKS = 3.5


@dataclass(frozen=True)
class Blobs:
    """Grounds in pixel units, one row each, with their outlines one after the other.

    ``contrast`` is the darkest pixel above the paper near by over what a dense ground of this size would show there
    under the photo's blur: about 1 for coffee.
    """

    area_px: FloatArray
    x_px: FloatArray
    y_px: FloatArray
    plateau: FloatArray
    contrast: FloatArray
    min_feret_px: FloatArray
    max_feret_px: FloatArray
    circularity: FloatArray
    solidity: FloatArray
    box_px: FloatArray
    outline_start: IntArray
    outline_px: Image32
    own: Owned


def measure_blobs(
    coverage: Image32, labels: Labels, sharp: Sharpness, um_per_px: float, shade_beside: float = 0.0
) -> Blobs:
    """Measure every labelled ground.

    Area is a blend by size: the sum of coverage over the ground's basin, divided by its own plateau (small ones: blur
    moves light about but keeps its sum), and the pixels above half the plateau (large ones: an edge's half height
    stays in place under blur).

    Parameters
    ----------
    coverage : ndarray of float32
        Share of each pixel that coffee covers, (height, width).
    labels : Labels
        Label of each pixel, 0 for paper.
    sharp : Sharpness
        What the picture can show.
    um_per_px : float
        Scale, µm per px.
    shade_beside : float
        Shade on the paper beside grounds, as coverage.

    Returns
    -------
    Blobs
        One row a blob.
    """
    basins = draw_basins(coverage, labels.image, labels.count, sharp.blur_sigma_px)
    plateau = np.clip(np.nan_to_num(basins.core_cover, nan=1.0), 0.25, 1.6)
    ground = np.flatnonzero(basins.labelled)
    own = Owned(basins.at[ground], basins.owner[ground])
    with ThreadPoolExecutor(1) as pool:
        measuring = pool.submit(_areas, basins, plateau, sharp, coverage.shape, um_per_px)
        shape = outlines(labels, own, basins.cover[ground] > 0.5 * plateau.astype(np.float32)[own.owner])
        y_px, x_px = (v.astype(np.float32) for v in np.divmod(own.at, coverage.shape[1]))
        x, y, aspect_of_moments = _centres(x_px, y_px, own.owner, labels.count)
        area = without_own_shade(measuring.result(), sharp.blur_sigma_px, shade_beside)
    diameter = np.sqrt(4 * area / np.pi)
    # Grounds too small for an outline take the axes of the ellipse with their second moments.
    aspect = np.where(shape.known, shape.max_feret / np.maximum(shape.min_feret, 0.5), aspect_of_moments)
    min_feret = np.where(shape.known, shape.min_feret * diameter / shape.diameter, diameter / np.sqrt(aspect))
    outline_start, outline_px = with_discs(shape.outline_start, shape.outline_px, x, y, diameter)
    around = np.column_stack([x - diameter / 2, y - diameter / 2, x + diameter / 2, y + diameter / 2])
    return Blobs(
        area_px=area, x_px=x, y_px=y, plateau=plateau,
        contrast=_contrast(basins, ground, diameter, sharp.blur_sigma_px),
        min_feret_px=min_feret, max_feret_px=min_feret * aspect,
        circularity=shape.circularity, solidity=shape.solidity, box_px=np.where(np.isnan(shape.box), around, shape.box),
        outline_start=outline_start, outline_px=outline_px, own=own,
    )  # fmt: skip


def _areas(
    basins: Basins, plateau: FloatArray, sharp: Sharpness, shape: tuple[int, ...], um_per_px: float
) -> FloatArray:
    """Area of each ground in px."""
    n = len(plateau)
    owner, below = basins.owner, basins.shade
    values = (basins.cover - below) / np.maximum(plateau.astype(np.float32)[owner] - below, np.float32(0.2))
    inside = np.flatnonzero(values > 0.5)
    inner_owner = owner[inside]
    all_pixels = np.bincount(inner_owner, minlength=n).astype(np.float64)
    core = _without_specks(basins.at[inside], shape, um_per_px)
    pixels = np.bincount(inner_owner[core], minlength=n).astype(np.float64)
    # Only on grounds far larger than a speck is what sticks out a speck.
    pixels = np.where(all_pixels > MANY_SPECKS * core_px(um_per_px) ** 2, pixels, all_pixels)
    # A closed outline turns by 2π, so blur of σ takes πσ² from the area within half height, whatever its shape.
    half = pixels + np.pi * sharp.blur_sigma_px**2 * (pixels > 0)
    size_px = np.sqrt(4 * np.maximum(half, 1) / np.pi)
    size_sigmas = size_px / max(sharp.blur_sigma_px, 0.4)
    edge_share = np.clip((size_sigmas - GREY_ONLY_SIGMAS) / (EDGE_ONLY_SIGMAS - GREY_ONLY_SIGMAS), 0, 1)
    grey = np.bincount(owner, weights=values, minlength=n)
    area = edge_share * half + (1 - edge_share) * grey
    return np.maximum(area, 0.05)


def core_px(um_per_px: float) -> int:
    """Width in px (odd) of what counts as a speck of dust or a fine that clings to a ground.

    Parameters
    ----------
    um_per_px : float
        Scale, µm per px.

    Returns
    -------
    int
        Width in px (odd) of what counts as a speck of dust or a fine that clings to a ground.
    """
    return 1 + 2 * max(2, round(SPECK_UM / 2 / um_per_px))


def _without_specks(at: IntArray, shape: tuple[int, ...], um_per_px: float) -> BoolArray:
    """Which of the pixels remain when what is narrower than a speck is taken off the outlines (opening by a disc)."""
    drawn = np.zeros(shape, np.uint8)
    drawn.ravel()[at] = 1
    width = core_px(um_per_px)
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (width, width))
    return np.asarray(cv2.morphologyEx(drawn, cv2.MORPH_OPEN, disc)).ravel()[at] > 0


def _contrast(basins: Basins, ground: IntArray, diameter_px: FloatArray, blur_sigma_px: float) -> FloatArray:
    """Darkest pixel of each ground above the paper near by, over the peak of a blurred disc of its size."""
    peak = np.zeros(len(diameter_px), np.float32)
    np.maximum.at(peak, basins.owner[ground], basins.cover[ground] - basins.shade[ground])
    disc = 1.0 - np.exp(-((diameter_px / 2) ** 2) / (2 * max(blur_sigma_px, 0.5) ** 2))
    return np.asarray(peak / np.maximum(disc, 0.05), np.float64)


def _centres(x: Image32, y: Image32, which: Int32Array, count: int) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Centre of each ground in px and the aspect ratio of the ellipse with its second moments."""
    pixels = np.maximum(np.bincount(which, minlength=count), 1).astype(np.float64)

    def mean(values: npt.NDArray[np.floating]) -> FloatArray:
        return np.asarray(np.bincount(which, weights=values, minlength=count) / pixels)

    cx, cy = mean(x), mean(y)
    dx, dy = x - cx[which], y - cy[which]
    sxx, syy, sxy = mean(dx * dx) + 1 / 12, mean(dy * dy) + 1 / 12, mean(dx * dy)
    root = np.sqrt(np.maximum((sxx - syy) ** 2 / 4 + sxy**2, 0))
    long_axis = np.sqrt((sxx + syy) / 2 + root)
    return cx, cy, long_axis / np.sqrt(np.maximum((sxx + syy) / 2 - root, 1 / 12))
