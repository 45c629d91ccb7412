"""Make the shipped photos again: ``python -m hakari.demo.make_photos``. Takes some minutes; same seeds, same grounds."""

from __future__ import annotations

import gzip
import json
from pathlib import Path

from hakari.demo.camera import Scene
from hakari.demo.grinders import ARLSMOOR, BRACKWELL, TrueGrinder
from hakari.demo.picture_maker import Made, make_picture

FOLDER = Path(__file__).parent / "photos"


def scene_of(grinder: TrueGrinder, position: float, **changes: float) -> Scene:
    """What a demo grinder throws at a setting, photographed."""
    settings = {
        "median_um": grinder.median_um(position), "sigma_ln": grinder.sigma_ln,
        "fines_share": grinder.fines_share(position), **changes,
    }  # fmt: skip
    return Scene(**settings)  # type: ignore[arg-type]


SHIPPED: dict[str, tuple[str, str, Scene]] = {
    "arlsmoor-18": ("Arlsmoor at 18 clicks", "18", scene_of(ARLSMOOR, 18, seed=118, tilt_deg=3, turn_deg=-1.5)),
    "arlsmoor-22": ("Arlsmoor at 22 clicks", "22", scene_of(ARLSMOOR, 22, seed=122, coverage=0.062)),
    "arlsmoor-30": ("Arlsmoor at 30 clicks", "30", scene_of(ARLSMOOR, 30, seed=130, tilt_deg=12, falloff=0.4)),
    "brackwell-3": ("Brackwell at 3", "3", scene_of(BRACKWELL, 3, seed=203, um_per_px=20.2, tilt_deg=2)),
    "brackwell-5": ("Brackwell at 5, window light", "5",
                    scene_of(BRACKWELL, 5, seed=205, warm=0.06, falloff=0.5, turn_deg=4, chaff=14)),
    "brackwell-8": ("Brackwell at 8, a little soft", "8",
                    scene_of(BRACKWELL, 8, seed=208, blur_sigma_px=1.35, noise=0.018, exposure=0.75)),
}  # fmt: skip


def write(name: str, title: str, setting: str, made: Made) -> None:
    """Write a photo with its truth and its grounds."""
    FOLDER.mkdir(exist_ok=True)
    (FOLDER / f"{name}.jpg").write_bytes(made.jpeg)
    truth = {"title": title, "grinder": name.split("-")[0], "setting": setting, **made.truth()}
    (FOLDER / f"{name}.json").write_text(json.dumps(truth, indent=1) + "\n")
    rows = ["x_mm,y_mm,diameter_um"]
    rows += [f"{x:.3f},{y:.3f},{d:.2f}" for x, y, d in zip(made.x_mm, made.y_mm, made.diameter_um, strict=True)]
    packed = gzip.compress(("\n".join(rows) + "\n").encode(), mtime=0)
    (FOLDER / f"{name}.csv.gz").write_bytes(packed)


def main() -> None:
    """Make all shipped photos."""
    for name, (title, setting, scene) in SHIPPED.items():
        made = make_picture(scene)
        write(name, title, setting, made)
        print(f"{name}: {len(made.diameter_um)} grounds, {len(made.jpeg) / 2**20:.1f} MB", flush=True)


if __name__ == "__main__":
    main()
