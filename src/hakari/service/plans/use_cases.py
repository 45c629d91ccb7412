"""Plans: a recipe on the grind that is on the bench, predicted before a drop is poured."""

from __future__ import annotations

import math
from contextlib import suppress
from typing import NamedTuple

from sqlalchemy.orm import Session

from hakari.core.brew.dilution import dilute
from hakari.core.brew.heat import WARM_C, minutes_off_boil
from hakari.core.brew.methods import Window
from hakari.core.brew.schedule import ROOM_C, Roast
from hakari.core.brew.steps import BLOOM_SHARE, Step
from hakari.core.brew.styles import Draft, draft, style_of
from hakari.core.brew.usual import unlikely_amounts
from hakari.core.errors import InputError
from hakari.core.extraction.prediction import predict
from hakari.core.flow.factors import FlowFactors
from hakari.core.grinder.grinder import Grinder
from hakari.core.psd.grind import Grind
from hakari.core.psd.grind_sources import grind_from_figures
from hakari.formats.base import Document, UnlikelyDocument
from hakari.formats.plan import ActionDocument, FitDocument, GrindClasses, PlanDocument, PourDocument, SteepDocument
from hakari.formats.prediction import PredictionDocument
from hakari.formats.recipe import Recipe
from hakari.service.coffees import views as coffees
from hakari.service.fits import use_cases as fits
from hakari.service.grinders.curves import (
    SettingSize,
    core_of,
    grinder_document,
    live_eras,
    moved_along,
    present_era,
    size_at,
)
from hakari.service.grinders.grind_guide import windows_of
from hakari.service.plans.coffee_notes import coffee_notes
from hakari.service.plans.notes import (
    DILUTION_STEP_G,
    DRINK_C,
    HOT_C,
    GrindOnPlan,
    PlanNote,
    most_useful_first,
    notes_for,
)
from hakari.service.plans.steps import CheckView, StepView, checks_of, core_steps, step_views
from hakari.service.plans.target_time import SettingForTime, setting_for_time
from hakari.service.workspace.at_hand import at_hand, to_change
from hakari.service.workspace.transaction import Workspace, find, lookup, units_of, workbench_row
from hakari.store import models

# A grind that nobody measured: usual for a cone.
USUAL_UM, USUAL_SPAN, USUAL_FINES = 700.0, 1.1, 0.08
# What a sample was measured on, by its source.
MEASURED_BY = {"photo": "the photo", "sieve": "the sieves", "table": "the table"}
MOST_BLOOM = 0.8  # of the water: a first pour of more is no bloom
SAME_WATER_G = 0.6  # amounts are written to a tenth, and water to the gram


class VesselView(Document):
    """The brewer's inside, to be drawn: half angle of its walls (0 for upright ones) and width at its bottom."""

    half_angle_deg: float
    bottom_mm: float


class DilutionStepView(Document):
    """After so much water was added to a concentrate: what is in the cup, and its strength."""

    added_g: float
    cup_g: float
    tds_percent: float


class PlanView(Document):
    """A plan, saved or being tried."""

    id: int | None
    recipe: Recipe
    water_g: float
    ratio: float
    reason: str
    brewer_label: str
    vessel: VesselView
    style_label: str
    cup_g: float
    cup_tds_percent: float
    dilution_g: float
    dilution_steps: list[DilutionStepView]
    ice_g: float
    off_boil_min: float | None
    by_hand: list[str]
    grind: GrindOnPlan
    document: PlanDocument
    prediction: PredictionDocument
    notes: list[PlanNote]
    steps: list[StepView]
    checks: list[CheckView]
    unlikely: list[UnlikelyDocument]
    for_time: SettingForTime | None = None


def preview_plan(ws: Workspace, recipe: Recipe) -> PlanView:
    """Predict a recipe on the bench's grind without keeping it."""
    with ws.transaction() as session:
        return _make(session, recipe)


def save_plan(ws: Workspace, recipe: Recipe) -> PlanView:
    """Keep a plan for the pass at hand, or for a new one where that has begun."""
    with ws.transaction() as session:
        return keep_plan(session, recipe)


