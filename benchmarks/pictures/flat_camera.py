"""The made pictures' camera: where it stands, what light falls, and what lens, sensor and file do to the scene."""

from __future__ import annotations

import io
from dataclasses import dataclass

import cv2
import numpy as np
import numpy.typing as npt
from PIL import Image

from benchmarks.pictures.lens import bend, srgb
from hakari.core.photo.card import CARDS, Card
from hakari.formats.card_drawing import raster

SUPERSAMPLE = 3
# In single precision, as is all of a picture: eight bits of it are kept.
PAPER_RGB = np.array([0.86, 0.85, 0.82], np.float32)
COFFEE_RGB = np.array([0.050, 0.024, 0.012], np.float32)
CHAFF_RGB = np.array([0.62, 0.45, 0.24], np.float32)


@dataclass(frozen=True)
class Scene:
    """What is photographed, and how."""

    median_um: float = 700.0
    sigma_ln: float = 0.34
    second_share: float = 0.0
    second_ratio: float = 1.0
    fines_share: float = 0.09
    coverage: float = 0.05
    touching_share: float = 0.06
    chaff: int = 0
    width_px: int = 4000
    height_px: int = 3000
    um_per_px: float = 21.6
    tilt_deg: float = 4.0
    turn_deg: float = 2.0
    falloff: float = 0.25
    blur_sigma_px: float = 0.8
    noise: float = 0.012
    exposure: float = 0.9
    warm: float = 0.0
    radial: float = 0.0
    shadow: float = 0.0
    hand_shadow: float = 0.0
    quality: int = 84
    paper: str = "pocket"
    grounds_limit: int = 30000
    with_card: bool = True
    seed: int = 1


# What a scene says of light, lens and file alone: where its grounds lie does not depend on it.
PHOTOGRAPHED = frozenset(
    {
        "chaff",
        "falloff",
        "blur_sigma_px",
        "noise",
        "exposure",
        "warm",
        "radial",
        "shadow",
        "hand_shadow",
        "quality",
        "with_card",
    }
)


