"""Where in a picture to measure, and how its pixels become millimetres, by the chosen scale."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from hakari.core.arrays import FloatArray, Uint8Array
from hakari.core.errors import InputError
from hakari.core.photo.basins import CELL_PX
from hakari.core.photo.card import CHECK_BAR_MM
from hakari.core.photo.decode import linear_light
from hakari.core.photo.disc import FoundDisc, find_disc
from hakari.core.photo.find_card import FoundCard, find_card
from hakari.core.photo.result import Scale
from hakari.core.photo.scale import PlaneMap, plane_from_points

WELL_MARGIN_MM = 0.6
POINT_MARK_MM = 0.5
DISC_MARGIN_MM = 0.8
LARGEST_BAR_ERROR = 0.08
# The box round a well is whole blocks long, so that grids two, four and eight times as coarse fit it: those are quickest.
BLOCK_PX = 8


@dataclass(frozen=True)
class CardScale:
    """Scale by the printed card; ``bar_mm`` is its check bar's true length, measured with a ruler, if it was."""

    bar_mm: float = CHECK_BAR_MM


@dataclass(frozen=True)
class DiscScale:
    """Scale by a round object of known diameter lying on the paper, mm; its thickness where it is known."""

    diameter_mm: float
    thickness_mm: float | None = None


@dataclass(frozen=True)
class PointsScale:
    """Scale by two points of the upright picture, px, and their distance in mm."""

    x1: float
    y1: float
    x2: float
    y2: float
    distance_mm: float


ScaleChoice = CardScale | DiscScale | PointsScale


@dataclass(frozen=True)
class View:
    """The plane, the box of pixels that is measured and what of it owns grounds.

    ``inside`` is 1 where paper is expected in the box, ``None`` for everywhere; ``corners_px`` outlines the region and
    ``mark_px`` is what the scale was taken from, both in pixels of the picture.
    """

    plane: PlaneMap
    scale: Scale
    x0: int
    y0: int
    x1: int
    y1: int
    inside: Uint8Array | None
    corners_px: FloatArray
    mark_px: FloatArray
    card: FoundCard | None = None
    disc: FoundDisc | None = None

    @property
    def ten_mm_px(self) -> FloatArray:
        """Ends of a line of 10 mm on the paper, in the middle of the region's lower edge, (2, 2)."""
        low, high = self.corners_px.min(axis=0), self.corners_px.max(axis=0)
        at = self.plane.to_mm([[(low[0] + high[0]) / 2, low[1] + 0.93 * (high[1] - low[1])]])[0]
        return self.plane.to_px([at - [5.0, 0.0], at + [5.0, 0.0]])


def find_view(rgb: Uint8Array, choice: ScaleChoice) -> View:
    """Find the scale in an upright picture.

    Parameters
    ----------
    rgb : ndarray of uint8
        The upright picture, (height, width, 3), sRGB.
    choice : ScaleChoice
        Where the scale comes from.

    Returns
    -------
    View
        The view.

    Raises
    ------
    InputError
        When the scale cannot be found or used; nothing is guessed.
    """
    if isinstance(choice, CardScale):
        return _card_view(rgb, choice)
    if isinstance(choice, DiscScale):
        return _disc_view(rgb, choice)
    return _points_view(rgb, choice)


def _whole(width: int, height: int) -> tuple[int, int, FloatArray]:
    corners = np.array([[0, 0], [width - 1, 0], [width - 1, height - 1], [0, height - 1]], float)
    return width - width % CELL_PX, height - height % CELL_PX, corners


def _in_blocks(first: int, last: int, most: int) -> int:
    """Return the end of a box that is whole blocks long: a little longer, or shorter where the picture ends."""
    longer = last + (first - last) % BLOCK_PX
    return longer if longer <= most else last - (last - first) % BLOCK_PX


