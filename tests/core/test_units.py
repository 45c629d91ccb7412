"""What people type for masses, ratios, temperatures and times, and what it means."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from hakari.core.brew.units import clock, parse_celsius, parse_grams, parse_ratio, parse_seconds
from hakari.core.errors import InputError


@pytest.mark.parametrize(
    "text", ["3:45", "3.45", "3,45", "3 45", "3m45", "3m45s", "3 min 45", "3'45", "225", "225 s", "225s", "3.75 min"]
)
def test_every_way_to_type_a_time_is_the_same_time(text: str) -> None:
    assert parse_seconds(text, "drawdown_s") == 225


@given(st.integers(0, 99), st.integers(0, 59), st.sampled_from([":", ".", ",", " ", "m", "min", "'"]))
def test_minutes_and_seconds_come_back_whatever_stands_between(minutes: int, seconds: int, between: str) -> None:
    assert parse_seconds(f"{minutes}{between}{seconds:02d}", "") == 60 * minutes + seconds


@given(st.integers(0, 5999))
def test_a_printed_time_reads_as_itself(seconds: int) -> None:
    assert parse_seconds(clock(seconds), "") == seconds


def test_hours_are_printed_as_hours() -> None:
    assert [clock(s) for s in (0, 225, 7199, 7200, 43200, 45000)] == [
        "0:00",
        "3:45",
        "119:59",
        "2 h",
        "12 h",
        "12:30 h",
    ]


def test_an_unclear_time_is_asked_for_with_both_readings() -> None:
    with pytest.raises(InputError) as refusal:
        parse_seconds("2.5", "drawdown_s")
    assert refusal.value.code == "unclear-time" and "2:30" in refusal.value.message and "2:50" in refusal.value.message
    assert refusal.value.field == "drawdown_s"


@pytest.mark.parametrize(("text", "hours"), [("12 h", 12), ("1.5h", 1.5), ("24 hours", 24)])
def test_steeps_of_hours(text: str, hours: float) -> None:
    assert parse_seconds(text, "") == 3600 * hours


@pytest.mark.parametrize(
    ("text", "grams"), [("18,5", 18.5), ("18.5 g", 18.5), ("300 ml", 300), ("0.3 l", 300), ("10 oz", 283.5)]
)
def test_masses(text: str, grams: float) -> None:
    assert parse_grams(text, "dose_g") == pytest.approx(grams, abs=0.05)


@pytest.mark.parametrize(
    ("text", "ratio"),
    [
        ("16", 16),
        ("1:16", 16),
        ("16:1", 16),
        ("1 : 16", 16),
        ("60 g/l", 16.667),
        ("55 g/L", 18.18),
        ("60g/litre", 16.667),
    ],
)
def test_ratios(text: str, ratio: float) -> None:
    assert parse_ratio(text, "ratio") == pytest.approx(ratio, abs=0.005)


@pytest.mark.parametrize(
    ("text", "celsius"),
    [("93", 93), ("93 °C", 93), ("205 F", 96.1), ("205°F", 96.1), ("off the boil", 99), ("boiling", 99)],
)
def test_temperatures(text: str, celsius: float) -> None:
    assert parse_celsius(text, "water_c") == pytest.approx(celsius, abs=0.05)


@pytest.mark.parametrize("text", ["", "the", "off", "off the"])
def test_half_a_phrase_is_no_temperature(text: str) -> None:
    with pytest.raises(InputError):
        parse_celsius(text, "water_c")


def test_a_kettle_off_the_boil_cools_towards_the_room() -> None:
    waits = [parse_celsius(f"{minutes} min off the boil", "") for minutes in (1, 5, 20, 600)]
    assert all(a > b for a, b in zip(waits[:-1], waits[1:], strict=True)) and 22 <= waits[-1] < 23


@pytest.mark.parametrize("read", [parse_seconds, parse_grams, parse_ratio, parse_celsius])
@given(text=st.text(max_size=12))
def test_anything_else_is_refused_in_words_and_nothing_breaks(read, text: str) -> None:  # type: ignore[no-untyped-def]
    try:
        assert read(text, "field") == read(text, "field")
    except InputError as error:
        assert error.message and error.remedy and error.field == "field"


@pytest.mark.parametrize(
    ("text", "seconds"), [("5:06 h", 18360), ("14:05h", 50700), ("2 h 30 min", 9000), ("12 h", 43200)]
)
def test_hours_are_read_as_they_are_shown(text: str, seconds: float) -> None:
    assert parse_seconds(text, "drawdown_s") == seconds
    assert parse_seconds("5:06", "drawdown_s") == 306
