"""A pinch of grounds spread on the card: sizes, places, contacts and heights."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
import numpy.typing as npt

from benchmarks.pictures.grind import FINE_MEDIAN_UM, FINE_SIGMA, filled, number_median_um
from benchmarks.pictures3d.meshes import Array, Kind, Shape
from benchmarks.pictures3d.scene import Scene3D
from benchmarks.pictures3d.silhouettes import silhouette
from hakari.core.photo.card import Rectangle

PX_PER_MM = 50.0
COARSE_UM, FINE_UM = (90, 2800), (25, 400)  # least and greatest diameter of either mode
TRIES = 10


@dataclass
class Ground:
    """One piece on the paper: its shape, its rest, its place (mm on the card), its turn, and what it lies on or touches."""

    kind: Kind
    shape: int
    pose: int
    diameter_um: float
    turn: float
    x_mm: float = 0.0
    y_mm: float = 0.0
    z_mm: float = 0.0
    on_top: bool = False
    touches: bool = False


def draw_modes(scene: Scene3D, coarse: int, fine: int, rng: np.random.Generator) -> tuple[Array, Array]:
    """Draw diameters of the coarse and the fine mode of a scene's grind, µm."""
    median = number_median_um(scene.median_um, scene.sigma_ln)
    return (
        np.clip(rng.lognormal(np.log(median), scene.sigma_ln, coarse), *COARSE_UM),
        np.clip(rng.lognormal(np.log(FINE_MEDIAN_UM), FINE_SIGMA, fine), *FINE_UM),
    )


def draw_diameters(scene: Scene3D, area_mm2: float, rng: np.random.Generator) -> Array:
    """Diameters in µm, large first, that cover an area."""
    return filled(*draw_modes(scene, 40_000, 200_000, rng), scene.fines_share, area_mm2, scene.grounds_limit)


def kind_of(diameter_um: float, rng: np.random.Generator) -> Kind:
    """Small pieces are fines; the larger a piece, the likelier a boulder."""
    if diameter_um < 170:
        return "fine"
    boulder = float(np.clip((diameter_um - 300) / 1500, 0.05, 0.5))
    return "boulder" if rng.random() < boulder else ("flake" if rng.random() < 0.2 else "shard")


def placed_vertices(ground: Ground, shape: Shape) -> Array:
    """Vertices in mm: x and y on the card, z above the paper, (n, 3)."""
    pose = shape.poses[ground.pose]
    turned = shape.vertices @ pose.rotation.T * (pose.scale * ground.diameter_um / 1000)
    c, s = np.cos(ground.turn), np.sin(ground.turn)
    spun = turned @ np.array([[c, s, 0], [-s, c, 0], [0, 0, 1.0]])
    spun[:, 2] -= spun[:, 2].min()
    return spun + [ground.x_mm, ground.y_mm, ground.z_mm]


class Tray:
    """Heights of what already lies in the well, on a raster of ``PX_PER_MM``."""

    def __init__(self, well: Rectangle) -> None:
        self.well = well
        self.top = np.zeros((int(well.height * PX_PER_MM), int(well.width * PX_PER_MM)), np.float32)

    def window(self, mask: npt.NDArray[np.uint8], x_mm: float, y_mm: float) -> npt.NDArray[np.float32] | None:
        """Heights under a mask whose middle is put at a place; ``None`` where it would leave the well."""
        h, w = mask.shape
        x = round((x_mm - self.well.x) * PX_PER_MM - w / 2)
        y = round((y_mm - self.well.y) * PX_PER_MM - h / 2)
        if x < 0 or y < 0 or x + w > self.top.shape[1] or y + h > self.top.shape[0]:
            return None
        return self.top[y : y + h, x : x + w]


