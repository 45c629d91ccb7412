"""A pinch, the card or a disc, light and camera, traced by Mitsuba 3 to linear light.

Mitsuba is a development requirement only. The variant ``llvm_ad_rgb`` needs LLVM 16 or newer as a shared library (Debian's
``libllvm19``); without it the scalar variant gives the same pictures slowly.
"""

from __future__ import annotations

import os
from functools import cache
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import numpy.typing as npt

from benchmarks.pictures3d.light import blockers, emitters
from benchmarks.pictures3d.meshes import Array, Kind, Shape
from benchmarks.pictures3d.pinch import Ground, placed_vertices
from benchmarks.pictures3d.scene import Scene3D
from hakari.core.photo.card import Card
from hakari.formats.card_drawing import raster

PAPER, INK = (0.84, 0.83, 0.80), 0.035
COFFEE: dict[str, tuple[tuple[float, float, float], float, float]] = {
    # Colour in linear light, roughness, specular share.
    "light": ((0.190, 0.112, 0.068), 0.75, 0.25), "medium": ((0.125, 0.073, 0.047), 0.7, 0.3),
    "dark": ((0.062, 0.037, 0.026), 0.65, 0.3), "glossy-dark": ((0.048, 0.030, 0.022), 0.35, 0.5),
}  # fmt: skip
CHAFF = (0.60, 0.47, 0.27)
# A grey metal: index of refraction and extinction for red, green and blue.
METAL = {
    "type": "roughconductor", "alpha": 0.18, "eta": {"type": "rgb", "value": [1.99, 1.80, 1.66]},
    "k": {"type": "rgb", "value": [3.8, 3.4, 2.9]},
}  # fmt: skip
PRINT_PX_PER_MM = 40.0
SPARKLE = 1.25
FOV_DEG = 50.0
DISC_MM, DISC_THICKNESS_MM = 24.0, 1.8


@cache
def mitsuba() -> Any:
    """Mitsuba with the fastest variant this machine has."""
    import mitsuba as mi

    libraries = sorted(Path("/usr/lib").glob("*/libLLVM.so.*"), reverse=True)
    if libraries and "DRJIT_LIBLLVM_PATH" not in os.environ:
        os.environ["DRJIT_LIBLLVM_PATH"] = str(libraries[0])
    mi.set_variant("llvm_ad_rgb" if libraries else "scalar_rgb")
    return mi


def world(points_mm: Array, card: Card) -> Array:
    """Card coordinates (x right, y down, z up; mm) to world coordinates centred on the card."""
    return np.asarray((points_mm - [card.width_mm / 2, card.height_mm / 2, 0.0]) * [1.0, -1.0, 1.0])


def camera_frame(scene: Scene3D) -> tuple[Array, Array]:
    """Where the camera is, (3,), and its axes right, down and ahead as rows, (3, 3), in the world."""
    tilt, way = np.radians(scene.tilt_deg), np.radians(scene.tilt_towards_deg)
    ahead = -np.array([np.sin(tilt) * np.cos(way), np.sin(tilt) * np.sin(way), np.cos(tilt)])
    turn = np.radians(scene.turn_deg)
    up = np.array([np.sin(turn), np.cos(turn), 0.0])
    right = np.cross(ahead, up)
    right /= np.linalg.norm(right)
    return -scene.distance_mm * ahead, np.stack([right, np.cross(ahead, right), ahead])


def focal_px(scene: Scene3D) -> float:
    """Focal length of the camera in pixels."""
    return float(0.5 * scene.width_px / np.tan(np.radians(FOV_DEG / 2)))


def project_px(points: Array, scene: Scene3D) -> Array:
    """Pixels (n, 2) of world points (n, 3), without lens distortion; (0, 0) is the middle of the first pixel."""
    at, axes = camera_frame(scene)
    seen = (points - at) @ axes.T
    middle = np.array([scene.width_px, scene.height_px]) / 2 - 0.5
    return np.asarray(seen[:, :2] / seen[:, 2:] * focal_px(scene) + middle)


def _mesh(mi: Any, name: str, vertices: Array, faces: npt.NDArray[np.int64], colours: Array, bsdf: Any) -> Any:
    props = mi.Properties()
    props["mesh_bsdf"] = bsdf
    props["face_normals"] = True
    mesh = mi.Mesh(name, len(vertices), len(faces), props=props, has_vertex_normals=False, has_vertex_texcoords=False)
    mesh.add_attribute("vertex_color", 3, colours.astype(np.float32).ravel())
    parameters = mi.traverse(mesh)
    parameters["vertex_positions"] = vertices.astype(np.float32).ravel()
    parameters["faces"] = faces.astype(np.uint32).ravel()
    parameters.update()
    return mesh


def _pieces(
    mi: Any, grounds: list[Ground], library: dict[Kind, list[Shape]], scene: Scene3D, card: Card, of_chaff: bool
) -> Any | None:
    """All grounds, or all chaff, as one mesh with a colour per vertex."""
    rng = np.random.default_rng([scene.seed, 17])
    base, roughness, specular = COFFEE[scene.roast]
    chosen = [g for g in grounds if (g.kind == "chaff") == of_chaff]
    if not chosen:
        return None
    vertices, faces, colours, count = [], [], [], 0
    for ground in chosen:
        shape = library[ground.kind][ground.shape]
        placed = world(placed_vertices(ground, shape), card)
        tone = np.exp(rng.normal(0, 0.12)) * shape.tone
        tint = np.exp(rng.normal(0, 0.03, 3))
        vertices.append(placed)
        # The card's y runs down: mirroring turns the triangles inside out.
        faces.append(shape.faces[:, ::-1] + count)
        colours.append(np.clip(tone[:, None] * np.array(CHAFF if of_chaff else base) * tint, 0.005, 0.9))
        count += len(placed)
    colour = {"type": "mesh_attribute", "name": "vertex_color"}
    bsdf = (
        {"type": "twosided", "bsdf": {"type": "diffuse", "reflectance": colour}} if of_chaff else
        {"type": "principled", "base_color": colour, "roughness": roughness, "specular": specular}
    )  # fmt: skip
    name = "chaff" if of_chaff else "coffee"
    return _mesh(mi, name, np.concatenate(vertices), np.concatenate(faces), np.concatenate(colours), mi.load_dict(bsdf))


