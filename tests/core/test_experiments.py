"""Experiments against tables, closed forms and simulation: every interval holds the truth in 93 to 97 of 100 runs."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from math import comb, log, sqrt
from statistics import NormalDist

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from hakari.core.errors import InputError
from hakari.core.experiment.blind import TRIANGLES, draw_codes, draw_order, draw_pairs, draw_triangles, odd_cup
from hakari.core.experiment.control_chart import control_chart
from hakari.core.experiment.due import Practised, box_of, due_at
from hakari.core.experiment.guessing import judge_guesses
from hakari.core.experiment.ladder import judge_ladder
from hakari.core.experiment.paired import compare_pairs
from hakari.core.experiment.pouring import judge_pour
from hakari.core.experiment.repeats import believed_from, judge_repeats
from hakari.core.experiment.settings import even_settings, slope_ln
from hakari.core.experiment.sieving import judge_sieving
from hakari.core.experiment.staircase import Trial, chance_right, next_difference, threshold
from hakari.core.experiment.thirds import split_brew
from hakari.core.experiment.triangle import chance_of_rights, judge_triangle, power, rights_needed, rounds_for_power

RUNS = 2000
# Rights that leave less than 5 % to guessing, as printed in tables of the triangle test.
TABLE = {5: 4, 6: 5, 7: 5, 8: 6, 9: 6, 10: 7, 12: 8, 15: 9, 18: 10, 20: 11, 24: 13, 30: 15, 36: 18, 48: 22, 60: 27}


def exact_tail(rights: int, rounds: int) -> float:
    """The sum of MODELS, in whole numbers."""
    return sum(comb(rounds, k) * 2 ** (rounds - k) for k in range(rights, rounds + 1)) / 3**rounds


def coverage(run: Callable[[np.random.Generator], tuple[float, tuple[float, float]]], seed: int) -> float:
    rng = np.random.default_rng(seed)
    held = 0
    for _ in range(RUNS):
        truth, (low, high) = run(rng)
        held += low <= truth <= high
    return held / RUNS


@given(st.integers(1, 80), st.data())
def test_the_tail_is_the_sum(rounds: int, data: st.DataObject) -> None:
    rights = data.draw(st.integers(0, rounds))
    assert chance_of_rights(rights, rounds) == pytest.approx(exact_tail(rights, rounds), rel=1e-9)


def test_rights_needed_are_those_of_the_tables() -> None:
    assert {n: rights_needed(n) for n in TABLE} == TABLE
    assert rights_needed(2) is None and rights_needed(3) == 3


def test_power_is_how_often_simulated_tasters_reach_it() -> None:
    rng = np.random.default_rng(1)
    for rounds, told in ((12, 0.5), (30, 0.3), (8, 0.0)):
        rights = rng.binomial(rounds, 1 / 3 + 2 / 3 * told, size=20_000)
        assert power(rounds, told) == pytest.approx(float((rights >= TABLE[rounds]).mean()), abs=0.012)
    needed = rounds_for_power(0.5)
    assert needed is not None and min(power(n, 0.5) for n in range(needed, needed + 60)) >= 0.8 > power(needed - 1, 0.5)
    assert rounds_for_power(0.02) is None


def test_a_triangle_says_what_would_settle_it() -> None:
    open_ = judge_triangle(5, 9)
    assert not open_.told_apart and open_.more_rounds is not None
    rng = np.random.default_rng(2)
    right = 1 / 3 + 2 / 3 * open_.can_tell
    total = 9 + open_.more_rounds
    needed = rights_needed(total)
    assert needed is not None
    assert (5 + rng.binomial(open_.more_rounds, right, 20_000) >= needed).mean() >= 0.79
    sure = judge_triangle(8, 9)
    assert sure.told_apart and sure.more_rounds == 0 and sure.can_tell == pytest.approx((3 * 8 / 9 - 1) / 2)
    assert judge_triangle(2, 9).can_tell == 0 and judge_triangle(2, 9).more_rounds is None
    for wrong in ((1, 0), (4, 3), (-1, 3)):
        with pytest.raises(InputError):
            judge_triangle(*wrong)


def test_blind_orders_are_balanced_and_codes_say_nothing() -> None:
    rng = np.random.default_rng(3)
    orders = draw_triangles(60, rng)
    assert Counter(orders) == dict.fromkeys(TRIANGLES, 10)
    assert Counter(odd_cup(o) for o in orders) == {0: 20, 1: 20, 2: 20}
    pairs = draw_pairs(40, rng)
    assert Counter(pairs) == {"AB": 20, "BA": 20} and 0.3 < np.mean([p == "AB" for p in pairs[::2]]) < 0.7
    assert all(sorted(o) == [0, 1, 2, 3, 4] for o in draw_order(5, 20, rng))
    codes = draw_codes(90, rng)
    assert len(set(codes)) == 90 and all(len(c) == 3 for c in codes)


def told_share(rng: np.random.Generator) -> tuple[float, tuple[float, float]]:
    told, rounds = float(rng.uniform(0.15, 0.9)), int(rng.integers(18, 40))
    return told, judge_triangle(int(rng.binomial(rounds, 1 / 3 + 2 / 3 * told)), rounds).ci95_can_tell


def spread_of_hand(rng: np.random.Generator) -> tuple[float, tuple[float, float]]:
    found = judge_repeats(list(180 + 7 * rng.normal(size=5))).spread
    return 7.0, (found.low, found.high)


def difference_of_ways(rng: np.random.Generator) -> tuple[float, tuple[float, float]]:
    day = rng.normal(0, 10, 6)
    a, b = 180 + day + rng.normal(0, 4, 6), 186 + day + rng.normal(0, 4, 6)
    return 6.0, compare_pairs(a.tolist(), b.tolist(), 3.0).ci95


def peak_of_ladder(rng: np.random.Generator, whole: bool = False) -> tuple[float, tuple[float, float]]:
    steps = np.repeat([0.0, 10, 20, 30, 40], 4)
    peak = float(rng.uniform(12, 28))
    liked = 4.4 - ((steps - peak) / 13) ** 2 + rng.normal(0, 0.7, len(steps))
    return peak, judge_ladder(steps.tolist(), (liked.clip(1, 5).round() if whole else liked).tolist()).ci95


def peak_in_whole_scores(rng: np.random.Generator) -> tuple[float, tuple[float, float]]:
    return peak_of_ladder(rng, whole=True)


def bias_of_eye(rng: np.random.Generator) -> tuple[float, tuple[float, float]]:
    true = rng.uniform(400, 1000, 8)
    found = judge_guesses((true * np.exp(rng.normal(-0.12, 0.2, 8))).tolist(), true.tolist())
    assert found is not None
    return -0.12, found.ci95_ln


def seen_by_eye(rng: np.random.Generator) -> tuple[float, tuple[float, float]]:
    """An eye of some noise goes up and down the stairs."""
    noise = float(np.exp(rng.uniform(log(0.02), log(0.3))))
    trials: list[Trial] = []
    for _ in range(50):
        d = next_difference(trials)
        seen = rng.normal(d, sqrt(2) * noise) > 0 if rng.random() > 0.02 else rng.random() < 0.5
        trials.append(Trial(d, bool(seen)))
    found = threshold(trials)
    assert found is not None
    # 0.01 + 0.98 Φ(d/√2 noise) = 0.75
    return sqrt(2) * noise * NormalDist().inv_cdf(0.74 / 0.98), found.ci95_ln


@pytest.mark.parametrize(
    "run",
    [told_share, spread_of_hand, difference_of_ways, peak_of_ladder, peak_in_whole_scores, bias_of_eye, seen_by_eye],
)
def test_intervals_hold_the_truth(run: Callable[[np.random.Generator], tuple[float, tuple[float, float]]]) -> None:
    assert 0.93 <= coverage(run, 11) <= 0.97


def test_the_staircase_hovers_about_its_target() -> None:
    """Two rights in a row go down and a wrong one up: it rests where both are as likely, at √½."""
    rng = np.random.default_rng(5)
    levels: list[float] = []
    for _ in range(60):
        trials: list[Trial] = []
        for _ in range(100):
            d = next_difference(trials)
            trials.append(Trial(d, bool(rng.random() < chance_right(d, 0.08))))
        levels += [t.difference_ln for t in trials[30:]]
    rights = np.array([chance_right(d, 0.08) for d in levels])
    assert float(rights.mean()) == pytest.approx(sqrt(0.5), abs=0.02)
    assert chance_right(0, 0.1) == pytest.approx(0.5) and chance_right(5, 0.1) == pytest.approx(0.99)
    assert threshold([]) is None


def test_pairs_go_on_until_it_is_clear() -> None:
    same = [200.0, 210, 195, 205, 199, 207]
    assert (
        compare_pairs(same, [v + d for v, d in zip(same, (8, 9, 7, 10, 8, 9), strict=True)], 3).verdict == "different"
    )
    assert compare_pairs(same, [v + d for v, d in zip(same, (1, -1, 0, 1, 0, -1), strict=True)], 5).verdict == "alike"
    unclear = compare_pairs(same[:3], [v + d for v, d in zip(same, (9, -4, 6), strict=False)], 3)
    assert unclear.verdict == "keep-going" and unclear.more_pairs is not None and unclear.more_pairs > 3
    for a, b, worth in (([1.0], [2.0], 1.0), (same, same, 0.0)):
        with pytest.raises(InputError):
            compare_pairs(a, b, worth)


def test_a_believed_change_is_rarely_chance() -> None:
    rng = np.random.default_rng(7)
    differences = np.abs(np.diff(rng.normal(0, 5, (40_000, 2)))[:, 0])
    assert float((differences > believed_from(5)).mean()) == pytest.approx(0.05, abs=0.005)
    with pytest.raises(InputError):
        judge_repeats([200.0])


def test_a_ladder_without_a_peak_says_so() -> None:
    rising = judge_ladder([0, 10, 20, 30, 0, 10, 20, 30], [1, 2, 3, 4, 1, 2, 3.2, 4.3])
    assert rising.peak is None and not rising.decided and rising.best == 30
    bent = judge_ladder([0, 10, 20, 30, 40] * 2, [1, 3, 4.5, 3, 1, 1.2, 3.1, 4.4, 2.8, 1.1])
    assert bent.best == 20 and bent.decided and bent.ci95[0] > 15 and bent.ci95[1] < 25
    with pytest.raises(InputError):
        judge_ladder([0, 10, 0, 10], [1, 2, 1, 2])


@given(st.lists(st.tuples(st.floats(5, 400), st.floats(0.05, 9)), min_size=2, max_size=6), st.floats(5, 60))
def test_splitting_and_mixing_keeps_mass_and_solids(cups: list[tuple[float, float]], dose_g: float) -> None:
    parts = split_brew([c[0] for c in cups], [c[1] for c in cups], dose_g)
    solids = sum(m * t / 100 for m, t in cups)
    assert sum(p.share_percent for p in parts) == pytest.approx(100)
    assert parts[-1].mixed_g == pytest.approx(sum(m for m, _ in cups))
    assert parts[-1].mixed_tds_percent == pytest.approx(100 * solids / parts[-1].mixed_g)
    assert (
        parts[-1].mixed_ey_percent
        == pytest.approx(sum(p.ey_percent for p in parts))
        == pytest.approx(100 * solids / dose_g)
    )


def test_three_settings_step_evenly_in_size() -> None:
    clicks = [300 * 1.02**k for k in range(40)]
    chosen = even_settings(clicks, 20)
    assert chosen.steps_ln == pytest.approx((0.13, 0.13), abs=0.011)
    assert chosen.places[0] < 20 < chosen.places[2]
    near_the_end = even_settings(clicks, 4)
    assert near_the_end.places[0] == 0 and near_the_end.steps_ln[0] == pytest.approx(
        near_the_end.steps_ln[1], abs=0.011
    )
    assert even_settings(clicks[::-1], 20).median_um[0] < even_settings(clicks[::-1], 20).median_um[2]
    assert even_settings([400, 560, 760], 1).places == (0, 1, 2)
    with pytest.raises(InputError):
        even_settings(clicks, 0)
    sizes = np.array([500.0, 600, 700])
    assert slope_ln(sizes.tolist(), (1e6 / sizes**1.7).tolist()) == pytest.approx(-1.7)
    assert slope_ln([500, 500], [1, 2]) is None


def test_sieving_keeps_mass() -> None:
    found = judge_sieving(20, 17, 2)
    assert found.kept_share + found.removed_share + found.lost_share == pytest.approx(1) and found.lost_much
    assert judge_sieving(20, 18.01, 2).lost_share == 0
    for wrong in ((20, 18, 3), (0, 0, 0), (20, -1, 3)):
        with pytest.raises(InputError):
            judge_sieving(*wrong)


def test_a_pour_is_scored_by_its_time_in_the_band() -> None:
    curve = ([0.0, 30.0], [0.0, 150.0])
    t = np.linspace(0, 30, 301)
    even = judge_pour(t.tolist(), (5 * t).tolist(), *curve)
    assert even.score == 100 and even.rate_g_s == pytest.approx(5) and even.rate_sd_g_s == pytest.approx(0, abs=1e-6)
    late = judge_pour(t.tolist(), np.maximum(5 * (t - 4), 0).tolist(), *curve)
    # 20 g behind from the fourth second on, 5 g within the first: only one second of thirty is in the band.
    assert late.in_band_share == pytest.approx(1 / 30, abs=0.01) and late.end_off_g == pytest.approx(-20)
    assert judge_pour(t.tolist(), (5 * t + 4 * np.sin(2 * t)).tolist(), *curve).rate_sd_g_s > 2
    with pytest.raises(InputError):
        judge_pour([0, 1], [0, 5], *curve)


def test_what_goes_well_comes_later_and_what_goes_wrong_soon() -> None:
    start = datetime(2026, 3, 1, tzinfo=UTC)
    once = [Practised(start, True)]
    thrice = [Practised(start + timedelta(days=k), True) for k in (0, 1, 3)]
    assert due_at([]) is None
    assert due_at(once) == start + timedelta(days=1)
    assert due_at(thrice) == start + timedelta(days=3 + 4) and box_of(thrice) == 3
    assert due_at([*thrice, Practised(start + timedelta(days=9), False)]) == start + timedelta(days=9, minutes=10)


def test_a_steady_grinder_is_rarely_called_changed() -> None:
    rng = np.random.default_rng(21)
    days = np.arange(40.0)
    alarms = 0
    for _ in range(400):
        chart = control_chart(days.tolist(), (600 * np.exp(rng.normal(0, 0.02, 40))).tolist(), [0.02] * 40)
        assert chart is not None
        alarms += chart.change is not None
    assert alarms / 400 < 0.25  # 40 points, two charts, limits from ten of them
    assert control_chart([0.0, 1, 2], [600, 601, 602], [0.01] * 3) is None


@pytest.mark.parametrize("by", [0.08, -0.1])
def test_a_drift_and_a_jump_are_told_apart(by: float) -> None:
    rng = np.random.default_rng(22)
    days, noise = np.arange(50.0), rng.normal(0, 0.015, (40, 50))
    drifts, jumps, found = 0, 0, []
    for n in noise:
        drift = control_chart(days.tolist(), (600 * np.exp(by * days / 49 + n)).tolist(), [0.015] * 50)
        jump = control_chart(days.tolist(), (600 * np.exp(by * (days >= 31) + n)).tolist(), [0.015] * 50)
        assert drift is not None and jump is not None
        drifts += drift.change == "drift" and abs(drift.change_ln - by) < 0.03
        jumps += jump.change == "jump" and abs(jump.change_ln - by) < 0.02
        found.append(jump.since)
    assert drifts >= 36 and jumps >= 36 and np.median([k for k in found if k is not None]) == 31


def test_the_noise_of_measuring_is_no_change() -> None:
    """Figures that lie closer together than they are known to keep wide limits."""
    days = list(range(12))
    close = control_chart(days, [600 + k % 2 for k in days], [0.03] * 12)
    assert close is not None and close.sd_ln == pytest.approx(0.03) and close.change is None
    assert close.high_ln - close.low_ln == pytest.approx(0.18)
