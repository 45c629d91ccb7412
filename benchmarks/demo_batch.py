"""A made batch: two grinders in two places, ten weeks, 200 photos: ``python -m benchmarks.demo_batch FOLDER``.

The Brackwell's burrs wear slowly, so that it grinds 9 % coarser in the end; the Arlsmoor's dial is knocked in the seventh
week, 7 % finer. Pictures are small and flat, and simulated. Same seeds, same pictures.
"""

from __future__ import annotations

import csv
import sys
from concurrent.futures import ProcessPoolExecutor
from datetime import date, timedelta
from pathlib import Path

import numpy as np

from benchmarks.pictures.flat import make_picture
from benchmarks.pictures.flat_camera import Scene

WEEKS, DAYS_A_WEEK, PHOTOS_A_DAY = 10, 5, 2
START = date(2026, 2, 2)
KNOCKED_WEEK, KNOCK_LN, WEAR_LN = 6, -0.07, 0.09
GRINDERS = (("Brackwell", "4 1/2", "hatch", 640.0), ("Arlsmoor", "22", "flat above", 660.0))
DAILY_SD_LN = 0.012


def scene(grinder: int, day: int, photo: int) -> Scene:
    """Return what a grinder ground on a working day."""
    rng = np.random.default_rng([grinder, day])
    share = day / (WEEKS * DAYS_A_WEEK - 1)
    moved = WEAR_LN * share if grinder == 0 else KNOCK_LN * (day // DAYS_A_WEEK >= KNOCKED_WEEK)
    median_um = GRINDERS[grinder][3] * float(np.exp(moved + rng.normal(0, DAILY_SD_LN)))
    return Scene(
        width_px=1200, height_px=900, um_per_px=72, grounds_limit=4000, median_um=median_um, sigma_ln=0.28,
        fines_share=0.008 + 0.004 * share,
        coverage=0.07, touching_share=0.04, blur_sigma_px=0.7, tilt_deg=2, noise=0.006, quality=85,
        seed=100_000 * grinder + 10 * day + photo,
    )  # fmt: skip


def _make(name: Path, made: Scene) -> None:
    name.write_bytes(make_picture(made).jpeg)


def main() -> None:
    """Write the photos and their list."""
    folder = Path(sys.argv[1])
    (folder / "photos").mkdir(parents=True, exist_ok=True)
    jobs, rows = [], []
    for k, (grinder, setting, place, _) in enumerate(GRINDERS):
        for day in range(WEEKS * DAYS_A_WEEK):
            when = START + timedelta(days=7 * (day // DAYS_A_WEEK) + day % DAYS_A_WEEK)
            for photo in range(PHOTOS_A_DAY):
                name = f"photos/{grinder.lower()}-{when}-{photo + 1}.jpg"
                if not (folder / name).exists():
                    jobs.append((folder / name, scene(k, day, photo)))
                rows.append([name, f"{grinder} {when}", grinder, setting, "Lot 9 Quayside", place, when])
    with ProcessPoolExecutor() as pool:
        for done, _ in enumerate(pool.map(_make, *zip(*jobs, strict=True)) if jobs else (), 1):
            if done % 50 == 0:
                print(f"{done} of {len(jobs)} photos made", flush=True)
    with (folder / "list.csv").open("w", newline="") as file:
        table = csv.writer(file)
        table.writerow(["photo", "sample", "grinder", "setting", "coffee", "place", "date"])
        table.writerows(rows)


if __name__ == "__main__":
    main()
