"""The cup: what a person records, judged without being kept."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

from pydantic import Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from hakari.core.advice.advise import advise
from hakari.core.advice.asked import Asked, asked_of
from hakari.core.advice.estimates import SimulatedMoves, simulate_moves
from hakari.core.advice.evidence import BED_SIGNS, TARGETS, TASTE_WORDS
from hakari.core.advice.plausibility import unlikely_readings
from hakari.core.brew.display_units import DisplayUnits
from hakari.formats.advice import AdviceDocument
from hakari.formats.base import Document, Pair, UnlikelyDocument
from hakari.formats.brew_log import LogDocument
from hakari.formats.plan import PlanDocument
from hakari.formats.slip import (
    EarlierSlipDocument,
    GoalDocument,
    LeverOrderName,
    OutcomeDocument,
    SlipDocument,
    TargetDocument,
)
from hakari.service.brews.ends import estimated_bare_bed
from hakari.service.brews.logs import brew_document
from hakari.service.cache import Cache
from hakari.service.coffees import views as coffees
from hakari.service.cups.changes import things_changed
from hakari.service.cups.history import earlier_slips, plan_of, slip_before
from hakari.service.cups.learning import effects_now
from hakari.service.experiments.hand import own_time_share
from hakari.service.grinders.curves import grinder_document
from hakari.service.grinders.grind_guide import windows_of
from hakari.service.workspace.at_hand import at_hand, brew_of
from hakari.service.workspace.transaction import Workspace, find, lookup, units_of, workbench_row
from hakari.store import models

# Without a scale only dose and grind change.
CHANGED_BY_STYLE = {"by-the-mark": frozenset({"grind", "dose"})}
SLIP = "slip "
OWN = "own"  # the name of a target box of one's own


class CupEntry(Document):
    """What a person records after a brew."""

    outcome: OutcomeDocument = OutcomeDocument()
    target: str | TargetDocument = "classical"
    change_first: LeverOrderName = "grind-first"
    water: Literal["soft", "fine", "hard", "alkaline"] | None = None
    gear_clean: bool | None = None
    ground_age_h: Annotated[float, Field(ge=0, le=9000)] | None = None
    lean: Literal["brighter", "rounder", "cleaner", "fuller"] | None = None
    note: Annotated[str, Field(max_length=600)] = ""


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


class BetterSlip(Document):
    """An earlier slip that was better, and what was different then."""

    id: int
    number: int
    differs: list[str]


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
    unlikely: list[UnlikelyDocument]
    dilution_g: float
    held_back_g: float
    goal_time_s: Pair | None
    back: BetterSlip | None
    asked: list[Asked]


def preview_cup(ws: Workspace, entry: CupEntry) -> CupView:
    """Judge the brew at hand without keeping it."""
    with ws.transaction() as session:
        plan, document = cup_document(session, entry)
        advice = judged(session, document, plan)
        case = document.case()
        parent = slip_before(session, at_hand(session))
        before = plan_of(session, parent)
        drink = case.drink_g(float(plan.prediction.drink_g))
        return CupView(
            plan_id=plan.id, advice=advice, drink_g=drink, ratio_drink=drink / document.plan.dose_g,
            targets=_boxes(workbench_row(session), entry.target),
            taste_words=list(TASTE_WORDS), bed_signs=list(BED_SIGNS), path=_path(session, parent),
            since_slip=parent.number if parent else None,
            things_changed=things_changed(session, before, plan) if before else [],
            unlikely=_unlikely(document, plan, document.plan.ice_g + case.outcome.added_water_g),
            dilution_g=document.plan.dilution_g, held_back_g=document.plan.held_back_g,
            asked=list(asked_of(case)), goal_time_s=document.goal.time_s, back=_back(session, plan, advice),
        )  # fmt: skip


def _back(session: Session, plan: models.Plan, advice: AdviceDocument) -> BetterSlip | None:
    """Return the earlier slip that the advice goes back to."""
    if advice.back_to is None:
        return None
    number = int(advice.back_to.removeprefix(SLIP))
    slip = session.scalars(
        select(models.Slip).where(models.Slip.number == number, models.Slip.deleted_at.is_(None))
    ).one()
    before = plan_of(session, slip)
    differs = things_changed(session, plan, before) if before else []
    return BetterSlip(id=slip.id, number=slip.number, differs=differs)


def slip_name(slip: models.Slip) -> str:
    """Return what an earlier slip is called in advice."""
    return f"{SLIP}{slip.number}"


def _earlier(slip: models.Slip) -> EarlierSlipDocument:
    kept = slip.document
    return EarlierSlipDocument(name=slip_name(slip), setting=kept.setting, plan=kept.plan, outcome=kept.outcome)


def _unlikely(document: SlipDocument, plan: models.Plan, added: float) -> list[UnlikelyDocument]:
    """Return what was recorded that is worth a question; ``added`` grams went into the finished drink."""
    found = unlikely_readings(document.outcome.core(), document.plan.core(), plan.prediction.drawdown_s, added)
    return [UnlikelyDocument.model_validate(u, from_attributes=True) for u in found]


def judged(session: Session, document: SlipDocument, plan: models.Plan) -> AdviceDocument:
    """Return the advice on a slip, with how large each lever's effect was before."""
    style = plan.recipe.school
    case = document.case()
    only = case.only if case.only is not None else CHANGED_BY_STYLE.get(style)
    units = units_of(workbench_row(session))
    case = replace(
        case,
        effect_sizes=effects_now(session),
        only=only,
        units=units,
        own_time_share=own_time_share(session),
        windows=windows_of(session),
    )
    return AdviceDocument.of(advise(case, _simulated(document, units)))


