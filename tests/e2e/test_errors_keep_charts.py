"""A value that cannot be used is said beside its field; the chart of the last good one stays."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from conftest import go


def test_a_wrong_value_does_not_blank_the_charts(page: Page, demo_url: str) -> None:
    page.goto(f"{demo_url}/plan")
    expect(page.get_by_test_id("predicted")).to_be_visible()
    for wrong in ("-3", "1e300", "a lot"):
        page.get_by_label("Coffee", exact=True).fill(wrong)
        expect(page.get_by_role("alert").first).to_be_visible()
        expect(page.get_by_text(re.compile("^bed bare"))).to_be_visible()
        expect(page.get_by_text("The chart shows the last plan that could be worked out.")).to_be_visible()
    # Emptied, the amount follows from the others again.
    page.get_by_label("Coffee", exact=True).fill("")
    expect(page.get_by_role("alert")).to_have_count(0)
    page.get_by_label("Coffee", exact=True).blur()
    expect(page.get_by_label("Coffee", exact=True)).to_have_value("17")
    go(page, "Cup")
    expect(page.get_by_text("your target")).to_be_visible()
    page.get_by_role("button", name=re.compile("skip")).click()
    page.get_by_label("Strength, if read").fill("15.9")
    expect(page.get_by_role("alert").first).to_be_visible()
    expect(page.get_by_text("your target")).to_be_visible()


def test_what_the_disk_does_not_take_is_said_on_every_station_and_stays_typed(page: Page, demo_url: str) -> None:
    refusal = {"code": "disk-full", "message": "The disk is full.", "remedy": "Free some space."}
    page.goto(f"{demo_url}/plan")
    expect(page.get_by_test_id("predicted")).to_be_visible()
    page.get_by_label("Coffee", exact=True).fill("18")
    page.route(
        re.compile(r"/api/(plans|workbenches/current|points/[^?]*)(\?.*)?$"),
        lambda route: route.continue_() if route.request.method == "GET" else route.fulfill(status=422, json=refusal),
    )
    page.get_by_role("button", name=re.compile("^Save the plan")).click()
    expect(page.get_by_text("The disk is full. Free some space.")).to_be_visible()
    expect(page.get_by_label("Coffee", exact=True)).to_have_value("18")
    go(page, "Grinders")
    page.get_by_role("button", name="Read the Arlsmoor").click()
    page.get_by_label(re.compile("counts$")).first.click()
    expect(page.get_by_role("status").get_by_text("The disk is full. Free some space.")).to_be_visible()
    go(page, "Plan")
    page.locator(".where").click()
    page.keyboard.press("u")
    expect(page.get_by_role("status").get_by_text(re.compile("disk is full|could not be changed"))).to_be_visible()
    expect(page.get_by_label("Water at")).to_have_value("95")
