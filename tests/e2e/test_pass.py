"""The real page, driven: the whole pass on a made photo, refusals, keys, empty states, both themes."""

from __future__ import annotations

import re
from dataclasses import replace
from pathlib import Path

import pytest
from benchmarks.pictures.flat import make_picture
from benchmarks.pictures.flat_camera import Scene
from playwright.sync_api import Page, expect

from conftest import go, judged
from hakari.core.photo.decode import decode

FRESH = Scene(
    width_px=2200, height_px=1650, um_per_px=39, median_um=690, sigma_ln=0.3, fines_share=0.05, coverage=0.03,
    grounds_limit=5000, seed=77,
)  # fmt: skip


@pytest.fixture(scope="module")
def photo(tmp_path_factory: pytest.TempPathFactory) -> tuple[Path, float]:
    """A photo file that the application has never seen, and the true median of its grounds."""
    made = make_picture(FRESH)
    path = tmp_path_factory.mktemp("photo") / "this-morning.jpg"
    path.write_bytes(made.jpeg)
    return path, float(made.truth()["d50_um"])  # type: ignore[arg-type]


def test_from_a_photo_to_the_next_click(page: Page, demo_url: str, photo: tuple[Path, float]) -> None:
    path, true_d50 = photo
    page.goto(f"{demo_url}/measure")
    before = page.get_by_test_id("d50").inner_text()
    page.get_by_test_id("photo-input").set_input_files(path)
    expect(page.get_by_test_id("d50")).not_to_have_text(before, timeout=30_000)
    d50 = float(re.sub(r"\D", "", page.get_by_test_id("d50").inner_text()))
    assert d50 == pytest.approx(true_d50, rel=0.04)

    page.get_by_role("button", name="Say grinder and setting").click()
    page.get_by_label("Grinder", exact=True).click()
    page.locator(".ant-select-item-option", has_text="Arlsmoor").click()
    page.get_by_label("Setting", exact=True).fill("25")
    page.get_by_role("button", name="Keep on its curve").click()
    expect(page.get_by_text("Ground on the Arlsmoor at 25")).to_be_visible()

    page.keyboard.press("2")
    page.get_by_role("button", name="Read the Brackwell").click()
    expect(page.get_by_role("heading", name="Arlsmoor 25 on the Brackwell")).to_be_visible()
    reading = page.get_by_test_id("reading").inner_text()
    assert re.fullmatch(r"\d+[¼½¾]?", reading)
    page.keyboard.press("Space")

    expect(page).to_have_url(f"{demo_url}/plan")
    expect(page.get_by_role("heading", name=f"With your Brackwell at {reading}")).to_be_visible()
    page.get_by_label("to water, 1 :").fill("16,5")
    page.get_by_label("Coffee", exact=True).fill("22,0")
    expect(page.get_by_text("363", exact=True)).to_be_visible()
    assert re.fullmatch(r"\d:\d\d", page.get_by_test_id("predicted").inner_text())
    page.get_by_role("button", name="Record a brew of it").click()

    expect(page).to_have_url(f"{demo_url}/cup")
    page.get_by_role("button", name="bitter", exact=True).click()
    page.get_by_role("button", name="bitter, a little").click()
    page.get_by_role("button", name="mud", exact=True).click()
    page.get_by_label("Bare bed at").fill("5:40")
    with judged(page, "1,66"):
        page.get_by_label("Strength, if read").fill("1,66")
    change = page.get_by_test_id("the-change")
    # A slip that was praised stands first; the change of grind is one tap away.
    expect(change).to_contain_text("Go back to slip", timeout=10_000)
    page.get_by_role("complementary", name="Other moves").get_by_role(
        "button", name=re.compile("coarser$")
    ).first.click()
    expect(change).to_contain_text("coarser")
    expect(change).to_contain_text("5:40")
    assert re.search(r"1\.66\s*→?\s*\d\.\d\d %", change.inner_text().replace("\n", " "))
    page.get_by_role("button", name=re.compile("Save the slip")).click()
    kept = page.get_by_text(re.compile(r"Slip \d+ saved"))
    expect(kept).to_be_visible()
    number = re.sub(r"\D", "", kept.inner_text())

    page.reload()
    expect(page.get_by_label("Bare bed at")).to_have_value("5:40")
    page.keyboard.press("6")
    slip = page.get_by_test_id(f"slip-{number}")
    expect(slip).to_contain_text("5:40")
    expect(slip).to_contain_text("22.0 g")
    expect(slip).to_contain_text("bitter")


