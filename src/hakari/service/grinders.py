"""Grinders: their dials, curves and eras, and a grind on all of them at once."""

from __future__ import annotations

import math
from typing import Annotated

import numpy as np
from pydantic import Field
from sqlalchemy.orm import Session

from hakari.core.errors import InputError
from hakari.core.grinder.curve import assumed_interval_um, sample_from_interval
from hakari.core.grinder.dial import step_words
from hakari.core.grinder.grinder import TARGET_SEED
from hakari.core.translate.median import Translation, translate_setting, translate_size
from hakari.formats.base import Document, Pair
from hakari.formats.grinder import CurveSampleDocument, DialDocument, GrinderDocument, TranslationDocument
from hakari.service.workspace import Workspace, alive, bench_row, find, lookup, mark_deleted
from hakari.store import models


class RailMark(Document):
    """One valid position on a rail."""

    setting: str
    position: float
    d50_um: float
    low_um: float
    high_um: float


class PointView(Document):
    """A measured setting."""

    id: int
    setting: str
    d50_um: float
    ci95_um: Pair
    fines_below_100: float | None
    span: float | None
    sample_id: int | None


class GrinderView(Document):
    """A grinder with its rail; ``marks`` is empty, with the reason, while it has no curve."""

    id: int
    version: int
    name: str
    burrs: str
    note: str
    dial: DialDocument
    step_unit: str
    era: str
    points: list[PointView]
    marks: list[RailMark]
    no_curve: str | None


class GrinderList(Document):
    """All grinders."""

    grinders: list[GrinderView]


