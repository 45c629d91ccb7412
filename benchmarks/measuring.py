"""Accuracy and speed of measuring, beside a plain pipeline on the same pictures in the same run.

``python -m benchmarks.measuring`` prints tables over path-traced pictures (``benchmarks.pictures3d``), flat pictures of
random scenes (``benchmarks.pictures``), the shipped photos, and practice photos by other makers when their folders lie
beside the project; then how often intervals hold, speed with runs interleaved, and memory.
"""

from __future__ import annotations

import csv
import gzip
import json
import multiprocessing
import sys
import time
from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np
import numpy.typing as npt

from benchmarks.pictures.flat import make_picture
from benchmarks.pictures.flat_camera import Scene
from benchmarks.pictures.flat_scenes import UNSEEN_SEEDS, random_scene
from benchmarks.pictures3d.make import MadePicture, cached
from benchmarks.pictures3d.render import DISC_MM, DISC_THICKNESS_MM
from benchmarks.pictures3d.scene import Scene3D
from benchmarks.pictures3d.sets import disc_scenes, fresh_scenes, interval_scenes, judged_scenes
from benchmarks.pictures3d.truth import FULL_GRIND_DRAWS, grind_d50_um
from benchmarks.plain import measure_plain
from hakari.core.errors import InputError
from hakari.core.photo.decode import decode, linear_light
from hakari.core.photo.disc import find_disc
from hakari.core.photo.find_card import find_card
from hakari.core.photo.pipeline import CardScale, DiscScale, PointsScale, ScaleChoice, measure_photo
from hakari.core.psd.distribution import CUT_UM, mass_below, quantile_um
from hakari.core.psd.summary import gap_between
from hakari.service.samples.demo_photos import FOLDER as SHIPPED
from hakari.service.samples.measuring import measure_files

ROOT = Path(__file__).parents[1]
PRACTICE = ROOT.parent / "shared" / "photos"
PRACTICE_3D = ROOT.parent / "shared" / "photos3d"
SPEED_RUNS = 15
SPEED_SCENE = Scene(
    median_um=620, sigma_ln=0.3, fines_share=0.12, coverage=0.06, touching_share=0.05, grounds_limit=20_000, seed=20_000
)  # fmt: skip
Array = npt.NDArray[np.float64]


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
    count: float
    small: float


def shipped_cases() -> list[Case]:
    cases = []
    for path in sorted(SHIPPED.glob("*.jpg")):
        rows = gzip.decompress((path.with_suffix(".csv.gz")).read_bytes()).decode().splitlines()[1:]
        cases.append(Case(path.stem, path.read_bytes(), np.array([float(r.split(",")[2]) for r in rows]), CardScale()))
    return cases


def made_cases() -> list[Case]:
    cases = []
    for seed in UNSEEN_SEEDS:
        print(f"making the scene of seed {seed}", file=sys.stderr, flush=True)
        made = make_picture(random_scene(seed))
        cases.append(Case(f"scene {seed}", made.jpeg, made.diameter_um, CardScale()))
    return cases


def _light_of(scene: Scene3D) -> str:
    words = [scene.light, scene.roast]
    words += ["crowded"] if scene.coverage > 0.15 else []
    words += [f"chaff {100 * scene.chaff_share:.0f} %"] if scene.chaff_share > 0.1 else []
    words += [f"tilt {scene.tilt_deg:.0f}"] if scene.tilt_deg > 9 else []
    return " ".join(words)


def traced_cases(scenes: list[Scene3D]) -> list[Case]:
    """Path-traced pictures; made first where the cache has none (about a minute each)."""
    cases = []
    for scene in scenes:
        print(f"picture {scene.seed}", file=sys.stderr, flush=True)
        made: MadePicture = cached(scene)
        choice = CardScale() if scene.scale == "card" else DiscScale(DISC_MM, DISC_THICKNESS_MM)
        cases.append(Case(f"{scene.seed} {_light_of(scene)}", made.jpeg, made.seen_um, choice))
    return cases


