"""Every station and dialog for everyone: axe finds nothing, and nothing is cut, covered or printed over at any size."""

from __future__ import annotations

import time
from pathlib import Path

from playwright.sync_api import Browser, Page, Request, expect

from conftest import PHONE as HELD
from conftest import eventually

AXE = Path(__file__).parents[2] / "frontend" / "node_modules" / "axe-core" / "axe.min.js"
DESK, PHONE, UPRIGHT, LYING = (1280, 800), (390, 844), (768, 1024), (1024, 768)
SIZES = (DESK, UPRIGHT, LYING, PHONE)
ENLARGED = (640, 400)  # the desk's window at 200 % zoom
TOUCH = {**HELD, "service_workers": "block"}
STATIONS = ("measure", "grinders", "plan", "brew", "cup", "slips", "practice")
WITHIN = ("practice/drills/finer", "practice/drills/pour", "practice/new/ladder", "practice/experiments/3")
DIALOGS = {
    "plan": ("What suits what?", "Recipes", "its shape", "Devices", "Keyboard shortcuts", "Lot 12"),
    "measure": ("Sieves", "Other samples"),
    "grinders": ("New grinder", "Which grind suits what?"),
    "brew": ("Brews behind the prediction",),
}
# What is folded away at first.
FOLDED = {"plan": ("Heat", "Pours as a table"), "cup": ("More evidence",)}

# Behind a dialog is the station, which is looked at by itself.
RUN_AXE = """async rules => (await axe.run(
    document.querySelector(".ant-modal-wrap:not([style*='display: none'])") ?? document,
    { resultTypes: ["violations"], ...(rules && { runOnly: rules }) })).violations.map(v =>
  `${v.id}: ${v.nodes.slice(0, 3).map(n => n.target.join(" ")).join(", ")}`)"""
# The dark theme changes colours and nothing else; a narrow window what is where.
OF_COLOUR, OF_PLACE = ["color-contrast"], ["color-contrast", "scrollable-region-focusable", "target-size"]

# What a person would stumble over: a page wider than the window, controls under something else, numbers that run out of
# their field, texts of a chart printed over each other.
STUMBLES = """() => {
  const found = [];
  // Behind a dialog everything is covered on purpose.
  const dialog = document.querySelector(".ant-modal-wrap:not([style*='display: none']) .ant-modal");
  const inDialog = e => !dialog || dialog.contains(e);
  const seen = e => {
    if (!inDialog(e)) return false;
    const r = e.getBoundingClientRect(), s = getComputedStyle(e);
    return r.width > 1 && r.height > 1 && s.visibility !== "hidden" && +s.opacity > 0.1
      && r.left < innerWidth && r.right > 0 && r.top < innerHeight && r.bottom > 0;
  };
  const clipped = (e, x, y) => {
    for (let p = e.parentElement; p; p = p.parentElement) {
      const r = p.getBoundingClientRect(), s = getComputedStyle(p);
      if (/auto|scroll|hidden/.test(s.overflowX + s.overflowY) && (x < r.left + 1 || x > r.right - 1 || y < r.top + 1
          || y > r.bottom - 1))
        return true;
    }
    return false;
  };
  const wide = document.documentElement.scrollWidth - innerWidth;
  if (wide > 0) found.push(`${wide} px wider than the window`);
  for (const e of document.querySelectorAll("button, a[href], input, select, [role=slider], [role=button]")) {
    if (!seen(e)) continue;
    const r = e.getBoundingClientRect(), x = r.left + r.width / 2, y = r.top + r.height / 2;
    if (x < 0 || y < 0 || x > innerWidth || y > innerHeight || clipped(e, x, y)) continue;
    const hit = document.elementFromPoint(x, y);
    if (hit && hit !== e && !e.contains(hit) && !hit.contains(e) && ![...(e.labels ?? [])].some(l => l.contains(hit))
        && !hit.closest("svg"))
      found.push(`covered: ${e.getAttribute("aria-label") || e.innerText || e.outerHTML.slice(0, 90)}`
        + ` by ${hit.outerHTML.slice(0, 80)}`);
  }
  for (const e of document.querySelectorAll("input"))
    if (seen(e) && e.type !== "file" && e.value && e.scrollWidth > e.clientWidth + 2) found.push(`cut: ${e.value}`);
  const texts = [...document.querySelectorAll("svg text")].filter(e => {
    const r = e.getBoundingClientRect();
    return seen(e) && e.textContent.trim() && !clipped(e, (r.left + r.right) / 2, (r.top + r.bottom) / 2);
  });
  const boxes = texts.map(e => e.getBoundingClientRect());
  boxes.forEach((p, i) => boxes.slice(i + 1).forEach((q, k) => {
    const across = Math.min(p.right, q.right) - Math.max(p.left, q.left);
    if (across > 3 && Math.min(p.bottom, q.bottom) - Math.max(p.top, q.top) > 4)
      found.push(`over each other: ${texts[i].textContent} / ${texts[i + 1 + k].textContent}`);
  }));
  return found;
}"""


