"""Accuracy and speed of measuring, beside a plain pipeline on the same pictures, runs interleaved.

``python -m bench.measuring`` prints a table over the shipped photos, some made on the spot, and the practice photos
when their folder lies beside the project.
"""

from __future__ import annotations

import csv
import gzip
import json
import multiprocessing
import sys
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import numpy.typing as npt

from bench.plain import measure_plain
from hakari.core.errors import InputError
from hakari.core.photo.card import find_card
from hakari.core.photo.decode import decode
from hakari.core.photo.pipeline import CardScale, DiscScale, PointsScale, ScaleChoice, measure_photo
from hakari.core.psd.distribution import CUT_UM, mass_below, quantile_um
from hakari.core.psd.summary import gap_between
from hakari.demo.camera import Scene
from hakari.demo.picture_maker import make_picture
from hakari.service.demo_photos import FOLDER as SHIPPED

ROOT = Path(__file__).parents[1]
PRACTICE = ROOT.parent / "shared" / "photos"
REPEATS = 3
Array = npt.NDArray[np.float64]

MADE = {
    "made: tilt 23°, small": Scene(width_px=2400, height_px=1800, um_per_px=37, tilt_deg=23, median_um=850, seed=31),
    "made: dim, noisy": Scene(exposure=0.45, noise=0.035, falloff=0.6, median_um=560, fines_share=0.12, seed=32),
    "made: soft, shadowed": Scene(blur_sigma_px=1.9, shadow=0.3, median_um=720, seed=33),
    "made: crowded": Scene(coverage=0.11, touching_share=0.15, median_um=600, seed=34),
}


@dataclass(frozen=True)
class Case:
    """A picture with its true diameters and how it is scaled."""

    name: str
    data: bytes
    true_um: Array
    scale: ScaleChoice


@dataclass(frozen=True)
class Row:
    """Errors against the truth above the cut."""

    d50: float
    d90: float
    gap: float
    fines: float
    seconds: float


def shipped_cases() -> list[Case]:
    cases = []
    for path in sorted(SHIPPED.glob("*.jpg")):
        rows = gzip.decompress((path.with_suffix(".csv.gz")).read_bytes()).decode().splitlines()[1:]
        cases.append(Case(path.stem, path.read_bytes(), np.array([float(r.split(",")[2]) for r in rows]), CardScale()))
    return cases


def made_cases() -> list[Case]:
    cases = []
    for name, scene in MADE.items():
        print(f"making {name}", file=sys.stderr, flush=True)
        made = make_picture(scene)
        cases.append(Case(name, made.jpeg, made.diameter_um, CardScale()))
    return cases


def practice_cases() -> list[Case]:
    """The practice photos by another maker, scaled as they say: two crosses on the paper, or a disc of known thickness."""
    cases = []
    for path in sorted(PRACTICE.glob("*.json")):
        truth = json.loads(path.read_text())
        scale = truth["scale"]
        if scale["type"] == "cross":
            (x1, y1), (x2, y2) = scale["points_px"]
            choice = PointsScale(x1, y1, x2, y2, scale["distance_mm"])
        else:
            choice = DiscScale(scale["diameter_mm"], scale["thickness_mm"])
        with gzip.open(path.with_suffix(".csv.gz"), "rt") as file:
            seen = np.array([float(r["seen_ecd_um"]) for r in csv.DictReader(file)])
        cases.append(Case(path.stem, path.with_suffix(".jpg").read_bytes(), seen, choice))
    return cases


def ours(case: Case) -> tuple[Array, Array, float]:
    started = time.perf_counter()
    photo = measure_photo(case.data, case.scale)
    p = photo.particles.counted
    return p.diameter_um, p.weight, time.perf_counter() - started


def plain(case: Case) -> tuple[Array, Array, float]:
    started = time.perf_counter()
    if isinstance(case.scale, PointsScale):
        s = case.scale
        step = s.distance_mm / np.hypot(s.x2 - s.x1, s.y2 - s.y1)
        picture = decode(case.data)
        to_px = np.diag([1 / step, 1 / step, 1.0])
        box = (0.0, 0.0, picture.width_px * step, picture.height_px * step, 1000 * step)
    else:
        found = find_card(decode(case.data).rgb)
        well = found.card.well
        to_px = np.linalg.inv(found.plane.homography)
        box = (well.x, well.y, well.width, well.height, found.scale.um_per_px)
    d = measure_plain(case.data, to_px, *box)
    return d, np.ones(len(d)), time.perf_counter() - started


