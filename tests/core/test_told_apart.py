"""Paper, ground, shadow and chaff on painted pictures: every pixel's light and cover are known, in any tint of light."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
import pytest

from hakari.core.arrays import BoolArray, FloatArray, Image32, Uint8Array
from hakari.core.photo.cells import Cells, make_cells
from hakari.core.photo.coverage import coverage_of
from hakari.core.photo.decode import linear_light
from hakari.core.photo.levels import find_levels
from hakari.core.photo.paper import PaperLight, find_paper
from hakari.core.photo.regions import Regions, find_regions

SIDE, UM_PER_PX, CELL_PX, BLUR_PX = 600, 30.0, 2.0, 0.9
COFFEE, CHAFF = np.array([0.060, 0.034, 0.018]), np.array([0.52, 0.38, 0.22])
LIGHTS = {
    "daylight": np.array([0.80, 0.80, 0.80]),
    "lamp": np.array([0.86, 0.76, 0.58]),
    "shade": np.array([0.66, 0.74, 0.86]),
    "dim": np.array([0.34, 0.33, 0.31]),
}


def srgb8(linear: FloatArray) -> Uint8Array:
    """Linear light to 8-bit sRGB (IEC 61966-2-1)."""
    v = np.clip(linear, 0, 1)
    return np.round(255 * np.where(v <= 0.0031308, 12.92 * v, 1.055 * v ** (1 / 2.4) - 0.055)).astype(np.uint8)


@dataclass(frozen=True)
class Painted:
    """A picture with the share of each pixel that grounds and flakes cover and how deep its shadow is."""

    rgb: Uint8Array
    paper: FloatArray
    grounds: Image32
    flakes: Image32
    shadow: FloatArray


def discs(rng: np.random.Generator, count: int, radii: tuple[float, float], taken: BoolArray) -> Image32:
    """Coverage by discs that keep clear of what is taken, which is added to."""
    cover = np.zeros((SIDE, SIDE), np.float32)
    for _ in range(50 * count):
        radius = rng.uniform(*radii)
        x, y = rng.uniform(20, SIDE - 20, 2)
        around = np.zeros((SIDE, SIDE), np.uint8)
        cv2.circle(around, (round(x), round(y)), round(radius + 9), 1, cv2.FILLED)
        if (taken & (around > 0)).any():
            continue
        taken |= around > 0
        fine = np.zeros((SIDE, SIDE), np.uint8)
        cv2.circle(fine, (round(x * 16), round(y * 16)), round(radius * 16), 255, cv2.FILLED, cv2.LINE_AA, 4)
        cover = np.maximum(cover, fine.astype(np.float32) / 255)
        count -= 1
        if count == 0:
            break
    return cover


def paint(light: str, shadow_depth: float = 0.0, flakes: int = 0, fall: float = 0.0, seed: int = 5) -> Painted:
    """Paint grounds (and flakes) on paper under a light that falls off to the right; each ground throws a shadow."""
    rng = np.random.default_rng(seed)
    taken = np.zeros((SIDE, SIDE), np.bool_)
    grounds = discs(rng, 60, (5, 14), taken)
    chaff = discs(rng, flakes, (8, 16), taken) if flakes else np.zeros((SIDE, SIDE), np.float32)
    even = 1 - fall * np.linspace(0, 1, SIDE)[None, :, None]
    paper = LIGHTS[light] * even * np.ones((SIDE, SIDE, 1))
    moved = np.roll(grounds, (6, 8), (0, 1))
    shadow = shadow_depth * np.asarray(cv2.GaussianBlur(moved, (0, 0), 2.0), np.float64)
    scene = paper * (1 - shadow[..., None])
    for cover, colour in ((chaff, CHAFF), (grounds, COFFEE)):
        scene = scene * (1 - cover[..., None]) + cover[..., None] * colour * paper / 0.8
    seen = cv2.GaussianBlur(scene, (0, 0), BLUR_PX) + rng.normal(0, 0.004, scene.shape)
    return Painted(srgb8(seen), paper, grounds, chaff, shadow)


def found(p: Painted) -> tuple[Image32, PaperLight, Cells, Regions, Image32]:
    light = linear_light(p.rgb)
    paper = find_paper(p.rgb, UM_PER_PX, None)
    cells = make_cells(p.rgb, light, paper, None, CELL_PX)
    regions = find_regions(cells)
    return light, paper, cells, regions, coverage_of(p.rgb, light, paper, cells, regions, find_levels(cells, regions))


def on_cells(of_pixels: FloatArray | Image32) -> FloatArray:
    return np.asarray(of_pixels, np.float64).reshape(SIDE // 2, 2, SIDE // 2, 2).mean(axis=(1, 3))


def inside_of(of_pixels: Image32) -> BoolArray:
    """Cells that lie so deep in something that its blurred rim does not reach them."""
    whole = (on_cells(of_pixels) > 0.99).astype(np.uint8)
    return np.asarray(cv2.erode(whole, np.ones((3, 3), np.uint8)) > 0)


@pytest.mark.parametrize("fall", [0.0, 0.35])
@pytest.mark.parametrize("light", LIGHTS)
def test_the_light_on_paper_is_found_under_grounds_and_shadows(light: str, fall: float) -> None:
    p = paint(light, shadow_depth=0.5, fall=fall)
    paper = find_paper(p.rgb, UM_PER_PX, None)
    mix = np.array([0.15, 0.65, 0.20])
    truth = p.paper @ mix
    inner = np.s_[30:-30, 30:-30]
    off = paper.resized(paper.light, (SIDE, SIDE))[inner] / truth[inner] - 1
    assert abs(np.median(off)) < 0.01
    assert np.quantile(np.abs(off), 0.95) < 0.04
    red, _, blue = LIGHTS[light]
    assert paper.red_over_blue == pytest.approx(red / blue, rel=0.03)


def test_print_and_table_outside_the_paper_do_not_change_its_light() -> None:
    p = paint("daylight")
    inside = np.zeros((SIDE, SIDE), np.uint8)
    inside[60:-60, 60:-60] = 1
    rgb = p.rgb.copy()
    rgb[inside == 0] = (40, 30, 160)
    paper = find_paper(rgb, UM_PER_PX, inside)
    off = paper.resized(paper.light, (SIDE, SIDE))[100:-100, 100:-100] / 0.8 - 1
    assert np.abs(off).max() < 0.03


@pytest.mark.parametrize("depth", [0.0, 0.3, 0.6])
@pytest.mark.parametrize("light", ["daylight", "lamp", "shade"])
def test_grounds_are_ground_and_shadows_are_not(light: str, depth: float) -> None:
    p = paint(light, shadow_depth=depth)
    _, _, _, regions, cover = found(p)
    ground, shade = on_cells(p.grounds), on_cells(p.shadow)
    assert regions.coffee.coloured
    core = regions.core > 0
    assert core[inside_of(p.grounds)].mean() > 0.9
    assert core[(ground < 0.01)].mean() < 0.002
    only_shade = (shade > 0.7 * depth) & (cv2.dilate(ground, np.ones((5, 5))) < 0.01)
    if depth >= 0.3:
        assert only_shade.sum() > 200
        assert regions.shadow.light > 0 or depth < 0.5
        # A pixel of shadow counts as less than a tenth of a pixel of coffee.
        full = cv2.resize(only_shade.astype(np.uint8), (SIDE, SIDE), interpolation=cv2.INTER_NEAREST) > 0
        assert abs(cover[full].mean()) < 0.1
    # At half height an edge stays where it is; what a shadow takes from it is paper that is darker, not less coffee.
    seen = cv2.GaussianBlur(p.grounds, (0, 0), BLUR_PX)
    assert (cover > 0.5).sum() == pytest.approx((seen > 0.5).sum(), rel=0.05 if depth else 0.01)
    if not depth:
        assert float(cover.sum()) == pytest.approx(float(p.grounds.sum()), rel=0.01)


@pytest.mark.parametrize("light", ["daylight", "lamp"])
def test_half_of_the_pieces_chaff_leaves_the_coffee_as_it_is(light: str) -> None:
    p = paint(light, flakes=50)
    _, _, _, regions, cover = found(p)
    assert (regions.chaff > 0)[inside_of(p.flakes)].mean() > 0.8
    assert (regions.core > 0)[on_cells(p.flakes) > 0.5].mean() < 0.02
    assert (regions.chaff > 0)[inside_of(p.grounds)].mean() < 0.02
    at_grounds = cv2.dilate(p.grounds, np.ones((9, 9))) > 0
    assert float(cover[at_grounds].sum() / p.grounds.sum()) == pytest.approx(1.0, abs=0.06)


def test_edges_lie_halfway_whatever_the_light() -> None:
    for light in LIGHTS:
        p = paint(light)
        cover = found(p)[-1]
        inside = (cover > 0.5)[20:-20, 20:-20].sum()
        # A blurred edge stays in place; πσ² of each closed outline goes to its curvature.
        count = cv2.connectedComponents((p.grounds > 0.5).astype(np.uint8))[0] - 1
        truth = p.grounds[20:-20, 20:-20].sum() - count * np.pi * BLUR_PX**2
        assert inside == pytest.approx(truth, rel=0.03), light


def test_without_colour_darkness_alone_tells_and_it_is_known() -> None:
    p = paint("daylight")
    grey = np.repeat(p.rgb.mean(axis=2, keepdims=True), 3, axis=2).astype(np.uint8)
    _, _, _, regions, cover = found(Painted(grey, p.paper, p.grounds, p.flakes, p.shadow))
    assert not regions.coffee.coloured
    assert not regions.chaff.any()
    assert (regions.core > 0)[inside_of(p.grounds)].mean() > 0.95
    assert float(cover.sum() / p.grounds.sum()) == pytest.approx(1.0, abs=0.08)