def keep_plan(session: Session, recipe: Recipe) -> PlanView:
    """Keep a plan on the grind at hand; a pass that has begun keeps its own, and this one is a new pass's."""
    # Predicted first: what is written keeps others from writing, and a prediction takes a while.
    view = _make(session, recipe)
    here = to_change(session)
    grinder = lookup(session, models.Grinder, view.grind.grinder_id)
    row = models.Plan(
        coffee_id=here.coffee_id, sample_id=here.sample_id, era_id=live_eras(grinder)[-1].id if grinder else None,
        setting=view.grind.setting, recipe=recipe,
        document=view.document, prediction=view.prediction,
    )  # fmt: skip
    session.add(row)
    session.flush()
    here.plan_id = row.id
    return view.model_copy(update={"id": row.id})


def plan_again(session: Session, here: models.Pass) -> None:
    """Plan the recipe of a pass that has not begun once more, on what is chosen by now.

    A recipe that this grind or coffee cannot be planned with stays as it was planned last; the start says what is wrong.
    """
    plan = lookup(session, models.Plan, here.plan_id)
    if plan is not None:
        with suppress(InputError):
            keep_plan(session, plan.recipe)


def plan_view(ws: Workspace, plan_id: int) -> PlanView:
    """Return a kept plan as it was made; one that was brewed by as it was shown then."""
    with ws.transaction() as session:
        return view_of_plan(session, find(session, models.Plan, plan_id, "plan"))


def view_of_plan(session: Session, row: models.Plan) -> PlanView:
    """Return a kept plan: as it was shown when it was begun, only its steps in the units of now."""
    if row.shown is not None:
        kept = PlanView.model_validate(
            {**row.shown, "recipe": row.recipe, "document": row.document, "prediction": row.prediction}
        )
        return kept.model_copy(update={"steps": step_views(plan_steps(row), units_of(workbench_row(session)))})
    era = lookup(session, models.Era, row.era_id)
    document, grind = row.document, row.document.grind.core()
    on_plan = GrindOnPlan(
        source="kept with the plan", grinder_id=era.grinder_id if era else None,
        grinder_name=era.grinder.name if era else None, setting=row.setting, median_um=grind.d50_um,
        fines_below_100=grind.below(100.0), assumed=row.sample_id is None and row.setting is None,
    )  # fmt: skip
    coffee = lookup(session, models.Coffee, row.coffee_id)
    shown = coffees.view(coffee) if coffee else None
    bench, windows = workbench_row(session), windows_of(session)
    return _view(row.recipe, on_plan, document, row.prediction, row.id, bench, shown, windows)


def freeze(session: Session, row: models.Plan) -> None:
    """Keep all that is shown of a plan with it, as its first brew begins: later editions of a style change nothing of it."""
    if row.shown is None:
        view = view_of_plan(session, row)
        row.shown = view.model_dump(mode="json", exclude={"recipe", "document", "prediction", "for_time"})


class PlannedAtHand(NamedTuple):
    """A recipe planned on the grind and coffee of the pass at hand."""

    here: models.Pass
    grind: Grind
    on_plan: GrindOnPlan
    roast: Roast
    document: PlanDocument


def plan_at_hand(session: Session, recipe: Recipe) -> PlannedAtHand:
    """Plan a recipe on what is chosen for the pass at hand, with the user's own fit."""
    here = at_hand(session)
    grind, on_plan = grind_at_hand(session, here)
    coffee = lookup(session, models.Coffee, here.coffee_id)
    roast = coffees.document(coffee).roast or "medium"
    factors = fits.factors_for(session, fits.Context.of(recipe, on_plan.grinder_id, roast))
    return PlannedAtHand(here, grind, on_plan, roast, plan_document(recipe, GrindClasses.of(grind), roast, factors))


def _make(session: Session, recipe: Recipe) -> PlanView:
    here, grind, on_plan, _, document = plan_at_hand(session, recipe)
    prediction = PredictionDocument.of(predict(document.core(), grind, document.factors()), grind)
    coffee = lookup(session, models.Coffee, here.coffee_id)
    shown = coffees.view(coffee) if coffee else None
    bench = workbench_row(session)
    view = _view(recipe, on_plan, document, prediction, None, bench, shown, windows_of(session))
    grinder = lookup(session, models.Grinder, here.grinder_id)
    return view.model_copy(update={"for_time": setting_for_time(session, grinder, recipe, document, grind)})