# What a thumb would miss: anything to be hit that is smaller than 44 px, with its label; a link in a sentence is as its line.
SMALL = """() => [...document.querySelectorAll(
    "button, a[href], input, select, summary, .ant-select, [role=radio], [role=slider], [role=button]")].filter(e => {
  const r = e.getBoundingClientRect(), s = getComputedStyle(e);
  if (r.width < 2 || r.height < 2 || s.visibility === "hidden" || e.matches("[type=file], .ant-select input")) return false;
  if (e.matches("p:not(.ways) > .link")) return false;
  const label = e.labels?.[0]?.getBoundingClientRect() ?? r;
  return Math.max(r.height, label.height) < 43.5 || Math.max(r.width, label.width) < 43.5;
}).map(e => e.getAttribute("aria-label") || e.innerText || e.placeholder || e.outerHTML.slice(0, 80))"""


def resized(page: Page, size: tuple[int, int]) -> None:
    page.set_viewport_size({"width": size[0], "height": size[1]})
    # Charts are redrawn once they know their width.
    page.evaluate("() => new Promise(done => requestAnimationFrame(() => requestAnimationFrame(done)))")


def settled(page: Page) -> list[str]:
    """What there is to stumble over once everything has found its place."""
    found: list[str] = page.evaluate(STUMBLES)
    for _ in range(20):
        if not found:
            break
        page.wait_for_timeout(100)
        found = page.evaluate(STUMBLES)
    return found


GO = "path => { history.pushState({}, '', path); dispatchEvent(new PopStateEvent('popstate')); }"
QUIET_S = 0.4


class Visitor:
    """Someone who goes from one part of the application to another, and waits until it has got what it asks for."""

    def __init__(self, page: Page, url: str) -> None:
        self._page, self._url = page, url
        self._asked: set[Request] = set()
        self._last = 0.0
        page.on("request", self._ask)
        page.on("requestfinished", self._hear)
        page.on("requestfailed", self._hear)

    def _ask(self, request: Request) -> None:
        self._asked.add(request)

    def _hear(self, request: Request) -> None:
        self._asked.discard(request)
        self._last = time.monotonic()

    def open(self, station: str) -> None:
        page = self._page
        if page.url.startswith(self._url):
            page.evaluate(GO, f"/{station}")
        else:
            page.goto(f"{self._url}/{station}")
            page.evaluate(AXE.read_text())
        self._last = time.monotonic()
        eventually(page, lambda: not self._asked and time.monotonic() - self._last > QUIET_S)
        expect(page.locator(".page > :not(h1)").first).to_be_visible()


def in_the_dark(page: Page) -> list[str]:
    """What axe finds wrong with the colours once the device turns dark."""
    page.emulate_media(color_scheme="dark")
    expect(page.locator("html")).to_have_attribute("data-theme", "dark")
    found: list[str] = page.evaluate(RUN_AXE, OF_COLOUR)
    page.emulate_media(color_scheme="light")
    expect(page.locator("html")).to_have_attribute("data-theme", "light")
    return found


def at_all_sizes(page: Page, sizes: tuple[tuple[int, int], ...] = SIZES) -> list[str]:
    found = []
    for size in sizes:
        resized(page, size)
        found += [f"{size}: {what}" for what in settled(page)]
    return found


def test_every_station_is_open_to_everyone(page: Page, demo_url: str) -> None:
    wrong: dict[object, list[str]] = {}
    visitor = Visitor(page, demo_url)
    for station in (*STATIONS, *WITHIN):
        resized(page, DESK)
        visitor.open(station)
        wrong[station, "axe"] = page.evaluate(RUN_AXE)
        wrong[station, "dark"] = in_the_dark(page)
        wrong[station, "sizes"] = at_all_sizes(page, (*SIZES, ENLARGED))
        wrong[station, "axe, narrow"] = page.evaluate(RUN_AXE, OF_PLACE)
    assert {where: what for where, what in wrong.items() if what} == {}


