"""Make the photos that ship with the demo again: ``python -m benchmarks.pictures3d.demo_photos``. Same seeds, same pictures.

Each comes with its truth: the figures in a JSON file, and every ground in a compressed CSV file.
"""

from __future__ import annotations

import gzip
import json
import sys
from pathlib import Path

import numpy as np

from benchmarks.pictures3d.make import MadePicture, cached
from benchmarks.pictures3d.scene import Scene3D
from benchmarks.pictures3d.truth import d3_quantiles
from hakari.core.psd.distribution import CUT_UM
from hakari.demo.grinders import ARLSMOOR, BRACKWELL, TrueGrinder

FOLDER = Path(__file__).parents[2] / "src" / "hakari" / "demo" / "photos"
LARGEST_BYTES = 3 * 2**20


def _scene(grinder: TrueGrinder, position: float, seed: int, **changes: object) -> Scene3D:
    """Return what a demo grinder grinds at a setting, photographed."""
    values: dict[str, object] = {
        "median_um": grinder.median_um(position), "sigma_ln": grinder.sigma_ln,
        "fines_share": grinder.fines_share(position), "coverage": 0.065, "touching_share": 0.05, "chaff_share": 0.01,
        "grounds_limit": 26_000, "roast": "light", "samples": 10, "noise": 0.008,
    }  # fmt: skip
    return Scene3D(seed=seed, **{**values, **changes})  # type: ignore[arg-type]


SHIPPED: dict[str, tuple[str, str, Scene3D]] = {
    "arlsmoor-18": ("Arlsmoor at 18 clicks, by a window", "18",
                    _scene(ARLSMOOR, 18, 9018, light="window", room=0.55, azimuth_deg=150, turn_deg=-1.5)),
    "arlsmoor-22": ("Arlsmoor at 22 clicks, by a window", "22",
                    _scene(ARLSMOOR, 22, 9022, light="window", room=0.5, azimuth_deg=215, elevation_deg=45)),
    "arlsmoor-30": ("Arlsmoor at 30 clicks, under a lamp", "30",
                    _scene(ARLSMOOR, 30, 9030, light="lamp", room=0.5, azimuth_deg=120, tilt_deg=9, aperture_mm=0.08)),
    "brackwell-3": ("Brackwell at 3, under an open sky", "3", _scene(BRACKWELL, 3, 9103, light="sky", room=1.0, tilt_deg=2)),
    "brackwell-5": ("Brackwell at 5, ceiling light and window", "5",
                    _scene(BRACKWELL, 5, 9105, light="ceiling-and-window", room=0.4, turn_deg=3, chaff_share=0.03)),
    "brackwell-8": ("Brackwell at 8, a hard lamp in a dim room", "8",
                    _scene(BRACKWELL, 8, 9108, light="lamp", room=0.25, azimuth_deg=40, elevation_deg=38, blur_px=1.0)),
}  # fmt: skip


def _truth(made: MadePicture, title: str, name: str, setting: str) -> dict[str, object]:
    """Return the truth file: what the camera sees from 100 µm up, the same from above and by volume, and the whole."""
    coffee = made.rows["is_coffee"] > 0
    every, seen = made.rows["diameter_um"][coffee], made.seen_um
    big = seen[seen >= CUT_UM]
    d10, d50, d90 = d3_quantiles(big, big**3)

    def below(d: np.ndarray, size_um: float) -> float:
        return float((d[d < size_um] ** 3).sum() / (d**3).sum())

    return {
        "title": title, "grinder": name.split("-")[0], "setting": setting, "format": "hakari.truth/1", "simulated": True,
        "grounds": int(coffee.sum()), "grounds_from_100_um": len(big), "d10_um": d10, "d50_um": d50, "d90_um": d90,
        "mass_below_um": {str(u): below(big, u) for u in (200, 300)},
        "from_above": made.truth["from_above"], "by_volume": made.truth["by_volume"],
        "whole": {
            "d50_um": d3_quantiles(every, every**3)[1],
            "mass_below_um": {str(u): below(every, u) for u in (100, 200, 300)},
        },
    }  # fmt: skip


def write(name: str) -> None:
    """Make and write one photo with its truth."""
    title, setting, scene = SHIPPED[name]
    made = cached(scene)
    if len(made.jpeg) > LARGEST_BYTES:
        sys.exit(f"{name} has {len(made.jpeg) / 2**20:.1f} MB, more than may ship")
    FOLDER.mkdir(exist_ok=True)
    (FOLDER / f"{name}.jpg").write_bytes(made.jpeg)
    (FOLDER / f"{name}.json").write_text(json.dumps(_truth(made, title, name, setting), indent=1) + "\n")
    coffee = made.rows["is_coffee"] > 0
    columns = [made.rows[key][coffee] for key in ("x_mm", "y_mm", "seen_um")]
    rows = ["x_mm,y_mm,diameter_um", *(f"{x:.3f},{y:.3f},{d:.2f}" for x, y, d in zip(*columns, strict=True))]
    (FOLDER / f"{name}.csv.gz").write_bytes(gzip.compress(("\n".join(rows) + "\n").encode(), mtime=0))
    print(f"{name}: {int(coffee.sum())} grounds, {len(made.jpeg) / 2**20:.1f} MB", flush=True)


def main() -> None:
    """Make the named photos, or all."""
    for name in sys.argv[1:] or SHIPPED:
        write(name)


if __name__ == "__main__":
    main()
