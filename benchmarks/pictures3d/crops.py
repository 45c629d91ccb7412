"""Cut the crops that the tests hold, one for each kind of light: ``python -m benchmarks.pictures3d.crops``.

Each crop is the middle of a tuned-on picture with its scale and every ground that lies in it.
"""

from __future__ import annotations

import csv
import io
import json
from pathlib import Path

import numpy as np
from PIL import Image

from benchmarks.pictures3d.make import cached
from benchmarks.pictures3d.render import project_px, world
from benchmarks.pictures3d.scene import Scene3D
from benchmarks.pictures3d.sets import tuning_scenes
from benchmarks.pictures3d.truth import HIDDEN_BELOW, per_px_mm2
from hakari.core.photo.card import CARDS

FOLDER = Path(__file__).parents[2] / "tests" / "data" / "light"
WIDTH_PX, HEIGHT_PX, QUALITY, LARGEST_BYTES = 1100, 840, 88, 300_000
SMALLEST_KEPT_UM = 90.0


def cut(name: str, scene: Scene3D) -> None:
    """Write the middle of a picture and its truth."""
    made = cached(scene)
    picture = Image.open(io.BytesIO(made.jpeg))
    left, top = (scene.width_px - WIDTH_PX) // 2, (scene.height_px - HEIGHT_PX) // 2
    file = io.BytesIO()
    picture.crop((left, top, left + WIDTH_PX, top + HEIGHT_PX)).save(file, "JPEG", quality=QUALITY, subsampling="4:2:0")
    assert len(file.getvalue()) < LARGEST_BYTES, (name, len(file.getvalue()))
    rows = made.rows
    mm = np.column_stack([rows["x_mm"], rows["y_mm"], np.zeros(len(rows["x_mm"]))])
    px = project_px(world(mm, CARDS["pocket"]), scene) - [left, top]
    within = (px >= 0).all(axis=1) & (px < [WIDTH_PX, HEIGHT_PX]).all(axis=1)
    kept = within & (rows["visible"] >= HIDDEN_BELOW) & (rows["seen_um"] >= SMALLEST_KEPT_UM)
    middle = np.array([scene.width_px, scene.height_px]) / 2
    scale = {"um_per_px": 1000 * float(np.sqrt(per_px_mm2(middle, scene))), "light": scene.light, "roast": scene.roast}
    (FOLDER / f"{name}.jpg").write_bytes(file.getvalue())
    (FOLDER / f"{name}.json").write_text(json.dumps(scale, indent=1) + "\n")
    with (FOLDER / f"{name}.csv").open("w", newline="") as out:
        table = csv.writer(out)
        table.writerow(["x_px", "y_px", "seen_um", "is_coffee"])
        for k in np.flatnonzero(kept):
            seen = rows["seen_um"][k] * np.sqrt(rows["visible"][k])
            table.writerow([f"{px[k, 0]:.1f}", f"{px[k, 1]:.1f}", f"{seen:.1f}", int(rows["is_coffee"][k])])


def main() -> None:
    """Cut all crops."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    wanted = {100: "window", 101: "window-dark-room", 102: "lamp", 103: "lamp-dark-room", 104: "two-lamps",
              105: "ceiling-and-window", 106: "sky", 107: "hand", 112: "half-chaff"}  # fmt: skip
    for scene in tuning_scenes():
        if scene.seed in wanted:
            cut(wanted[scene.seed], scene)


if __name__ == "__main__":
    main()
