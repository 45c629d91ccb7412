"""What the live view says before a photo is taken, on made frames whose view, blur and light are known."""

from __future__ import annotations

import io
from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from benchmarks.pictures.flat import make_picture
from benchmarks.pictures.flat_camera import Scene, place_px
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from hakari.core.photo.card import CARDS
from hakari.core.photo.framing import Framing, framing_of

FRAME = Scene(
    width_px=960, height_px=720, um_per_px=95, median_um=900, fines_share=0.001, coverage=0.05, grounds_limit=30_000,
    blur_sigma_px=0.6, tilt_deg=3, seed=3,
)  # fmt: skip


def seen(scene: Scene) -> Framing:
    return framing_of(np.asarray(Image.open(io.BytesIO(make_picture(scene).jpeg)).convert("RGB")))


@pytest.mark.parametrize(
    ("change", "cues"),
    [
        ({}, ()),
        ({"paper": "a6", "um_per_px": 170}, ()),
        ({"turn_deg": 90, "um_per_px": 130}, ()),
        ({"warm": 0.3, "falloff": 0.4}, ()),
        ({"um_per_px": 150}, ("closer",)),
        ({"um_per_px": 82, "turn_deg": 8}, ("card-cut-off",)),
        ({"tilt_deg": 20}, ("flatter",)),
        ({"blur_sigma_px": 1.6}, ("steadier",)),
        ({"exposure": 0.05}, ("more-light",)),
        ({"exposure": 1.4}, ("less-light",)),
        ({"hand_shadow": 0.6}, ("shadow",)),
        ({"coverage": 0.22, "fines_share": 0.0}, ("spread-thinner",)),
        ({"coverage": 0.001}, ("no-grounds",)),
        ({"with_card": False}, ("no-card",)),
        ({"with_card": False, "exposure": 0.03}, ("more-light", "no-card")),
        (
            {"um_per_px": 160, "tilt_deg": 20, "blur_sigma_px": 1.8, "fines_share": 0.02},
            ("closer", "flatter", "steadier"),
        ),
    ],
)
def test_each_fault_of_a_frame_has_its_cue_and_a_good_frame_none(change: dict[str, Any], cues: tuple[str, ...]) -> None:
    framing = seen(replace(FRAME, **change))
    assert framing.cues == cues and framing.ready == (not cues)


def test_where_the_card_lies_is_told_as_the_camera_stood() -> None:
    for tilt, turn in ((3, 2), (9, -6)):
        scene = replace(FRAME, tilt_deg=tilt, turn_deg=turn)
        framing = seen(scene)
        well = CARDS["pocket"].well
        mm = np.array([[well.x, well.y], [well.x + well.width, well.y], [well.x + well.width, well.y + well.height],
                       [well.x, well.y + well.height]])  # fmt: skip
        assert framing.corners is not None and framing.tilt_deg is not None
        np.testing.assert_allclose(framing.corners * (960, 720), place_px(scene, mm), atol=1.0)
        assert framing.tilt_deg == pytest.approx(tilt, abs=1.0)


@pytest.mark.parametrize("turn_deg", [0, 80, 175, 265])
def test_the_nearer_side_is_where_a_millimetre_takes_more_pixels(turn_deg: float) -> None:
    scene = replace(FRAME, tilt_deg=10, turn_deg=turn_deg, um_per_px=140)
    lean = seen(scene).lean_deg
    assert lean is not None and np.hypot(*lean) == pytest.approx(10, abs=1.5)
    card = CARDS["pocket"]
    middle = np.array([card.width_mm / 2, card.height_mm / 2])
    step = np.array([[0, 0], [0.5, 0], [0, 0.5]])
    angles = np.arange(0, 360, 15)
    px_per_mm = []
    for angle in np.radians(angles):
        at = place_px(scene, middle + 20 * np.array([np.cos(angle), np.sin(angle)]) + step)
        px_per_mm.append((at[0], np.sqrt(abs(np.linalg.det(at[1:] - at[0])))))
    nearest = max(px_per_mm, key=lambda p: p[1])[0] - place_px(scene, middle[None])[0]
    assert np.degrees(np.arctan2(lean[1], lean[0])) == pytest.approx(
        np.degrees(np.arctan2(nearest[1], nearest[0])), abs=15
    )


def test_a_larger_frame_says_the_same() -> None:
    small, large = seen(FRAME), seen(replace(FRAME, width_px=1920, height_px=1440, um_per_px=47.5, blur_sigma_px=1.2))
    assert large.cues == small.cues and large.fill == pytest.approx(small.fill, rel=0.02)


def test_the_width_of_edges_grows_as_the_blur_does() -> None:
    """A Gaussian blur makes an edge 2.563 σ wide from 10 to 90 %; what pixels and lens add stays the same."""
    widths = [seen(replace(FRAME, blur_sigma_px=s)).edge_px for s in (0.8, 1.5)]
    assert widths[0] is not None and widths[1] is not None
    grown = np.sqrt(widths[1] ** 2 - widths[0] ** 2)
    assert grown == pytest.approx(2.563 * np.sqrt(1.5**2 - 0.8**2), rel=0.1)


@settings(max_examples=40)
@given(st.integers(1, 60), st.integers(1, 60), st.integers(0, 2**31))
def test_any_picture_is_answered(height: int, width: int, seed: int) -> None:
    rgb = np.random.default_rng(seed).integers(0, 256, (height, width, 3), np.uint8)
    assert "no-card" in framing_of(rgb).cues
