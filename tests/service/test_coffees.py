"""The coffee shelf: rest by guidelines, what is left of the bag, where to start with the next one."""

import pytest
from benchmarks.pictures.flat import Made

from hakari.core.brew.rest import REST_GUIDELINES, rest_of
from hakari.core.errors import InputError
from hakari.core.photo.pipeline import CardScale
from hakari.formats.grinder import ClickDialDocument
from hakari.formats.recipe import Recipe
from hakari.formats.slip import OutcomeDocument
from hakari.service.coffees import use_cases as coffees
from hakari.service.grinders import points
from hakari.service.grinders import use_cases as grinders
from hakari.service.plans import use_cases as plans
from hakari.service.samples import use_cases as samples
from hakari.service.slips import use_cases as slips
from hakari.service.workbench import use_cases as bench
from hakari.service.workspace.transaction import Workspace


def test_rest_goes_from_young_through_ready_to_old_by_every_guideline() -> None:
    for name, guideline in REST_GUIDELINES.items():
        states = [rest_of(day, name)[0] for day in range(80)]
        assert states == sorted(states, key=("young", "ready", "old").index)
        assert rest_of(guideline.from_day, name)[0] == rest_of(guideline.to_day, name)[0] == "ready"
    assert rest_of(5, "second-day")[0] == "ready" and rest_of(5, "a-week") == ("young", "young: rest it 2 more days")
    assert rest_of(None, "a-week")[0] == "unknown" and rest_of(3, "nobody's")[0] == "ready"


def test_the_bag_empties_and_the_last_good_setting_is_where_to_start(workspace: Workspace, small_picture: Made) -> None:
    bench.add_coffee(workspace, coffees.NewCoffee(name="Lot 1", roast="light", days_off_roast=9, bag_g="250 g"))
    mill = grinders.add_grinder(
        workspace, grinders.NewGrinder(name="Arlsmoor", dial=ClickDialDocument(kind="clicks", maximum=60))
    )
    for setting, size in (("14", 520.0), ("40", 1180.0)):
        points.add_point(workspace, mill.id, points.NewPoint(setting=setting, d50_um=size))
    samples.add_sample(
        workspace, [("a.jpg", small_picture.jpeg)], CardScale(), coffee_id=1, grinder_id=mill.id, setting="30"
    )
    bench.change_bench(workspace, bench.WorkbenchChange(grinder_id=mill.id, setting="22"))
    plans.save_plan(workspace, Recipe(dose_g=17, ratio=16.5))
    slips.save_slip(
        workspace, slips.NewSlip(outcome=OutcomeDocument(tds_percent=1.33, drink_g=248, taste={"sweet": 2}))
    )
    bench.change_bench(workspace, bench.WorkbenchChange(grinder_id=mill.id, setting="30"))
    plans.save_plan(workspace, Recipe(dose_g=17, ratio=16.5))
    slips.save_slip(workspace, slips.NewSlip(outcome=OutcomeDocument(tds_percent=1.0, drink_g=248, taste={"sour": 2})))
    bench.add_coffee(
        workspace, coffees.NewCoffee(name="Lot 2", roast="light", days_off_roast=3, rest_guideline="a-week")
    )
    bench.add_coffee(workspace, coffees.NewCoffee(name="Lot 3", roast="dark"))
    first, second, third = coffees.list_coffees(workspace).coffees
    assert first.grams_left == 250 - 34 and second.grams_left is None
    assert first.rest == "ready" and second.rest == "young" and third.rest == "unknown"
    assert second.last_good is not None and (second.last_good.setting, second.last_good.slip_number) == ("22", 1)
    assert third.last_good is None and second.last_good.brewer == "ribbed cone"
    # A liked cup counts for more than words, one of another brewer for less, an estimate inside the box for nothing.
    for setting, outcome, brewer in (
        ("26", OutcomeDocument(taste={"sweet": 1}, liked=5), "ribbed-cone"),
        ("24", OutcomeDocument(taste={"sweet": 3, "balanced": 3}), "flat-bottom"),
        ("23", OutcomeDocument(), "ribbed-cone"),
    ):
        bench.change_bench(workspace, bench.WorkbenchChange(coffee_id=1, grinder_id=mill.id, setting=setting))
        plans.save_plan(workspace, Recipe(dose_g=17, ratio=16.5, brewer=brewer))
        slips.save_slip(workspace, slips.NewSlip(outcome=outcome))
    best = coffees.list_coffees(workspace).coffees[1].last_good
    assert best is not None and best.setting == "26"
    changed = bench.change_coffee(workspace, second.id, coffees.CoffeeChange(bag_g=100, rest_guideline="second-day"))
    assert changed.grams_left == 100 and changed.rest == "ready"
    with pytest.raises(InputError):
        bench.change_coffee(workspace, second.id, coffees.CoffeeChange(bag_g=-4))