def _sheet(mi: Any, scene: Scene3D, card: Card) -> dict[str, Any]:
    """Return the table's sheet of paper, and on it the printed card or a metal disc."""
    t = mi.ScalarTransform4f
    paper = {"type": "diffuse", "reflectance": {"type": "rgb", "value": list(PAPER)}}
    parts: dict[str, Any] = {
        "table": {
            "type": "rectangle",
            "bsdf": paper,
            "to_world": t().translate([0, 0, -0.3]) @ t().scale([400, 400, 1]),
        }
    }
    if scene.scale == "card":
        ink = raster(card, PRINT_PX_PER_MM).astype(np.float32)[:, :, None] / 255
        print_ = ink * np.array(PAPER, np.float32) + (1 - ink) * INK
        bitmap = mi.Bitmap(np.ascontiguousarray(print_, np.float32), mi.Bitmap.PixelFormat.RGB)
        texture = {"type": "bitmap", "bitmap": bitmap, "raw": True, "to_uv": t().scale([1, -1, 1])}
        parts["card"] = {
            "type": "rectangle", "to_world": t().scale([card.width_mm / 2, card.height_mm / 2, 1]),
            "bsdf": {"type": "diffuse", "reflectance": texture},
        }  # fmt: skip
        return parts
    parts["table"]["to_world"] = t().scale([400, 400, 1])
    x, y = disc_place(card)[:2]
    (x, y, _), metal = world(np.array([[x, y, 0.0]]), card)[0], dict(METAL)
    top = t().translate([x, y, DISC_THICKNESS_MM])
    radius = DISC_MM / 2
    parts["disc"] = {"type": "disk", "to_world": top @ t().scale([radius, radius, 1]), "bsdf": metal}
    parts["rim"] = {
        "type": "cylinder", "p0": [x, y, 0], "p1": [x, y, DISC_THICKNESS_MM], "radius": radius,
        "bsdf": {"type": "twosided", "bsdf": metal},
    }  # fmt: skip
    return parts


def disc_place(card: Card) -> Array:
    """Where the disc lies: x, y and the radius that is kept free round it, mm on the card."""
    well = card.well
    return np.array([well.x + 0.78 * well.width, well.y + 0.62 * well.height, DISC_MM / 2 + 0.4])


def trace(
    scene: Scene3D, grounds: list[Ground], library: dict[Kind, list[Shape]], card: Card
) -> tuple[npt.NDArray[np.float32], Array]:
    """Radiance (height, width, 3) in linear sRGB, in which lit paper has about its own colour; and the light's colour."""
    mi = mitsuba()
    at, axes = camera_frame(scene)
    lights, colour = emitters(mi, scene)
    camera: dict[str, Any] = {
        "type": "thinlens", "aperture_radius": scene.aperture_mm, "focus_distance": scene.distance_mm - 0.3,
        "fov": FOV_DEG, "fov_axis": "x", "near_clip": 1.0, "far_clip": 5000.0,
        "to_world": mi.ScalarTransform4f().look_at(origin=at.tolist(), target=[0, 0, 0], up=(-axes[1]).tolist()),
        "sampler": {"type": "multijitter", "sample_count": scene.samples, "seed": scene.seed % 2**31},
        "film": {
            "type": "hdrfilm", "width": scene.width_px, "height": scene.height_px, "pixel_format": "rgb",
            "component_format": "float32", "rfilter": {"type": "box"}, "banner": False,
        },
    }  # fmt: skip
    parts: dict[str, Any] = {
        "type": "scene", "integrator": {"type": "path", "max_depth": 4, "hide_emitters": True}, "sensor": camera,
        **lights, **blockers(mi, scene), **_sheet(mi, scene, card),
    }  # fmt: skip
    for of_chaff in (False, True):
        piece = _pieces(mi, grounds, library, scene, card, of_chaff)
        if piece is not None:
            parts["chaff" if of_chaff else "coffee"] = piece
    image = np.array(mi.render(mi.load_dict(parts), seed=scene.seed % 2**31))
    return np.asarray(image[:, :, :3], np.float32), colour


def smoothed_paper(image: npt.NDArray[np.float32], ground: npt.NDArray[np.uint8]) -> npt.NDArray[np.float32]:
    """Take the tracing noise off the bare paper; pixels of grounds (1) and their rims stay as they are."""
    # Light that glossy faces focus on the paper comes out as single white pixels at this number of samples.
    middle = cv2.medianBlur(np.ascontiguousarray(image, np.float32), 3)
    image = np.where((image > SPARKLE * middle) & (ground == 0)[:, :, None], middle, image)
    rim = cv2.dilate(ground, np.ones((3, 3), np.uint8))
    result = image
    for mask, sigma in ((rim, 0.9), (cv2.dilate(ground, np.ones((13, 13), np.uint8)), 1.6)):
        free = (mask == 0).astype(np.float32)
        weight = cv2.GaussianBlur(free, (0, 0), sigma)[:, :, None]
        mean = cv2.GaussianBlur(result * free[:, :, None], (0, 0), sigma) / np.maximum(weight, 1e-3)
        result = np.where(free[:, :, None] > 0, mean, result)
    return np.asarray(result, np.float32)
