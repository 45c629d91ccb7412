"""Grounds that are too small to show a colour of their own: dark spots that hang on nothing."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from hakari.core.arrays import Image32, Int32Array, IntArray, Mask, as_image, as_mask
from hakari.core.photo.cells import Cells
from hakari.core.photo.looks import Coffee, ShadowLight

SPECK_WINDOW = 7
LEAST_SPECK = 0.08


@dataclass(frozen=True)
class Dents:
    """Cells that are clearly darker than all round, by flat index, (n,), and how much of the light there they lack, (n,).

    ``labels`` (height, width) number what is joined by darkness, up to ``count``.
    """

    at: IntArray
    blackness: Image32
    labels: Int32Array
    count: int


def find_dents(cells: Cells) -> Dents:
    """Find dark spots up to the width of a small ground, by what closing fills.

    Parameters
    ----------
    cells : Cells
        The picture on the cell grid.

    Returns
    -------
    Dents
        The spots.
    """
    window = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (SPECK_WINDOW, SPECK_WINDOW))
    # Steps of 1/200 are enough here, and bytes are an order quicker.
    closed = cv2.morphologyEx(cv2.convertScaleAbs(cells.light, alpha=200), cv2.MORPH_CLOSE, window)
    around = as_image(closed * np.float32(1 / 200))
    depth = as_image(cv2.subtract(around, cells.light))
    dark = (depth > max(LEAST_SPECK, 4 * cells.noise) * around) & cells.inside
    joined = cv2.dilate(((cells.light < 0.8) & cells.inside | dark).view(np.uint8), np.ones((2, 2), np.uint8))
    count, labels = cv2.connectedComponents(joined, connectivity=4, ltype=cv2.CV_32S)
    at = np.flatnonzero(dark)
    blackness = depth.ravel()[at] / np.maximum(around.ravel()[at], 0.1)
    return Dents(at, as_image(blackness), np.asarray(labels, np.int32), count)


def find_specks(cells: Cells, dents: Dents, core: Mask, chaff: Mask, coffee: Coffee, shadow: ShadowLight) -> Mask:
    """Tell which spots are grounds: all, unless they hang on a ground or on chaff without being brown.

    Parameters
    ----------
    cells : Cells
        The picture on the cell grid.
    dents : Dents
        Dark spots, too small to show a colour of their own.
    core : ndarray of uint8
        1 inside grounds.
    chaff : ndarray of uint8
        1 at flakes.
    coffee : Coffee
        What ground coffee looks like here.
    shadow : ShadowLight
        What shadow looks like here.

    Returns
    -------
    ndarray of uint8
        1 at small grounds.
    """
    hangs = np.zeros(dents.count, np.bool_)
    hangs[dents.labels.ravel()[np.flatnonzero(core)]] = True
    near_chaff = as_mask(cv2.dilate(chaff, np.ones((3, 3), np.uint8)))
    hangs[dents.labels.ravel()[np.flatnonzero(cv2.dilate(near_chaff, np.ones((3, 3), np.uint8)))]] = True
    hangs[0] = False
    # Few cells are dark: colour is looked up for those only.
    open_ones = (core.ravel()[dents.at] == 0) & (near_chaff.ravel()[dents.at] == 0)
    at, blackness = dents.at[open_ones], dents.blackness[open_ones]
    alone = ~hangs[dents.labels.ravel()[at]]
    if coffee.coloured:
        tint = as_image(cv2.GaussianBlur(cells.tint, (0, 0), 0.8)).ravel()[at]
        tint = tint - shadow.tint_at(cells.calm_light.ravel()[at])
        alone |= tint > 0.5 * coffee.tint * np.minimum(blackness, 1)
    specks = np.zeros(core.shape, np.uint8)
    specks.ravel()[at[alone]] = 1
    return specks
