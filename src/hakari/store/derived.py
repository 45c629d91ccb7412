"""Columns that are filled from a row's documents: whenever those are written, and once for rows that came without them."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import Connection, event, inspect, select, update
from sqlalchemy.orm import Mapper, Session

from hakari.core.advice.status import complaints, merit
from hakari.core.grinder.kinds import in_print
from hakari.store.models import Base, Plan, Sample, Slip
from hakari.store.snapshots import BrewSize

AT_ONCE = 200
Values = dict[str, Any]


# Brews of other sizes are not compared: halves of what doubling a dose from these would make, g.
SIZES: tuple[tuple[float, BrewSize], ...] = ((22.5, "cup"), (45.0, "two cups"), (90.0, "four cups"))


def size_of(dose_g: float) -> BrewSize:
    """Return the size of a brew by its dose: about a cup, two, four, or a batch."""
    return next((size for most_g, size in SIZES if dose_g < most_g), "batch")


def thread_of(coffee: str, brewer: str, dose_g: float, iced: bool) -> str:
    """Return what a dial-in is known by: coffee, brewer, size of brew; a drink over ice is not compared with a hot one."""
    return f"{coffee}\n{brewer}\n{'iced' if iced else 'hot'}\n{size_of(dose_g)}"


def _of_plan(row: Plan) -> Values:
    return {"brewer": row.recipe.core_brewer().label, "dose_g": row.document.dose_g}


def _of_sample(row: Sample) -> Values:
    low, high = row.measurement.ci95.d50_um
    return {"d50_low_um": low, "d50_high_um": high}


def _of_slip(row: Slip) -> Values:
    view, outcome = row.view, row.document.outcome.core()
    liked, good = merit(outcome)
    return {
        "thread": thread_of(view.coffee, view.brewer, view.dose_g, view.iced), "words": _words(row), "brewer": view.brewer,
        "roast": row.document.plan.roast, "liked": liked, "good": good, "follows": view.followed is not None,
        # An estimate is no reason to start there, and a cup that was complained of is none either.
        "starts_bags": complaints(outcome) == 0 and (good > 0 or (view.in_target and view.tds_measured)),
    }  # fmt: skip


def _words(row: Slip) -> str:
    """Return what a slip is found by: what it shows."""
    view, document = row.view, row.document
    coffee, made = document.coffee, (row.created_at or datetime.now(UTC)).astimezone()
    shown = (
        view.coffee, coffee.origin, coffee.roaster, coffee.process, view.brewer, view.style, view.grinder, view.setting,
        view.setting and in_print(view.setting), *view.taste, *view.bed, view.note, f"slip {row.number}",
        "stalled" if document.outcome.stalled else "", f"liked {view.liked}" if view.liked else "",
        f"{made:%Y-%m-%d} {made:%a} {made.day} {made:%b %B %Y}",
    )  # fmt: skip
    return " ".join(text for text in shown if text).casefold()


# For each kind: what it is derived from, how, and a column that is empty where it was not done.
FILLED: dict[type[Any], tuple[tuple[str, ...], Callable[[Any], Values], Any]] = {
    Plan: (("recipe", "document"), _of_plan, Plan.brewer),
    Sample: (("measurement",), _of_sample, Sample.d50_low_um),
    Slip: (("document", "view"), _of_slip, Slip.thread),
}


def _before_write(mapper: Mapper[Any], _connection: Connection, row: Base) -> None:
    sources, values_of, _ = FILLED[mapper.class_]
    state = inspect(row)
    if not state.persistent or any(state.attrs[name].history.has_changes() for name in sources):
        for name, value in values_of(row).items():
            setattr(row, name, value)


for _kind in FILLED:
    event.listen(_kind, "before_insert", _before_write)
    event.listen(_kind, "before_update", _before_write)


def fill_missing(session: Session) -> int:
    """Fill the rows that came without these columns, as from an older database or a back-up; their number.

    Their versions stay: what people know of them did not change.
    """
    filled = 0
    for kind, (_, values_of, empty) in FILLED.items():
        while rows := session.scalars(select(kind).where(empty.is_(None)).limit(AT_ONCE)).all():
            for row in rows:
                told = update(kind).where(kind.id == row.id).values(values_of(row))
                session.execute(told.execution_options(synchronize_session=False))
            filled += len(rows)
            session.expunge_all()
    return filled
