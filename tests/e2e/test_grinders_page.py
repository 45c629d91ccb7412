"""The grinders' page, driven: a dial made and turned, samples, the line, words, an event, files."""

from __future__ import annotations

import json
import re
from pathlib import Path

from playwright.sync_api import Page, expect


def size_of(page: Page) -> float:
    """The size that the margin says for the reading, µm."""
    said = page.locator("aside .said").first.inner_text()
    return float(re.match(r"([\d,]+) µm", said)[1].replace(",", ""))  # type: ignore[index]


def add_sample(page: Page, setting: str, um: str) -> None:
    expect(page.get_by_role("dialog")).to_be_hidden()
    page.keyboard.press("m")
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("radio", name="its size is known").click()
    dialog.get_by_label("Setting", exact=True).fill(setting)
    dialog.get_by_label("Median").fill(um)
    dialog.get_by_label("Good to").fill("2")
    dialog.get_by_role("button", name="Add the point").click()
    expect(dialog).to_be_hidden()


def test_a_rings_dial_from_its_making_to_a_cleaning(page: Page, empty_url: str) -> None:
    page.goto(f"{empty_url}/grinders")
    page.get_by_role("button", name="Add a grinder").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Name").fill("Dunmarrow")
    dialog.get_by_label("Dial", exact=True).click()
    page.locator(".ant-select-item-option", has_text="two rings").click()
    dialog.get_by_label("Fine ring", exact=True).fill("1-9")
    expect(dialog.get_by_text("99 settings, A1 to K9")).to_be_visible()
    fine = dialog.get_by_role("slider", name="Turn the fine ring")
    before = fine.get_attribute("aria-valuetext")
    fine.focus()
    page.keyboard.press("ArrowRight")
    assert int(fine.get_attribute("aria-valuetext") or 0) == int(before or 0) + 1
    dialog.get_by_role("button", name="Add grinder").click()
    expect(dialog).to_be_hidden()
    expect(page.get_by_text("no measured setting yet").first).to_be_visible()

    for setting, um in (("C4", "480"), ("e 2", "690"), ("G6", "1010")):
        add_sample(page, setting, um)
    expect(page.get_by_label("E2 counts")).to_be_checked()

    words = page.get_by_label("A grind in words, a size, or a setting")
    words.fill("700 µm")
    words.press("Enter")
    expect(page.get_by_role("heading", name="700 µm on the Dunmarrow")).to_be_visible()
    first = page.get_by_test_id("reading").inner_text()
    assert re.fullmatch(r"[DEF]\d", first) and abs(size_of(page) - 700) < 20

    svg = page.locator(".thing svg").first
    box = svg.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 350, box["y"] + 300)
    page.mouse.down()
    page.mouse.move(box["x"] + 700, box["y"] + 300, steps=6)
    page.mouse.up()
    dragged = page.get_by_test_id("reading").inner_text()
    assert dragged > first and page.get_by_test_id("rail-Dunmarrow").text_content() == dragged
    page.locator("body").press("ArrowLeft")
    assert page.get_by_test_id("reading").inner_text() < dragged

    ring = page.get_by_role("slider", name="Turn the coarse ring")
    ring.focus()
    page.keyboard.press("ArrowLeft")
    turned = page.get_by_test_id("reading").inner_text()
    assert ord(turned[0]) == ord(ring.get_attribute("aria-valuetext") or "") and turned < dragged

    words.fill("Dunmarrow E2")
    words.press("Enter")
    expect(page.get_by_test_id("reading")).to_have_text("E2")
    old = size_of(page)
    page.locator("body").press("e")
    page.get_by_role("button", name="Begin a new era").click()
    expect(page.get_by_text("Since: cleaned")).to_be_visible()
    add_sample(page, "E2", "640")
    expect(page.get_by_text("The old curve, moved to fit the setting")).to_be_visible()
    expect(page.locator("aside .said").first).to_contain_text(re.compile(r"6[34]\d µm there"))
    assert abs(old - 690) < 25
    assert page.locator("path.old-era").get_attribute("d")


