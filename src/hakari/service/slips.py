"""Slips: what came of a brew, the one change, and the pile of what has been tried."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime
from functools import lru_cache
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from hakari.core.advice.advise import Foreseen, advise, foresee
from hakari.core.advice.evidence import BED_SIGNS, TARGETS, TASTE_WORDS
from hakari.core.advice.moves import Candidate, candidates
from hakari.core.psd.whole import Grind
from hakari.formats.base import Document, Pair
from hakari.formats.plan import PlanDocument
from hakari.formats.recipe import Recipe
from hakari.formats.slip import (
    AdviceDocument,
    OutcomeDocument,
    SchoolName,
    SlipDocument,
    StateDocument,
    TargetDocument,
    target_of,
)
from hakari.service import coffees, plans
from hakari.service.brews import brew_document
from hakari.service.changes import things_changed
from hakari.service.curves import grinder_document
from hakari.service.learning import followed, learned_now
from hakari.service.next_plan import changed_recipe, changed_setting
from hakari.service.workspace import Workspace, bench_row, find, lookup, mark_deleted
from hakari.store import models

# Without a scale only dose and grind change.
CHANGED_BY_SCHOOL = {"by-the-mark": frozenset({"grind", "dose"})}
OWN = "own"  # the name of a target box of one's own


class CupEntry(Document):
    """What a person records after a brew."""

    outcome: OutcomeDocument = OutcomeDocument()
    target: str | TargetDocument = "classical"
    school: SchoolName = "grind-first"
    water: Literal["soft", "fine", "hard", "alkaline"] | None = None
    gear_clean: bool | None = None
    ground_age_h: Annotated[float, Field(ge=0, le=9000)] | None = None
    lean: Literal["brighter", "rounder", "cleaner", "fuller"] | None = None


class TargetBox(Document):
    """A target as drawn."""

    name: str
    ey_percent: Pair
    tds_percent: Pair


class PathPoint(Document):
    """An earlier slip of the same thread on the chart."""

    number: int
    ey_percent: float
    tds_percent: float


class CupView(Document):
    """Everything the cup's station shows."""

    plan_id: int
    advice: AdviceDocument
    drink_g: float
    ratio_drink: float
    targets: list[TargetBox]
    taste_words: list[str]
    bed_signs: list[str]
    path: list[PathPoint]
    since_slip: int | None
    things_changed: list[str]


class FollowedView(Document):
    """The change of the slip before that this pass carried out: what it said, and how much better the cup was, −1 to 1."""

    words: str
    cause: str | None
    better: float
    after: StateDocument
    half_width95: StateDocument


class SlipView(Document):
    """A slip as it lies on the pile; figures are of its own time and never change."""

    id: int
    version: int
    number: int
    parent_id: int | None
    created_at: str
    coffee: str
    brewer: str
    grinder: str | None
    setting: str | None
    dose_g: float
    water_g: float
    water_c: float
    drawdown_s: float
    drawdown_measured: bool
    predicted_drawdown_s: float
    tds_percent: float
    ey_percent: float
    tds_measured: bool
    taste: dict[str, int]
    bed: list[str]
    in_target: bool
    target: str
    curve_size_um: list[float]
    curve_density: list[float]
    changed: list[str]
    changed_words: str | None
    things_changed: list[str] = []
    followed: FollowedView | None = None
    next_words: str | None


class SlipList(Document):
    """The pile, oldest first."""

    slips: list[SlipView]


class SlipDetail(SlipView):
    """A slip with its document and advice."""

    document: SlipDocument
    advice: AdviceDocument


class NextPlan(Document):
    """The plan for brewing a change, kept and on the bench."""

    recipe: Recipe
    plan_id: int
    grinder_id: int | None
    setting: str | None


def preview_cup(ws: Workspace, entry: CupEntry) -> CupView:
    """Judge the brew of the plan on the bench without keeping it."""
    with ws.transaction() as session:
        plan, document = _document(session, entry)
        advice = _judged(session, document, Recipe.model_validate(plan.recipe).school)
        drink = entry.outcome.drink_g or float(plan.prediction["drink_g"])
        bench = bench_row(session)
        parent = _before(session, bench)
        before = _plan_of(session, parent)
        return CupView(
            plan_id=plan.id, advice=advice, drink_g=drink, ratio_drink=drink / document.plan.dose_g,
            targets=_boxes(bench, entry.target),
            taste_words=list(TASTE_WORDS), bed_signs=list(BED_SIGNS), path=_path(session, bench),
            since_slip=parent.number if parent else None,
            things_changed=things_changed(session, before, plan) if before else [],
        )  # fmt: skip


