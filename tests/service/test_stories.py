"""The pass through the services, from a photo to the next click, and what must not be lost on the way."""

from dataclasses import replace

import pytest
from benchmarks.pictures.flat import Made, make_picture
from benchmarks.pictures.flat_camera import Scene

from hakari.core.errors import InputError
from hakari.core.photo.pipeline import CardScale
from hakari.formats.grinder import ClickDialDocument, NumberDialDocument
from hakari.formats.recipe import Recipe
from hakari.formats.slip import OutcomeDocument, TargetDocument
from hakari.service.brews import use_cases as brews
from hakari.service.coffees import use_cases as coffees
from hakari.service.cups import learning
from hakari.service.cups.use_cases import preview_cup
from hakari.service.grinders import points
from hakari.service.grinders import translation as translating
from hakari.service.grinders import use_cases as grinders
from hakari.service.plans import use_cases as plans
from hakari.service.samples import use_cases as samples
from hakari.service.slips import use_cases as slips
from hakari.service.workbench import use_cases as bench
from hakari.service.workspace.transaction import NotFoundError, StaleError, Workspace


@pytest.fixture
def kitchen(workspace: Workspace, small_picture: Made) -> Workspace:
    """A coffee, two grinders with curves, a measured sample on the bench."""
    bench.add_coffee(workspace, coffees.NewCoffee(name="Lot 12 Hollow Ridge", roast="light", days_off_roast=9))
    mill = grinders.add_grinder(
        workspace, grinders.NewGrinder(name="Arlsmoor", dial=ClickDialDocument(kind="clicks", maximum=60))
    )
    other = grinders.add_grinder(
        workspace, grinders.NewGrinder(name="Brackwell", dial=NumberDialDocument(kind="numbers", minimum=0, maximum=14))
    )
    for setting, size in (("14", 520.0), ("40", 1180.0)):
        points.add_point(workspace, mill.id, points.NewPoint(setting=setting, d50_um=size))
    for setting, size in (("3", 500.0), ("6", 760.0), ("9", 1050.0)):
        points.add_point(workspace, other.id, points.NewPoint(setting=setting, d50_um=size))
    samples.add_sample(
        workspace, [("grounds.jpg", small_picture.jpeg)], CardScale(), coffee_id=1, grinder_id=mill.id, setting="30"
    )
    return workspace


def entry(**outcome) -> slips.NewSlip:
    return slips.NewSlip(outcome=OutcomeDocument(**outcome))


def test_the_whole_pass(kitchen: Workspace) -> None:
    detail = samples.sample_detail(kitchen, 1)
    assert detail.measurement.photos == 1 and len(detail.ruler) > 30
    arlsmoor, brackwell = grinders.list_grinders(kitchen).grinders
    assert {p.setting for p in arlsmoor.points} == {"14", "30", "40"}
    found = translating.translate_ask(kitchen, translating.Ask(to=brackwell.id))
    answer = found.answers[0]
    assert answer.reachable and found.source == "Arlsmoor 30"
    bench.change_bench(kitchen, bench.WorkbenchChange(grinder_id=brackwell.id, setting=answer.setting))
    plan = plans.save_plan(kitchen, Recipe(dose_g=22, ratio=16.5))
    assert plan.grind.setting == answer.setting and not plan.grind.assumed
    first = slips.save_slip(
        kitchen, entry(drawdown_s=390, tds_percent=1.62, drink_g=320, taste={"bitter": 3}, bed=["mud"])
    )
    move = first.advice.moves[0]
    assert (move.kind, move.direction) == ("grind", "coarser") and first.number == 1
    follow = slips.brew_change(kitchen, first.id, 0)
    assert follow.setting == move.end
    again = plans.save_plan(kitchen, follow.recipe)
    assert again.grind.setting == move.end and again.grind.median_um > plan.grind.median_um
    assert (plan.prediction.fitted_on_brews, again.prediction.fitted_on_brews) == (0, 1)
    second = slips.save_slip(kitchen, entry(drawdown_s=300, tds_percent=1.4, drink_g=320, taste={"sweet": 2}))
    assert second.parent_id == first.id and second.changed == ["setting"] and "coarser" in (second.changed_words or "")
    assert bench.read_bench(kitchen).slips == 2


