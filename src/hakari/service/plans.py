"""Plans: a recipe on the grind that is on the bench, predicted before a drop is poured."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from sqlalchemy.orm import Session

from hakari.core.advice.evidence import TARGETS
from hakari.core.brew.brewers import BUILT_IN, built_in
from hakari.core.brew.methods import window_for
from hakari.core.brew.schools import STAGED_REASON, StagedOptions, staged
from hakari.core.errors import InputError
from hakari.core.extraction.prediction import predict
from hakari.core.grinder.grinder import TARGET_SEED
from hakari.core.psd.whole import Grind, whole_from_figures
from hakari.formats.base import Celsius, Document, Grams, Ratio
from hakari.formats.plan import (
    ActionDocument,
    GrindClasses,
    HeatDocument,
    PlanDocument,
    PourDocument,
    PredictionDocument,
)
from hakari.service.curves import core_of, grinder_document, live_eras, present_era
from hakari.service.workspace import Workspace, bench_row, find, lookup
from hakari.store import models


class Recipe(Document):
    """What a person chooses; dose and ratio give the water, or dose and water the ratio."""

    dose_g: Grams = 17.0
    ratio: Ratio | None = None
    water_g: Grams | None = None
    water_c: Celsius = 93.0
    brewer: Literal["ribbed-cone", "smooth-cone", "flat-bottom"] = "ribbed-cone"
    school: Literal["staged"] = "staged"
    stages: Annotated[int, Field(ge=1, le=6)] = 3
    strength: Literal["soft", "normal", "hard"] = "normal"
    heat: HeatDocument = HeatDocument()

    def total_water_g(self) -> float:
        """Water to pour."""
        if self.water_g is not None:
            return self.water_g
        return round((self.ratio or 16.5) * self.dose_g)


class GrindOnPlan(Document):
    """Which grind a plan is made for."""

    source: str
    grinder_id: int | None
    grinder_name: str | None
    setting: str | None
    median_um: float
    fines_below_100: float
    assumed: bool


class PlanNote(Document):
    """Something to know before brewing: ``good``, ``watch`` or ``note``, with what to do."""

    kind: Literal["good", "watch", "note"]
    title: str
    detail: str


class PlanView(Document):
    """A plan, saved or being tried."""

    id: int | None
    recipe: Recipe
    water_g: float
    ratio: float
    reason: str
    brewer_label: str
    grind: GrindOnPlan
    document: PlanDocument
    prediction: PredictionDocument
    notes: list[PlanNote]


class BrewerChoice(Document):
    """A brewer that can be planned for."""

    name: str
    label: str


class BrewerList(Document):
    """All of them."""

    brewers: list[BrewerChoice]


def list_brewers() -> BrewerList:
    """Brewers with a flow model."""
    return BrewerList(brewers=[BrewerChoice(name=b.name, label=b.label) for b in BUILT_IN.values()])


def preview_plan(ws: Workspace, recipe: Recipe) -> PlanView:
    """Predict a recipe on the bench's grind without keeping it."""
    with ws.transaction() as session:
        return _make(session, recipe)


def save_plan(ws: Workspace, recipe: Recipe) -> PlanView:
    """Keep a plan and put it on the bench."""
    with ws.transaction() as session:
        return keep_plan(session, recipe)


def keep_plan(session: Session, recipe: Recipe) -> PlanView:
    """Keep a plan on the bench's grind; the brew and slip that lay there belong to the plan before."""
    view = _make(session, recipe)
    bench = bench_row(session)
    grinder = lookup(session, models.Grinder, view.grind.grinder_id)
    row = models.Plan(
        coffee_id=bench.coffee_id, sample_id=bench.sample_id, era_id=live_eras(grinder)[-1].id if grinder else None,
        setting=view.grind.setting, recipe=recipe.model_dump(mode="json"),
        document=view.document.model_dump(mode="json"), prediction=view.prediction.model_dump(mode="json"),
    )  # fmt: skip
    session.add(row)
    session.flush()
    bench.plan_id, bench.brew_id, bench.slip_id = row.id, None, None
    return view.model_copy(update={"id": row.id})


def plan_view(ws: Workspace, plan_id: int) -> PlanView:
    """A kept plan as it was made."""
    with ws.transaction() as session:
        row = find(session, models.Plan, plan_id, "plan")
        era = lookup(session, models.Era, row.era_id)
        document = PlanDocument.model_validate(row.document)
        prediction = PredictionDocument.model_validate(row.prediction)
        grind = document.grind.core()
        on_plan = GrindOnPlan(
            source="kept with the plan", grinder_id=era.grinder_id if era else None,
            grinder_name=era.grinder.name if era else None, setting=row.setting, median_um=grind.d50_um,
            fines_below_100=grind.below(100.0), assumed=False,
        )  # fmt: skip
        return _view(
            Recipe.model_validate(row.recipe),
            on_plan,
            document,
            prediction,
            row.id,
            bench_row(session).target,
        )


def _make(session: Session, recipe: Recipe) -> PlanView:
    if not recipe.dose_g > 0:
        raise InputError(
            "dose-not-positive", f"A dose of {recipe.dose_g:g} g cannot be brewed.",
            "Type the weight of dry coffee in grams, for example 17.", field="dose_g",
        )  # fmt: skip
    bench = bench_row(session)
    grind, on_plan = _grind_on_bench(session, bench)
    coffee = lookup(session, models.Coffee, bench.coffee_id)
    water = recipe.total_water_g()
    pours, actions = staged(recipe.dose_g, water, StagedOptions(stages=recipe.stages))
    document = PlanDocument(
        grind=GrindClasses.of(grind), brewer=recipe.brewer, dose_g=recipe.dose_g, water_c=recipe.water_c,
        roast=coffee.roast if coffee else "medium", heat=recipe.heat,
        pours=[
            PourDocument(start_s=p.start_s, duration_s=p.duration_s, water_g=round(p.water_g, 1),
                         strength="normal" if i == 0 else recipe.strength)
            for i, p in enumerate(pours)
        ],
        actions=[ActionDocument(at_s=a.at_s, do=a.do) for a in actions],
    )  # fmt: skip
    prediction = PredictionDocument.of(predict(document.core(), grind), grind)
    return _view(recipe, on_plan, document, prediction, None, bench.target)