def plan_document(
    recipe: Recipe, grind: GrindClasses, roast: Roast, factors: FlowFactors | None = None
) -> PlanDocument:
    """Return the plan of a recipe on a grind, with the flow as known; ``InputError`` when style or brewer does not fit."""
    wanted, made, brewer = recipe.amounts(), draft_of(recipe), recipe.core_brewer()
    shape = recipe.shape.model_copy(update={"way": brewer.way}) if recipe.shape else None
    pours = [PourDocument.of(p) for p in made.pours]
    if recipe.pours:
        grown = wanted.dose_g / recipe.poured_dose_g if recipe.poured_dose_g else 1.0
        pours = _with_water(recipe.pours, sum(p.water_g for p in made.pours), grown)
    return PlanDocument(
        grind=grind, brewer=shape or recipe.brewer, filter=recipe.core_filter(),
        dose_g=round(wanted.dose_g, 2),
        water_c=recipe.water_c, roast=roast, heat=recipe.heat, pours=pours,
        actions=recipe.actions if recipe.actions is not None
        else [ActionDocument.of(a) for a in made.actions],
        steep=recipe.steep or SteepDocument.of(made.steep),
        dilution_g=round(made.dilution_g + recipe.after_g, 1), ice_g=round(made.ice_g, 1),
        held_back_g=made.held_back_g, by_marks=made.by_marks,
        room_c=made.room_c if made.room_c is not None else ROOM_C, fit=FitDocument.of(factors) if factors else None,
        style=recipe.school if not recipe.pours else None, style_options=recipe.options if not recipe.pours else {},
    )  # fmt: skip


def _with_water(pours: list[PourDocument], water_g: float, grown: float) -> list[PourDocument]:
    """Return one's own pours as shares of so much water: a bloom goes with the dose, the others fill up alike."""
    first, whole = pours[0].water_g, sum(p.water_g for p in pours)
    # A pour of nothing is refused by the plan, which names it.
    if min(p.water_g for p in pours) <= 0 or (abs(whole - water_g) < SAME_WATER_G and grown == 1.0):
        return pours
    bloom = grown * first
    blooms = len(pours) > 1 and first <= BLOOM_SHARE * whole and bloom < MOST_BLOOM * water_g
    rest = (water_g - bloom) / (whole - first) if blooms else water_g / whole
    scaled = [round(p.water_g * (grown if blooms and i == 0 else rest), 1) for i, p in enumerate(pours)]
    return [p.model_copy(update={"water_g": w}) for p, w in zip(pours, scaled, strict=True)]


def grind_at_hand(session: Session, here: models.Pass, setting: str | None = None) -> tuple[Grind, GrindOnPlan]:
    """Return the measured grind, moved by the grinder's curve to the setting of a pass, or to another of its grinder."""
    unplaced = setting is None and here.photo_setting != "chosen"
    setting = setting if setting is not None else here.setting
    sample = lookup(session, models.Sample, here.sample_id)
    grinder = lookup(session, models.Grinder, here.grinder_id)
    name = grinder.name if grinder else None
    core = core_of(grinder_document(grinder, session)) if grinder is not None else None
    size = size_at(core, core.dial.parse(setting)) if core and setting and _has_curve(core) and not unplaced else None
    if sample is None:
        usual = grind_from_figures(USUAL_UM, USUAL_SPAN, USUAL_FINES)
        if core is None or size is None:
            said = "nothing measured yet: a usual grind for a cone is assumed"
            return usual, _on_plan(usual, said, grinder, None, None, assumed=True)
        said = f"size by the curve of your {name} at {setting}; its spread is assumed"
        grind = moved_along(core, usual, usual.quantile_um(0.5, 100.0), size.um)
        return grind, _on_plan(grind, said, grinder, setting, size, assumed=False)
    grind, what = sample.whole.core(), MEASURED_BY[sample.source]
    era = lookup(session, models.Era, sample.era_id)
    same = grinder is not None and era is not None and era.grinder_id == grinder.id and setting == sample.setting
    if core is None or setting is None or unplaced or size is None:
        blades = core is not None and setting is not None and not same and not unplaced
        said = f"{what}'s grind; what {setting} of the {name} gives is not known" if blades else f"measured on {what}"
        return grind, _on_plan(grind, said, grinder, setting, None, assumed=blades)
    # One setting has one size, which the curve knows from all of its samples, this one among them.
    moved = moved_along(core, grind, sample.d50_um, size.um) if not same else grind.scaled(size.um / sample.d50_um)
    said = f"measured on {what}" if same else f"{what}'s grind, moved to {name} {setting} by its curve"
    return moved, _on_plan(moved, said, grinder, setting, size, assumed=False)


