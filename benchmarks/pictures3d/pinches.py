"""Make the pinches that the test's camera sees, of one grind in one light: ``python -m benchmarks.pictures3d.pinches``.

They are small, as a camera's video is.
"""

from __future__ import annotations

import json
from pathlib import Path

from benchmarks.pictures3d.make import cached
from benchmarks.pictures3d.scene import Scene3D
from benchmarks.pictures3d.truth import d3_quantiles

FOLDER = Path(__file__).parents[2] / "tests" / "data" / "pinches"
SEEDS = (9501, 9502, 9503, 9504)
LARGEST_BYTES = 300_000
CUT_UM = 250.0  # a camera's video does not show less


def pinch(seed: int) -> Scene3D:
    """Return one pinch of the grind on the card under an open sky, from right above."""
    return Scene3D(
        seed=seed, median_um=800, sigma_ln=0.16, fines_share=0.01, coverage=0.07, touching_share=0.03, chaff_share=0.0,
        light="sky", room=1.0, tilt_deg=2, width_px=1600, height_px=1200, aperture_mm=0.05, samples=12, noise=0.006,
        quality=88,
    )  # fmt: skip


def main() -> None:
    """Make all pinches, with the medians of the grounds that they show beside them."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    medians = []
    for seed in SEEDS:
        made = cached(pinch(seed))
        assert len(made.jpeg) < LARGEST_BYTES, (seed, len(made.jpeg))
        (FOLDER / f"{seed}.jpg").write_bytes(made.jpeg)
        seen = made.seen_um[made.seen_um >= CUT_UM]
        medians.append(round(d3_quantiles(seen, seen**3)[1], 1))
    truth = {"format": "hakari.truth/1", "simulated": True, "cut_um": CUT_UM, "d50_um": medians}
    (FOLDER / "truth.json").write_text(json.dumps(truth, indent=1) + "\n")


if __name__ == "__main__":
    main()
