"""Traced outlines laid one after the other, with the labels that they run along."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from cv2.typing import MatLike

from hakari.core.arrays import BoolArray, Int32Array, IntArray


@dataclass(frozen=True)
class Traced:
    """Points (m, 2) of n outlines, each ``length`` points long from ``start`` on, and the label at each point (m,)."""

    points: Int32Array
    whose: Int32Array
    start: IntArray
    length: IntArray

    @property
    def first(self) -> Int32Array:
        """Label at the first point of each outline, (n,)."""
        return self.whose[self.start]

    @property
    def alone(self) -> BoolArray:
        """Whether each outline runs along one label only, (n,)."""
        if not len(self.start):
            return np.zeros(0, np.bool_)
        low, high = (extreme.reduceat(self.whose, self.start) for extreme in (np.minimum, np.maximum))
        return np.asarray(low == high, np.bool_)

    def part(self, k: int) -> tuple[Int32Array, Int32Array]:
        """Points and labels of one outline.

        Parameters
        ----------
        k : int
            Which.

        Returns
        -------
        tuple of two arrays of int32
            Its points, (length, 2), and their labels, (length,).
        """
        rows = slice(self.start[k], self.start[k] + self.length[k])
        return self.points[rows], self.whose[rows]


def lay_out(contours: Sequence[MatLike], labels: Int32Array) -> Traced:
    """Lay outlines one after the other.

    Parameters
    ----------
    contours : Sequence[ndarray]
        Outlines as OpenCV traces them, px, each (n, 1, 2).
    labels : ndarray of int32
        Label of each pixel, (height, width).

    Returns
    -------
    Traced
        The outlines with their labels.
    """
    length = np.array([len(contour) for contour in contours], np.int64)
    points = np.concatenate([np.zeros((0, 1, 2), np.int32), *contours])[:, 0, :]
    return Traced(points, labels[points[:, 1], points[:, 0]], np.cumsum(length) - length, length)
