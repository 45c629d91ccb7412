"""Slips: what came of a brew, the one change, and the pile of what has been tried."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from hakari.core.advice.candidate import Candidate
from hakari.core.brew.styles import style_of
from hakari.core.psd.grind import Grind
from hakari.formats.advice import AdviceDocument
from hakari.formats.base import Document
from hakari.formats.brew_log import LogDocument
from hakari.formats.recipe import Recipe
from hakari.formats.slip import SlipDocument, TargetDocument, target_of
from hakari.service.brews.ends import record_ends
from hakari.service.brews.logs import log_of
from hakari.service.cups.changes import things_changed
from hakari.service.cups.history import parent_of, plan_of
from hakari.service.cups.learning import followed
from hakari.service.cups.use_cases import OWN, CupEntry, cup_document, judged
from hakari.service.plans import use_cases as plans
from hakari.service.plans.next_plan import as_brewed, changed_recipe, changed_setting, changes_of, key_of
from hakari.service.plans.steps import StepView, step_views
from hakari.service.workspace.at_hand import at_hand, brew_of, go_on_from, pass_of_brew
from hakari.service.workspace.paging import PageOf, page_of
from hakari.service.workspace.transaction import (
    Workspace,
    changed_elsewhere,
    find,
    lookup,
    mark_deleted,
    units_of,
    workbench_row,
)
from hakari.store import models
from hakari.store.derived import size_of
from hakari.store.snapshots import BrewSize, SlipFigures

# Figures of a slip that are lit where they differ from the slip before.
MOST_SLIPS, MOST_IN_PICTURE = 10_000_000, 1000
SHOWN_FIELDS = ("grinder", "setting", "dose_g", "water_g", "water_c")


class SlipView(SlipFigures):
    """A slip as it lies on the pile."""

    id: int
    version: int
    number: int
    parent_id: int | None
    created_at: str
    size: BrewSize


class SlipList(Document):
    """A part of the pile, oldest first; of ``total`` that were found, those before ``before`` are on the next page."""

    slips: list[SlipView]
    total: int
    before: int | None


class SlipSearch(PageOf):
    """Which slips to list: those that show all words of ``search``, the newest first, or those that were liked best."""

    search: Annotated[str, Field(max_length=200)] = ""
    order: Literal["newest", "liked"] = "newest"


ALL = SlipSearch()


class SlipDot(Document):
    """A slip in the picture of its coffee's months; only what was measured or said."""

    id: int
    number: int
    created_at: str
    brewer: str
    drawdown_s: float | None
    tds_percent: float | None
    liked: int | None
    median_um: float | None


class SlipsOverTime(Document):
    """A coffee's slips over its months, oldest first, and the coffees that have slips."""

    coffee: str
    coffees: list[str]
    dots: list[SlipDot]


class SlipDetail(SlipView):
    """A slip with its document and advice."""

    document: SlipDocument
    advice: AdviceDocument


class NewSlip(CupEntry):
    """A cup to keep, with the plan and the brew that its page showed; without a plan they are not compared."""

    seen_plan_id: int | None = None
    seen_brew_id: int | None = None


class NextPlan(Document):
    """The plan for brewing a change, kept in a pass of its own that is at hand."""

    pass_id: int
    recipe: Recipe
    plan_id: int
    grinder_id: int | None
    setting: str | None


def save_slip(ws: Workspace, entry: NewSlip, at: datetime | None = None) -> SlipDetail:
    """Keep the pass at hand as a slip, made now or ``at`` a time; ``StaleError`` when it was brewed since it was seen.

    A brew that has its slip already gets it replaced, so that one brew is one slip.
    """
    with ws.brewing, ws.transaction() as session:
        bench, here = workbench_row(session), at_hand(session)
        _check_seen(session, here, entry)
        plan, document = cup_document(session, entry)
        advice = judged(session, document, plan)
        document = _without_log(document)
        brew = brew_of(session, here)
        if brew is None:
            plans.freeze(session, plan)
            brew = models.Brew(plan_id=plan.id, marks=[], notes=[])
            session.add(brew)
        session.flush()
        record_ends(session, brew, entry.outcome)
        row = session.scalar(select(models.Slip).where(models.Slip.brew_id == brew.id))
        parent = parent_of(session, here) if row is None else lookup(session, models.Slip, row.parent_id)
        figures = _figures(session, plan, document, advice, parent)
        if row is None:
            highest = session.scalar(select(func.max(models.Slip.number))) or 0
            row = models.Slip(brew_id=brew.id, number=highest + 1, parent_id=parent.id if parent else None)
            session.add(row)
        row.document, row.advice, row.view = document, advice, figures
        row.deleted_at = None
        if at is not None:
            row.created_at = at
        here.brew_id, here.told, bench.school = brew.id, None, entry.change_first
        bench.target = entry.target if isinstance(entry.target, str) else OWN
        if isinstance(entry.target, TargetDocument):
            bench.own_target = entry.target
        session.flush()
        return _detail(session, row)


def _without_log(document: SlipDocument) -> SlipDocument:
    """Return a document to be kept: the log is kept with the brew."""
    if document.brew is None:
        return document
    return document.model_copy(update={"brew": document.brew.model_copy(update={"log": LogDocument()})})


