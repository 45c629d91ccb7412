"""What to do before a photo is taken: a small frame of the camera's live view, judged by the card in it.

Nothing is measured here that ends up in a result: a frame has too few pixels for that. It only answers, several times a
second, whether the card lies whole, near, level, sharp and evenly lit in the picture.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np

from hakari.core.arrays import FloatArray, Image32, Uint8Array
from hakari.core.errors import InputError
from hakari.core.photo.decode import linear_light
from hakari.core.photo.find_card import FoundCard, find_card, normal_of
from hakari.core.photo.photo_light import BURNT_LIGHT, BURNT_SHARE, DARK_PAPER

Cue = Literal[
    "no-card", "card-cut-off", "closer", "flatter", "steadier", "more-light", "less-light", "shadow", "spread-thinner",
    "no-grounds",
]  # fmt: skip

FRAME_LONG_SIDE_PX = 960
"""The longest side that a frame is judged at; longer ones are reduced."""

NEAR_SHARE = 0.62
LEVEL_DEG = 12.0
SOFT_PX = 3.0
SHADED = 0.6
CROWDED_SHARE, EMPTY_SHARE = 0.12, 0.002
TILES, TILE_PX, LEAST_TILE_PX = 4, 40, 400  # the well in parts of so many pixels; fewer seen ones are not judged
FAINT = 0.15  # paper's own unevenness: what is no darker than this is paper


@dataclass(frozen=True)
class Framing:
    """How the card lies in a frame.

    ``corners`` are the four corners of the card's well as shares of the frame's width and height, (4, 2), from its top left
    on clockwise; ``lean_deg`` how far the phone leans, (2,): positive where it is nearer to the card on the right, and at
    the bottom; ``fill`` is the well's share of the frame along the side that fills up first; ``edge_px`` the width of the
    markers' edges, 10 to 90 %, px of the frame; ``covered`` the share of the well that is not paper. All are ``None`` where
    no card is seen.
    """

    cues: tuple[Cue, ...]
    corners: FloatArray | None = None
    fill: float | None = None
    tilt_deg: float | None = None
    lean_deg: tuple[float, float] | None = None
    edge_px: float | None = None
    covered: float | None = None

    @property
    def ready(self) -> bool:
        """Whether nothing is left to do but to take the photo."""
        return not self.cues


def framing_of(rgb: Uint8Array) -> Framing:
    """Judge one frame of a live view.

    Parameters
    ----------
    rgb : ndarray of uint8
        The frame, (height, width, 3), sRGB.

    Returns
    -------
    Framing
        How the card lies in it, with what to do first at the front.
    """
    rgb = _reduced(rgb)
    light = linear_light(rgb)
    try:
        found = find_card(rgb)
    except InputError as refusal:
        cues: list[Cue] = ["flatter"] if refusal.code == "card-too-tilted" else ["no-card"]
        if float(np.quantile(light, 0.9)) < DARK_PAPER:
            cues.insert(0, "more-light")
        return Framing(tuple(cues))
    height, width = light.shape
    corners_px = _well_corners_px(found)
    fill = float((np.ptp(corners_px, axis=0) / (width, height)).max())
    tilt = float(found.scale.tilt_deg or 0.0)
    edge = _edge_px(light, found)
    paper, covered = _paper_of_tiles(light, corners_px)
    return Framing(
        tuple(_cues(corners_px, (width, height), fill, tilt, edge, paper, covered)),
        corners_px / (width, height), fill, tilt, _lean_deg(found, width, height), edge, covered,
    )  # fmt: skip


def _lean_deg(found: FoundCard, width: int, height: int) -> tuple[float, float]:
    right, down, away = normal_of(found.plane, width, height)
    return float(np.degrees(np.arctan2(right, away))), float(np.degrees(np.arctan2(down, away)))


def _reduced(rgb: Uint8Array) -> Uint8Array:
    height, width = rgb.shape[:2]
    factor = FRAME_LONG_SIDE_PX / max(height, width)
    if factor >= 1:
        return rgb
    size = (round(width * factor), round(height * factor))
    return np.asarray(cv2.resize(rgb, size, interpolation=cv2.INTER_AREA), np.uint8)


def _well_corners_px(found: FoundCard) -> FloatArray:
    well = found.card.well
    return found.plane.to_px(
        [
            (well.x, well.y), (well.x + well.width, well.y),
            (well.x + well.width, well.y + well.height), (well.x, well.y + well.height),
        ]
    )  # fmt: skip


def _cues(
    corners_px: FloatArray,
    size: tuple[int, int],
    fill: float,
    tilt_deg: float,
    edge_px: float | None,
    paper: FloatArray,
    covered: float,
) -> list[Cue]:
    """Return what to correct, in the order in which one does it."""
    said: list[Cue] = []
    if (corners_px < 0).any() or (corners_px > np.array(size) - 1).any():
        said.append("card-cut-off")
    elif fill < NEAR_SHARE:
        said.append("closer")
    if tilt_deg > LEVEL_DEG:
        said.append("flatter")
    if float(np.median(paper)) < DARK_PAPER:
        said.append("more-light")
    elif float((paper > BURNT_LIGHT).mean()) > BURNT_SHARE:
        said.append("less-light")
    elif float(paper.min()) < SHADED * float(np.median(paper)):
        said.append("shadow")
    if edge_px is not None and edge_px > SOFT_PX:
        said.append("steadier")
    if covered > CROWDED_SHARE:
        said.append("spread-thinner")
    elif covered < EMPTY_SHARE:
        said.append("no-grounds")
    return said


def _paper_of_tiles(light: Image32, corners_px: FloatArray) -> tuple[FloatArray, float]:
    """Light of the paper in sixteen parts of the well, (16,), and the share of the well that is not paper."""
    side = TILE_PX * TILES
    square = np.array([[0, 0], [side, 0], [side, side], [0, side]], np.float32)
    to_square = cv2.getPerspectiveTransform(corners_px.astype(np.float32), square)
    # What lies outside the frame is not known: it counts neither as paper nor as coffee.
    flat = cv2.warpPerspective(light, to_square, (side, side), flags=cv2.INTER_LINEAR, borderValue=-1.0)
    tiles = flat.reshape(TILES, TILE_PX, TILES, TILE_PX).swapaxes(1, 2).reshape(TILES * TILES, -1)
    seen = [tile for tile in (t[t >= 0] for t in tiles) if tile.size > LEAST_TILE_PX]
    if not seen:
        return np.array([float(np.median(light))]), 0.0
    paper = np.array([float(np.quantile(tile, 0.85)) for tile in seen])
    darkness = [1 - tile / p for tile, p in zip(seen, paper, strict=True)]
    # A fine covers a part of a pixel: how dark it is says how large a part.
    return paper, float(np.mean([np.where(d > FAINT, d, 0.0).mean() for d in darkness]))


def _edge_px(light: Image32, found: FoundCard) -> float | None:
    """Width of the markers' outer edges, 10 to 90 % of the step from ink to paper, px; the median of all that are seen."""
    height, width = light.shape
    card = found.card
    middles: list[tuple[float, float]] = []
    outward: list[tuple[float, float]] = []
    half = card.marker_mm / 2
    for marker in card.markers:
        x, y = marker.x_mm + half, marker.y_mm + half
        for nx, ny in ((1.0, 0.0), (-1.0, 0.0), (0.0, 1.0), (0.0, -1.0)):
            middles.append((x + nx * half, y + ny * half))
            outward.append((nx, ny))
    # From the middle of the black border, one module wide, to the paper outside, along the edge's normal on the card.
    steps_mm = np.linspace(-0.5, 0.9, 29) * card.marker_mm / 7
    mm = np.array(middles)[:, None, :] + steps_mm[None, :, None] * np.array(outward)[:, None, :]
    px = found.plane.to_px(mm.reshape(-1, 2)).reshape(*mm.shape)
    inside = ((px > 1) & (px < np.array([width, height]) - 2)).all(axis=(1, 2))
    if inside.sum() < 8:
        return None
    px = px[inside]
    profile = cv2.remap(
        light, px[..., 0].astype(np.float32), px[..., 1].astype(np.float32), cv2.INTER_LINEAR
    )  # fmt: skip
    ink, paper = profile[:, :4].mean(axis=1), profile[:, -4:].mean(axis=1)
    clear = paper - ink > 0.4 * paper
    if clear.sum() < 8:
        return None
    px, share = px[clear], (profile[clear] - ink[clear, None]) / (paper - ink)[clear, None]
    length = np.hypot(*np.moveaxis(px[:, -1] - px[:, 0], -1, 0))
    # From the steepest rise: the width of a smooth step is its height over its slope.
    slope = np.gradient(share, axis=1).max(axis=1) * (len(steps_mm) - 1) / length
    # Of a Gaussian edge the 10-to-90 % width is 1.02 times height over slope.
    return float(np.median(1.02 / slope))
