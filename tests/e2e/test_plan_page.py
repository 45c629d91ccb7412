"""The plan's page, driven: styles, a pour dragged, brewers, a concentrate, amounts, what suits what, recipes."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from conftest import choose, eventually


def seconds(page: Page) -> int:
    minutes, rest = page.get_by_test_id("predicted").inner_text().split(":")
    return 60 * int(minutes) + int(rest)


@pytest.fixture
def planned(page: Page, demo_url: str) -> Page:
    page.goto(f"{demo_url}/plan")
    expect(page.get_by_test_id("predicted")).to_be_visible()
    choose(page, "Brewer", "ribbed cone")
    choose(page, "Style", "staged")
    page.get_by_label("Coffee", exact=True).fill("17")
    page.get_by_label("to water, 1 :").fill("16.5")
    expect(page.get_by_role("slider", name="Pour 4")).to_have_attribute("aria-valuetext", re.compile("^280 g"))
    return page


def test_three_styles_make_three_plans(planned: Page) -> None:
    page = planned
    sliders = page.get_by_role("slider", name=re.compile("Pour"))
    for style, pours in (("steady", 2), ("twin bloom", 4), ("by the mark", 5)):
        choose(page, "Style", style)
        expect(sliders).to_have_count(pours)
        expect(page.get_by_test_id("predicted")).to_have_text(re.compile(r"\d:\d\d"))
    choose(page, "Style", "split")
    page.get_by_role("radio", name="1, lighter").click()
    expect(sliders).to_have_count(3)
    expect(page.get_by_text("taste by arithmetic")).to_be_visible()


def test_a_pour_is_dragged_and_the_prediction_follows(planned: Page) -> None:
    page = planned
    handle = page.get_by_role("slider", name="Pour 3")
    expect(handle).to_be_visible()
    before, said = seconds(page), handle.get_attribute("aria-valuetext")
    box = handle.locator("circle").last.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x - 25, y + 30, steps=6)
    with page.expect_response(re.compile("/api/plans/preview")):
        page.mouse.up()
        handle.focus()
        page.keyboard.press("ArrowDown")
    assert handle.get_attribute("aria-valuetext") != said
    expect(page.get_by_role("button", name="Back to the style's pours")).to_be_visible()
    last = page.get_by_role("slider", name="Pour 4")
    last.focus()
    for _ in range(6):
        page.keyboard.press("ArrowRight")
    eventually(page, lambda: seconds(page) > before)
    page.get_by_role("button", name="Back to the style's pours").click()
    expect(handle).to_have_attribute("aria-valuetext", said or "")


def test_pours_are_typed_in_a_table_in_step_with_the_chart(planned: Page) -> None:
    page = planned
    page.get_by_role("button", name="Pours as a table").click()
    rows = page.get_by_role("table", name="Pours").locator("tbody tr")
    expect(rows).to_have_count(4)
    second = page.get_by_role("slider", name="Pour 2")

    def typed(label: str, text: str) -> None:
        field = page.get_by_label(label, exact=True)
        field.fill(text)
        field.press("Enter")

    typed("Pour 2 to", "150")
    expect(second).to_have_attribute("aria-valuetext", re.compile("^150 g"))
    typed("Pour 2 starts at", "0:55")
    typed("Pour 2 takes", "20")
    expect(second).to_have_attribute("aria-valuetext", re.compile("1:15"))
    # What cannot be read stays, says what to type, and changes nothing.
    typed("Pour 3 starts at", "soon")
    expect(page.get_by_text("Type a time like 1:15.")).to_be_visible()
    page.get_by_label("Pour 3 starts at", exact=True).press("Escape")
    page.get_by_label("Pour 4 waits for").select_option("drained")
    page.get_by_label("After pour 3").select_option("stir")
    page.get_by_label("How pour 4 falls").select_option("soft")
    page.get_by_text("Step by step").click()
    steps = page.locator("details.steps")
    expect(steps).to_contain_text("Wait until it has drained")
    expect(steps).to_contain_text("Stir")
    expect(steps).to_contain_text("Pour to 280 g, softly")
    # The two ends stand at the times at which they come.
    expect(steps.locator("li", has_text="Bed bare")).to_contain_text(page.get_by_test_id("predicted").inner_text())
    page.get_by_role("button", name="Split pour 4").click()
    expect(rows).to_have_count(5)
    page.get_by_role("button", name="Remove pour 5").click()
    expect(rows).to_have_count(4)
    # Overlapping pours are refused, and nothing typed is lost.
    typed("Pour 3 starts at", "1:05")
    expect(page.get_by_text("starts before the one before it has ended")).to_be_visible()
    expect(page.get_by_label("Pour 3 starts at", exact=True)).to_have_value("1:05")


def test_a_target_time_is_reached_by_turning_to_the_setting_it_names(planned: Page) -> None:
    page = planned
    target = page.get_by_label("target time")
    target.fill("2:50")
    target.press("Enter")
    use = page.get_by_role("button", name=re.compile("^Use "))
    use.click()
    expect(page.get_by_text(re.compile("where it is$"))).to_be_visible()
    assert abs(seconds(page) - 170) <= 9
    target.fill("soon")
    target.press("Enter")
    expect(page.get_by_text(re.compile("“soon” is not a time")).first).to_be_visible()


def test_any_steep_is_typed_and_a_wrong_one_is_told_beside_it(planned: Page) -> None:
    page = planned
    choose(page, "Brewer", "cold jar")
    hours = page.get_by_label("hours, another value")
    hours.fill("3")
    hours.press("Enter")
    expect(page.get_by_text("Type 4 h to 48 h.").first).to_be_visible()
    hours.fill("20 h")
    hours.press("Enter")
    expect(page.get_by_test_id("predicted")).to_have_text("20:05 h")
    expect(page.get_by_text(re.compile("until it is drawn off"))).to_be_visible()
    expect(page.get_by_text(re.compile("scald"))).to_have_count(0)
    expect(page.get_by_label("target time")).to_have_count(0)
    choose(page, "Brewer", "press pot")
    minutes = page.get_by_label("minutes, another value")
    minutes.fill("5:30")
    minutes.press("Enter")
    expect(page.get_by_test_id("predicted")).to_have_text("5:55")


def test_from_cone_to_flat_and_to_a_concentrate_with_its_steps(planned: Page) -> None:
    page = planned
    expect(page.get_by_text("Suits the ribbed cone")).to_be_visible()
    choose(page, "Brewer", "flat-bottomed dripper")
    expect(page.get_by_text(re.compile("the flat-bottomed dripper"))).to_be_visible()
    choose(page, "Brewer", "plunger tube")
    expect(page.get_by_text("Water to add")).to_be_visible()
    page.get_by_text("Taste, then add: the cup after each step of water").click()
    cups = page.locator(".dilution tbody tr")
    first, second = (cups.nth(k).inner_text().split() for k in (0, 1))
    assert second[0] == "10" and float(second[-2]) < float(first[-2]) and int(second[2]) == int(first[2]) + 10
    more = page.get_by_text(re.compile(r"^\d+ more to know"))
    if more.is_visible():
        more.click()
    expect(page.get_by_text(re.compile("Add back concentrate"))).to_be_visible()
    page.get_by_role("radio", name="20 g", exact=True).click()
    expect(cups.nth(0)).to_contain_text(f"{int(first[2]) - 20} g")
    strong = page.get_by_text(re.compile(r"g of concentrate at \d\.\d %")).inner_text()
    page.get_by_role("radio", name="8", exact=True).click()
    expect(page.get_by_text(strong)).to_have_count(0)
    page.get_by_role("button", name="Brew it").click()
    expect(page.get_by_text("17 g weighed out of the grinder")).to_be_visible()
    planned_g = int(re.sub(r"\D", "", page.locator(".brew-huge").inner_text()))
    page.get_by_label("Weighed in the brewer").fill("18,5")
    page.get_by_role("button", name="First pour: start").click()
    steps = page.locator(".brew-steps")
    expect(steps).to_contain_text("Press, slowly")
    expect(steps).to_contain_text(re.compile(r"Add \d+ g of hot water"))
    assert int(re.sub(r"\D", "", page.locator(".brew-huge").inner_text())) == pytest.approx(
        planned_g * 18.5 / 17, abs=1
    )


def test_a_brewer_of_ones_own_is_drawn_and_used(planned: Page) -> None:
    page = planned
    page.get_by_role("button", name="its shape").click()
    dialog = page.get_by_role("dialog", name="A brewer of your own")
    dialog.get_by_label("Name").fill("Tin cone")
    drawn = dialog.get_by_role("img", name="The brewer, cut through")
    before = drawn.locator("path").nth(1).get_attribute("d")
    dialog.get_by_label("Outlet").fill("40")
    assert drawn.locator("path").nth(1).get_attribute("d") != before
    was = page.get_by_text(re.compile(r"^\d+ mm deep$")).inner_text()
    dialog.get_by_role("button", name="Save").click()
    expect(dialog).to_be_hidden()
    expect(page.get_by_text(was, exact=True)).to_have_count(0)
    page.get_by_role("button", name="its shape").click()
    page.get_by_role("dialog", name="A brewer of your own").get_by_role("button", name="Delete", exact=True).click()
    expect(page.get_by_text(was, exact=True)).to_be_visible()


def test_any_two_amounts_give_the_others(planned: Page) -> None:
    page = planned
    page.get_by_label("In the cup").fill("300")
    expect(page.get_by_label("to water, 1 :")).not_to_have_value("")
    page.get_by_label("to water, 1 :").fill("16")
    expect(page.get_by_label("Coffee", exact=True)).to_have_value(re.compile(r"^21(\.\d)?$"))
    page.get_by_label("Water", exact=True).fill("20")
    expect(page.get_by_role("alert").first).to_be_visible()


def test_what_suits_what_and_recipes(planned: Page) -> None:
    page = planned
    page.get_by_role("button", name=re.compile("What suits what")).click()
    dialog = page.get_by_role("dialog", name="What suits what?")
    use = dialog.get_by_role("button", name=re.compile("^Use "))
    expect(use).to_be_visible(timeout=15_000)
    dialog.get_by_role("tab", name="Methods for this grind").click()
    expect(dialog.get_by_text("cold steep")).to_be_visible()
    dialog.get_by_role("tab", name="My settings for this plan").click()
    words = use.inner_text().removeprefix("Use ")
    use.click()
    expect(page.get_by_role("heading", name=f"With your Brackwell at {words}")).to_be_visible()
    expect(dialog).to_be_hidden()
    page.get_by_role("button", name=re.compile("^Recipes")).click()
    book = page.get_by_role("dialog", name="Recipes")
    book.get_by_label("Save this plan's recipe as").fill("Hatch cone")
    book.get_by_role("button", name="Save").click()
    expect(book.get_by_text("Hatch cone")).to_be_visible()
    expect(book.get_by_text(re.compile("written for the Brackwell"))).to_be_visible()
    with page.expect_download() as download:
        book.get_by_role("link", name="save").click()
    assert "hakari.recipe/1" in download.value.path().read_text()
    book.get_by_role("button", name="Delete Hatch cone").click()
    expect(book.get_by_text("No recipes saved yet")).to_be_visible()
