"""What a log tells: pours, both ends, a stall; against a stand-in that knows the truth."""

from dataclasses import replace

import numpy as np
import pytest

from hakari.core.brew.brewers import BUILT_IN
from hakari.core.brew.schedule import Plan
from hakari.core.brew.steps import steps_of
from hakari.core.brew.styles import draft, style_of
from hakari.core.flow.accuracy import pace_words, pour_accuracy
from hakari.core.flow.capture import BrewLog, actual_plan, capture, find_pours
from hakari.core.flow.drawdown_detection import find_drain
from hakari.core.flow.factors import FlowFactors
from hakari.core.flow.simulate import simulate_flow
from hakari.core.psd.grind_sources import grind_from_figures
from hakari.device.practice_scale import Faults, Hand, PracticeScale
from hakari.device.replay import ReplayedScale

GRIND = grind_from_figures(700, 1.1, 0.08)
STILL = Hand(0.0, 0.0, 0.0)


def plan(brewer: str = "ribbed-cone", style: str = "staged", dose: float = 17.0) -> Plan:
    made = draft(style_of(style), dose, 16.5 * dose, BUILT_IN[brewer], {})
    return Plan(BUILT_IN[brewer], dose, 93, "light", made.pours, made.actions)


def log_of(scale: ReplayedScale) -> BrewLog:
    read = scale.until(1e9)
    t, w = np.array([r.t_s for r in read]), np.array([r.weight_g for r in read])
    return BrewLog(t, w, None) if scale.standing == "brewer" else BrewLog(t, None, w)


@pytest.mark.parametrize("seed", range(6))
def test_the_bare_bed_is_found_in_the_cup(seed: int) -> None:
    brewer = ("ribbed-cone", "flat-bottom", "smooth-cone")[seed % 3]
    p, grind = plan(brewer, dose=15 + seed), grind_from_figures(560 + 50 * seed, 1.1, 0.04 + 0.015 * seed)
    scale = PracticeScale(p, grind, "cup", seed)
    found = capture(p, grind, log_of(scale), lag_s=scale.lag_s)
    truth = scale.truth
    assert found.bare_bed_s == pytest.approx(truth.bare_bed_s, abs=2.0)
    assert found.last_drip_s == pytest.approx(truth.last_drip_s, abs=10.0)
    assert found.drink_g == pytest.approx(truth.drink_g[-1], abs=1.0)
    assert found.stalled_at_s is None and found.pours_from == "plan"
    # The level found from the outflow is the level that was there; a cone's top millimetre aside.
    early = (found.level_t_s < truth.bare_bed_s - 15) & (found.level_t_s > found.level_t_s[0] + 5)
    true = np.interp(found.level_t_s[early], truth.t_s, truth.level_mm)
    assert np.abs(found.level_mm[early] - true).max() < 1.5


def test_nothing_is_found_where_the_bed_never_fell_bare() -> None:
    scale = PracticeScale(plan(), GRIND, "cup", 3)
    log = log_of(scale)
    cut = log.t_s < scale.truth.bare_bed_s - 8
    assert log.drink_g is not None
    found = capture(plan(), GRIND, BrewLog(log.t_s[cut], None, log.drink_g[cut]))
    assert found.bare_bed_s is None and found.last_drip_s is None
    assert capture(plan(), GRIND, BrewLog(np.zeros(0))).bare_bed_s is None


def test_the_break_is_found_in_its_own_closed_form() -> None:
    t = np.arange(0, 200, 0.2)
    bare, rate, tau = 120.0, 1.4, 5.0
    u = np.maximum(t - bare, 0) / tau
    drink = 150 + rate * np.minimum(t - bare, 0) - 0.004 * np.minimum(t - bare, 0) ** 2 + rate * tau * u / (1 + u)
    found = find_drain(t, drink, 60.0)
    assert found.bare_bed_s == pytest.approx(bare, abs=0.5)
    assert found.last_drip_s == pytest.approx(bare + tau * (np.sqrt(rate / 0.02) - 1), abs=3.0)


