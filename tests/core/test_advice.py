"""Advice by cases: what a barista would do first, and what must not come first."""

from dataclasses import replace
from typing import get_args

import numpy as np
import pytest

from hakari.core.advice.advise import advise
from hakari.core.advice.candidate import Kind
from hakari.core.advice.causes import CAUSES, weigh
from hakari.core.advice.evidence import TARGETS, Case, Lean, Outcome, Target
from hakari.core.advice.moves import candidates
from hakari.core.advice.signs import Signs
from hakari.core.errors import InputError
from hakari.core.grinder.curve import CurveSample
from hakari.core.grinder.grinder import Grinder
from hakari.core.grinder.kinds import NumberDial
from hakari.core.psd.grind_sources import grind_from_figures
from hakari.core.translate.match import default_plan

GRINDER = Grinder(
    "B", "flat", NumberDial(), (CurveSample(3, 480, 0.02), CurveSample(5, 660, 0.02), CurveSample(8, 940, 0.02)),
    (0.13, 0.1, 0.06), (0.9, 0.9, 0.9),
)  # fmt: skip
BASE = Case(
    replace(default_plan(), roast="light"), grind_from_figures(660, 1.0, 0.09), Outcome(),
    TARGETS["classical"], "grind-first", GRINDER, "5", "light",
)  # fmt: skip

LATE = Outcome(300, 340, False, 1.56, 246, {"bitter": 2, "drying": 1}, ("mud",))


def test_moves_are_valid_steps_of_one_thing_and_move_the_cup_towards_the_target() -> None:
    answer = advise(replace(BASE, outcome=LATE))
    first = answer.moves[0]
    assert GRINDER.dial.parse(first.end) > GRINDER.dial.parse(first.start) == GRINDER.dial.parse("5")
    assert first.before.drawdown_s == 300 and first.before.tds_percent == 1.56
    assert first.after.drawdown_s < 300 and first.after.tds_percent < 1.56
    assert first.after.ey_percent < first.before.ey_percent
    assert first.half_width.drawdown_s > 10
    assert {m.kind for m in answer.moves} <= set(get_args(Kind)) and first.after.evenness_percent is not None
    assert len({(m.kind, m.direction) for m in answer.moves}) == len(answer.moves)
    assert any(r.kind == "grind" and r.direction == "finer" for r in answer.ruled_out)


def test_what_to_change_first_changes_what_comes_first() -> None:
    outcome = Outcome(190, 220, False, 1.6, 228, {"strong": 2})
    first = {
        s: advise(replace(BASE, outcome=outcome, change_first=s)).moves[0].kind for s in ("grind-first", "grind-last")
    }
    assert first["grind-last"] == "ratio"
    assert first["grind-first"] in ("grind", "ratio")


def test_heat_that_does_not_suit_the_roast_is_weighed() -> None:
    outcome = Outcome(taste={"bitter": 2, "harsh": 1})

    def hot(roast, celsius: float) -> float:
        case = replace(BASE, outcome=outcome, roast=roast, plan=replace(BASE.plan, water_c=celsius))
        return next(c.weight for c in advise(case).causes if c.cause == "too-hot")

    assert hot("dark", 97) > hot("dark", 88)
    assert hot("dark", 97) > hot("light", 97)


def test_without_a_dial_the_grind_moves_by_size() -> None:
    outcome = LATE
    first = advise(replace(BASE, outcome=outcome, grinder=None, setting=None)).moves[0]
    assert first.kind == "grind" and first.end.endswith("µm")


def test_a_target_of_ones_own_is_steered_to() -> None:
    outcome = Outcome(200, None, None, 1.33, 248)
    stronger = advise(replace(BASE, outcome=outcome, target=TARGETS["stronger"])).moves[0]
    assert stronger.after.tds_percent > 1.33


@pytest.mark.parametrize(
    ("outcome", "code"),
    [
        (Outcome(taste={"lovely": 1}), "unknown-taste"), (Outcome(taste={"sour": 7}), "taste-strength"),
        (Outcome(bed=("purple",)), "unknown-bed-sign"), (Outcome(drawdown_s=-4), "reading-impossible"),
        (Outcome(drawdown_s=200, last_drip_s=100), "reading-impossible"), (Outcome(tds_percent=90), "reading-impossible"),
        # 15.9 % would be more than twice the coffee that went in.
        (Outcome(tds_percent=15.9, drink_g=250), "strength-impossible"),
        (Outcome(spent_dry_g=0.62 * BASE.plan.dose_g), "reading-impossible"),
    ],
)  # fmt: skip
def test_impossible_readings_are_refused(outcome: Outcome, code: str) -> None:
    with pytest.raises(InputError) as refusal:
        advise(replace(BASE, outcome=outcome))
    assert refusal.value.code == code


