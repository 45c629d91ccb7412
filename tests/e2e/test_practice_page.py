"""Practice, driven: a blind triangle, three grinds, thirds, the eye's staircase, a pour, and drills by thumb."""

from __future__ import annotations

import re
from datetime import datetime, timedelta

import numpy as np
from playwright.sync_api import Browser, Page, Response, expect

from conftest import PHONE, eventually, fetched, go

ORDERS = re.compile("AAB|ABA|BAA|BBA|BAB|ABB")


def begin(page: Page, url: str, kind: str) -> None:
    page.goto(f"{url}/practice")
    page.get_by_test_id(f"new-{kind}").click()
    expect(page.get_by_role("button", name="Begin", exact=False).last).to_be_enabled()


def test_a_triangle_with_two_tasters_stays_blind_until_it_is_answered(page: Page, demo_url: str) -> None:
    heard: list[str] = []

    def hear(answer: Response) -> None:
        if "/api/" in answer.url and "pouring" not in answer.url and answer.request.method != "DELETE":
            heard.append(answer.text())

    begin(page, demo_url, "triangle")
    page.get_by_label("One brew").fill("Slow pour")
    page.get_by_label("The other").fill("Quick pour")
    page.get_by_label("Rounds").fill("2")
    # Power before it begins: even two rights of two are guessed once in nine.
    expect(page.get_by_test_id("power")).to_have_text("So few rounds settle nothing: even all rights could be guessed.")
    page.get_by_label("Rounds").fill("6")
    expect(page.get_by_test_id("power")).to_contain_text("5 of 6 rights settle it.")
    page.on("response", hear)
    page.get_by_role("button", name="Begin").click()
    expect(page.get_by_label("Name of the experiment")).to_have_value("Slow pour against Quick pour")
    sheet: dict[str, str] = {}
    for number in (1, 2):
        page.get_by_role("button", name="I pour: show what goes into the cups").click()
        poured = page.get_by_role("dialog").get_by_role("row")
        expect(poured).to_have_count(3)
        sheet = dict(row.inner_text().split("\t") for row in poured.all())
        assert sorted(sheet.values()) in (
            ["Quick pour", "Quick pour", "Slow pour"], ["Quick pour", "Slow pour", "Slow pour"],
        )  # fmt: skip
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog")).to_have_count(0)
        if number == 1:
            page.get_by_role("button", name="Another taster").click()
            page.get_by_role("textbox", name="Taster 1").fill("Ines")
            page.get_by_role("textbox", name="Taster 2").fill("Bo")
        answered = page.get_by_role("table", name="Rounds so far").get_by_role("row")
        assert not ORDERS.search(page.locator("main").inner_html()) or number > 1
        # Ines knows it each time, Bo names another cup.
        codes = [
            c.inner_text() for c in page.get_by_role("list", name="Cups in the order of tasting").locator("li").all()
        ]
        odd = next(k for k, c in enumerate(codes) if list(sheet.values()).count(sheet[c]) == 1)
        if number == 1:
            assert not any(ORDERS.search(text) for text in heard)
        for taster, named in (("Ines", odd), ("Bo", (odd + 1) % 3)):
            page.get_by_role("radiogroup", name=f"Odd cup of {taster}").get_by_role("radio").nth(named).click()
        page.get_by_role("button", name="Open the round").click()
        expect(answered).to_have_count(1 + 2 * number)
    rows = page.get_by_role("table", name="Rounds so far").locator("tbody tr")
    assert [r.locator("td").last.inner_text() for r in rows.all()] == ["yes", "no", "yes", "no"]
    verdict = page.get_by_test_id("experiment-verdict")
    expect(verdict).to_have_text("2 of 4 right: not convincing yet")
    # 1 − (2/3)⁴ − 4·(1/3)·(2/3)³ = 33/81
    expect(page.get_by_text("2 or more of 4 come 41 % of the time")).to_be_visible()
    page.get_by_role("button", name="Delete").click()
    expect(page.get_by_text("Slow pour against Quick pour deleted")).to_be_visible()
    page.keyboard.press("z")
    expect(page.get_by_role("link", name=re.compile("Slow pour against Quick pour"))).to_be_visible()


