"""Grounds with height in the light of windows and lamps: crops of path-traced pictures whose every ground is known.

The crops are made by benchmarks/pictures3d/crops.py; sizes in their CSV files are by the outline that the camera sees.
"""

import csv
import io
import json
from pathlib import Path
from types import SimpleNamespace

import cv2
import numpy as np
import pytest
from PIL import Image
from scipy.spatial import cKDTree

from hakari.core.photo.cells import make_cells
from hakari.core.photo.crevices import part_at_crevices
from hakari.core.photo.decode import LINEAR, linear_light
from hakari.core.photo.paper import find_paper
from hakari.core.photo.photo_evidence import PhotoEvidence
from hakari.core.photo.photo_light import DARK_ROOM, light_error
from hakari.core.photo.pipeline import CardScale, PointsScale, measure_photo
from hakari.core.photo.quality import verdict_of
from hakari.core.photo.regions import find_regions
from hakari.core.photo.result import ExclusionReason, PhotoResult, Scale
from hakari.core.photo.small_grounds import without_own_shade
from hakari.core.psd.distribution import moments
from hakari.core.psd.photo_requirement import (
    SAME_LIGHT_ERROR,
    half_width_with_more,
    is_limited_by_light,
    photos_to_narrow,
    same_light_half_width,
)
from hakari.core.psd.summary import summarise

CROPS = Path(__file__).parents[1] / "data" / "light"
PINCHES = Path(__file__).parents[1] / "data" / "pinches"
LIGHTS = sorted(p.stem for p in CROPS.glob("*.json"))
RIM_PX = 40


def measured(name: str, data: bytes | None = None) -> tuple[PhotoResult, np.ndarray]:
    """A crop measured, and the rows x, y (px), seen diameter (µm), 1 for coffee, away from its edges."""
    scale = json.loads((CROPS / f"{name}.json").read_text())["um_per_px"]
    photo = measure_photo(data or (CROPS / f"{name}.jpg").read_bytes(), PointsScale(0, 0, 1000, 0, scale))
    with (CROPS / f"{name}.csv").open() as file:
        rows = np.array([[float(v) for v in row.values()] for row in csv.DictReader(file)])
    return photo, rows[inner(rows[:, 0], rows[:, 1])]


def inner(x: np.ndarray, y: np.ndarray) -> np.ndarray:
    return (x > RIM_PX) & (x < 1100 - RIM_PX) & (y > RIM_PX) & (y < 840 - RIM_PX)


@pytest.mark.parametrize("name", LIGHTS)
def test_grounds_are_measured_and_their_shadows_are_not(name: str) -> None:
    photo, rows = measured(name)
    p, coffee = photo.particles.counted, rows[rows[:, 3] == 1]
    found = p.diameter_um[inner(p.x_px, p.y_px)]
    true = coffee[:, 2]
    # Shadows counted as coffee make the covered area half as large again, or more.
    assert (found[found > 150] ** 2).sum() == pytest.approx((true[true > 150] ** 2).sum(), rel=0.16)
    assert (found > 200).sum() == pytest.approx((true > 200).sum(), rel=0.2, abs=2)
    tree = cKDTree(np.column_stack([p.x_px, p.y_px]))
    for low, high, within in ((100, 150, 0.1), (250, 2500, 0.04)):
        some = coffee[(true >= low) & (true < high)]
        distance, nearest = tree.query(some[:, :2])
        near = distance < 0.3 * some[:, 2] / 23 + 1.2
        assert near.mean() > 0.8
        assert np.median(p.diameter_um[nearest[near]] / some[near, 2]) == pytest.approx(1.0, abs=within)


def test_half_of_the_pieces_chaff_is_left_out_and_named() -> None:
    photo, rows = measured("half-chaff")
    flakes, grounds = rows[(rows[:, 3] == 0) & (rows[:, 2] > 350)], rows[(rows[:, 3] == 1) & (rows[:, 2] > 350)]
    p = photo.particles
    large = (p.left_out == 0) & (p.diameter_um > 250)
    tree = cKDTree(np.column_stack([p.x_px, p.y_px])[large])
    apart = {
        kind: tree.query(rows_[:, :2])[0] < 0.25 * rows_[:, 2] / 23 for kind, rows_ in (("f", flakes), ("g", grounds))
    }
    assert apart["g"].mean() > 0.9 and apart["f"].mean() < 0.1
    finding = next(f for f in photo.findings if f.code == "chaff")
    assert (
        f"{len(p.diameter_um[(p.left_out == ExclusionReason.CHAFF) & (p.diameter_um > 220)])} flakes" in finding.message
    )


