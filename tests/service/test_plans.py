"""Plans of every method kept and matched, recipes in and out, and what older recipes become."""

import re
from dataclasses import replace

import numpy as np
import pytest

from hakari.core.brew.methods import window_for
from hakari.core.brew.styles import STYLES
from hakari.core.errors import InputError
from hakari.core.flow.factors import FlowFactors
from hakari.formats.grinder import BladeDialDocument, NumberDialDocument
from hakari.formats.plan import FitDocument, PourDocument
from hakari.formats.recipe import Recipe
from hakari.formats.slip import OutcomeDocument
from hakari.service.cups.use_cases import CupEntry, preview_cup
from hakari.service.grinders import grind_guide as guide
from hakari.service.grinders import points
from hakari.service.grinders import use_cases as grinders
from hakari.service.plans import matching, recipes, styles
from hakari.service.plans import use_cases as plans
from hakari.service.slips import use_cases as slips
from hakari.service.workbench import use_cases as bench
from hakari.service.workspace.transaction import Workspace


@pytest.fixture
def with_grinder(workspace: Workspace) -> Workspace:
    """A grinder with a curve and fines that are not measured, on the bench."""
    g = grinders.add_grinder(
        workspace, grinders.NewGrinder(name="Brackwell", dial=NumberDialDocument(kind="numbers", minimum=0, maximum=14))
    )
    for setting, size in (("3", 500.0), ("6", 760.0), ("9", 1050.0)):
        points.add_point(workspace, g.id, points.NewPoint(setting=setting, d50_um=size))
    bench.change_bench(workspace, bench.WorkbenchChange(grinder_id=g.id, setting="5"))
    return workspace


@pytest.mark.parametrize("name", STYLES)
def test_every_style_is_planned_with_steps_and_checks(workspace: Workspace, name: str) -> None:
    style = STYLES[name]
    dose = min(max(17.0, style.dose_g[0]), style.dose_g[1])
    recipe = Recipe(dose_g=dose, ratio=style.ratio, brewer=style.brewers[0], school=name, water_c=style.water_c)
    plan = plans.preview_plan(workspace, recipe)
    poured = sum(p.water_g for p in plan.document.pours)
    assert poured + plan.dilution_g + plan.ice_g == pytest.approx(plan.water_g, abs=0.6)
    times = [s.at_s for s in plan.steps]
    assert times == sorted(times) and [s.total_g for s in plan.steps if s.total_g][-1] == pytest.approx(poured, abs=0.1)
    assert {"dose", "mark" if plan.document.by_marks else "tare"} <= {
        c.key for c in plan.checks
    } and plan.reason == style.reason
    assert (plan.document.steep is not None) == any(s.kind == "press" for s in plan.steps)


def test_ones_own_sizes_are_those_that_every_station_judges_by(with_grinder: Workspace) -> None:
    ws, recipe = with_grinder, Recipe(dose_g=17, ratio=16.5)
    style = STYLES[recipe.school]

    def told() -> tuple[str, str, str | None, str]:
        plan = plans.preview_plan(ws, recipe)
        note = next(n for n in plan.notes if " the ribbed cone" in n.title)
        methods = matching.match_plan(ws, recipe).methods
        own = next(m for m in methods if m.style == recipe.school)
        plans.save_plan(ws, recipe)
        sour = CupEntry(outcome=OutcomeDocument(taste={"sour": 3}, tds_percent=1.1))
        finer = [m for m in preview_cup(ws, sour).advice.moves if m.kind == "grind"]
        return note.title, note.detail, own.verdict, " ".join(s for m in finer for s in m.side_effects)

    label = window_for("ribbed-cone", 17.0).label
    guide.set_window(ws, guide.OwnWindowEntry(label=label, low_um=400, high_um=1200))
    title, detail, verdict, sides = told()
    assert title.startswith("Suits the ribbed cone") and verdict == "inside" and sides and "than suits" not in sides
    guide.set_window(ws, guide.OwnWindowEntry(label=label, low_um=1000, high_um=1200))
    title, detail, verdict, sides = told()
    assert title.startswith("Too fine for the ribbed cone") and verdict == "fine"
    assert f"{1000 * style.grind:.0f}–{1200 * style.grind:.0f} µm suits it" in detail
    assert "finer than suits the ribbed cone" in sides


