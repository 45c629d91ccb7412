"""Which pictures measuring was tuned on, which it is judged on, and which check its intervals.

The tuned-on pictures use meshes of the family ``cut``, the others ``crumbled``; no seed is in two sets. Running this module
makes all pictures of the named sets: ``python -m benchmarks.pictures3d.sets tuning judged``.
"""

from __future__ import annotations

import sys
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace
from multiprocessing import get_context

from benchmarks.pictures3d.make import cached
from benchmarks.pictures3d.scene import LIGHTS, ROASTS, Scene3D, random_scene

CROWDED = {"coverage": 0.18, "touching_share": 0.4}


def tuning_scenes() -> list[Scene3D]:
    """One picture of each light, and the hard ones: crowded, half chaff, tilted, a disc."""
    scenes = [random_scene(100 + k, "cut", light, roast=ROASTS[k % 4]) for k, light in enumerate(LIGHTS)]
    scenes += [
        random_scene(110, "cut", "window", roast="medium", tilt_deg=4.0, **CROWDED),
        random_scene(111, "cut", "lamp", roast="dark", tilt_deg=3.0, **CROWDED),
        random_scene(112, "cut", "window", roast="light", chaff_share=0.5),
        random_scene(113, "cut", "lamp", roast="medium", tilt_deg=22.0, aperture_mm=0.06),
        random_scene(114, "cut", "lamp", roast="medium", scale="disc", tilt_deg=1.0),
        random_scene(115, "cut", "window", roast="dark", scale="disc", tilt_deg=1.0),
        random_scene(116, "cut", "two-lamps", roast="light", chaff_share=0.4),
        random_scene(117, "cut", "sky", roast="medium", median_um=950.0),
    ]
    return scenes


def _sixteen_scenes(first_seed: int) -> list[Scene3D]:
    """Every light twice, every roast four times, fine to coarse, two of them crowded, one half chaff."""
    scenes = []
    for k in range(16):
        changes: dict[str, object] = {"roast": ROASTS[(k + k // 4) % 4]}
        if k in (4, 11):
            changes |= CROWDED
        if k == 8:
            changes |= {"chaff_share": 0.5}
        scenes.append(random_scene(first_seed + k, "crumbled", LIGHTS[k % 8], **changes))
    return scenes


def judged_scenes() -> list[Scene3D]:
    """Sixteen pictures that measuring is compared on from change to change."""
    return _sixteen_scenes(7000)


def fresh_scenes() -> list[Scene3D]:
    """Sixteen pictures that no choice was made by: what a user's photo may expect."""
    return _sixteen_scenes(7300)


def disc_scenes() -> list[Scene3D]:
    """Two pictures that are scaled by a metal disc."""
    return [
        random_scene(7100, "crumbled", "window", scale="disc", tilt_deg=1.0, radial=0.0),
        random_scene(7101, "crumbled", "lamp", scale="disc", tilt_deg=1.0, radial=0.0),
    ]


def interval_scenes() -> list[Scene3D]:
    """Further pictures, smaller ones, on which intervals are checked together with the judged ones."""
    return [
        random_scene(7200 + k, "crumbled", LIGHTS[k % 8], width_px=3200, height_px=2400, distance_mm=104.0)
        for k in range(28)
    ]


def same_light_scenes() -> list[Scene3D]:
    """Four grinds in each of four lights, by one phone held nearly alike."""
    scenes = []
    for i, light in enumerate(("window", "lamp", "sky", "two-lamps")):
        alike = random_scene(
            9700 + i, "crumbled", light, roast=("light", "medium", "dark", "medium")[i], tilt_deg=3.0, width_px=2400,
            height_px=1800, coverage=0.07, touching_share=0.06, chaff_share=0.02,
        )  # fmt: skip
        for k, median_um in enumerate((500.0, 650.0, 800.0, 1000.0)):
            changes = {"median_um": median_um, "sigma_ln": 0.3, "fines_share": 0.05, "tilt_deg": 2.0 + k}
            scenes.append(replace(alike, seed=9710 + 10 * i + k, **changes))  # type: ignore[arg-type]
    return scenes


SETS = {
    "tuning": tuning_scenes,
    "judged": judged_scenes,
    "fresh": fresh_scenes,
    "disc": disc_scenes,
    "intervals": interval_scenes,
    "same-light": same_light_scenes,
}


def main() -> None:
    """Make all pictures of the named sets."""
    scenes = [scene for name in sys.argv[1:] or SETS for scene in SETS[name]()]
    with ProcessPoolExecutor(2, mp_context=get_context("spawn")) as pool:
        for scene, picture in zip(scenes, pool.map(cached, scenes), strict=True):
            print(scene.seed, scene.light, scene.roast, f"{len(picture.jpeg) / 2**20:.1f} MB", flush=True)


if __name__ == "__main__":
    main()
