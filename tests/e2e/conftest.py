"""A served application of its own and headless Chromium from the system."""

from __future__ import annotations

import re
import shutil
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import APIResponse, Page, Response, expect

from processes import free_port, started

# Two test processes share two cores.
expect.set_options(timeout=15_000)

OTHER = "127.0.0.2"  # an address of this machine that is not its own loopback name
PHONE: dict[str, Any] = {
    "viewport": {"width": 390, "height": 844}, "has_touch": True, "is_mobile": True,
    "user_agent": "Mozilla/5.0 (Linux; Android 16) Mobile", "reduced_motion": "reduce", "service_workers": "block",
}  # fmt: skip

CHROMIUM = shutil.which("chromium-headless-shell") or shutil.which("chromium")
ARGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    # Most pages live too short for machine code to pay.
    "--js-flags=--no-opt --no-maglev",
]


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args: dict[str, Any]) -> dict[str, Any]:
    return {**browser_type_launch_args, "executable_path": CHROMIUM, "args": ARGS}


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args: dict[str, Any]) -> dict[str, Any]:
    # The service worker has a test of its own; elsewhere each page would fetch everything once more for it.
    return {
        **browser_context_args, "viewport": {"width": 1280, "height": 800}, "reduced_motion": "reduce",
        "service_workers": "block",
    }  # fmt: skip


def serve(command: str, folder: Path, *more: str, port: int | None = None) -> Iterator[str]:
    """Serve a data folder, on a free port unless one is given, until the test is done."""
    base = f"http://127.0.0.1:{(port := port or free_port())}"
    with started(command, "--port", str(port), "--data", str(folder), *more) as server:
        server.wait_for(base)
        yield base


@pytest.fixture(scope="module")
def demo_url(filled_demo: Path, tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """The demo, as each module finds it untouched."""
    folder = tmp_path_factory.mktemp("demo") / "data"
    shutil.copytree(filled_demo, folder)
    yield from serve("demo", folder)


@pytest.fixture
def empty_url(tmp_path: Path) -> Iterator[str]:
    """An application with nothing in it."""
    yield from serve("serve", tmp_path / "data")


def go(page: Page, station: str) -> None:
    """Go on to another station by its link; loading the page again takes ten times as long."""
    page.locator("header a", has=page.get_by_text(station, exact=True)).click()
    expect(page).to_have_url(re.compile(f"/{station.lower()}$"))


def fetched(page: Page, url: str) -> APIResponse:
    """Ask the server itself, past the page; a kept connection that it has just closed is tried again."""
    return page.request.get(url, max_retries=2)


def choose(page: Page, label: str, words: str) -> None:
    """Choose an option of a select by its words."""
    page.get_by_label(label, exact=True).click()
    page.locator(".ant-select-dropdown:visible .ant-select-item-option", has_text=re.compile(f"^{words}$")).click()


@contextmanager
def judged(page: Page, typed: str) -> Iterator[None]:
    """Until the cup was judged by what was typed last."""

    def of_this(answer: Response) -> bool:
        return "/api/cups/preview" in answer.url and f'"{typed}"' in (answer.request.post_data or "")

    with page.expect_response(of_this):
        yield


@pytest.fixture(autouse=True)
def no_faults_in_the_page(page: Page):
    """Any script error or blocked resource fails the test."""
    faults: list[str] = []
    page.on("pageerror", lambda e: faults.append(str(e)))
    # A page goes on asking when its server was stopped.
    known = re.compile("422|ERR_CONNECTION_(REFUSED|RESET)")
    page.on("console", lambda m: faults.append(m.text) if m.type == "error" and not known.search(m.text) else None)
    yield
    assert faults == []


def eventually(page: Page, holds: Callable[[], bool]) -> None:
    """Wait until something holds that is not the state of one element."""
    ends = time.monotonic() + 15
    while not holds():
        assert time.monotonic() < ends, "it never came to hold"
        page.wait_for_timeout(50)