@pytest.mark.parametrize(
    ("name", "said"),
    [
        ("text.jpg", "not a picture"),
        ("cut.jpg", "damaged or cut short"),
        ("bare.jpg", "No Hakari card"),
        ("bomb.png", "megapixels"),
    ],
)
def test_a_photo_that_cannot_be_used_is_refused_and_nothing_is_lost(
    page: Page, demo_url: str, photo: tuple[Path, float], tmp_path: Path, name: str, said: str
) -> None:
    file = tmp_path / name
    if name == "text.jpg":
        file.write_text("a shopping list")
    elif name == "cut.jpg":
        file.write_bytes(photo[0].read_bytes()[:100_000])
    elif name == "bomb.png":
        from PIL import Image

        Image.new("1", (20000, 10000)).save(file)
    else:
        file.write_bytes(
            make_picture(replace(FRESH, with_card=False, width_px=1500, height_px=1100, grounds_limit=300)).jpeg
        )
    page.goto(f"{demo_url}/measure")
    before = page.get_by_test_id("d50").inner_text()
    page.get_by_test_id("photo-input").set_input_files(file)
    expect(page.get_by_role("alert")).to_contain_text(said, timeout=30_000)
    page.get_by_role("button", name="Back", exact=True).click()
    expect(page.get_by_test_id("d50")).to_have_text(before)


def test_a_grinder_that_was_never_measured_offers_no_setting(page: Page, empty_url: str) -> None:
    dial = {"kind": "clicks", "minimum": 0, "maximum": 40}
    assert page.request.post(f"{empty_url}/api/grinders", data={"name": "New", "dial": dial}).status == 201
    page.goto(f"{empty_url}/grinders")
    expect(page.get_by_test_id("reading")).to_have_text("not measured yet")
    expect(page.get_by_role("button", name=re.compile("^Plan"))).to_be_disabled()


def test_typed_faults_stand_beside_their_field(page: Page, demo_url: str) -> None:
    page.goto(f"{demo_url}/plan")
    expect(page.get_by_test_id("predicted")).to_be_visible()
    page.get_by_label("Coffee", exact=True).fill("-3")
    expect(page.get_by_role("alert").first).to_contain_text("cannot be brewed")
    expect(page.get_by_role("button", name="Brew it")).to_be_disabled()
    page.get_by_label("Coffee", exact=True).fill("18.5")
    expect(page.get_by_role("alert")).to_have_count(0)
    go(page, "Measure")
    page.get_by_role("button", name=re.compile("^Change$|Say grinder")).click()
    page.get_by_label("Setting", exact=True).fill("999")
    page.get_by_role("button", name="Keep on its curve").click()
    expect(page.get_by_role("alert")).to_contain_text("off the dial")


def test_deleting_a_slip_is_undone_by_z(page: Page, demo_url: str) -> None:
    page.goto(f"{demo_url}/slips")
    newest = page.locator(".slip").last
    name = str(newest.get_attribute("data-testid")).replace("-", " ")
    expect(page.get_by_role("button", name=f"Delete {name}")).to_be_visible()
    page.keyboard.press("d")
    expect(page.get_by_text(f"{name} deleted")).to_be_visible()
    expect(page.locator(".slip strong", has_text=name)).to_have_count(0)
    page.keyboard.press("z")
    expect(page.locator(".slip strong", has_text=name)).to_have_count(1)