def test_words_matches_and_what_cannot_be_understood(page: Page, demo_url: str) -> None:
    page.goto(f"{demo_url}/grinders")
    words = page.get_by_label("A grind in words, a size, or a setting")
    words.fill("between cone and thick paper")
    words.press("Enter")
    expect(page.get_by_role("heading", name=re.compile("Between the ribbed cone"))).to_be_visible()
    readings = {
        name: page.get_by_test_id(f"rail-{name}").text_content() for name in ("Arlsmoor", "Brackwell", "Eskholme")
    }
    assert all(readings.values())
    words.fill("quite nice")
    words.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("not understood")
    words.fill("Arlsmoor 22")
    words.press("Enter")
    page.get_by_role("button", name="Read the Brackwell").click()
    expect(page.get_by_role("heading", name="Arlsmoor 22 on the Brackwell")).to_be_visible()
    expect(page.get_by_text(re.compile("more fines"))).to_be_visible()
    by_size = size_of(page)
    page.get_by_role("radio", name="flow").click()
    expect(page.get_by_text("the same flow in")).to_be_visible()
    assert size_of(page) > by_size


def test_the_guide_takes_ones_own_window_and_the_card_goes_out(page: Page, demo_url: str) -> None:
    page.goto(f"{demo_url}/grinders")
    page.get_by_role("button", name="Which grind suits what?").click()
    guide = page.get_by_role("dialog")
    guide.get_by_role("button", name="Change the window of drip machine").click()
    guide.get_by_label("from").fill("900")
    guide.get_by_label("to", exact=True).fill("800")
    guide.get_by_role("button", name="Keep mine").click()
    expect(guide.get_by_role("alert")).to_contain_text("coarse end")
    guide.get_by_label("to", exact=True).fill("1150")
    guide.get_by_role("button", name="Keep mine").click()
    expect(guide.get_by_text("900–1,150")).to_be_visible()
    guide.get_by_role("button", name="Change the window of drip machine").click()
    guide.get_by_role("button", name="Back to 700–1,050").click()
    expect(guide.get_by_text("900–1,150")).to_have_count(0)
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Setting card").click()
    card = page.get_by_role("dialog", name="Setting card")
    expect(card.get_by_role("row", name=re.compile("thick-paper cone"))).to_be_visible()
    with page.expect_download() as download:
        card.get_by_role("link", name="Table").click()
    assert Path(download.value.path()).read_text().startswith("method,window")


def test_grinders_come_from_a_file_and_are_put_away(page: Page, empty_url: str, tmp_path: Path) -> None:
    file = tmp_path / "mill.json"
    grinder = {
        "format": "hakari.grinder/1", "name": "Arlsmoor", "burrs": "conical",
        "dial": {"kind": "clicks", "clicks_per_turn": 36, "minimum": 0, "maximum": 60, "finer": "down"},
        "samples": [{"setting": "18", "d50_um": 520}, {"setting": "30", "d50_um": 820}],
    }  # fmt: skip
    file.write_text(json.dumps(grinder))
    page.goto(f"{empty_url}/grinders")
    page.get_by_test_id("grinder-file").set_input_files(file)
    expect(page.get_by_role("button", name="Read the Arlsmoor")).to_be_visible()
    expect(page.get_by_label("18 counts")).to_be_checked()
    page.get_by_role("button", name="Delete the grinder").click()
    expect(page.get_by_role("heading", name="Which grinders do you have?")).to_be_visible()
    page.keyboard.press("z")
    expect(page.get_by_role("button", name="Read the Arlsmoor")).to_be_visible()


def test_a_habit_is_a_start_for_a_grinder_without_a_photo(page: Page, empty_url: str) -> None:
    page.goto(f"{empty_url}/grinders")
    page.get_by_role("button", name="Add a grinder").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Name").fill("Dunmarrow")
    dialog.get_by_role("button", name="Add grinder").click()
    expect(page.get_by_test_id("reading")).to_have_text("not measured yet")
    expect(dialog).to_be_hidden()
    page.keyboard.press("m")
    habit = dialog.get_by_label("Which setting for what")
    habit.fill("about 99 for the cone")
    dialog.get_by_role("button", name="Add the point").click()
    expect(dialog.get_by_role("alert")).to_be_visible()
    habit.fill("about 20 for the cone")
    dialog.get_by_role("button", name="Add the point").click()
    expect(dialog).to_be_hidden()
    expect(page.get_by_label("20 counts")).to_be_checked()
    expect(page.get_by_text("used for the ribbed cone")).to_be_visible()
    page.keyboard.press("z")
    expect(page.get_by_test_id("reading")).to_have_text("not measured yet")
