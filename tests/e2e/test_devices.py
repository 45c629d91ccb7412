"""A phone beside the laptop: let in by a code that the laptop shows, and shut out again."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path

import pytest
from benchmarks.pictures.flat import Made
from playwright.sync_api import Browser, Page, expect

from conftest import OTHER, PHONE, serve
from processes import done


@pytest.fixture
def served(tmp_path: Path) -> Iterator[str]:
    yield from serve("serve", tmp_path / "data", "--host", OTHER)


def test_a_phone_is_let_in_by_the_code_on_the_laptop(page: Page, browser: Browser, served: str) -> None:
    page.goto(served)
    page.get_by_role("button", name="Devices", exact=True).click()
    devices = page.get_by_role("region", name="Devices")
    expect(devices.get_by_text(re.compile(rf"http://{OTHER}:\d+"))).to_be_visible()
    devices.get_by_role("button", name="Let a device in").click()
    code = devices.get_by_test_id("pairing-code").inner_text()
    expect(devices.get_by_role("img", name=re.compile("QR code of"))).to_be_visible()

    phone = browser.new_context(**PHONE).new_page()
    phone.goto(served.replace("127.0.0.1", OTHER))
    expect(phone.get_by_role("heading", name="Let this device in")).to_be_visible()
    phone.get_by_label("Code").fill("2222 2222")
    phone.get_by_role("button", name="Let this device in").tap()
    expect(phone.get_by_role("alert")).to_contain_text("This code is wrong")
    phone.get_by_label("Code").fill(code)
    expect(phone.get_by_label("Call this device")).to_have_value("Phone")
    phone.get_by_role("button", name="Let this device in").tap()
    expect(phone).to_have_url(re.compile("/measure"))
    expect(phone.get_by_text("hakari").first).to_be_visible()

    expect(devices.get_by_role("status")).to_have_text("Phone is in.")
    with page.expect_response(re.compile(r"/api/devices/\d+")) as gone:
        devices.get_by_role("button", name="Shut Phone out").click()
    assert gone.value.status == 204, gone.value.text()
    expect(devices.get_by_role("button", name="Shut Phone out")).to_have_count(0)
    expect(phone.get_by_role("heading", name="Let this device in")).to_be_visible(timeout=15_000)  # without a reload
    phone.context.close()


def test_a_photo_from_the_phone_is_on_the_laptop_within_moments(
    page: Page, browser: Browser, empty_url: str, tmp_path: Path, small_picture: Made
) -> None:
    """The phone's camera is a file input with ``capture``; what it takes appears on the other screen without a reload."""
    photo = tmp_path / "grounds.jpg"
    photo.write_bytes(small_picture.jpeg)
    page.goto(f"{empty_url}/measure")
    expect(page.get_by_role("button", name="Take a photo")).to_have_count(0)
    phone = browser.new_context(**PHONE).new_page()
    phone.goto(f"{empty_url}/measure")
    phone.get_by_role("button", name="Take a photo").tap()
    with phone.expect_file_chooser() as camera:
        phone.get_by_role("button", name="Use the camera app").tap()
    assert camera.value.element.get_attribute("capture") == "environment"
    camera.value.set_files(photo)
    expect(phone.get_by_test_id("photo")).to_be_visible(timeout=30_000)
    expect(page.get_by_test_id("photo")).to_be_visible(timeout=5_000)
    phone.get_by_role("button", name="Shoot again").tap()
    with phone.expect_file_chooser() as once_more:
        phone.get_by_role("button", name="Use the camera app").tap()
    assert once_more.value.element.get_attribute("capture") == "environment"

    phone.get_by_role("button", name="Done").tap()
    before = phone.get_by_test_id("photo").get_attribute("data-view")
    box = phone.get_by_test_id("photo").bounding_box()
    assert box is not None and before is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    touch = phone.context.new_cdp_session(phone)

    def fingers(kind: str, *apart: float) -> None:
        points = [{"x": x + side * d, "y": y, "id": k} for d in apart for k, side in enumerate((-1, 1))]
        touch.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": points})

    fingers("touchStart", 30)
    for apart in (40, 50, 60):
        fingers("touchMove", apart)
    fingers("touchEnd")
    after = phone.get_by_test_id("photo").get_attribute("data-view")
    assert after is not None
    zooms = [float(view.split(",")[0]) for view in (before, after)]
    assert zooms[1] / zooms[0] == pytest.approx(2, rel=0.1)  # the fingers are twice as far apart
    phone.context.close()


def test_an_address_that_is_not_this_computers_is_refused(tmp_path: Path) -> None:
    status, _, errors = done("serve", "--data", str(tmp_path), "--host", "192.0.2.77")
    assert status == 3 and "no address of this computer" in errors and "--lan" in errors
