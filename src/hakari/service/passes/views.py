"""A pass as the chain strip and the stations show it, and the open ones beside it."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import ColumnElement, or_, select
from sqlalchemy.orm import Session, lazyload

from hakari.core.brew.schedule import Ending
from hakari.core.brew.styles import style_of
from hakari.formats.base import Document
from hakari.formats.recipe import Recipe
from hakari.service.brews.views import added_water_g, elapsed_s, progress_of, steps_of_brew
from hakari.service.coffees.views import CoffeeView
from hakari.service.coffees.views import view as coffee_view
from hakari.service.plans.steps import StepView, step_views
from hakari.service.workspace.at_hand import PassState, brew_of, slip_of, state_of
from hakari.service.workspace.transaction import Row, lookup, units_of, workbench_row
from hakari.store import models
from hakari.store.snapshots import PhotoSetting, ToldCup

MOST_DISCARDED = 40
# Notes of a brew that are signs of its bed.
BED_SIGN = {"flat": "flat", "mound": "mounded", "mud": "mud", "stranded": "stranded", "channelled": "holes"}


class WorkbenchSample(Document):
    """The measured grind at hand."""

    id: int
    d50_um: float
    half_width_um: float
    photos: int
    grinder_name: str | None
    setting: str | None
    simulated: bool
    source: str


class WorkbenchGrinder(Document):
    """The grinder at hand and its setting."""

    id: int
    name: str
    setting: str | None


class WorkbenchPlan(Document):
    """The plan at hand; ``ending`` is how its steep ends, where it steeps."""

    id: int
    recipe: Recipe
    dose_g: float
    water_g: float
    brewer: str
    style: str
    ending: Ending | None
    drawdown_s: float
    tds_percent: float


class WorkbenchBrew(Document):
    """The brew at hand; ``drink_g`` is what the scale had in the cup, ``bed`` what was noted, as the cup's bed signs.

    ``added_water_g`` is water that was counted into a concentrate.
    """

    id: int
    running: bool
    drink_g: float | None
    added_water_g: float | None
    bed: list[str]
    bare_bed_s: float | None
    estimated_bare_bed_s: float | None
    last_drip_s: float | None
    stalled: bool | None


class WorkbenchSlip(Document):
    """A slip: of the pass at hand, or the one that it starts from."""

    id: int
    number: int
    drawdown_s: float
    tds_percent: float
    ey_percent: float
    tds_measured: bool


class RunningBrew(Document):
    """The clock of a brew that runs, its present step and the next one: enough to go on with it from anywhere."""

    id: int
    elapsed_s: float
    speed: float
    now: int
    step: StepView | None
    next: StepView | None


class OpenPass(Document):
    """A pass that was begun and neither kept nor discarded, or that is planned."""

    id: int
    state: PassState
    coffee: str | None
    brewer: str | None
    dose_g: float | None
    water_g: float | None
    begun_at: str
    running: RunningBrew | None


class PassView(Document):
    """A pass; ``slip`` is its own, ``after`` the one that it starts from."""

    id: int | None
    version: int
    state: PassState
    coffee: CoffeeView | None
    sample: WorkbenchSample | None
    grinder: WorkbenchGrinder | None
    photo_setting: PhotoSetting
    plan: WorkbenchPlan | None
    brew: WorkbenchBrew | None
    slip: WorkbenchSlip | None
    after: WorkbenchSlip | None
    told: ToldCup | None


def pass_view(session: Session, row: models.Pass) -> PassView:
    """Return a pass as it stands."""
    # What was brewed keeps its coffee's name, also when that is off the shelf.
    coffee, sample = lookup(session, models.Coffee, row.coffee_id), _alive(session, models.Sample, row.sample_id)
    grinder, plan = _alive(session, models.Grinder, row.grinder_id), _alive(session, models.Plan, row.plan_id)
    brew, slip, after = brew_of(session, row), slip_of(session, row), _alive(session, models.Slip, row.from_slip_id)
    return PassView(
        id=row.id, version=row.version or 0, state=state_of(row, brew, slip),
        coffee=coffee_view(coffee) if coffee else None, sample=_sample(session, sample) if sample else None,
        grinder=WorkbenchGrinder(id=grinder.id, name=grinder.name, setting=row.setting) if grinder else None,
        photo_setting=row.photo_setting, plan=_plan(plan) if plan else None, brew=_brew(brew, plan) if brew else None,
        slip=_slip(slip) if slip else None, after=_slip(after) if after else None, told=row.told,
    )  # fmt: skip


def open_passes(session: Session) -> list[OpenPass]:
    """Return the open passes of a counter, the newest first; those of a counter that was deleted are every counter's."""
    kept = select(models.Slip.brew_id).where(models.Slip.deleted_at.is_(None))
    unkept = models.Pass.brew_id.is_(None) | models.Pass.brew_id.not_in(kept) | models.Pass.told.is_not(None)
    is_open = (models.Pass.plan_id.is_not(None), models.Pass.deleted_at.is_(None), unkept)
    rows = session.scalars(select(models.Pass).where(_here(session), *is_open).order_by(models.Pass.id.desc()))
    return [_open(session, row) for row in rows]


