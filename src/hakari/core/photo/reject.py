"""What is dark on the paper but is not coffee: chaff, pencil and print, coins, smears."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from hakari.core.photo.decode import CHANNEL_MIX, LINEAR
from hakari.core.photo.measure import Blobs
from hakari.core.photo.regions import Cells, Regions
from hakari.core.photo.result import LEFT_OUT, FloatArray

LARGEST_GROUND_UM = 3600.0
JUDGED_FROM_CELLS = 6.0  # smaller grounds have no colour of their own
LEAST_BROWN = 0.2
PALE_RED = 0.25
FAINT = 0.45


def colours(
    rgb: npt.NDArray[np.uint8],
    labels: npt.NDArray[np.int32],
    blobs: Blobs,
    plateau: float,
    cells: Cells,
    regions: Regions,
) -> tuple[FloatArray, FloatArray]:
    """Colour of each blob relative to the paper.

    Returns
    -------
    brown : ndarray, shape (n,)
        Brownness as a share of the picture's coffee, in the light that falls there: 0 is grey, about 1 is coffee.
    red : ndarray, shape (n,)
        Share of the red light that the blob throws back: about 0.05 for coffee, far more for pale flakes.
    """
    n = len(blobs.area_px)
    # Only grounds that are judged by colour are looked at, on every second pixel.
    some = np.flatnonzero((4 * blobs.area_px / np.pi >= (JUDGED_FROM_CELLS * cells.size_px) ** 2)[blobs.own.owner])[::2]
    owner, at = blobs.own.owner[some], blobs.own.at[some]
    seen = LINEAR[rgb.reshape(-1, 3)[at]]
    red, green, blue = (np.bincount(owner, weights=seen[:, channel], minlength=n) for channel in range(3))
    paper = rgb[::8, ::8][labels[::8, ::8] == 0]
    white = np.median(LINEAR[paper], axis=0) if len(paper) else np.ones(3)
    white = np.maximum(white, 1e-3)
    mix = CHANNEL_MIX[0] * red + CHANNEL_MIX[1] * green + CHANNEL_MIX[2] * blue
    mix_white = float(np.dot(CHANNEL_MIX, white))
    thrown_back = np.clip(1.0 - blobs.plateau * plateau, 0.0, 1.0)
    red_share = thrown_back * (red / np.maximum(mix, 1e-6)) / (white[0] / mix_white)
    y, x = np.divmod(at, rgb.shape[1])
    rows = np.minimum(y * cells.brown.shape[0] // rgb.shape[0], cells.brown.shape[0] - 1)
    columns = np.minimum(x * cells.brown.shape[1] // rgb.shape[1], cells.brown.shape[1] - 1)
    there = cells.brown[rows, columns] - np.minimum(regions.shadow.brown_at(cells.calm_light), 0)[rows, columns]
    pixels = np.maximum(np.bincount(owner, minlength=n), 1)
    brown = np.bincount(owner, weights=there, minlength=n) / pixels / max(regions.coffee.brown, 1e-6)
    return np.asarray(brown), np.asarray(red_share)


def not_coffee(
    blobs: Blobs,
    diameter_um: FloatArray,
    diameter_cells: FloatArray,
    brown: FloatArray,
    red: FloatArray,
    coloured: bool,
) -> npt.NDArray[np.int8]:
    """Why each blob is not a ground, (n,): an index into ``LEFT_OUT``, 0 for a ground.

    Only blobs large enough to show a colour of their own are judged by it; the reference is the photo's own grounds.
    Small ones are left out when they are far fainter than a dense ground of their size: scraps of flakes.
    """
    judged = diameter_cells >= JUDGED_FROM_CELLS
    dark = judged & (blobs.plateau > 0.7) & (blobs.plateau < 1.3)
    enough = dark.sum() >= 10
    usual_red = float(np.median(red[dark])) if enough else 0.1
    pale = judged & ((blobs.plateau < 0.5) | (red > usual_red + PALE_RED))
    grey = judged & (brown < LEAST_BROWN) & coloured
    faint = blobs.contrast < FAINT
    too_large = diameter_um > LARGEST_GROUND_UM
    reasons = [LEFT_OUT.index(name) for name in ("too large", "pale", "grey", "faint")]
    return np.select([too_large, pale, grey, faint], reasons, 0).astype(np.int8)
