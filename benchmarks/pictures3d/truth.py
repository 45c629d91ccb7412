"""What a made picture truly holds: outlines from straight above, as the camera sees them, and volumes."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
import numpy.typing as npt

from benchmarks.pictures3d.meshes import Array, Kind, Shape
from benchmarks.pictures3d.pinch import Ground, draw_modes, placed_vertices
from benchmarks.pictures3d.render import camera_frame, focal_px, project_px, world
from benchmarks.pictures3d.scene import Scene3D
from benchmarks.pictures3d.silhouettes import silhouette
from hakari.core.photo.card import Card
from hakari.core.psd.distribution import CUT_UM

HIDDEN_BELOW = 0.5
FULL_GRIND_DRAWS = 400_000


@dataclass(frozen=True)
class Truth:
    """Every piece of a picture, one row each; ``visible`` is the share of its outline that nothing hides."""

    kind: list[Kind]
    x_mm: Array
    y_mm: Array
    diameter_um: Array
    seen_um: Array
    volume_mm3: Array
    visible: Array
    on_top: npt.NDArray[np.bool_]
    touches: npt.NDArray[np.bool_]
    owner: npt.NDArray[np.int32]

    @property
    def is_coffee(self) -> npt.NDArray[np.bool_]:
        """Which pieces are grounds."""
        return np.array([k != "chaff" for k in self.kind])

    def seen(self) -> Array:
        """Diameters of the grounds that a camera can see, by the outline it sees, µm."""
        return seen_diameters(self.seen_um, self.visible, self.is_coffee)


def seen_diameters(seen_um: Array, visible: Array, is_coffee: npt.NDArray[np.bool_]) -> Array:
    """Diameters of the grounds of which enough is visible, by the part that is, µm."""
    shown = is_coffee & (visible >= HIDDEN_BELOW)
    return np.asarray(seen_um[shown] * np.sqrt(visible[shown]))


def d3_quantiles(d: Array, mass: Array, shares: tuple[float, ...] = (0.1, 0.5, 0.9)) -> list[float]:
    """Sizes below which these shares of the mass lie, by mid-point sums."""
    order = np.argsort(d)
    share = (np.cumsum(mass[order]) - 0.5 * mass[order]) / mass.sum()
    return [float(np.exp(np.interp(s, share, np.log(d[order])))) for s in shares]


def grind_d50_um(scene: Scene3D) -> float:
    """D50 from 100 µm up of the grind that a scene's pinch was drawn from, by d³, µm.

    The two modes with their shares of the mass, drawn in large numbers.
    """
    rng = np.random.default_rng(1)
    coarse, fine = draw_modes(scene, FULL_GRIND_DRAWS, FULL_GRIND_DRAWS, rng)
    fine_share = scene.fines_share / (1 - scene.fines_share) * (coarse**3).sum() / (fine**3).sum()
    d = np.concatenate([coarse, fine])
    mass = d**3 * np.concatenate([np.ones(FULL_GRIND_DRAWS), np.full(FULL_GRIND_DRAWS, fine_share)])
    big = d >= CUT_UM
    return d3_quantiles(d[big], mass[big])[1]


def per_px_mm2(at_px: Array, scene: Scene3D) -> float:
    """mm² of paper in one pixel at a place, from the camera's geometry."""
    origin, axes = camera_frame(scene)
    middle = np.array([scene.width_px, scene.height_px]) / 2 - 0.5

    def on_paper(px: Array) -> Array:
        ray = np.array([(px[0] - middle[0]) / focal_px(scene), (px[1] - middle[1]) / focal_px(scene), 1.0]) @ axes
        return np.asarray((origin - ray * (origin[2] / ray[2]))[:2])

    p, a, b = on_paper(at_px), on_paper(at_px + [1, 0]), on_paper(at_px + [0, 1])
    u, v = a - p, b - p
    return float(abs(u[0] * v[1] - u[1] * v[0]))


def find_truth(scene: Scene3D, grounds: list[Ground], library: dict[Kind, list[Shape]], card: Card) -> Truth:
    """Project every piece and paint the outlines over each other from below to find what is hidden."""
    n = len(grounds)
    owner = np.zeros((scene.height_px, scene.width_px), np.int32)
    seen, volume, area_px, top = np.zeros(n), np.zeros(n), np.zeros(n), np.zeros(n)
    outlines: list[Array] = []
    places = world(np.array([[g.x_mm, g.y_mm, g.z_mm] for g in grounds]), card)
    px = project_px(places, scene)
    for k, ground in enumerate(grounds):
        shape = library[ground.kind][ground.shape]
        placed = placed_vertices(ground, shape)
        # The picture's y runs down as the card's does, so triangles keep their winding.
        area_px[k], outline = silhouette(
            project_px(world(placed, card), scene), shape.faces, 140 if ground.diameter_um > 90 else 48
        )
        seen[k] = 1000 * np.sqrt(4 * area_px[k] * per_px_mm2(px[k], scene) / np.pi)
        volume[k] = shape.poses[ground.pose].volume * (ground.diameter_um / 1000) ** 3
        top[k] = placed[:, 2].max()
        outlines.append(outline)
    for k in np.argsort(top, kind="stable"):
        cv2.fillPoly(owner, [np.round(outlines[k] * 16).astype(np.int32)], int(k) + 1, shift=4)
    alone = np.zeros(n)
    painted = np.bincount(owner.ravel(), minlength=n + 1)[1:]
    single = np.zeros((160, 160), np.uint8)
    for k, outline in enumerate(outlines):
        # The same drawing alone, so that drawn pixels are compared with drawn pixels.
        low = np.floor(outline.min(axis=0)) - 1
        size = np.ceil(np.ptp(outline, axis=0)).astype(int) + 4
        if max(size) > len(single):
            single = np.zeros((max(size), max(size)), np.uint8)
        part = single[: size[1], : size[0]]
        part[:] = 0
        cv2.fillPoly(part, [np.round((outline - low) * 16).astype(np.int32)], 1, shift=4)
        alone[k] = np.count_nonzero(part)
    visible = np.clip(painted / np.maximum(alone, 1), 0, 1)
    visible[alone < 25] = np.where(visible[alone < 25] >= HIDDEN_BELOW, 1.0, 0.0)
    return Truth(
        [g.kind for g in grounds], *(np.array([getattr(g, name) for g in grounds]) for name in ("x_mm", "y_mm")),
        np.array([g.diameter_um for g in grounds]), seen, volume, visible,
        np.array([g.on_top for g in grounds]), np.array([g.touches for g in grounds]), owner,
    )  # fmt: skip