@pytest.mark.parametrize("kind", ["temperature", "ratio", "grind"])
def test_a_brewed_change_changes_that_one_thing_and_hangs_on_its_slip(kitchen: Workspace, kind: str) -> None:
    taste = {"strong": 2} if kind == "ratio" else {"bitter": 2}
    plans.save_plan(kitchen, Recipe(dose_g=17, ratio=16.5, water_c=95))
    first = slips.save_slip(kitchen, entry(drawdown_s=250, taste=taste))
    plans.save_plan(kitchen, Recipe(dose_g=17, ratio=16.5, water_c=95))
    slips.save_slip(kitchen, entry(drawdown_s=245, taste=taste))
    index = next(i for i, m in enumerate(first.advice.moves) if m.kind == kind)
    follow = slips.brew_change(kitchen, first.id, index)
    plan = plans.plan_view(kitchen, follow.plan_id)
    third = slips.save_slip(kitchen, entry(taste={"sweet": 1}))
    assert third.parent_id == first.id
    assert third.changed == [{"temperature": "water_c", "ratio": "water_g", "grind": "setting"}[kind]]
    assert (plan.recipe.water_c != 95) == (kind == "temperature")
    assert (plan.water_g != 280) == (kind == "ratio")


def test_no_photo_takes_the_grinder_away_that_is_asked_about_instead(
    kitchen: Workspace, small_picture: Made, small_scene: Scene
) -> None:
    samples.add_sample(kitchen, [("new.jpg", small_picture.jpeg)], CardScale())
    bench.change_bench(kitchen, bench.WorkbenchChange(grinder_id=2, setting="4 1/4"))
    again = make_picture(replace(small_scene, seed=8))
    samples.add_sample(kitchen, [("again.jpg", again.jpeg)], CardScale())
    grinder = bench.read_bench(kitchen).grinder
    assert grinder is not None and grinder.setting == "4 1/4"
    finer = make_picture(replace(small_scene, median_um=600, seed=9))
    samples.add_sample(kitchen, [("finer.jpg", finer.jpeg)], CardScale())
    here = bench.read_bench(kitchen)
    assert here.grinder == grinder and here.photo_setting == "ask"
    assert plans.preview_plan(kitchen, Recipe()).grind.source == "measured on the photo"
    unknown = bench.change_bench(kitchen, bench.WorkbenchChange(photo_setting="unknown"))
    assert unknown.grinder == grinder and unknown.photo_setting == "unknown"
    assert plans.preview_plan(kitchen, Recipe()).grind.source == "measured on the photo"
    placed = samples.place_sample(kitchen, here.sample.id if here.sample else 0, 2, "4 1/4")
    assert placed.setting == "4 1/4" and bench.read_bench(kitchen).photo_setting == "chosen"


def test_slips_do_not_change_when_a_grinder_does(kitchen: Workspace) -> None:
    plans.save_plan(kitchen, Recipe())
    kept = slips.save_slip(kitchen, entry(taste={"sour": 2, "thin": 1}))
    points.add_point(kitchen, 1, points.NewPoint(setting="22", d50_um=690))
    assert slips.slip_detail(kitchen, kept.id) == kept


def test_keeping_a_cup_twice_keeps_one_slip(kitchen: Workspace) -> None:
    plans.save_plan(kitchen, Recipe())
    one = slips.save_slip(kitchen, entry(taste={"sour": 1}))
    two = slips.save_slip(kitchen, entry(taste={"bitter": 2}))
    assert one.id == two.id and slips.list_slips(kitchen).slips[0].taste == {"bitter": 2}