def test_keys_open_stations_and_none_fires_while_typing(page: Page, demo_url: str) -> None:
    page.goto(f"{demo_url}/measure")
    expect(page.get_by_test_id("d50")).to_be_visible()
    for key, path in (("3", "plan"), ("5", "cup"), ("7", "practice"), ("4", "brew"), ("2", "grinders")):
        page.keyboard.press(key)
        expect(page).to_have_url(f"{demo_url}/{path}")
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("Undo")
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_be_hidden()
    page.keyboard.press("3")
    page.get_by_label("Coffee", exact=True).fill("")
    page.get_by_label("Coffee", exact=True).press_sequentially("16")
    expect(page).to_have_url(f"{demo_url}/plan")
    expect(page.get_by_label("Coffee", exact=True)).to_have_value("16")


def test_an_empty_house_leads_through_one_photo(page: Page, empty_url: str) -> None:
    page.goto(empty_url)
    expect(page.get_by_role("heading", name="How big are your grounds?")).to_be_visible()
    for key, words in (
        ("2", "Which grinders do you have?"), ("5", "No brew to judge yet"), ("6", "No slips yet"),
        ("4", "Nothing to brew yet"), ("7", "needs a grinder"), ("3", "The grind is assumed"),
    ):  # fmt: skip
        page.keyboard.press(key)
        expect(page.get_by_text(words).first).to_be_visible()
    page.keyboard.press("1")
    page.get_by_role("button", name="Try with the demo picture").click()
    expect(page.get_by_test_id("d50")).to_be_visible(timeout=30_000)
    expect(page.get_by_text("a simulated picture")).to_be_visible()
    page.get_by_role("button", name=re.compile("Use this grind")).click()
    page.get_by_role("button", name="Add a grinder").click()
    page.get_by_role("dialog").get_by_label("Name").fill("Kitchen mill")
    page.get_by_role("button", name="Add grinder").click()
    expect(page.get_by_text("no measured setting yet").first).to_be_visible()


WORDS_WITH_COLOURS = """() => {
    const behind = (element) => {
        for (let n = element; n; n = n.parentElement) {
            const colour = getComputedStyle(n).backgroundColor;
            if (colour !== 'rgba(0, 0, 0, 0)' && colour !== 'transparent') return colour;
        }
        return 'rgb(255, 255, 255)';
    };
    const speaks = (e) => [...e.childNodes].some((n) => n.nodeType === 3 && n.textContent.trim());
    return [...document.querySelectorAll('body *')]
        .filter((e) => speaks(e) && !e.closest('svg, [disabled]') && e.offsetParent)
        .map((e) => [e.textContent.trim().slice(0, 40), getComputedStyle(e).color, behind(e)]);
}"""


def luminance(colour: str) -> float:
    channels = [int(v) / 255 for v in re.findall(r"\d+", colour)[:3]]
    linear = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in channels]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def test_words_have_contrast_in_both_themes(page: Page, demo_url: str) -> None:
    page.goto(f"{demo_url}/plan")
    expect(page.get_by_test_id("predicted")).to_be_visible()
    for theme in ("light", "dark"):
        page.emulate_media(color_scheme=theme)
        expect(page.locator("html")).to_have_attribute("data-theme", theme)
        pairs = page.evaluate(WORDS_WITH_COLOURS)
        assert len(pairs) > 40
        for words, colour, behind in pairs:
            if "color(" in behind or "color(" in colour:
                continue
            high, low = sorted((luminance(colour), luminance(behind)), reverse=True)
            assert (high + 0.05) / (low + 0.05) >= 4.4, (theme, words, colour, behind)


def test_the_demo_photos_decode_at_full_size(demo_url: str) -> None:
    from hakari.service.samples.demo_photos import FOLDER

    photos = sorted(FOLDER.glob("*.jpg"))
    assert len(photos) >= 6
    for path in photos:
        assert path.stat().st_size < 3 * 2**20 and (path.with_suffix(".json")).exists()
    assert decode(photos[0].read_bytes()).width_px == 4000
