"""The phone that takes the photo and the tablet by the kettle: a live camera, a display, and a network that goes away."""

from __future__ import annotations

import io
import json
import re
import shutil
import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import pytest
from benchmarks.pictures.flat import make_picture
from benchmarks.pictures.flat_camera import Scene
from PIL import Image
from playwright.sync_api import Browser, BrowserType, Locator, Page, expect

from conftest import ARGS, CHROMIUM, OTHER, PHONE, eventually, fetched, serve
from hakari.service.samples.demo_photos import demo_photo
from processes import free_port

PINCH = Scene(
    width_px=1600, height_px=1200, um_per_px=56, median_um=900, sigma_ln=0.15, fines_share=0.0, coverage=0.06, tilt_deg=2,
    touching_share=0.02, blur_sigma_px=0.7, exposure=0.75, noise=0.006, quality=90, seed=31,
)  # fmt: skip
PINCHES = Path(__file__).parents[1] / "data" / "pinches"
FAKE_CAMERA = ("--use-fake-ui-for-media-stream", "--use-fake-device-for-media-stream")
FRAMES_A_SECOND = 3


@pytest.fixture
def served(filled_demo: Path, tmp_path: Path) -> Iterator[str]:
    """The demo on a second address of this machine too."""
    folder = tmp_path / "data"
    shutil.copytree(filled_demo, folder)
    yield from serve("demo", folder, "--host", OTHER)


def planes(picture: Image.Image) -> bytes:
    """Brightness, and both colours at half the size."""
    light, *colours = picture.convert("YCbCr").split()
    return light.tobytes() + b"".join(c.reduce(2).tobytes() for c in colours)