def practice_3d_cases() -> list[Case]:
    """Return path-traced practice photos by another maker, by the outline that the camera sees, grounds inside the well."""
    cases = []
    for path in sorted(PRACTICE_3D.glob("*.json")):
        with gzip.open(path.with_suffix(".csv.gz"), "rt") as file:
            rows = [r for r in csv.DictReader(file) if r["is_chaff"] == "0" and r["inside"] == "1"]
        seen = np.array([float(r["d_seen_um"]) for r in rows])
        cases.append(Case(path.stem, path.with_suffix(".jpg").read_bytes(), seen, CardScale()))
    return cases


def intervals_hold(scenes: list[Scene3D]) -> None:
    """How often the 95 % interval of D50 holds the grind, of which each picture is one pinch."""
    held, widths = [], []
    for scene in scenes:
        document = measure_files([cached(scene).jpeg], CardScale()).document
        low, high = document.ci95.d50_um
        held.append(low <= grind_d50_um(scene) <= high)
        widths.append(high / low - 1)
    print(
        f"\n95 % intervals of D50 on {len(scenes)} path-traced pictures: {sum(held)} hold the grind "
        f"({100 * np.mean(held):.0f} %); width {100 * np.median(widths):.0f} % (median). "
        f"The grind: {FULL_GRIND_DRAWS:,} grounds drawn from the same mixture."
    )


def practice_cases() -> list[Case]:
    """Return practice photos by another maker, scaled as they say: two crosses on the paper, or a disc of known thickness."""
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
    elif isinstance(case.scale, DiscScale):
        picture = decode(case.data)
        step = find_disc(linear_light(picture.rgb), case.scale.diameter_mm).plane.homography[0, 0]
        to_px = np.diag([1 / step, 1 / step, 1.0])
        box = (0.0, 0.0, picture.width_px * step, picture.height_px * step, 1000 * step)
    else:
        found = find_card(decode(case.data).rgb)
        well = found.card.well
        to_px = np.linalg.inv(found.plane.homography)
        box = (well.x, well.y, well.width, well.height, found.scale.um_per_px)
    d = measure_plain(case.data, to_px, *box)
    if isinstance(case.scale, DiscScale):
        d = d[d < 500 * case.scale.diameter_mm]  # it knows no better than to count the disc
    return d, np.ones(len(d)), time.perf_counter() - started


def judge(case: Case, result: tuple[Array, Array, float], cut_um: float) -> Row:
    d, w, _ = result
    keep, true = d >= cut_um, case.true_um[case.true_um >= cut_um]
    d, w = d[keep], w[keep]
    found = quantile_um(d, w * d**3, [0.5, 0.9])
    right = quantile_um(true, true**3, [0.5, 0.9])
    gap = gap_between(d, w * d**3, true, true**3, 0.05)
    fines = mass_below(d, w, 200) - mass_below(true, np.ones(len(true)), 200)
    count = (w * (d >= 150)).sum() / (true >= 150).sum() - 1
    small = (w * ((d >= 100) & (d < 150))).sum() / max(((true >= 100) & (true < 150)).sum(), 1) - 1
    return Row(found[0] / right[0] - 1, found[1] / right[1] - 1, gap, fines, float(count), float(small))


def compare(title: str, cases: list[Case]) -> None:
    """Both pipelines on each picture, and what remains over all of them."""
    print(f"\n{title} ({len(cases)}); errors above the cut; left: Hakari, right: plain scikit-image")
    print(
        f"{'picture':44}{'grounds':>8}{'D50':>8}{'D90':>8}{'gap':>7}{'<200':>8}{'n150':>7}   |{'D50':>8}{'D90':>8}{'gap':>7}"
    )
    rows = []
    for case in cases:
        cut = max(CUT_UM, measure_photo(case.data, case.scale).resolution_limit_um)
        a, b = (judge(case, pipeline(case), cut) for pipeline in (ours, plain))
        rows.append((a, b))
        print(
            f"{case.name:44}{len(case.true_um):8d}{100 * a.d50:+7.2f}%{100 * a.d90:+7.2f}%{100 * a.gap:7.2f}"
            f"{100 * a.fines:+7.2f}%{100 * a.count:+6.0f}%   |{100 * b.d50:+7.1f}%{100 * b.d90:+7.1f}%{100 * b.gap:7.1f}",
            flush=True,
        )
    ours_rows, plain_rows = ([r[k] for r in rows] for k in (0, 1))
    for name, part in (("Hakari", ours_rows), ("plain", plain_rows)):
        figures = 100 * np.abs([[r.d50, r.d90, r.gap, r.count] for r in part])
        middle, worst = np.median(figures, axis=0), figures.max(axis=0)
        print(
            f"  {name:8} |D50| median {middle[0]:.2f} %, worst {worst[0]:.2f}; |D90| median {middle[1]:.2f} %, "
            f"worst {worst[1]:.2f}; gap median {middle[2]:.2f} pp, worst {worst[2]:.2f}; n150 median {middle[3]:.1f} %"
        )


