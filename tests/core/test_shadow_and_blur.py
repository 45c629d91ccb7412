"""Shadows beside grounds and blur, put into a drawn sheet of discs and taken out again."""

from dataclasses import replace

import cv2
import numpy as np
import pytest

from hakari.core.photo.contact_shadow import find_contact_shadow, take_off, without_contact_shadows
from hakari.core.photo.detect import Sharpness
from hakari.core.photo.flatten import Image32
from hakari.core.photo.sharpen import WANTED_PX, sharpened

SHARP = Sharpness(plateau=1.0, blur_sigma_px=1.2, noise=0.01)
SHIFT_PX, SOFTNESS_PX = (4.0, -5.0), 3.5


def discs() -> Image32:
    """Coverage 0…1 by some 1,200 discs of 8 to 30 px on 1600×1600 px."""
    rng = np.random.default_rng(5)
    sheet = np.zeros((1600, 1600), np.uint8)
    for x, y, d in zip(*rng.uniform(20, 1580, (2, 1200)), rng.uniform(8, 30, 1200), strict=True):
        cv2.circle(sheet, (int(16 * x), int(16 * y)), int(8 * d), 255, -1, cv2.LINE_AA, 4)
    return sheet.astype(np.float32) / 255


def photographed(cover: Image32, depth: float, blur_px: float, noise: float = 0.01) -> Image32:
    """The sheet with shadows of this depth, blurred, with noise."""
    move = np.array([[1, 0, SHIFT_PX[0]], [0, 1, SHIFT_PX[1]]], np.float32)
    shade = depth * cv2.GaussianBlur(cv2.warpAffine(cover, move, cover.shape[::-1]), (0, 0), SOFTNESS_PX)
    seen = cv2.GaussianBlur(cover + shade * (1 - cover), (0, 0), blur_px)
    return np.asarray(seen + np.random.default_rng(6).normal(0, noise, seen.shape), np.float32)


@pytest.mark.parametrize("depth", [0.12, 0.3])
def test_a_shadow_is_found_as_it_was_cast_and_taken_off(depth: float) -> None:
    cover = discs()
    seen = photographed(cover, depth, SHARP.blur_sigma_px)
    shadow = find_contact_shadow(seen, SHARP)
    assert shadow is not None
    assert shadow.depth == pytest.approx(depth, rel=0.15)
    assert (shadow.dx_px, shadow.dy_px) == pytest.approx(SHIFT_PX, abs=0.8)
    left = take_off(seen, shadow, SHARP) - photographed(cover, 0.0, SHARP.blur_sigma_px)
    put_on = seen - photographed(cover, 0.0, SHARP.blur_sigma_px)
    assert abs(left.mean()) < 0.1 * put_on.mean()
    assert np.sqrt((left**2).mean()) < 0.25 * np.sqrt((put_on**2).mean())


def test_without_side_light_nothing_is_taken_off() -> None:
    seen = photographed(discs(), 0.0, SHARP.blur_sigma_px)
    assert without_contact_shadows(seen, SHARP) is seen


def test_a_soft_photo_is_sharpened_and_keeps_its_light() -> None:
    soft = replace(SHARP, blur_sigma_px=2.3)
    seen = photographed(discs(), 0.0, soft.blur_sigma_px)
    result, after = sharpened(seen, soft, 40.0)
    assert WANTED_PX <= after.blur_sigma_px < 0.75 * soft.blur_sigma_px
    assert float(result.sum()) * after.plateau == pytest.approx(float(seen.sum()), rel=1e-3)
    sharp_target = photographed(discs(), 0.0, after.blur_sigma_px, noise=0.0)
    assert np.sqrt(((result - sharp_target) ** 2).mean()) < 0.6 * np.sqrt(((seen - sharp_target) ** 2).mean())
    assert sharpened(seen, SHARP, 40.0)[0] is seen
