"""The printed card: a ring of markers round an empty well.

The card carries ArUco markers (Garrido-Jurado et al. 2014, OpenCV's 5×5 dictionary). Which identifiers are seen tells
which card it is, so that a photo needs no typed size.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

import cv2
import numpy as np

from hakari.core.arrays import BoolArray
from hakari.core.errors import InputError

CHECK_BAR_MM = 40.0
MODULES = 7  # five data modules and the black border of one


@dataclass(frozen=True)
class Rectangle:
    """An upright rectangle on the card, mm from its top left corner."""

    x: float
    y: float
    width: float
    height: float


@dataclass(frozen=True)
class Marker:
    """One marker: its identifier and top left corner in mm."""

    identifier: int
    x_mm: float
    y_mm: float


@dataclass(frozen=True)
class Card:
    """Geometry of one size of card."""

    paper: str
    width_mm: float
    height_mm: float
    frame_mm: float
    marker_mm: float
    first_identifier: int

    @property
    def well(self) -> Rectangle:
        """The empty part in which grounds are spread."""
        f = self.frame_mm
        return Rectangle(f, f, self.width_mm - 2 * f, self.height_mm - 2 * f)

    @property
    def check_bar(self) -> Rectangle:
        """The printed bar of ``CHECK_BAR_MM``, in the lower frame."""
        x = (self.width_mm - CHECK_BAR_MM) / 2
        return Rectangle(x, self.height_mm - 0.36 * self.frame_mm, CHECK_BAR_MM, 0.3)

    @property
    def markers(self) -> tuple[Marker, ...]:
        """All markers: along the top, down both sides, and left and right of the check bar."""
        margin = (self.frame_mm - self.marker_mm) / 2
        right, bottom = (e - margin - self.marker_mm for e in (self.width_mm, self.height_mm))
        pitch = 1.85 * self.marker_mm
        xs = np.linspace(margin, right, 1 + int((right - margin) // pitch))
        ys = np.linspace(margin, bottom, 1 + int((bottom - margin) // pitch))
        bar = self.check_bar
        places = [(x, margin) for x in xs]
        places += [(x, y) for y in ys[1:-1] for x in (margin, right)]
        places += [(x, bottom) for x in xs if x + self.marker_mm < bar.x - 1.5 or x > bar.x + bar.width + 1.5]
        return tuple(Marker(self.first_identifier + i, float(x), float(y)) for i, (x, y) in enumerate(places))


CARDS = {
    card.paper: card
    for card in (
        Card("pocket", 85.0, 55.0, 6.0, 4.5, 0),
        Card("a6", 148.0, 105.0, 8.0, 6.0, 60),
        Card("a5", 210.0, 148.0, 10.0, 7.5, 130),
    )
}


def card_of(paper: str) -> Card:
    """Return the card of a paper size; ``InputError`` ``unknown-paper`` otherwise.

    Parameters
    ----------
    paper : str
        Name of the paper size.

    Returns
    -------
    Card
        The card of a paper size.
    """
    if paper not in CARDS:
        raise InputError("unknown-paper", f"There is no card “{paper}”.", f"Choose one of {', '.join(CARDS)}.")
    return CARDS[paper]


@cache
def dictionary() -> cv2.aruco.Dictionary:
    """Return the marker dictionary that all cards share.

    Returns
    -------
    cv2.aruco.Dictionary
        The marker dictionary that all cards share.
    """
    return cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_5X5_250)


def marker_modules(identifier: int) -> BoolArray:
    """Black modules of a marker, (7, 7), True = ink.

    Parameters
    ----------
    identifier : int
        Number of the marker.

    Returns
    -------
    ndarray of bool
        Black modules of a marker, (7, 7), True = ink.
    """
    picture = cv2.aruco.generateImageMarker(dictionary(), identifier, MODULES)
    return np.asarray(picture < 128)


def ink(card: Card) -> list[Rectangle]:
    """All black rectangles of the card in mm: marker modules, the check bar with its ends, the well's corners.

    Parameters
    ----------
    card : Card
        The card.

    Returns
    -------
    list[Rectangle]
        All black rectangles of the card in mm.
    """
    rectangles: list[Rectangle] = []
    module = card.marker_mm / MODULES
    for marker in card.markers:
        for row, column in zip(*np.nonzero(marker_modules(marker.identifier)), strict=True):
            rectangles.append(Rectangle(marker.x_mm + column * module, marker.y_mm + row * module, module, module))
    bar = card.check_bar
    rectangles.append(bar)
    for x in (bar.x, bar.x + bar.width - 0.2):
        rectangles.append(Rectangle(x, bar.y - 0.6, 0.2, 1.5))
    return rectangles
