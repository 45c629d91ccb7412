"""Outlines of meshes seen from one side: the truth that outlines in a photo are compared with."""

from __future__ import annotations

import cv2
import numpy as np
import numpy.typing as npt

Array = npt.NDArray[np.float64]
RASTER_PX = 220
SHIFT = 6


def silhouette(points: Array, faces: npt.NDArray[np.int64], raster_px: int = RASTER_PX) -> tuple[float, Array]:
    """Area of the silhouette of a projected mesh, and its outer outline.

    Parameters
    ----------
    points:
        Projected vertices, (n, 2), in any unit.
    faces:
        Triangles, (m, 3).
    raster_px:
        Size of the raster that the triangles are drawn on; the area is right to about 1 / raster_px.

    Returns
    -------
    area:
        In the square of the unit.
    outline:
        Closed polygon, (k, 2), in the unit.
    """
    low, high = points.min(axis=0), points.max(axis=0)
    px = (raster_px - 8) / max(float((high - low).max()), 1e-12)
    image = np.zeros((raster_px, raster_px), np.uint8)
    drawn = np.round(((points - low) * px + 4) * 2**SHIFT).astype(np.int32)
    a, b, c = (drawn[faces[:, k]].astype(np.int64) for k in range(3))
    turned = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0])
    # The front faces of a closed mesh cover its silhouette.
    for triangle in drawn[faces[turned > 0]]:
        cv2.fillConvexPoly(image, triangle, 1, cv2.LINE_8, SHIFT)
    contours, _ = cv2.findContours(image, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    if not contours:
        return 0.0, points[:0]
    largest = max(contours, key=cv2.contourArea)
    # A filled triangle owns the pixels that its edges pass; the polygon through their centres is half a pixel smaller.
    return cv2.contourArea(largest) / px**2, (largest[:, 0, :] - 4) / px + low