def place_px(scene: Scene, mm: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
    """Where places on the card (n, 2), mm, lie in a picture without lens distortion, px."""
    s = SUPERSAMPLE
    return (project(camera(scene, CARDS[scene.paper]), mm) - (s - 1) / 2) / s


def camera(scene: Scene, card: Card) -> npt.NDArray[np.float64]:
    """Homography from card mm to supersampled pixels for a tilted phone over the middle of the card."""
    focal = 0.5 * max(scene.width_px, scene.height_px) / np.tan(np.radians(30))
    distance_mm = focal * scene.um_per_px / 1000
    tilt, turn = np.radians(scene.tilt_deg), np.radians(scene.turn_deg)
    axis = np.array([np.cos(0.6), np.sin(0.6), 0.0])
    lean, _ = cv2.Rodrigues(axis * tilt)
    spin, _ = cv2.Rodrigues(np.array([0.0, 0.0, turn]))
    rotation = lean @ spin
    centre = np.array([[1, 0, -card.width_mm / 2], [0, 1, -card.height_mm / 2], [0, 0, 1.0]])
    plane = np.column_stack([rotation[:, 0], rotation[:, 1], [0, 0, distance_mm]])
    camera = np.array([[focal, 0, (scene.width_px - 1) / 2], [0, focal, (scene.height_px - 1) / 2], [0, 0, 1.0]])
    s = SUPERSAMPLE
    finer = np.array([[s, 0, (s - 1) / 2], [0, s, (s - 1) / 2], [0, 0, 1.0]])
    return np.asarray(finer @ camera @ plane @ centre)


def project(h: npt.NDArray[np.float64], mm: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
    """Apply a homography to points (n, 2)."""
    points = np.ones((len(mm), 3))
    points[:, :2] = mm
    q = points @ h.T
    return np.asarray(q[:, :2] / q[:, 2:])


def photograph(
    cover: npt.NDArray[np.uint8],
    card: Card,
    to_px: npt.NDArray[np.float64],
    scene: Scene,
    rng: np.random.Generator,
) -> bytes:
    """Light, lens, sensor and file: the scene as a JPEG.

    ``cover`` is the coverage by grounds at ``SUPERSAMPLE`` times the camera's pixels.
    """
    size = (scene.width_px, scene.height_px)
    coffee = cv2.resize(cover, size, interpolation=cv2.INTER_AREA).astype(np.float32) / 255
    sheet = _sheet(card, to_px, scene)
    chaff = _chaff(card, to_px, scene, rng)
    shade = np.zeros_like(coffee)
    if scene.shadow > 0:
        shift = np.array([[1, 0, 5.0], [0, 1, 4.0]], np.float32)
        shade = scene.shadow * cv2.GaussianBlur(cv2.warpAffine(coffee, shift, size), (0, 0), 4.0) * (1 - coffee)
    # Broken faces of a ground are lighter or darker in patches; none is pale enough to look like paper.
    grain = cv2.GaussianBlur(rng.standard_normal(coffee.shape, np.float32), (0, 0), 2.2) * 5.5
    faces = np.clip(1.0 + 0.55 * grain, 0.3, 2.6)
    y, x = (np.linspace(-1, 1, n, dtype=np.float32) for n in (scene.height_px, scene.width_px))
    y = y[:, None]
    light = 1 - scene.falloff * (0.5 * (x - 0.3) ** 2 + 0.4 * (y + 0.2) ** 2 + 0.12 * x)
    if scene.hand_shadow:
        # The soft edge of a hand's shadow, slanting over one side of the card.
        light = light * (1 - scene.hand_shadow / (1 + np.exp((x + 0.35 * y + 0.15) / 0.07)))
    light = light * (1 + 0.004 * cv2.GaussianBlur(rng.standard_normal(coffee.shape, np.float32), (0, 0), 1.5) * 5)
    white = PAPER_RGB * np.array([1 + scene.warm, 1, 1 - scene.warm], np.float32)
    bare, covered, ink = (1 - shade) * (1 - coffee), faces * coffee, (1 - sheet) * 0.025
    light = light * scene.exposure
    out = np.empty((scene.height_px, scene.width_px, 3), np.uint8)
    for channel in range(3):
        paper = sheet * white[channel] + ink
        flake = paper * (1 - chaff) + CHAFF_RGB[channel] * chaff
        value = (flake * bare + COFFEE_RGB[channel] * covered) * light
        if scene.blur_sigma_px > 0:
            value = cv2.GaussianBlur(value, (0, 0), scene.blur_sigma_px)
        noise = rng.standard_normal(value.shape, np.float32) * scene.noise
        value = value + noise * np.sqrt(np.maximum(value, 0.01))
        out[:, :, channel] = np.rint(255 * srgb(value))
    if scene.radial:
        out = np.asarray(bend(out, scene.radial), np.uint8)
    file = io.BytesIO()
    Image.fromarray(out).save(file, "JPEG", quality=scene.quality)
    return file.getvalue()


def _sheet(card: Card, to_px: npt.NDArray[np.float64], scene: Scene) -> npt.NDArray[np.float32]:
    """Return the printed card as the camera sees it, 1 paper and 0 ink, on a sheet that goes on beyond it."""
    if not scene.with_card:
        return np.ones((scene.height_px, scene.width_px), np.float32)
    px_per_mm = 2 * 1000 / scene.um_per_px
    print_ = raster(card, px_per_mm)
    from_print = np.array([[1 / px_per_mm, 0, 0.5 / px_per_mm], [0, 1 / px_per_mm, 0.5 / px_per_mm], [0, 0, 1]])
    s = 2
    # Sampled at twice the camera's pixels, then averaged, so that ink edges fall between pixels as they do in a lens.
    half = np.array(
        [
            [s / SUPERSAMPLE, 0, (s / SUPERSAMPLE - 1) / 2],
            [0, s / SUPERSAMPLE, (s / SUPERSAMPLE - 1) / 2],
            [0, 0, 1],
        ]
    )
    big = cv2.warpPerspective(
        print_, half @ to_px @ from_print, (scene.width_px * s, scene.height_px * s),
        flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_CONSTANT, borderValue=255,
    )  # fmt: skip
    small = cv2.resize(big, (scene.width_px, scene.height_px), interpolation=cv2.INTER_AREA)
    return np.asarray(small.astype(np.float32) / 255, np.float32)


def _chaff(
    card: Card, to_px: npt.NDArray[np.float64], scene: Scene, rng: np.random.Generator
) -> npt.NDArray[np.float32]:
    """Pale, thin flakes, share of cover per pixel."""
    layer = np.zeros((scene.height_px, scene.width_px), np.uint8)
    well = card.well
    for _ in range(scene.chaff):
        length, width = rng.uniform(0.5, 2.2), rng.uniform(0.15, 0.5)
        angle = rng.uniform(0, np.pi)
        at = np.array(
            [
                rng.uniform(well.x + 1, well.x + well.width - 1),
                rng.uniform(well.y + 1, well.y + well.height - 1),
            ]
        )
        t = np.linspace(0, 2 * np.pi, 16)
        leaf = np.column_stack([length / 2 * np.cos(t), width / 2 * np.sin(t)])
        turn = np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
        px = (project(to_px, leaf @ turn.T + at) - (SUPERSAMPLE - 1) / 2) / SUPERSAMPLE
        cv2.fillPoly(layer, [np.round(px * 16).astype(np.int32)], int(rng.uniform(150, 230)), cv2.LINE_AA, 4)
    return np.asarray(layer.astype(np.float32) / 255, np.float32)
