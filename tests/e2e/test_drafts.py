"""Work in progress: kept when the station is left, the page reloaded, the server restarted; discarded and taken back."""

from __future__ import annotations

import re
import shutil
from pathlib import Path

from playwright.sync_api import Browser, Page, expect
from test_plan_page import choose

from conftest import go, serve


def test_plan_and_cup_are_there_again_after_leaving_reloading_and_a_restart(
    page: Page, filled_demo: Path, tmp_path: Path, browser: Browser
) -> None:
    folder = tmp_path / "data"
    shutil.copytree(filled_demo, folder)
    serving = serve("serve", folder)
    base = next(serving)
    page.goto(f"{base}/plan")
    choose(page, "Brewer", "flat-bottomed dripper")
    page.get_by_label("Coffee", exact=True).fill("21,5")
    expect(page.get_by_text("Draft, not saved")).to_be_visible()

    def typed() -> None:
        expect(page.get_by_label("Coffee", exact=True)).to_have_value("21,5")
        expect(page.locator(".ant-select", has=page.get_by_label("Brewer"))).to_contain_text("flat-bottomed dripper")
        expect(page.get_by_text("Draft, not saved")).to_be_visible()

    page.keyboard.press("Enter")
    page.keyboard.press("5")  # the field has given the keys back
    expect(page).to_have_url(re.compile("/cup$"))
    page.get_by_role("button", name=re.compile("^bitter")).click()
    page.get_by_role("button", name=re.compile("^bitter")).click()
    page.get_by_label("Bare bed at").fill("3.45")
    page.get_by_label("Bare bed at").press("Enter")
    page.keyboard.press("3")
    typed()
    page.reload()
    typed()
    go(page, "Cup")
    expect(page.get_by_role("button", name="bitter, clearly")).to_be_visible()
    expect(page.get_by_label("Bare bed at")).to_have_value("3.45")
    # Another device has typed nothing.
    other = browser.new_context(service_workers="block").new_page()
    other.goto(f"{base}/plan")
    expect(other.get_by_test_id("predicted")).to_be_visible()
    expect(other.get_by_text("Draft, not saved")).to_have_count(0)
    other.context.close()
    # The same device at the restarted server: only the port of this test is another.
    device = page.evaluate("localStorage.getItem('hakari.device')")
    page.goto("about:blank")
    serving.close()
    again = serve("serve", folder)
    address = next(again)
    page.goto(f"{address}/api/health")
    page.evaluate("device => localStorage.setItem('hakari.device', device)", device)
    page.goto(f"{address}/plan")
    typed()
    page.get_by_role("button", name="Discard draft").click()
    expect(page.get_by_text("Draft, not saved")).to_have_count(0)
    page.keyboard.press("z")
    typed()
    again.close()


def test_a_style_says_what_it_replaces_and_gives_it_back(page: Page, demo_url: str) -> None:
    page.goto(f"{demo_url}/plan")
    expect(page.get_by_test_id("predicted")).to_be_visible()
    choose(page, "Brewer", "ribbed cone")
    choose(page, "Style", "staged")
    page.get_by_label("Coffee", exact=True).fill("19")
    page.get_by_label("to water, 1 :").fill("14.2")
    page.get_by_label("Water at").fill("88")
    choose(page, "Style", "split")
    said = page.get_by_role("status").filter(has_text="The style starts with")
    expect(said).to_be_visible()
    expect(page.get_by_label("to water, 1 :")).not_to_have_value("14.2")
    page.keyboard.press("z")
    expect(page.get_by_label("to water, 1 :")).to_have_value("14.2")
    expect(page.get_by_label("Water at")).to_have_value("88")
    expect(page.get_by_label("Coffee", exact=True)).to_have_value("19")


def test_quick_typing_loses_no_letter(page: Page, demo_url: str) -> None:
    page.goto(f"{demo_url}/plan")
    expect(page.get_by_test_id("predicted")).to_be_visible()
    page.get_by_label("Coffee", exact=True).fill("")
    # Both keys come before anything that waits for a moment has had its turn.
    page.get_by_label("Coffee", exact=True).evaluate(
        """input => {
            const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value").set;
            for (const key of "16") {
                set.call(input, input.value + key);
                input.dispatchEvent(new Event("input", { bubbles: true }));
            }
        }"""
    )
    expect(page.get_by_label("Coffee", exact=True)).to_have_value("16")


def test_what_is_being_typed_stays_when_another_device_changes_the_plan(page: Page, demo_url: str) -> None:
    page.goto(f"{demo_url}/cup")
    page.get_by_role("button", name=re.compile("^bitter")).click()
    expect(page.get_by_text("Draft, not saved")).to_be_visible()
    assert page.request.post(f"{demo_url}/api/plans", data={"dose_g": 21}).ok
    # The page looks what another device did, and shows it if it does.
    for _ in range(2):
        with page.expect_response("**/api/workbenches/current"):
            pass
    expect(page.get_by_role("button", name=re.compile("^bitter,"))).to_be_visible()
    # Where nothing is typed it is seen.
    page.keyboard.press("1")
    expect(page.get_by_role("link", name=re.compile("Plan 21 g"))).to_be_visible(timeout=4000)