def test_two_amounts_give_the_rest_and_a_moved_pour_stands(workspace: Workspace) -> None:
    by_cup = plans.preview_plan(workspace, Recipe(dose_g=None, ratio=16.0, cup_g=280))
    assert by_cup.ratio == pytest.approx(16.0, abs=0.05) and by_cup.document.dose_g == pytest.approx(20, abs=0.1)
    own = [PourDocument(start_s=0, duration_s=8, water_g=60), PourDocument(start_s=70, duration_s=25, water_g=220)]
    moved = plans.preview_plan(workspace, Recipe(dose_g=17, water_g=280, pours=own))
    assert [p.start_s for p in moved.document.pours] == [0, 70]
    assert moved.prediction.series.poured_g[-1] == pytest.approx(280)
    with pytest.raises(InputError) as refusal:
        plans.preview_plan(workspace, Recipe(dose_g=17, water_g=30))
    assert refusal.value.code == "amounts-impossible"


@pytest.mark.parametrize("water_g", [(0.0,), (50.0, 0.0), (0.0, 0.0), (-20.0, 20.0)])
def test_a_pour_of_nothing_is_named(workspace: Workspace, water_g: tuple[float, ...]) -> None:
    own = [PourDocument(start_s=60 * i, duration_s=10, water_g=w) for i, w in enumerate(water_g)]
    with pytest.raises(InputError) as refusal:
        plans.preview_plan(workspace, Recipe(dose_g=17, ratio=16, pours=own))
    assert refusal.value.code == "pour-malformed" and "needs some water" in str(refusal.value)


def test_recipes_from_before_styles_are_read_as_staged() -> None:
    old = Recipe.model_validate({"dose_g": 17, "ratio": 16.5, "school": "staged", "stages": 4, "strength": "hard"})
    assert old.options == {"stages": "4", "strength": "hard"} and old.school == "staged"


def test_settings_for_a_plan_methods_for_a_grind_and_brewers_side_by_side(with_grinder: Workspace) -> None:
    found = matching.match_plan(with_grinder, Recipe())
    times = [s.drawdown_s for s in found.settings]
    assert found.grinder == "Brackwell" and times == sorted(times, reverse=True) and len(times) > 4
    best = next(s for s in found.settings if s.setting == found.best)
    assert best.verdict == "inside" and best.score == min(s.score for s in found.settings)
    assert {m.style for m in found.methods} == set(STYLES)
    verdicts = [m.verdict == "inside" for m in found.methods]
    assert verdicts == sorted(verdicts, reverse=True)
    assert found.brewers[0].brewer == "ribbed-cone"
    by_name = {b.brewer: b for b in found.brewers}
    assert by_name["smooth-cone"].bypass_percent == 0 < by_name["part-ribbed-cone"].bypass_percent
    assert by_name["part-ribbed-cone"].bypass_percent < by_name["ribbed-cone"].bypass_percent
    assert by_name["flat-bottom"].bed_depth_mm < by_name["ribbed-cone"].bed_depth_mm