def _points_view(rgb: Uint8Array, choice: PointsScale) -> View:
    height, width = rgb.shape[:2]
    points = (choice.x1, choice.y1, choice.x2, choice.y2)
    plane = plane_from_points(points, choice.distance_mm, width, height)
    um_per_px = float(np.sqrt(plane.mm2_per_px([[width / 2, height / 2]])[0]) * 1000)
    x1, y1, corners = _whole(width, height)
    inside = np.ones((y1, x1), np.uint8)
    # A mark drawn on the paper is likely at either point and is not coffee.
    for x, y in (points[:2], points[2:]):
        cv2.circle(inside, (round(x), round(y)), round(POINT_MARK_MM * 1000 / um_per_px), 0, cv2.FILLED)
    mark = np.array(points).reshape(2, 2)
    return View(plane, Scale("points", um_per_px, None), 0, 0, x1, y1, inside, corners, mark)


def _disc_view(rgb: Uint8Array, choice: DiscScale) -> View:
    height, width = rgb.shape[:2]
    found = find_disc(linear_light(rgb), choice.diameter_mm, choice.thickness_mm)
    um_per_px = float(np.sqrt(found.plane.mm2_per_px([[width / 2, height / 2]])[0]) * 1000)
    x1, y1, corners = _whole(width, height)
    inside = np.ones((y1, x1), np.uint8)
    mark = found.ellipse.points(72)
    margin = 1.0 + DISC_MARGIN_MM * 1000 / um_per_px / found.ellipse.short_px
    around = found.ellipse.points(72, margin)
    cv2.fillPoly(inside, [np.round(around * 16).astype(np.int32)], 0, shift=4)
    scale = Scale("disc", um_per_px, found.tilt_deg)
    return View(found.plane, scale, 0, 0, x1, y1, inside, corners, mark, disc=found)


def _stretched(plane: PlaneMap, factor: float) -> PlaneMap:
    """Return the same view of a sheet that is larger by ``factor`` than was thought."""
    return PlaneMap(
        np.diag([factor, factor, 1.0]) @ plane.homography, plane.centre_px, plane.half_diagonal_px, plane.radial
    )


def _card_view(rgb: Uint8Array, choice: CardScale) -> View:
    stretch = choice.bar_mm / CHECK_BAR_MM
    if not (np.isfinite(stretch) and abs(stretch - 1) <= LARGEST_BAR_ERROR):
        raise InputError(
            "bar-unlikely", f"The check bar is drawn {CHECK_BAR_MM:g} mm long; {choice.bar_mm:g} mm is too far from it.",
            "Measure the bar between the insides of its two end strokes and type millimetres.", field="scale.bar_mm",
        )  # fmt: skip
    height, width = rgb.shape[:2]
    found = find_card(rgb)
    well = found.card.well

    def polygon(margin: float) -> FloatArray:
        left, top = well.x - margin, well.y - margin
        right, bottom = well.x + well.width + margin, well.y + well.height + margin
        along = np.linspace(0, 1, 9)[:-1]
        edges = [((left, top), (right, top)), ((right, top), (right, bottom)),
                 ((right, bottom), (left, bottom)), ((left, bottom), (left, top))]  # fmt: skip
        mm = [(a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t) for a, b in edges for t in along]
        return found.plane.to_px(mm)

    outer, region = polygon(WELL_MARGIN_MM), polygon(0.0)
    low = np.floor(outer.min(axis=0)).astype(int)
    high = np.ceil(outer.max(axis=0)).astype(int) + 1
    x0, y0 = max(0, int(low[0])), max(0, int(low[1]))
    x1, y1 = min(width, int(high[0])), min(height, int(high[1]))
    if (x1 - x0) < 0.5 * (high[0] - low[0]) or (y1 - y0) < 0.5 * (high[1] - low[1]):
        raise InputError(
            "well-not-in-picture",
            "Most of the card's well lies outside the photo.",
            "Hold the phone so that the whole well is in the picture.",
        )
    x1, y1 = _in_blocks(x0, x1, width), _in_blocks(y0, y1, height)
    inside = np.zeros((y1 - y0, x1 - x0), np.uint8)
    cv2.fillPoly(inside, [np.round((outer - (x0, y0)) * 16).astype(np.int32)], 1, shift=4)
    s = found.scale
    scale = Scale(s.method, s.um_per_px * stretch, s.tilt_deg, s.residual_um, s.paper)
    return View(_stretched(found.plane, stretch), scale, x0, y0, x1, y1, inside, region, region, card=found)
