"""Every method and style: a barista's own plan typed, brewed to its end on the practice scale, and kept as a slip."""

from __future__ import annotations

import json
import re
import time
import urllib.request
from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager
from dataclasses import dataclass, field
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from conftest import choose, go, serve
from thorough import THOROUGH

# What a method does not have, and so names nowhere.
NOT_OF_A_STEEP = re.compile(r"\b(bed|bare|drips?|dripping|drawdown|drains?)\b", re.IGNORECASE)
NOT_OF_A_DRIP = re.compile(r"\b(plunger|pressed|skimmed|drawn off)\b", re.IGNORECASE)
NOT_OF_COLD = re.compile(r"\b(scalds?|steam|boil\w*|preheated|warmed|off the boil|blooms?)\b", re.IGNORECASE)
NOT_WITHOUT_A_SCALE = re.compile(r"\d g\b|weighed|zeroed", re.IGNORECASE)
LONG_S = 400.0


@dataclass(frozen=True)
class Method:
    """What is typed for one method; ``options`` are choices by their words, ``own`` values typed beside them by label."""

    style: str
    brewer: str
    dose: str
    ratio: str
    heat: str
    options: tuple[str, ...] = ()
    own: dict[str, str] = field(default_factory=dict)
    pours: dict[str, str] = field(default_factory=dict)
    absent: re.Pattern[str] = NOT_OF_A_DRIP


CONE, STEEP = "ribbed cone", NOT_OF_A_STEEP
METHODS = (
    Method("staged", CONE, "15", "16", "94", ("2",), pours={"Pour 1 to": "45", "Pour 2 starts at": "0:45"}),
    Method("steady", "flat-bottomed dripper", "20", "16", "93", ("slower",)),
    Method("level-hold", "smooth cone", "18", "15.5", "95", ("2", "keep it full")),
    Method("twin bloom", CONE, "20", "16", "94", ("3, for more yield",)),
    Method("split", CONE, "20", "15", "93", ("brighter", "2"), pours={"Pour 2 starts at": "0:50"}),
    Method("front-loaded", CONE, "22", "16", "96"),
    Method("one fill", "smooth cone", "14", "15", "92", own={"poured over": "16"}),
    Method("by the mark", CONE, "18", "16", "93", own={"a cup of about": "70 g"}),
    Method("over ice", CONE, "20", "15", "94", own={"ice": "38 %"}),
    Method("machine", "drip machine", "50", "16.5", "92", ("3.5 g/s", "then 30 s pause")),
    Method("steep and release", "valve dripper", "18", "16", "93", own={"minutes": "2:10"}),
    Method("long steep", "press pot", "30", "15", "95", ("stirred in", "firmly"), {"minutes": "3:30"}, absent=STEEP),
    Method("stirred steep", "press pot", "24", "14", "94", own={"stirring": "50 s"}, absent=STEEP),
    Method("bloom and steep", "press pot", "30", "16", "94", ("after it",), {"minutes": "3"}, absent=STEEP),
    Method("break and skim", "tasting bowl", "11", "18", "95", own={"minutes": "3:30"}, absent=STEEP),
    Method("concentrate and dilute", "plunger tube", "18", "13", "88", ("10 g",), {"steep": "65 s"}, absent=STEEP),
    Method("drawn up and down", "vacuum pot", "20", "14", "93", own={"up for": "50"}, absent=STEEP),
    Method("round and round", "percolator pot", "40", "15", "96", own={"minutes": "5"}, absent=STEEP),
    Method("cold steep", "cold jar", "80", "9", "20", ("in the fridge",), {"hours": "4"}, absent=STEEP),
    Method("cold drip", "drip tower", "50", "10", "18", own={"hours": "2"}, absent=NOT_OF_COLD),
)  # fmt: skip
# A message may be gone again before a slow machine looks for it.
HEAR = """words => {
    const look = () => { window.heard = window.heard || document.body.innerText.includes(words); };
    new MutationObserver(look).observe(document.body, { subtree: true, childList: true, characterData: true });
}"""
TOGETHER = 5
# All twenty take eight minutes on two cores: `make thorough`. One of each kind runs with the other tests; the staged cone has
# tests of its own.
EACH_TIME = {"by the mark", "long steep", "concentrate and dilute", "cold steep"}
CHOSEN = METHODS if THOROUGH else [m for m in METHODS if m.style in EACH_TIME]