def _with_log(document: SlipDocument, brew: models.Brew) -> SlipDocument:
    """Return a kept document as the open format has it."""
    if document.brew is None or not brew.parts:
        return document
    return document.model_copy(update={"brew": document.brew.model_copy(update={"log": log_of(brew)})})


def _check_seen(session: Session, here: models.Pass, entry: NewSlip) -> None:
    """Refuse a cup of another plan or brew than the pass has by now; a brew that its first slip made is of the same cup."""
    if entry.seen_plan_id is None:
        return
    brew = brew_of(session, here)
    seen = here.brew_id if entry.seen_brew_id is None and brew and brew.started_at is None else entry.seen_brew_id
    if (entry.seen_plan_id, seen) != (here.plan_id, here.brew_id):
        raise changed_elsewhere()


def list_slips(ws: Workspace, search: SlipSearch = ALL) -> SlipList:
    """Return the newest slips that a search finds, or those before them, oldest first."""
    words = [models.Slip.words.contains(word, autoescape=True) for word in search.search.casefold().split()]
    with ws.transaction() as session:
        by: Any = models.Slip.number
        if search.order == "liked":
            by = models.Slip.liked * MOST_SLIPS + models.Slip.number
        rows, total, before = page_of(session, models.Slip, by, search, *words)
        return SlipList(slips=[_slip_view(r) for r in reversed(rows)], total=total, before=before)


def slips_over_time(ws: Workspace, coffee: str) -> SlipsOverTime:
    """Return the slips of a coffee over its months; every coffee that has slips can be chosen."""
    with ws.transaction() as session:
        names = session.scalars(
            select(models.Slip.thread).where(models.Slip.deleted_at.is_(None)).order_by(models.Slip.number.desc())
        ).all()
        coffees = list(dict.fromkeys(name.split("\n")[0] for name in names))
        chosen = coffee if coffee in coffees or not coffees else coffees[0]
        of_coffee = models.Slip.thread.startswith(f"{chosen}\n", autoescape=True)
        rows = session.scalars(
            select(models.Slip).where(models.Slip.deleted_at.is_(None), of_coffee)
            .order_by(models.Slip.number.desc()).limit(MOST_IN_PICTURE)
        ).all()  # fmt: skip
        dots = [
            SlipDot(
                id=row.id, number=row.number, created_at=row.created_at.isoformat(), brewer=row.view.brewer,
                drawdown_s=row.view.drawdown_s if row.view.drawdown_measured else None,
                tds_percent=row.view.tds_percent if row.view.tds_measured else None, liked=row.view.liked,
                median_um=row.view.median_um or _median_um(row.view),
            )
            for row in reversed(rows)
        ]  # fmt: skip
        return SlipsOverTime(coffee=chosen, coffees=coffees, dots=dots)


def _median_um(view: SlipFigures) -> float | None:
    """Return the median of an older slip's curve, whose density is by equal steps of ln d."""
    size, share = np.array(view.curve_size_um), np.cumsum(view.curve_density)
    return round(float(np.interp(0.5, share / share[-1], size)), 1) if len(size) and share[-1] > 0 else None


def slip_detail(ws: Workspace, slip_id: int) -> SlipDetail:
    """One slip."""
    with ws.transaction() as session:
        return _detail(session, find(session, models.Slip, slip_id, "slip"))


def slip_steps(ws: Workspace, slip_id: int) -> list[StepView]:
    """Return the steps of a slip's plan, as they were planned."""
    with ws.transaction() as session:
        brew = find(session, models.Brew, find(session, models.Slip, slip_id, "slip").brew_id, "brew")
        plan = find(session, models.Plan, brew.plan_id, "plan")
        return step_views(plans.plan_steps(plan), units_of(workbench_row(session)))


def set_slip_deleted(ws: Workspace, slip_id: int, deleted: bool) -> SlipView:
    """Delete a slip, or bring it back."""
    with ws.transaction() as session:
        row = find(session, models.Slip, slip_id, "slip", deleted_too=not deleted)
        mark_deleted(row, deleted)
        pass_of_brew(session, row.brew_id).deleted_at = row.deleted_at
        session.flush()
        return _slip_view(row)


def brew_change(ws: Workspace, slip_id: int, move_index: int, setting: str | None = None) -> NextPlan:
    """Make the next plan from a slip: the same recipe with that one thing changed; ``-1`` brews it again as it was.

    With a ``setting`` that is the one thing: another setting of the slip's grinder.
    """
    with ws.transaction() as session:
        row = find(session, models.Slip, slip_id, "slip")
        brew = find(session, models.Brew, row.brew_id, "brew")
        plan = find(session, models.Plan, brew.plan_id, "plan")
        recipe = as_brewed(plan.recipe, row.document)
        change = _chosen(row, move_index)
        asked, setting = setting, plan.setting
        if change is not None:
            recipe = changed_recipe(recipe, change)
            setting = changed_setting(change) or setting if plan.era_id else setting
        era = lookup(session, models.Era, plan.era_id)
        if asked is not None and era is not None:
            setting = plans.check_setting(era.grinder, asked)
        here = go_on_from(
            session, pass_of_brew(session, brew.id), setting=setting, sample_id=plan.sample_id, coffee_id=plan.coffee_id,
            from_slip_id=row.id, **({"grinder_id": era.grinder_id} if era else {}),
        )  # fmt: skip
        kept = plans.keep_plan(session, recipe)
        return NextPlan(
            recipe=recipe, pass_id=here.id, plan_id=kept.id or 0, grinder_id=here.grinder_id, setting=setting
        )


