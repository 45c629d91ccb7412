"""Uneven light taken out: the paper's brightness under the grounds, and how much coffee covers each pixel."""

from __future__ import annotations

import cv2
import numpy as np
import numpy.typing as npt

from hakari.core.photo.decode import BAND_ROWS

Image32 = npt.NDArray[np.float32]

COARSE = 16
FINE = 4


def _normalised_blur(weighted: Image32, weights: Image32, sigma_px: float) -> Image32:
    """Gaussian mean of values that were already multiplied by their ``weights``, normalised for what is masked."""
    size = (0, 0)
    numerator = cv2.GaussianBlur(weighted, size, sigma_px, borderType=cv2.BORDER_REPLICATE)
    denominator = cv2.GaussianBlur(weights, size, sigma_px, borderType=cv2.BORDER_REPLICATE)
    return np.asarray(numerator / np.maximum(denominator, 1e-4), np.float32)


def _shrink(image: Image32, factor: int) -> Image32:
    height, width = image.shape
    size = (max(1, -(-width // factor)), max(1, -(-height // factor)))
    return np.asarray(cv2.resize(image, size, interpolation=cv2.INTER_AREA), np.float32)


def _grow(image: Image32, shape: tuple[int, int]) -> Image32:
    return np.asarray(cv2.resize(image, (shape[1], shape[0]), interpolation=cv2.INTER_LINEAR), np.float32)


def darkness(light: Image32, um_per_px: float, inside: npt.NDArray[np.uint8] | None = None) -> Image32:
    """Relative darkness 1 − I/B of each pixel, B the brightness of the paper without grounds.

    The paper is estimated by twice-masked means: over the picture at 1/16 size for the fall-off of the lamp, then
    near by at quarter size, which takes in soft shadows. Not clipped, so that noise keeps a mean of zero.

    Parameters
    ----------
    light:
        Linear brightness, (height, width).
    um_per_px:
        Scale, sets the widths of the windows.
    inside:
        1 where paper is expected; elsewhere (print, table) it is not looked at.
    """
    quarter = _shrink(light, FINE)
    usable = np.ones_like(quarter)
    if inside is not None:
        usable = (_shrink(inside.astype(np.float32), FINE) > 0.99).astype(np.float32)
    mm_quarter = 1000.0 / (um_per_px * FINE)
    wide_px = max(2.0, 4.0 * mm_quarter * FINE / COARSE)
    paper = np.full_like(quarter, float(np.quantile(quarter[usable > 0], 0.9)) if usable.any() else 1.0)
    for level, width_px in ((0.72, wide_px), (0.9, wide_px / 1.6), (0.94, wide_px / 1.6)):
        keep = usable * (quarter > level * paper)
        smooth = _normalised_blur(_shrink(quarter * keep, COARSE // FINE), _shrink(keep, COARSE // FINE), width_px)
        paper = _grow(smooth, quarter.shape)
    relative = quarter / np.maximum(paper, 1e-4)
    grounds = cv2.dilate((relative < 0.86).astype(np.uint8), np.ones((3, 3), np.uint8))
    near = usable * (grounds == 0) * (relative < 1.15)
    near_px = max(1.5, 0.22 * mm_quarter)
    local = _normalised_blur((relative * near).astype(np.float32), near.astype(np.float32), near_px)
    seen = cv2.GaussianBlur(near.astype(np.float32), (0, 0), near_px)
    trust = np.clip(seen / 0.1, 0, 1)
    paper = paper * (trust * local + (1 - trust))
    dark = _grow(np.maximum(paper, 1e-4).astype(np.float32), light.shape)
    for top in range(0, len(dark), BAND_ROWS):
        band = dark[top : top + BAND_ROWS]
        np.divide(light[top : top + BAND_ROWS], band, out=band)
        np.subtract(1.0, band, out=band)
    return dark
