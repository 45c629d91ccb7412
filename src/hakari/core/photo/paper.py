"""The light that bare paper would show at every pixel, per colour channel, without the shadows of grounds.

The paper is followed over about a millimetre: closely enough for falling light and the shadow of a hand, too coarsely for
the shadow of a ground.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from hakari.core.arrays import Image32, Mask, Uint8Array, as_image, as_mask
from hakari.core.photo.decode import CHANNEL_MIX, LINEAR

COARSE = 8  # the fields are kept at this fraction of the picture's size
WINDOW_MM, SMOOTH_MM = 2.0, 0.9
DARKEST_PAPER, BRIGHTEST_PAPER = 0.88, 1.25


@dataclass(frozen=True)
class PaperLight:
    """Paper's light on a grid of ``COARSE`` pixels.

    ``light``, ``red`` and ``blue`` are linear, ``red8`` and ``blue8`` in 8-bit sRGB values.
    """

    light: Image32
    red8: Image32
    blue8: Image32
    red: Image32
    blue: Image32

    def resized(self, field: Image32, shape: tuple[int, int]) -> Image32:
        """One of the fields at another resolution, (height, width).

        Parameters
        ----------
        field : ndarray of float32
            What an error is attached to.
        shape : tuple[int, int]
            Height and width, px.

        Returns
        -------
        ndarray of float32
            One of the fields at another resolution, (height, width).
        """
        return np.asarray(cv2.resize(field, (shape[1], shape[0]), interpolation=cv2.INTER_LINEAR), np.float32)

    def part(self, field: Image32, shape: tuple[int, int], box: tuple[slice, slice]) -> Image32:
        """One of the fields at the resolution of a picture of this shape, in a box of it only (to within a cell).

        Parameters
        ----------
        field : ndarray of float32
            What an error is attached to.
        shape : tuple[int, int]
            Height and width, px.
        box : tuple[slice, slice]
            Rows and columns of the box.

        Returns
        -------
        ndarray of float32
            One of the fields at the resolution of a picture of this shape, in a box of it only (to within a cell).
        """
        steps = [field.shape[k] / shape[k] for k in (0, 1)]
        rows, columns = (
            slice(int(b.start * step), max(int(b.start * step) + 1, int(min(b.stop, n) * step)))
            for b, step, n in zip(box, steps, shape, strict=True)
        )
        size = (min(box[1].stop, shape[1]) - box[1].start, min(box[0].stop, shape[0]) - box[0].start)
        return np.asarray(cv2.resize(field[rows, columns], size, interpolation=cv2.INTER_LINEAR), np.float32)

    @property
    def red_over_blue(self) -> float:
        """Red over blue of the paper in linear light, the median over the picture: 1 where white is balanced."""
        return float(np.median(self.red)) / max(float(np.median(self.blue)), 1e-4)


def find_paper(rgb: Uint8Array, um_per_px: float, inside: Mask | None) -> PaperLight:
    """Estimate the light on bare paper.

    The brightest of each neighbourhood, median-filtered over ``WINDOW_MM``, tells which pixels are paper; their masked
    Gaussian mean is its light.

    Parameters
    ----------
    rgb : ndarray of uint8, shape (height, width, 3)
        The measured box of the picture.
    um_per_px : float
        Scale, sets the widths of the windows.
    inside : ndarray of uint8, shape (height, width), or None
        1 where paper is expected; elsewhere (print, table) it is not looked at.

    Returns
    -------
    PaperLight
    """
    height, width = rgb.shape[:2]
    shape = (max(1, height // 4), max(1, width // 4))
    quarter = _quarter(rgb, shape)
    usable = np.ones(shape, np.float32)
    if inside is not None:
        usable = (_quarter(inside, shape) == 1).astype(np.float32)
    green = quarter[:, :, 1]
    likely = cv2.resize(
        _likely_paper(as_mask(green), usable, um_per_px), (shape[1], shape[0]), interpolation=cv2.INTER_LINEAR
    )
    linear = cv2.LUT(quarter, LINEAR)
    green = np.ascontiguousarray(linear[:, :, 1])
    keep = usable * (green > DARKEST_PAPER * likely) * (green < BRIGHTEST_PAPER * likely)
    light = cv2.transform(linear, np.array([CHANNEL_MIX], np.float32))
    size = (max(1, -(-shape[1] // 2)), max(1, -(-shape[0] // 2)))
    stack = cv2.merge([light * keep, *(quarter[:, :, k] * keep for k in (0, 2))])
    values = as_image(cv2.resize(stack, size, interpolation=cv2.INTER_AREA))
    weight = as_image(cv2.resize(keep, size, interpolation=cv2.INTER_AREA))
    near = max(2.0, SMOOTH_MM * 1000 / (um_per_px * COARSE))
    quarter_size = (max(1, size[0] // 4), max(1, size[1] // 4))
    wide = [cv2.resize(field, quarter_size, interpolation=cv2.INTER_AREA) for field in (values, weight)]
    wide_mean = cv2.resize(_masked_mean(as_image(wide[0]), as_image(wide[1]), near)[0], size)
    mean, seen = _masked_mean(values, weight, near)
    trust = np.clip(seen / 0.15, 0, 1)[:, :, None]
    fields = np.maximum(trust * mean + (1 - trust) * wide_mean, 1e-4).astype(np.float32)
    bright, red8, blue8 = (np.ascontiguousarray(fields[:, :, k]) for k in range(3))
    red, blue = (np.interp(f, np.arange(256), LINEAR).astype(np.float32) for f in (red8, blue8))
    return PaperLight(bright, red8, blue8, np.maximum(red, 1e-4), np.maximum(blue, 1e-4))


def _quarter(image: Uint8Array, shape: tuple[int, int]) -> Uint8Array:
    """Return means of 4×4 pixels; up to three at the right and lower edge are left out.

    Whole factors are far quicker than others, and halving twice than a factor of four; it rounds up a little more often.
    """
    whole = image[: 4 * shape[0], : 4 * shape[1]]
    half = cv2.resize(whole, (2 * shape[1], 2 * shape[0]), interpolation=cv2.INTER_AREA)
    return as_mask(cv2.resize(half, (shape[1], shape[0]), interpolation=cv2.INTER_AREA))


def _likely_paper(green: Uint8Array, usable: Image32, um_per_px: float) -> Image32:
    """Linear green of what is paper for certain, on the coarse grid."""
    bright = cv2.dilate(green, np.ones((3, 3), np.uint8))[::2, ::2]
    known = np.ascontiguousarray(usable[::2, ::2])
    if known.min() == 0 and known.any():
        filled, _ = _masked_mean((bright * known)[:, :, None], known, 8.0)
        bright = np.where(known > 0, bright, filled[:, :, 0]).astype(np.uint8)
    window = int(np.clip(2 * round(WINDOW_MM * 500 / (um_per_px * COARSE)) + 1, 5, 31))
    return np.asarray(cv2.LUT(cv2.medianBlur(bright, window), LINEAR), np.float32)


def _masked_mean(values: Image32, weight: Image32, sigma_px: float) -> tuple[Image32, Image32]:
    """Gaussian mean of values that were already multiplied by their weights, and how much weight was near."""
    size = (0, 0)
    total = cv2.GaussianBlur(values.astype(np.float32), size, sigma_px, borderType=cv2.BORDER_REPLICATE)
    seen = cv2.GaussianBlur(weight, size, sigma_px, borderType=cv2.BORDER_REPLICATE)
    total = total[:, :, None] if total.ndim == 2 else total
    return np.asarray(total / np.maximum(seen, 1e-4)[:, :, None], np.float32), np.asarray(seen, np.float32)
