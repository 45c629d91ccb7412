"""From pixels of the upright picture to millimetres on the paper."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from hakari.core.arrays import FloatArray
from hakari.core.errors import InputError


@dataclass(frozen=True)
class PlaneMap:
    """A camera's view of a flat sheet: one radial distortion term, then a homography.

    ``homography`` maps undistorted pixels to mm; ``radial`` is k₁ of p_u = c + (p − c)(1 + k₁ r²), with r in
    half diagonals from the picture's centre ``centre_px``.
    """

    homography: FloatArray
    centre_px: tuple[float, float]
    half_diagonal_px: float
    radial: float = 0.0

    def to_mm(self, points_px: npt.ArrayLike) -> FloatArray:
        """Map pixel positions (n, 2) to mm (n, 2).

        Parameters
        ----------
        points_px : array_like
            Points in the picture, px, (n, 2).

        Returns
        -------
        ndarray of float64
            Positions on the paper, mm, (n, 2).
        """
        p = np.asarray(points_px, np.float64).reshape(-1, 2)
        v = p - self.centre_px
        r2 = (v**2).sum(axis=1, keepdims=True) / self.half_diagonal_px**2
        u = self.centre_px + v * (1.0 + self.radial * r2)
        h = np.column_stack([u, np.ones(len(u))]) @ self.homography.T
        return np.asarray(h[:, :2] / h[:, 2:])

    def mm2_per_px(self, points_px: npt.ArrayLike) -> FloatArray:
        """Area on the paper of one pixel at each position (n,), in mm² (the Jacobian's determinant).

        Parameters
        ----------
        points_px : array_like
            Points in the picture, px, (n, 2).

        Returns
        -------
        ndarray of float64
            Area of a pixel on the paper, mm², (n,).
        """
        p = np.asarray(points_px, np.float64).reshape(-1, 2)
        step = 2.0
        dx = (self.to_mm(p + [step, 0]) - self.to_mm(p - [step, 0])) / (2 * step)
        dy = (self.to_mm(p + [0, step]) - self.to_mm(p - [0, step])) / (2 * step)
        return np.abs(dx[:, 0] * dy[:, 1] - dx[:, 1] * dy[:, 0])

    def to_px(self, points_mm: npt.ArrayLike) -> FloatArray:
        """Map mm (n, 2) back to pixels (n, 2); the distortion is undone by fixed-point iteration.

        Parameters
        ----------
        points_mm : array_like
            Points on the paper, mm, (n, 2).

        Returns
        -------
        ndarray of float64
            Positions in the picture, px, (n, 2).
        """
        m = np.asarray(points_mm, np.float64).reshape(-1, 2)
        h = np.column_stack([m, np.ones(len(m))]) @ np.linalg.inv(self.homography).T
        u = h[:, :2] / h[:, 2:] - self.centre_px
        v = u.copy()
        for _ in range(20):
            r2 = (v**2).sum(axis=1, keepdims=True) / self.half_diagonal_px**2
            v = u / (1.0 + self.radial * r2)
        return np.asarray(v + self.centre_px)


def middle_of(width_px: int, height_px: int) -> tuple[tuple[float, float], float]:
    """Centre of a picture and half its diagonal, px: what ``PlaneMap`` counts distortion from.

    Parameters
    ----------
    width_px : int
        Width of the picture, px.
    height_px : int
        Height of the picture, px.

    Returns
    -------
    tuple[tuple of two floats, float]
        Centre of a picture and half its diagonal, px.
    """
    return ((width_px - 1) / 2, (height_px - 1) / 2), float(np.hypot(width_px, height_px) / 2)


def plane_from_points(
    points_px: tuple[float, float, float, float], distance_mm: float, width_px: int, height_px: int
) -> PlaneMap:
    """Scale from two points a known distance apart; assumes the sensor parallel to the paper.

    Parameters
    ----------
    points_px : tuple of four floats
        Points in the picture, px, (n, 2).
    distance_mm : float
        Distance of the two points on the paper, mm.
    width_px : int
        Width of the picture, px.
    height_px : int
        Height of the picture, px.

    Returns
    -------
    PlaneMap
        Scale from two points a known distance apart.

    Raises
    ------
    InputError
        ``points-off-picture``, ``points-too-close`` or ``distance-not-positive``.
    """
    x1, y1, x2, y2 = points_px
    if not (np.isfinite(distance_mm) and distance_mm > 0):
        raise InputError(
            "distance-not-positive",
            "The distance between the two points must be more than nothing.",
            "Type the measured distance in millimetres, for example 60.",
            field="scale.distance_mm",
        )
    for x, y in ((x1, y1), (x2, y2)):
        if not (-0.5 <= x <= width_px - 0.5 and -0.5 <= y <= height_px - 0.5):
            raise InputError(
                "points-off-picture",
                f"The point ({x:g}, {y:g}) lies outside the picture of {width_px}×{height_px} pixels.",
                "Give both points in pixels of the upright picture.",
                field="scale.points_px",
            )
    distance_px = float(np.hypot(x2 - x1, y2 - y1))
    if distance_px < 50:
        raise InputError(
            "points-too-close",
            f"The two points are only {distance_px:.0f} pixels apart, too few for a scale.",
            "Choose two points far apart in the picture.",
            field="scale.points_px",
        )
    s = distance_mm / distance_px
    return PlaneMap(np.diag([s, s, 1.0]), *middle_of(width_px, height_px))
