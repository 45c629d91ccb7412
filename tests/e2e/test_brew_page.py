"""The brew station, driven: a whole brew on the practice scale, reload and drop-out on the way, taps alone, two devices."""

from __future__ import annotations

import re
import time

import pytest
from playwright.sync_api import Browser, Page, expect

from conftest import eventually, fetched
from hakari.device.practice_scale import PracticeScale
from hakari.formats.brew_log import read_log
from hakari.formats.plan import PlanDocument

# What the page shows, noted at every frame: the clock in seconds, the words above and the huge thing.
WATCH = """() => {
    window.seen = window.seen ?? [];
    const look = () => {
        const clock = document.querySelector('[data-testid=clock]');
        if (clock) window.seen.push([
            Number(clock.dateTime.replace(/[PTS]/g, '')),
            document.querySelector('[data-testid=brew-above]')?.textContent,
            document.querySelector('[data-testid=brew-huge]')?.textContent,
        ]);
        requestAnimationFrame(look);
    };
    look();
}"""


def api(page: Page, base: str, path: str) -> dict:
    answer = fetched(page, f"{base}/api/{path}")
    assert answer.ok, path
    return dict(answer.json())


def send(page: Page, base: str, path: str, body: dict) -> None:
    assert page.request.post(f"{base}/api/{path}", data=body).ok, path


# A page that had to wait for the processor draws its clock first.
CLOCKS = """async () => {
    await new Promise(done => setTimeout(() => requestAnimationFrame(() => requestAnimationFrame(done)), 110));
    const shown = document.querySelector('[data-testid=clock]').dateTime.replace(/[PTS]/g, '');
    return Number(shown) - Date.now() / 1000;
}"""


def plan_and_go(page: Page, base: str, scale: str = "By hand") -> None:
    page.goto(f"{base}/plan")
    expect(page.get_by_test_id("predicted")).to_be_visible()
    page.get_by_role("button", name="Brew it").click()
    expect(page).to_have_url(f"{base}/brew")
    expect(page.get_by_text("First, bloom: pour to")).to_be_visible()
    page.get_by_role("radio", name=scale).click()
    if scale != "By hand":
        page.get_by_label("ten times as fast").check()
    page.keyboard.press("Space")
    expect(page.get_by_test_id("clock")).to_be_visible()


def clock(page: Page) -> float:
    shown = page.get_by_test_id("clock").get_attribute("datetime")
    assert shown is not None
    return float(shown.strip("PTS"))


def wait_until(page: Page, seconds: float) -> None:
    while clock(page) < seconds:
        page.wait_for_timeout(40)


def test_a_whole_brew_on_the_practice_scale(page: Page, demo_url: str) -> None:
    plan_and_go(page, demo_url, "Practice scale under the cup")
    brew_id = api(page, demo_url, "workbenches/current")["brew"]["id"]
    page.evaluate(WATCH)
    view = api(page, demo_url, f"brews/{brew_id}")
    second = next(s for s in view["steps"] if s["kind"] == "pour" and s["at_s"] > 0)
    target = ["Pour to", f"{second['total_g']:.0f}g"]
    page.wait_for_function("wanted => window.seen.some(s => s[1] === wanted[0] && s[2] === wanted[1])", arg=target)
    seen = page.evaluate("window.seen")

    # The targets change when the plan says, to within a couple of seconds at ten times the speed.
    begun = next(t for t, *shown in seen if shown == target)
    assert begun == pytest.approx(second["at_s"], abs=2.5)
    ahead = [above for t, above, huge in seen if 20 < t < second["at_s"] - 2]
    assert ahead and set(ahead) == {"Next, pour to"}

    before, at = clock(page), time.monotonic()
    page.reload()
    expect(page.get_by_test_id("clock")).to_be_visible()
    assert clock(page) - before == pytest.approx(10 * (time.monotonic() - at), abs=4)
    expect(page.get_by_test_id("brew-line")).to_contain_text("in the cup")

    page.keyboard.press("g")
    expect(page.get_by_text("The scale is unplugged")).to_be_visible()
    lost = clock(page)
    eventually(page, lambda: clock(page) > lost)
    assert clock(page) - lost < 12  # the clock goes on without a jump
    done = api(page, demo_url, f"brews/{brew_id}")["now"]
    pour = page.get_by_role("button", name=re.compile("^Done"))
    expect(pour).to_be_enabled(timeout=8000)
    page.keyboard.press("Space")
    eventually(page, lambda: api(page, demo_url, f"brews/{brew_id}")["now"] > done)
    assert any(s["by"] == "tap" for s in api(page, demo_url, f"brews/{brew_id}")["steps"])
    wait_until(page, lost + 9)
    page.keyboard.press("g")
    expect(page.get_by_text("The scale is unplugged")).to_have_count(0)

    bare = page.get_by_test_id("bare-bed")
    expect(bare).to_be_visible(timeout=40_000)
    expect(page.get_by_test_id("what-happened")).to_be_visible()
    end = api(page, demo_url, f"brews/{brew_id}")
    plan = PlanDocument.model_validate(api(page, demo_url, f"plans/{end['plan_id']}")["document"])
    truth = PracticeScale(plan.core(), plan.grind.core(), "cup", brew_id).truth
    assert end["bare_bed_by"] == "scale" and end["bare_bed_s"] == pytest.approx(truth.bare_bed_s, abs=2)
    minutes, seconds = bare.inner_text().split(":")
    assert 60 * int(minutes) + int(seconds) == pytest.approx(truth.bare_bed_s, abs=2.5)

    page.keyboard.press("Space")
    expect(page).to_have_url(f"{demo_url}/cup")
    expect(page.get_by_label("Bare bed at")).to_have_value(bare_text(end["bare_bed_s"]))
    page.get_by_role("button", name="sweet", exact=True).click()
    with page.expect_request(lambda r: r.method == "POST" and "/api/slips" in r.url) as saving:
        page.get_by_role("button", name=re.compile("Save the slip")).click()
    expect(page.get_by_text(re.compile(r"Slip \d+ saved"))).to_be_visible()
    # It says which brew it is of, so that none of another screen's gets its taste.
    assert [saving.value.post_data_json[k] for k in ("seen_plan_id", "seen_brew_id")] == [end["plan_id"], brew_id]
    slip = api(page, demo_url, f"slips/{api(page, demo_url, 'workbenches/current')['slip']['id']}")["document"]["brew"]
    text = fetched(page, f"{demo_url}/api/brews/{brew_id}/log.csv").text()
    assert slip["log"]["t_s"] == read_log(text)[0].t_s and len(slip["log"]["t_s"]) > 1000
    gaps = [b - a for a, b in zip(slip["log"]["t_s"], slip["log"]["t_s"][1:], strict=False)]
    assert sum(g > 6 for g in gaps) == 1  # the reload lost nothing; only while unplugged was nothing read