def _mask(ground: Ground, shape: Shape) -> npt.NDArray[np.uint8]:
    vertices = placed_vertices(ground, shape)[:, :2] - [ground.x_mm, ground.y_mm]
    reach = float(np.abs(vertices).max()) + 1.5 / PX_PER_MM
    side = 2 * int(np.ceil(reach * PX_PER_MM)) + 1
    _, outline = silhouette(vertices, shape.faces, 64)
    image = np.zeros((side, side), np.uint8)
    cv2.fillPoly(image, [np.round((outline * PX_PER_MM + side / 2) * 16).astype(np.int32)], 1, shift=4)
    return image


def spread(
    scene: Scene3D, library: dict[Kind, list[Shape]], well: Rectangle, rng: np.random.Generator, keep_free: Array | None
) -> list[Ground]:
    """Lay a pinch into the well: some pieces pushed against others, some on top of them.

    ``keep_free`` is a circle (x, y, radius) in mm that stays empty, for a disc.
    """
    tray = Tray(well)
    if keep_free is not None:
        at = (int((keep_free[0] - well.x) * PX_PER_MM), int((keep_free[1] - well.y) * PX_PER_MM))
        cv2.circle(tray.top, at, int(keep_free[2] * PX_PER_MM), 9.0, cv2.FILLED)
    area = scene.coverage * well.width * well.height
    diameters = draw_diameters(scene, area, rng)
    large = int((diameters >= 150).sum())
    flakes = int(scene.chaff_share / (1 - scene.chaff_share) * large)
    pieces = [(kind_of(d, rng), float(d)) for d in diameters]
    pieces += [("chaff", float(d)) for d in np.clip(rng.lognormal(np.log(750), 0.45, flakes), 250, 2300)]
    pieces.sort(key=lambda piece: -piece[1])
    laid: list[Ground] = []
    for kind, d in pieces:
        which = int(rng.integers(len(library[kind])))
        shape = library[kind][which]
        ground = Ground(kind, which, int(rng.integers(len(shape.poses))), d, float(rng.uniform(0, 2 * np.pi)))
        if _lay(ground, shape, tray, laid, scene, rng):
            laid.append(ground)
    return laid


def _lay(
    ground: Ground, shape: Shape, tray: Tray, laid: list[Ground], scene: Scene3D, rng: np.random.Generator
) -> bool:
    mask = _mask(ground, shape)
    height = shape.poses[ground.pose].height * ground.diameter_um / 1000
    on_top = rng.random() < scene.on_top_share
    push = bool(laid) and not on_top and rng.random() < scene.touching_share
    r = ground.diameter_um / 1000
    well = tray.well
    for _ in range(TRIES):
        x, y = rng.uniform(well.x, well.x + well.width), rng.uniform(well.y, well.y + well.height)
        if push:
            partner = laid[int(rng.integers(len(laid)))]
            found = _pushed(partner, r, mask, tray, rng)
            if found is None:
                continue
            x, y = found
        under = tray.window(mask, x, y)
        if under is None:
            continue
        highest = float((under * mask).max())
        if highest > 5 or (highest > 0 and not on_top):
            continue
        ground.x_mm, ground.y_mm, ground.z_mm = float(x), float(y), highest
        ground.on_top, ground.touches = highest > 0, push
        under[mask > 0] = highest + height
        return True
    return False


def _pushed(
    partner: Ground, diameter_mm: float, mask: npt.NDArray[np.uint8], tray: Tray, rng: np.random.Generator
) -> tuple[float, float] | None:
    """Return the last free place on a ray towards another piece."""
    angle = rng.uniform(0, 2 * np.pi)
    reach = 0.5 * (partner.diameter_um / 1000 + diameter_mm) * 1.5
    last = None
    for distance in np.arange(reach, 0.05 * reach, -0.75 / PX_PER_MM):
        x, y = partner.x_mm + distance * np.cos(angle), partner.y_mm + distance * np.sin(angle)
        under = tray.window(mask, x, y)
        if under is None or (under * mask).any():
            break
        last = (float(x), float(y))
    return last