def save_slip(ws: Workspace, entry: CupEntry, at: datetime | None = None) -> SlipDetail:
    """Keep the pass as a slip, made now or ``at`` a time.

    A brew that has its slip already gets it replaced, so that one brew is one slip.
    """
    with ws.brewing, ws.transaction() as session:
        bench = bench_row(session)
        plan, document = _document(session, entry)
        advice = _judged(session, document, Recipe.model_validate(plan.recipe).school)
        brew = lookup(session, models.Brew, bench.brew_id)
        if brew is None or brew.plan_id != plan.id:
            brew = models.Brew(plan_id=plan.id, marks=[], notes=[])
            session.add(brew)
        _record(brew, entry.outcome)
        session.flush()
        row = session.scalar(select(models.Slip).where(models.Slip.brew_id == brew.id))
        if row is None:
            highest = session.scalar(select(func.max(models.Slip.number))) or 0
            parent = _parent(session, bench)
            row = models.Slip(
                brew_id=brew.id,
                number=highest + 1,
                parent_id=parent.id if parent else None,
                document={},
                advice={},
                view={},
            )
            session.add(row)
        row.deleted_at = None
        if at is not None:
            row.created_at = at
        row.document = document.model_dump(mode="json")
        row.advice = advice.dump()
        parent = lookup(session, models.Slip, row.parent_id)
        row.view = _snapshot(session, plan, document, advice, parent)
        bench.brew_id, bench.school = brew.id, entry.school
        bench.target = entry.target if isinstance(entry.target, str) else OWN
        if isinstance(entry.target, TargetDocument):
            bench.own_target = entry.target.model_dump(mode="json")
        session.flush()
        bench.slip_id = row.id
        return _detail(row)


def list_slips(ws: Workspace) -> SlipList:
    """All slips, oldest first."""
    with ws.transaction() as session:
        rows = session.scalars(select(models.Slip).where(models.Slip.deleted_at.is_(None)).order_by(models.Slip.number))
        return SlipList(slips=[_slip_view(r) for r in rows])


def slip_detail(ws: Workspace, slip_id: int) -> SlipDetail:
    """One slip."""
    with ws.transaction() as session:
        return _detail(find(session, models.Slip, slip_id, "slip"))


def set_slip_deleted(ws: Workspace, slip_id: int, deleted: bool) -> SlipView:
    """Delete a slip, or bring it back."""
    with ws.transaction() as session:
        row = find(session, models.Slip, slip_id, "slip", deleted_too=not deleted)
        mark_deleted(row, deleted)
        bench = bench_row(session)
        if deleted and bench.slip_id == row.id:
            bench.slip_id = None
        session.flush()
        return _slip_view(row)


def brew_change(ws: Workspace, slip_id: int, move_index: int) -> NextPlan:
    """Make the next plan from a slip: the same recipe with that one thing changed; ``-1`` brews it again as it was."""
    with ws.transaction() as session:
        row = find(session, models.Slip, slip_id, "slip")
        brew = find(session, models.Brew, row.brew_id, "brew")
        plan = find(session, models.Plan, brew.plan_id, "plan")
        recipe = Recipe.model_validate(plan.recipe)
        change = _chosen(row, move_index)
        setting = plan.setting
        if change is not None:
            recipe = changed_recipe(recipe, change)
            setting = changed_setting(change) or setting if plan.era_id else setting
        bench = bench_row(session)
        era = lookup(session, models.Era, plan.era_id)
        bench.grinder_id, bench.setting = (era.grinder_id if era else bench.grinder_id), setting
        bench.sample_id, bench.coffee_id = plan.sample_id, plan.coffee_id
        kept = plans.keep_plan(session, recipe)
        bench.slip_id = row.id
        return NextPlan(recipe=recipe, plan_id=kept.id or 0, grinder_id=bench.grinder_id, setting=setting)


def _chosen(row: models.Slip, move_index: int) -> Candidate | None:
    """The change that a slip's move stands for; nothing for a repeat."""
    moves = row.advice["moves"]
    if not 0 <= move_index < len(moves):
        return None
    wanted = (moves[move_index]["kind"], moves[move_index]["direction"], moves[move_index]["to"])
    case = SlipDocument.model_validate(row.document).case()
    return next((c for c in candidates(case) if (c.kind, c.direction, c.end) == wanted), None)