@pytest.fixture(scope="module")
def clip(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """What the phone sees: a card from afar, then pinch after pinch near by, the hand over the lens between them.

    All are path-traced; the pinches are of one grind in one light (benchmarks/pictures3d/pinches.py). The browser takes the
    frames for video, whose black is 16 and whose white is 235.
    """
    near = [Image.open(path) for path in sorted(PINCHES.glob("*.jpg"))]
    far = Image.new("RGB", near[0].size, (96, 92, 88))
    far.paste(Image.open(io.BytesIO(demo_photo("arlsmoor-22"))).resize((800, 600)), (400, 300))
    hand = Image.new("RGB", near[0].size, (40, 30, 26))
    shots = [(far, 2), *((shown, seconds) for pinch in near for shown, seconds in ((pinch, 5), (hand, 2)))]
    path = tmp_path_factory.mktemp("clip") / "phone.y4m"
    as_video = [(shown.point(lambda v: 16 + v * 219 // 255), seconds) for shown, seconds in shots]
    with path.open("wb") as file:
        file.write(b"YUV4MPEG2 W%d H%d F%d:1 Ip A1:1 C420\n" % (*far.size, FRAMES_A_SECOND))
        for shown, seconds in as_video:
            file.write((b"FRAME\n" + planes(shown)) * FRAMES_A_SECOND * seconds)
    return path


@pytest.fixture
def holding(browser_type: BrowserType, clip: Path) -> Iterator[Browser]:
    """A browser whose camera shows the clip."""
    browser = browser_type.launch(
        executable_path=CHROMIUM,
        args=[*ARGS, *FAKE_CAMERA, f"--use-file-for-fake-video-capture={clip}"],
    )
    yield browser
    browser.close()


@dataclass
class Thumb:
    """Taps, and counts them."""

    taps: int = 0

    def __call__(self, what: Locator) -> None:
        what.tap()
        self.taps += 1


def test_paired_a_phone_shoots_a_series_until_it_is_enough(page: Page, holding: Browser, served: str) -> None:
    page.goto(f"{served}/measure")
    page.get_by_role("button", name="Devices", exact=True).click()
    devices = page.get_by_role("region", name="Devices")
    devices.get_by_role("button", name="Let a device in").click()
    url = devices.get_by_role("img", name=re.compile("QR code of")).get_attribute("alt")
    assert url is not None
    phone = holding.new_context(**PHONE, permissions=["camera"]).new_page()
    phone.goto(url.removeprefix("QR code of "))
    thumb = Thumb()
    thumb(phone.get_by_role("button", name="Let this device in"))
    expect(devices.get_by_role("status")).to_have_text("Phone is in.")
    page.keyboard.press("Escape")
    before = phone.get_by_test_id("d50").inner_text()
    thumb(phone.get_by_role("button", name="More"))
    thumb(phone.get_by_role("menuitem", name="New photo"))
    # From afar the cue is to come closer; near by the shutter fires by itself.
    cue = phone.get_by_test_id("cue")
    expect(cue).to_have_text("Closer")
    series = phone.get_by_test_id("series")
    expect(series).to_be_visible(timeout=40_000)
    assert thumb.taps <= 6
    expect(page.get_by_test_id("d50")).not_to_have_text(before, timeout=5_000)
    widths = [half_width(series)]
    # Each further pinch narrows what tells it from another grind in this light, until it says that it is enough.
    expect(series).to_contain_text("Enough", timeout=60_000)
    widths.append(half_width(series))
    assert widths[1] < widths[0]
    shot = phone.get_by_test_id("narrowing").first
    expect(shot).to_be_visible()
    thumb(phone.get_by_role("button", name="Done"))
    expect(phone.get_by_role("button", name="Use this grind")).to_have_class(re.compile("main-act"))
    expect(page.get_by_test_id("d50")).to_have_text(phone.get_by_test_id("d50").inner_text(), timeout=5_000)
    bench = phone.evaluate("fetch('/api/workbenches/current').then(r => r.json())")
    assert bench["sample"]["photos"] >= 2
    truth = json.loads((PINCHES / "truth.json").read_text())["d50_um"]
    assert bench["sample"]["d50_um"] == pytest.approx(sum(truth) / len(truth), rel=0.06)
    phone.context.close()


def half_width(series: Locator) -> float:
    found = re.search(r"±([\d.]+) % within this light", series.inner_text())
    assert found is not None
    return float(found.group(1))


def test_a_camera_that_is_not_allowed_leaves_the_camera_app(browser: Browser, empty_url: str) -> None:
    phone = browser.new_context(**PHONE).new_page()
    phone.goto(f"{empty_url}/measure")
    phone.get_by_role("button", name="Take a photo").tap()
    expect(phone.get_by_text("The camera is not allowed here")).to_be_visible()
    with phone.expect_file_chooser() as camera:
        phone.get_by_role("button", name="Use the camera app").tap()
    assert camera.value.element.get_attribute("capture") == "environment"
    phone.get_by_role("button", name="Cancel").tap()
    expect(phone.get_by_role("heading", name="How big are your grounds?")).to_be_visible()
    phone.context.close()


def test_brewed_by_the_phone_shown_by_the_tablet_and_told_to_the_next_click(
    page: Page, browser: Browser, served: str
) -> None:
    page.goto(f"{served}/brew")
    page.get_by_role("button", name="Devices", exact=True).click()
    devices = page.get_by_role("region", name="Devices")
    devices.get_by_role("button", name="Add a brew display").click()
    link = devices.get_by_test_id("link").inner_text()
    tablet = browser.new_context(viewport={"width": 1024, "height": 768}, service_workers="block").new_page()
    tablet.goto(link)
    expect(tablet.get_by_text("This display only shows it.")).to_be_visible()
    expect(tablet.get_by_role("button")).to_have_count(0)

    phone = browser.new_context(**PHONE).new_page()
    phone.goto(f"{served}/plan")
    thumb = Thumb()
    thumb(phone.get_by_role("button", name="Brew it", exact=True))
    thumb(phone.get_by_role("radio", name="Practice scale under the cup"))
    thumb(phone.get_by_label("ten times as fast"))
    thumb(phone.get_by_role("button", name="First pour: start"))
    clocks = [p.get_by_test_id("clock") for p in (phone, tablet)]
    for clock in clocks:
        expect(clock).to_be_in_viewport()
    assert "g" in tablet.get_by_test_id("brew-huge").inner_text() or tablet.get_by_test_id("brew-next").inner_text()
    expect(tablet.get_by_test_id("brew-huge")).to_be_disabled()
    eventually(tablet, lambda: seconds(clocks[1]) > 20)
    assert abs(seconds(clocks[0]) - seconds(clocks[1])) < 10  # a second apart at ten times the speed
    to_the_cup = phone.get_by_role("button", name="To the cup")
    expect(to_the_cup).to_be_visible(timeout=60_000)
    thumb(to_the_cup)
    bitter = phone.get_by_role("button", name=re.compile("^bitter"))
    thumb(bitter)
    thumb(bitter)
    expect(phone.get_by_test_id("the-change")).to_be_visible()
    expect(tablet.get_by_text(re.compile(r"^Brewed in \d:\d\d$"))).to_be_visible()
    assert thumb.taps <= 12
    # Withdrawn, the display is outside.
    devices.get_by_role("button", name="Withdraw Brew display").click()
    expect(tablet.get_by_role("heading", name="Let this device in")).to_be_visible()
    for p in (tablet, phone):
        p.context.close()


KEPT = """async path => Boolean(await caches.match(path))"""


def test_without_a_network_it_opens_with_what_it_had_and_joins_up_again(
    browser: Browser, filled_demo: Path, tmp_path: Path
) -> None:
    folder, port = tmp_path / "data", free_port()
    shutil.copytree(filled_demo, folder)
    photo = tmp_path / "pinch.jpg"
    photo.write_bytes(make_picture(PINCH).jpeg)
    serving = serve("demo", folder, port=port)
    url = next(serving)
    phone = browser.new_context(**{**PHONE, "service_workers": "allow"}).new_page()
    faults: list[str] = []
    phone.on("pageerror", lambda e: faults.append(str(e)))
    phone.goto(f"{url}/plan")
    phone.evaluate("navigator.serviceWorker.ready.then(() => 0)")
    phone.reload()  # from now on the service worker hears every answer
    phone.get_by_role("button", name="Brew it", exact=True).tap()
    phone.get_by_role("radio", name="By hand").tap()
    phone.get_by_role("button", name="First pour: start").tap()
    clock = phone.get_by_test_id("clock")
    expect(clock).to_be_visible()
    brew_id = phone.evaluate("fetch('/api/workbenches/current').then(r => r.json())")["brew"]["id"]
    phone.goto(f"{url}/measure")
    expect(phone.get_by_test_id("d50")).to_be_visible()
    for path in ("/", f"/api/brews/{brew_id}", "/api/samples"):
        eventually(phone, lambda path=path: phone.evaluate(KEPT, path))
    phone.goto(f"{url}/brew")
    expect(clock).to_be_visible()
    on = fetched(phone, f"{url}/api/brews/{brew_id}").json()["now"]  # the first, but on a slow machine
    before, at = seconds(clock), time.monotonic()

    serving.close()
    phone.reload()
    away = phone.get_by_text("The server is not heard.").first
    expect(away).to_be_visible()
    assert seconds(clock) - before == pytest.approx(time.monotonic() - at, abs=1.5)
    done = phone.get_by_role("button", name=re.compile("^Done"))
    done.tap()
    expect(phone.get_by_text("a tap waits here with its time")).to_be_visible()
    tapped = seconds(clock)
    phone.reload()  # nor is it lost by leaving the page
    expect(phone.get_by_text("a tap waits here with its time")).to_be_visible()
    phone.get_by_role("navigation", name="Stations").get_by_text("Measure", exact=True).tap()
    measured = phone.get_by_test_id("d50").inner_text()
    phone.get_by_test_id("photo-input").set_input_files(photo)
    expect(phone.get_by_text(re.compile("A photo waits on this device and will be sent"))).to_be_visible()

    again = serve("demo", folder, port=port)
    next(again)
    expect(phone.get_by_text("The photo that waited is measured")).to_be_visible(timeout=30_000)
    expect(phone.get_by_test_id("d50")).not_to_have_text(measured)
    expect(away).to_have_count(0)
    phone.goto(f"{url}/brew")
    eventually(phone, lambda: phone.evaluate(f"localStorage.getItem('hakari.taps.{brew_id}')") is None)
    # Asked of the server itself: what the page asks may be answered by what it had.
    step = fetched(phone, f"{url}/api/brews/{brew_id}").json()["steps"][on]
    assert step["by"] == "tap" and step["done_s"] == pytest.approx(tapped, abs=2)
    assert faults == []
    phone.context.close()
    again.close()


def seconds(clock: Locator) -> float:
    shown = clock.get_attribute("datetime") or clock.inner_text()
    minutes, _, rest = shown.partition(":")
    return float(shown.strip("PTS")) if shown.startswith("P") else 60 * float(minutes) + float(rest)