def speed(case: Case) -> None:
    """Return times of both pipelines, taking turns."""
    picture = decode(case.data)
    times: dict[str, list[float]] = {"Hakari": [], "plain": []}
    decoding = []
    for _ in range(SPEED_RUNS):
        started = time.perf_counter()
        decode(case.data)
        decoding.append(time.perf_counter() - started)
        for name, pipeline in (("Hakari", ours), ("plain", plain)):
            times[name].append(pipeline(case)[2])
    a, b = (float(np.median(times[name])) for name in times)
    alone = float(np.median(decoding))
    print(
        f"\nSpeed: {picture.width_px * picture.height_px / 1e6:.0f} megapixels, {len(case.true_um)} grounds, median of "
        f"{SPEED_RUNS} runs each, taking turns: Hakari {a:.2f} s, plain {b:.2f} s, {b / a:.1f} times as fast; "
        f"decoding alone {alone:.2f} s, Hakari {a / alone:.1f} times that"
    )


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


def enlarged(case: Case, megapixels: float) -> Case:
    """Return the same picture with more pixels, for the memory that the largest pictures take."""
    rgb = decode(case.data).rgb
    factor = float(np.sqrt(megapixels * 1e6 / (rgb.shape[0] * rgb.shape[1])))
    big = cv2.resize(rgb, None, fx=factor, fy=factor, interpolation=cv2.INTER_CUBIC)
    _, jpeg = cv2.imencode(".jpg", big[:, :, ::-1])
    return Case(f"{megapixels:.0f} megapixels", jpeg.tobytes(), case.true_um, case.scale)


def main() -> None:
    judged = judged_scenes()
    compare(f"Path-traced pictures, seeds {judged[0].seed}…{judged[-1].seed}", traced_cases(judged))
    fresh = fresh_scenes()
    compare(
        f"Path-traced pictures that nothing was chosen by, seeds {fresh[0].seed}…{fresh[-1].seed}", traced_cases(fresh)
    )
    compare("Path-traced pictures with a metal disc", traced_cases(disc_scenes()))
    if PRACTICE_3D.is_dir():
        compare("Path-traced practice photos by another maker", practice_3d_cases())
    intervals_hold(judged + interval_scenes())
    compare(f"Flat pictures of random scenes on the card, seeds {UNSEEN_SEEDS[0]}…{UNSEEN_SEEDS[-1]}", made_cases())
    compare("The demo's photos", shipped_cases())
    if PRACTICE.is_dir():
        cases = practice_cases()
        crosses = [c for c in cases if isinstance(c.scale, PointsScale)]
        compare("Practice photos by another maker, scaled by crosses on the paper", crosses)
        discs = [c for c in cases if isinstance(c.scale, DiscScale)]
        compare(
            "Practice photos scaled by a disc 1.2 mm thick, its thickness corrected, the sheet taken as level", discs
        )
    made = make_picture(SPEED_SCENE)
    case = Case("20,000 grounds", made.jpeg, made.diameter_um, CardScale())
    speed(case)
    for name, of in (("ours", case), ("plain", case), ("ours", enlarged(case, 59.5))):
        loaded, peak = peak_memory_mb(name, of)
        print(f"  {name}, {of.name}: peak {peak:.0f} MB resident ({loaded:.0f} MB of it the loaded program)")


if __name__ == "__main__":
    try:
        main()
    except InputError as error:
        sys.exit(f"{error.message} {error.remedy}")