def test_findings_of_light_name_what_is_wrong() -> None:
    codes = {name: {f.code for f in measured(name)[0].findings} for name in ("lamp", "lamp-dark-room", "sky")}
    assert "hard-shadow" in codes["lamp"] and "dark-room" in codes["lamp-dark-room"]
    assert not {"hard-shadow", "dark-room"} & codes["sky"]


def test_without_colour_it_falls_back_says_so_and_widens_its_interval() -> None:
    grey = io.BytesIO()
    Image.open(CROPS / "window.jpg").convert("L").save(grey, "JPEG", quality=90)
    coloured, plain = measured("window")[0], measured("window", grey.getvalue())[0]
    found = {f.code: f for f in plain.findings}
    assert found["colour-missing"].severity == "warning" and verdict_of(plain.findings).level != "good"
    assert plain.light_error > 1.5 * coloured.light_error
    widths = []
    for photo in (coloured, plain):
        ci = summarise(photo.particles, 100.0, np.random.default_rng(1), photo.light_error).intervals.d50_um
        widths.append(np.log(ci[1] / ci[0]))
    assert widths[1] > widths[0]


def test_light_widens_the_interval_by_its_share_and_no_less() -> None:
    p = measured("sky")[0].particles
    (low, high), (wide_low, wide_high) = (
        summarise(p, 100.0, np.random.default_rng(1), error).intervals.d50_um for error in (0.0, 0.05)
    )
    middle = summarise(p, 100.0, np.random.default_rng(1)).moments.d50_um
    for near, far in ((low, wide_low), (high, wide_high)):
        counting, both = abs(np.log(near / middle)), abs(np.log(far / middle))
        # Two independent parts: the widened side is at least the light's own 1.96 standard errors away.
        assert both > counting and both > 0.9 * 1.96 * 0.05


