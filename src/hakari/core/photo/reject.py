"""What is dark on the paper but is not coffee: chaff, pencil and print, coins, smears."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from hakari.core.arrays import BoolArray, FloatArray, Int8Array, Int32Array, IntArray, Uint8Array
from hakari.core.photo.cells import FLOOR, Cells
from hakari.core.photo.decode import CHANNEL_MIX, LINEAR
from hakari.core.photo.measure import Blobs
from hakari.core.photo.regions import Regions
from hakari.core.photo.result import ExclusionReason

LARGEST_GROUND_UM = 3600.0
JUDGED_FROM_CELLS = 6.0  # smaller grounds have no colour of their own
LEAST_BROWN = 0.2
PALE_RED = 0.25
FAINT = 0.45
AT_CHAFF, YELLOW = 0.02, 0.45
SCRAP_FROM_PX, SCRAP_COLOUR, SCRAP_IN_SHADE = 5.0, 0.5, 0.3


@dataclass(frozen=True)
class Colours:
    """Colour of each blob relative to the paper, arrays of shape (n,).

    ``brown`` is brownness as a share of the picture's coffee, in the light that falls there: 0 is grey, about 1 is coffee.
    ``red`` is the share of the red light that the blob throws back: about 0.05 for coffee, far more for pale flakes.
    ``red_over_green`` is ln(red / green): near 0 for yellow flakes, even in shadow; more for coffee. ``at_chaff`` is the
    share of the blob that lies at chaff.
    """

    brown: FloatArray
    red: FloatArray
    red_over_green: FloatArray
    at_chaff: FloatArray


def colours(
    rgb: Uint8Array,
    labels: Int32Array,
    blobs: Blobs,
    plateau: float,
    cells: Cells,
    regions: Regions,
) -> Colours:
    """Colour of each blob that is large enough to show one.

    Parameters
    ----------
    rgb : ndarray of uint8
        The picture, (height, width, 3), sRGB.
    labels : ndarray of int32
        Label of each pixel, 0 for paper.
    blobs : Blobs
        Measured blobs, one row each.
    plateau : float
        Typical darkness of coffee.
    cells : Cells
        The picture on the cell grid.
    regions : Regions
        Grounds, shadow and chaff on the cell grid.

    Returns
    -------
    Colours
        Colour of each blob that is large enough to show one.
    """
    n = len(blobs.area_px)
    # Only grounds that are judged by colour are looked at, on every second pixel.
    some = np.flatnonzero((4 * blobs.area_px / np.pi >= (JUDGED_FROM_CELLS * cells.size_px) ** 2)[blobs.own.owner])[::2]
    owner, at = blobs.own.owner[some], blobs.own.at[some]
    seen = LINEAR[rgb[np.divmod(at, rgb.shape[1])]]
    red, green, blue = (np.bincount(owner, weights=seen[:, channel], minlength=n) for channel in range(3))
    paper = rgb[::8, ::8][labels[::8, ::8] == 0]
    white = np.median(paper, axis=0) if len(paper) else np.full(3, 255)
    white = LINEAR[np.round(white).astype(np.uint8)].astype(np.float64)
    white = np.maximum(white, 1e-3)
    mix = CHANNEL_MIX[0] * red + CHANNEL_MIX[1] * green + CHANNEL_MIX[2] * blue
    mix_white = float(np.dot(CHANNEL_MIX, white))
    thrown_back = np.clip(1.0 - blobs.plateau * plateau, 0.0, 1.0)
    red_share = thrown_back * (red / np.maximum(mix, 1e-6)) / (white[0] / mix_white)
    there = _cells_at(at, rgb.shape, cells)
    brownness = cells.brown_at(there) - np.minimum(regions.shadow.brown_at(cells.calm_light.ravel()[there]), 0)
    pixels = np.maximum(np.bincount(owner, minlength=n), 1)
    brown = np.bincount(owner, weights=brownness, minlength=n) / pixels / max(regions.coffee.brown, 1e-6)
    red_over_green = np.log((red / white[0] + FLOOR * pixels) / (green / white[1] + FLOOR * pixels))
    chaff = cv2.dilate(regions.chaff, np.ones((5, 5), np.uint8)).ravel()[there]
    at_chaff = np.bincount(owner, weights=chaff, minlength=n) / pixels
    return Colours(np.asarray(brown), np.asarray(red_share), np.asarray(red_over_green), np.asarray(at_chaff))


def _cells_at(at: IntArray, picture: tuple[int, ...], cells: Cells) -> IntArray:
    """Flat index of the cell that each pixel lies in."""
    height, width = cells.light.shape
    y, x = np.divmod(at, picture[1])
    rows, columns = np.minimum(y * height // picture[0], height - 1), np.minimum(x * width // picture[1], width - 1)
    return np.asarray(rows * width + columns)


def scraps_of_shadow(picture: tuple[int, ...], blobs: Blobs, cells: Cells, regions: Regions) -> BoolArray:
    """Which blobs lie in shade or at chaff and have far less colour than the picture's other blobs of their darkness, (n,).

    Small grounds show little colour and each picture less or more of it, so those that lie in the open are the reference.

    Parameters
    ----------
    picture : tuple of int
        Shape of the measured box, px.

    Returns
    -------
    ndarray of bool
        Which blobs lie in shade or at chaff and have far less colour than the picture's other blobs of their
        darkness, (n,).
    """
    n = len(blobs.area_px)
    size_px = np.sqrt(4 * blobs.area_px / np.pi)
    judged = (size_px >= SCRAP_FROM_PX) & (size_px < 1.2 * JUDGED_FROM_CELLS * cells.size_px)
    if not regions.coffee.coloured or not judged.any():
        return np.zeros(n, np.bool_)
    some = np.flatnonzero(judged[blobs.own.owner])
    owner, there = blobs.own.owner[some], _cells_at(blobs.own.at[some], picture, cells)
    tint = cells.tint.ravel()[there] - regions.shadow.tint_at(cells.calm_light.ravel()[there])
    as_coffee = np.maximum(1 - cells.light.ravel()[there], 0) / (1 - regions.coffee.light) * regions.coffee.tint
    doubtful = cv2.dilate(regions.shade | regions.chaff, np.ones((5, 5), np.uint8)).ravel()[there]
    tints, expected, doubt = (np.bincount(owner, weights=w, minlength=n) for w in (tint, as_coffee, doubtful))
    share = tints / np.maximum(expected, 1e-6)
    in_shade = doubt / np.maximum(np.bincount(owner, minlength=n), 1)
    open_ones = judged & (in_shade == 0)
    usual = float(np.median(share[open_ones])) if open_ones.any() else 1.0
    return np.asarray(judged & (in_shade > SCRAP_IN_SHADE) & (share < SCRAP_COLOUR * min(usual, 1.0)))


def not_coffee(
    blobs: Blobs,
    diameter_um: FloatArray,
    diameter_cells: FloatArray,
    colour: Colours,
    scraps: BoolArray,
    coloured: bool,
) -> Int8Array:
    """Why each blob is not a ground, (n,), as values of ``ExclusionReason``; 0 for a ground.

    Only blobs large enough to show a colour of their own are judged by it; the reference is the photo's own grounds.
    Small ones are left out when they are far fainter than a dense ground of their size: scraps of flakes.

    Parameters
    ----------
    blobs : Blobs
        Measured blobs, one row each.
    diameter_um : ndarray of float64
        Diameters of the grounds or classes, µm, (n,).
    diameter_cells : ndarray of float64
        Size of each blob in cells, (n,).
    colour : Colours
        Colour of each blob.
    scraps : ndarray of bool
        Which blobs are scraps of shadow, (n,).
    coloured : bool
        Whether colour can tell coffee from shadow in this picture.

    Returns
    -------
    ndarray of int8
        Why each blob is not a ground, (n,), as values of ``ExclusionReason``.
    """
    judged = diameter_cells >= JUDGED_FROM_CELLS
    dark = judged & (blobs.plateau > 0.7) & (blobs.plateau < 1.3)
    enough = dark.sum() >= 10
    usual_red = float(np.median(colour.red[dark])) if enough else 0.1
    pale = judged & ((blobs.plateau < 0.5) | (colour.red > usual_red + PALE_RED))
    grey = judged & (colour.brown < LEAST_BROWN) & coloured
    usual_hue = float(np.median(colour.red_over_green[dark])) if enough else 0.0
    yellow = judged & (colour.at_chaff > AT_CHAFF) & (colour.red_over_green < YELLOW * usual_hue) & coloured
    faint = blobs.contrast < FAINT
    too_large = diameter_um > LARGEST_GROUND_UM
    reason = ExclusionReason
    reasons = [reason.TOO_LARGE, reason.SHADOW, reason.CHAFF, reason.PALE, reason.GREY, reason.FAINT]
    return np.select([too_large, scraps, yellow, pale, grey, faint], reasons, 0).astype(np.int8)
