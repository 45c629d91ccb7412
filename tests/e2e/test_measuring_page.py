"""Measuring, driven in the real page: a scale by hand, several photos, a bad photo, mending grounds, curve and photo."""

from __future__ import annotations

import re
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from benchmarks.pictures.flat import make_picture
from benchmarks.pictures.flat_camera import Scene
from playwright.sync_api import Locator, Page, expect

from conftest import eventually, fetched

MORNING = Scene(
    width_px=2200, height_px=1650, um_per_px=39, median_um=820, sigma_ln=0.28, fines_share=0.03, coverage=0.035,
    touching_share=0.04, grounds_limit=5000, seed=410,
)  # fmt: skip
# Without a card the camera's scale is all there is: two points 1,000 px apart lie this far apart on the paper.
# Nothing else on the canvas comes this near to the accent: ochre dashes over dark grounds blend into a reddish brown.
COUNT_PERSIMMON = """c => { const d = c.getContext('2d').getImageData(0, 0, c.width, c.height).data; let n = 0;
    const accent = getComputedStyle(document.documentElement).getPropertyValue('--persimmon').trim();
    const [r, g, b] = [1, 3, 5].map((k) => parseInt(accent.slice(k, k + 2), 16));
    for (let i = 0; i < d.length; i += 4)
        if (Math.max(Math.abs(d[i] - r), Math.abs(d[i + 1] - g), Math.abs(d[i + 2] - b)) < 16) n++;
    return n }"""
OUTLINED = re.compile(r"with [1-9]\d+ outlined grounds")
POINTS_MM = 1000 * MORNING.um_per_px / 1000


