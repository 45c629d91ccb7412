"""The coffee shelf."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta
from typing import Annotated, get_args

from pydantic import Field
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from hakari.core.brew.rest import RestState, rest_of
from hakari.core.errors import InputError
from hakari.formats.base import Document, Grams, Name
from hakari.service.coffees.views import OLDEST_DAYS, CoffeeView, RestName, RoastName, view
from hakari.service.workspace.at_hand import at_hand
from hakari.service.workspace.transaction import Workspace, check_version, find, list_active, lookup
from hakari.store import models

Line = Annotated[str, Field(max_length=80)]
# Of what can be changed, what may be taken away again; the rest needs a value.
EMPTIED = frozenset({"roasted_on", "bag_g"})


class LastGood(Document):
    """The best slip of a coffee of the same roast, by taste: where to start with the next bag, and in which brewer it was."""

    slip_number: int
    coffee: str
    grinder_id: int
    grinder: str
    setting: str
    brewer: str


class ShelfCoffee(CoffeeView):
    """A coffee on the shelf: what is left of the bag, how it has rested, and where to start."""

    bag_g: float | None
    grams_left: float | None
    rest: RestState
    rest_words: str
    last_good: LastGood | None


class CoffeeList(Document):
    """All coffees."""

    coffees: list[ShelfCoffee]


class CoffeeChange(Document):
    """What to change of a coffee; what is left out stays. With ``version`` only if it is as it was seen."""

    version: int | None = None
    name: Name | None = None
    roast: RoastName | None = None
    process: Line | None = None
    origin: Line | None = None
    roaster: Line | None = None
    flavours: Annotated[str, Field(max_length=200)] | None = None
    dense: bool | None = None
    roasted_on: date | None = None
    bag_g: Grams | None = None
    rest_guideline: RestName | None = None


class NewCoffee(Document):
    """What is typed for a new coffee; its roast by date, or by the days since."""

    name: Name
    roast: RoastName = "medium"
    process: Line = ""
    origin: Line = ""
    roaster: Line = ""
    flavours: Annotated[str, Field(max_length=200)] = ""
    dense: bool = False
    roasted_on: date | None = None
    days_off_roast: Annotated[int, Field(ge=0, le=OLDEST_DAYS)] | None = None
    bag_g: Grams | None = None
    rest_guideline: RestName = "second-day"


def list_coffees(ws: Workspace) -> CoffeeList:
    """All coffees on the shelf."""
    with ws.transaction() as session:
        starts, used_g = _starting_points(session), _used_g(session)
        return CoffeeList(coffees=[_on_shelf(c, starts, used_g) for c in list_active(session, models.Coffee)])


def change_row(session: Session, coffee_id: int, change: CoffeeChange) -> models.Coffee:
    """Change a coffee as it lies on the shelf; slips keep what they say of it.

    Raises
    ------
    StaleError
        When it was changed since it was seen.
    InputError
        ``bag-out-of-range``, ``roasted-in-the-future``.
    """
    row = find(session, models.Coffee, coffee_id, "coffee")
    check_version(row, change.version)
    for name in change.model_fields_set - {"version"}:
        value = getattr(change, name)
        if value is None and name not in EMPTIED:
            continue
        if name == "bag_g":
            row.bag_g = _checked_bag(value)
        elif name == "roasted_on":
            row.roasted_at = _roasted_at(value)
        elif name == "rest_guideline":
            row.rest_school = value
        else:
            setattr(row, name, value.strip() if isinstance(value, str) else value)
    session.flush()
    return row


def shelf_view(session: Session, row: models.Coffee) -> ShelfCoffee:
    """Return a coffee as it lies on the shelf."""
    return _on_shelf(row, _starting_points(session), _used_g(session))


def _roasted_at(day: date | None) -> datetime | None:
    if day is None:
        return None
    if day > datetime.now(UTC).date() + timedelta(days=1):
        raise InputError("roasted-in-the-future", f"{day} is still to come.", "Type the day of roasting.", "roasted_on")
    return datetime(day.year, day.month, day.day, tzinfo=UTC)


def _checked_bag(bag_g: float | None) -> float | None:
    if bag_g is not None and not 1 <= bag_g <= 60_000:
        raise InputError(
            "bag-out-of-range", f"A bag of {bag_g:g} g is no bag.", "Type its weight in grams.", field="bag_g"
        )
    return bag_g


def _on_shelf(row: models.Coffee, starts: dict[str, LastGood], used_g: dict[int, float]) -> ShelfCoffee:
    shown = view(row)
    rest, words = rest_of(shown.days_off_roast, row.rest_school)
    return ShelfCoffee(
        **shown.model_dump(), bag_g=row.bag_g, grams_left=_left_g(row, used_g.get(row.id, 0.0)), rest=rest,
        rest_words=words, last_good=starts.get(row.roast),
    )  # fmt: skip


def _left_g(row: models.Coffee, used_g: float) -> float | None:
    """Return what the brews since the bag was opened have left in it."""
    return None if row.bag_g is None else max(0.0, round(row.bag_g - used_g, 1))


def _used_g(session: Session) -> dict[int, float]:
    """Return how much of each coffee was brewed; practice uses none."""
    practice = func.coalesce(models.Brew.scale["simulated"].as_boolean(), False)
    used = (
        select(models.Plan.coffee_id, func.sum(func.coalesce(models.Brew.dose_g, models.Plan.dose_g)))
        .join(models.Plan, models.Plan.id == models.Brew.plan_id)
        .where(models.Plan.coffee_id.is_not(None), models.Brew.deleted_at.is_(None), ~practice)
        .group_by(models.Plan.coffee_id)
    )
    return {coffee_id: float(grams) for coffee_id, grams in session.execute(used) if coffee_id is not None}


def _starting_points(session: Session) -> dict[str, LastGood]:
    """Return where to start with the next bag of each roast: the best slip by taste, in the brewer in use first."""
    in_use = lookup(session, models.Plan, at_hand(session).plan_id)
    brewer = in_use.brewer if in_use else ""
    starts: dict[str, LastGood] = {}
    for roast in get_args(RoastName):
        best = session.execute(
            select(models.Slip, models.Plan.setting, models.Era)
            .join(models.Brew, models.Brew.id == models.Slip.brew_id)
            .join(models.Plan, models.Plan.id == models.Brew.plan_id)
            .join(models.Era, models.Era.id == models.Plan.era_id)
            .where(
                models.Slip.starts_bags, models.Slip.roast == roast, models.Slip.deleted_at.is_(None),
                models.Plan.setting.is_not(None),
            )
            .order_by(
                (models.Slip.brewer == brewer).desc(), models.Slip.liked.desc(), models.Slip.good.desc(),
                models.Slip.number.desc(),
            )
            .limit(1)
        ).first()  # fmt: skip
        if best is not None:
            slip, setting, era = best
            starts[roast] = LastGood(
                slip_number=slip.number, coffee=slip.view.coffee, grinder_id=era.grinder_id, grinder=era.grinder.name,
                setting=setting, brewer=slip.brewer,
            )  # fmt: skip
    return starts


def add_row(session: Session, new: NewCoffee) -> models.Coffee:
    """Put a coffee on the shelf."""
    roasted = _roasted_at(new.roasted_on)
    if roasted is None and new.days_off_roast is not None:
        roasted = datetime.now(UTC) - timedelta(days=new.days_off_roast)
    row = models.Coffee(
        name=new.name.strip(),
        roast=new.roast,
        process=new.process,
        origin=new.origin,
        roaster=new.roaster,
        flavours=new.flavours,
        dense=new.dense,
        roasted_at=roasted,
        bag_g=_checked_bag(new.bag_g),
        rest_school=new.rest_guideline,
    )
    session.add(row)
    session.flush()
    return row