def test_a_brewer_of_ones_own_is_planned_like_its_base(workspace: Workspace) -> None:
    wide = {"shape": "flat", "diameter_mm": 90, "bypass": "none", "open_share": 0.5}
    new = styles.NewBrewer.model_validate({"name": "Tin", "base": "flat-bottom", "shape": wide})
    assert styles.add_brewer(workspace, new).name == "Tin"
    recipe = Recipe(brewer="flat-bottom", shape=new.shape, brewer_name="Tin")
    own, usual = plans.preview_plan(workspace, recipe), plans.preview_plan(workspace, Recipe(brewer="flat-bottom"))
    assert own.brewer_label == "Tin" and own.prediction.bed_depth_mm < usual.prediction.bed_depth_mm
    closed = Recipe(brewer="flat-bottom", shape=new.shape.model_copy(update={"open_share": 0.2}), brewer_name="Tin")
    meshed = Recipe(brewer="flat-bottom", shape=new.shape.model_copy(update={"open_share": 0.2, "mesh": True}))
    slow, quick = (plans.preview_plan(workspace, r).prediction.drawdown_s for r in (closed, meshed))
    assert slow > own.prediction.drawdown_s > quick
    valve = Recipe(brewer="valve-dripper", school="steep-and-release", shape=new.shape, brewer_name="Tin")
    # A pot of one's own is pressed, as the pot is whose place it takes.
    pot = Recipe(brewer="press-pot", school="long-steep", dose_g=30, shape=new.shape, brewer_name="Tall pot")
    own_pot = plans.preview_plan(workspace, pot)
    assert own_pot.document.steep is not None and any(s.kind == "press" for s in own_pot.steps)
    assert own_pot.prediction.drink_g < plans.preview_plan(workspace, pot.model_copy(update={"shape": None})).water_g
    small = pot.model_copy(update={"shape": new.shape.model_copy(update={"capacity_g": 350.0})})
    held = [[n.title for n in plans.preview_plan(workspace, r).notes] for r in (pot, small)]
    assert ["The Tall pot does not hold that much" in titles for titles in held] == [False, True]
    assert "Valve closed" in [c.words for c in plans.preview_plan(workspace, valve).checks]
    assert matching.match_plan(workspace, recipe).brewers[0].brewer_label == "Tin"
    styles.set_brewer_deleted(workspace, styles.list_methods(workspace).own[0].id, True)
    assert styles.list_methods(workspace).own == []
    bad = styles.NewBrewer.model_validate({"name": "x", "base": "flat-bottom", "shape": {**wide, "diameter_mm": 5}})
    with pytest.raises(InputError):
        styles.add_brewer(workspace, bad)


@pytest.mark.parametrize(
    ("brewer", "style", "dose_g"), [("ribbed-cone", "over-ice", 20), ("plunger-tube", "concentrate", 18)]
)
def test_strength_is_that_of_the_drink_as_it_is_drunk(
    workspace: Workspace, brewer: str, style: str, dose_g: float
) -> None:
    """Water and ice take no coffee out of the cup: strength times mass stays, in Plan and in what suits what."""
    recipe = Recipe(brewer=brewer, school=style, dose_g=dose_g, ratio=14)
    view = plans.preview_plan(workspace, recipe)
    brewed = view.prediction
    assert view.cup_g > brewed.drink_g + 50
    assert view.cup_tds_percent * view.cup_g == pytest.approx(brewed.tds_percent * brewed.drink_g, rel=0.003)
    own = matching.match_plan(workspace, recipe).brewers[0]
    assert own.tds_percent == pytest.approx(view.cup_tds_percent, rel=0.03)


def test_recipes_are_kept_read_in_ones_own_clicks_and_come_back(with_grinder: Workspace) -> None:
    first = recipes.keep_recipe(with_grinder, recipes.NewRecipe(name="Morning", recipe=Recipe(school="split")))
    assert first.median_um == pytest.approx(675, rel=0.03) and first.yours == "Brackwell 5"  # no photo: by the curve
    file = recipes.export_recipe(with_grinder, first.id).model_dump(mode="json")
    file |= {"name": "Borrowed", "grinder_name": "Someone's mill", "setting": "24", "median_um": 760.0}
    borrowed = recipes.import_recipe(with_grinder, file)
    assert (
        borrowed.yours == "Brackwell 6"
        and borrowed.recipe.school == "split"
        and borrowed.grinder_name == "Someone's mill"
    )
    recipes.keep_recipe(with_grinder, recipes.NewRecipe(name="morning", recipe=Recipe(dose_g=20)))
    assert [r.name for r in recipes.list_recipes(with_grinder).recipes] == ["Borrowed", "morning"]
    recipes.set_recipe_deleted(with_grinder, borrowed.id, True)
    assert [r.name for r in recipes.list_recipes(with_grinder).recipes] == ["morning"]
    with pytest.raises(InputError) as refusal:
        recipes.import_recipe(with_grinder, {"name": "x", "recipe": {"dose_g": "much"}})
    assert refusal.value.code == "recipe-malformed"


def test_a_steep_becomes_a_slip_with_advice(with_grinder: Workspace) -> None:
    recipe = Recipe(dose_g=20, ratio=15, brewer="press-pot", school="long-steep", water_c=94)
    plans.save_plan(with_grinder, recipe)
    outcome = OutcomeDocument(tds_percent=1.05, drink_g=255, taste={"sour": 2, "thin": 1})
    slip = slips.save_slip(with_grinder, slips.NewSlip(outcome=outcome))
    assert slip.brewer == "press pot" and slip.advice.moves[0].kind != "none"


