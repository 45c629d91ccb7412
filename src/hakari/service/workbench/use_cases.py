"""The bench: what is being worked on, as the chain strip shows it on every device."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field
from sqlalchemy.orm import Session, lazyload

from hakari.core.brew.schedule import Ending
from hakari.core.brew.styles import style_of
from hakari.formats.base import Document
from hakari.formats.recipe import Recipe
from hakari.service.brews.views import added_water_g
from hakari.service.coffees.use_cases import CoffeeView
from hakari.service.coffees.use_cases import view as coffee_view
from hakari.service.plans.use_cases import check_setting
from hakari.service.workspace.transaction import (
    Row,
    Workspace,
    check_version,
    find,
    list_active,
    lookup,
    units_of,
    workbench_row,
)
from hakari.store import models

# Notes of a brew that are signs of its bed.
BED_SIGN = {"flat": "flat", "mound": "mounded", "mud": "mud", "stranded": "stranded", "channelled": "holes"}


class UnitsDocument(Document):
    """What masses and temperatures are shown and typed in."""

    mass: Literal["g", "oz"]
    temperature: Literal["C", "F"]


class WorkbenchSample(Document):
    """The measured grind on the bench."""

    id: int
    d50_um: float
    half_width_um: float
    photos: int
    grinder_name: str | None
    setting: str | None
    simulated: bool


class WorkbenchGrinder(Document):
    """The grinder on the bench and its setting."""

    id: int
    name: str
    setting: str | None


class WorkbenchPlan(Document):
    """The plan on the bench; ``ending`` is how its steep ends, where it steeps."""

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
    """The brew on the bench; ``drink_g`` is what the scale had in the cup, ``bed`` what was noted, as the cup's bed signs.

    ``added_water_g`` is water that was counted into a concentrate.
    """

    id: int
    running: bool
    drink_g: float | None
    added_water_g: float | None
    bed: list[str]
    bare_bed_s: float | None
    last_drip_s: float | None
    stalled: bool | None


class WorkbenchSlip(Document):
    """The slip on the bench: of the brew there, or the one that the next brew starts from."""

    id: int
    of_brew: bool
    number: int
    drawdown_s: float
    tds_percent: float
    ey_percent: float
    tds_measured: bool


class WorkbenchView(Document):
    """The chain; ``counter`` is the one of the device that asks, one of so many ``counters``."""

    version: int
    counter: str
    counters: int
    coffee: CoffeeView | None
    sample: WorkbenchSample | None
    grinder: WorkbenchGrinder | None
    plan: WorkbenchPlan | None
    brew: WorkbenchBrew | None
    slip: WorkbenchSlip | None
    slips: int
    target: str
    change_first: str
    scale: str
    units: UnitsDocument


class WorkbenchChange(Document):
    """What to put on the bench; what is left out stays. A setting needs its grinder."""

    version: int | None = None
    coffee_id: int | None = None
    sample_id: int | None = None
    grinder_id: int | None = None
    setting: Annotated[str, Field(max_length=40)] | None = None
    plan_id: int | None = None
    slip_id: int | None = None
    units: UnitsDocument | None = None


def read_bench(ws: Workspace) -> WorkbenchView:
    """Return the bench as it stands."""
    with ws.transaction() as session:
        return _assemble(session, workbench_row(session))


def change_bench(ws: Workspace, change: WorkbenchChange) -> WorkbenchView:
    """Put things on the bench; refuses a write against an old version with ``StaleError``."""
    with ws.transaction() as session:
        b = workbench_row(session)
        check_version(b, change.version)
        if change.units is not None:
            b.mass_unit, b.temperature_unit = change.units.mass, change.units.temperature
        if change.slip_id is not None:
            _put_slip(session, b, change.slip_id)
        if change.coffee_id is not None:
            b.coffee_id = find(session, models.Coffee, change.coffee_id, "coffee").id
        if change.sample_id is not None:
            sample = find(session, models.Sample, change.sample_id, "sample")
            b.sample_id = sample.id
            b.grinder_id = b.setting = None
            if sample.era_id:
                b.grinder_id, b.setting = (
                    find(session, models.Era, sample.era_id, "era").grinder_id,
                    sample.setting,
                )
            if sample.coffee_id:
                b.coffee_id = sample.coffee_id
        if change.grinder_id is not None:
            grinder = find(session, models.Grinder, change.grinder_id, "grinder")
            b.grinder_id = grinder.id
            b.setting = check_setting(grinder, change.setting) if change.setting else None
        if change.plan_id is not None:
            b.plan_id = find(session, models.Plan, change.plan_id, "plan").id
    return read_bench(ws)


def _assemble(session: Session, b: models.Workbench) -> WorkbenchView:
    coffee, sample = _alive(session, models.Coffee, b.coffee_id), _alive(session, models.Sample, b.sample_id)
    grinder, plan = _alive(session, models.Grinder, b.grinder_id), _alive(session, models.Plan, b.plan_id)
    brew, slip = _alive(session, models.Brew, b.brew_id), _alive(session, models.Slip, b.slip_id)
    slips = session.query(models.Slip).filter(models.Slip.deleted_at.is_(None)).count()
    counters = len(list_active(session, models.Workbench))
    return WorkbenchView(
        version=b.version, counter=b.name, counters=counters, coffee=coffee_view(coffee) if coffee else None,
        sample=_sample(session, sample) if sample else None,
        grinder=WorkbenchGrinder(id=grinder.id, name=grinder.name, setting=b.setting) if grinder else None,
        plan=_plan(plan) if plan else None,
        brew=WorkbenchBrew(
            id=brew.id, running=brew.started_at is not None and brew.closed_at is None, bare_bed_s=brew.bare_bed_s,
            last_drip_s=brew.last_drip_s, stalled=brew.stalled, drink_g=brew.found.drink_g if brew.found else None,
            added_water_g=added_water_g(brew),
            bed=[BED_SIGN[n.what] for n in brew.notes if n.what in BED_SIGN],
        ) if brew else None,
        slip=WorkbenchSlip(
            id=slip.id, of_brew=slip.brew_id == b.brew_id, number=slip.number,
            drawdown_s=slip.view.drawdown_s, tds_percent=slip.view.tds_percent,
            ey_percent=slip.view.ey_percent, tds_measured=slip.view.tds_measured,
        ) if slip else None,
        slips=slips, target=b.target, change_first=b.school, scale=b.scale,
        units=UnitsDocument.model_validate(units_of(b), from_attributes=True),
    )  # fmt: skip


def _put_slip(session: Session, b: models.Workbench, slip_id: int) -> None:
    """Put a slip on the bench with all that belongs to it: brew, plan, coffee, grind and setting."""
    slip = find(session, models.Slip, slip_id, "slip")
    brew = find(session, models.Brew, slip.brew_id, "brew")
    plan = find(session, models.Plan, brew.plan_id, "plan")
    era = lookup(session, models.Era, plan.era_id)
    b.slip_id, b.brew_id, b.plan_id = slip.id, brew.id, plan.id
    b.coffee_id, b.sample_id = plan.coffee_id, plan.sample_id
    b.grinder_id, b.setting = era.grinder_id if era else None, plan.setting


def _alive(session: Session, kind: type[Row], identity: int | None) -> Row | None:
    # Pages ask for the bench every second: of what belongs to a row only what is shown is read.
    row = session.get(kind, identity, options=[lazyload("*")]) if identity is not None else None
    return row if row is not None and row.deleted_at is None else None


def _sample(session: Session, row: models.Sample) -> WorkbenchSample:
    low, high = row.measurement.ci95.d50_um
    era = lookup(session, models.Era, row.era_id)
    return WorkbenchSample(
        id=row.id, d50_um=row.d50_um, half_width_um=(high - low) / 2, photos=len(row.photos),
        grinder_name=era.grinder.name if era else None, setting=row.setting, simulated=row.simulated,
    )  # fmt: skip


def _plan(row: models.Plan) -> WorkbenchPlan:
    recipe, prediction = row.recipe, row.prediction
    return WorkbenchPlan(
        id=row.id, recipe=recipe, dose_g=row.document.dose_g, water_g=sum(p.water_g for p in row.document.pours),
        brewer=recipe.core_brewer().label, style=style_of(recipe.school).label, drawdown_s=prediction.drawdown_s,
        tds_percent=row.document.cup_tds_percent(prediction.drink_g, prediction.tds_percent),
        ending=row.document.steep.ending if row.document.steep else None,
    )  # fmt: skip
