"""Lamps, windows, rooms and the hand that blocks them, as Mitsuba emitters; mm, origin at the card's middle."""

from __future__ import annotations

from typing import Any

import numpy as np

from benchmarks.pictures3d.scene import Scene3D

# Colours in linear sRGB, of equal luminance.
DAYLIGHT, TUNGSTEN, LED, SKY = (0.93, 1.0, 1.12), (1.42, 0.96, 0.48), (1.10, 0.99, 0.86), (0.85, 1.0, 1.25)


def _towards(azimuth_deg: float, elevation_deg: float) -> np.ndarray:
    a, e = np.radians(azimuth_deg), np.radians(elevation_deg)
    return np.array([np.cos(a) * np.cos(e), np.sin(a) * np.cos(e), np.sin(e)])


def _panel(
    mi: Any, at: np.ndarray, width: float, height: float, colour: tuple[float, float, float], irradiance: float
) -> Any:
    """Return a rectangle facing the card that lights it with about this irradiance."""
    distance = float(np.linalg.norm(at))
    solid = width * height / distance**2
    radiance = irradiance / (solid * at[2] / distance)
    frame = mi.ScalarTransform4f().look_at(origin=at.tolist(), target=[0, 0, 0], up=[0.1, 0.2, 1.0])
    return {
        "type": "rectangle",
        "to_world": frame @ mi.ScalarTransform4f().scale([width / 2, height / 2, 1]),
        "emitter": {"type": "area", "radiance": {"type": "rgb", "value": [radiance * c for c in colour]}},
    }


def _room(colour: tuple[float, float, float], irradiance: float) -> Any:
    return {"type": "constant", "radiance": {"type": "rgb", "value": [irradiance / np.pi * c for c in colour]}}


def emitters(mi: Any, scene: Scene3D) -> tuple[dict[str, Any], np.ndarray]:
    """Emitters of a scene that light the paper with an irradiance of π, and the colour of that light, (3,)."""
    side, room = np.pi * (1 - scene.room), np.pi * scene.room
    main = _towards(scene.azimuth_deg, scene.elevation_deg)
    other = _towards(scene.azimuth_deg + 115, 50)
    window = (900.0, 1300.0)
    parts: dict[str, Any]
    mixed: list[tuple[float, tuple[float, float, float]]]
    if scene.light in ("window", "window-dark-room"):
        parts = {"window": _panel(mi, 1300 * main, *window, DAYLIGHT, side), "room": _room(DAYLIGHT, room)}
        mixed = [(1.0, DAYLIGHT)]
    elif scene.light in ("lamp", "lamp-dark-room", "hand"):
        parts = {"lamp": _panel(mi, 600 * main, 90, 90, LED, side), "room": _room(SKY, room)}
        mixed = [(side, LED), (room, SKY)]
    elif scene.light == "two-lamps":
        parts = {
            "lamp": _panel(mi, 600 * main, 80, 80, TUNGSTEN, 0.6 * side),
            "other": _panel(mi, 700 * other, 120, 120, LED, 0.4 * side), "room": _room(LED, room),
        }  # fmt: skip
        mixed = [(0.6 * side, TUNGSTEN), (0.4 * side + room, LED)]
    elif scene.light == "ceiling-and-window":
        parts = {
            "ceiling": _panel(mi, np.array([250.0, -150.0, 1700.0]), 300, 300, TUNGSTEN, 0.5 * side),
            "window": _panel(mi, 1300 * main, *window, SKY, 0.5 * side), "room": _room(DAYLIGHT, room),
        }  # fmt: skip
        mixed = [(0.5 * side, TUNGSTEN), (0.5 * side, SKY), (room, DAYLIGHT)]
    else:
        parts = {"room": _room(DAYLIGHT, np.pi)}
        mixed = [(1.0, DAYLIGHT)]
    weights = np.array([w for w, _ in mixed])
    colour = (weights[:, None] * np.array([c for _, c in mixed])).sum(axis=0) / weights.sum()
    return parts, np.asarray(colour)


def blockers(mi: Any, scene: Scene3D) -> dict[str, Any]:
    """Return the hand whose shadow falls across the well, where the scene has one."""
    if scene.light != "hand":
        return {}
    main = _towards(scene.azimuth_deg, scene.elevation_deg)
    # Its edge crosses the well: the middle of the hand stands off to one side of the line to the lamp.
    across = np.array([-main[1], main[0], 0]) / np.hypot(main[0], main[1])
    at = 190 * main + 48 * across
    frame = mi.ScalarTransform4f().look_at(origin=at.tolist(), target=[0, 0, 0], up=across.tolist())
    skin = {"type": "diffuse", "reflectance": {"type": "rgb", "value": [0.45, 0.28, 0.2]}}
    size = mi.ScalarTransform4f().scale([45, 42, 12])
    return {"hand": {"type": "cube", "to_world": frame @ size, "bsdf": skin}}