# What a method does not have, and so does not name.
NOT_OF_A_STEEP = re.compile(r"\b(bed|bare|drips?|dripping|drawdown)\b", re.IGNORECASE)
NOT_OF_COLD = re.compile(r"\b(hot|scald\w*|steam|boil\w*|preheated|warmed)\b", re.IGNORECASE)


@pytest.mark.parametrize(("name", "brewer"), [(s.name, b) for s in STYLES.values() for b in s.brewers])
def test_nothing_names_what_its_method_does_not_have(workspace: Workspace, name: str, brewer: str) -> None:
    style = STYLES[name]
    dose = min(max(17.0, style.dose_g[0]), style.dose_g[1])
    recipe = Recipe(dose_g=dose, ratio=style.ratio, brewer=brewer, school=name, water_c=style.water_c)
    plan = plans.preview_plan(workspace, recipe)
    said = [plan.reason, *plan.by_hand, *plan.prediction.assumptions]
    said += [w for n in plan.notes for w in (n.title, n.detail)] + [s.words for s in plan.steps]
    said += [w for c in plan.checks for w in (c.words, c.why)]
    if plan.document.steep is not None:
        assert [w for w in said if NOT_OF_A_STEEP.search(w)] == []
    if style.water_c < 40:
        assert [w for w in said if NOT_OF_COLD.search(w)] == []
    # A press is pressed, a bowl is skimmed, a jar is drawn off.
    ends = {"press-pot": "Press", "plunger-tube": "Press", "tasting-bowl": "skim", "cold-jar": "Draw off"}
    assert ends.get(brewer, "") in " ".join(s.words for s in plan.steps)


def test_a_brewer_overflows_only_where_the_water_really_stands_that_high(workspace: Workspace) -> None:
    def warned(recipe: Recipe) -> bool:
        return any("does not hold" in n.title for n in plans.preview_plan(workspace, recipe).notes)

    # 660 g through a cone of 600 g in five pours never fill it; poured at once they do. A press holds all of it.
    slowly = Recipe(dose_g=40, ratio=16.5, options={"stages": "5"})
    at_once = slowly.model_copy(update={"pours": [PourDocument(start_s=0, duration_s=10, water_g=660)]})
    assert not warned(slowly) and warned(at_once)
    tube = Recipe(brewer="press-pot", school="long-steep", dose_g=70, ratio=16)
    assert warned(tube)


def test_other_brewers_are_compared_on_one_basis(workspace: Workspace) -> None:
    """A smooth cone is slower than a ribbed one, fitted or not."""
    recipe = Recipe(dose_g=17, ratio=16.5)
    found = {b.brewer: b for b in matching.match_plan(workspace, recipe).brewers}
    assert found["smooth-cone"].drawdown_s > found["part-ribbed-cone"].drawdown_s > found["ribbed-cone"].drawdown_s
    fitted = plans.preview_plan(workspace, recipe).document.model_copy(
        update={
            "fit": FitDocument.of(replace(FlowFactors(bed_factor=0.6), fitted_on_brews=3, ln_covariance=np.eye(3) / 9))
        }
    )
    by_fit = matching._brewers(recipe, fitted, fitted.grind.core())
    assert [round(b.drawdown_s) for b in by_fit] == [round(b.drawdown_s) for b in found.values()]


def test_a_grind_that_was_never_measured_is_not_kept_with_a_recipe(workspace: Workspace) -> None:
    kept = recipes.keep_recipe(workspace, recipes.NewRecipe(name="Morning", recipe=Recipe()))
    assert plans.preview_plan(workspace, Recipe()).grind.assumed
    assert kept.median_um is None and kept.yours is None


def test_a_measured_curve_gives_the_grind_where_there_is_no_photo(with_grinder: Workspace) -> None:
    at_five = plans.preview_plan(with_grinder, Recipe()).grind
    assert not at_five.assumed and "curve" in at_five.source and at_five.setting == "5"
    assert 500 < at_five.median_um < 760
    bench.change_bench(with_grinder, bench.WorkbenchChange(grinder_id=at_five.grinder_id, setting="9"))
    assert plans.preview_plan(with_grinder, Recipe()).grind.median_um == pytest.approx(1050, rel=0.03)


