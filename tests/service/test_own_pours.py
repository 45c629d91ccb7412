"""Own pours, dose and water halved and doubled: chart, table, steps, brew and print are one list, for every method."""

from __future__ import annotations

import pytest

from hakari.core.brew.styles import STYLES
from hakari.core.errors import InputError
from hakari.formats.recipe import Recipe
from hakari.service.brews import use_cases as brews
from hakari.service.plans import use_cases as plans
from hakari.service.slips import use_cases as slips
from hakari.service.workspace.transaction import Workspace


def middle_dose(name: str) -> float:
    low, high = STYLES[name].dose_g
    return round((low * high) ** 0.5)


@pytest.mark.parametrize("factor", [0.5, 1.0, 2.0])
@pytest.mark.parametrize("name", sorted(STYLES))
def test_all_that_shows_pours_shows_the_same(workspace: Workspace, name: str, factor: float) -> None:
    style = STYLES[name]
    dose_g = middle_dose(name)
    base = Recipe(
        school=name, brewer=style.brewers[0], dose_g=dose_g, water_g=round(dose_g * style.ratio), water_c=style.water_c
    )
    of_style = plans.preview_plan(workspace, base).document.pours
    # Set by hand: the second pour made up for by the third, where there are so many.
    own = [p.model_copy(update={"strength": "soft"}) for p in of_style]
    if len(own) > 2:
        own[1] = own[1].model_copy(update={"water_g": own[1].water_g + 10})
        own[2] = own[2].model_copy(update={"water_g": own[2].water_g - 10})
    scaled = base.model_copy(
        update={
            "dose_g": factor * dose_g,
            "water_g": factor * (base.water_g or 0),
            "pours": own,
            "poured_dose_g": dose_g,
        }
    )
    try:
        view = plans.save_plan(workspace, scaled)
    except InputError as refusal:
        assert refusal.remedy  # a dose that cannot be brewed at all
        return
    table = [p.water_g for p in view.document.pours]
    # Shares of one's own: the bloom is a multiple of the dose, and each pour keeps its share of the water.
    # Ice is weighed in fives, so that a little more or less of the water is poured.
    rough = 0.3 if view.ice_g == 0 else 3.0
    assert table == pytest.approx([factor * p.water_g for p in own], abs=rough)
    totals = [sum(table[: i + 1]) for i in range(len(table))]
    assert [s.total_g for s in view.steps if s.kind == "pour"] == pytest.approx(totals, abs=0.01)
    assert max(view.prediction.series.poured_g) == pytest.approx(totals[-1], rel=0.01)
    brew = brews.start_brew(workspace, brews.StartBrew())
    assert [s.total_g for s in brew.steps if s.kind == "pour"] == pytest.approx(totals, abs=0.01)
    brews.close_brew(workspace, brew.id)
    slip = slips.save_slip(workspace, slips.NewSlip())
    assert [s.total_g for s in slips.slip_steps(workspace, slip.id) if s.kind == "pour"] == pytest.approx(
        totals, abs=0.01
    )
    assert slip.water_g == round(totals[-1])


def test_a_bloom_goes_with_the_dose_and_the_other_pours_with_the_water(workspace: Workspace) -> None:
    base = Recipe(dose_g=20, water_g=300)
    own = [p.model_copy(update={"strength": "soft"}) for p in plans.preview_plan(workspace, base).document.pours]
    more_coffee = base.model_copy(update={"dose_g": 30, "pours": own, "poured_dose_g": 20})
    pours = plans.preview_plan(workspace, more_coffee).document.pours
    assert pours[0].water_g == pytest.approx(1.5 * own[0].water_g, abs=0.2)
    assert sum(p.water_g for p in pours) == pytest.approx(300, abs=0.3)
    rest = [p.water_g / sum(q.water_g for q in pours[1:]) for p in pours[1:]]
    assert rest == pytest.approx([p.water_g / sum(q.water_g for q in own[1:]) for p in own[1:]], abs=0.002)
