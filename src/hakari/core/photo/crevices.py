"""Grounds that touch along a wide neck or lie on each other, parted along the dark crevice between them.

Where the outline shows no waist, the light does: little of it reaches the crevice between two grounds. Crevices are dark
lines against the picture's own compact grounds, whose texture is no crevice. What remains of a blob without them is parted
by its distance map; parts whose saddle is nearly as deep as the smaller one stay together.
"""

from __future__ import annotations

import cv2
import numpy as np
from cv2.typing import MatLike

from hakari.core.arrays import BoolArray, Image32, Int32Array, Mask
from hakari.core.photo.components import Box
from hakari.core.photo.concavity_split import fullness

LEAST_AREA_PX = 110
COMPACT, NOT_COMPACT = 0.94, 0.87
LINE_PX = 7
TEXTURE_QUANTILE = 0.97
MOST_REFERENCES = 80
JOIN_ABOVE = 0.85  # saddle over the smaller peak
LEAST_PEAK_PX = 2.5
STEP_PX = 0.5


def part_at_crevices(
    labels: Int32Array, light: Image32, boxes: dict[int, Box], largest_px: float, next_id: int
) -> list[int]:
    """Part blobs along their crevices, in place.

    Parameters
    ----------
    labels : ndarray of int32, shape (height, width)
        Label image; changed in place, each further part gets the next number from ``next_id``.
    light : ndarray of float32, shape (height, width)
        Linear brightness of the picture.
    boxes : dict
        Labels of blobs that may be several grounds, with their boxes.
    largest_px : float
        Area of the largest blob that is looked at.
    next_id : int
        First free label.

    Returns
    -------
    list of int
        Labels that came out of a split, old and new.
    """
    owns = {i: labels[box] == i for i, box in boxes.items()}
    owns = {i: own for i, own in owns.items() if LEAST_AREA_PX <= np.count_nonzero(own) <= largest_px}
    full = {i: fullness(_outer_outline(own)) for i, own in owns.items()}
    compact = [i for i in owns if full[i] > COMPACT][:MOST_REFERENCES]
    doubtful = [i for i in owns if full[i] < NOT_COMPACT]
    if not doubtful:
        return []
    texture = [_lines(light[boxes[i]], owns[i]) for i in compact]
    threshold = float(np.quantile(np.concatenate(texture), TEXTURE_QUANTILE)) if texture else 0.3
    changed: list[int] = []
    for i in doubtful:
        own = owns[i]
        dark = np.zeros(own.shape, np.float32)
        dark[own] = _lines(light[boxes[i]], own)
        parts = _parts((own & (dark < max(threshold, 0.05))).view(np.uint8), own)
        count = int(parts.max())
        if count < 2:
            continue
        changed.append(i)
        for part in range(2, count + 1):
            labels[boxes[i]][parts == part] = next_id
            changed.append(next_id)
            next_id += 1
    return changed


def _outer_outline(own: BoolArray) -> MatLike:
    contours, _ = cv2.findContours(own.view(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    return max(contours, key=len)


def _lines(light: Image32, own: BoolArray) -> Image32:
    """How much darker than its surroundings each pixel of a blob is, as a share of the blob's own light (n,)."""
    window = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (LINE_PX, LINE_PX))
    middle = max(float(np.median(light[own])), 1e-4)
    inside = np.where(own, light, np.float32(0))
    around = cv2.morphologyEx(inside, cv2.MORPH_CLOSE, window, borderType=cv2.BORDER_CONSTANT, borderValue=0)
    return np.asarray((around - inside)[own] / middle, np.float32)


def _parts(mask: Mask, own: BoolArray) -> Int32Array:
    """Parts of a blob numbered from 1, by the distance map of what is left of it without crevices."""
    padded = cv2.copyMakeBorder(mask, 1, 1, 1, 1, cv2.BORDER_CONSTANT)
    depth = np.asarray(cv2.distanceTransform(padded, cv2.DIST_L2, 5)[1:-1, 1:-1], np.float32)
    seeds = _seeds(depth, mask, 0.0)
    if len(seeds) < 2:
        return own.astype(np.int32)
    free = np.ones(mask.shape, np.uint8)
    for seed in seeds:
        free[seed] = 0
    _, nearest = cv2.distanceTransformWithLabels(free, cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL)
    table = np.zeros(int(nearest.max()) + 1, np.int32)
    for number, seed in enumerate(seeds, 1):
        table[nearest[seed]] = number
    return np.where(own, table[nearest], 0).astype(np.int32)


def _seeds(depth: Image32, region: Mask, level: float) -> list[BoolArray]:
    """Cores of the parts of a region: where rising through the distance map, it falls apart into parts deep enough."""
    peak = float(depth[region > 0].max(initial=0.0))
    for at in np.arange(level + STEP_PX, JOIN_ABOVE * peak, STEP_PX):
        count, pieces = cv2.connectedComponents(
            ((depth > at) & (region > 0)).view(np.uint8), connectivity=4, ltype=cv2.CV_32S
        )
        if count < 3:
            continue
        tops = np.zeros(count)
        np.maximum.at(tops, np.asarray(pieces, np.int64).ravel(), depth.ravel())
        deep = [k for k in range(1, count) if tops[k] >= max(at / JOIN_ABOVE, LEAST_PEAK_PX)]
        if len(deep) > 1:
            return [seed for k in deep for seed in _seeds(depth, (pieces == k).view(np.uint8), float(at))]
    return [(depth > max(level, 0.6 * peak)) & (region > 0)] if peak > 0 else []
