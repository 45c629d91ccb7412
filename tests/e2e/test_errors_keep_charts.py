"""A value that cannot be used is said beside its field; the chart of the last good one stays."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect


def test_a_wrong_value_does_not_blank_the_charts(page: Page, demo_url: str) -> None:
    page.goto(f"{demo_url}/plan")
    expect(page.get_by_test_id("predicted")).to_be_visible()
    for wrong in ("-3", "1e300", "a lot", ""):
        page.get_by_label("Coffee", exact=True).fill(wrong)
        expect(page.get_by_role("alert").first).to_be_visible()
        expect(page.get_by_text(re.compile("^bed bare"))).to_be_visible()
        expect(page.get_by_text("The chart shows the last plan that could be worked out.")).to_be_visible()
    page.goto(f"{demo_url}/cup")
    expect(page.get_by_text("your target")).to_be_visible()
    page.get_by_label("Strength, if read").fill("15.9")
    expect(page.get_by_role("alert").first).to_be_visible()
    expect(page.get_by_text("your target")).to_be_visible()
