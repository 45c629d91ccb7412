"""Finding grounds: typical darkness, sharpness and noise of the picture, and the level that finds them."""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt

import cv2
import numpy as np

from hakari.core.arrays import Image32, IntArray
from hakari.core.photo.components import Components, find_components

SMALLEST_WANTED_UM = 97.0
DARK = 0.4
NOISE_SAMPLES = 60_000


@dataclass(frozen=True)
class Sharpness:
    """What the picture can show: typical darkness of coffee, blur and noise in units of coverage."""

    plateau: float
    blur_sigma_px: float
    noise: float

    @property
    def fwhm_px(self) -> float:
        """Full width at half maximum of the blur, px."""
        return 2.3548 * self.blur_sigma_px


def _large(found: Components, min_area_px: float, max_area_px: float) -> IntArray:
    """Labels of components of a size within the bounds, largest first."""
    chosen = np.flatnonzero((found.areas_px >= min_area_px) & (found.areas_px <= max_area_px))
    return chosen[np.argsort(-found.areas_px[chosen], kind="stable")]


def sharpness(dark: Image32, um_per_px: float, edge_quantile: float = 0.5) -> Sharpness | None:
    """Measure plateau, blur and noise on the larger grounds; ``None`` when there is nothing dark to measure on.

    The blur follows from the steepest slope across a step edge: a step under a Gaussian of σ has slope
    1/(σ√(2π)) at half height. ``edge_quantile`` chooses among the slopes along each ground's edge: above a half, its sharper
    parts count, which penumbrae do not soften.

    Parameters
    ----------
    dark : ndarray of float32
        Darkness against paper, (height, width).
    um_per_px : float
        Scale, µm per px.
    edge_quantile : float
        Which of the slopes along an edge counts, 0 to 1.

    Returns
    -------
    Sharpness or None
        Plateau, blur and noise; ``None`` where there is nothing dark.
    """
    # Large grounds are looked up on every second pixel, which is enough to find them, and measured on all.
    found = find_components((dark[::2, ::2] > DARK).view(np.uint8))
    px_per_mm = 500.0 / um_per_px
    chosen = _large(found, max(15.0, 0.02 * px_per_mm**2), 16.0 * px_per_mm**2)
    if len(chosen) < 3:
        chosen = _large(found, 4.0, 16.0 * px_per_mm**2)
    if not len(chosen):
        return None
    # Small grounds under blur never reach their full darkness: the larger ones are looked at.
    chosen = chosen[: max(80, len(chosen) // 5)]
    chosen = chosen[:: max(1, len(chosen) // 80)][:80]
    window = np.ones((3, 3), np.uint8)
    plateaus, sigmas, depths = [], [], []
    for i, (rows, columns) in zip(chosen.tolist(), found.boxes(chosen), strict=True):
        top, left = max(0, rows.start - 2), max(0, columns.start - 2)
        bottom, right = rows.stop + 2, columns.stop + 2
        sketch = (found.image[top:bottom, left:right] == i).view(np.uint8)
        piece = dark[2 * top : 2 * bottom, 2 * left : 2 * right]
        near = cv2.dilate(cv2.resize(sketch, None, fx=2, fy=2, interpolation=cv2.INTER_NEAREST), window)
        own = near[: piece.shape[0], : piece.shape[1]] * (piece > DARK)
        depth = cv2.distanceTransform(cv2.copyMakeBorder(own, 1, 1, 1, 1, cv2.BORDER_CONSTANT), cv2.DIST_L2, 3)
        depth = depth[1:-1, 1:-1]
        core = depth > max(2.0, 0.35 * depth.max())
        if not core.any():
            continue
        plateau = _quantile(piece[core], 0.5)
        plateaus.append(plateau)
        gx = cv2.Sobel(piece, cv2.CV_32F, 1, 0, ksize=3, scale=1 / 8)
        gy = cv2.Sobel(piece, cv2.CV_32F, 0, 1, ksize=3, scale=1 / 8)
        slope = np.hypot(gx, gy) / plateau
        ridge = cv2.dilate(slope, window)
        edge = own.astype(bool) & (cv2.erode(own, window) == 0)
        if edge.any():
            # In units of the darkness itself, since a blurred core may still be paler than the coffee.
            sigmas.append(plateau / (np.sqrt(2 * np.pi) * _quantile(ridge[edge], edge_quantile)))
            depths.append((piece, np.asarray(depth, np.float32)))
    if not plateaus or not sigmas:
        return None
    usual = float(np.median(plateaus))
    plateau = _plateau_of_cores(depths, 2.5 * float(np.median(sigmas)) / usual) or usual
    sigmas = [s / plateau for s in sigmas]
    # The 3×3 Sobel kernel itself blurs by about 0.8 px (variance 0.5 + 1/6), the pixel by 0.29 px.
    sigma = float(np.sqrt(max(0.3**2, np.median(sigmas) ** 2 - 0.40)))
    step = max(1, round(sqrt(dark.size / NOISE_SAMPLES)))
    background = dark[::step, ::step]
    quiet = background[np.abs(background) < 0.2 * plateau]
    noise = 1.4826 * float(np.median(np.abs(quiet - np.median(quiet)))) / plateau if quiet.size else 0.0
    return Sharpness(plateau, sigma, noise)


def _quantile(values: Image32, share: float) -> float:
    """Quantile by nearest rank; a few values at a time, many times over, numpy's own would take longest of all."""
    rank = round(share * (len(values) - 1))
    return float(np.partition(values, rank)[rank])


def _plateau_of_cores(pieces: list[tuple[Image32, Image32]], reach_px: float) -> float | None:
    """Typical darkness of coffee so deep inside a ground that the blurred rim does not reach; ``None`` when none is."""
    cores = [piece[depth > max(2.0, reach_px)] for piece, depth in pieces]
    means = [float(core.mean()) for core in cores if core.size >= 6]
    return float(np.median(means)) if len(means) >= 3 else None


def find_level(sharp: Sharpness, um_per_px: float) -> float:
    """Coverage above which a pixel may belong to a ground: 0.62 of the peak of the smallest wanted one, 0.2 to 0.5.

    Parameters
    ----------
    sharp : Sharpness
        What the picture can show.
    um_per_px : float
        Scale, µm per px.

    Returns
    -------
    float
        Coverage above which a pixel may belong to a ground.
    """
    radius_px = SMALLEST_WANTED_UM / 2 / um_per_px
    peak = 1.0 - np.exp(-(radius_px**2) / (2 * max(sharp.blur_sigma_px, 0.3) ** 2))
    return float(np.clip(max(0.62 * peak, 4.5 * sharp.noise), 0.2, 0.5))