def test_a_cup_is_not_kept_for_a_brew_that_another_screen_put_on_the_bench(kitchen: Workspace) -> None:
    def cup(of: bench.WorkbenchView) -> slips.NewSlip:
        assert of.plan is not None
        return slips.NewSlip(seen_plan_id=of.plan.id, seen_brew_id=of.brew.id if of.brew else None)

    plans.save_plan(kitchen, Recipe())
    planned = bench.read_bench(kitchen)
    first = slips.save_slip(kitchen, cup(planned))
    # Pressed twice, before the page has heard that its cup has a brew now.
    assert slips.save_slip(kitchen, cup(planned)).id == first.id
    judged = bench.read_bench(kitchen)
    brews.start_brew(kitchen, brews.StartBrew())
    poured = bench.read_bench(kitchen)
    for earlier in (planned, judged):
        with pytest.raises(StaleError, match="another screen"):
            slips.save_slip(kitchen, cup(earlier))
    second = slips.save_slip(kitchen, cup(poured))
    assert second.number == 2
    plans.save_plan(kitchen, Recipe(dose_g=20))
    with pytest.raises(StaleError):
        slips.save_slip(kitchen, cup(poured))
    assert [s.id for s in slips.list_slips(kitchen).slips] == [first.id, second.id]


def test_deleting_is_undone_whole(kitchen: Workspace) -> None:
    samples.set_sample_deleted(kitchen, 1, True)
    assert samples.list_samples(kitchen).samples == []
    assert {p.setting for p in grinders.list_grinders(kitchen).grinders[0].points} == {"14", "40"}
    with pytest.raises(NotFoundError):
        samples.sample_detail(kitchen, 1)
    samples.set_sample_deleted(kitchen, 1, False)
    assert {p.setting for p in grinders.list_grinders(kitchen).grinders[0].points} == {"14", "30", "40"}
    assert bench.read_bench(kitchen).sample is not None


def test_bad_input_changes_nothing(kitchen: Workspace, small_picture: Made) -> None:
    before = (samples.list_samples(kitchen), grinders.list_grinders(kitchen), bench.read_bench(kitchen))
    files = sorted(kitchen.files.folder.rglob("*"))
    for photo, setting in ((b"text", "22"), (small_picture.jpeg, "999"), (small_picture.jpeg[:4000], None)):
        with pytest.raises(InputError):
            samples.add_sample(kitchen, [("x.jpg", photo)], CardScale(), grinder_id=1, setting=setting)
    with pytest.raises(InputError):
        plans.save_plan(kitchen, Recipe(dose_g=-3))
    with pytest.raises(StaleError):
        bench.change_bench(kitchen, bench.WorkbenchChange(version=1, coffee_id=1))
    assert (samples.list_samples(kitchen), grinders.list_grinders(kitchen), bench.read_bench(kitchen)) == before
    assert sorted(kitchen.files.folder.rglob("*")) == files


def test_every_move_makes_a_plan_with_that_one_thing_changed(kitchen: Workspace) -> None:
    plans.save_plan(kitchen, Recipe(dose_g=17, ratio=16.5, water_c=95))
    told = entry(drawdown_s=250, tds_percent=1.6, drink_g=210, taste={"strong": 2})
    first = slips.save_slip(kitchen, told)
    kinds = {m.kind for m in first.advice.moves}
    assert len(kinds) >= 5
    for index, move in enumerate(first.advice.moves):
        slips.brew_change(kitchen, first.id, index)
        follow = preview_cup(kitchen, entry(taste={"sweet": 1}))
        unseen = {"seating", "sieve", "coffee", "water", "rest", "repeat", "none"}
        pair = move.kind == "compensated"
        nothing_kept = move.kind in unseen or move.direction == "other-lot"
        assert len(follow.things_changed) == (0 if nothing_kept else 2 if pair else 1), (
            move.words,
            follow.things_changed,
        )
        assert follow.since_slip == 1


def test_several_changes_at_once_are_flagged(kitchen: Workspace) -> None:
    bench.change_bench(kitchen, bench.WorkbenchChange(grinder_id=1, setting="30"))
    plans.save_plan(kitchen, Recipe(dose_g=17, ratio=16.5, water_c=95))
    slips.save_slip(kitchen, entry(taste={"bitter": 2}))
    bench.change_bench(kitchen, bench.WorkbenchChange(grinder_id=1, setting="33"))
    plans.save_plan(kitchen, Recipe(dose_g=17, ratio=15.5, water_c=91))
    second = slips.save_slip(kitchen, entry(taste={"sour": 1}))
    assert len(second.things_changed) == 3 and second.changed_words == "3 things at once"
    assert any("coarser" in t for t in second.things_changed) and "91 °C from 95 °C" in second.things_changed


