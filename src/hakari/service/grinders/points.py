"""Points of a grinder's curve: measured, typed, from a habit, or equivalent to a setting of another grinder."""

from __future__ import annotations

import math
from typing import Annotated, Literal

from pydantic import Field
from sqlalchemy.orm import Session

from hakari.core.errors import InputError
from hakari.core.grinder.curve import assumed_interval_um, sample_from_interval
from hakari.core.translate.habit import HABIT_SD, parse_habit
from hakari.formats.base import Document, Pair
from hakari.service.grinders.curves import bare_document, live_eras, live_points, present_era
from hakari.service.grinders.grind_guide import windows_of
from hakari.service.grinders.views import GrinderView, grinder_view
from hakari.service.workspace.transaction import Workspace, check_version, find, mark_deleted
from hakari.store import models

Setting = Annotated[str, Field(min_length=1, max_length=40)]
HABIT = "used for the "  # how the basis of a point from a habit begins


class NewPoint(Document):
    """A typed measurement of a setting; without an interval ±6 % is assumed."""

    setting: Setting
    d50_um: Annotated[float, Field(gt=0, lt=1e5)]
    ci95_um: Pair | None = None
    roast: Literal["light", "medium", "medium-dark", "dark"] | None = None


class NewHabit(Document):
    """A setting that is used for a method, in words: "about 8 for the cone"; ``label`` names the window that is meant."""

    words: Annotated[str, Field(max_length=120)]
    label: Annotated[str, Field(max_length=80)] | None = None


class HabitView(Document):
    """What a habit's words were taken to mean: a setting and the window of sizes that it is in the middle of."""

    setting: str
    label: str
    low_um: float
    high_um: float
    labels: list[str]


class PointChange(Document):
    """Whether a measured setting counts for the curve; with ``version`` only if it is as it was seen."""

    used: bool
    version: int | None = None


class AddedToGrinder(Document):
    """What was added, by its identity, and the grinder as it is now."""

    id: int
    grinder: GrinderView


class NewSettingEquivalence(Document):
    """A setting that is equivalent to one on another grinder."""

    setting: Setting
    other_id: int
    other_setting: Setting


def add_point(ws: Workspace, grinder_id: int, new: NewPoint) -> AddedToGrinder:
    """Add a typed measurement of a setting."""
    with ws.transaction() as session:
        grinder = find(session, models.Grinder, grinder_id, "grinder")
        era, written = present_era(grinder, new.setting)
        low, high = new.ci95_um or assumed_interval_um(new.d50_um)
        sample_from_interval(0.0, new.d50_um, (low, high))
        point = next((p for p in live_points(era) if _typed_before(p, written, new.roast)), None)
        if point is None:
            point = models.CurvePoint(setting=written, roast=new.roast, basis="typed")
        point.d50_um, point.ci95_low_um, point.ci95_high_um, point.used = new.d50_um, low, high, True
        add_point_row(session, era, point)
        return AddedToGrinder(id=point.id, grinder=grinder_view(session, grinder))


def add_habit(ws: Workspace, grinder_id: int, new: NewHabit) -> AddedToGrinder:
    """Take a setting that is used for a method as a weak point of the curve."""
    with ws.transaction() as session:
        grinder = find(session, models.Grinder, grinder_id, "grinder")
        habit = parse_habit(new.words, bare_document(grinder).dial.core(), windows_of(session), new.label)
        era, um = live_eras(grinder)[-1], habit.grind.um
        half = 1.96 * habit.grind.ln_sd
        basis = f"{HABIT}{habit.grind.said}"
        same = (p for p in live_points(era) if p.setting == habit.setting and (p.basis or "").startswith(HABIT))
        point = next(same, None) or models.CurvePoint(setting=habit.setting)
        point.d50_um, point.ci95_low_um, point.ci95_high_um = um, um * math.exp(-half), um * math.exp(half)
        point.basis, point.used = basis, True
        add_point_row(session, era, point)
        return AddedToGrinder(id=point.id, grinder=grinder_view(session, grinder))


def read_habit(ws: Workspace, grinder_id: int, new: NewHabit) -> HabitView:
    """Return what a habit's words mean, without keeping it."""
    with ws.transaction() as session:
        grinder, windows = find(session, models.Grinder, grinder_id, "grinder"), windows_of(session)
        habit = parse_habit(new.words, bare_document(grinder).dial.core(), windows, new.label)
        half = math.exp(2 * math.sqrt(max(habit.grind.ln_sd**2 - HABIT_SD**2, 0.0)))
        return HabitView(
            setting=habit.setting, label=habit.grind.said, low_um=round(habit.grind.um / half),
            high_um=round(habit.grind.um * half), labels=[w.label for w in windows],
        )  # fmt: skip


def _typed_before(point: models.CurvePoint, setting: str, roast: str | None) -> bool:
    """Whether a point was typed for the same setting and roast; typed again, it is corrected."""
    return point.basis == "typed" and point.setting == setting and point.roast == roast


def change_point(ws: Workspace, point_id: int, change: PointChange) -> GrinderView:
    """Leave a measured setting out of the curve, or count it again."""
    with ws.transaction() as session:
        point = find(session, models.CurvePoint, point_id, "measured setting")
        check_version(point, change.version)
        point.used = change.used
        session.flush()
        return grinder_view(session, point.era.grinder)


def set_point_deleted(ws: Workspace, point_id: int, deleted: bool) -> GrinderView:
    """Take a measured setting off the curve for good, or put it back."""
    with ws.transaction() as session:
        point = find(session, models.CurvePoint, point_id, "measured setting", deleted_too=True)
        mark_deleted(point, deleted)
        session.flush()
        return grinder_view(session, point.era.grinder)


def add_equivalence(ws: Workspace, grinder_id: int, new: NewSettingEquivalence) -> AddedToGrinder:
    """Say that a setting equals one on another grinder."""
    with ws.transaction() as session:
        here = find(session, models.Grinder, grinder_id, "grinder")
        there = find(session, models.Grinder, new.other_id, "grinder")
        if here.id == there.id:
            raise InputError(
                "equivalent-to-itself", "An equivalence needs a setting on another grinder.", "Choose the other grinder.",
                field="other_id",
            )  # fmt: skip
        era_a, setting_a = present_era(here, new.setting)
        try:
            era_b, setting_b = present_era(there, new.other_setting)
        except InputError as error:
            raise InputError(error.code, error.message, error.remedy, field="other_setting") from error
        row = models.SettingEquivalence(era_a=era_a, setting_a=setting_a, era_b=era_b, setting_b=setting_b)
        session.add(row)
        session.flush()
        return AddedToGrinder(id=row.id, grinder=grinder_view(session, here))


def set_equivalence_deleted(ws: Workspace, equal_id: int, deleted: bool) -> GrinderView:
    """Delete an equivalence, or restore it; the grinder it was entered for."""
    with ws.transaction() as session:
        row = find(session, models.SettingEquivalence, equal_id, "equivalence", deleted_too=True)
        mark_deleted(row, deleted)
        session.flush()
        return grinder_view(session, row.era_a.grinder)


def add_point_row(session: Session, era: models.Era, point: models.CurvePoint) -> None:
    """Add a measured setting to an era."""
    point.era_id = era.id
    session.add(point)
    session.flush()
    session.refresh(era)
