"""Words for a grind, and translation by flow, yield and shape."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from hakari.core.brew.methods import WINDOWS, Window, window_for
from hakari.core.errors import InputError
from hakari.core.flow.percolation import simulate_percolation
from hakari.core.grinder.curve import CurveSample
from hakari.core.grinder.grinder import Grinder
from hakari.core.grinder.kinds import ClickDial, NumberDial, SteplessDial
from hakari.core.translate.answer import translate
from hakari.core.translate.habit import parse_habit
from hakari.core.translate.match import default_plan, grind_of
from hakari.core.translate.nearest import TargetSize, nearest_setting, target_size
from hakari.core.translate.words import GrindQuery, SettingQuery, parse_grind_query

CONE, THICK = window_for("ribbed-cone", 17.0), window_for("thick-paper-cone", 17.0)
assert CONE is not None and THICK is not None


@pytest.mark.parametrize(
    ("words", "um", "steps"),
    [
        ("700 µm", 700, 0), ("620um", 620, 0), ("for the cone", CONE.middle_um, 0),
        ("between cone and thick paper", (CONE.middle_um * THICK.middle_um) ** 0.5, 0),
        ("A touch finer than the cone", CONE.middle_um / 1.05, 0),
        ("much coarser than for the cone", CONE.middle_um * 1.2, 0),
        ("six clicks finer than for the cone", CONE.middle_um, -6), ("2 quarters coarser than the cone", CONE.middle_um, 2),
        ("coarse end of the thick-paper cone", THICK.high_um, 0), ("like semolina", 750, 0),
        ("Thick paper", THICK.middle_um, 0),
    ],
)  # fmt: skip
def test_words_mean_sizes(words: str, um: float, steps: int) -> None:
    meant = parse_grind_query(words)
    assert isinstance(meant, GrindQuery)
    assert meant.um == pytest.approx(um, rel=0.08 if "end" in words else 1e-9) and meant.steps == steps and meant.said


PRESS = window_for("press-pot", 17.0)
assert PRESS is not None


@pytest.mark.parametrize(
    ("words", "setting", "window"),
    [
        ("about 8 for the cone", "8", CONE), ("8 for cone", "8", CONE),
        ("I use around 12 clicks for the press pot", "12", PRESS),
        ("~ 9 for thick paper", "9", THICK), ("8 suits the cone.", "8", CONE),
    ],
)  # fmt: skip
def test_a_habit_is_the_middle_of_its_method_and_less_sure_than_its_window(
    words: str, setting: str, window: Window
) -> None:
    habit = parse_habit(words, ClickDial("down", None, 36, 0, 40))
    assert habit.setting == setting and habit.grind.um == pytest.approx((window.low_um * window.high_um) ** 0.5)
    # About 95 % of such habits lie in a range wider than the window itself.
    assert 3.92 * habit.grind.ln_sd > np.log(window.high_um / window.low_um)


@pytest.mark.parametrize(
    "words", ["", "8", "for the cone", "about 8", "99 for the cone", "8 for the moon", "x for the cone"]
)
def test_what_names_no_setting_or_no_method_is_refused_beside_the_field(words: str) -> None:
    with pytest.raises(InputError) as refusal:
        parse_habit(words, ClickDial("down", None, 36, 0, 40))
    assert refusal.value.field == "words" and refusal.value.remedy


def test_a_habit_on_a_dial_with_fractions() -> None:
    assert parse_habit("about 4 1/2 for the cone", NumberDial("down", None, 0, 14, 2)).setting == "4 1/2"


@given(st.text(max_size=40))
def test_any_words_are_understood_or_refused_with_examples(words: str) -> None:
    try:
        meant = parse_grind_query(words)
        assert isinstance(meant, GrindQuery) and meant.um > 0
    except InputError as refusal:
        assert refusal.code == "words-unreadable" and "between" in refusal.remedy


def test_every_method_of_the_guide_is_understood_by_its_name() -> None:
    for window in WINDOWS:
        meant = parse_grind_query(window.label)
        assert isinstance(meant, GrindQuery) and meant.um == pytest.approx(window.middle_um)


@pytest.mark.parametrize(
    ("words", "low", "high"),
    [
        ("fine", 300, 500), ("medium-fine", 500, 650), ("Medium", 650, 850), ("medium coarse", 850, 1050),
        ("coarse", 1050, 1350),
        ("flour", 60, 120), ("table salt", 400, 600), ("sand", 500, 800),
        ("like coarse sugar", 800, 1000),
        ("rock salt", 1100, 1500), ("0.7 mm", 699, 701), ("0,65 mm", 649, 651), ("650-750 µm", 690, 705),
        ("between the cone and the press", 500, 850), ("a bit coarser than medium", 650, 900),
        ("finer than 700 µm", 600, 680),
    ],
)  # fmt: skip
def test_grades_comparisons_and_units_mean_sizes(words: str, low: float, high: float) -> None:
    meant = parse_grind_query(words, dial=CLICKS)
    assert isinstance(meant, GrindQuery) and low <= meant.um <= high


CLICKS, QUARTERS = ClickDial("down", None, 30, 0, 60), NumberDial("down", None, 0, 14, 4)


@pytest.mark.parametrize(
    ("words", "dial", "meant"),
    [
        ("24", CLICKS, SettingQuery(("24",))), ("24 clicks", CLICKS, SettingQuery(("24",))),
        ("22–24", CLICKS, SettingQuery(("22", "24"))), ("5 1/4", QUARTERS, SettingQuery(("5 1/4",))),
        ("two clicks finer", CLICKS, SettingQuery(steps=-2)),
        ("a click coarser than last time", CLICKS, SettingQuery(steps=1)),
        ("half a turn coarser", CLICKS, SettingQuery(steps=15)), ("half a number finer", QUARTERS, SettingQuery(steps=-2)),
        ("1 1/2 numbers coarser", QUARTERS, SettingQuery(steps=6)),
        ("one click finer than 24", CLICKS, SettingQuery(("24",), -1)),
        ("a bit coarser than last time", CLICKS, SettingQuery(factor=1.05)), ("finer", CLICKS, SettingQuery(factor=1 / 1.1)),
    ],
)  # fmt: skip
def test_numbers_and_steps_belong_to_the_grinder_in_use(
    words: str, dial: ClickDial | NumberDial, meant: SettingQuery
) -> None:
    found = parse_grind_query(words, dial=dial)
    assert isinstance(found, SettingQuery) and replace(found, said="") == meant


@pytest.mark.parametrize(
    ("words", "dial", "says"),
    [
        ("a blorb finer than the cone", CLICKS, "“blorb”"), ("between the cone and the moon", CLICKS, "moon"),
        ("cone with wings", None, "“wings”"), ("half a click finer", CLICKS, "no part of a click"),
        ("700", CLICKS, "off the dial"), ("two clicks finer", None, "No grinder is in use"), ("9 mm", None, "no size"),
    ],
)  # fmt: skip
def test_what_is_not_read_is_named(words: str, dial: ClickDial | None, says: str) -> None:
    with pytest.raises(InputError) as refusal:
        parse_grind_query(words, dial=dial)
    assert says in refusal.value.message and refusal.value.remedy and refusal.value.field == "words"


def grinder(fines: float, span: float) -> Grinder:
    """A straight collar of 160 µm a number, with so many fines at 600 µm."""
    dial = SteplessDial("down", None, 1.0, 9.0, 0.01)
    positions = (2.0, 3.5, 5.0, 6.5)
    sizes = [100 + 160 * p for p in positions]
    return Grinder(
        "collar", "conical", dial, tuple(CurveSample(p, um, 0.005) for p, um in zip(positions, sizes, strict=True)),
        tuple(fines * (um / 600) ** -1.3 for um in sizes), (span,) * 4,
    )  # fmt: skip


WANTED = TargetSize(np.full(2000, 700.0), 0.08, 1.1)


def test_with_the_same_fines_and_span_every_match_is_the_median() -> None:
    same = grinder(0.08 * (700 / 600) ** 1.3, 1.1)
    for match in ("median", "flow", "yield", "shape"):
        assert translate(WANTED, same, match).translation.d50_um == pytest.approx(700, rel=0.01)


def test_more_fines_want_coarser_for_the_same_flow_and_the_flow_is_then_the_same() -> None:
    dusty = grinder(0.13, 1.1)
    by_median, by_flow = translate(WANTED, dusty, "median"), translate(WANTED, dusty, "flow")
    assert by_median.longer_s is not None and by_median.longer_s > 10
    assert "longer" in by_median.differs[0].expect and by_median.differs[0].matters
    assert by_flow.translation.d50_um > 1.03 * by_median.translation.d50_um and by_flow.plan
    assert by_flow.longer_s == pytest.approx(0, abs=4)
    plan = default_plan()
    um = by_flow.translation.d50_um
    times = [
        simulate_percolation(plan, grind_of(size, fines, 1.1)).bare_bed_s
        for size, fines in ((700, 0.08), (um, dusty.fines_at(um)))
    ]
    assert times[1] == pytest.approx(times[0], rel=0.03)
    clean = grinder(0.05, 1.1)
    assert translate(WANTED, clean, "flow").translation.d50_um < translate(WANTED, clean, "median").translation.d50_um


def test_what_is_not_measured_is_said_to_be_assumed() -> None:
    bare = replace(grinder(0.1, 1.1), fines_below_100=(), spans=())
    answer = translate(target_size(700, 0.02), bare, "flow")
    assert answer.translation.d50_um == pytest.approx(700, rel=0.03)  # a doubt widens, and shifts by less than a click
    assert len(answer.assumptions) == 4 and answer.longer_s is None
    assert translate(target_size(700, 0.02), bare, "median").assumptions == ()


def test_steps_beyond_a_size_go_the_way_of_the_dial() -> None:
    target = grinder(0.1, 1.1)
    start = nearest_setting(target, target_size(700, 0.001))
    finer = nearest_setting(target, target_size(700, 0.001), steps=-6)
    assert float(start.setting) - float(finer.setting) == pytest.approx(0.06)
    other_way = replace(target, dial=replace(target.dial, finer="up"), samples=tuple(
        replace(s, position=10 - s.position) for s in target.samples))  # fmt: skip
    start, finer = (nearest_setting(other_way, target_size(700, 0.001), steps=n) for n in (0, -6))
    assert float(finer.setting) - float(start.setting) == pytest.approx(0.06)