def test_a_stall_is_told_from_a_slow_drain() -> None:
    p = plan()
    choked = grind_from_figures(500, 1.2, 0.30)
    stalled = PracticeScale(p, choked, "cup", 1, FlowFactors(0.1, 3.0))
    assert stalled.truth.stalled
    found = capture(p, choked, log_of(stalled))
    assert found.stalled_at_s is not None and found.stalled_at_s > p.pours[-1].start_s
    slow = grind_from_figures(560, 1.1, 0.11)
    drained = PracticeScale(p, slow, "cup", 1)
    assert drained.truth.bare_bed_s > 240 and not drained.truth.stalled
    assert capture(p, slow, log_of(drained)).stalled_at_s is None


@pytest.mark.parametrize("style", ["staged", "steady", "one-fill", "twin-bloom"])
def test_pours_are_found_under_the_brewer_and_replayed(style: str) -> None:
    brewer = style_of(style).brewers[0]
    p = plan(brewer, style)
    scale = PracticeScale(p, GRIND, "brewer", 4)
    found = capture(p, GRIND, log_of(scale), lag_s=scale.lag_s)
    real = scale.poured_plan.pours
    assert found.pours_from == "scale" and len(found.pours) == len(real)
    for f, q in zip(found.pours, real, strict=True):
        assert f.water_g == pytest.approx(q.water_g, abs=0.6)
        assert f.start_s == pytest.approx(q.start_s, abs=0.5) and f.end_s - f.start_s == pytest.approx(
            q.duration_s, abs=0.5
        )
    again = actual_plan(p, found.pours)
    assert [q.strength for q in again.pours] == [q.strength for q in p.pours]
    assert simulate_flow(again, GRIND).bare_bed_s == pytest.approx(
        simulate_flow(scale.poured_plan, GRIND).bare_bed_s, abs=2.0
    )


def test_silence_and_drift_make_no_pours() -> None:
    t = np.arange(0, 120, 0.1)
    assert find_pours(t, 0.02 * t + np.random.default_rng(0).normal(0, 0.15, len(t))) == ()
    faults = Faults(silences=3, silence_s=2.0, lost=0.2)
    scale = PracticeScale(plan(), GRIND, "brewer", 8, faults=faults)
    assert len(capture(plan(), GRIND, log_of(scale)).pours) == len(plan().pours)


def test_accuracy_is_nothing_for_a_perfect_hand_and_counts_totals() -> None:
    p = plan()
    steps = steps_of(p, tuple(q.start_s or 0.0 for q in p.pours), 190, 220)
    scale = PracticeScale(p, GRIND, "brewer", 0, hand=STILL, faults=Faults(0, 0, 0, 0, 0))
    perfect = pour_accuracy(steps, capture(p, GRIND, log_of(scale)).pours)
    assert perfect is not None and perfect.typical_late_s < 0.5 and perfect.typical_over_g < 0.5
    pours = capture(p, GRIND, log_of(scale)).pours
    over = (replace(pours[0], water_g=pours[0].water_g + 6), *pours[1:])
    off = pour_accuracy(steps, over)
    assert off is not None and all(e.over_g == pytest.approx(6, abs=0.5) for e in off.pours)
    assert pour_accuracy(steps, pours[:1]) is None
    assert [pace_words(r, 5) for r in (0.1, 2, 4, 5, 7, 9)] == [
        "not pouring", "much too slow", "a little slow", "as planned", "a little fast", "much too fast"
    ]  # fmt: skip


def test_a_replayed_log_gives_each_reading_once() -> None:
    scale = ReplayedScale(np.array([0.0, 1.0, 2.0, 3.0]), np.array([0.0, np.nan, 2.0, 3.0]), "cup", "a log")
    assert [r.t_s for r in scale.until(2.0)] == [0.0, 2.0] and scale.until(2.0) == []
    assert [r.weight_g for r in scale.until(9.0)] == [3.0] and scale.ended(3.1) and not scale.ended(2.9)