def test_every_dialog_is_open_to_everyone(page: Page, demo_url: str) -> None:
    wrong: dict[object, list[str]] = {}

    def look_over(*where: str) -> None:
        wrong[where] = page.evaluate(RUN_AXE) + in_the_dark(page) + at_all_sizes(page)
        resized(page, DESK)

    visitor = Visitor(page, demo_url)
    for station in DIALOGS | FOLDED:
        visitor.open(station)
        for button in DIALOGS.get(station, ()):
            page.get_by_role("button", name=button).first.click()
            expect(page.get_by_role("dialog")).to_be_visible()
            look_over(station, button)
            page.keyboard.press("Escape")
            expect(page.get_by_role("dialog")).to_have_count(0)
        for button in FOLDED.get(station, ()):
            page.get_by_role("button", name=button).first.click()
        if station in FOLDED:
            look_over(station, "unfolded")
    assert {where: what for where, what in wrong.items() if what} == {}


def test_on_a_phone_everything_is_as_large_as_a_thumb(browser: Browser, demo_url: str) -> None:
    phone = browser.new_context(**TOUCH).new_page()
    small, wrong = {}, {}
    visitor = Visitor(phone, demo_url)
    for station in (*STATIONS, *WITHIN):
        visitor.open(station)
        small[station] = phone.evaluate(SMALL)
        handle = phone.locator(".sheet-handle")
        if handle.count():
            handle.tap()
            expect(handle).to_have_attribute("aria-expanded", "true")
            wrong[station] = settled(phone)
    assert {where: what for where, what in (small | wrong).items() if what} == {}
    visitor.open("measure")
    phone.get_by_role("button", name="Shoot again").tap()
    expect(phone.get_by_text("The camera is not allowed here")).to_be_visible()
    assert phone.evaluate(RUN_AXE) == [] and phone.evaluate(SMALL) == []
    phone.context.close()


def test_on_a_phone_the_rest_is_a_menu_away(browser: Browser, demo_url: str) -> None:
    phone = browser.new_context(**TOUCH).new_page()
    Visitor(phone, demo_url).open("plan")
    for name in ("Measure", "Grinders", "Plan", "Brew", "Cup", "Slips"):
        expect(phone.get_by_role("navigation", name="Stations").get_by_text(name, exact=True)).to_be_in_viewport()
    expect(phone.locator(".key:visible")).to_have_count(0)
    expect(phone.get_by_role("button", name="Brew it")).to_be_in_viewport()
    phone.get_by_role("button", name="More").tap()
    assert phone.evaluate(RUN_AXE) == []
    phone.get_by_role("menuitem", name="What suits what?").tap()
    expect(phone.get_by_role("dialog", name="What suits what?")).to_be_visible()
    phone.context.close()


def test_two_devices_work_at_two_counters(page: Page, browser: Browser, demo_url: str) -> None:
    page.goto(f"{demo_url}/plan")
    page.get_by_role("button", name="Devices", exact=True).click()
    counters = page.get_by_role("region", name="Counters")
    counters.get_by_label("Another counter").fill("hatch")
    counters.get_by_role("button", name="Add").click()
    expect(counters.get_by_role("radio")).to_have_count(2)
    tablet = browser.new_context(
        viewport={"width": 768, "height": 1024}, reduced_motion="reduce", service_workers="block"
    ).new_page()
    tablet.goto(f"{demo_url}/plan")
    tablet.get_by_role("button", name="Counter: bar").click()
    tablet.get_by_role("menuitem", name="hatch").click()
    expect(tablet.get_by_role("button", name="Counter: hatch")).to_be_visible()
    expect(tablet.get_by_role("button", name="Which coffee?")).to_be_visible()
    page.reload()
    expect(page.get_by_role("button", name="Counter: bar")).to_be_visible()
    expect(page.get_by_role("button", name="Lot 12 Hollow Ridge")).to_be_visible()
    page.get_by_role("button", name="Devices", exact=True).click()
    page.get_by_role("button", name="Delete hatch").click()
    expect(page.get_by_role("button", name="Counter: bar")).to_have_count(0)
    tablet.context.close()