@pytest.fixture(scope="module")
def folder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Photos that the application has never seen: two of one grind, one without a card, one that is no photo."""
    path = tmp_path_factory.mktemp("photos")
    (path / "first.jpg").write_bytes(make_picture(MORNING).jpeg)
    (path / "second.jpg").write_bytes(make_picture(replace(MORNING, seed=411)).jpeg)
    (path / "no-card.jpg").write_bytes(make_picture(replace(MORNING, with_card=False, coverage=0.02, seed=412)).jpeg)
    (path / "notes.jpg").write_text("buy beans")
    return path


def measured(page: Page, url: str, *files: Path) -> None:
    page.goto(f"{url}/measure")
    page.get_by_test_id("photo-input").set_input_files(list(files))
    expect(page.get_by_test_id("d50")).to_be_visible(timeout=60_000)
    # Pointing at grounds needs their outlines.
    expect(page.get_by_test_id("photo")).to_have_attribute("aria-label", OUTLINED, timeout=20_000)


def d50(page: Page) -> float:
    return float(re.sub(r"\D", "", page.get_by_test_id("d50").inner_text()))


def count(page: Page) -> int:
    """How many grounds count."""
    return int(page.locator("li", has_text="Grounds counted").locator(".figure").inner_text().replace(",", ""))


def on_screen(photo: Locator, x_px: float, y_px: float) -> tuple[float, float]:
    """Where a place of the photo lies in the window."""
    zoom, middle_x, middle_y = (float(v) for v in (photo.get_attribute("data-view") or "").split(","))
    box = photo.bounding_box()
    assert box is not None
    return box["x"] + box["width"] / 2 + (x_px - middle_x) * zoom, box["y"] + box["height"] / 2 + (
        y_px - middle_y
    ) * zoom


def a_ground_in_sight(page: Page, url: str) -> tuple[int, float, float, float]:
    """Number, diameter and middle of a large single ground well inside what the photo shows."""
    sample = fetched(page, f"{url}/api/workbenches/current").json()["sample"]["id"]
    found = fetched(page, f"{url}/api/samples/{sample}/photos/0/outlines").json()
    photo = page.get_by_test_id("photo")
    box = photo.bounding_box()
    assert box is not None
    for k in np.argsort(found["diameter_um"])[::-1]:
        points = slice(found["start"][k], found["start"][k + 1])
        x, y = float(np.mean(found["x_px"][points])), float(np.mean(found["y_px"][points]))
        sx, sy = on_screen(photo, x, y)
        inside = (
            box["x"] + 150 < sx < box["x"] + box["width"] - 150 and box["y"] + 70 < sy < box["y"] + box["height"] - 80
        )
        if inside and not found["split"][k]:
            return int(found["number"][k]), float(found["diameter_um"][k]), x, y
    raise AssertionError("no ground in sight")


def test_two_points_set_the_scale_of_a_photo_without_the_card(page: Page, empty_url: str, folder: Path) -> None:
    page.goto(f"{empty_url}/measure")
    page.get_by_test_id("photo-input").set_input_files(folder / "no-card.jpg")
    expect(page.get_by_text("This photo was not measured")).to_be_visible(timeout=30_000)
    page.get_by_role("button", name="Set the scale by hand").click()
    expect(page.get_by_role("button", name="Measure", exact=False)).to_be_disabled()
    picture = page.get_by_role("img", name="no-card.jpg").bounding_box()
    assert picture is not None
    fit = picture["width"] / MORNING.width_px
    for k, x in ((0, 400.0), (1, 1400.0)):
        handle = page.get_by_test_id(f"point-{k}").bounding_box()
        assert handle is not None
        page.mouse.move(handle["x"] + handle["width"] / 2, handle["y"] + handle["height"] / 2)
        page.mouse.down()
        page.mouse.move(picture["x"] + (x + 0.5) * fit, picture["y"] + 800.5 * fit, steps=5)
        expect(page.get_by_test_id("loupe")).to_be_visible()
        page.mouse.up()
    page.get_by_label("Distance between them").fill(f"{POINTS_MM:.1f} mm".replace(".", ","))
    page.get_by_role("button", name="Measure", exact=False).click()
    expect(page.get_by_test_id("d50")).to_be_visible(timeout=30_000)
    assert d50(page) == pytest.approx(820, rel=0.12)
    expect(page.get_by_text("The scale holds only if the phone was level")).to_be_visible()


def test_several_photos_are_measured_one_by_one_and_a_bad_one_says_why(
    page: Page, empty_url: str, folder: Path
) -> None:
    page.goto(f"{empty_url}/measure")
    page.get_by_test_id("photo-input").set_input_files([folder / n for n in ("first.jpg", "notes.jpg", "second.jpg")])
    progress = page.get_by_test_id("photo-progress")
    expect(progress.get_by_role("listitem")).to_have_count(3, timeout=30_000)
    expect(page.get_by_test_id("d50")).to_be_visible(timeout=60_000)
    expect(page.get_by_text("notes.jpg: This file is not a picture that can be read.").first).to_be_visible()
    expect(page.get_by_role("radiogroup", name="Photos of this grind").get_by_role("radio")).to_have_count(2)
    expect(page.get_by_test_id("verdict")).to_contain_text(re.compile("Good|Usable|Take it again"))
    page.get_by_role("radio", name="Photo 2").click()
    expect(page.get_by_test_id("photo")).to_have_attribute("aria-label", re.compile("second.jpg"))
    expect(page.get_by_text(re.compile(r"D50 (to|is known to) ±[\d.]+ %"))).to_be_visible()


def test_a_photo_alone_that_cannot_be_used_says_what_to_do(page: Page, empty_url: str, folder: Path) -> None:
    page.goto(f"{empty_url}/measure")
    page.get_by_test_id("photo-input").set_input_files(folder / "notes.jpg")
    expect(page.get_by_role("alert")).to_contain_text("This file is not a picture that can be read.", timeout=30_000)
    expect(page.get_by_role("alert")).to_contain_text("straight from the phone")
    page.keyboard.press("b")
    expect(page.get_by_role("heading", name="How big are your grounds?")).to_be_visible()


def test_grounds_are_left_out_split_joined_and_everything_is_taken_back(
    page: Page, empty_url: str, folder: Path
) -> None:
    measured(page, empty_url, folder / "first.jpg")
    before, counted = d50(page), count(page)
    photo = page.get_by_test_id("photo")
    _, diameter, x, y = a_ground_in_sight(page, empty_url)
    sx, sy = on_screen(photo, x, y)
    page.mouse.click(sx, sy)
    expect(page.get_by_test_id("picked")).to_contain_text(f"{round(diameter):,} µm")
    page.keyboard.press("x")
    corrections = page.get_by_label("Corrections by hand")
    expect(corrections).to_contain_text("left out a ground")
    assert count(page) == counted - 1
    page.keyboard.press("z")
    expect(page.get_by_role("status").filter(has_text="Undone")).to_be_visible()
    expect(page.get_by_test_id("d50")).to_have_text(re.compile(f"^{before:.0f}"))

    page.mouse.click(sx, sy)
    page.keyboard.press("s")
    expect(page.get_by_test_id("picked")).to_contain_text("Draw a line")
    page.mouse.move(sx - 60, sy - 2)
    page.mouse.down()
    page.mouse.move(sx + 60, sy + 2, steps=6)
    page.mouse.up()
    expect(corrections).to_contain_text("split a ground")
    for way, shift in ((-1, False), (1, True)):
        if shift:
            page.keyboard.down("Shift")
        page.mouse.click(sx, sy + way * 7)
        if shift:
            page.keyboard.up("Shift")
    expect(page.get_by_test_id("picked")).to_contain_text("2 grounds picked")
    page.keyboard.press("j")
    expect(corrections).to_contain_text("joined 2 grounds")
    page.keyboard.press("z")
    page.keyboard.press("z")
    expect(corrections.get_by_role("button", name="Redo")).to_have_count(2)
    expect(page.get_by_test_id("d50")).to_have_text(re.compile(f"^{before:.0f}"))
    page.keyboard.press("Shift+Z")
    expect(corrections.get_by_role("button", name="Undo")).to_have_count(1)


def test_a_patch_is_left_out_with_the_lasso(page: Page, empty_url: str, folder: Path) -> None:
    measured(page, empty_url, folder / "first.jpg")
    before = count(page)
    page.keyboard.press("l")
    box = page.get_by_test_id("photo").bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 200, box["y"] + 60)
    page.mouse.down()
    for dx, dy in ((500, 60), (500, 180), (200, 180), (200, 62)):
        page.mouse.move(box["x"] + dx, box["y"] + dy, steps=4)
    page.mouse.up()
    expect(page.get_by_label("Corrections by hand")).to_contain_text("left out a patch")
    assert count(page) < before


def test_the_curve_lights_grounds_and_a_ground_lights_the_curve(page: Page, empty_url: str, folder: Path) -> None:
    measured(page, empty_url, folder / "first.jpg")
    photo = page.get_by_test_id("photo")
    curve = page.get_by_role("slider", name=re.compile("Size curve"))

    def persimmon() -> int:
        """How many pixels of the photo's canvas have the accent's colour."""
        return int(photo.evaluate(COUNT_PERSIMMON))

    assert persimmon() == 0
    _, diameter, x, y = a_ground_in_sight(page, empty_url)
    box = curve.bounding_box()
    assert box is not None
    page.mouse.click(box["x"] + 0.72 * box["width"], box["y"] + 0.4 * box["height"])
    expect(curve).to_have_attribute("aria-valuetext", re.compile(r"\d+ to [\d,]+ µm"))
    eventually(page, lambda: persimmon() > 50)
    page.mouse.click(*on_screen(photo, x, y))
    expect(curve).to_have_attribute("aria-valuenow", str(round(diameter)))
    before = page.get_by_test_id("cut-fines").get_attribute("aria-valuenow")
    page.get_by_test_id("cut-fines").focus()
    page.keyboard.press("ArrowRight")
    expect(page.get_by_test_id("cut-fines")).not_to_have_attribute("aria-valuenow", before or "")
    page.get_by_label("Curve", exact=True).select_option("sum")
    page.get_by_label("Weighting").select_option("number")
    page.keyboard.press("v")
    page.get_by_label("Aperture").fill("500")
    expect(page.get_by_test_id("what-if")).to_contain_text("of the dose")


COUNT_CELADON = """c => { const d = c.getContext('2d').getImageData(0, 0, c.width, c.height).data; let n = 0;
    for (let i = 0; i < d.length; i += 4) if (d[i + 1] > d[i] + 25 && d[i + 1] > d[i + 2] + 5) n++;
    return n }"""


def test_what_was_counted_is_tinted_by_key_and_by_button(page: Page, empty_url: str, folder: Path) -> None:
    measured(page, empty_url, folder / "first.jpg")
    photo = page.get_by_test_id("photo")
    before = photo.evaluate(COUNT_CELADON)
    page.keyboard.press("t")
    legend = page.get_by_role("list", name="What was counted")
    expect(legend).to_contain_text("shadow")
    page.wait_for_function(f"({COUNT_CELADON})(document.querySelector('[data-testid=photo]')) > {2 * before + 1000}")
    page.get_by_role("button", name="What was counted").click()
    expect(legend).to_be_hidden()