def bare_text(seconds: float) -> str:
    return f"{round(seconds) // 60}:{round(seconds) % 60:02d}"


def test_by_hand_alone_with_notes_undo_and_what_it_rests_on(page: Page, demo_url: str) -> None:
    plan_and_go(page, demo_url)
    brew_id = api(page, demo_url, "workbenches/current")["brew"]["id"]
    page.keyboard.press("Space")
    expect(page.get_by_role("status").filter(has_text=re.compile("^Done, 0:0"))).to_be_visible()
    expect(page.get_by_test_id("brew-above")).not_to_have_text("Bloom: pour to")
    page.keyboard.press("z")
    expect(page.get_by_test_id("brew-above")).to_have_text("Bloom: pour to")
    page.get_by_role("button", name="lively bloom").click()
    expect(page.get_by_role("button", name="lively bloom")).to_have_attribute("aria-pressed", "true")
    page.get_by_label("In the brewer").fill("40")
    page.get_by_label("In the brewer").blur()
    expect(page.get_by_role("alert")).to_contain_text("far from the 17 g")
    page.get_by_label("In the brewer").fill("17,5")
    page.get_by_label("In the brewer").blur()
    expect(page.get_by_text("Pour to 288 g")).to_be_visible()
    for what in ("bare-bed", "last-drip"):
        send(page, demo_url, f"brews/{brew_id}/taps", {"what": what})
    expect(page.get_by_test_id("bare-bed")).to_be_visible()
    expect(page.get_by_role("button", name="lively bloom")).to_have_attribute("aria-pressed", "true")
    page.get_by_role("button", name="spilt", exact=True).click()
    expect(page.get_by_role("button", name="spilt", exact=True)).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("w")
    box = page.get_by_role("dialog")
    expect(box).to_contain_text("some was spilt")
    first = box.get_by_role("checkbox").last
    counted = re.search(r"Fitted to (\d+)", box.inner_text())
    assert counted
    first.click()
    expect(box).to_contain_text(f"Fitted to {int(counted[1]) - 1} brew")
    first.click()
    expect(box).to_contain_text(f"Fitted to {counted[1]} brew")
    page.keyboard.press("Escape")


def test_two_devices_on_one_brew_show_the_same_second(page: Page, browser: Browser, demo_url: str) -> None:
    plan_and_go(page, demo_url)
    phone = browser.new_context(viewport={"width": 390, "height": 780}, service_workers="block").new_page()
    with phone.expect_response(re.compile("/stream$")):
        phone.goto(f"{demo_url}/brew")
    expect(phone.get_by_test_id("clock")).to_be_visible()
    apart = []
    for _ in range(8):
        # Each page's clock against this machine's own, so that the time between the two questions does not count.
        one, two = (p.evaluate(CLOCKS) for p in (page, phone))
        apart.append(abs(one - two))
        page.wait_for_timeout(170)
    assert max(apart) < 0.3, apart
    phone.get_by_test_id("brew-huge").click()
    expect(page.get_by_test_id("brew-above")).not_to_have_text("Bloom: pour to")
    phone.context.close()
    send(page, demo_url, f"brews/{api(page, demo_url, 'workbenches/current')['brew']['id']}/close", {})
    expect(page.get_by_text("No bare bed was seen")).to_be_visible()
