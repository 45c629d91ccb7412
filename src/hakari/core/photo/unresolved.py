"""Small grounds that blur has melted into one blob: its light is shared out by how dark its darkest pixel is.

A dense disc of diameter d under blur of σ peaks at 1 − exp(−d²/8σ²). A blob whose peak is fainter than that of a disc with
as much light is not one ground: the peak bounds the largest of those it holds.
"""

from __future__ import annotations

import numpy as np

from hakari.core.arrays import FloatArray, IntArray

MELTED_CONTRAST = 0.88
LARGEST_SIGMAS = 6.5
MOST_PARTS = 6
MIN_GROUNDS = 30


def split_unresolved(area_px: FloatArray, contrast: FloatArray, blur_sigma_px: float) -> tuple[IntArray, FloatArray]:
    """Share the light of melted blobs between the grounds in them.

    Parameters
    ----------
    area_px, contrast:
        Of each blob, (n,); contrast is the peak over that of a dense disc with the same area.
    blur_sigma_px:
        Blur of the photo.

    Returns
    -------
    rows, areas:
        For each ground (m ≥ n, blobs in order) its blob and its area in px. The areas of one blob's grounds are alike
        and add up to its area.
    """
    size_sigmas = np.sqrt(4 * area_px / np.pi) / max(blur_sigma_px, 0.5)
    small = (size_sigmas < LARGEST_SIGMAS) & (size_sigmas > 2.0)
    if small.sum() < MIN_GROUNDS:
        return np.arange(len(area_px)), area_px
    # Against the photo's own small grounds, which may be paler than its large ones.
    relative = contrast / float(np.clip(np.median(contrast[small]), 0.7, 1.2))
    melted = np.flatnonzero(small & (relative < MELTED_CONTRAST))
    disc = 1.0 - np.exp(-(size_sigmas[melted] ** 2) / 8)
    peak = np.clip(relative[melted] * disc, 0.02, 0.98)
    largest = -2 * np.pi * blur_sigma_px**2 * np.log1p(-peak)
    parts = np.clip(np.ceil(area_px[melted] / largest), 2, MOST_PARTS).astype(np.int64)
    count = np.ones(len(area_px), np.int64)
    count[melted] = parts
    rows = np.repeat(np.arange(len(area_px)), count)
    # Which of them is the larger cannot be told: the light is shared out evenly.
    areas = area_px[rows] / count[rows]
    return rows, areas