def test_three_grinds_are_noted_as_quickly_as_one_types_and_go_to_the_bench(page: Page, demo_url: str) -> None:
    begin(page, demo_url, "three-grinds")
    rows = page.get_by_role("table", name="Settings to try").locator("tbody tr")
    expect(rows).to_have_count(3)
    finest = rows.first.locator("th").inner_text()
    page.get_by_role("button", name="Begin").click()
    for i, (time, strength) in enumerate((("4:10", "1,52"), ("3:40", "1.43"), ("3:12", "1.36")), 1):
        page.get_by_label(f"Time {i}", exact=True).fill(time)
        page.get_by_label(f"Strength {i}", exact=True).fill(strength)
    page.keyboard.press("Enter")
    for i, time in enumerate(("4:10", "3:40", "3:12"), 1):
        expect(page.get_by_label(f"Time {i}", exact=True)).to_have_value(time)
    expect(page.get_by_label("Strength 1", exact=True)).to_have_value("1.52")
    expect(page.get_by_text("1 % coarser shortened the time by")).to_be_visible()
    page.get_by_label("Time 2", exact=True).fill("soon")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert").first).to_contain_text("not a time")
    expect(page.get_by_label("Time 2", exact=True)).to_have_value("soon")  # refused, and not lost
    page.get_by_label("Time 2", exact=True).fill("3:41")
    page.get_by_role("group", name=re.compile("Taste at")).first.get_by_role("button", name="sweet").click()
    page.get_by_role("radiogroup", name="Which did you like?").get_by_role("radio").first.click()
    expect(page.get_by_test_id("experiment-verdict")).to_contain_text("was liked most")
    page.get_by_role("button", name="Finish").click()
    page.get_by_role("button", name=re.compile("Put .* on the bench")).click()
    expect(page).to_have_url(re.compile("/plan"))
    expect(page.get_by_role("navigation", name="Stations")).to_contain_text(finest)
    go(page, "Slips")
    done = page.get_by_role("region", name="Experiments").get_by_role("listitem").filter(has_text="Three grinds")
    expect(done).to_contain_text("was liked most")


def test_thirds_by_a_refractometer_stand_beside_what_was_predicted(page: Page, demo_url: str) -> None:
    begin(page, demo_url, "thirds")
    expect(page.get_by_role("table", name="Predicted thirds").locator("tbody tr")).to_have_count(3)
    page.get_by_role("button", name="Begin").click()
    for i, (mass, strength) in enumerate((("80", "2,60"), ("80 g", "0.9"), ("80", "0.4 %")), 1):
        page.get_by_label(f"Mass {i}", exact=True).fill(mass)
        page.get_by_label(f"Strength {i}", exact=True).fill(strength)
    page.keyboard.press("Enter")
    mixed = page.get_by_role("table", name="Mixed back in order").locator("tbody tr")
    expect(mixed).to_have_count(3)
    # 2.08, 0.72 and 0.32 g are dissolved: 67, 23 and 10 %; 3.12 g of 240 is 1.30 %, of a dose of 17 g 18.4 %.
    for row, share in zip(mixed.all(), ("67 %", "23 %", "10 %"), strict=True):
        expect(row.get_by_role("img", name=share, exact=True)).to_be_visible()
    expect(mixed.last).to_contain_text("1.30 %")
    expect(mixed.last).to_contain_text("18.4 %")
    expect(mixed.first.locator("svg text").last).to_contain_text("predicted")
    with page.expect_download() as printed:
        page.get_by_role("link", name="Print").click()
    assert printed.value.suggested_filename.endswith(".pdf")


def chord(picture: bytes) -> float:
    """Mean length of what is dark along the rows of a picture: a size that no ground needs to be outlined for."""
    import cv2

    grey = cv2.imdecode(np.frombuffer(picture, np.uint8), cv2.IMREAD_GRAYSCALE)
    _, dark = cv2.threshold(grey, 0, 1, cv2.THRESH_BINARY_INV | cv2.THRESH_OTSU)
    return float(dark.sum() / max(1, (np.diff(dark.astype(int), axis=1) == 1).sum()))


