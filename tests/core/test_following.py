"""A plan as steps, and where a brew stands in them by clock, taps and scale."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from hakari.core.brew.brewers import BUILT_IN
from hakari.core.brew.follow import expected_water_g, follow, pour_reached
from hakari.core.brew.schedule import Action, Plan, Pour, Steep
from hakari.core.brew.steps import Step, for_dose, steps_of

CONE = BUILT_IN["ribbed-cone"]
PLAN = Plan(
    CONE, 17, 93, "light", (Pour(40, 10, 0.0), Pour(120, 20, 40.0), Pour(120, 20, 90.0)), (Action(12, "swirl"),)
)
STEPS = steps_of(PLAN, (0.0, 40.0, 90.0), 190.0, 225.0)
WAITING = replace(
    PLAN, pours=(Pour(60, 10, 0.0), Pour(100, 15, None, "drained"), Pour(100, 15, None, "drained")), actions=()
)


def kinds(steps: tuple[Step, ...]) -> list[str]:
    return [s.kind for s in steps]


def test_the_steps_of_a_drip_a_steep_and_a_concentrate() -> None:
    assert kinds(STEPS) == ["pour", "swirl", "pour", "pour", "drain", "last-drip"]
    assert [s.total_g for s in STEPS if s.kind == "pour"] == [40, 160, 280] and STEPS[0].bloom
    assert STEPS[4].at_s == 110 and STEPS[4].ends_s == 190 and STEPS[5].ends_s == 225
    tube = Plan(BUILT_IN["plunger-tube"], 18, 85, "dark", (Pour(90, 10, 0.0),), (), steep=Steep(75, 10, 25))
    steps = steps_of(tube, (0.0,), 100.0, 100.0, added_g=140)
    assert kinds(steps) == ["pour", "stir", "press", "add"]
    assert steps[2].at_s == 75 and steps[3].at_s == 100 and steps[3].amount_g == 140
    cold = replace(tube, water_c=20, steep=Steep(14 * 3600, 10, 600))
    assert steps_of(cold, (0.0,), 51000.0, 51000.0)[-1].at_s == 14 * 3600


def test_the_clock_alone_leads_through_timed_pours() -> None:
    at = [(0, 0), (9, 0), (12, 1), (25, 2), (39, 2), (45, 2), (89, 2), (91, 3), (109, 3), (119, 4), (300, 4)]
    for elapsed, step in at:
        assert follow(STEPS, {}, elapsed).now == step, elapsed


def test_taps_lead_on_early_and_are_never_lost() -> None:
    s = follow(STEPS, {0: 7.0}, 8)
    assert s.now == 1 and s.places[0].done_s == 7.0
    s = follow(STEPS, {0: 7.0, 2: 58.0}, 60)
    assert s.now == 3 and s.places[3].at_s == 90  # a timed pour keeps its time
    over = follow(STEPS, {4: 201.0}, 205)
    assert over.now == 5 and all(p.done_s is not None for p in over.places[:5])
    assert follow(STEPS, {4: 201.0, 5: 240.0}, 241).now == len(STEPS)


def test_what_waits_for_the_bed_moves_all_that_follows() -> None:
    steps = steps_of(WAITING, (0.0, 50.0, 110.0), 170.0, 200.0)
    assert (
        kinds(steps) == ["pour", "wait", "pour", "wait", "pour", "drain", "last-drip"] and steps[1].waits == "drained"
    )
    assert follow(steps, {}, 19).now == 1 and follow(steps, {}, 70).now == 1
    late = follow(steps, {0: 10.0, 1: 90.0}, 91)
    assert late.now == 2 and late.places[2].at_s == 90 and late.places[4].at_s == steps[4].at_s + 40
    early = follow(steps, {0: 10.0, 1: 40.0, 2: 55.0}, 56)
    assert early.now == 3 and early.places[3].ends_s == 100
    drained = follow(STEPS, {4: 230.0}, 231)
    assert drained.places[5].ends_s == pytest.approx(265)


def test_the_bed_is_expected_now_once_it_is_late() -> None:
    s = follow(STEPS, {}, 240)
    assert s.now == 4 and s.places[5].ends_s == pytest.approx(240 + 35)


@given(st.floats(8, 30), st.integers(0, 5), st.floats(0, 300))
def test_the_weighed_dose_keeps_the_ratio_and_what_is_poured(dose: float, done: int, poured: float) -> None:
    rest = sum(s.amount_g for s in STEPS[done:] if s.kind == "pour")
    scaled = for_dose(STEPS, 17.0, dose, done, poured)
    assert scaled[:done] == STEPS[:done]
    if rest > 0:
        total = [s for s in scaled if s.kind == "pour"][-1].total_g
        assert total == pytest.approx(max(280 * dose / 17, poured))


def test_the_scale_tells_when_a_pour_is_over() -> None:
    pour = STEPS[2]
    assert pour_reached(pour, 158.5, 0.1) and not pour_reached(pour, 150.0, 0.1) and not pour_reached(pour, 158.5, 4.0)
    standing = follow(STEPS, {}, 50)
    assert expected_water_g(standing, 50) == pytest.approx(40 + 60) and expected_water_g(standing, 500) == 280
