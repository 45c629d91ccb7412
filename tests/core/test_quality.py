"""Findings come with their place and remedy, and decide the verdict; melted and cut grounds keep their light."""

from dataclasses import replace

import numpy as np
import pytest
from benchmarks.pictures.flat import make_picture
from benchmarks.pictures.flat_camera import Scene
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays

from hakari.core.photo.pipeline import CardScale, measure_photo
from hakari.core.photo.quality import verdict_of
from hakari.core.photo.result import Finding
from hakari.core.photo.unresolved import split_unresolved


@pytest.mark.parametrize(
    ("changes", "code", "verdict", "placed"),
    [
        ({"hand_shadow": 0.35}, "shadow", None, True),
        ({"quality": 20}, "compression", "usable", False),
        ({"chaff": 40}, "chaff", None, True),
        ({"blur_sigma_px": 5.5}, "blur", "retake", False),
        ({"exposure": 1.5}, "overexposed", "usable", True),
        ({"coverage": 0.17, "median_um": 1800, "fines_share": 0.0}, "crowded", "usable", True),
    ],
    ids=["hand shadow", "pressed small", "chaff", "soft", "burnt out", "crowded"],
)
def test_what_is_wrong_is_said_where_it_is(
    small_scene: Scene, changes: dict[str, float], code: str, verdict: str | None, placed: bool
) -> None:
    photo = measure_photo(make_picture(replace(small_scene, **changes)).jpeg, CardScale())
    found = {f.code: f for f in photo.findings}
    assert code in found and found[code].message and found[code].remedy
    if placed:
        x0, y0, x1, y1 = found[code].place_px or (0, 0, 0, 0)
        assert -200 < x0 < x1 < photo.width_px + 200 and -200 < y0 < y1 < photo.height_px + 200
    if verdict:
        assert verdict_of(photo.findings).level == verdict


def test_the_worst_finding_is_the_verdict_and_its_reason() -> None:
    note, warning, problem = (Finding(s, s, f"a {s}", "do") for s in ("note", "warning", "problem"))  # type: ignore[arg-type]
    assert verdict_of([]).level == verdict_of([note]).level == "good"
    assert verdict_of([note, warning]).reason == "a warning" and verdict_of([warning]).level == "usable"
    assert verdict_of([warning, problem]).level == "retake" and verdict_of([problem, warning]).reason == "a problem"


@given(
    arrays(float, 60, elements=st.floats(3, 400)), arrays(float, 60, elements=st.floats(0.3, 1.4)), st.floats(0.6, 2.5)
)
def test_melted_grounds_share_the_light_of_their_blob(area: np.ndarray, contrast: np.ndarray, sigma: float) -> None:
    rows, areas = split_unresolved(area, contrast, sigma)
    assert np.bincount(rows, weights=areas, minlength=60) == pytest.approx(area, abs=0.3)
    assert (np.diff(rows) >= 0).all() and (areas > 0).all()
    assert (np.bincount(rows, minlength=60)[contrast > 1.3] == 1).all()
