"""Waists of outlines: where two grounds touch, the outline of both has a short chord.

A chord between two points of an outline is a likely contact when it is short against the smaller part that it
cuts off. Chord over diameter of the smaller part is scale free, so one threshold serves all sizes.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

import cv2
import numpy as np
from cv2.typing import MatLike

from hakari.core.arrays import FloatArray, IntArray

MAX_CHORD_RATIO = 0.78
# Between two deep notches of a long outline, a wider neck is a contact too: up to this ratio, from and to these depths of
# the shallower notch below the convex hull, as shares of the smaller part's diameter.
NOTCHED_CHORD_RATIO, NOTCH_FROM, NOTCH_WHOLE = 0.9, 0.07, 0.18
# Outlines fuller than this have no waist; long ones show it better than those of a few pixels.
MIN_SOLIDITY = (0.93, 0.97)
MIN_PART_SHARE = 0.015
# Numbers of points that outlines are drawn with, so that those with the same number are judged together.
POINT_STEPS = np.array([16, 20, 24, 30, 36, 44, 56, 72, 96, 128])
LONG_OUTLINE, NOTCHED_FROM_POINTS = 44, 72
DEEPEST = 6
CHORDS_TRIED = 12


def fullness(contour: MatLike) -> float:
    """Area of a pixel outline over that of its convex hull.

    Outlines run through pixel centres: half a pixel all round belongs to both.

    Parameters
    ----------
    contour : ndarray
        Outline in px, (n, 1, 2).

    Returns
    -------
    float
        Area of a pixel outline over that of its convex hull.
    """
    rim = 0.5 * len(contour)
    return (cv2.contourArea(contour) + rim) / max(cv2.contourArea(cv2.convexHull(contour)) + rim, 1.0)


def _cross(a: FloatArray, b: FloatArray) -> FloatArray:
    return np.asarray(a[..., 0] * b[..., 1] - a[..., 1] * b[..., 0])


def _next(points: FloatArray) -> FloatArray:
    return np.concatenate([points[..., 1:, :], points[..., :1, :]], axis=-2)


@lru_cache(maxsize=256)
def _pairs(n: int) -> tuple[IntArray, IntArray]:
    return np.triu_indices(n, 3)


def _solidity(points: FloatArray) -> float:
    p = points.astype(np.float32)
    hull = float(cv2.contourArea(cv2.convexHull(p)))
    return float(cv2.contourArea(p)) / hull if hull > 0 else 1.0


def resample(contours: Sequence[MatLike]) -> list[FloatArray]:
    """Points at even arc length along closed pixel outlines, lightly smoothed against pixel stairs.

    Returns one array (n, 2) per contour, n by its length.

    Parameters
    ----------
    contours : Sequence[ndarray]
        Outlines in px, each (n, 1, 2).

    Returns
    -------
    list[ndarray of float64]
        Evenly spaced points of each outline.
    """
    if not contours:
        return []
    lengths = np.array([len(c) for c in contours])
    starts = np.concatenate([[0], np.cumsum(lengths + 1)[:-1]])
    closed = np.concatenate([part for c in contours for part in (c[:, 0, :], c[:1, 0, :])]).astype(np.float64)
    step = np.zeros(len(closed))
    step[1:] = np.hypot(*(closed[1:] - closed[:-1]).T)
    step[starts] = 1.0  # from one outline to the next, so that the way along all of them only grows
    along = np.cumsum(step)
    first = along[starts]
    around = along[starts + lengths] - first
    wanted = np.clip(0.45 * around, POINT_STEPS[0], POINT_STEPS[-1])
    counts = POINT_STEPS[np.searchsorted(POINT_STEPS, wanted, side="right") - 1]
    number = np.arange(-1, counts.max() + 1)
    places = [f + number[: n + 2] * (a / n) % a for f, a, n in zip(first, around, counts, strict=True)]
    at = np.concatenate(places)
    raw = np.column_stack([np.interp(at, along, closed[:, 0]), np.interp(at, along, closed[:, 1])])
    ends = np.cumsum(counts + 2)
    rows = (raw[e - n - 2 : e] for e, n in zip(ends.tolist(), counts.tolist(), strict=True))
    return [0.25 * r[:-2] + 0.5 * r[1:-1] + 0.25 * r[2:] for r in rows]


def split_outlines(outlines: list[FloatArray]) -> list[list[FloatArray]]:
    """Cut each outline into the outlines of its parts, recursively; one part where there is no waist.

    Parameters
    ----------
    outlines : list[ndarray of float64]
        Outlines with evenly spaced points, px.

    Returns
    -------
    list[list[ndarray of float64]]
        Outlines of the parts of each.
    """
    parts = [[o] for o in outlines]
    waisted = [k for k, o in enumerate(outlines) if _has_waist(o)]
    for n in {len(outlines[k]) for k in waisted}:
        alike = [k for k in waisted if len(outlines[k]) == n]
        for k, chord in zip(alike, best_chords(np.stack([outlines[k] for k in alike])), strict=True):
            if chord is not None:
                parts[k] = [p for half in _halves(outlines[k], *chord) for p in _split_further(half, 1)]
    return parts


def _has_waist(points: FloatArray) -> bool:
    if len(points) < 8:
        return False
    return _solidity(points) < (MIN_SOLIDITY[1] if len(points) >= LONG_OUTLINE else MIN_SOLIDITY[0])


def _halves(points: FloatArray, i: int, j: int) -> tuple[FloatArray, FloatArray]:
    return points[i : j + 1], np.vstack([points[j:], points[: i + 1]])


def _split_further(points: FloatArray, depth: int) -> list[FloatArray]:
    if depth > DEEPEST or not _has_waist(points):
        return [points]
    chord = best_chords(points[None])[0]
    if chord is None:
        return [points]
    return [p for half in _halves(points, *chord) for p in _split_further(half, depth + 1)]


def best_chords(outlines: FloatArray) -> list[tuple[int, int] | None]:
    """Return ends i < j of each outline's chord with the least length over diameter of the smaller part, if that is a waist.

    ``outlines`` are closed, (m, n, 2). Chords that leave the outline are not considered.

    Parameters
    ----------
    outlines : ndarray of float64
        Outlines in px.

    Returns
    -------
    list[tuple[int, int] or None]
        Ends i < j of each outline's chord with the least length over diameter of the smaller part, if that is a
        waist.
    """
    n = outlines.shape[1]
    steps = _cross(outlines, _next(outlines))
    ahead = np.concatenate([np.zeros((len(outlines), 1)), np.cumsum(steps, axis=1)], axis=1)
    total = ahead[:, -1:]
    i, j = _pairs(n)
    x, y = np.ascontiguousarray(outlines[..., 0]), np.ascontiguousarray(outlines[..., 1])
    x_i, y_i, x_j, y_j = x[:, i], y[:, i], x[:, j], y[:, j]
    part = 0.5 * (ahead[:, j] - ahead[:, i] + (x_j * y_i - y_j * x_i)) * np.sign(total)
    whole = 0.5 * np.abs(total)
    smaller = np.minimum(part, whole - part)
    squared = ((x_i - x_j) ** 2 + (y_i - y_j) ** 2) * (np.pi / 4)
    limit = np.full(squared.shape, MAX_CHORD_RATIO**2)
    if n >= NOTCHED_FROM_POINTS:
        depth = np.stack([_depths(o) for o in outlines])
        notch = np.minimum(depth[:, i], depth[:, j]) / np.sqrt(4 / np.pi * np.maximum(smaller, 1e-9))
        notched = np.clip((notch - NOTCH_FROM) / (NOTCH_WHOLE - NOTCH_FROM), 0, 1)
        limit = (MAX_CHORD_RATIO + (NOTCHED_CHORD_RATIO - MAX_CHORD_RATIO) * notched) ** 2
    fits = (smaller > MIN_PART_SHARE * whole) & (squared <= limit * smaller)
    squared = np.where(fits, squared / np.maximum(smaller * limit, 1e-9), np.inf)
    return [
        _inner_chord(points, i, j, row) if found else None
        for points, row, found in zip(outlines, squared, fits.any(axis=1), strict=True)
    ]


def _depths(points: FloatArray) -> FloatArray:
    """How far each point of an outline (n, 2) lies inside its convex hull, px."""
    hull = np.asarray(cv2.convexHull(points.astype(np.float32))[:, 0, :], np.float64)
    edges = _next(hull) - hull
    lengths = np.maximum(np.hypot(edges[:, 0], edges[:, 1]), 1e-9)
    away = np.abs(_cross(edges[None], points[:, None, :] - hull[None])) / lengths
    return np.asarray(away.min(axis=1))


def _inner_chord(points: FloatArray, i: IntArray, j: IntArray, squared: FloatArray) -> tuple[int, int] | None:
    """Return the best of a few chords that runs inside its outline."""
    few = np.flatnonzero(np.isfinite(squared))
    if len(few) > CHORDS_TRIED:
        few = few[np.argpartition(squared[few], CHORDS_TRIED - 1)[:CHORDS_TRIED]]
    outline = points.astype(np.float32)
    for k in few[np.argsort(squared[few])].tolist():
        a, b = points[i[k]], points[j[k]]
        if all(
            cv2.pointPolygonTest(outline, (float(x), float(y)), True) > -0.4
            for x, y in (a + (b - a) * t for t in (0.25, 0.5, 0.75))
        ):
            return int(i[k]), int(j[k])
    return None