def _chosen(row: models.Slip, move_index: int) -> Candidate | None:
    """Return the change that a slip's move stands for; nothing for a repeat."""
    moves = row.advice.moves
    if not 0 <= move_index < len(moves):
        return None
    return changes_of(row.document).get(key_of(moves[move_index]))


def _figures(
    session: Session, plan: models.Plan, document: SlipDocument, advice: AdviceDocument,
    parent: models.Slip | None,
) -> SlipFigures:  # fmt: skip
    recipe = plan.recipe
    size_um, density = _grind_curve(document.plan.grind.core())
    now, outcome = advice.now, document.outcome
    target = target_of(document.target)
    steep = document.plan.steep
    timed = (outcome.pressed_s or outcome.drawdown_s) if steep else outcome.drawdown_s
    estimated, added = outcome.estimated_bare_bed, outcome.added_water_g
    figures = SlipFigures(
        coffee=document.coffee.name or "", brewer=recipe.core_brewer().label,
        grinder=document.grinder.name if document.grinder else None, setting=document.setting,
        grind_assumed=plan.sample_id is None and plan.setting is None,
        dose_g=document.plan.dose_g, water_g=round(document.poured_g), water_c=document.plan.water_c,
        drawdown_s=now.drawdown_s, drawdown_measured=timed is not None,
        drawdown_half_s=estimated[1] if estimated else None, last_drip_s=outcome.last_drip_s,
        ending=steep.ending if steep else None,
        predicted_drawdown_s=plan.prediction.drawdown_s,
        tds_percent=now.tds_percent, ey_percent=now.ey_percent, tds_measured=outcome.tds_percent is not None,
        taste={k: v for k, v in (outcome.taste_cooled or outcome.taste).items() if v}, bed=outcome.bed,
        note=document.note, liked=outcome.liked, iced=document.plan.ice_g > 0,
        style=style_of(recipe.school).label, pours=len(document.plan.pours) if steep is None else None,
        stalled=bool(outcome.stalled), added_g=added if added is not None else document.plan.dilution_g or None,
        held_back_g=(outcome.held_back_g if outcome.held_back_g is not None else document.plan.held_back_g) or None,
        in_target=target.holds(now.ey_percent, now.tds_percent) and not _judged(advice), judged=_judged(advice),
        target=target.name,
        curve_size_um=size_um, curve_density=density, median_um=round(document.plan.grind.core().d50_um, 1),
        next_words=advice.moves[0].words if advice.moves else None, changed=[], changed_words=None,
    )  # fmt: skip
    before = plan_of(session, parent)
    if parent is None or before is None:
        return figures
    things = things_changed(session, before, plan)
    update = {
        "changed": [k for k in SHOWN_FIELDS if getattr(figures, k) != getattr(parent.view, k)],
        "things_changed": things, "changed_words": _in_words(things),
        "followed": followed(parent, before, plan, figures, target),
    }  # fmt: skip
    return figures.model_copy(update=update)


JUDGED = {
    "extraction": {1: "under-extracted", -1: "over-extracted"}, "strength": {1: "weak", -1: "strong"},
}  # fmt: skip


def _judged(advice: AdviceDocument) -> str:
    """Return what the cup was found to be, as the Cup says it; nothing where extraction and strength are right."""
    ways = ((words, getattr(advice.reading, axis)) for axis, words in JUDGED.items())
    return ", ".join(words[way] for words, way in ways if way)


def _grind_curve(grind: Grind) -> tuple[list[float], list[float]]:
    """Return the plan's grind as density of mass per ln d, lightly smoothed over its classes."""
    per_ln = grind.mass_fraction / np.diff(np.log(grind.edges_um))
    smooth = np.convolve(np.pad(per_ln, 1), [0.25, 0.5, 0.25], mode="valid")
    return [round(float(v), 1) for v in grind.centre_um], [round(float(v), 4) for v in smooth]


def _in_words(things: list[str]) -> str:
    return "brewed again" if not things else things[0] if len(things) == 1 else f"{len(things)} things at once"


def _slip_view(row: models.Slip) -> SlipView:
    return SlipView(
        id=row.id, version=row.version, number=row.number, parent_id=row.parent_id,
        created_at=row.created_at.isoformat(), size=size_of(row.view.dose_g), **row.view.model_dump(),
    )  # fmt: skip


def _detail(session: Session, row: models.Slip) -> SlipDetail:
    document = _with_log(row.document, find(session, models.Brew, row.brew_id, "brew"))
    return SlipDetail(**_slip_view(row).model_dump(), document=document, advice=row.advice)
