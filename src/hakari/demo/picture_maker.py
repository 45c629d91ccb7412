"""Pictures of ground coffee with known truth: irregular grounds on the printed card, as a phone would see them.

Every ground is a polygon whose area is exact, so that the truth of a picture is known to the last ground. The scene is
drawn at three times the camera's pixels, then lit, blurred, made noisy and compressed. These are simulations: they have
flat grounds without height, and say so in their truth files.
"""

from __future__ import annotations

import io
from dataclasses import dataclass, field

import cv2
import numpy as np
import numpy.typing as npt
from PIL import Image
from skimage.draw import polygon as polygon_pixels

from hakari.core.photo.card import CARDS, Card, Rectangle
from hakari.core.photo.result import FloatArray
from hakari.core.psd.distribution import CUT_UM, mass_below, moments, volumes
from hakari.formats.card_drawing import raster

SUPERSAMPLE = 3
# The pictures' fine mode, lognormal by number.
FINE_MEDIAN_UM, FINE_SIGMA = 55.0, 0.35
PAPER_RGB = np.array([0.86, 0.85, 0.82])
COFFEE_RGB = np.array([0.050, 0.024, 0.012])
CHAFF_RGB = np.array([0.62, 0.45, 0.24])


@dataclass(frozen=True)
class Scene:
    """What is photographed, and how."""

    median_um: float = 700.0
    sigma_ln: float = 0.34
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
    quality: int = 84
    paper: str = "pocket"
    grounds_limit: int = 30000
    with_card: bool = True
    seed: int = 1


@dataclass(frozen=True)
class Made:
    """A made picture: its file, and every ground's diameter and place on the card."""

    jpeg: bytes
    diameter_um: FloatArray
    x_mm: FloatArray
    y_mm: FloatArray
    scene: Scene
    extra: dict[str, float] = field(default_factory=dict)

    def truth(self) -> dict[str, object]:
        """The true figures at and above the cut, and the whole, as the truth file beside a picture."""
        seen = self.diameter_um >= CUT_UM
        d, one = self.diameter_um[seen], np.ones(int(seen.sum()))
        m = moments(d, one)
        everything = np.ones(len(self.diameter_um))
        return {
            "format": "hakari.truth/1",
            "simulated": True,
            "grounds": len(self.diameter_um),
            "grounds_from_100_um": len(d),
            "d10_um": m.d10_um,
            "d50_um": m.d50_um,
            "d90_um": m.d90_um,
            "mass_below_um": {"200": mass_below(d, one, 200), "300": mass_below(d, one, 300)},
            "whole": {
                "d50_um": moments(self.diameter_um, everything).d50_um,
                "mass_below_um": {str(u): mass_below(self.diameter_um, everything, u) for u in (100, 200, 300)},
            },
        }


def make_picture(scene: Scene) -> Made:
    """Draw one picture; the same scene and seed give the same grounds."""
    rng = np.random.default_rng(scene.seed)
    card = CARDS[scene.paper]
    to_px = _camera(scene, card)
    diameters = _draw_diameters(scene, card, rng)
    cover = np.zeros((scene.height_px * SUPERSAMPLE, scene.width_px * SUPERSAMPLE), np.uint8)
    drawn, places = _scatter(cover, diameters, card, to_px, scene, rng)
    jpeg = _photograph(cover, card, to_px, scene, rng)
    return Made(jpeg, drawn, places[:, 0], places[:, 1], scene)