def _judged(session: Session, document: SlipDocument, school: str) -> AdviceDocument:
    """The advice on a slip, with what the causes have learned."""
    case = replace(document.case(), learned=learned_now(session), only=CHANGED_BY_SCHOOL.get(school))
    return AdviceDocument.of(advise(case, _foreseen(document)))


def _foreseen(document: SlipDocument) -> Foreseen:
    """What the models say of a brew; held, because it stays while tastes are tapped and schools compared."""
    kept = document.model_copy(update={"outcome": OutcomeDocument(drink_g=document.outcome.drink_g), "brew": None})
    return _foresee(kept.model_dump_json(exclude={"school", "lean"}), document.outcome.tds_percent)


@lru_cache(maxsize=16)
def _foresee(document_json: str, tds_percent: float | None) -> Foreseen:
    document = SlipDocument.model_validate_json(document_json)
    outcome = document.outcome.model_copy(update={"tds_percent": tds_percent})
    return foresee(document.model_copy(update={"outcome": outcome}).case())


def _document(session: Session, entry: CupEntry) -> tuple[models.Plan, SlipDocument]:
    bench = bench_row(session)
    plan = find(session, models.Plan, bench.plan_id, "plan on the bench")
    era = lookup(session, models.Era, plan.era_id)
    coffee = lookup(session, models.Coffee, plan.coffee_id)
    brew = lookup(session, models.Brew, bench.brew_id)
    brew = brew if brew is not None and brew.plan_id == plan.id else None
    document = SlipDocument(
        plan=_as_weighed(plan.document, brew), grinder=grinder_document(era.grinder, session) if era else None,
        setting=plan.setting, coffee=coffees.document(coffee).model_copy(update={"ground_age_h": entry.ground_age_h}),
        water=entry.water, gear_clean=entry.gear_clean, lean=entry.lean, outcome=entry.outcome, target=entry.target,
        school=entry.school,
        brew=brew_document(session, brew) if brew is not None and brew.started_at is not None else None,
    )  # fmt: skip
    return plan, document


def _boxes(bench: models.Bench, chosen: str | TargetDocument) -> list[TargetBox]:
    """The presets, and the user's own box: the chosen one, else the one kept on the bench."""
    boxes = [TargetBox(name=t.name, ey_percent=t.ey_percent, tds_percent=t.tds_percent) for t in TARGETS.values()]
    own = chosen if isinstance(chosen, TargetDocument) else None
    if own is None and bench.own_target:
        own = TargetDocument.model_validate(bench.own_target)
    return [*boxes, TargetBox(name=OWN, ey_percent=own.ey_percent, tds_percent=own.tds_percent)] if own else boxes


def _record(brew: models.Brew, outcome: OutcomeDocument) -> None:
    """What was typed of the brew goes to its record; what was followed and left as it is keeps its source."""
    if outcome.drawdown_s != brew.bare_bed_s:
        brew.bare_bed_s, brew.bare_bed_by = outcome.drawdown_s, "tap" if outcome.drawdown_s is not None else None
    brew.last_drip_s, brew.stalled = outcome.last_drip_s, outcome.stalled


def _as_weighed(document: dict[str, Any], brew: models.Brew | None) -> PlanDocument:
    """The plan with the dose that lay in the brewer, and the pours that went with it."""
    plan = PlanDocument.model_validate(document)
    if brew is None or brew.dose_g is None:
        return plan
    share = brew.dose_g / plan.dose_g
    pours = [p.model_copy(update={"water_g": round(p.water_g * share, 1)}) for p in plan.pours]
    return plan.model_copy(update={"dose_g": brew.dose_g, "pours": pours})


def _same_thread(slip: models.Slip, coffee: str, brewer: str) -> bool:
    return bool(slip.view.get("coffee") == coffee and slip.view.get("brewer") == brewer)


def _parent(session: Session, bench: models.Bench) -> models.Slip | None:
    """The slip that the brew was started from, else the latest of the same coffee in the same brewer."""
    plan = lookup(session, models.Plan, bench.plan_id)
    coffee = session.get(models.Coffee, plan.coffee_id) if plan and plan.coffee_id else None
    name = coffee.name if coffee else ""
    chosen = lookup(session, models.Slip, bench.slip_id)
    started_from = chosen is not None and chosen.deleted_at is None and chosen.brew_id != bench.brew_id
    if chosen is not None and started_from and chosen.view.get("coffee") == name:
        return chosen
    brewer = Recipe.model_validate(plan.recipe).core_brewer().label if plan else ""
    rows = session.scalars(
        select(models.Slip).where(models.Slip.deleted_at.is_(None)).order_by(models.Slip.number.desc())
    )
    return next((r for r in rows if _same_thread(r, name, brewer)), None)