@contextmanager
def opened(browser: Browser, folder: Path) -> Iterator[tuple[Page, str]]:
    """Open a page on an application of its own, with nothing in it."""
    serving = serve("serve", folder)
    base = next(iter(serving))
    context = browser.new_context(
        viewport={"width": 1280, "height": 800}, reduced_motion="reduce", service_workers="block"
    )
    try:
        yield context.new_page(), base
    finally:
        context.close()
        next(serving, None)


@dataclass
class Brewing:
    """One method on its way: what was shown of it so far."""

    method: Method
    page: Page
    base: str
    said: list[str] = field(default_factory=list)
    over: bool = False
    added: bool = False
    on: int = -1

    def read(self) -> None:
        self.said += self.page.locator("main").inner_text().splitlines()

    def api(self, path: str) -> dict:
        with urllib.request.urlopen(f"{self.base}/api/{path}", timeout=30) as answer:
            return dict(json.load(answer))

    def bench(self) -> dict:
        return self.api("workbenches/current")

    def brew(self) -> dict:
        return self.api(f"brews/{self.bench()['brew']['id']}")

    def plan(self) -> dict:
        return self.api(f"plans/{self.bench()['plan']['id']}")


def planned(b: Brewing) -> None:
    """Type the plan and go on to brew it."""
    page, m = b.page, b.method
    page.goto(f"{b.base}/plan")
    expect(page.get_by_test_id("predicted")).to_be_visible()
    choose(page, "Brewer", m.brewer)
    if page.locator(".ant-select-selection-item", has_text=re.compile(f"^{m.style}$")).count() == 0:
        choose(page, "Style", m.style)
    for label, value in (("Coffee", m.dose), ("to water, 1 :", m.ratio), ("Water at", m.heat)):
        page.get_by_label(label, exact=True).fill(value)
    more = page.get_by_role("button", name="Press and heat")
    if more.count() and any(page.get_by_role("radio", name=o, exact=True).count() == 0 for o in m.options):
        more.click()
    for option in m.options:
        page.get_by_role("radio", name=option, exact=True).click()
    for label, value in m.own.items():
        page.get_by_label(f"{label}, another value").fill(value)
    if m.pours:
        page.get_by_role("button", name="Pours as a table").click()
        for label, value in m.pours.items():
            page.get_by_label(label, exact=True).fill(value)
            page.keyboard.press("Enter")
    page.get_by_text("Step by step").click()
    expect(page.get_by_role("button", name="Brew it")).to_be_enabled()
    expect(page.locator(".thing")).to_have_attribute("aria-busy", "false")
    b.read()
    page.get_by_role("button", name="Brew it").click()
    use_it = page.get_by_role("button", name="Use it")
    expect(page.get_by_role("button", name=re.compile("First pour: start")).or_(use_it)).to_be_visible()
    if use_it.count():
        use_it.click()
    expect(page).to_have_url(f"{b.base}/brew")


def started(b: Brewing) -> None:
    """Start on the practice scale, sped up."""
    b.read()
    if b.method.style == "by the mark":
        grams = [line for line in b.page.locator("main").inner_text().splitlines() if NOT_WITHOUT_A_SCALE.search(line)]
        assert not grams, grams
    b.page.get_by_role("radio", name="Practice scale under the brewer").click()
    b.page.get_by_label(re.compile("times as fast")).check()
    b.page.keyboard.press("Space")
    expect(b.page.get_by_test_id("clock")).to_be_visible()
    # The steps of the brew are those of the plan, at the plan's times.
    plan, brew = b.plan(), b.brew()
    assert [s["kind"] for s in brew["steps"]] == [s["kind"] for s in plan["steps"]]
    assert [s["at_s"] for s in brew["steps"]] == pytest.approx([s["at_s"] for s in plan["steps"]], abs=1.0)
    ends = [s["ends_s"] for s in plan["steps"] if s["kind"] in ("drain", "press")]
    assert ends[-1] == pytest.approx(plan["prediction"]["drawdown_s"], abs=1.0)


