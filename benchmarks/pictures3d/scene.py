"""What a path-traced picture shows: the grind, the light, the camera and the phone; and scenes drawn at random by seed."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from benchmarks.pictures3d.meshes import Family

LIGHTS = ("window", "window-dark-room", "lamp", "lamp-dark-room", "two-lamps", "ceiling-and-window", "sky", "hand")
# Least and greatest share of the light that comes from all round.
ROOM = {
    "window": (0.35, 0.65), "window-dark-room": (0.12, 0.3), "lamp": (0.3, 0.5), "lamp-dark-room": (0.1, 0.22),
    "two-lamps": (0.2, 0.45), "ceiling-and-window": (0.2, 0.5), "sky": (1.0, 1.0), "hand": (0.25, 0.45),
}  # fmt: skip
ROASTS = ("light", "medium", "dark", "glossy-dark")


@dataclass(frozen=True)
class Scene3D:
    """A pinch of three-dimensional grounds on the pocket card, or on paper beside a metal disc.

    ``room`` is the share of the light on the paper that comes from all round: the depth of shadows is one less it.
    ``cast`` is how much of the light's colour the phone's white balance leaves. ``seed`` fixes everything.
    """

    seed: int
    family: Family = "cut"
    median_um: float = 700.0
    sigma_ln: float = 0.34
    fines_share: float = 0.06
    coverage: float = 0.09
    touching_share: float = 0.12
    on_top_share: float = 0.01
    chaff_share: float = 0.02
    grounds_limit: int = 16_000
    light: str = "window"
    room: float = 0.5
    azimuth_deg: float = 200.0
    elevation_deg: float = 40.0
    roast: str = "medium"
    scale: str = "card"
    tilt_deg: float = 3.0
    tilt_towards_deg: float = 30.0
    turn_deg: float = 1.0
    distance_mm: float = 101.3
    aperture_mm: float = 0.15
    radial: float = 0.0
    width_px: int = 4000
    height_px: int = 3000
    samples: int = 6
    exposure: float = 0.82
    noise: float = 0.010
    cast: float = 0.15
    blur_px: float = 0.75
    sharpening: float = 0.4
    contrast: float = 0.15
    saturation: float = 1.0
    quality: int = 90


def random_scene(seed: int, family: Family, light: str | None = None, **changes: object) -> Scene3D:
    """Draw a photo as people take them; ``light`` and other fields can be set."""
    rng = np.random.default_rng(seed)
    light = light or str(rng.choice(LIGHTS))
    room = ROOM[light]
    tilt = float(rng.uniform(0, 8)) if rng.random() < 0.75 else float(rng.uniform(8, 25))
    values: dict[str, object] = {
        "median_um": float(np.exp(rng.uniform(np.log(420), np.log(1050)))), "sigma_ln": float(rng.uniform(0.27, 0.42)),
        "fines_share": float(rng.uniform(0.02, 0.09)), "coverage": float(rng.uniform(0.05, 0.12)),
        "touching_share": float(rng.uniform(0.03, 0.2)), "on_top_share": float(rng.uniform(0, 0.02)),
        "chaff_share": float(rng.choice([0.0, 0.02, 0.06, 0.2])),
        "room": float(rng.uniform(*room)), "azimuth_deg": float(rng.uniform(0, 360)),
        "elevation_deg": float(rng.uniform(28, 60)), "roast": str(rng.choice(ROASTS)),
        "tilt_deg": tilt, "tilt_towards_deg": float(rng.uniform(0, 360)), "turn_deg": float(rng.uniform(-5, 5)),
        "aperture_mm": float(rng.uniform(0.05, 0.3)) * min(1.0, 6 / max(tilt, 1)), "radial": float(rng.uniform(-0.02, 0.02)),
        "exposure": float(rng.uniform(0.55, 0.88)), "noise": float(rng.uniform(0.006, 0.02)),
        "cast": float(rng.uniform(0, 0.35)), "blur_px": float(rng.uniform(0.6, 1.1)),
        "sharpening": float(rng.uniform(0.0, 0.6)), "contrast": float(rng.uniform(0, 0.3)),
        "saturation": float(rng.uniform(0.8, 1.2)), "quality": int(rng.integers(82, 95)),
    }  # fmt: skip
    return Scene3D(seed=seed, family=family, light=light, **{**values, **changes})  # type: ignore[arg-type]