def place_px(scene: Scene, mm: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
    """Where places on the card (n, 2), mm, lie in a picture without lens distortion, px."""
    s = SUPERSAMPLE
    return (_project(_camera(scene, CARDS[scene.paper]), mm) - (s - 1) / 2) / s


def _camera(scene: Scene, card: Card) -> npt.NDArray[np.float64]:
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


def _draw_diameters(scene: Scene, card: Card, rng: np.random.Generator) -> FloatArray:
    """Diameters until the well is covered as wished; masses share out between a coarse and a fine mode."""
    wanted_mm2 = scene.coverage * card.well.width * card.well.height
    # Number-weighted median of a lognormal with this volume-weighted one (Hatch and Choate 1929).
    coarse_number = scene.median_um * np.exp(-3 * scene.sigma_ln**2)
    coarse = np.clip(rng.lognormal(np.log(coarse_number), scene.sigma_ln, 60000), 90, 2600)
    fine = np.clip(rng.lognormal(np.log(FINE_MEDIAN_UM), FINE_SIGMA, 200000), 22, 400)
    coarse_area = np.cumsum(np.pi / 4 * coarse**2) / 1e6
    for n in (int(np.searchsorted(coarse_area, wanted_mm2 * f)) for f in np.linspace(1.0, 0.3, 36)):
        mass = float((coarse[:n] ** 3).sum())
        fine_mass = mass * scene.fines_share / (1 - scene.fines_share)
        k = int(np.searchsorted(np.cumsum(fine**3), fine_mass))
        area = coarse_area[max(n - 1, 0)] + float((np.pi / 4 * fine[:k] ** 2).sum()) / 1e6
        if area <= wanted_mm2 and n + k <= scene.grounds_limit:
            break
    return np.sort(np.concatenate([coarse[:n], fine[:k]]))[::-1]


def _outline(diameter_mm: float, rng: np.random.Generator) -> npt.NDArray[np.float64]:
    """A crumbled outline round the origin with exactly the area of a disc of this diameter."""
    n = 7 if diameter_mm < 0.12 else (10 if diameter_mm < 0.3 else 15)
    angle = (np.arange(n) + rng.uniform(-0.33, 0.33, n)) * 2 * np.pi / n
    stretch = 1.0 + abs(rng.normal(0, 0.16))
    radius = 1.0 + rng.normal(0, 0.07, n)
    for k, size in ((2, 0.10), (3, 0.08), (4, 0.05)):
        radius += rng.normal(0, size / 1.6) * np.cos(k * angle + rng.uniform(0, 2 * np.pi))
    radius = np.clip(radius, 0.45, 1.7)
    p = np.column_stack([stretch * radius * np.cos(angle), radius * np.sin(angle)])
    turn = rng.uniform(0, np.pi)
    p = p @ np.array([[np.cos(turn), np.sin(turn)], [-np.sin(turn), np.cos(turn)]])
    after = np.roll(p, -1, axis=0)
    area = 0.5 * abs(float((p[:, 0] * after[:, 1] - p[:, 1] * after[:, 0]).sum()))
    return np.asarray(p * np.sqrt(np.pi / 4 * diameter_mm**2 / area))


def _project(h: npt.NDArray[np.float64], mm: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
    q = np.column_stack([mm, np.ones(len(mm))]) @ h.T
    return np.asarray(q[:, :2] / q[:, 2:])


def _scatter(
    cover: npt.NDArray[np.uint8],
    diameters_um: FloatArray,
    card: Card,
    to_px: npt.NDArray[np.float64],
    scene: Scene,
    rng: np.random.Generator,
) -> tuple[FloatArray, npt.NDArray[np.float64]]:
    """Draw grounds where there is room, some of them pushed against a neighbour; returns sizes and places drawn."""
    well = card.well
    kept: list[float] = []
    places: list[npt.NDArray[np.float64]] = []
    for diameter_um in diameters_um:
        shape = _outline(diameter_um / 1000, rng)
        partner = None
        if places and rng.random() < scene.touching_share:
            k = int(rng.integers(len(places)))
            partner = (places[k], (kept[k] + diameter_um) / 1000)
        for _ in range(12):
            if partner is None:
                r = 0.6 * diameter_um / 1000
                at = np.array(
                    [
                        rng.uniform(well.x + r, well.x + well.width - r),
                        rng.uniform(well.y + r, well.y + well.height - r),
                    ]
                )
                if not _free(cover, _project(to_px, shape * 1.25 + at)):
                    continue
            else:
                pushed = _pushed(cover, shape, partner, to_px, well, rng)
                if pushed is None:
                    partner = None
                    continue
                at = pushed
            rows, columns = _pixels(cover, _project(to_px, shape + at))
            if len(rows):
                cover[rows, columns] = int(np.clip(rng.normal(246, 5), 228, 255))
            kept.append(float(diameter_um))
            places.append(at)
            break
    return np.array(kept), np.array(places)


def _pixels(
    cover: npt.NDArray[np.uint8], px: npt.NDArray[np.float64]
) -> tuple[npt.NDArray[np.intp], npt.NDArray[np.intp]]:
    rows, columns = polygon_pixels(px[:, 1], px[:, 0], cover.shape)  # type: ignore[no-untyped-call]
    return rows, columns


def _free(cover: npt.NDArray[np.uint8], px: npt.NDArray[np.float64]) -> bool:
    rows, columns = _pixels(cover, px)
    return len(rows) > 0 and not cover[rows, columns].any()


def _pushed(
    cover: npt.NDArray[np.uint8],
    shape: npt.NDArray[np.float64],
    partner: tuple[npt.NDArray[np.float64], float],
    to_px: npt.NDArray[np.float64],
    well: Rectangle,
    rng: np.random.Generator,
) -> npt.NDArray[np.float64] | None:
    """The nearest free place on a ray towards another ground (its place, the sum of both diameters in mm): a touch."""
    angle = rng.uniform(0, 2 * np.pi)
    ray = np.array([np.cos(angle), np.sin(angle)])
    last = None
    place, reach = partner
    for distance in np.linspace(0.85 * reach, 0.05 * reach, 40):
        at = place + ray * distance
        inside = well.x < at[0] < well.x + well.width and well.y < at[1] < well.y + well.height
        if not inside or not _free(cover, _project(to_px, shape + at)):
            break
        last = at
    return last


def _photograph(
    cover: npt.NDArray[np.uint8],
    card: Card,
    to_px: npt.NDArray[np.float64],
    scene: Scene,
    rng: np.random.Generator,
) -> bytes:
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
    y, x = np.mgrid[-1 : 1 : scene.height_px * 1j, -1 : 1 : scene.width_px * 1j].astype(np.float32)
    light = 1 - scene.falloff * (0.5 * (x - 0.3) ** 2 + 0.4 * (y + 0.2) ** 2 + 0.12 * x)
    light = light * (1 + 0.004 * cv2.GaussianBlur(rng.standard_normal(coffee.shape, np.float32), (0, 0), 1.5) * 5)
    white = PAPER_RGB * np.array([1 + scene.warm, 1, 1 - scene.warm])
    out = np.empty((scene.height_px, scene.width_px, 3), np.uint8)
    for channel in range(3):
        paper = sheet * white[channel] + (1 - sheet) * 0.025
        flake = paper * (1 - chaff) + CHAFF_RGB[channel] * chaff
        value = (flake * (1 - shade) * (1 - coffee) + COFFEE_RGB[channel] * faces * coffee) * light * scene.exposure
        if scene.blur_sigma_px > 0:
            value = cv2.GaussianBlur(value, (0, 0), scene.blur_sigma_px)
        noise = rng.standard_normal(value.shape, np.float32) * scene.noise
        value = value + noise * np.sqrt(np.maximum(value, 0.01))
        value = np.clip(value, 0, 1)
        srgb = np.where(value <= 0.0031308, 12.92 * value, 1.055 * value ** (1 / 2.4) - 0.055)
        out[:, :, channel] = np.rint(255 * srgb)
    if scene.radial:
        out = _bend(out, scene)
    file = io.BytesIO()
    Image.fromarray(out).save(file, "JPEG", quality=scene.quality)
    return file.getvalue()


def _sheet(card: Card, to_px: npt.NDArray[np.float64], scene: Scene) -> npt.NDArray[np.float32]:
    """The printed card as the camera sees it, 1 paper and 0 ink, on a sheet that goes on beyond it."""
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
        px = (_project(to_px, leaf @ turn.T + at) - (SUPERSAMPLE - 1) / 2) / SUPERSAMPLE
        cv2.fillPoly(layer, [np.round(px * 16).astype(np.int32)], int(rng.uniform(150, 230)), cv2.LINE_AA, 4)
    return np.asarray(layer.astype(np.float32) / 255, np.float32)


def _bend(rgb: npt.NDArray[np.uint8], scene: Scene) -> npt.NDArray[np.uint8]:
    """Apply lens distortion: undistorted radius = r (1 + k₁ r²), r in half diagonals."""
    y, x = np.mgrid[0 : scene.height_px, 0 : scene.width_px].astype(np.float32)
    cx, cy = (scene.width_px - 1) / 2, (scene.height_px - 1) / 2
    r2 = ((x - cx) ** 2 + (y - cy) ** 2) / np.float32((scene.width_px**2 + scene.height_px**2) / 4)
    factor = 1 + np.float32(scene.radial) * r2
    bent = cv2.remap(
        rgb, cx + (x - cx) * factor, cy + (y - cy) * factor, cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE
    )
    return np.asarray(bent, np.uint8)


def mass_of(made: Made) -> tuple[FloatArray, FloatArray]:
    """Diameters at or above the cut and their masses, for comparing curves."""
    d = made.diameter_um[made.diameter_um >= CUT_UM]
    return d, volumes(d, np.ones(len(d)))
