"""Pictures of the main views from the demo data, into docs/screenshots: ``python -m benchmarks.screenshots``."""

from __future__ import annotations

import io
import shutil
import socket
import subprocess
import sys
import tempfile
import urllib.request
from pathlib import Path

from PIL import Image
from playwright.sync_api import Page, Playwright, sync_playwright

from hakari.service.samples.demo_photos import demo_photo

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"
VIEWS = ("measure", "grinders", "plan", "cup", "slips", "practice", "practice/experiments/3", "brew")
NAMES = {"practice/experiments/3": "practice-triangle"}
# The whole browser where there is one: the shell cannot keep the screen awake, and the brew page says so.
CHROMIUM = shutil.which("chromium") or shutil.which("chromium-headless-shell")
ARGS = ["--no-sandbox", "--disable-gpu"]
DARK = ("measure", "plan", "brew")


def settle(page: Page, address: str) -> None:
    page.goto(address)
    page.wait_for_load_state("networkidle")
    page.get_by_text("Fetching", exact=True).wait_for(state="hidden")
    page.wait_for_timeout(700)


def tell_a_late_cup(page: Page, base: str) -> None:
    """Open the first slip in the cup, where there is a change to show."""
    settle(page, f"{base}/slips")
    page.get_by_test_id("slip-2").click()
    page.keyboard.press("o")
    page.get_by_test_id("the-change").wait_for()
    page.wait_for_timeout(900)


def brew_until(page: Page, base: str, seconds: float) -> None:
    """Return a brew on the practice scale under the brewer, a little into its second pour."""
    settle(page, f"{base}/plan")
    page.keyboard.press("n")  # another brew, whatever runs
    page.get_by_role("button", name="Brew it").click()
    page.get_by_label("ten times as fast").check()
    page.keyboard.press("Space")
    clock = page.get_by_test_id("clock")
    while float((clock.get_attribute("datetime") or "PT0S").strip("PTS")) < seconds:
        page.wait_for_timeout(40)


def brew_to_its_end(page: Page, base: str) -> None:
    """Return the whole brew over the practice scale under the cup."""
    settle(page, f"{base}/plan")
    page.keyboard.press("n")
    page.get_by_role("button", name="Brew it").click()
    page.get_by_role("radio", name="Practice scale under the cup").click()
    page.get_by_label("ten times as fast").check()
    page.keyboard.press("Space")
    page.get_by_test_id("bare-bed").wait_for(timeout=60_000)
    page.wait_for_timeout(900)


PHONE = {"viewport": {"width": 390, "height": 844}, "has_touch": True, "is_mobile": True}


def on_a_phone(playwright: Playwright, base: str, folder: Path) -> None:
    """Take Cup and the camera's live view as a phone shows them; the camera sees a shipped photo, held upright."""
    clip = folder / "phone.mjpeg"
    clip.write_bytes(upright(demo_photo("arlsmoor-22")) * 60)
    browser = playwright.chromium.launch(
        executable_path=CHROMIUM,
        args=[
            *ARGS, "--use-fake-ui-for-media-stream", "--use-fake-device-for-media-stream",
            f"--use-file-for-fake-video-capture={clip}",
        ],
    )  # fmt: skip
    page = browser.new_context(**PHONE, permissions=["camera"]).new_page()
    settle(page, f"{base}/cup")
    keep(page, "phone-cup")
    settle(page, f"{base}/measure")
    page.get_by_role("button", name="Shoot again").tap()
    page.get_by_label("Take it by itself").uncheck()
    page.locator("[data-testid=cue][data-ready=true]").wait_for()
    page.wait_for_timeout(900)
    keep(page, "phone-camera")
    browser.close()


def upright(photo: bytes) -> bytes:
    out = io.BytesIO()
    turned = Image.open(io.BytesIO(photo)).transpose(Image.Transpose.ROTATE_90)
    turned.resize((1200, 1600)).save(out, "JPEG", quality=92)
    return out.getvalue()


def keep(page: Page, name: str) -> None:
    page.screenshot(path=FOLDER / f"{name}.png")
    print(f"docs/screenshots/{name}.png")


def take(base: str, folder: Path) -> None:
    with sync_playwright() as playwright:
        on_a_phone(playwright, base, folder)
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGS)
        for theme, views in (("light", VIEWS), ("dark", DARK)):
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            page.add_init_script(f"localStorage.setItem('hakari.theme', '{theme}')")
            for view in views:
                if view == "cup":
                    tell_a_late_cup(page, base)
                elif view == "brew":
                    brew_until(page, base, 51.0)
                else:
                    settle(page, f"{base}/{view}")
                name = NAMES.get(view, view)
                keep(page, name if theme == "light" else f"{name}-dark")
            if theme == "light":
                brew_to_its_end(page, base)
                keep(page, "brew-after")
        browser.close()


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    with tempfile.TemporaryDirectory() as data:
        words = [sys.executable, "-m", "hakari.cli.main", "demo", "--port", str(port), "--data", data]
        server = subprocess.Popen(words, stdout=subprocess.PIPE, text=True)
        try:
            assert server.stdout is not None
            server.stdout.readline()
            base = f"http://127.0.0.1:{port}"
            urllib.request.urlopen(f"{base}/api/health", timeout=30).read()
            take(base, Path(data))
        finally:
            server.terminate()
            server.wait(20)


if __name__ == "__main__":
    main()