def _here(session: Session) -> ColumnElement[bool]:
    gone = select(models.Workbench.id).where(models.Workbench.deleted_at.is_not(None))
    return or_(models.Pass.bench_id == workbench_row(session).id, models.Pass.bench_id.in_(gone))


def discarded_passes(session: Session) -> list[OpenPass]:
    """Return the brews that were discarded at a counter and can be brought back, the last first."""
    kept = select(models.Slip.brew_id)
    began = models.Pass.brew_id.is_not(None) & models.Pass.brew_id.not_in(kept)
    gone = (models.Pass.deleted_at.is_not(None), began | models.Pass.told.is_not(None))
    rows = session.scalars(
        select(models.Pass).where(_here(session), *gone).order_by(models.Pass.deleted_at.desc()).limit(MOST_DISCARDED)
    )
    return [_open(session, row) for row in rows]


def _open(session: Session, row: models.Pass) -> OpenPass:
    coffee, plan = lookup(session, models.Coffee, row.coffee_id), lookup(session, models.Plan, row.plan_id)
    brew, slip = brew_of(session, row), slip_of(session, row)
    begun: datetime = (brew.started_at if brew else None) or row.created_at
    state = state_of(row, brew, slip)
    return OpenPass(
        id=row.id, state=state, coffee=coffee.name if coffee else None, brewer=plan.brewer if plan else None,
        dose_g=plan.dose_g if plan else None, begun_at=begun.isoformat(),
        water_g=plan.recipe.amounts().water_g if plan else None,
        running=_running(session, brew) if brew is not None and state == "brewing" else None,
    )  # fmt: skip


def _running(session: Session, brew: models.Brew) -> RunningBrew:
    steps = steps_of_brew(session, brew)
    standing = progress_of(steps, brew)
    shown = [
        view.model_copy(update={"at_s": place.at_s, "ends_s": place.ends_s})
        for view, place in zip(
            step_views(steps, units_of(workbench_row(session))), standing.places, strict=True
        )
    ]  # fmt: skip
    ahead = [*shown[standing.now : standing.now + 2], None, None]
    return RunningBrew(
        id=brew.id, elapsed_s=elapsed_s(brew) or 0.0, speed=brew.speed, now=standing.now, step=ahead[0], next=ahead[1]
    )


def _alive(session: Session, kind: type[Row], identity: int | None) -> Row | None:
    # Pages ask for the bench every second: of what belongs to a row only what is shown is read.
    row = session.get(kind, identity, options=[lazyload("*")]) if identity is not None else None
    return row if row is not None and row.deleted_at is None else None


def _slip(row: models.Slip) -> WorkbenchSlip:
    return WorkbenchSlip(
        id=row.id, number=row.number, drawdown_s=row.view.drawdown_s, tds_percent=row.view.tds_percent,
        ey_percent=row.view.ey_percent, tds_measured=row.view.tds_measured,
    )  # fmt: skip


def _drunk_g(row: models.Brew, plan: models.Plan | None) -> float | None:
    """Return the drink as it was drunk, by the scale: water that was added after its last reading belongs to it."""
    weighed, added = row.found.drink_g if row.found else None, added_water_g(row)
    if weighed is None or plan is None or not added:
        return weighed
    undiluted = abs(weighed - plan.prediction.drink_g) < abs(weighed - plan.prediction.drink_g - added)
    return weighed + added if undiluted else weighed


def _brew(row: models.Brew, plan: models.Plan | None) -> WorkbenchBrew:
    return WorkbenchBrew(
        id=row.id, running=row.started_at is not None and row.closed_at is None,
        bare_bed_s=row.bare_bed_s if row.bare_bed_by != "drip" else None,
        estimated_bare_bed_s=row.bare_bed_s if row.bare_bed_by == "drip" else None,
        last_drip_s=row.last_drip_s, stalled=row.stalled, drink_g=_drunk_g(row, plan),
        added_water_g=added_water_g(row), bed=[BED_SIGN[n.what] for n in row.notes if n.what in BED_SIGN],
    )  # fmt: skip


def _sample(session: Session, row: models.Sample) -> WorkbenchSample:
    low, high = row.measurement.ci95.d50_um
    era = lookup(session, models.Era, row.era_id)
    return WorkbenchSample(
        id=row.id, d50_um=row.d50_um, half_width_um=(high - low) / 2, photos=len(row.photos),
        grinder_name=era.grinder.name if era else None, setting=row.setting, simulated=row.simulated, source=row.source,
    )  # fmt: skip


def _plan(row: models.Plan) -> WorkbenchPlan:
    recipe, prediction = row.recipe, row.prediction
    return WorkbenchPlan(
        id=row.id, recipe=recipe, dose_g=row.document.dose_g, water_g=sum(p.water_g for p in row.document.pours),
        brewer=recipe.core_brewer().label, style=style_of(recipe.school).label, drawdown_s=prediction.drawdown_s,
        tds_percent=row.document.cup_tds_percent(prediction.drink_g, prediction.tds_percent),
        ending=row.document.steep.ending if row.document.steep else None,
    )  # fmt: skip
