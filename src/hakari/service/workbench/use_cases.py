"""What is being worked on at a counter: the pass at hand, as the chain strip shows it on every device."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field
from sqlalchemy.orm import Session

from hakari.formats.base import Document
from hakari.service.coffees import use_cases as coffees
from hakari.service.coffees.use_cases import CoffeeChange, NewCoffee, ShelfCoffee
from hakari.service.coffees.views import CoffeeView
from hakari.service.coffees.views import view as coffee_view
from hakari.service.passes.views import OpenPass, PassView, open_passes, pass_view
from hakari.service.plans.choices import choose_coffee, choose_sample, choose_setting, say_setting_unknown
from hakari.service.plans.use_cases import keep_plan, plan_again
from hakari.service.workspace.at_hand import at_hand, pass_of_brew, state_now, take_up
from hakari.service.workspace.transaction import (
    Workspace,
    check_version,
    find,
    list_active,
    mark_deleted,
    units_of,
    workbench_row,
)
from hakari.store import models


class UnitsDocument(Document):
    """What masses and temperatures are shown and typed in."""

    mass: Literal["g", "oz"]
    temperature: Literal["C", "F"]


class WorkbenchView(PassView):
    """The pass at hand at the counter of the device that asks, one of so many ``counters``, and the open ones there."""

    counter: str
    counters: int
    open: list[OpenPass]
    slips: int
    target: str
    change_first: str
    scale: str
    units: UnitsDocument


class WorkbenchChange(Document):
    """What to choose for the pass at hand, or which pass or slip to take up; what is left out stays.

    A setting needs its grinder. ``photo_setting`` ``unknown`` says that nobody knows where the photo's grounds were ground.
    """

    version: int | None = None
    pass_id: int | None = None
    slip_id: int | None = None
    coffee_id: int | None = None
    sample_id: int | None = None
    grinder_id: int | None = None
    setting: Annotated[str, Field(max_length=40)] | None = None
    photo_setting: Literal["unknown"] | None = None
    plan_id: int | None = None
    units: UnitsDocument | None = None


def read_bench(ws: Workspace) -> WorkbenchView:
    """Return the pass at hand, and those that are open beside it."""
    with ws.transaction() as session:
        return _assemble(session)


def change_bench(ws: Workspace, change: WorkbenchChange) -> WorkbenchView:
    """Choose things; refuses a write against an old version of the pass at hand with ``StaleError``.

    A pass that has begun stays as it is: what is chosen then is a new pass's, which is at hand from then on.
    """
    with ws.transaction() as session:
        check_version(at_hand(session), change.version)
        if change.units is not None:
            b = workbench_row(session)
            b.mass_unit, b.temperature_unit = change.units.mass, change.units.temperature
        if change.pass_id is not None:
            take_up(session, find(session, models.Pass, change.pass_id, "brew"))
        if change.slip_id is not None:
            slip = find(session, models.Slip, change.slip_id, "slip")
            take_up(session, pass_of_brew(session, slip.brew_id))
        if change.coffee_id is not None:
            choose_coffee(session, find(session, models.Coffee, change.coffee_id, "coffee"))
        if change.sample_id is not None:
            choose_sample(session, find(session, models.Sample, change.sample_id, "sample"))
        if change.photo_setting is not None:
            say_setting_unknown(session)
        if change.grinder_id is not None:
            choose_setting(session, find(session, models.Grinder, change.grinder_id, "grinder"), change.setting)
        if change.plan_id is not None:
            keep_plan(session, find(session, models.Plan, change.plan_id, "plan").recipe)
    return read_bench(ws)


def add_coffee(ws: Workspace, new: NewCoffee) -> CoffeeView:
    """Put a coffee on the shelf, and choose it for the pass at hand."""
    with ws.transaction() as session:
        row = coffees.add_row(session, new)
        choose_coffee(session, row)
        return coffee_view(row)


def change_coffee(ws: Workspace, coffee_id: int, change: CoffeeChange) -> ShelfCoffee:
    """Change a coffee; a plan that has not begun is made again for it."""
    with ws.transaction() as session:
        row = coffees.change_row(session, coffee_id, change)
        here = at_hand(session)
        if here.coffee_id == row.id and state_now(session, here) == "planned":
            plan_again(session, here)
        return coffees.shelf_view(session, row)


def set_coffee_deleted(ws: Workspace, coffee_id: int, deleted: bool) -> CoffeeView:
    """Put a coffee away, or back on the shelf; what was brewed of it keeps its name."""
    with ws.transaction() as session:
        row = find(session, models.Coffee, coffee_id, "coffee", deleted_too=True)
        mark_deleted(row, deleted)
        here = at_hand(session)
        if deleted and here.coffee_id == row.id and state_now(session, here) == "planned":
            here.coffee_id = None
            plan_again(session, here)
        session.flush()
        return coffee_view(row)


def _assemble(session: Session) -> WorkbenchView:
    b = workbench_row(session)
    slips = session.query(models.Slip).filter(models.Slip.deleted_at.is_(None)).count()
    return WorkbenchView(
        **dict(pass_view(session, at_hand(session))), counter=b.name,
        counters=len(list_active(session, models.Workbench)), open=open_passes(session), slips=slips,
        target=b.target, change_first=b.school, scale=b.scale,
        units=UnitsDocument.model_validate(units_of(b), from_attributes=True),
    )  # fmt: skip
