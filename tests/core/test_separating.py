"""Touching grounds are told apart and measured: drawn discs, ellipses and dumbbells, whose areas and necks are known."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from hakari.core.arrays import FloatArray, Image32
from hakari.core.photo.concavity_split import best_chords, fullness, resample, split_outlines
from hakari.core.photo.detect import Sharpness
from hakari.core.photo.measure import Blobs, measure_blobs
from hakari.core.photo.separate import separate
from hakari.core.photo.unresolved import split_unresolved

UM_PER_PX, BLUR_PX, SIDE, FINE = 20.0, 0.9, 128, 5
SHARP = Sharpness(plateau=1.0, blur_sigma_px=BLUR_PX, noise=0.002)


def covered(*shapes: tuple[float, float, float, float, float]) -> Image32:
    """Coverage by ellipses (x, y, half axes, angle), each pixel by its true share, then blurred as a lens does."""
    at = (np.arange(SIDE * FINE) + 0.5) / FINE
    fine = np.zeros((SIDE * FINE, SIDE * FINE), np.bool_)
    for x, y, a, b, angle in shapes:
        near = [slice(max(0, int((v - a - b) * FINE)), int((v + a + b) * FINE) + 1) for v in (y, x)]
        dy, dx = at[near[0], None] - y, at[None, near[1]] - x
        c, s = np.cos(np.radians(angle)), np.sin(np.radians(angle))
        fine[near[0], near[1]] |= ((c * dx + s * dy) / a) ** 2 + ((c * dy - s * dx) / b) ** 2 <= 1
    image = fine.reshape(SIDE, FINE, SIDE, FINE).mean(axis=(1, 3), dtype=np.float32)
    return np.asarray(cv2.GaussianBlur(image, (0, 0), BLUR_PX), np.float32)


def disc(x: float, y: float, r: float) -> tuple[float, float, float, float, float]:
    return x, y, r, r, 0.0


def measured(coverage: Image32) -> Blobs:
    light = np.float32(1) - np.float32(0.8) * coverage
    labels = separate(coverage, light, 0.3, SHARP, UM_PER_PX)
    return measure_blobs(coverage, labels, SHARP, UM_PER_PX)


@pytest.mark.parametrize("r", [3.0, 4.5, 6.0, 9.0, 14.0, 22.0, 40.0])
def test_a_disc_has_the_area_and_the_shape_of_a_disc(r: float) -> None:
    blobs = measured(covered(disc(64.3, 61.6, r)))
    assert len(blobs.area_px) == 1
    assert np.sqrt(blobs.area_px[0] / np.pi) == pytest.approx(r, rel=0.02)
    assert (blobs.x_px[0], blobs.y_px[0]) == pytest.approx((63.8, 61.1), abs=0.5)
    if r > 5:
        assert blobs.min_feret_px[0] == pytest.approx(2 * r, rel=0.08)
        assert blobs.max_feret_px[0] == pytest.approx(2 * r, rel=0.08)
        assert blobs.circularity[0] > 0.88 and blobs.solidity[0] > 0.93


@pytest.mark.parametrize("r", [1.2, 1.6, 2.2, 4.0, 12.0])
def test_every_ground_has_an_outline_round_its_middle(r: float) -> None:
    blobs = measured(covered(disc(40.3, 61.6, r), disc(90.1, 60.2, r)))
    assert len(blobs.area_px) == 2
    for k in (0, 1):
        outline = blobs.outline_px[blobs.outline_start[k] : blobs.outline_start[k + 1]]
        away = np.hypot(outline[:, 0] - blobs.x_px[k], outline[:, 1] - blobs.y_px[k])
        assert len(outline) >= 6 and away.mean() == pytest.approx(r, abs=0.8)


@pytest.mark.parametrize(("radius", "left", "filled"), [(2.5, 0.35, True), (4.0, 0.38, True), (4.0, 0.1, False)])
def test_what_shines_inside_a_ground_belongs_to_it_and_paper_does_not(radius: float, left: float, filled: bool) -> None:
    coverage = covered(disc(64.3, 61.6, 14.0)) - np.float32(1 - left) * covered(disc(64.3, 61.6, radius))
    labels = separate(coverage, 1 - coverage, 0.45, SHARP, UM_PER_PX)
    y, x = np.mgrid[:SIDE, :SIDE] + 0.5
    inner = labels.image[np.hypot(x - 64.3, y - 61.6) < radius - 0.5]
    assert np.unique(labels.image).tolist() == [0, 1]
    assert inner.size and (inner == (1 if filled else 0)).all()


@pytest.mark.parametrize("angle", [0, 30, 45, 77, 90])
@pytest.mark.parametrize("ratio", [1.3, 1.8, 2.5])
def test_an_ellipse_stays_one_and_keeps_its_axes_however_it_lies(angle: float, ratio: float) -> None:
    b = 10.0
    blobs = measured(covered((64, 64, b * ratio, b, angle)))
    assert len(blobs.area_px) == 1
    assert blobs.area_px[0] == pytest.approx(np.pi * b * b * ratio, rel=0.03)
    assert blobs.max_feret_px[0] / blobs.min_feret_px[0] == pytest.approx(ratio, rel=0.08)


@settings(max_examples=60, deadline=None)
@given(r=st.floats(7, 20), share=st.floats(0.5, 1.0), angle=st.floats(0, 2 * np.pi), nearness=st.floats(0.95, 1.02))
def test_two_that_touch_are_two_with_their_own_areas(r: float, share: float, angle: float, nearness: float) -> None:
    small = max(6.0, share * r)
    away = nearness * (r + small)
    x, y = 64 + away * np.cos(angle), 64 + away * np.sin(angle)
    assume(small + 3 < x < SIDE - small - 3 and small + 3 < y < SIDE - small - 3)
    blobs = measured(covered(disc(64, 64, r), disc(x, y, small)))
    assert len(blobs.area_px) == 2
    # Each is its disc without what lies beyond the chord through both crossings.
    inner = np.clip((away**2 + r**2 - small**2) / (2 * away), -r, r)
    own = [
        np.pi * q**2 - q**2 * (t - np.sin(t) * np.cos(t))
        for q, t in ((r, np.arccos(inner / r)), (small, np.arccos(np.clip((away - inner) / small, -1, 1))))
    ]
    found = np.sort(blobs.area_px)
    assert np.sqrt(found / np.pi) == pytest.approx(np.sqrt(np.array(sorted(own)) / np.pi), abs=0.5)
    assert found.sum() == pytest.approx(sum(own), rel=0.06)  # blur fills the crevice between small ones


@settings(max_examples=40, deadline=None)
@given(r=st.floats(8, 20), angle=st.floats(0, np.pi / 2), nearness=st.floats(0.0, 0.45))
def test_two_that_lie_over_each_other_for_the_most_part_are_not_torn_apart(
    r: float, angle: float, nearness: float
) -> None:
    away = nearness * 2 * r
    blobs = measured(covered(disc(56, 56, r), disc(56 + away * np.cos(angle), 56 + away * np.sin(angle), r)))
    assert len(blobs.area_px) == 1


def test_rows_and_rings_of_grounds_are_counted_and_their_light_is_kept() -> None:
    row = [disc(14 + 23 * k, 16, 12) for k in range(5)]
    ring = [disc(64 + 26 * np.cos(t), 80 + 26 * np.sin(t), 9.5) for t in np.linspace(0, 2 * np.pi, 9)[:-1]]
    blobs = measured(covered(*row, *ring))
    # Crumbs of a cut are far below what counts.
    assert np.count_nonzero(blobs.area_px > 1) == 13
    assert blobs.area_px.sum() == pytest.approx(np.pi * (5 * 12**2 + 8 * 9.5**2), rel=0.03)


def test_small_ones_far_apart_are_all_found_and_add_up() -> None:
    at = [(x, y) for x in range(12, 120, 14) for y in range(12, 120, 14)]
    blobs = measured(covered(*[disc(x + 0.3 * (y % 3), y, 2.6) for x, y in at]))
    assert len(blobs.area_px) == len(at)
    assert np.median(np.sqrt(blobs.area_px / np.pi)) == pytest.approx(2.6, rel=0.05)


def _dumbbell(neck: float, turn: float) -> FloatArray:
    """An outline of two circles of radius 30 joined where the chord between them is ``neck``, from any starting point."""
    half = np.arcsin(neck / 60)
    arc = np.linspace(half, 2 * np.pi - half, 60)
    right = 30 * np.column_stack([np.cos(np.pi + arc), np.sin(np.pi + arc)])
    middle = 30 * np.cos(half)
    outline = np.vstack([right + (middle, 0), -right - (middle, 0)])
    c, s = np.cos(turn), np.sin(turn)
    return np.roll(outline @ np.array([[c, s], [-s, c]]), int(20 * turn), axis=0) + 100


@given(neck=st.floats(6, 36), turn=st.floats(0, 2 * np.pi))
def test_the_chord_of_a_waist_is_its_neck_however_the_outline_lies_and_begins(neck: float, turn: float) -> None:
    contour = np.round(_dumbbell(neck, turn) * 4).astype(np.int32)[:, None, :]
    [outline] = resample([contour])
    [chord] = best_chords(outline[None])
    assert chord is not None
    a, b = outline[chord[0]], outline[chord[1]]
    assert np.hypot(*(a - b)) / 4 == pytest.approx(neck, abs=4.5)
    assert (a + b) / 8 == pytest.approx((100, 100), abs=4)
    [parts] = split_outlines([outline])
    areas = [cv2.contourArea(p.astype(np.float32)) / 16 for p in parts]
    # Each is a circle without the segment beyond the neck.
    half = np.arcsin(neck / 60)
    assert areas == pytest.approx([30**2 * (np.pi - half + np.sin(2 * half) / 2)] * 2, rel=0.05)


def test_how_full_a_hull_is_follows_from_areas() -> None:
    square = np.array([[0, 0], [100, 0], [100, 100], [0, 100]], np.int32)
    corner = np.array([[0, 0], [100, 0], [100, 50], [50, 50], [50, 100], [0, 100]], np.int32)
    draw = [cv2.drawContours(np.zeros((110, 110), np.uint8), [c[:, None]], 0, 1, cv2.FILLED) for c in (square, corner)]
    full = [fullness(cv2.findContours(d, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)[0][0]) for d in draw]
    # The hull of the bent one is the square without a triangle: 3/4 of 7/8.
    assert full[0] == pytest.approx(1) and full[1] == pytest.approx(0.75 / 0.875, abs=0.02)


@settings(max_examples=40, deadline=None)
@given(st.lists(st.floats(4, 60), min_size=40, max_size=80), st.integers(0, 2**32 - 1))
def test_melted_blobs_share_their_light_and_lose_none(areas: list[float], seed: int) -> None:
    area = np.array(areas)
    peak = 1 - np.exp(-(np.sqrt(4 * area / np.pi) ** 2) / (8 * BLUR_PX**2))
    contrast = np.random.default_rng(seed).uniform(0.4, 1.1, len(area))
    rows, shared = split_unresolved(area, contrast * peak / peak, BLUR_PX)
    assert np.all(np.diff(rows) >= 0) and set(rows.tolist()) == set(range(len(area)))
    assert np.bincount(rows, weights=shared) == pytest.approx(area)
    fainter = np.bincount(rows)[contrast < 0.45 * np.median(contrast)]
    assert np.all(fainter >= 1)
    # The darkest of all is one ground.
    assert np.bincount(rows)[int(np.argmax(contrast))] == 1