def test_the_eye_climbs_down_its_stairs_until_a_threshold_is_said(page: Page, demo_url: str) -> None:
    page.goto(f"{demo_url}/practice")
    page.get_by_test_id("drill-finer").click()
    margin = page.get_by_role("complementary", name="How it goes")
    for number in range(12):
        pictures = page.locator(".pair img")
        expect(pictures).to_have_count(2)
        sources = [p.get_attribute("src") for p in pictures.all()]
        left, right = (chord(fetched(page, f"{demo_url}{source}").body()) for source in sources)
        page.keyboard.press("l" if left < right else "r")
        expect(margin.get_by_role("status")).to_have_text(re.compile("Right|Not this time"))
        expect(margin.get_by_text("Answers").locator("..").locator(".figure")).to_have_text(str(number + 1))
        if number < 11:
            page.keyboard.press("Space")
            eventually(page, lambda s=sources: page.locator(".pair img").first.get_attribute("src") != s[0])
    expect(margin.get_by_text("You tell apart")).to_be_visible()
    page.keyboard.press("b")
    expect(page.get_by_test_id("drill-finer").locator("..")).to_contain_text(re.compile(r"tells \d+ % apart"))
    go(page, "Measure")
    expect(page.get_by_text(re.compile(r"Your eye tells sizes \d+ % apart"))).to_be_visible()


def test_a_pour_is_held_in_its_band(page: Page, demo_url: str) -> None:
    """The kettle by arrow keys: five grams a second for the whole curve is nearly all in the band."""
    opened = datetime(2030, 1, 1, 6)
    page.clock.install(time=opened)
    page.goto(f"{demo_url}/practice/drills/pour")
    page.get_by_role("radio", name="Steady: 150 g in 30 s").click()
    kettle = page.get_by_role("slider", name="Kettle: tilt")
    kettle.focus()
    page.clock.pause_at(opened + timedelta(minutes=5))  # a key takes a while on a slow machine
    for _ in range(5):  # a gram a second each
        kettle.press("ArrowDown")
    page.clock.run_for(15_000)
    expect(page.get_by_test_id("poured")).to_have_text(re.compile(r"^(7[0-7]) g$"))
    page.clock.run_for(16_000)
    page.clock.resume()
    score = page.get_by_test_id("score")
    expect(score).to_be_visible()
    assert int(score.inner_text()) >= 90
    expect(page.get_by_text(re.compile(r"; 4\.\d g/s|; 5\.0 g/s"))).to_be_visible()
    page.get_by_role("button", name="Pour again").click()
    page.clock.pause_at(opened + timedelta(minutes=15))
    kettle.press("ArrowDown")
    page.clock.run_for(31_000)
    page.clock.resume()
    expect(score).to_be_visible()
    assert int(score.inner_text()) < 30  # a fifth of the rate falls out of the band within seconds
    log = "time_s,poured_g\n" + "\n".join(f"{t},{5 * t}" for t in range(31))
    page.get_by_test_id("pour-log").set_input_files(
        {"name": "pour.csv", "mimeType": "text/csv", "buffer": log.encode()}
    )
    expect(score).to_have_text("100")


def test_words_and_dials_are_answered_by_thumb_on_a_phone(browser: Browser, demo_url: str) -> None:
    phone = browser.new_context(**PHONE).new_page()
    phone.goto(f"{demo_url}/practice/drills/words")
    word = phone.locator(".word-drill h1").inner_text()
    phone.locator(".ways button").first.tap()
    expect(phone.locator(".ways button[data-right=true]")).to_have_count(1)
    phone.get_by_role("button", name="Next").tap()
    expect(phone.locator(".word-drill h1")).not_to_have_text(word)
    phone.goto(f"{demo_url}/practice/drills/dial")
    expect(phone.locator(".dial-drill h1")).to_be_visible()
    phone.context.close()
