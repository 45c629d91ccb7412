"""Ounces and °F as a lasting choice, on every station; unlikely values asked about once."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from conftest import go


def test_ounces_and_fahrenheit_are_shown_typed_kept_and_undone(page: Page, demo_url: str) -> None:
    page.goto(f"{demo_url}/plan")
    coffee, heat = page.get_by_label("Coffee", exact=True), page.get_by_label("Water at")
    coffee.fill("17")
    heat.fill("93")
    heat.press("Enter")
    page.keyboard.press("u")
    expect(heat).to_have_value("199")
    expect(coffee).to_have_value("17")
    page.keyboard.press("u")
    # 17 g are 0.60 oz, 93 °C are 199 °F.
    expect(coffee).to_have_value("0.60")
    expect(page.get_by_role("slider", name="Pour 4")).to_have_attribute("aria-valuetext", re.compile("oz at"))
    heat.fill("205")
    coffee.fill("0.7")
    coffee.press("Enter")
    page.get_by_role("button", name=re.compile("^Save the plan")).click()
    expect(page.get_by_text("Plan saved")).to_be_visible()
    kept = page.evaluate("fetch('/api/workbenches/current').then(r => r.json())")["plan"]["recipe"]
    assert abs(kept["water_c"] - 96.1) < 0.1 and abs(kept["dose_g"] - 19.84) < 0.01
    page.reload()
    expect(coffee).to_have_value("0.70")
    expect(heat).to_have_value("205")
    for station in ("Brew", "Cup", "Slips"):
        go(page, station)
        expect(page.locator("main")).not_to_contain_text(re.compile(r"\d ?(g|°C)\b"))
    go(page, "Plan")
    expect(coffee).to_have_value("0.70")
    page.locator(".where").click()
    page.keyboard.press("u")
    expect(heat).to_have_value("96.1")
    page.keyboard.press("z")
    expect(heat).to_have_value("205")
    page.keyboard.press("u")
    expect(heat).to_have_value("96.1")
    assert page.evaluate("fetch('/api/workbenches/current').then(r => r.json())")["units"] == {
        "mass": "g",
        "temperature": "C",
    }


def test_an_unlikely_value_is_asked_about_once(page: Page, demo_url: str) -> None:
    page.goto(f"{demo_url}/plan")
    heat = page.get_by_label("Water at")
    heat.fill("39")
    heat.press("Enter")
    question = page.get_by_role("dialog", name="Is this right?")
    save = page.get_by_role("button", name=re.compile("^Save the plan"))
    save.click()
    expect(question).to_contain_text("Water at 39 °C. Usually 75 to 100 °C.")
    question.get_by_role("button", name="Change it").click()
    expect(question).to_be_hidden()
    expect(page.get_by_text("Plan saved")).to_have_count(0)
    save.click()
    question.get_by_role("button", name="Use it").click()
    expect(page.get_by_text("Plan saved")).to_be_visible()
    # The same value is not asked about again; a usual one never.
    with page.expect_response(lambda answer: "/api/plans?" in answer.url and answer.request.method == "POST"):
        save.click()
    expect(question).to_be_hidden()
    heat.fill("93")
    heat.press("Enter")
    go(page, "Cup")
    page.get_by_role("button", name=re.compile("^sour")).click()
    page.get_by_label("Strength, if read").fill("0.35")
    page.get_by_role("button", name=re.compile("^Save the slip")).click()
    expect(question).to_contain_text("Strength 0.35 %")
    question.get_by_role("button", name="Use it").click()
    expect(page.get_by_text(re.compile(r"Slip \d+ saved"))).to_be_visible()
