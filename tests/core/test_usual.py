"""Display units by conversion tables; unlikely values by what baristas call usual."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from hakari.core.advice.evidence import Outcome
from hakari.core.advice.plausibility import check_outcome, unlikely_readings
from hakari.core.brew.brewers import built_in
from hakari.core.brew.display_units import DisplayUnits
from hakari.core.brew.styles import STYLES
from hakari.core.brew.units import parse_celsius, parse_grams
from hakari.core.brew.usual import unlikely_amounts
from hakari.core.translate.match import default_plan

US = DisplayUnits("oz", "F")


@pytest.mark.parametrize(
    ("said", "expected"),
    [
        (US.masses(28.35), "1.00 oz"),
        (US.masses(226.8), "8.0 oz"),
        (US.masses(100, 226.8, between=" to "), "3.53 to 8.00 oz"),
        (US.heat(93), "199 °F"),
        (US.heat(100), "212 °F"),
        # A difference has no offset: 5 K are 9 °F.
        (US.heat_difference(5), "9 °F"),
        (DisplayUnits().masses(17.5, digits=None), "17.5 g"),
        (DisplayUnits().masses(59, 66, between=" to "), "59 to 66 g"),
        (DisplayUnits("g", "F").heat(20), "68 °F"),
    ],
)
def test_quantities_in_the_units_of_a_conversion_table(said: str, expected: str) -> None:
    assert said == expected


@given(st.floats(1, 2000), st.floats(-10, 110))
def test_what_is_written_reads_back_as_itself(grams: float, celsius: float) -> None:
    assert parse_grams(US.masses(grams), "") == pytest.approx(grams, abs=0.06 * 28.35)
    assert parse_celsius(US.heat(max(celsius, 0)), "") == pytest.approx(max(celsius, 0), abs=0.3)


@pytest.mark.parametrize("name", STYLES)
def test_a_style_as_it_is_meant_raises_no_question(name: str) -> None:
    style = STYLES[name]
    brewer = built_in(style.brewers[0])
    dose = min(max(17.0, style.dose_g[0], brewer.dose_g[0]), style.dose_g[1], brewer.dose_g[1])
    assert unlikely_amounts(style, brewer, dose, style.ratio, style.water_c) == []


@pytest.mark.parametrize(
    ("dose_g", "ratio", "water_c", "asked"),
    [
        (17, 16, 100, set()),  # off the boil, for a light roast
        (17, 16, 39, {"water_c"}),  # the 9 of 93 was missed
        (170, 16, 93, {"dose_g"}),
        (17, 9.5, 93, {"ratio"}),
        (1.7, 16, 93, {"dose_g"}),
    ],
)
def test_slips_of_the_finger_on_a_plan_are_asked_about(
    dose_g: float, ratio: float, water_c: float, asked: set[str]
) -> None:
    found = unlikely_amounts(STYLES["staged"], built_in("ribbed-cone"), dose_g, ratio, water_c)
    assert {u.field for u in found} == asked
    assert all(not u.low <= u.value <= u.high for u in found)


CUP = Outcome(drawdown_s=180, tds_percent=1.35, drink_g=245)


@pytest.mark.parametrize(
    ("changed", "asked"),
    [
        ({}, set()),
        ({"tds_percent": 1.62}, set()),  # 23 % of the coffee: a strong cup
        ({"tds_percent": 0.35}, {"outcome.tds_percent"}),  # the 1 of 1.35 was missed
        ({"tds_percent": 2.15}, {"outcome.tds_percent"}),  # 31 % of the coffee
        ({"drink_g": 24.0, "tds_percent": None}, {"outcome.drink_g"}),
        ({"drawdown_s": 3600.0}, {"outcome.drawdown_s"}),
        ({"drawdown_s": 3600.0, "stalled": True}, set()),
        ({"spent_dry_g": 13.6}, set()),
        ({"spent_dry_g": 16.4}, {"outcome.spent_dry_g"}),  # not dry yet
    ],
)
def test_slips_of_the_finger_on_a_cup_are_asked_about_and_not_refused(
    changed: dict[str, float], asked: set[str]
) -> None:
    outcome = replace(CUP, **changed)  # type: ignore[arg-type]
    plan = default_plan()
    check_outcome(outcome, plan.dose_g)
    assert {u.field for u in unlikely_readings(outcome, plan, 190.0)} == asked
