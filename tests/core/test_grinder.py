"""Dials by round trips, curves and translation by made grinders with known truth."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from hakari.core.errors import InputError
from hakari.core.grinder.curve import CurveSample, fit_curve, sample_from_interval
from hakari.core.grinder.dial import ClickDial, NumberDial, step_words
from hakari.core.grinder.grinder import Grinder
from hakari.core.translate.median import translate_setting, translate_size

MILL, BENCH = ClickDial(36, 0, 60), NumberDial(0, 14, 4)
SHAPES = {
    "straight": lambda x: 180 + 1200 * x,
    "exponential": lambda x: 260 * np.exp(1.7 * x),
    "bent": lambda x: 250 + 700 * x + 500 * x**2,
}


@pytest.mark.parametrize("dial", [MILL, BENCH, NumberDial(1, 9, 3, "up"), ClickDial(24, -10, 40)])
def test_every_position_is_written_and_read_back(dial) -> None:
    for p in dial.positions():
        assert dial.parse(dial.write(float(p))) == pytest.approx(float(p))


@pytest.mark.parametrize(
    ("text", "position"),
    [("4 1/4", 4.25), ("4¼", 4.25), ("4.25", 4.25), ("4,25", 4.25), ("3/4", 0.75), ("7", 7), (" 4 + 1/4 ", 4.25)],
)
def test_numbers_as_people_write_them(text: str, position: float) -> None:
    assert BENCH.parse(text) == position


@pytest.mark.parametrize(("text", "position"), [("22", 22), ("22 clicks", 22), ("1+4", 40), ("1 turn 4", 40)])
def test_clicks_as_people_write_them(text: str, position: float) -> None:
    assert MILL.parse(text) == position


@given(st.text(max_size=12))
def test_any_text_is_read_or_refused_with_a_remedy(text: str) -> None:
    for dial in (MILL, BENCH):
        try:
            assert dial.positions()[0] <= dial.parse(text) <= dial.positions()[-1]
        except InputError as refusal:
            assert refusal.code.startswith("setting-") and refusal.remedy and refusal.field == "setting"


def test_off_the_dial_names_its_ends() -> None:
    with pytest.raises(InputError, match="from 0 to 14") as refusal:
        BENCH.parse("15")
    assert refusal.value.code == "setting-off-dial"


def test_steps_in_words() -> None:
    assert step_words(BENCH, 2) == "two quarters coarser"
    assert step_words(ClickDial(36, 0, 60, "up"), 1) == "one click finer"
    assert step_words(NumberDial(0, 9, 2), -3) == "three halves finer"


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
        assert (np.diff(curve.median_um) > 0).all()
    assert np.mean(held) > 0.9
    assert np.median(worst) < 0.05


def test_one_sample_gives_an_offset_and_an_honest_width() -> None:
    curve = fit_curve(BENCH, [CurveSample(5.0, 640, 0.02)], np.random.default_rng(1))
    low, high = curve.interval_um()
    width = np.log(high / low)
    here = int(np.argmin(np.abs(curve.positions - 5)))
    assert width[here] < 0.15 < width[0] and width[here] < width[-1]


def test_finer_upwards_dials_fall() -> None:
    dial = NumberDial(0, 10, 2, "up")
    samples = [CurveSample(2, 900, 0.02), CurveSample(8, 400, 0.02)]
    assert (np.diff(fit_curve(dial, samples, np.random.default_rng(2)).median_um) < 0).all()


def test_contradicting_samples_are_refused() -> None:
    with pytest.raises(InputError) as refusal:
        fit_curve(BENCH, [CurveSample(2, 900, 0.01), CurveSample(10, 300, 0.01)], np.random.default_rng(1))
    assert refusal.value.code == "samples-contradict"


def grinder(name, dial, shape, positions, seed=1) -> Grinder:
    return Grinder(name, "conical", dial, tuple(made_samples(dial, SHAPES[shape], positions, seed)))


@pytest.mark.parametrize(("a", "b"), [("straight", "bent"), ("exponential", "straight"), ("bent", "exponential")])
def test_translation_lands_on_the_true_nearest_or_beside_it(a: str, b: str) -> None:
    hits = 0
    for seed in range(10):
        source = grinder("A", MILL, a, (14, 24, 36), seed)
        target = grinder("B", BENCH, b, (2, 5, 9), seed + 50)
        answer = translate_setting(source, "24", target)
        true = SHAPES[b](BENCH.positions() / 14)
        nearest = int(np.argmin(np.abs(np.log(true / SHAPES[a](24 / 60)))))
        found = int(np.argmin(np.abs(BENCH.positions() - answer.position)))
        hits += abs(found - nearest) <= 1
        chances = answer.chance_nearest + sum(n.chance_nearest for n in answer.neighbours)
        assert 0 < chances <= 1 + 1e-9
        assert answer.interval95_um[0] <= answer.d50_um <= answer.interval95_um[1]
    assert hits >= 9


def test_to_the_same_grinder_and_back_is_the_same_setting() -> None:
    mill = grinder("A", MILL, "straight", (14, 24, 36))
    assert translate_setting(mill, "24", mill).setting == "24"


def test_a_size_beyond_the_dial_is_said_to_be_so() -> None:
    bench = grinder("B", BENCH, "straight", (2, 5, 9))
    answer = translate_size(3000.0, 0.02, bench)
    assert not answer.reachable and answer.setting == "14"
    assert translate_size(700.0, 0.02, bench).reachable


@pytest.mark.parametrize(("d50", "ci"), [(0, None), (-5, None), (600, (650, 700)), (600, (700, 500))])
def test_malformed_samples_are_refused(d50: float, ci) -> None:
    with pytest.raises(InputError):
        sample_from_interval(3, d50, ci)
