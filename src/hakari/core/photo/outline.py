"""Outlines of grounds and the shapes that follow from them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from cv2.typing import MatLike

from hakari.core.arrays import BoolArray, FloatArray, Image32, Int32Array, IntArray
from hakari.core.photo.result import points_of
from hakari.core.photo.separate import Labels
from hakari.core.photo.traced import lay_out

FERET_ANGLES = 24
MIN_OUTLINE_POINTS = 15
LEAST_TRACED_PX = 8  # fewer pixels never make an outline long enough to be judged
DISC_POINTS = 6


@dataclass(frozen=True)
class Shapes:
    """Outlines at half height, one after the other, and what follows from them; lengths in px.

    ``known`` marks grounds whose outline is long enough to be judged; the shape of others is 1, and the smallest have
    no outline.
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
    n = labels.count
    sizeable = np.bincount(own.owner[drawn_px], minlength=n) >= LEAST_TRACED_PX
    drawn = np.zeros(labels.image.shape, np.uint8)
    drawn.ravel()[own.at[drawn_px & sizeable[own.owner]]] = 1
    contours, _ = cv2.findContours(drawn, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    pieces = _longest_of_each(_shared_out(contours, labels.image), n)
    known = pieces.length >= MIN_OUTLINE_POINTS
    hulls: list[MatLike] = []
    smoothed: list[MatLike] = []
    measured = []
    for k in np.flatnonzero(known).tolist():
        contour = pieces.points[pieces.start[k] : pieces.start[k] + pieces.length[k]]
        hull = cv2.convexHull(contour)
        smooth = cv2.approxPolyDP(contour, 0.7, True)
        hulls.append(hull)
        smoothed.append(smooth)
        measured.append(
            (
                cv2.contourArea(contour),
                cv2.arcLength(smooth, True),
                cv2.contourArea(hull),
                cv2.arcLength(hull, True),
            )
        )
    pieces = pieces.replaced(known, smoothed)
    diameter, min_feret, max_feret, circularity, solidity = np.ones((5, n))
    if hulls:
        area, length, hull_area, hull_length = np.array(measured, np.float64).T
        # Outlines run through pixel centres; half a pixel all round belongs to the ground as well.
        area = area + 0.5 * length + 1.0
        diameter[known] = np.sqrt(4 * area / np.pi)
        min_feret[known], max_feret[known] = _ferets(hulls)
        circularity[known] = np.minimum(1.0, 4 * np.pi * area / (length + np.pi) ** 2)
        solidity[known] = np.minimum(1.0, area / (hull_area + 0.5 * hull_length + 1.0))
    at, starts = points_of(pieces.start, pieces.length)
    points = pieces.points[at].astype(np.float32)
    return Shapes(
        known=known, diameter=diameter, min_feret=min_feret, max_feret=max_feret, circularity=circularity,
        solidity=solidity, box=_boxes(points, starts), outline_start=starts, outline_px=points,
    )  # fmt: skip


def with_discs(
    start: IntArray, points: Image32, x: FloatArray, y: FloatArray, diameter: FloatArray
) -> tuple[IntArray, Image32]:
    """Give grounds without an outline that of a disc of their size.

    Parameters
    ----------
    start : ndarray of int64
        First row of each outline, and the end of the last, (n + 1,).
    points : ndarray of float32
        Outlines one after the other, px, (m, 2).
    x, y, diameter : ndarray of float64
        Centres and diameters of the grounds, px, (n,).

    Returns
    -------
    tuple of ndarray of int64 and ndarray of float32
        Starts and points of all outlines.
    """
    first, length = start[:-1].copy(), np.diff(start)
    bare = np.flatnonzero(length == 0)
    angles = np.arange(DISC_POINTS) * 2 * np.pi / DISC_POINTS
    across, down = (0.5 * diameter[bare, None] * f(angles) for f in (np.cos, np.sin))
    discs = np.stack([x[bare, None] + across, y[bare, None] + down], axis=2).reshape(-1, 2)
    first[bare], length[bare] = len(points) + DISC_POINTS * np.arange(len(bare)), DISC_POINTS
    at, starts = points_of(first, length)
    return starts, np.concatenate([points, discs.astype(np.float32)])[at]


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


@dataclass(frozen=True)
class _Pieces:
    """Outlines in ``points`` (m, 2), each ``length`` points long from ``start`` on, of ``ground`` (from 0)."""

    points: Int32Array
    ground: IntArray
    start: IntArray
    length: IntArray

    def replaced(self, which: BoolArray, by: list[MatLike]) -> _Pieces:
        """Return the pieces with some of their outlines replaced."""
        start, length = self.start.copy(), self.length.copy()
        length[which] = [len(outline) for outline in by]
        start[which] = len(self.points) + np.cumsum(length[which]) - length[which]
        points = np.concatenate([self.points, *(outline[:, 0, :] for outline in by)])
        return _Pieces(points, self.ground, start, length)


def _shared_out(contours: Sequence[MatLike], image: Int32Array) -> _Pieces:
    """Traced outlines with their grounds; one that runs round several grounds is shared out between them.

    A contour goes round touching grounds in order, so the points of one of them, in that order, close along the cut.
    """
    traced = lay_out(contours, image)
    alone = traced.alone
    parts: list[Int32Array] = []
    part_grounds: list[int] = []
    for k in np.flatnonzero(~alone).tolist():
        points, whose = traced.part(k)
        for label in np.unique(whose).tolist():
            parts.append(points[whose == label])
            part_grounds.append(label - 1)
    part_length = np.array([len(part) for part in parts], np.int64)
    return _Pieces(
        points=np.concatenate([traced.points, *parts]),
        ground=np.concatenate([traced.first[alone] - 1, np.array(part_grounds, np.int64)]),
        start=np.concatenate([traced.start[alone], len(traced.points) + np.cumsum(part_length) - part_length]),
        length=np.concatenate([traced.length[alone], part_length]),
    )


def _longest_of_each(pieces: _Pieces, count: int) -> _Pieces:
    """One outline for each ground, its longest; of no length where it has none."""
    start, length = np.zeros((2, count), np.int64)
    # Of several as long, the first comes last and stays.
    order = np.lexsort((-np.arange(len(pieces.length)), pieces.length))
    start[pieces.ground[order]], length[pieces.ground[order]] = pieces.start[order], pieces.length[order]
    return _Pieces(pieces.points, np.arange(count), start, length)


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
