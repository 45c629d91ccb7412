"""Blur put into a drawn sheet of discs and taken out again."""

from dataclasses import replace

import cv2
import numpy as np
import pytest

from hakari.core.arrays import Image32
from hakari.core.photo.detect import Sharpness
from hakari.core.photo.sharpen import WANTED_PX, sharpened

SHARP = Sharpness(plateau=1.0, blur_sigma_px=1.2, noise=0.01)


def discs() -> Image32:
    """Coverage 0…1 by some 1,200 discs of 8 to 30 px on 1600×1600 px."""
    rng = np.random.default_rng(5)
    sheet = np.zeros((1600, 1600), np.uint8)
    for x, y, d in zip(*rng.uniform(20, 1580, (2, 1200)), rng.uniform(8, 30, 1200), strict=True):
        cv2.circle(sheet, (int(16 * x), int(16 * y)), int(8 * d), 255, -1, cv2.LINE_AA, 4)
    return sheet.astype(np.float32) / 255


def photographed(cover: Image32, blur_px: float, noise: float = 0.01) -> Image32:
    """The sheet blurred, with noise."""
    seen = cv2.GaussianBlur(cover, (0, 0), blur_px)
    return np.asarray(seen + np.random.default_rng(6).normal(0, noise, seen.shape), np.float32)


def test_a_soft_photo_is_sharpened_and_keeps_its_light() -> None:
    soft = replace(SHARP, blur_sigma_px=2.3)
    seen = photographed(discs(), soft.blur_sigma_px)
    result, after = sharpened(seen, soft, 40.0)
    assert WANTED_PX <= after.blur_sigma_px < 0.75 * soft.blur_sigma_px
    assert float(result.sum()) * after.plateau == pytest.approx(float(seen.sum()), rel=1e-3)
    sharp_target = photographed(discs(), after.blur_sigma_px, noise=0.0)
    assert np.sqrt(((result - sharp_target) ** 2).mean()) < 0.6 * np.sqrt(((seen - sharp_target) ** 2).mean())
    assert sharpened(seen, SHARP, 40.0)[0] is seen