def _grind_on_bench(session: Session, bench: models.Bench) -> tuple[Grind, GrindOnPlan]:
    """The photo sets the level; a grinder's curve moves it to the setting on the bench."""
    sample = lookup(session, models.Sample, bench.sample_id)
    grinder = lookup(session, models.Grinder, bench.grinder_id)
    name = grinder.name if grinder else None
    if sample is None:
        grind = whole_from_figures(700.0, 1.1, 0.08)
        said = "no photo yet: a usual grind for a cone is assumed"
        return grind, _on_plan(grind, said, grinder, None, assumed=True)
    grind = GrindClasses.model_validate(sample.whole).core()
    era = lookup(session, models.Era, sample.era_id)
    same = grinder is not None and era is not None and era.grinder_id == grinder.id and bench.setting == sample.setting
    if grinder is None or bench.setting is None or same:
        return grind, _on_plan(grind, "measured on the photo", grinder, bench.setting, assumed=False)
    core = core_of(grinder_document(grinder, session))
    size = float(np.median(core.curve(TARGET_SEED).at(core.dial.parse(bench.setting))))
    moved = grind.scaled(size / sample.d50_um)
    fines = core.fines_at(size)
    if fines is not None:
        moved = moved.with_fines(fines)
    return moved, _on_plan(
        moved,
        f"the photo's grind, moved to {name} {bench.setting} by its curve",
        grinder,
        bench.setting,
        False,
    )


def _on_plan(
    grind: Grind, source: str, grinder: models.Grinder | None, setting: str | None, assumed: bool
) -> GrindOnPlan:
    return GrindOnPlan(
        source=source, grinder_id=grinder.id if grinder else None, grinder_name=grinder.name if grinder else None,
        setting=setting, median_um=grind.quantile_um(0.5, 100.0), fines_below_100=grind.below(100.0), assumed=assumed,
    )  # fmt: skip


def _view(
    recipe: Recipe, on_plan: GrindOnPlan, document: PlanDocument, prediction: PredictionDocument,
    identity: int | None, target: str,
) -> PlanView:  # fmt: skip
    water = sum(p.water_g for p in document.pours)
    return PlanView(
        id=identity, recipe=recipe, water_g=round(water, 1), ratio=round(water / document.dose_g, 2),
        reason=STAGED_REASON, brewer_label=built_in(recipe.brewer).label, grind=on_plan, document=document,
        prediction=prediction, notes=_notes(recipe, on_plan, document, prediction, target),
    )  # fmt: skip


def _notes(
    recipe: Recipe, on_plan: GrindOnPlan, document: PlanDocument, p: PredictionDocument, target_name: str
) -> list[PlanNote]:
    notes: list[PlanNote] = []
    window = window_for(recipe.brewer, recipe.dose_g)
    if window is not None:
        verdict = window.verdict(on_plan.median_um)
        said = f"{window.low_um:.0f}–{window.high_um:.0f} µm suits it; this is {on_plan.median_um:.0f}."
        if verdict == "inside":
            notes.append(PlanNote(kind="good", title=f"Suits the {window.label}", detail=said))
        else:
            word = "Fine" if verdict == "fine" else "Coarse"
            notes.append(PlanNote(kind="watch", title=f"{word} for the {window.label}", detail=said))
    if p.stalled:
        notes.append(PlanNote(kind="watch", title="It may stall", detail="Go coarser, or pour the last third softly."))
    target = TARGETS.get(target_name, TARGETS["classical"])
    held = p.drink_g / document.dose_g
    low, high = (t * held for t in target.tds_percent)
    meets = max(low, target.ey_percent[0]), min(high, target.ey_percent[1])
    if meets[1] - meets[0] < 0.5:
        notes.append(
            PlanNote(kind="watch", title=f"This ratio misses the {target.name} target",
                     detail=f"At this ratio its strengths mean {low:.1f}–{high:.1f} % extraction; it wants "
                            f"{target.ey_percent[0]:.0f}–{target.ey_percent[1]:.0f}. Change the water.")
        )  # fmt: skip
    elif meets[1] - meets[0] < 0.6 * (target.ey_percent[1] - target.ey_percent[0]):
        notes.append(
            PlanNote(kind="note", title=f"This ratio crosses the {target.name} target at its edge",
                     detail=f"Only {meets[0]:.1f}–{meets[1]:.1f} % extraction lands in it.")
        )  # fmt: skip
    small = [y for y in p.ey_by_size if y.diameter_um < 250]
    large = [y for y in p.ey_by_size if y.diameter_um > 900 and y.mass_share > 0.005]
    if small and large:
        notes.append(
            PlanNote(
                kind="note",
                title=f"Small grounds give {small[-1].ey_percent:.0f} %, large ones {large[0].ey_percent:.0f} %",
                detail="A narrower grind would be more even.",
            )
        )
    if on_plan.assumed:
        notes.append(
            PlanNote(
                kind="note",
                title="The grind is assumed",
                detail="Measure one photo, and the plan is for your grind.",
            )
        )
    return notes


def check_setting(grinder: models.Grinder, setting: str) -> str:
    """The setting as the dial writes it."""
    return present_era(grinder, setting)[1]
