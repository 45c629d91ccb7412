"""Make a path-traced picture with its truth, or take it from the cache outside the repository.

``python -m benchmarks.pictures3d.make SEED [LIGHT]`` writes one to the cache and says where.
"""

from __future__ import annotations

import gzip
import hashlib
import json
import os
import sys
import time
from dataclasses import asdict, dataclass
from pathlib import Path

import numpy as np

from benchmarks.pictures3d.meshes import Array, make_library
from benchmarks.pictures3d.phone import develop
from benchmarks.pictures3d.pinch import spread
from benchmarks.pictures3d.render import disc_place, smoothed_paper, trace
from benchmarks.pictures3d.scene import Scene3D, random_scene
from benchmarks.pictures3d.truth import Truth, d3_quantiles, find_truth, seen_diameters
from hakari.core.photo.card import CARDS
from hakari.core.psd.distribution import CUT_UM

MAKER_VERSION = 3
CACHE = Path(os.environ.get("HAKARI_PICTURES", Path.home() / ".cache" / "hakari" / "pictures"))
COLUMNS = ("x_mm", "y_mm", "diameter_um", "seen_um", "volume_mm3", "visible", "is_coffee", "on_top", "touches")


@dataclass(frozen=True)
class MadePicture:
    """A made picture: its file, the figures of its truth, and a row per piece by ``COLUMNS``."""

    jpeg: bytes
    truth: dict[str, object]
    rows: dict[str, Array]

    @property
    def seen_um(self) -> Array:
        """Diameters of the grounds by the outline that the camera sees, hidden ones left out, µm."""
        return seen_diameters(self.rows["seen_um"], self.rows["visible"], self.rows["is_coffee"] > 0)


def figures(truth: Truth, scene: Scene3D) -> dict[str, object]:
    """Return the true figures from 100 µm up: by d³ from above, by what the camera sees, and by volume."""
    coffee = truth.is_coffee
    d, volume = truth.diameter_um[coffee], truth.volume_mm3[coffee]
    big, seen = d >= CUT_UM, truth.seen()
    seen = seen[seen >= CUT_UM]
    well = CARDS["pocket"].well
    pieces = np.array([k == "chaff" for k in truth.kind])[truth.diameter_um >= 150]

    def named(values: list[float]) -> dict[str, float]:
        return dict(zip(("d10_um", "d50_um", "d90_um"), values, strict=True))

    return {
        "format": "hakari.truth/1", "simulated": True, "scene": asdict(scene), "grounds": int(coffee.sum()),
        "chaff_share_of_pieces": float(pieces.mean()) if len(pieces) else 0.0,
        "n100": len(seen), "n150": int((seen >= 150).sum()),
        "from_above": named(d3_quantiles(d[big], d[big] ** 3)),
        "seen_by_camera": named(d3_quantiles(seen, seen**3)),
        "by_volume": named(d3_quantiles(d[big], volume[big])),
        "coverage": float((np.pi / 4 * d**2).sum() / 1e6 / (well.width * well.height)),
    }  # fmt: skip


def make(scene: Scene3D) -> tuple[bytes, Truth]:
    """Make one picture; the same scene gives the same picture."""
    rng = np.random.default_rng(scene.seed)
    card = CARDS["pocket"]
    library = make_library(scene.family, rng)
    grounds = spread(scene, library, card.well, rng, disc_place(card) if scene.scale == "disc" else None)
    truth = find_truth(scene, grounds, library, card)
    light, colour = trace(scene, grounds, library, card)
    light = smoothed_paper(light, (truth.owner > 0).astype(np.uint8))
    return develop(light, colour, scene), truth


def cached(scene: Scene3D) -> MadePicture:
    """Return the picture from the cache, made first where it is missing."""
    text = json.dumps([MAKER_VERSION, asdict(scene)], sort_keys=True)
    stem = CACHE / f"{scene.seed}-{scene.light}-{hashlib.sha256(text.encode()).hexdigest()[:12]}"
    paths = [stem.with_name(stem.name + suffix) for suffix in (".jpg", ".json", ".csv.gz")]
    if not paths[2].exists():
        CACHE.mkdir(parents=True, exist_ok=True)
        jpeg, truth = make(scene)
        paths[0].write_bytes(jpeg)
        paths[1].write_text(json.dumps(figures(truth, scene), indent=1))
        table = np.column_stack([getattr(truth, name).astype(float) for name in COLUMNS])
        lines = [",".join(COLUMNS), *(",".join(f"{v:.5g}" for v in row) for row in table)]
        paths[2].write_bytes(gzip.compress(("\n".join(lines) + "\n").encode(), mtime=0))
    with gzip.open(paths[2], "rt") as file:
        table = np.loadtxt(file, delimiter=",", skiprows=1)
    return MadePicture(
        paths[0].read_bytes(), json.loads(paths[1].read_text()), dict(zip(COLUMNS, table.T, strict=True))
    )


def main() -> None:
    """Make the picture of a seed."""
    started = time.perf_counter()
    scene = random_scene(int(sys.argv[1]), "cut", sys.argv[2] if len(sys.argv) > 2 else None)
    picture = cached(scene)
    print(json.dumps({k: v for k, v in picture.truth.items() if k != "scene"}, indent=1))
    print(f"{scene.light}: {len(picture.jpeg) / 2**20:.1f} MB, {time.perf_counter() - started:.0f} s, in {CACHE}")


if __name__ == "__main__":
    main()