def test_a_drink_over_ice_is_not_sent_back_to_a_hot_one(kitchen: Workspace) -> None:
    plans.save_plan(kitchen, Recipe(dose_g=17, ratio=16.5, water_c=95))
    slips.save_slip(kitchen, entry(taste={"sweet": 3, "balanced": 2}))
    plans.save_plan(kitchen, Recipe(dose_g=17, ratio=15, water_c=95, school="over-ice"))
    iced = preview_cup(kitchen, entry(taste={"weak": 2}))
    assert iced.advice.status == "change" and iced.advice.moves[0].kind == "dose" and iced.since_slip is None
    slips.save_slip(kitchen, entry(taste={"sweet": 3}))
    # A later good one is not as good.
    plans.save_plan(kitchen, Recipe(dose_g=16, ratio=15, water_c=95, school="over-ice"))
    slips.save_slip(kitchen, entry(taste={"sweet": 2}))
    plans.save_plan(kitchen, Recipe(dose_g=15, ratio=15, water_c=95, school="over-ice"))
    assert preview_cup(kitchen, entry(taste={"weak": 2})).advice.back_to == "slip 2"


def test_a_followed_change_is_scored_and_its_effect_is_learned(kitchen: Workspace) -> None:
    plans.save_plan(kitchen, Recipe(dose_g=17, ratio=16.5, water_c=95))
    first = slips.save_slip(kitchen, entry(drawdown_s=330, tds_percent=1.6, drink_g=250, taste={"bitter": 3}))
    slips.brew_change(kitchen, first.id, 0)
    better = slips.save_slip(kitchen, entry(drawdown_s=250, tds_percent=1.4, drink_g=250, taste={"sweet": 2}))
    assert better.followed is not None and better.followed.words == first.advice.moves[0].words
    assert better.followed.better > 0.5 and better.followed.after == first.advice.moves[0].after
    told = learning.learning_view(kitchen)
    assert told.drawdown is not None and told.strength is not None and told.drawdown.count == 1
    [lever] = told.levers
    assert (lever.kind, lever.tries, lever.helped) == (
        first.advice.moves[0].kind,
        1,
        1,
    ) and 0.6 <= lever.effect_size <= 1.6
    # The next advice says of the same change what it did here.
    now = preview_cup(kitchen, entry(drawdown_s=250, tds_percent=1.4, drink_g=250, taste={"bitter": 2})).advice
    assert next(m.effect_size for m in now.moves if m.kind == lever.kind) == pytest.approx(lever.effect_size)
    assert learning.learn_from(kitchen, learning.LearnFrom()).levers == []
    assert learning.learn_from(kitchen, learning.LearnFrom(learns_after=0)).levers == told.levers
    plans.save_plan(kitchen, Recipe(dose_g=17, ratio=15, water_c=88))
    assert slips.save_slip(kitchen, entry(taste={"sour": 2})).followed is None


def test_a_target_box_of_ones_own_is_steered_to_and_kept(kitchen: Workspace) -> None:
    plans.save_plan(kitchen, Recipe(dose_g=17, ratio=16.5))
    own = TargetDocument(ey_percent=(20.5, 21.5), tds_percent=(1.5, 1.6))
    cup = slips.NewSlip(outcome=OutcomeDocument(tds_percent=1.33, drink_g=248, taste={"sweet": 1}), target=own)
    kept = slips.save_slip(kitchen, cup)
    assert kept.target == "own" and not kept.in_target and kept.advice.moves[0].after.tds_percent > 1.33
    classical = preview_cup(kitchen, entry(tds_percent=1.33, drink_g=248, taste={"sweet": 1}))
    assert classical.advice.moves[0].kind == "none" and classical.targets[-1].name == "own"
    with pytest.raises(ValueError, match="lower to a higher"):
        TargetDocument(ey_percent=(22, 18), tds_percent=(1.2, 1.4))