def _before(session: Session, bench: models.Bench) -> models.Slip | None:
    """The slip that the present brew follows on."""
    own = session.scalar(select(models.Slip).where(models.Slip.brew_id == bench.brew_id)) if bench.brew_id else None
    return _parent(session, bench) if own is None else lookup(session, models.Slip, own.parent_id)


def _path(session: Session, bench: models.Bench) -> list[PathPoint]:
    """The thread so far, oldest first, at most four slips, without the present brew's own."""
    path: list[PathPoint] = []
    row = _before(session, bench)
    while row is not None and len(path) < 4:
        v = row.view
        path.append(PathPoint(number=row.number, ey_percent=v["ey_percent"], tds_percent=v["tds_percent"]))
        row = lookup(session, models.Slip, row.parent_id)
    return path[::-1]


def _snapshot(
    session: Session, plan: models.Plan, document: SlipDocument, advice: AdviceDocument,
    parent: models.Slip | None,
) -> dict[str, Any]:  # fmt: skip
    recipe = Recipe.model_validate(plan.recipe)
    size_um, density = _grind_curve(document.plan.grind.core())
    now, outcome = advice.now, document.outcome
    target = target_of(document.target)
    water = round(sum(p.water_g for p in document.plan.pours))
    view: dict[str, Any] = {
        "coffee": document.coffee.name or "", "brewer": recipe.core_brewer().label,
        "grinder": document.grinder.name if document.grinder else None, "setting": document.setting,
        "dose_g": document.plan.dose_g, "water_g": water, "water_c": document.plan.water_c,
        "drawdown_s": now.drawdown_s, "drawdown_measured": outcome.drawdown_s is not None,
        "predicted_drawdown_s": plan.prediction["drawdown_s"],
        "tds_percent": now.tds_percent, "ey_percent": now.ey_percent, "tds_measured": outcome.tds_percent is not None,
        "taste": {k: v for k, v in (outcome.taste_cooled or outcome.taste).items() if v}, "bed": outcome.bed,
        "in_target": target.ey_percent[0] <= now.ey_percent <= target.ey_percent[1]
        and target.tds_percent[0] <= now.tds_percent <= target.tds_percent[1],
        "target": target.name,
        "curve_size_um": size_um, "curve_density": density,
        "next_words": advice.moves[0].words if advice.moves else None,
    }  # fmt: skip
    view["changed"], view["things_changed"] = _changed(session, view, plan, parent)
    view["changed_words"] = _in_words(view["things_changed"]) if parent is not None else None
    before = _plan_of(session, parent)
    view["followed"] = (
        followed(parent, before, plan, view, target) if parent is not None and before is not None else None
    )
    return view


def _grind_curve(grind: Grind) -> tuple[list[float], list[float]]:
    """The plan's grind as density of mass per ln d, lightly smoothed over its classes."""
    per_ln = grind.mass_fraction / np.diff(np.log(grind.edges_um))
    smooth = np.convolve(np.pad(per_ln, 1), [0.25, 0.5, 0.25], mode="valid")
    return [round(float(v), 1) for v in grind.centre_um], [round(float(v), 4) for v in smooth]


def _changed(
    session: Session, view: dict[str, Any], plan: models.Plan, parent: models.Slip | None
) -> tuple[list[str], list[str]]:
    """What differs from the slip before: the fields of the slip, and the things in words."""
    before = _plan_of(session, parent)
    if parent is None or before is None:
        return [], []
    fields = ("grinder", "setting", "dose_g", "water_g", "water_c")
    return [k for k in fields if view[k] != parent.view.get(k)], things_changed(session, before, plan)


def _plan_of(session: Session, slip: models.Slip | None) -> models.Plan | None:
    brew = lookup(session, models.Brew, slip.brew_id) if slip else None
    return lookup(session, models.Plan, brew.plan_id) if brew else None


def _in_words(things: list[str]) -> str:
    return "brewed again" if not things else things[0] if len(things) == 1 else f"{len(things)} things at once"


def _slip_view(row: models.Slip) -> SlipView:
    return SlipView(
        id=row.id, version=row.version, number=row.number, parent_id=row.parent_id,
        created_at=row.created_at.isoformat(), **row.view,
    )  # fmt: skip


def _detail(row: models.Slip) -> SlipDetail:
    return SlipDetail(
        **_slip_view(row).model_dump(), document=SlipDocument.model_validate(row.document),
        advice=AdviceDocument.model_validate(row.advice),
    )  # fmt: skip
