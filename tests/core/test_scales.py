"""Scales other than the plain card: a disc of known size, a stretched print, bright things on a dark ground."""

import io

import cv2
import numpy as np
import pytest
import skimage.data
from benchmarks.pictures.flat import Made
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from hakari.core.errors import InputError
from hakari.core.photo.card import CHECK_BAR_MM
from hakari.core.photo.disc import find_disc
from hakari.core.photo.pipeline import CardScale, DiscScale, PointsScale, measure_photo

PAPER, COIN = 0.8, 0.3


def paper_with_disc(x: float, y: float, long_px: float, ratio: float = 1.0, angle_deg: float = 0.0) -> np.ndarray:
    """Linear light of a blurred disc, seen as an ellipse, on unevenly lit paper with a soft shadow beside it."""
    s, size = 4, (900, 1200)
    axes = (round(long_px * s), round(long_px * ratio * s))
    centre = (round((x + 0.5) * s), round((y + 0.5) * s))
    shadow = np.full(size, PAPER, np.float32)
    beside, wide = (centre[0] // s + 8, centre[1] // s + 6), (axes[0] // s, axes[1] // s)
    cv2.ellipse(shadow, beside, wide, angle_deg, 0, 360, 0.62, cv2.FILLED)
    big = cv2.resize(cv2.GaussianBlur(shadow, (0, 0), 4), None, fx=s, fy=s)
    cv2.ellipse(big, centre, axes, angle_deg, 0, 360, COIN, cv2.FILLED)
    light = cv2.GaussianBlur(cv2.resize(big, size[::-1], interpolation=cv2.INTER_AREA), (0, 0), 1.0)
    fall = 1 - 0.25 * np.linspace(0, 1, size[1], dtype=np.float32)
    noise = np.random.default_rng(3).normal(0, 0.004, size).astype(np.float32)
    return np.asarray(light * fall + noise, np.float32)


@settings(max_examples=12)
@given(st.floats(320, 850), st.floats(300, 600), st.floats(110, 210))
def test_the_rim_of_a_disc_is_found_to_a_fraction_of_a_pixel(x: float, y: float, radius: float) -> None:
    found = find_disc(paper_with_disc(x, y, radius), 20.0, 0.0)
    assert np.sqrt(found.ellipse.long_px * found.ellipse.short_px) == pytest.approx(radius, abs=0.6)
    assert (found.ellipse.x, found.ellipse.y) == (pytest.approx(x, abs=0.7), pytest.approx(y, abs=0.7))
    assert found.tilt_deg is None and found.plane.homography[0, 0] == pytest.approx(10.0 / radius, rel=0.006)


def test_tilt_shows_in_the_axis_ratio_and_thickness_makes_the_outline_large() -> None:
    tilted = find_disc(paper_with_disc(600, 450, 180, ratio=np.cos(np.radians(20)), angle_deg=30), 22.0)
    assert tilted.tilt_deg == pytest.approx(20, abs=1.5) and tilted.tilt_bias > 0.03
    flat, thick = (find_disc(paper_with_disc(600, 450, 180), 22.0, t) for t in (0.0, 3.0))
    assert thick.enlarged_by > 1.01 and flat.enlarged_by == 1.0
    assert thick.plane.homography[0, 0] / flat.plane.homography[0, 0] == pytest.approx(thick.enlarged_by)


def test_no_disc_and_an_unlikely_diameter_are_refused() -> None:
    for light, diameter, code in (
        (np.full((600, 800), 0.8, np.float32), 20.0, "disc-not-found"),
        (paper_with_disc(600, 450, 180), 0.0, "diameter-not-positive"),
    ):
        with pytest.raises(InputError) as refusal:
            find_disc(light, diameter)
        assert refusal.value.code == code and refusal.value.remedy


def test_a_disc_beside_the_grounds_gives_their_size_and_is_not_a_ground(no_card_picture: Made) -> None:
    picture = np.asarray(Image.open(io.BytesIO(no_card_picture.jpeg))).copy()
    px_per_mm = 1000 / no_card_picture.scene.um_per_px
    disc = np.zeros((picture.shape[0] * 4, picture.shape[1] * 4), np.uint8)
    radius = 9.0 * px_per_mm
    cv2.circle(disc, (round(4 * radius + 60), round(4 * radius + 60)), round(4 * radius), 255, cv2.FILLED)
    cover = cv2.resize(disc, picture.shape[1::-1], interpolation=cv2.INTER_AREA)[:, :, None] / 255
    picture = np.asarray(picture * (1 - cover) + 120 * cover, np.uint8)
    out = io.BytesIO()
    Image.fromarray(picture).save(out, "PNG")
    photo = measure_photo(out.getvalue(), DiscScale(18.0, 0.0))
    assert photo.scale.um_per_px == pytest.approx(no_card_picture.scene.um_per_px, rel=0.01)
    assert photo.particles.counted.diameter_um.max() < 3600
    assert "disc-thickness" in {f.code for f in photo.findings}


def test_a_stretched_print_is_put_right_by_its_check_bar(small_picture: Made) -> None:
    plain = measure_photo(small_picture.jpeg, CardScale())
    stretched = measure_photo(small_picture.jpeg, CardScale(CHECK_BAR_MM * 1.03))
    largest, longer = (np.sort(p.particles.diameter_um)[-100:] for p in (plain, stretched))
    assert np.median(longer / largest) == pytest.approx(1.03, rel=2e-3)
    assert "printer-scaled" in {f.code for f in stretched.findings}
    with pytest.raises(InputError) as refusal:
        measure_photo(small_picture.jpeg, CardScale(25.0))
    assert refusal.value.field == "scale.bar_mm"


def test_real_coins_bright_on_dark_are_counted_right_within_one() -> None:
    out = io.BytesIO()
    Image.fromarray(skimage.data.coins()).save(out, "PNG")
    # Any scale will do for counting; this one makes a coin about as large as the largest grounds.
    p = measure_photo(out.getvalue(), PointsScale(0, 0, 300, 0, 20), "bright").particles.counted
    coins = p.diameter_um > 0.55 * np.sort(p.diameter_um)[-12]
    assert abs(int(coins.sum()) - 24) <= 1
    assert 35 < np.median(p.diameter_um[coins]) / (20_000 / 300) < 50
