"""Connected pixels of a mask, with the sizes and boxes of those that are asked for.

OpenCV's own table of all components takes three times as long as finding them; few of them are ever looked at.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from hakari.core.arrays import Int32Array, IntArray, Mask

Box = tuple[slice, slice]


@dataclass(frozen=True)
class Components:
    """Labels from 1 of pixels that are connected by their sides, (height, width), 0 elsewhere.

    ``at`` are the flat indices of the labelled pixels, ``labels_at`` their labels; ``count`` includes the
    background, as do ``areas_px`` (count,), where it is 0.
    """

    image: Int32Array
    count: int
    at: IntArray
    labels_at: Int32Array
    areas_px: IntArray

    def relabelled(self, more: IntArray) -> Components:
        """Return the components after their image was changed in place and more pixels were labelled.

        Parameters
        ----------
        more : ndarray of int64
            Flat indices of pixels that had no label, (n,).

        Returns
        -------
        Components
            The components as they are in the image now.
        """
        return _tabulated(self.image, self.count, np.concatenate([self.at, more]))

    def larger_than(self, area_px: int) -> Mask:
        """Return a mask of the components of more than so many pixels.

        Parameters
        ----------
        area_px : int
            Area in pixels.

        Returns
        -------
        ndarray of uint8
            1 in those components, (height, width).
        """
        mask = np.zeros(self.image.shape, np.uint8)
        mask.ravel()[self.at[(self.areas_px > area_px)[self.labels_at]]] = 1
        return mask

    def boxes(self, wanted: IntArray) -> list[Box]:
        """Rows and columns of some of the components.

        Parameters
        ----------
        wanted : ndarray of int64
            Their labels, (n,).

        Returns
        -------
        list of (slice, slice)
            The box of each.
        """
        place = np.full(self.count, -1)
        place[wanted] = np.arange(len(wanted))
        where = place[self.labels_at]
        some = np.flatnonzero(where >= 0)
        rows_and_columns = np.divmod(self.at[some], self.image.shape[1])
        low, high = np.full((2, len(wanted)), self.image.size), np.zeros((2, len(wanted)), np.int64)
        for k, places in enumerate(rows_and_columns):
            np.minimum.at(low[k], where[some], places)
            np.maximum.at(high[k], where[some], places)
        return [
            (slice(top, bottom + 1), slice(left, right + 1))
            for top, left, bottom, right in zip(*low.tolist(), *high.tolist(), strict=True)
        ]


def find_components(mask: Mask) -> Components:
    """Label what is connected by its sides in a mask.

    Parameters
    ----------
    mask : ndarray of uint8
        0 or 1, (height, width).

    Returns
    -------
    Components
        The labels.
    """
    count, found = cv2.connectedComponentsWithAlgorithm(mask, 4, cv2.CV_32S, cv2.CCL_SAUF)
    return _tabulated(np.asarray(found, np.int32), count, np.flatnonzero(mask.view(np.bool_)))


def _tabulated(image: Int32Array, count: int, at: IntArray) -> Components:
    labels_at = image.ravel()[at]
    return Components(image, count, at, labels_at, np.bincount(labels_at, minlength=count))
