"""A round object of known diameter as scale: its outline as an ellipse, and the tilt that the ellipse tells."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from hakari.core.arrays import FloatArray, Image32, Mask, as_image, as_mask
from hakari.core.errors import InputError
from hakari.core.photo.scale import PlaneMap, middle_of

SEARCH_LONG_SIDE_PX = 1000
RAYS = 720
CIRCLE_PERFECTION = 0.9
# Closing and opening of what differs from paper, as shares of the picture's longer side, tried in order.
DISC_WINDOWS = ((0.012, 0.012), (0.004, 0.03), (0.004, 0.05), (0.012, 0.06))
# A coin is about this thick against its diameter; its upper rim stands nearer to the camera and looks larger.
USUAL_THICKNESS_SHARE = 0.07
# Focal length against the picture's longer side, of a phone held close with its main lens zoomed a little.
USUAL_FOCAL_SHARE = 1.5
MAX_TILT_DEG = 35.0
# A rim that is seen from the side lengthens the outline by a percent or two: rounder than this counts as level.
LEVEL_RATIO = 0.975


@dataclass(frozen=True)
class Ellipse:
    """An ellipse in pixels: middle, half axes (long first), and the direction of the long axis in radians."""

    x: float
    y: float
    long_px: float
    short_px: float
    angle: float

    def points(self, count: int, factor: float = 1.0) -> FloatArray:
        """Points round the ellipse, (count, 2), its axes stretched by ``factor``.

        Parameters
        ----------
        count : int
            How many.
        factor : float
            Factor on the ellipse.

        Returns
        -------
        ndarray of float64
            Points round the ellipse, (count, 2), its axes stretched by ``factor``.
        """
        t = np.arange(count) * 2 * np.pi / count
        u, v = factor * self.long_px * np.cos(t), factor * self.short_px * np.sin(t)
        c, s = np.cos(self.angle), np.sin(self.angle)
        return np.column_stack([self.x + u * c - v * s, self.y + u * s + v * c])


@dataclass(frozen=True)
class FoundDisc:
    """A disc in the picture and the scale that it tells.

    The area of its outline sets the scale; the sheet is taken to be parallel to the sensor. ``tilt_deg`` is what the
    axis ratio tells, ``None`` where the outline is too round, and ``tilt_bias`` by how much sizes may then be off at
    the far corner, as a share. ``enlarged_by`` is what the thickness was taken to add to the outline.
    """

    ellipse: Ellipse
    plane: PlaneMap
    tilt_deg: float | None
    thickness_mm: float
    enlarged_by: float
    tilt_bias: float


def find_disc(light: Image32, diameter_mm: float, thickness_mm: float | None = None) -> FoundDisc:
    """Find the largest round thing on the paper and take its outline for a circle of ``diameter_mm``.

    Parameters
    ----------
    light:
        Linear brightness, (height, width).
    diameter_mm:
        The object's diameter as measured with a ruler or known.
    thickness_mm:
        How far its upper rim stands above the paper; ``None`` takes ``USUAL_THICKNESS_SHARE`` of the diameter.

    Returns
    -------
    FoundDisc
        The disc with its plane.

    Raises
    ------
    InputError
        ``diameter-not-positive``, ``disc-not-found`` or ``disc-too-tilted``.
    """
    if not (np.isfinite(diameter_mm) and 3 <= diameter_mm <= 200):
        raise InputError(
            "diameter-not-positive", f"A diameter of {diameter_mm:g} mm cannot be a scale.",
            "Type the diameter of the round object in millimetres, between 3 and 200.", field="scale.diameter_mm",
        )  # fmt: skip
    ellipse = _refined(light, _rough(light))
    height, width = light.shape
    focal = USUAL_FOCAL_SHARE * max(width, height)
    tilt = float(np.degrees(np.arccos(np.clip(ellipse.short_px / ellipse.long_px, 0, 1))))
    if tilt > MAX_TILT_DEG:
        raise InputError(
            "disc-too-tilted", f"The round object looks like an ellipse seen at {tilt:.0f}°.",
            "Hold the phone level above the paper.",
        )  # fmt: skip
    thickness = USUAL_THICKNESS_SHARE * diameter_mm if thickness_mm is None else thickness_mm
    distance_mm = focal * diameter_mm / (2 * ellipse.long_px)
    enlarged = 1.0 + thickness / max(distance_mm - thickness, 1.0)
    mm_per_px = diameter_mm * enlarged / (2 * float(np.sqrt(ellipse.long_px * ellipse.short_px)))
    plane = PlaneMap(np.diag([mm_per_px, mm_per_px, 1.0]), *middle_of(width, height))
    if ellipse.short_px > LEVEL_RATIO * ellipse.long_px:
        return FoundDisc(ellipse, plane, None, thickness, enlarged, 0.0)
    corners = np.array([[0, 0], [width, 0], [width, height], [0, height]])
    far_px = float(np.hypot(*(corners - (ellipse.x, ellipse.y)).T).max())
    return FoundDisc(ellipse, plane, tilt, thickness, enlarged, float(np.tan(np.radians(tilt))) * far_px / focal)


def _rough(light: Image32) -> Ellipse:
    """Return the largest round thing in the picture, on a reduced copy: a circle of edges, else a well-filled ellipse."""
    factor = max(1.0, max(light.shape) / SEARCH_LONG_SIDE_PX)
    size = (round(light.shape[1] / factor), round(light.shape[0] / factor))
    small = as_image(cv2.resize(light, size, interpolation=cv2.INTER_AREA))
    found = _circles(small) or _ellipses(small)
    if not found:
        raise InputError(
            "disc-not-found", "No round object was found in the photo.",
            "Lay it whole inside the picture, on white paper, away from the grounds; or use two points.",
        )  # fmt: skip
    e = max(found, key=lambda f: f[0])[1]
    return Ellipse(
        (e.x + 0.5) * factor - 0.5, (e.y + 0.5) * factor - 0.5, e.long_px * factor, e.short_px * factor, e.angle
    )


def _circles(small: Image32) -> list[tuple[float, Ellipse]]:
    """Circles that edges lie on, with their areas: of a metal disc as bright as paper the rim alone shows.

    Hough gradient transform (Yuen et al. 1990); a median filter takes fines away first.
    """
    grey = as_mask(np.clip(255 * np.sqrt(small / max(float(np.quantile(small, 0.95)), 1e-4)), 0, 255))
    side = min(small.shape)
    for window in (5, 9):
        circles = cv2.HoughCircles(
            cv2.medianBlur(grey, window), cv2.HOUGH_GRADIENT_ALT, 1.5, 0.04 * side, param1=100, param2=CIRCLE_PERFECTION,
            minRadius=int(0.05 * side), maxRadius=int(0.48 * side),
        )  # fmt: skip
        if circles is not None:
            return [
                (float(np.pi * r * r), Ellipse(float(x), float(y), float(r), float(r), 0.0)) for x, y, r in circles[0]
            ]
    return []


def _ellipses(small: Image32) -> list[tuple[float, Ellipse]]:
    """Well-filled ellipses among what differs from the paper, with their areas."""
    size = small.shape[::-1]
    wide = max(9, int(0.3 * min(size))) | 1
    lit = cv2.resize(small, None, fx=0.25, fy=0.25, interpolation=cv2.INTER_AREA)
    paper = cv2.dilate(cv2.medianBlur(lit, 5), np.ones((wide // 4 | 1, wide // 4 | 1), np.uint8))
    paper = cv2.resize(cv2.blur(paper, (wide // 4 | 1, wide // 4 | 1)), size)
    other = (np.abs(small / np.maximum(paper, 1e-3) - 1) > 0.14).astype(np.uint8)
    # Glints are closed over and grounds opened away; the more is closed, the more grounds weld into one sheet.
    for closing, opening in DISC_WINDOWS:
        found = _round_things(other, closing, opening)
        if found:
            return found
    return []


def _round_things(other: Mask, closing: float, opening: float) -> list[tuple[float, Ellipse]]:
    """Well-filled ellipses in a mask after closing and opening it by shares of its longer side, with their areas."""
    size = other.shape[::-1]
    mask = other
    for share, operation in ((closing, cv2.MORPH_CLOSE), (opening, cv2.MORPH_OPEN)):
        width = max(3, int(share * max(size))) | 1
        mask = np.asarray(
            cv2.morphologyEx(mask, operation, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (width, width))), np.uint8
        )
    contours, _ = cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    found: list[tuple[float, Ellipse]] = []
    for contour in contours:
        hull = cv2.convexHull(contour)
        area = cv2.contourArea(hull)
        if len(hull) < 8 or area < (0.05 * min(size)) ** 2 or cv2.contourArea(contour) < 0.9 * area:
            continue
        ellipse = _ellipse(hull[:, 0, :].astype(np.float64))
        drawn = np.pi * ellipse.long_px * ellipse.short_px
        inside = 0 < ellipse.x < size[0] and 0 < ellipse.y < size[1]
        if inside and abs(area / drawn - 1) < 0.05 and ellipse.short_px > 0.75 * ellipse.long_px:
            found.append((area, ellipse))
    return found


def _ellipse(points: FloatArray) -> Ellipse:
    (x, y), (a, b), degrees = cv2.fitEllipseDirect(points.astype(np.float32).reshape(-1, 1, 2))
    angle = np.radians(degrees)
    if a < b:
        a, b, angle = b, a, angle + np.pi / 2
    return Ellipse(float(x), float(y), a / 2, b / 2, float(angle))


def _refined(light: Image32, rough: Ellipse) -> Ellipse:
    """Ellipse through the steepest points of the rim along rays, to a fraction of a pixel."""
    image = as_image(cv2.GaussianBlur(light, (0, 0), 0.7))
    ellipse = rough
    spread = np.inf
    # A circle of edges is near the rim from the start, and its surroundings hold the edge of its shadow.
    for reach in (0.03, 0.03) if rough.long_px == rough.short_px else (0.10, 0.05, 0.03):
        share = np.linspace(1 + reach, 1 - reach, 241)
        rings = np.stack([ellipse.points(RAYS, float(f)) for f in share], axis=1).astype(np.float32)
        values = cv2.remap(image, rings[..., 0], rings[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
        # A shadow beside the rim is soft, the rim itself sharp: the outermost steep change of brightness counts.
        fall = np.abs(values[:, :-2] - values[:, 2:])
        steep = 0.5 * float(np.quantile(fall.max(axis=1), 0.6))
        peak = (fall[:, 1:-1] >= fall[:, :-2]) & (fall[:, 1:-1] > fall[:, 2:]) & (fall[:, 1:-1] > steep)
        at = np.argmax(peak, axis=1) + 1
        good = peak.any(axis=1)
        rows = np.arange(RAYS)
        low, top, high = (fall[rows, at + k] for k in (-1, 0, 1))
        curve = low - 2 * top + high
        part = np.where(curve < -1e-9, 0.5 * (low - high) / np.minimum(curve, -1e-9), 0.0)
        where = share[0] + (at + 1 + np.clip(part, -0.5, 0.5)) * (share[1] - share[0])
        middle = np.array([ellipse.x, ellipse.y])
        points = (middle + (ellipse.points(RAYS) - middle) * where[:, None])[good]
        if len(points) < RAYS // 4:
            break
        ellipse, spread = _robust_ellipse(points)
    if spread > max(3.0, 0.02 * rough.long_px):
        raise InputError(
            "disc-not-found", "The round object's rim is too uneven to be a scale.",
            "Use a coin or a lid with a clean rim, whole inside the picture; or use two points.",
        )  # fmt: skip
    return ellipse


def _outside(points: FloatArray, ellipse: Ellipse) -> FloatArray:
    """How far points lie outside an ellipse, px, by its long half axis."""
    c, s = np.cos(ellipse.angle), np.sin(ellipse.angle)
    d = points - (ellipse.x, ellipse.y)
    u, v = (d[:, 0] * c + d[:, 1] * s) / ellipse.long_px, (-d[:, 0] * s + d[:, 1] * c) / ellipse.short_px
    return np.asarray((np.hypot(u, v) - 1) * ellipse.long_px)


def _robust_ellipse(points: FloatArray) -> tuple[Ellipse, float]:
    """Fit, leave out what lies far off, fit again."""
    ellipse = _ellipse(points)
    spread = np.inf
    for _ in range(4):
        off = _outside(points, ellipse)
        spread = 1.4826 * float(np.median(np.abs(off - np.median(off))))
        near = np.abs(off - np.median(off)) < max(3 * spread, 0.5)
        ellipse = _ellipse(points[near])
    return ellipse, spread