_simulations: Cache[SimulatedMoves] = Cache(16)


def _simulated(document: SlipDocument, units: DisplayUnits) -> SimulatedMoves:
    """Return what the models say of a brew; held, because it stays while tastes are tapped and styles compared."""
    o = document.outcome
    outcome = OutcomeDocument(drink_g=o.drink_g, added_water_g=o.added_water_g, held_back_g=o.held_back_g)
    if document.plan.steep:
        steeped = {"drawdown_s": o.drawdown_s, "pressed_s": o.pressed_s, "press_force": o.press_force}
        outcome = outcome.model_copy(update=steeped)
    poured = document.brew.model_copy(update={"log": LogDocument()}) if document.brew else None
    kept = document.model_copy(update={"outcome": outcome, "brew": poured, "previous": [], "note": ""})
    key = kept.model_dump_json(exclude={"change_first", "lean"}), document.outcome.tds_percent, units
    return _simulations.get(key, lambda: _simulate(*key))


def _simulate(document_json: str, tds_percent: float | None, units: DisplayUnits) -> SimulatedMoves:
    document = SlipDocument.model_validate_json(document_json)
    outcome = document.outcome.model_copy(update={"tds_percent": tds_percent})
    return simulate_moves(replace(document.model_copy(update={"outcome": outcome}).case(), units=units))


def cup_document(session: Session, entry: CupEntry) -> tuple[models.Plan, SlipDocument]:
    """Return the plan at hand, and the slip that its brew and what was recorded would make."""
    here = at_hand(session)
    plan = find(session, models.Plan, here.plan_id, "plan at hand")
    era = lookup(session, models.Era, plan.era_id)
    coffee = lookup(session, models.Coffee, plan.coffee_id)
    brew = brew_of(session, here)
    entry = _with_bare_bed(entry, plan, brew)
    document = SlipDocument(
        plan=_as_weighed(plan.document, brew), grinder=grinder_document(era.grinder, session) if era else None,
        setting=plan.setting,
        coffee=coffees.document(coffee).model_copy(update={"ground_age_h": entry.ground_age_h}),
        water=entry.water, gear_clean=entry.gear_clean, lean=entry.lean, outcome=entry.outcome, target=entry.target,
        school=entry.change_first, note=entry.note.strip(), goal=_goal(plan),
        previous=[_earlier(s) for s in earlier_slips(session, here, plan, entry.outcome.core())],
        brew=brew_document(session, brew) if brew is not None and brew.started_at is not None else None,
    )  # fmt: skip
    return plan, document


def _with_bare_bed(entry: CupEntry, plan: models.Plan, brew: models.Brew | None) -> CupEntry:
    """Return what was recorded with the bare bed estimated, where the last drip alone was seen of it."""
    o = entry.outcome
    if o.drawdown_s is not None or o.last_drip_s is None or plan.document.steep is not None:
        return entry.model_copy(update={"outcome": o.model_copy(update={"estimated_bare_bed": None})})
    estimated = estimated_bare_bed(plan, brew, o.last_drip_s)
    return entry.model_copy(update={"outcome": o.model_copy(update={"estimated_bare_bed": estimated})})


def _goal(plan: models.Plan) -> GoalDocument:
    """Return the plan's target time; a press ends when a person ends it."""
    return GoalDocument(time_s=plan.recipe.time_span_s if plan.document.steep is None else None)


def _boxes(bench: models.Workbench, chosen: str | TargetDocument) -> list[TargetBox]:
    """Return the presets, and the user's own box: the chosen one, else the one kept on the bench."""
    boxes = [TargetBox(name=t.name, ey_percent=t.ey_percent, tds_percent=t.tds_percent) for t in TARGETS.values()]
    own = chosen if isinstance(chosen, TargetDocument) else None
    if own is None and bench.own_target:
        own = bench.own_target
    return [*boxes, TargetBox(name=OWN, ey_percent=own.ey_percent, tds_percent=own.tds_percent)] if own else boxes


def _as_weighed(plan: PlanDocument, brew: models.Brew | None) -> PlanDocument:
    """Return the plan with the dose that lay in the brewer, and the pours that went with it."""
    if brew is None or brew.dose_g is None:
        return plan
    share = brew.dose_g / plan.dose_g
    pours = [p.model_copy(update={"water_g": round(p.water_g * share, 1)}) for p in plan.pours]
    return plan.model_copy(update={"dose_g": brew.dose_g, "pours": pours})


def _path(session: Session, row: models.Slip | None) -> list[PathPoint]:
    """Return the thread up to a slip, oldest first, at most four slips."""
    path: list[PathPoint] = []
    while row is not None and len(path) < 4:
        path.append(PathPoint(number=row.number, ey_percent=row.view.ey_percent, tds_percent=row.view.tds_percent))
        row = lookup(session, models.Slip, row.parent_id)
    return path[::-1]