def went_on(b: Brewing) -> None:
    """Tap what the scale cannot see, when its time has come."""
    brew = b.brew()
    if brew["state"] != "running":
        # The scale may have ended it while it was tapped: the page is then at the cup already.
        expect(b.page.get_by_test_id("bare-bed").or_(b.page.get_by_text("sweet", exact=True)).first).to_be_visible()
        b.read()
        b.over = True
        return
    if brew["now"] != b.on:
        b.on = brew["now"]
        b.read()
    if b.on == len(brew["steps"]):
        return  # over by the clock, about to be closed
    step = brew["steps"][brew["now"]]
    if step["kind"] in ("drain", "last-drip", "press", "decant", "wait", "add") and brew["elapsed_s"] >= step["ends_s"]:
        if step["kind"] == "add" and not b.added:
            b.added = True  # a tap that is still on its way does not add more
            b.page.get_by_role("button", name="Add a step of water").click(click_count=3)
            expect(b.page.get_by_test_id("taste-add")).to_contain_text("30 g added")
        b.page.keyboard.press("Space")


def kept(b: Brewing) -> None:
    """Take it to the cup and keep the slip."""
    page, m = b.page, b.method
    if page.url.endswith("/brew"):
        page.keyboard.press("Space")
    expect(page).to_have_url(f"{b.base}/cup")
    expect(page.get_by_text("sweet", exact=True).first).to_be_visible()
    b.read()
    if m.style.startswith("concentrate"):
        expect(page.get_by_label("Water added")).to_have_value("30")
    save = page.get_by_role("button", name=re.compile("^Save the slip"))
    expect(save.or_(page.locator("main").get_by_role("alert")).first).to_be_enabled()
    assert page.locator("main").get_by_role("alert").all_inner_texts() == [], m.brewer
    page.evaluate(HEAR, "Slip 1 saved")
    save.click()
    use_it, kept_slip = page.get_by_role("button", name="Use it"), page.get_by_role("link", name=re.compile("Slip 1 "))
    expect(kept_slip.or_(use_it).first).to_be_visible()
    if use_it.count():
        use_it.click()  # a tap that came late on a slow machine makes an unusual time
    expect(kept_slip).to_be_visible()
    page.wait_for_function("window.heard")
    go(page, "Slips")
    expect(page.get_by_text("Brew slip 1 again")).to_be_visible()
    slip = b.api("slips/1")
    assert slip["document"]["plan"]["dose_g"] == float(m.dose)
    b.read()


@pytest.mark.parametrize("first", range(0, len(CHOSEN), TOGETHER))
def test_every_method_from_plan_to_slip(browser: Browser, tmp_path: Path, first: int) -> None:
    group = CHOSEN[first : first + TOGETHER]
    with ExitStack() as open_pages:
        brews = [Brewing(m, *open_pages.enter_context(opened(browser, tmp_path / str(k)))) for k, m in enumerate(group)]
        steps: tuple[Callable[[Brewing], None], ...] = (planned, started)
        for step in steps:
            for b in brews:
                step(b)
        ends = time.monotonic() + LONG_S
        while not all(b.over for b in brews):
            assert time.monotonic() < ends, [b.method.style for b in brews if not b.over]
            for b in brews:
                if not b.over:
                    went_on(b)
            brews[0].page.wait_for_timeout(300)
        for b in brews:
            kept(b)
            wrong = [line for line in b.said if b.method.absent.search(line)]
            if float(b.method.heat) < 40:
                wrong += [line for line in b.said if NOT_OF_COLD.search(line)]
            assert not wrong, f"{b.method.brewer}: {sorted(set(wrong))}"
