"""A photo reduced to cells of about two pixels: its light, its colours and its paper, on which regions are told apart."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import cv2
import numpy as np
from cv2.typing import MatLike

from hakari.core.arrays import BoolArray, Image32, IntArray, Mask, Uint8Array, as_image
from hakari.core.photo.decode import CHANNEL_MIX, LINEAR
from hakari.core.photo.paper import PaperLight

FLOOR = np.float32(0.012)  # stray light: keeps the ratio of two dark channels finite


@dataclass(frozen=True)
class Cells:
    """The picture on the cell grid, against the paper's light.

    ``light`` is linear brightness, ``calm_light``, ``red`` and ``blue`` the same after a 3×3 median per colour, and
    ``tint`` the difference of red and blue in sRGB values, each as a share of the paper's.
    """

    size_px: float
    light: Image32
    calm_light: Image32
    red: Image32
    blue: Image32
    tint: Image32
    inside: BoolArray
    noise: float
    tint_noise: float

    def brown_at(self, at: IntArray) -> Image32:
        """Brownness of some of the cells: ln(red / blue), each as a share of the paper's.

        Parameters
        ----------
        at : ndarray of int64
            Flat indices of the cells, (n,).

        Returns
        -------
        ndarray of float32
            Their brownness, (n,).
        """
        return np.log((self.red.ravel()[at] + FLOOR) / (self.blue.ravel()[at] + FLOOR))


def make_cells(rgb: Uint8Array, light: Image32, paper: PaperLight, inside: Mask | None, size_px: float) -> Cells:
    """Reduce the picture to cells of ``size_px`` pixels.

    Parameters
    ----------
    rgb : ndarray of uint8, shape (height, width, 3)
        The measured box of the picture.
    light : ndarray of float32, shape (height, width)
        Its linear brightness.
    paper : PaperLight
        The light on bare paper.
    inside : ndarray of uint8, shape (height, width), or None
        1 where paper is expected.
    size_px : float
        Width of a cell; wider for a soft picture, whose edges reach further.

    Returns
    -------
    Cells
        The cells.
    """
    shape = (int(rgb.shape[0] / size_px), int(rgb.shape[1] / size_px))
    size = (shape[1], shape[0])
    small = cv2.resize(rgb, size, interpolation=cv2.INTER_AREA)

    def calm() -> tuple[MatLike, MatLike, MatLike]:
        linear = cv2.LUT(cv2.medianBlur(small, 3), LINEAR)
        red, blue = cv2.extractChannel(linear, 0), cv2.extractChannel(linear, 2)
        bright = cv2.transform(linear, np.array([CHANNEL_MIX], np.float32))
        red, blue = cv2.divide(red, paper.resized(paper.red, shape)), cv2.divide(blue, paper.resized(paper.blue, shape))
        return red, blue, cv2.divide(bright, paper_light)

    paper_light = paper.resized(paper.light, shape)
    with ThreadPoolExecutor(1) as pool:
        calmed = pool.submit(calm)
        within = np.ones(shape, np.bool_)
        if inside is not None:
            within = cv2.resize(inside, size, interpolation=cv2.INTER_NEAREST) > 0
        brightness = cv2.divide(cv2.resize(light, size, interpolation=cv2.INTER_AREA), paper_light)
        red_small, blue_small = cv2.extractChannel(small, 0), cv2.extractChannel(small, 2)
        red8, blue8 = paper.resized(paper.red8, shape), paper.resized(paper.blue8, shape)
        tint = cv2.subtract(
            cv2.divide(red_small, red8, dtype=cv2.CV_32F), cv2.divide(blue_small, blue8, dtype=cv2.CV_32F)
        )
        red, blue, calm_light = calmed.result()
    some = np.s_[::5, ::5]
    quiet = within[some] & (calm_light[some] > 0.9)
    return Cells(
        size_px, as_image(brightness), as_image(calm_light), as_image(red), as_image(blue),
        as_image(tint), within,
        _spread(as_image(brightness[some][quiet])), _spread(as_image(tint[some][quiet])),
    )  # fmt: skip


def _spread(values: Image32) -> float:
    return 1.4826 * float(np.median(np.abs(values - np.median(values)))) if len(values) else 0.01
