"""What was really done wins: times believed and asked about, last drips, water added; one size a setting."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import pytest
from test_passes import shop  # noqa: F401  (a fixture)

from hakari.core.errors import InputError
from hakari.core.flow.last_drip import bare_bed_before
from hakari.core.grinder.kinds import in_print
from hakari.formats.recipe import Recipe
from hakari.formats.slip import OutcomeDocument
from hakari.service.brews import use_cases as brews
from hakari.service.coffees import use_cases as coffees
from hakari.service.cups.use_cases import CupEntry, preview_cup
from hakari.service.grinders import points
from hakari.service.grinders import translation as translating
from hakari.service.grinders import use_cases as grinders
from hakari.service.passes import use_cases as passes
from hakari.service.plans import use_cases as plans
from hakari.service.plans.finer_coarser import setting_steps
from hakari.service.slips import use_cases as slips
from hakari.service.workbench import use_cases as bench
from hakari.service.workspace.transaction import Workspace


def test_a_bare_bed_divides_the_drain_as_predicted_and_surely_comes_before_the_last_drip() -> None:
    at_s, sd_s = bare_bed_before(280.0, 120.0, bare_bed_s=220.0, predicted_drip_s=245.0)
    assert at_s == pytest.approx(120 + 160 * 100 / 125) and 0 < sd_s < 280 - at_s
    assert bare_bed_before(245.0, 120.0, 220.0, 245.0)[0] == pytest.approx(220)
    assert bare_bed_before(100.0, 120.0, 220.0, 245.0)[0] < 100  # however wrong the plan was


def test_a_time_before_the_plans_last_pour_is_asked_about_and_believed(shop: Workspace) -> None:  # noqa: F811
    plan = plans.save_plan(shop, Recipe(dose_g=18))
    last = max(s.ends_s for s in plan.steps if s.kind == "pour")
    early = CupEntry(outcome=OutcomeDocument(drawdown_s=last - 6, taste={"sour": 2}))
    (asked,) = [u for u in preview_cup(shop, early).unlikely if u.field == "outcome.drawdown_s"]
    assert asked.why == "before-last-pour" and asked.low == pytest.approx(last, abs=0.1)
    kept = slips.save_slip(shop, slips.NewSlip(**early.model_dump()))
    assert kept.drawdown_s == pytest.approx(last - 6) and kept.drawdown_measured
    # Where pours wait for the bed, no time of the plan is held against what was seen.
    plans.save_plan(shop, Recipe(dose_g=18, school="split"))
    waiting = [p.model_copy(update={"start_s": None, "start_when": "drained"}) for p in plan.document.pours]
    plans.save_plan(shop, Recipe(dose_g=18, pours=[plan.document.pours[0], *waiting[1:]], actions=[]))
    assert [u for u in preview_cup(shop, early).unlikely if u.field == "outcome.drawdown_s"] == []
    with pytest.raises(InputError):
        preview_cup(shop, CupEntry(outcome=OutcomeDocument(drawdown_s=0.2)))


def test_a_last_drip_alone_tells_the_bare_bed_on_the_slip_and_to_the_fit(shop: Workspace) -> None:  # noqa: F811
    plan = plans.save_plan(shop, Recipe(dose_g=18))
    drip = round(plan.prediction.last_drip_s + 20)
    slip = slips.save_slip(shop, slips.NewSlip(outcome=OutcomeDocument(last_drip_s=drip, taste={"sweet": 1})))
    assert not slip.drawdown_measured and slip.last_drip_s == drip and slip.drawdown_half_s is not None
    assert plan.prediction.drawdown_s < slip.drawdown_s < drip
    assert plans.preview_plan(shop, Recipe(dose_g=18)).prediction.fitted_on_brews == 1
    assert bench.read_bench(shop).brew is not None
    brew = bench.read_bench(shop).brew
    assert brew is not None and brew.bare_bed_s is None and brew.estimated_bare_bed_s == pytest.approx(slip.drawdown_s)


def test_the_next_plan_starts_from_the_water_and_dose_that_were_really_there(shop: Workspace) -> None:  # noqa: F811
    recipe = Recipe(dose_g=18, water_g=200, brewer="plunger-tube", school="concentrate", water_c=88)
    planned = plans.save_plan(shop, recipe)
    view = brews.start_brew(shop, brews.StartBrew(dose_g=19))
    brews.close_brew(shop, view.id)
    more = round(planned.dilution_g) + 40
    entry = CupEntry(outcome=OutcomeDocument(added_water_g=more, taste={"sweet": 2}))
    promised = preview_cup(shop, entry).advice.now.tds_percent
    slip = slips.save_slip(shop, slips.NewSlip(**entry.model_dump()))
    assert slip.added_g == more and slip.dose_g == 19
    following = plans.plan_view(shop, slips.brew_change(shop, slip.id, -1).plan_id)
    assert following.document.dose_g == pytest.approx(19) and following.dilution_g == pytest.approx(more, abs=1)
    assert following.cup_tds_percent == pytest.approx(promised, rel=0.03)


def test_one_setting_has_one_size_wherever_it_is_shown(shop: Workspace) -> None:  # noqa: F811
    mark = next(m for m in grinders.list_grinders(shop).grinders[1].marks if m.setting == "5")
    plan = plans.save_plan(shop, Recipe(dose_g=18))
    asked = translating.translate_ask(shop, translating.Ask(grinder_id=2, setting="5"))
    steps = {s.way: s for s in setting_steps(shop, Recipe(dose_g=18)).steps}
    sizes = [plan.grind.median_um, asked.target_um, steps["here"].um]
    assert sizes == pytest.approx([mark.d50_um] * 3, abs=0.01)
    assert plan.grind.interval95_um == pytest.approx((mark.low_um, mark.high_um), abs=0.01)
    # A step finer takes longer and extracts more; it is taken by words, too.
    assert steps["finer"].drawdown_s > steps["here"].drawdown_s > steps["coarser"].drawdown_s
    assert steps["finer"].ey_percent > steps["here"].ey_percent > steps["coarser"].ey_percent
    finer = bench.change_bench(shop, bench.WorkbenchChange(grinder_id=2, setting="one step finer"))
    assert finer.grinder is not None and finer.grinder.setting == steps["finer"].setting


def test_settings_named_as_equal_come_back_as_that_pair_both_ways(shop: Workspace) -> None:  # noqa: F811
    points.add_equivalence(shop, 1, points.NewSettingEquivalence(setting="22", other_id=2, other_setting="7"))
    for grinder, setting, other, expected in ((1, "22", 2, "7"), (2, "7", 1, "22")):
        (answer,) = translating.translate_ask(
            shop, translating.Ask(grinder_id=grinder, setting=setting, to=other)
        ).answers
        assert answer.setting == expected and any("equal" in a for a in answer.assumptions)


def test_a_habits_words_follow_the_trade_and_can_be_put_right(shop: Workspace) -> None:  # noqa: F811
    meant = points.read_habit(shop, 2, points.NewHabit(words="about 11 for the press"))
    assert meant.label == "press pot, long and coarse" and (meant.low_um, meant.high_um) == (850, 1200)
    other = points.NewHabit(words="about 11 for the press", label="press pot, unstirred")
    assert points.read_habit(shop, 2, other).low_um == 600
    assert points.add_habit(shop, 2, other).grinder.points[-1].basis == "used for the press pot, unstirred"


def test_slips_are_found_by_what_they_show_and_listed_by_liking(shop: Workspace) -> None:  # noqa: F811
    day = datetime(2026, 9, 4, 12, tzinfo=UTC)
    bench.change_bench(shop, bench.WorkbenchChange(grinder_id=2, setting="4 1/4"))
    for number, liked in enumerate((2, 5, 4)):
        plans.save_plan(shop, Recipe(dose_g=18))
        told = OutcomeDocument(liked=liked, stalled=number == 1, drawdown_s=240 + number)
        slips.save_slip(shop, slips.NewSlip(outcome=told, note=f"note{number}"), at=day + timedelta(days=30 * number))
    plans.save_plan(shop, Recipe(dose_g=36))
    slips.save_slip(shop, slips.NewSlip(outcome=OutcomeDocument(taste={"sweet": 1})), at=day + timedelta(days=90))

    def numbers(search: str, order: str = "newest") -> list[int]:
        return [s.number for s in slips.list_slips(shop, slips.SlipSearch(search=search, order=order)).slips]

    assert in_print("4 1/4") == "4¼" and in_print("22") == "22"
    assert numbers("4¼") == numbers("4 1/4") == [1, 2, 3, 4]
    assert numbers("stalled") == [2] and numbers("liked 5") == [2] and numbers("note2") == [3]
    assert numbers("staged") == [1, 2, 3, 4] and numbers("2026-09-04") == [1] and numbers("4 sep") == [1]
    assert numbers("", "liked")[::-1] == [2, 3, 1, 4]
    first = slips.list_slips(shop, slips.SlipSearch(order="liked", limit=2))
    rest = slips.list_slips(shop, slips.SlipSearch(order="liked", limit=2, before=first.before))
    assert [s.number for s in (*rest.slips, *first.slips)][::-1] == [2, 3, 1, 4]
    # A pot is not compared with a cup.
    pot = slips.list_slips(shop).slips[-1]
    assert pot.size == "two cups" and pot.parent_id is None
    over_time = slips.slips_over_time(shop, "")
    assert over_time.coffee == "Lot 30" and [d.liked for d in over_time.dots] == [2, 5, 4, None]


def test_a_coffee_is_changed_deleted_and_brought_back_and_its_slips_keep_its_name(shop: Workspace) -> None:  # noqa: F811
    plans.save_plan(shop, Recipe(dose_g=18))
    kept = slips.save_slip(shop, slips.NewSlip(outcome=OutcomeDocument(taste={"sweet": 1})))
    change = coffees.CoffeeChange(origin="north slope", process="washed", roaster="the hatch", flavours="plum, cocoa")
    changed = bench.change_coffee(shop, 2, change)
    assert (changed.origin, changed.roaster, changed.flavours) == ("north slope", "the hatch", "plum, cocoa")
    dated = bench.change_coffee(shop, 2, coffees.CoffeeChange(roasted_on=datetime.now(UTC).date() - timedelta(days=8)))
    assert dated.days_off_roast == 8 and dated.origin == "north slope"
    with pytest.raises(InputError):
        bench.change_coffee(shop, 2, coffees.CoffeeChange(roasted_on=datetime.now(UTC).date() + timedelta(days=8)))
    here = passes.begin_pass(shop, passes.NewPass())
    bench.set_coffee_deleted(shop, 2, True)
    assert bench.read_bench(shop).coffee is None
    assert [c.name for c in coffees.list_coffees(shop).coffees] == ["Lot 12"]
    assert slips.slip_detail(shop, kept.id).coffee == "Lot 30"
    bench.set_coffee_deleted(shop, 2, False)
    assert [c.name for c in coffees.list_coffees(shop).coffees] == ["Lot 12", "Lot 30"] and here.state == "planned"


def test_at_most_one_way_is_the_grind_told_to_go(shop: Workspace) -> None:  # noqa: F811
    bench.change_bench(shop, bench.WorkbenchChange(grinder_id=2, setting="9"))
    for dose in (12, 18, 40):
        view = plans.preview_plan(shop, Recipe(dose_g=dose, ratio=16))
        assert len({n.grind for n in view.notes if n.grind}) <= 1
        kinds = [n.kind for n in view.notes]
        assert kinds == sorted(kinds, key=["watch", "good", "note"].index)
    little = plans.preview_plan(shop, Recipe(dose_g=6, ratio=16)).notes
    assert any("less than this is made for" in n.title and "more coffee" in n.detail for n in little)