def test_every_cause_is_reached_by_its_own_signs() -> None:
    for cause in CAUSES:
        speaking = {s: 2.0 for s, w in cause.signs.items() if w > 0} | dict.fromkeys(cause.needs, 2.0)
        # Hand and temperature share their signs with the grind, which is the likelier cause; they must come near the top.
        top = [c.cause for c in weigh(Signs(speaking))][:4]
        assert cause.name in top


def test_candidates_change_one_thing_above_the_noise_of_the_hand() -> None:
    """No move is smaller than a step and 3 %, 3 °C, or 0.3 g; ratio and dose move one of the two amounts."""
    for c in candidates(replace(BASE, outcome=LATE)):
        plan, was = c.plan, BASE.plan
        if c.kind == "grind":
            assert plan == was and abs(c.grind.d50_um / BASE.grind.d50_um - 1) > 0.029
        elif c.kind == "temperature":
            assert abs(plan.water_c - was.water_c) >= 3 and replace(plan, water_c=was.water_c) == was
        elif c.kind == "dose":
            assert abs(plan.dose_g - was.dose_g) >= 0.3 and replace(plan, dose_g=was.dose_g) == was
        elif c.kind == "ratio":
            assert plan.dose_g == was.dose_g and plan.ratio != was.ratio
        elif not c.modelled or c.kind == "bypass-water":
            assert plan == was and c.grind == BASE.grind


def test_a_change_does_as_much_as_it_did_before() -> None:
    def faster(size: float) -> float:
        move = next(
            m for m in advise(replace(BASE, outcome=LATE, effect_sizes={"grind": size})).moves if m.kind == "grind"
        )
        per_step = GRINDER.dial.parse(move.end) - GRINDER.dial.parse(move.start)
        return float(np.log(move.after.drawdown_s / move.before.drawdown_s)) / per_step

    assert faster(1.6) < faster(1.0) < faster(0.6) < 0


@pytest.mark.parametrize(
    ("lean", "first"),
    [
        ("rounder", ("temperature", "hotter")), ("fuller", ("filter", "metal")),
        ("cleaner", ("pours", "softer")), ("brighter", ("temperature", "cooler")),
    ],
)  # fmt: skip
def test_a_goal_beyond_the_box_changes_brewer_filter_or_heat(lean: Lean, first: tuple[str, str]) -> None:
    good = Outcome(200, None, None, 1.33, 248, {"sweet": 1})
    assert advise(replace(BASE, outcome=good)).moves[0].kind == "none"
    wished = advise(replace(BASE, outcome=good, lean=lean)).moves[0]
    assert (wished.kind, wished.direction) == first and lean in wished.reason
    asked = {(m.kind, m.direction) for m in advise(replace(BASE, outcome=good, lean=lean)).moves}
    assert lean != "rounder" or ("brewer", "flat") in asked


def test_a_second_tasting_counts_for_more() -> None:
    hot_only = Outcome(taste={"sour": 2})
    both = Outcome(taste={"sour": 1}, taste_cooled={"bitter": 3})
    assert advise(replace(BASE, outcome=hot_only)).moves[0].direction == "finer"
    assert advise(replace(BASE, outcome=both)).moves[0].direction in ("coarser", "cooler", "evenly")
    assert Outcome(taste_cooled={"bitter": 2}).tasted == {"bitter": 2.0}


def test_a_cup_measured_outside_ones_own_box_is_not_just_brewed_again() -> None:
    own = Target("own", (18.0, 22.0), (1.45, 1.60))
    answer = advise(replace(BASE, outcome=Outcome(200, None, None, 1.33, 248, {"sweet": 2, "balanced": 2}), target=own))
    assert answer.moves[0].kind in ("ratio", "compensated", "grind") and answer.moves[0].after.tds_percent > 1.33


def test_a_style_without_a_scale_changes_dose_and_grind_alone_and_cautions_stand_by_the_act() -> None:
    kinds = {m.kind for m in advise(replace(BASE, outcome=LATE, only=frozenset({"grind", "dose"}))).moves}
    assert "grind" in kinds and not kinds & {"ratio", "temperature", "pours", "agitation", "sieve", "compensated"}
    stuck = replace(LATE, drawdown_s=None, last_drip_s=None, plunger_stuck=True)
    assert "Never force" in advise(replace(BASE, outcome=stuck)).moves[0].caution
    dirty = advise(replace(BASE, outcome=Outcome(taste={"harsh": 2}), gear_clean=False)).moves
    assert any("Unplug" in m.caution for m in dirty)