def test_tinted_shadow_is_shadow_and_brown_in_shadow_is_coffee() -> None:
    """Paper × light against coffee × light, painted: a blue half shadow, and grounds in the sun and in that shadow."""
    light = np.ones((600, 800, 3))
    light[:, 400:] *= [0.28, 0.34, 0.46]
    reflects = np.full((600, 800, 3), 0.82)
    places = [(120, 150), (250, 420), (560, 160), (680, 430)]
    for x, y in places:
        cv2.circle(reflects, (x, y), 14, (0.12, 0.075, 0.045), cv2.FILLED)
    # Softened at the border of light, as shadows are.
    linear = cv2.GaussianBlur(reflects, (0, 0), 0.8) * cv2.GaussianBlur(light, (0, 0), 6)
    rgb = np.searchsorted(LINEAR, linear).clip(0, 255).astype(np.uint8)
    paper = find_paper(rgb, 24.0, None)
    regions = find_regions(make_cells(rgb, linear_light(rgb), paper, None, 2.0))
    for x, y in places:
        assert regions.core[y // 2, x // 2] == 1
    assert regions.core.mean() < 1.3 * 4 * np.pi * 14**2 / (600 * 800)
    assert not regions.chaff.any()


def test_own_shade_is_taken_off_small_grounds_alone() -> None:
    area = np.pi / 4 * np.array([4.0, 6.0, 12.0, 40.0]) ** 2
    assert without_own_shade(area, 0.8, 0.0) == pytest.approx(area)
    smaller = without_own_shade(area, 0.8, 0.2) / area
    assert (np.diff(smaller) >= 0).all() and smaller[0] == pytest.approx(1 / 1.33, abs=0.01) and smaller[3] == 1


def test_a_wide_neck_is_parted_along_its_dark_line_and_texture_is_not() -> None:
    light = np.full((80, 200), 0.8, np.float32)
    labels = np.zeros((80, 200), np.int32)
    rng = np.random.default_rng(2)
    for number, at, axes in ((1, (40, 40), (17, 26)), (2, (130, 40), (26, 13)), (2, (166, 40), (13, 30))):
        blob = np.zeros(labels.shape, np.uint8)
        cv2.ellipse(blob, at, axes, 0, 0, 360, 1, cv2.FILLED)
        labels[blob > 0] = number
    grain = cv2.GaussianBlur(rng.standard_normal(light.shape), (0, 0), 3.0)
    light[labels > 0] = (0.1 * (1 + 0.02 * grain / grain.std())).astype(np.float32)[labels > 0]
    light[(labels == 2) & (np.abs(np.arange(200) - 154) < 2)] = 0.03
    boxes = {1: np.s_[0:80, 0:80], 2: np.s_[0:80, 100:200]}
    assert part_at_crevices(labels, light, boxes, 1e6, 3) == [2, 3]
    assert set(np.unique(labels)) == {0, 1, 2, 3} and labels[40, 130] != labels[40, 166] and labels[40, 40] == 1


def test_the_darker_the_shadows_and_the_more_the_tilt_the_wider_light_makes_the_interval() -> None:
    def error(shadow_light: float, tilt_deg: float = 3.0) -> float:
        view = SimpleNamespace(scale=Scale("card", 22.0, tilt_deg))
        return light_error(PhotoEvidence(view, None, None, 60.0, 0.06, None, shadow_light, 0.02, 1.0, True, 0.12))  # type: ignore[arg-type]

    assert error(0.6) < error(0.35) < error(0.9 * DARK_ROOM) < 0.1
    assert error(0.6, tilt_deg=3) < error(0.6, tilt_deg=12) < error(0.6, tilt_deg=22) < 0.1


def test_more_photos_in_the_same_light_do_not_promise_what_light_forbids() -> None:
    p = measured("sky")[0].particles
    even, hard = (summarise(p, 100.0, np.random.default_rng(1), error).enough for error in (0.0, 0.05))
    assert hard.half_width > even.half_width and hard.more_photos is None


def test_two_samples_of_one_light_are_compared_by_what_they_do_not_share() -> None:
    p = measured("sky")[0].particles
    counted, shaded = (summarise(p, 100.0, np.random.default_rng(1), e).enough.half_width for e in (0.0, 0.05))
    assert same_light_half_width(counted, 0.0, 2) == pytest.approx(counted)
    # What is left is counting and one per cent; the rest of the light cancels between the two.
    assert same_light_half_width(shaded, 0.05, 2) == pytest.approx(np.hypot(counted, 0.0196), rel=0.05)
    assert same_light_half_width(shaded, 0.05, 1) > same_light_half_width(
        shaded, 0.05, 2
    )  # how pinches differ is not seen yet
    wanted = 0.03
    more = photos_to_narrow(0.06, 1, 0.01, wanted)
    assert more is not None
    assert half_width_with_more(0.06, 0.01, 1, more) <= wanted < half_width_with_more(0.06, 0.01, 1, more - 1)
    assert photos_to_narrow(0.06, 1, 0.02, wanted) is None
    assert (
        is_limited_by_light(0.0205, 0.01) and not is_limited_by_light(0.03, 0.01) and not is_limited_by_light(0.02, 0)
    )


def test_photos_of_one_light_err_alike() -> None:
    """Pinches of one grind, path-traced under one sky: each within 1 % and counting of the grounds that it shows."""
    found = [measure_photo((PINCHES / f"{seed}.jpg").read_bytes(), CardScale()) for seed in (9501, 9502, 9503, 9504)]
    truth = json.loads((PINCHES / "truth.json").read_text())
    off = []
    for photo, true_um in zip(found, truth["d50_um"], strict=True):
        p = photo.particles.counted
        big = p.diameter_um >= truth["cut_um"]
        off.append(np.log(moments(p.diameter_um[big], p.weight[big]).d50_um / true_um))
    assert np.abs(off).max() < 0.03 and np.std(off, ddof=1) < 1.5 * SAME_LIGHT_ERROR
