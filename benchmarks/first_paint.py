"""How soon each station is there after years of use, beside the demo: 5,000 slips and 2,000 samples.

Run with ``python -m benchmarks.first_paint``. A station is there when its main picture or list is; the browser and both
servers run on this computer, each page is opened in a new profile, and the two take turns.
"""

from __future__ import annotations

import shutil
import statistics
import sys
import tempfile
import time
from pathlib import Path

from playwright.sync_api import Browser, sync_playwright

from benchmarks.loading import served
from benchmarks.years import grow
from hakari.demo.stories import fill
from hakari.service.workspace.transaction import Workspace

THERE = {
    "measure": "main.page canvas, main.page .empty", "grinders": "main.page svg", "plan": "main.page svg",
    "brew": "main.page .before, main.page svg, main.page .empty", "cup": "main.page svg", "slips": ".thread",
}  # fmt: skip
ARGS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking"]
ROUNDS = 5


def seconds_until_there(browser: Browser, base: str, station: str) -> float:
    """Open a station in a new profile; how long it takes until it is there."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, service_workers="block")
    page = context.new_page()
    began = time.perf_counter()
    page.goto(f"{base.removesuffix('/api')}/{station}", wait_until="commit")
    page.locator(THERE[station]).first.wait_for(state="attached")
    took = time.perf_counter() - began
    context.close()
    return took


def main() -> None:
    """Print medians and ratios."""
    with tempfile.TemporaryDirectory(prefix="hakari-paint-") as home:
        demo, years = Path(home) / "demo", Path(home) / "years"
        ws = Workspace(demo, measuring_processes=0)
        fill(ws, lambda words: print(words, file=sys.stderr))
        ws.close()
        ws = Workspace(Path(shutil.copytree(demo, years)), measuring_processes=0)
        grow(ws)
        ws.close()
        program = shutil.which("chromium-headless-shell") or shutil.which("chromium")
        with served(demo, "serve") as (a, *_), served(years, "serve") as (b, *_), sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=program, args=ARGS)
            for station in THERE:
                times: dict[str, list[float]] = {a: [], b: []}
                for round_ in range(ROUNDS + 1):
                    for base in (a, b):
                        took = seconds_until_there(browser, base, station)
                        if round_:  # what is computed once and held is not counted
                            times[base].append(took)
                few, many = (1000 * statistics.median(times[base]) for base in (a, b))
                print(f"{station:9} demo {few:5.0f} ms, years {many:5.0f} ms, ratio {many / few:.2f}")
            browser.close()


if __name__ == "__main__":
    main()
