"""A disorderly morning, driven: brews begun beside each other, a reload, a second device, keys that come too early."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any

import pytest
from playwright.sync_api import Browser, Page, Route, expect

from conftest import eventually, fetched, go


@pytest.fixture
def second(browser: Browser) -> Iterator[Page]:
    context = browser.new_context(service_workers="block", viewport={"width": 1280, "height": 800})
    yield context.new_page()
    context.close()


def api(page: Page, base: str, path: str) -> Any:
    return fetched(page, f"{base}/api/{path}").json()


def tray(page: Page) -> Any:
    return page.get_by_role("region", name="Open brews")


def taste(page: Page, word: str, note: str) -> None:
    page.get_by_role("button", name=re.compile(f"^{word}(,|$)")).click()
    page.get_by_label("Note", exact=True).fill(note)
    page.get_by_label("Note", exact=True).press("Enter")


def plan(page: Page, dose: str) -> None:
    """Plan another dose, saved as it is."""
    page.get_by_label("Coffee", exact=True).fill(dose)
    page.get_by_label("Coffee", exact=True).press("Enter")
    page.get_by_role("button", name="Save the plan").click()
    expect(page.get_by_text("Saved as another brew")).to_be_visible()


def test_at_the_end_every_brew_taste_and_note_is_in_its_own_slip(page: Page, demo_url: str, second: Page) -> None:
    page.goto(f"{demo_url}/plan")
    expect(page.get_by_test_id("predicted")).to_be_visible()
    # The first brew runs, timed by hand, with one tap.
    page.get_by_role("button", name="Brew it").click()
    page.get_by_role("radio", name="By hand").click()
    page.get_by_role("button", name="First pour: start").click()
    expect(page.get_by_test_id("clock")).to_be_visible()
    page.wait_for_timeout(700)
    page.keyboard.press("Space")
    expect(page.get_by_text("Done, 0:0")).to_be_visible()
    first = api(page, demo_url, "workbenches/current")

    # Another plan is saved meanwhile, and brewed; the first goes on, its clock and next act in sight.
    go(page, "Plan")
    plan(page, "20")
    running = page.get_by_test_id("running-brew")
    expect(running).to_contain_text("17 g")
    go(page, "Brew")
    page.get_by_role("button", name="First pour: start").click()
    expect(page.get_by_test_id("clock")).to_be_visible()
    eventually(page, lambda: len([p for p in api(page, demo_url, "passes")["passes"] if p["running"]]) == 2)
    second_id = api(page, demo_url, "workbenches/current")["id"]
    assert second_id != first["id"]

    # A third is recorded from memory, with a taste and a note, and not saved yet.
    go(page, "Plan")
    plan(page, "16")
    page.get_by_role("button", name="Record a brew of it").click()
    taste(page, "sour", "from memory")
    third_id = api(page, demo_url, "workbenches/current")["id"]
    eventually(page, lambda: (api(page, demo_url, f"passes/{third_id}")["told"] or {}).get("note") == "from memory")

    # Coffee and grinder are changed: a fourth begins, none of the three changes.
    page.get_by_title("Choose the coffee").click()
    page.get_by_role("dialog").get_by_role("button", name="Lot 15 Tarn Valley", exact=True).click()
    expect(page.locator("header .coffee")).to_contain_text("Lot 15 Tarn Valley")
    go(page, "Grinders")
    page.get_by_role("button", name=re.compile("^Read the Arlsmoor")).click()
    page.get_by_role("button", name=re.compile(r"^Use Arlsmoor \d+ instead")).click()
    expect(page).to_have_url(f"{demo_url}/plan")
    assert {p["coffee"] for p in api(page, demo_url, "passes")["passes"] if p["id"] in (first["id"], second_id, third_id)} \
        == {"Lot 12 Hollow Ridge"}  # fmt: skip

    # A reload, and a second device that joins: the same is open there, and it taps the first brew's next act.
    page.reload()
    expect(tray(page)).to_contain_text("tasted, not saved")
    second.goto(f"{demo_url}/slips")
    expect(second.get_by_test_id("running-brew")).to_have_count(2)
    for brew in (first["brew"]["id"], api(page, demo_url, f"passes/{second_id}")["brew"]["id"]):
        second.request.post(f"{demo_url}/api/brews/{brew}/close", data={})
    expect(tray(second).get_by_role("button", name=re.compile("to taste"))).to_have_count(2)
    tray(second).get_by_role("button", name=re.compile("to taste.*17 g")).click()
    expect(second).to_have_url(f"{demo_url}/cup")
    taste(second, "bitter", "the first one")
    expect(page.locator("header .coffee")).to_contain_text("Lot 12 Hollow Ridge")

    # A key that comes while the cup is being judged is obeyed when that is done.
    held: list[Route] = []
    second.route(re.compile("/api/cups/preview"), lambda route: held.append(route))
    second.get_by_role("button", name=re.compile("^drying")).click()
    eventually(second, lambda: len(held) > 0)
    second.keyboard.press("k")
    second.wait_for_timeout(300)
    assert api(page, demo_url, f"passes/{first['id']}")["slip"] is None
    for route in held:
        route.continue_()
    second.unroute(re.compile("/api/cups/preview"))
    expect(second.get_by_text(re.compile(r"Slip \d+ saved"))).to_be_visible()

    # The others are tasted and saved where they wait.
    waiting: tuple[tuple[int, str, str, tuple[str, str] | None], ...] = (
        (second_id, "to taste", "20 g", ("sweet", "the second one")), (third_id, "tasted, not saved", "16 g", None),
    )  # fmt: skip
    for pass_id, state, dose, said in waiting:
        tray(page).get_by_role("button", name=re.compile(f"{state}.*{dose}")).click()
        expect(page).to_have_url(f"{demo_url}/cup")
        expect(page.get_by_role("link", name=re.compile(f"^3 Plan {dose}"))).to_be_visible()
        if said:
            taste(page, *said)
        page.get_by_role("button", name="Save the slip").click()
        eventually(page, lambda: api(page, demo_url, f"passes/{pass_id}")["state"] == "kept")  # noqa: B023
        expect(page.get_by_text("Draft, not saved")).to_have_count(0)

    told = {
        (s["note"], s["dose_g"], s["coffee"], s["grinder"]): s["taste"]
        for s in api(page, demo_url, "slips?limit=3")["slips"]
    }  # fmt: skip
    lot, mill = "Lot 12 Hollow Ridge", "Brackwell"
    assert told == {
        ("the first one", 17.0, lot, mill): {"bitter": 1, "drying": 1},
        ("the second one", 20.0, lot, mill): {"sweet": 1},
        ("from memory", 16.0, lot, mill): {"sour": 1},
    }
    tapped = api(page, demo_url, f"brews/{first['brew']['id']}")
    assert tapped["steps"][0]["by"] == "tap"


def test_a_discarded_brew_is_brought_back(page: Page, demo_url: str) -> None:
    page.goto(f"{demo_url}/plan")
    expect(page.get_by_test_id("predicted")).to_be_visible()
    page.get_by_role("button", name="Brew it").click()
    page.get_by_role("radio", name="By hand").click()
    page.get_by_role("button", name="First pour: start").click()
    expect(page.get_by_test_id("clock")).to_be_visible()
    go(page, "Slips")
    page.get_by_role("button", name="All open and discarded brews").click()
    page.get_by_role("button", name=re.compile("^Discard ")).first.click()
    expect(page.get_by_test_id("running-brew")).to_have_count(0)
    expect(page.get_by_text("Discarded: ")).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("z")
    expect(page.get_by_test_id("running-brew")).to_be_visible()