def _has_curve(core: Grinder) -> bool:
    return bool(core.samples) and not core.has_blades


def _on_plan(
    grind: Grind,
    source: str,
    grinder: models.Grinder | None,
    setting: str | None,
    size: SettingSize | None,
    assumed: bool,
) -> GrindOnPlan:
    return GrindOnPlan(
        source=source, grinder_id=grinder.id if grinder else None, grinder_name=grinder.name if grinder else None,
        setting=setting, median_um=size.um if size else grind.quantile_um(0.5, 100.0),
        interval95_um=(size.low_um, size.high_um) if size else None, fines_below_100=grind.below(100.0), assumed=assumed,
    )  # fmt: skip


def _view(
    recipe: Recipe, on_plan: GrindOnPlan, document: PlanDocument, prediction: PredictionDocument,
    identity: int | None, bench: models.Workbench, coffee: coffees.CoffeeView | None, windows: tuple[Window, ...],
) -> PlanView:  # fmt: skip
    style, brewer, units = style_of(recipe.school), recipe.core_brewer(), units_of(bench)
    wanted, made = recipe.amounts(), draft_of(recipe)
    return PlanView(
        id=identity, recipe=recipe, water_g=round(wanted.water_g, 1), ratio=round(wanted.ratio, 2), reason=style.reason,
        brewer_label=brewer.label, vessel=VesselView.model_validate(brewer, from_attributes=True), style_label=style.label,
        cup_g=round(document.cup_g(prediction.drink_g), 1),
        cup_tds_percent=round(document.cup_tds_percent(prediction.drink_g, prediction.tds_percent), 3),
        dilution_steps=_dilution_steps(prediction, made) if made.dilution_g > 0 else [],
        off_boil_min=round(minutes_off_boil(recipe.water_c), 1) if recipe.water_c > WARM_C else None,
        dilution_g=round(made.dilution_g + recipe.after_g, 1), ice_g=made.ice_g, by_hand=list(made.by_hand), grind=on_plan,
        document=document, prediction=prediction,
        notes=most_useful_first([
            *notes_for(recipe, on_plan, document, prediction, bench.target, made, units, windows),
            *coffee_notes(style, coffee, on_plan, document, units),
        ]),
        steps=step_views(core_steps(document, prediction, made.dilution_g + recipe.after_g), units),
        checks=checks_of(document, brewer, made, units),
        unlikely=[
            UnlikelyDocument.model_validate(u, from_attributes=True)
            for u in unlikely_amounts(style, brewer, wanted.dose_g, wanted.ratio, recipe.water_c)
        ],
    )  # fmt: skip


def _dilution_steps(p: PredictionDocument, made: Draft) -> list[DilutionStepView]:
    """Return the cup after every 10 g of water, to somewhat more than planned."""
    concentrate = max(p.drink_g - made.held_back_g, 1.0)
    count = math.ceil(1.4 * made.dilution_g / DILUTION_STEP_G)
    steps = [dilute(concentrate, p.tds_percent, DRINK_C, DILUTION_STEP_G * k, HOT_C) for k in range(count + 1)]
    return [
        DilutionStepView(added_g=s.added_g, cup_g=round(s.cup_g, 1), tds_percent=round(s.tds_percent, 2)) for s in steps
    ]


def plan_steps(row: models.Plan) -> tuple[Step, ...]:
    """Return the steps of a kept plan, with the water that is added afterwards; of one that was begun those it began with."""
    if row.shown is not None:
        return tuple(StepView.model_validate(s).core() for s in row.shown["steps"])
    return core_steps(row.document, row.prediction, draft_of(row.recipe).dilution_g + row.recipe.after_g)


def draft_of(recipe: Recipe) -> Draft:
    """Return what the recipe's style makes of its amounts."""
    wanted = recipe.amounts()
    return draft(style_of(recipe.school), wanted.dose_g, wanted.water_g, recipe.core_brewer(), recipe.options)


def check_setting(grinder: models.Grinder, setting: str) -> str:
    """Return the setting as the dial writes it."""
    return present_era(grinder, setting)[1]
