"""Outlines of grounds and the shapes that follow from them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from cv2.typing import MatLike

from hakari.core.arrays import BoolArray, FloatArray, Image32, Int32Array, IntArray
from hakari.core.photo.separate import Labels

FERET_ANGLES = 24
MIN_OUTLINE_POINTS = 15


@dataclass(frozen=True)
class Shapes:
    """Outlines at half height, one after the other, and what follows from them; lengths in px.

    ``known`` marks grounds whose outline is long enough to be judged; the shape of others is 1.
    """

    known: BoolArray
    diameter: FloatArray
    min_feret: FloatArray
    max_feret: FloatArray
    circularity: FloatArray
    solidity: FloatArray
    box: FloatArray
    outline_start: IntArray
    outline_px: Image32


@dataclass(frozen=True)
class Owned:
    """The pixels of all grounds: flat index into the image, and whose each is (counted from 0)."""

    at: IntArray
    owner: Int32Array


def outlines(labels: Labels, own: Owned, drawn_px: BoolArray) -> Shapes:
    """Trace every ground through its pixels that are ``drawn_px`` (at half its own plateau) and measure its shape.

    Parameters
    ----------
    labels : Labels
        Label of each pixel, 0 for paper.
    own : Owned
        The pixels of all grounds with their owners.
    drawn_px : ndarray of bool
        Which of the pixels lie inside an outline.

    Returns
    -------
    Shapes
        Outlines with their shapes.
    """
    image, n = labels.image, labels.count
    drawn = np.zeros(image.shape, np.uint8)
    drawn.ravel()[own.at[drawn_px]] = 1
    contours, _ = cv2.findContours(drawn, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    nothing = np.zeros((0, 1, 2), np.int32)
    traced: list[MatLike] = [nothing] * n
    longest = [0] * n
    for i, contour, length in _one_each(contours, image):
        if length > longest[i]:
            traced[i], longest[i] = contour, length
    known = np.array(longest) >= MIN_OUTLINE_POINTS
    hulls: list[MatLike] = []
    measured = []
    for k in np.flatnonzero(known):
        contour = traced[k]
        hull = cv2.convexHull(contour)
        smooth = cv2.approxPolyDP(contour, 0.7, True)
        hulls.append(hull)
        measured.append(
            (
                cv2.contourArea(contour),
                cv2.arcLength(smooth, True),
                cv2.contourArea(hull),
                cv2.arcLength(hull, True),
            )
        )
        traced[k], longest[k] = smooth, len(smooth)
    diameter, min_feret, max_feret, circularity, solidity = np.ones((5, n))
    if hulls:
        area, length, hull_area, hull_length = np.array(measured, np.float64).T
        # Outlines run through pixel centres; half a pixel all round belongs to the ground as well.
        area = area + 0.5 * length + 1.0
        diameter[known] = np.sqrt(4 * area / np.pi)
        min_feret[known], max_feret[known] = _ferets(hulls)
        circularity[known] = np.minimum(1.0, 4 * np.pi * area / (length + np.pi) ** 2)
        solidity[known] = np.minimum(1.0, area / (hull_area + 0.5 * hull_length + 1.0))
    starts = np.concatenate([[0], np.cumsum(longest)]).astype(np.int64)
    points = np.concatenate([nothing, *(o for o, length in zip(traced, longest, strict=True) if length)])
    points = points[:, 0, :].astype(np.float32)
    return Shapes(
        known=known, diameter=diameter, min_feret=min_feret, max_feret=max_feret, circularity=circularity,
        solidity=solidity, box=_boxes(points, starts), outline_start=starts, outline_px=points,
    )  # fmt: skip


def polygon_area(points: FloatArray) -> float:
    """Area inside a closed outline (n, 2).

    Parameters
    ----------
    points : ndarray of float64
        Points of the outline, (n, 2).

    Returns
    -------
    float
        Area inside a closed outline (n, 2).
    """
    return float(cv2.contourArea(points.astype(np.float32)))


def _one_each(contours: Sequence[MatLike], image: Int32Array) -> Iterator[tuple[int, MatLike, int]]:
    """Each traced outline with its ground (from 0) and length; one that runs round several grounds is shared out.

    A contour goes round touching grounds in order, so the points of one of them, in that order, close along the cut.
    """
    if not contours:
        return
    points = np.concatenate(contours)[:, 0, :]
    whose = image[points[:, 1], points[:, 0]]
    lengths = [len(c) for c in contours]
    starts = np.concatenate([[0], np.cumsum(lengths)[:-1]])
    low, high = np.minimum.reduceat(whose, starts), np.maximum.reduceat(whose, starts)
    rows = zip(contours, lengths, starts.tolist(), low.tolist(), high.tolist(), strict=True)
    for contour, length, start, first, last in rows:
        if first == last:
            yield first - 1, contour, length
            continue
        owners = whose[start : start + length]
        for label in np.unique(owners).tolist():
            part = contour[owners == label]
            yield label - 1, part, len(part)


def _ferets(hulls: list[MatLike]) -> tuple[FloatArray, FloatArray]:
    """Least and greatest caliper width of each convex hull, px."""
    angles = np.arange(FERET_ANGLES) * np.pi / FERET_ANGLES
    spans = np.concatenate(hulls)[:, 0, :] @ np.array([np.cos(angles), np.sin(angles)])
    starts = np.concatenate([[0], np.cumsum([len(h) for h in hulls])[:-1]])
    widths = np.maximum.reduceat(spans, starts) - np.minimum.reduceat(spans, starts) + 1.0
    return widths.min(axis=1), widths.max(axis=1)


def _boxes(points: Image32, starts: IntArray) -> FloatArray:
    """Bounding boxes (x0, y0, x1, y1) of outlines stored one after the other; NaN where there is none."""
    box = np.full((len(starts) - 1, 4), np.nan)
    filled = np.flatnonzero(np.diff(starts))
    if len(filled):
        box[filled, :2] = np.minimum.reduceat(points, starts[filled])
        box[filled, 2:] = np.maximum.reduceat(points, starts[filled]) + 1
    return box
