"""Advice by cases: what a barista would do first, and what must not come first."""

from dataclasses import replace

import pytest

from hakari.core.advice.advise import advise
from hakari.core.advice.causes import CAUSES, weigh
from hakari.core.advice.evidence import TARGETS, Case, Outcome, Signs
from hakari.core.errors import InputError
from hakari.core.grinder.curve import CurveSample
from hakari.core.grinder.grinder import Grinder
from hakari.core.grinder.kinds import NumberDial
from hakari.core.psd.whole import whole_from_figures
from hakari.core.translate.match import default_plan

GRINDER = Grinder(
    "B", "flat", NumberDial(), (CurveSample(3, 480, 0.02), CurveSample(5, 660, 0.02), CurveSample(8, 940, 0.02)),
    (0.13, 0.1, 0.06), (0.9, 0.9, 0.9),
)  # fmt: skip
BASE = Case(
    replace(default_plan(), roast="light"), whole_from_figures(660, 1.0, 0.09), Outcome(),
    TARGETS["classical"], "grind-first", GRINDER, "5", "light",
)  # fmt: skip

CASES = {
    "late, bitter, muddy": (Outcome(300, 340, False, 1.56, 246, {"bitter": 2, "drying": 1}, ("mud",)), "grind", "coarser"),
    "stalled": (Outcome(480, 600, True, taste={"bitter": 1}, bed=("mud",)), "grind", "coarser"),
    "over by measure alone": (Outcome(260, None, None, 1.62, 246), "grind", "coarser"),
    "early, sour, thin, weak": (Outcome(130, 155, False, 1.05, 250, {"sour": 2, "thin": 1}), "grind", "finer"),
    "under by measure alone": (Outcome(150, None, None, 1.08, 250), "grind", "finer"),
    "sour words": (Outcome(taste={"sour": 2, "sharp": 1}), "grind", "finer"),
    "bitter words": (Outcome(taste={"bitter": 2, "drying": 1}), "grind", "coarser"),
    "in the box and sweet": (Outcome(200, 235, False, 1.33, 248, {"sweet": 2}), "none", "keep"),
    "in the box, nothing said": (Outcome(200, None, None, 1.32, 248), "none", "keep"),
    "one faint word": (Outcome(195, taste={"sour": 1}), "repeat", "again"),
    "nothing at all": (Outcome(), "repeat", "again"),
    "sour and bitter": (Outcome(205, 240, False, 1.31, 246, {"sour": 2, "bitter": 2}, ("holes",)), "repeat", "again"),
    "extracted right but strong": (Outcome(200, None, None, 1.62, 220, {"strong": 3}), "ratio", "longer"),
    "extracted right but weak": (Outcome(200, None, None, 1.05, 325, {"weak": 3}), "ratio", "shorter"),
}  # fmt: skip


@pytest.mark.parametrize("name", CASES)
def test_the_first_move_is_the_sensible_one(name: str) -> None:
    outcome, kind, direction = CASES[name]
    answer = advise(replace(BASE, outcome=outcome))
    first = answer.moves[0]
    assert (first.kind, first.direction) == (kind, direction)
    assert first.reason and first.wrong_if
    assert sum(c.weight for c in answer.causes) == pytest.approx(1)


def test_moves_are_valid_steps_of_one_thing_and_move_the_cup_towards_the_target() -> None:
    answer = advise(replace(BASE, outcome=CASES["late, bitter, muddy"][0]))
    first = answer.moves[0]
    assert GRINDER.dial.parse(first.end) > GRINDER.dial.parse(first.start) == GRINDER.dial.parse("5")
    assert first.before.drawdown_s == 300 and first.before.tds_percent == 1.56
    assert first.after.drawdown_s < 300 and first.after.tds_percent < 1.56
    assert first.after.ey_percent < first.before.ey_percent
    assert first.half_width.drawdown_s > 10
    assert {m.kind for m in answer.moves} <= {"grind", "temperature", "ratio"}
    assert any(r.kind == "grind" and r.direction == "finer" for r in answer.ruled_out)


def test_the_school_changes_what_comes_first() -> None:
    outcome = Outcome(190, 220, False, 1.6, 228, {"strong": 2})
    first = {s: advise(replace(BASE, outcome=outcome, school=s)).moves[0].kind for s in ("grind-first", "grind-last")}
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
    outcome = CASES["late, bitter, muddy"][0]
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
    ],
)  # fmt: skip
def test_impossible_readings_are_refused(outcome: Outcome, code: str) -> None:
    with pytest.raises(InputError) as refusal:
        advise(replace(BASE, outcome=outcome))
    assert refusal.value.code == code


def test_every_cause_is_reached_by_its_own_signs() -> None:
    for cause in CAUSES:
        speaking = {s: 2.0 for s, w in cause.signs.items() if w > 0}
        # Hand and temperature share their signs with the grind, which is the likelier cause; they must come near the top.
        top = [c.cause for c in weigh(Signs(speaking))][:3]
        assert cause.name in top