def test_a_target_time_names_the_setting_that_brews_it_and_goes_on_to_the_cup(with_grinder: Workspace) -> None:
    usual = plans.preview_plan(with_grinder, Recipe())
    assert usual.for_time is None
    asked = usual.prediction.drawdown_s + 12
    found = plans.preview_plan(with_grinder, Recipe(target_time_s=asked)).for_time
    assert found is not None and found.setting is not None and found.fits
    # Turned there, the plan itself says the time that was promised; finer is slower.
    bench.change_bench(with_grinder, bench.WorkbenchChange(grinder_id=usual.grind.grinder_id, setting=found.setting))
    turned = plans.save_plan(with_grinder, Recipe.model_validate({"target_time_s": f"{asked:.0f} s"}))
    assert turned.prediction.drawdown_s == pytest.approx(found.drawdown_s, rel=0.02)
    assert turned.grind.median_um < usual.grind.median_um and turned.prediction.drawdown_s == pytest.approx(
        asked, abs=10
    )
    # A brew that took much longer than was asked for is answered by the grind.
    slow = OutcomeDocument(drawdown_s=asked + 60, taste={"sweet": 1})
    move = preview_cup(with_grinder, CupEntry(outcome=slow)).advice.moves[0]
    assert (move.kind, move.direction) == ("grind", "coarser")


def test_a_target_time_out_of_reach_says_so_and_a_press_has_none(with_grinder: Workspace) -> None:
    far = plans.preview_plan(with_grinder, Recipe(target_time_s=3000)).for_time
    assert far is not None and not far.fits and far.drawdown_s is not None
    press = Recipe(brewer="press-pot", school="long-steep", dose_g=30, target_time_s=240)
    assert plans.preview_plan(with_grinder, press).for_time is None
    plans.save_plan(with_grinder, press)
    late = OutcomeDocument(pressed_s=300, taste={"sweet": 2})
    assert preview_cup(with_grinder, CupEntry(outcome=late)).advice.status == "keep"


def test_a_plan_and_a_cup_live_with_blades(workspace: Workspace) -> None:
    blades = grinders.add_grinder(
        workspace, grinders.NewGrinder(name="Chopper", dial=BladeDialDocument(kind="seconds"))
    )
    assert blades.no_curve and "Blades" in blades.no_curve
    points.add_point(workspace, blades.id, points.NewPoint(setting="12 s", d50_um=600.0))
    bench.change_bench(workspace, bench.WorkbenchChange(grinder_id=blades.id, setting="15 s shaken"))
    plan = plans.save_plan(workspace, Recipe())
    assert plan.grind.assumed and plan.prediction.drawdown_s > 0
    assert plan.id is not None
    sour = preview_cup(workspace, CupEntry(outcome=OutcomeDocument(taste={"sour": 2}))).advice
    change = next(m for m in sour.moves if m.kind == "grind")
    assert "run the blades longer" in change.words


def test_a_note_is_kept_with_the_slip(workspace: Workspace) -> None:
    plans.save_plan(workspace, Recipe(brewer="ribbed-cone", school="by-the-mark"))
    slip = slips.save_slip(
        workspace, slips.NewSlip(note="  new paper lot ", outcome=OutcomeDocument(taste={"strong": 2}))
    )
    assert slip.note == slip.document.note == "new paper lot" and slip.document.plan.by_marks
    assert slip.grind_assumed  # no photo and no setting: nothing was measured
    # Nobody weighs water by a mark: what is advised is done with a spoon or the grinder.
    assert slip.advice.moves[0].words == "a smaller spoon of coffee"
    assert not {m.kind for m in slip.advice.moves} & {"ratio", "bypass-water", "dilution"}


def test_the_hours_of_a_tower_are_a_time_like_any_other(workspace: Workspace) -> None:
    plan = plans.save_plan(workspace, Recipe(brewer="drip-tower", school="cold-drip", dose_g=50, ratio=10, water_c=18))
    hours = OutcomeDocument(drawdown_s=plan.prediction.drawdown_s + 300, taste={"weak": 2})
    slip = slips.save_slip(workspace, slips.NewSlip(outcome=hours))
    assert slip.drawdown_s > 4 * 3600 and slip.advice.moves