def judge(case: Case, result: tuple[Array, Array, float], cut_um: float) -> Row:
    d, w, seconds = result
    keep, true = d >= cut_um, case.true_um[case.true_um >= cut_um]
    d, w = d[keep], w[keep]
    found = quantile_um(d, w * d**3, [0.5, 0.9])
    right = quantile_um(true, true**3, [0.5, 0.9])
    gap = gap_between(d, w * d**3, true, true**3, 0.05)
    fines = mass_below(d, w, 200) - mass_below(true, np.ones(len(true)), 200)
    return Row(found[0] / right[0] - 1, found[1] / right[1] - 1, gap, fines, seconds)


def compare(cases: list[Case]) -> list[tuple[Row, Row]]:
    """Both pipelines on each picture, taking turns; the median time of the repeats counts."""
    rows = []
    print(
        f"{'picture':26}{'D50':>8}{'D90':>8}{'gap':>7}{'<200':>8}{'s':>7}   |"
        f"{'D50':>8}{'D90':>8}{'gap':>7}{'s':>7}{'faster':>8}"
    )
    for case in cases:
        runs: dict[Callable[[Case], tuple[Array, Array, float]], list[tuple[Array, Array, float]]] = {
            ours: [],
            plain: [],
        }
        for _ in range(REPEATS):
            for pipeline in (ours, plain):
                runs[pipeline].append(pipeline(case))
        photo = measure_photo(case.data, case.scale)
        cut = max(CUT_UM, photo.resolution_limit_um)
        pair = []
        for pipeline in (ours, plain):
            d, w, _ = runs[pipeline][0]
            pair.append(judge(case, (d, w, float(np.median([r[2] for r in runs[pipeline]]))), cut))
        a, b = pair
        rows.append((a, b))
        print(
            f"{case.name:26}{100 * a.d50:+7.2f}%{100 * a.d90:+7.2f}%{a.gap:7.3f}{100 * a.fines:+7.2f}%{a.seconds:7.2f}   |"
            f"{100 * b.d50:+7.1f}%{100 * b.d90:+7.1f}%{b.gap:7.3f}{b.seconds:7.2f}{b.seconds / a.seconds:7.1f}x",
            flush=True,
        )
    return rows


def _high_water_mb() -> float:
    """Peak resident memory of this process since it was started (proc(5), VmHWM)."""
    lines = Path("/proc/self/status").read_text().splitlines()
    return next(int(line.split()[1]) for line in lines if line.startswith("VmHWM")) / 1024


def _peak(pipeline: str, case: Case, answer: multiprocessing.Queue[tuple[float, float]]) -> None:
    before = _high_water_mb()
    {"ours": ours, "plain": plain}[pipeline](case)
    answer.put((before, _high_water_mb()))


def peak_memory_mb(pipeline: str, case: Case) -> tuple[float, float]:
    """Resident memory in MB after loading the program, and at its peak while measuring, in a process of its own."""
    context = multiprocessing.get_context("spawn")
    answer = context.Queue()
    process = context.Process(target=_peak, args=(pipeline, case, answer))
    process.start()
    result = answer.get()
    process.join()
    return result


def summary(title: str, rows: list[tuple[Row, Row]]) -> None:
    d50 = np.abs([a.d50 for a, _ in rows])
    faster = [b.seconds / a.seconds for a, b in rows]
    print(
        f"{title}: |D50| median {100 * np.median(d50):.2f} %, worst {100 * d50.max():.2f} %; "
        f"|D90| median {100 * np.median([abs(a.d90) for a, _ in rows]):.2f} %; "
        f"gap median {np.median([a.gap for a, _ in rows]):.3f}; "
        f"{np.median(faster):.1f}x faster than plain (least {min(faster):.1f}x)"
    )


def main() -> None:
    own = shipped_cases() + made_cases()
    print(f"\nPictures on the card ({len(own)}), errors above the cut; left: Hakari, right: plain scikit-image")
    summary("card", compare(own))
    largest = max(shipped_cases(), key=lambda c: len(c.true_um))
    picture = decode(largest.data)
    times = [ours(largest)[2] for _ in range(5)]
    print(
        f"\n{picture.width_px * picture.height_px / 1e6:.0f} megapixels, {len(largest.true_um)} grounds ({largest.name}): "
        f"median {np.median(times):.2f} s of 5"
    )
    for name in ("ours", "plain"):
        loaded, peak = peak_memory_mb(name, largest)
        print(f"  {name}: peak {peak:.0f} MB resident ({loaded:.0f} MB of it the loaded program)")
    if PRACTICE.is_dir():
        print("\nPractice photos by another maker, scaled by two points (on the rim of a disc where there is one)")
        summary("practice", compare(practice_cases()))
    else:
        print("\nNo practice photos beside the project.")


if __name__ == "__main__":
    try:
        main()
    except InputError as error:
        sys.exit(f"{error.message} {error.remedy}")