class NewGrinder(Document):
    """What is typed for a new grinder."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    burrs: Annotated[str, Field(max_length=40)] = "unknown"
    note: Annotated[str, Field(max_length=120)] = ""
    dial: DialDocument


class NewPoint(Document):
    """A typed measurement of a setting."""

    setting: Annotated[str, Field(min_length=1, max_length=40)]
    d50_um: Annotated[float, Field(gt=0, lt=1e5)]
    ci95_um: Pair | None = None


class BenchTranslation(TranslationDocument):
    """The grind on the bench on one grinder, with what will differ, in words."""

    grinder_id: int
    grinder_name: str
    source: str
    differs: str | None


def list_grinders(ws: Workspace) -> GrinderList:
    """All grinders with their rails."""
    with ws.transaction() as session:
        return GrinderList(grinders=[_view(g) for g in alive(session, models.Grinder)])


def add_grinder(ws: Workspace, new: NewGrinder) -> GrinderView:
    """Add a grinder; ``InputError`` when its dial has no steps."""
    new.dial.core()
    with ws.transaction() as session:
        if any(g.name.lower() == new.name.strip().lower() for g in alive(session, models.Grinder)):
            raise InputError(
                "name-taken",
                f"There is a {new.name.strip()} already.",
                "Give this one another name.",
                field="name",
            )
        row = models.Grinder(
            name=new.name.strip(),
            burrs=new.burrs,
            note=new.note,
            dial=new.dial.model_dump(),
            eras=[models.Era()],
        )
        session.add(row)
        session.flush()
        return _view(row)


def add_point(ws: Workspace, grinder_id: int, new: NewPoint) -> GrinderView:
    """Add a typed measurement of a setting."""
    with ws.transaction() as session:
        grinder = find(session, models.Grinder, grinder_id, "grinder")
        era, written = present_era(grinder, new.setting)
        ci = new.ci95_um or assumed_interval_um(new.d50_um)
        sample_from_interval(0.0, new.d50_um, ci)
        add_point_row(session, era, written, new.d50_um, ci, None, None, None)
        session.flush()
        session.refresh(era)
        return _view(grinder)


def set_point_deleted(ws: Workspace, point_id: int, deleted: bool) -> GrinderView:
    """Take a measured setting off the curve, or put it back."""
    with ws.transaction() as session:
        point = find(session, models.CurvePoint, point_id, "measured setting", deleted_too=True)
        mark_deleted(point, deleted)
        session.flush()
        return _view(point.era.grinder)


def translate_bench(ws: Workspace, to_grinder_id: int, sample_id: int | None = None) -> BenchTranslation:
    """The grind on the bench, or of one sample, on another grinder's dial.

    A sample ground at a known setting goes through its own grinder's curve, which knows that setting from all of its
    samples; any other goes by its measured median.
    """
    with ws.transaction() as session:
        bench = bench_row(session)
        sample = find(session, models.Sample, sample_id or bench.sample_id, "sample on the bench")
        target = find(session, models.Grinder, to_grinder_id, "grinder")
        era = lookup(session, models.Era, sample.era_id)
        core = grinder_document(target).core()
        if era is not None and sample.setting and era.grinder_id != target.id:
            source = grinder_document(era.grinder)
            answer = translate_setting(source.core(), sample.setting, core)
            said = f"{era.grinder.name} {sample.setting}"
        else:
            low, high = sample.measurement["ci95"]["d50_um"]
            spread = math.log(high / low) / (2 * 1.96)
            fines = sample.measurement["extrapolated"]["mass_below_um"].get("100")
            answer = translate_size(sample.d50_um, spread, core, fines)
            said = f"the photo's {sample.d50_um:.0f} µm"
        return BenchTranslation(
            **TranslationDocument.of(answer).model_dump(), grinder_id=target.id, grinder_name=target.name,
            source=said, differs=_differs(answer),
        )  # fmt: skip


def words_between(grinder: models.Grinder, start: str, end: str) -> str:
    """Steps between two settings in words."""
    dial = grinder_document(grinder).dial.core()
    positions = dial.positions()
    a, b = (int(np.argmin(np.abs(positions - dial.parse(s)))) for s in (start, end))
    return step_words(dial, b - a)


def _differs(t: Translation) -> str | None:
    if not t.fines_target or not t.fines_here:
        return None
    ratio = t.fines_here / t.fines_target
    if abs(math.log(ratio)) < math.log(1.12):
        return "Much the same share of fines: expect much the same time."
    percent = round(abs(ratio - 1) * 100 / 5) * 5
    more = ratio > 1
    amount, pace = ("more", "longer") if more else ("fewer", "quicker")
    return f"Same median, about {percent} % {amount} fines: expect it to run {pace}."


def present_era(grinder: models.Grinder, setting: str) -> tuple[models.Era, str]:
    """The era that holds now, and the setting as the dial writes it; ``InputError`` for a setting off the dial."""
    dial = grinder_document(grinder).dial.core()
    return grinder.eras[-1], dial.write(dial.parse(setting))


def add_point_row(
    session: Session,
    era: models.Era,
    setting: str,
    d50_um: float,
    ci95_um: Pair,
    fines: float | None,
    span: float | None,
    sample_id: int | None,
) -> None:
    """Add a measured setting to an era."""
    session.add(
        models.CurvePoint(
            era_id=era.id,
            sample_id=sample_id,
            setting=setting,
            d50_um=d50_um,
            ci95_low_um=ci95_um[0],
            ci95_high_um=ci95_um[1],
            fines_below_100=fines,
            span=span,
        )
    )
    session.flush()
    session.refresh(era)


def _points(row: models.Grinder) -> list[models.CurvePoint]:
    return [p for p in row.eras[-1].points if p.deleted_at is None]


def grinder_document(row: models.Grinder) -> GrinderDocument:
    """A grinder with the samples of its present era, in the open format."""
    return GrinderDocument.model_validate(
        {
            "name": row.name,
            "burrs": row.burrs,
            "dial": row.dial,
            "samples": [
                CurveSampleDocument(
                    setting=p.setting,
                    d50_um=p.d50_um,
                    ci95_um=(p.ci95_low_um, p.ci95_high_um),
                    fines_below_100=p.fines_below_100,
                    span=p.span,
                ).model_dump()
                for p in _points(row)
            ],
        }
    )


def _view(row: models.Grinder) -> GrinderView:
    document = grinder_document(row)
    marks: list[RailMark] = []
    reason = None
    try:
        core = document.core()
        curve = core.curve(TARGET_SEED)
        low, high = curve.interval_um()
        marks = [
            RailMark(
                setting=core.dial.write(float(p)), position=float(p), d50_um=round(float(m), 2),
                low_um=round(float(a), 2), high_um=round(float(b), 2),
            )
            for p, m, a, b in zip(curve.positions, curve.median_um, low, high, strict=True)
        ]  # fmt: skip
    except InputError as error:
        reason = f"{error.message} {error.remedy}"
    return GrinderView(
        id=row.id, version=row.version, name=row.name, burrs=row.burrs, note=row.note, dial=document.dial,
        step_unit=document.dial.core().unit, era=row.eras[-1].label,
        points=[
            PointView(id=p.id, setting=p.setting, d50_um=p.d50_um, ci95_um=(p.ci95_low_um, p.ci95_high_um),
                      fines_below_100=p.fines_below_100, span=p.span, sample_id=p.sample_id)
            for p in _points(row)
        ],
        marks=marks, no_curve=reason,
    )  # fmt: skip
