"""Dials by round trips, curves, eras and translation by made grinders with known truth."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from hakari.core.errors import InputError
from hakari.core.grinder.curve import CurveSample, fit_curve, sample_from_interval
from hakari.core.grinder.diagnostics import ODD_SIGMAS, next_to_measure, odd_samples
from hakari.core.grinder.dial import Dial, step_words
from hakari.core.grinder.grinder import Grinder
from hakari.core.grinder.kinds import BladeDial, ClickDial, NumberDial, RingDial, SteplessDial, TurnDial
from hakari.core.translate.nearest import nearest_setting, target_setting, target_size

MILL, BENCH = ClickDial(maximum=60), NumberDial(maximum=14)
COLLAR, TURNS = SteplessDial(minimum=1.0, maximum=6.0), TurnDial()
RINGS = RingDial(coarse=tuple("ABCDEFGHIJK"), fine=tuple("123456789"), fine_span=2.0)
SHAPES = {
    "straight": lambda x: 180 + 1200 * x,
    "exponential": lambda x: 260 * np.exp(1.7 * x),
    "bent": lambda x: 250 + 700 * x + 500 * x**2,
    "flattening": lambda x: 220 + 1500 * x - 500 * x**2,
}
finer = st.sampled_from(["down", "up"])
labels = st.lists(st.text("ABCDEab1234567890", min_size=1, max_size=2), min_size=2, max_size=9, unique_by=str.lower)
dials = st.one_of(
    st.builds(ClickDial, finer, st.none(), st.integers(1, 60), st.integers(-50, 5), st.integers(6, 200)),
    st.builds(NumberDial, finer, st.none(), st.integers(-4, 3), st.integers(4, 20), st.integers(1, 16)),
    st.builds(
        SteplessDial, finer, st.none(), st.sampled_from([-1.0, 0.0, 0.5, 1.25]), st.sampled_from([4.0, 9.9]),
        st.sampled_from([0.05, 0.1, 0.2, 0.25, 0.01, 1 / 3]),
    ),
    st.builds(TurnDial, finer, st.none(), st.integers(2, 12), st.integers(2, 9), st.just("0.1.0"), st.just("3.0.1")),
    st.builds(BladeDial, maximum=st.integers(3, 90)),
    st.builds(RingDial, finer, st.none(), labels.map(tuple), labels.map(tuple), st.sampled_from([0.5, 1.0, 2.0, 3.0])),
)  # fmt: skip


@given(dials)
@settings(deadline=None)
def test_every_setting_of_every_kind_is_written_and_read_back(dial: Dial) -> None:
    assert (np.diff(dial.positions()) >= 0).all()
    for place in range(len(dial.settings)):
        assert dial.parse(dial.write(place)) == place
        assert dial.parse(f" {dial.write(place).upper()} ") == place


@given(dials, st.text(max_size=12))
@settings(deadline=None)
def test_any_text_is_read_or_refused_with_a_remedy(dial: Dial, text: str) -> None:
    try:
        assert 0 <= dial.parse(text) < len(dial.settings)
    except InputError as refusal:
        assert refusal.code.startswith("setting-") and refusal.remedy and refusal.field == "setting"


@pytest.mark.parametrize(
    ("dial", "text", "written"),
    [
        (BENCH, "4¼", "4 1/4"), (BENCH, "4,25", "4 1/4"), (BENCH, "3/4", "3/4"), (BENCH, "4 + 1/4", "4 1/4"),
        (BENCH, "setting 7", "7"), (NumberDial(minimum=-2), "-1 1/2", "-1 1/2"), (MILL, "1 turn 4", "40"),
        (MILL, "22 clicks", "22"), (MILL, "1+7", "43"), (COLLAR, "4.35", "4.35"), (COLLAR, "4,36", "4.35"),
        (COLLAR, "2", "2.00"), (TURNS, "1.4.2", "1.4.2"), (TURNS, "1.4", "1.4.0"), (TURNS, "31 clicks", "0.6.1"),
        (TURNS, "7", "0.7.0"), (RINGS, "b4", "B4"), (RINGS, "C / 4", "C4"), (RINGS, "c-4", "C4"),
    ],
)  # fmt: skip
def test_settings_as_people_write_them(dial: Dial, text: str, written: str) -> None:
    assert dial.write(dial.parse(text)) == written


@pytest.mark.parametrize(
    ("dial", "text", "code"),
    [
        (BENCH, "15", "setting-off-dial"), (BENCH, "4.1", "setting-between-steps"), (TURNS, "1.14.2", "setting-unreadable"),
        (RINGS, "M4", "setting-unreadable"), (COLLAR, "seven", "setting-unreadable"), (MILL, "61", "setting-off-dial"),
    ],
)  # fmt: skip
def test_what_is_no_setting_is_refused(dial: Dial, text: str, code: str) -> None:
    with pytest.raises(InputError) as refusal:
        dial.parse(text)
    assert refusal.value.code == code


def test_labels_that_would_read_alike_are_told_apart() -> None:
    dial = RingDial(coarse=("1", "11"), fine=("1", "11"))
    assert sorted(dial.settings) == ["1-1", "1-11", "11-1", "11-11"]
    assert dial.write(dial.parse("11 1")) == "11-1"


def test_steps_in_words_count_positions_not_labels() -> None:
    assert step_words(BENCH, 4, 6) == "two quarters coarser"
    assert step_words(replace(MILL, finer="up"), 20, 21) == "one click finer"
    assert step_words(NumberDial(parts=2), 9, 6) == "three halves finer"
    whole_turn = RingDial(coarse=("A", "B", "C"), fine=("1", "2"), fine_span=2.0)
    assert step_words(whole_turn, whole_turn.parse("A2"), whole_turn.parse("B1")) == "the same setting"


def test_where_the_burrs_touch_is_no_setting_to_grind_at() -> None:
    mill = replace(grinder("A", MILL, "straight", (14, 24, 36)), dial=replace(MILL, zero="5"))
    answer = nearest_setting(mill, target_size(200.0, 0.02))
    assert answer.setting == "6" and not answer.reachable


def made_samples(dial, shape, positions, seed: int, error: float = 0.02) -> list[CurveSample]:
    rng = np.random.default_rng(seed)
    ends = dial.positions()
    unit = [(p - ends[0]) / (ends[-1] - ends[0]) for p in positions]
    return [
        CurveSample(p, float(shape(u) * np.exp(rng.normal(0, error))), error)
        for p, u in zip(positions, unit, strict=True)
    ]


@pytest.mark.parametrize("shape", SHAPES)
def test_between_three_samples_the_curve_is_close_and_its_interval_holds(shape: str) -> None:
    held, worst = [], []
    for seed in range(12):
        curve = fit_curve(BENCH, made_samples(BENCH, SHAPES[shape], (2, 6, 11), seed), np.random.default_rng(seed))
        true = SHAPES[shape](curve.positions / 14)
        inside = (curve.positions >= 2) & (curve.positions <= 11)
        low, high = curve.interval_um()
        held.append(((low <= true) & (true <= high))[inside].mean())
        worst.append(np.abs(np.log(curve.median_um / true))[inside].max())
    assert np.mean(held) > 0.9
    assert np.median(worst) < 0.05


@given(
    st.sampled_from([MILL, BENCH, COLLAR, TURNS, RINGS]), finer, st.integers(1, 6), st.integers(0, 10_000),
    st.sampled_from([None, 30.0, 300.0]),
)  # fmt: skip
@settings(max_examples=25, deadline=None)
def test_coarser_along_the_dial_always(dial: Dial, way, count: int, seed: int, travel) -> None:
    dial = replace(dial, finer=way)
    rng = np.random.default_rng(seed)
    places = np.sort(rng.choice(len(dial.settings), count, replace=False))
    sizes = np.sort(rng.uniform(250, 1400, count))
    sizes = sizes if way == "down" else sizes[::-1]
    samples = [CurveSample(float(dial.positions()[p]), float(s), 0.05) for p, s in zip(places, sizes, strict=True)]
    try:
        curve = fit_curve(dial, samples, rng, travel)
    except InputError as refusal:
        assert refusal.code == "samples-contradict"
        return
    rise = np.diff(curve.median_um) * (1 if way == "down" else -1)
    assert (rise >= 0).all() and (rise[np.diff(curve.positions) > 1e-9] > 0).all()


def test_one_sample_gives_an_offset_and_an_honest_width_that_travel_narrows() -> None:
    def width(travel):
        low, high = fit_curve(BENCH, [CurveSample(5.0, 640, 0.02)], np.random.default_rng(1), travel).interval_um()
        return np.log(high / low)

    bare, told = width(None), width(85.0)
    here = BENCH.nearest(5.0)
    assert bare[here] < 0.15 < bare[0] and bare[here] < bare[-1]
    assert told[-1] < 0.8 * bare[-1]


def test_contradicting_samples_and_blades_are_refused() -> None:
    with pytest.raises(InputError) as refusal:
        fit_curve(BENCH, [CurveSample(2, 900, 0.01), CurveSample(10, 300, 0.01)], np.random.default_rng(1))
    assert refusal.value.code == "samples-contradict"
    with pytest.raises(InputError) as refusal:
        replace(grinder("A", MILL, "straight", (14, 24)), burrs="blade").curve()
    assert refusal.value.code == "no-curve-for-blades"


def test_the_odd_sample_is_found_and_the_others_are_not() -> None:
    samples = made_samples(BENCH, SHAPES["bent"], (2, 4, 6, 8, 11), 3, 0.01)
    assert all(abs(z or 0) < ODD_SIGMAS for z in odd_samples(BENCH, samples))
    samples[2] = replace(samples[2], d50_um=samples[2].d50_um * 1.25)
    distances = odd_samples(BENCH, samples)
    assert int(np.argmax(np.abs(distances))) == 2 and abs(distances[2]) > ODD_SIGMAS


def test_the_next_setting_to_measure_lies_where_the_curve_is_wide_and_narrows_it() -> None:
    curve = fit_curve(BENCH, made_samples(BENCH, SHAPES["straight"], (3, 4), 1), np.random.default_rng(1))
    wanted = (curve.positions > 7) & (curve.positions < 10)
    place, before, after = next_to_measure(curve, wanted.astype(float), np.ones(len(wanted), bool))
    assert curve.positions[place] > 6 and after < 0.5 * before
    more = [*curve.samples, CurveSample(float(curve.positions[place]), float(curve.median_um[place]), 0.02)]
    low, high = fit_curve(BENCH, more, np.random.default_rng(1)).interval_um()
    assert np.log(high / low)[wanted].mean() / 2 == pytest.approx(after, rel=0.4)


def test_a_darker_roast_is_offset_and_the_curve_stays_with_the_usual_one() -> None:
    samples = [replace(s, roast="light") for s in made_samples(BENCH, SHAPES["straight"], (2, 6, 11), 1, 0.01)]
    plain = fit_curve(BENCH, samples, np.random.default_rng(1))
    darker = CurveSample(6.0, 0.93 * float(SHAPES["straight"](6 / 14)), 0.01, "dark")
    curve = fit_curve(BENCH, [*samples, darker], np.random.default_rng(1))
    place = BENCH.nearest(8.0)
    assert np.median(curve.at(place, "dark")) / np.median(curve.at(place)) == pytest.approx(0.94, abs=0.02)
    assert np.median(curve.at(place)) == pytest.approx(np.median(plain.at(place)), rel=0.015)
    bench = Grinder("B", "flat", BENCH, (*samples, darker))
    usual, dark = (nearest_setting(bench, target_size(760.0, 0.001), roast=r) for r in (None, "dark"))
    assert dark.place > usual.place and dark.d50_um == pytest.approx(usual.d50_um, rel=0.03)


@pytest.mark.parametrize("count", [1, 2])
def test_after_a_cleaning_few_samples_find_the_moved_curve(count: int) -> None:
    before = grinder("A", BENCH, "bent", (2, 5, 8, 12), 4)
    moved = lambda p: SHAPES["bent"]((np.asarray(p) - 0.75) / 14)  # noqa: E731 the zero went up by three quarters
    new = tuple(CurveSample(p, float(moved(p)), 0.012) for p in (6.0, 9.0)[:count])
    unmeasured = replace(before, before=before, samples=(), reason="cleaned")
    after = replace(unmeasured, samples=new).curve()
    inside = (after.positions >= 3) & (after.positions <= 11)
    assert np.abs(np.log(after.median_um / moved(after.positions)))[inside].max() < 0.05
    low, high = after.interval_um()
    assert ((low <= moved(after.positions)) & (moved(after.positions) <= high))[inside].mean() > 0.9
    wide_low, wide_high = unmeasured.curve().interval_um()
    assert (np.log(wide_high / wide_low) > 1.5 * np.log(high / low))[inside].all()


def grinder(name, dial, shape, positions, seed=1) -> Grinder:
    return Grinder(name, "conical", dial, tuple(made_samples(dial, SHAPES[shape], positions, seed)))


@pytest.mark.parametrize(("a", "b"), [("straight", "bent"), ("exponential", "straight"), ("bent", "flattening")])
def test_translation_lands_on_the_true_nearest_or_beside_it(a: str, b: str) -> None:
    hits = 0
    for seed in range(10):
        source = grinder("A", MILL, a, (14, 24, 36), seed)
        target = grinder("B", BENCH, b, (2, 5, 9), seed + 50)
        answer = nearest_setting(target, target_setting(source, "24"))
        true = SHAPES[b](BENCH.positions() / 14)
        nearest = int(np.argmin(np.abs(np.log(true / SHAPES[a](24 / 60)))))
        hits += abs(answer.place - nearest) <= 1
        chances = answer.chance_nearest + sum(n.chance_nearest for n in answer.neighbours)
        assert 0 < chances <= 1 + 1e-9
        assert answer.interval95_um[0] <= answer.d50_um <= answer.interval95_um[1]
    assert hits >= 9


@given(
    st.sampled_from([MILL, BENCH, COLLAR, TURNS]), st.sampled_from([MILL, BENCH, COLLAR, TURNS]),
    st.sampled_from(sorted(SHAPES)), st.integers(25, 60), st.integers(0, 1000),
)  # fmt: skip
@settings(max_examples=15, deadline=None)
def test_there_and_back_lands_within_one_step(a: Dial, b: Dial, shape: str, percent: int, seed: int) -> None:
    def made(dial: Dial, s: int) -> Grinder:
        p = dial.positions()
        return grinder("", dial, shape, [float(p[int(len(p) * q)]) for q in (0.2, 0.45, 0.7)], s)

    source, target = made(a, seed), made(b, seed + 1)
    start = int(len(a.settings) * percent / 100)
    there = nearest_setting(target, target_setting(source, a.write(start)))
    back = nearest_setting(source, target_setting(target, there.setting))
    if there.reachable and back.reachable:
        # One step of the coarser dial, in steps of the finer one, and one of its own.
        one = np.abs(np.diff(np.log(target.curve().median_um)))[max(there.place - 1, 0)]
        own = np.abs(np.diff(np.log(source.curve().median_um)))[max(start - 1, 0)]
        assert abs(back.place - start) <= max(1, np.ceil(0.5 * one / own) + 1)


def test_a_size_beyond_the_dial_is_said_to_be_so() -> None:
    bench = grinder("B", BENCH, "straight", (2, 5, 9))
    answer = nearest_setting(bench, target_size(3000.0, 0.02))
    assert not answer.reachable and answer.setting == "14"
    assert nearest_setting(bench, target_size(700.0, 0.02)).reachable


@pytest.mark.parametrize(("d50", "ci"), [(0, None), (-5, None), (600, (650, 700)), (600, (700, 500))])
def test_malformed_samples_are_refused(d50: float, ci) -> None:
    with pytest.raises(InputError):
        sample_from_interval(3, d50, ci)


def test_blades_are_read_in_seconds_and_shakes() -> None:
    dial = BladeDial()
    typed = {
        "12": "12 s",
        "12 s": "12 s",
        "12 seconds, 3 shakes": "12 s shaken",
        "12 s shaken": "12 s shaken",
        "9s, 0 shakes": "9 s",
    }
    assert {words: dial.write(dial.parse(words)) for words in typed} == typed
    assert step_words(dial, dial.parse("10"), dial.parse("12")) == "two seconds finer"
    with pytest.raises(InputError):
        dial.parse("a while")
