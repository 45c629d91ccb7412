"""Finding the card in a photo by its markers, and the camera's view of it."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from cv2.typing import MatLike
from scipy.optimize import least_squares

from hakari.core.arrays import FloatArray, Uint8Array
from hakari.core.errors import InputError
from hakari.core.photo.card import CARDS, MODULES, Card, dictionary
from hakari.core.photo.result import Scale
from hakari.core.photo.scale import PlaneMap, middle_of

DETECT_LONG_SIDES_PX = (1000, 1500)  # the second where the first shows too few markers
MIN_MARKERS, ENOUGH_MARKERS = 4, 12


@dataclass(frozen=True)
class FoundCard:
    """A card seen in a photo: which one, the view of it, how many markers held it, and the quality of the fit."""

    card: Card
    plane: PlaneMap
    scale: Scale
    markers_seen: int


def find_card(rgb: Uint8Array) -> FoundCard:
    """Find a card by its markers and fit the camera's view of it.

    Parameters
    ----------
    rgb : ndarray of uint8
        The picture, (height, width, 3), sRGB.

    Returns
    -------
    FoundCard
        The card and the view of it.

    Raises
    ------
    InputError
        ``card-not-found`` when too few markers are seen, ``card-too-tilted`` above 35°.
    """
    height, width = rgb.shape[:2]
    grey = np.asarray(cv2.cvtColor(rgb, cv2.COLOR_RGB2GRAY), np.uint8)
    corners, identifiers = _detect(grey)
    card = _which_card(identifiers)
    places = {m.identifier: m for m in card.markers}
    s = card.marker_mm
    square = np.array([[0, 0], [s, 0], [s, s], [0, s]])
    keep = [k for k, i in enumerate(identifiers) if i in places]
    px = np.concatenate([corners[k] for k in keep])
    mm = np.concatenate([square + (places[identifiers[k]].x_mm, places[identifiers[k]].y_mm) for k in keep])
    plane, residual_um = _fit_plane(px, mm, width, height)
    well = card.well
    centre = np.array([[well.x + well.width / 2, well.y + well.height / 2]])
    um_per_px = float(np.sqrt(plane.mm2_per_px(plane.to_px(centre))[0]) * 1000)
    tilt = float(np.degrees(np.arccos(np.clip(normal_of(plane, width, height)[2], 0, 1))))
    if tilt > 35:
        raise InputError(
            "card-too-tilted",
            f"The card is seen at a tilt of {tilt:.0f}°.",
            "Hold the phone level above the card, so that its edges look parallel.",
        )
    scale = Scale("card", um_per_px, tilt, residual_um, card.paper)
    return FoundCard(card, plane, scale, len(keep))


def _detect(grey: Uint8Array) -> tuple[list[FloatArray], list[int]]:
    """Marker corners in full-size pixels and identifiers; found on a reduced picture, then refined on the full one."""
    factors = sorted({max(1, round(max(grey.shape) / side)) for side in DETECT_LONG_SIDES_PX}, reverse=True)
    found: list[MatLike] = []
    identifiers: list[int] = []
    used = 1
    for factor in factors:
        seen, their_identifiers = _markers(grey, factor)
        if len(seen) > len(found):
            found, identifiers, used = seen, their_identifiers, factor
        if len(found) >= ENOUGH_MARKERS:
            break
    if not found:
        return [], []
    # Pixel centres of the reduced picture lie at ((i + ½) f − ½) of the full one.
    corners = np.concatenate([np.asarray(c, np.float32).reshape(-1, 2) for c in found])
    corners = ((corners + 0.5) * used - 0.5).astype(np.float32)
    side = float(np.median([np.hypot(*(c[0, 1] - c[0, 0])) for c in found])) * used
    reach = int(np.clip(0.45 * side / MODULES, 2, 12))
    criteria = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_COUNT, 40, 0.005)
    refined = cv2.cornerSubPix(grey, corners.reshape(-1, 1, 2), (reach, reach), (-1, -1), criteria)
    return list(np.asarray(refined, np.float64).reshape(-1, 4, 2)), identifiers


def _markers(grey: Uint8Array, factor: int) -> tuple[list[MatLike], list[int]]:
    """Corners and identifiers of markers in a picture reduced by a whole factor."""
    height, width = grey.shape[0] // factor, grey.shape[1] // factor
    whole = grey[: height * factor, : width * factor]
    small = cv2.resize(whole, (width, height), interpolation=cv2.INTER_AREA) if factor > 1 else grey
    settings = cv2.aruco.DetectorParameters()
    settings.minMarkerPerimeterRate = 0.02
    settings.adaptiveThreshWinSizeMin, settings.adaptiveThreshWinSizeMax = 9, 41
    settings.adaptiveThreshWinSizeStep = 16
    found, identifiers, _ = cv2.aruco.ArucoDetector(dictionary(), settings).detectMarkers(small)
    return list(found), [] if identifiers is None else [int(i) for i in np.ravel(identifiers)]


def _which_card(identifiers: list[int]) -> Card:
    def seen(card: Card) -> int:
        return len({m.identifier for m in card.markers} & set(identifiers))

    best = max(CARDS.values(), key=seen)
    if seen(best) < MIN_MARKERS:
        raise InputError(
            "card-not-found",
            "No Hakari card was found in the photo."
            if seen(best) == 0
            else f"Only {seen(best)} of the card's markers can be seen; {MIN_MARKERS} are needed.",
            "Lay the grounds on the printed card and photograph it from above, with its whole well in the picture.",
        )
    return best


def _fit_plane(px: FloatArray, mm: FloatArray, width: int, height: int) -> tuple[PlaneMap, float]:
    """Homography and, when it explains the corners better, one radial term; returns the RMS residual in µm."""
    start, inliers = cv2.findHomography(px, mm, cv2.RANSAC, 0.6)
    if start is None or inliers is None or inliers.sum() < 12:
        raise InputError(
            "card-not-found",
            "The card's markers do not fit together: it is bent, or partly covered.",
            "Lay the card flat and keep the grounds inside its well.",
        )
    whole_markers = inliers.reshape(-1, 4).sum(axis=1) >= 3
    good = np.repeat(whole_markers, 4)
    px, mm = px[good], mm[good]
    centre, half_diagonal = middle_of(width, height)

    def plane(p: FloatArray) -> PlaneMap:
        h = np.append(p[:8], 1.0).reshape(3, 3)
        return PlaneMap(h, centre, half_diagonal, float(p[8]) if len(p) > 8 else 0.0)

    def misfit(p: FloatArray) -> FloatArray:
        return (plane(p).to_mm(px) - mm).ravel()

    scaled = (start / start[2, 2]).ravel()[:8]
    fits = [
        least_squares(
            misfit, p, jac=lambda p: slopes_of(plane(p), px)[:, : len(p)], x_scale=np.maximum(np.abs(p), 1e-4),
            method="trf", loss="soft_l1", f_scale=0.03,
        )
        for p in (scaled, np.append(scaled, 0.0))
    ]  # fmt: skip

    def residual_mm(p: FloatArray) -> float:
        # Blur pulls all four corners of a marker inwards alike; its middle is what shows a bent card.
        middles = misfit(p).reshape(-1, 4, 2).mean(axis=1)
        return float(np.sqrt((middles**2).sum(axis=1).mean()))

    rms = [residual_mm(f.x) for f in fits]
    best = fits[1] if rms[1] < 0.9 * rms[0] and abs(fits[1].x[8]) < 0.2 else fits[0]
    return plane(best.x), 1000 * residual_mm(best.x)


def slopes_of(plane: PlaneMap, px: FloatArray) -> FloatArray:
    """How positions on the paper change with the view: derivatives by the homography's first eight terms and the radial one.

    Parameters
    ----------
    plane : PlaneMap
        The view; the last term of its homography is 1.
    px : ndarray of float64
        Points in the picture, px, (n, 2).

    Returns
    -------
    ndarray of float64
        Derivatives of x and y of each point in turn, mm, (2 n, 9).
    """
    away = px - plane.centre_px
    radius2 = (away**2).sum(axis=1, keepdims=True) / plane.half_diagonal_px**2
    u = np.column_stack([plane.centre_px + away * (1.0 + plane.radial * radius2), np.ones(len(px))])
    mapped = u @ plane.homography.T
    depth = mapped[:, 2:]
    at = mapped[:, :2] / depth
    slopes = np.zeros((len(px), 2, 9))
    for k in (0, 1):
        slopes[:, k, 3 * k : 3 * k + 3] = u / depth
        slopes[:, k, 6:8] = -at[:, k : k + 1] * u[:, :2] / depth
        along = (plane.homography[k, :2] - at[:, k : k + 1] * plane.homography[2, :2]) / depth
        slopes[:, k, 8] = (along * away * radius2).sum(axis=1)
    return slopes.reshape(-1, 9)


def normal_of(plane: PlaneMap, width: int, height: int) -> FloatArray:
    """Return the unit normal of the card, (3,), in the camera's axes (right, down, away).

    The camera is taken to be 60° across. The normal points away from it: where its first part is positive the card is nearer
    on the right, where its second is, at the bottom.

    Parameters
    ----------
    plane : PlaneMap
        The camera's view of the card.
    width, height : int
        Size of the picture, px.

    Returns
    -------
    ndarray of float64
        The normal, (3,).
    """
    focal = 0.5 * max(width, height) / np.tan(np.radians(30))
    camera = np.array([[focal, 0, plane.centre_px[0]], [0, focal, plane.centre_px[1]], [0, 0, 1]])
    m = np.linalg.inv(camera) @ np.linalg.inv(plane.homography)
    m /= (np.linalg.norm(m[:, 0]) + np.linalg.norm(m[:, 1])) / 2
    normal = np.cross(m[:, 0], m[:, 1])
    return np.asarray(normal * np.copysign(1.0, normal[2]) / np.linalg.norm(normal), np.float64)
