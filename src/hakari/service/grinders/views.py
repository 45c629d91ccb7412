"""Grinders as the rails and their margin show them."""

from __future__ import annotations

from collections.abc import Hashable

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from hakari.core.brew.methods import window_for
from hakari.core.errors import InputError
from hakari.core.grinder.curve import Curve
from hakari.core.grinder.diagnostics import ODD_SIGMAS, next_to_measure
from hakari.core.grinder.era import ENOUGH_OF_ITS_OWN
from hakari.core.grinder.grinder import TARGET_SEED, Grinder
from hakari.formats.base import Document, Pair
from hakari.formats.grinder import DialDocument
from hakari.service.cache import Cache
from hakari.service.grinders.curves import core_of, equivalences_of, grinder_document, live_eras, live_points, oddness
from hakari.service.grinders.grind_guide import windows_of
from hakari.store import models

BREWED_UM = (450.0, 1000.0)  # where a curve is wanted while nobody has said what is brewed
LEAST_GAIN = 0.01  # of a half-width, as a share: less is not worth a photo


class RailMark(Document):
    """One setting on a rail, with what the curve says of its median, fines and span."""

    setting: str
    position: float
    d50_um: float
    low_um: float
    high_um: float
    fines_below_100: float | None
    span: float | None
    usable: bool


class PointView(Document):
    """A measured setting; ``odd_sigmas`` is how far it lies from the curve of the others, ``odd`` that it is far."""

    id: int
    version: int
    setting: str
    d50_um: float
    ci95_um: Pair
    fines_below_100: float | None
    span: float | None
    roast: str | None
    basis: str
    used: bool
    odd_sigmas: float | None
    odd: bool
    sample_id: int | None


class SettingEquivalenceView(Document):
    """A setting that is equivalent to one on another grinder."""

    id: int
    setting: str
    other_id: int
    other_name: str
    other_setting: str


class EraView(Document):
    """One era: how it began, when, and what it rests on; ``marks`` thin out its curve."""

    id: int
    label: str
    reason: str
    began_at: str
    points: int
    marks: list[RailMark]


class RoastView(Document):
    """How much another roast shifts the curve."""

    roast: str
    percent: float
    low_percent: float
    high_percent: float


class NextView(Document):
    """Which setting to measure next, and what it would do to the 95 % half-width where the user brews."""

    setting: str
    before_percent: float
    after_percent: float
    words: str


class GrinderView(Document):
    """A grinder with its rail; ``marks`` is empty, with the reason, while it has no curve."""

    id: int
    version: int
    name: str
    burrs: str
    note: str
    dial: DialDocument
    settings: list[str]
    step_unit: str
    step_travel_um: float | None
    era: str
    era_id: int
    shifted: bool
    earlier: list[EraView]
    points: list[PointView]
    equivalences: list[SettingEquivalenceView]
    marks: list[RailMark]
    roasts: list[RoastView]
    no_curve: str | None
    next: NextView | None


BREWED = "brewed_um"  # what a session has found out

_marks_held: Cache[list[RailMark]] = Cache(256)
_roasts_held: Cache[list[RoastView]] = Cache(256)
_next_held: Cache[NextView | None] = Cache(256)


def grinder_view(session: Session, row: models.Grinder) -> GrinderView:
    """Return a grinder as it stands."""
    document = grinder_document(row, session)
    core = core_of(document)
    eras = live_eras(row)
    marks: list[RailMark] = []
    roasts: list[RoastView] = []
    reason = following = None
    try:
        curve = core.curve(TARGET_SEED)
        brewed = _brewed_um(session)
        marks = _marks_held.get(core.document, lambda: _marks(core, curve))
        roasts = _roasts_held.get(core.document, lambda: _roasts(curve))
        following = _next_held.get((core.document, brewed), lambda: _next(core, curve, brewed))
    except InputError as error:
        reason = f"{error.message} {error.remedy}"
    before: Grinder = core
    earlier: list[EraView] = []
    for era in reversed(eras[:-1]):
        assert before.before is not None
        before = before.before
        earlier.insert(0, _era_view(era, before, (core.document, era.id)))
    return GrinderView(
        id=row.id, version=row.version, name=row.name, burrs=row.burrs, note=row.note, dial=document.dial,
        settings=list(core.dial.settings), step_unit=core.dial.unit, step_travel_um=row.step_travel_um,
        era=eras[-1].label, era_id=eras[-1].id, earlier=earlier,
        shifted=bool(earlier) and len(core.samples) < ENOUGH_OF_ITS_OWN,
        points=_points(eras[-1], oddness(core)), equivalences=_equivalences(session, eras[-1]),
        marks=marks, roasts=roasts,
        no_curve=reason, next=following,
    )  # fmt: skip


def _points(era: models.Era, odd: tuple[float | None, ...]) -> list[PointView]:
    rows = live_points(era)
    of_used = iter(odd)
    views = []
    for p in rows:
        sigmas = next(of_used, None) if p.used else None
        views.append(
            PointView(
                id=p.id, version=p.version, setting=p.setting, d50_um=p.d50_um, ci95_um=(p.ci95_low_um, p.ci95_high_um),
                fines_below_100=p.fines_below_100, span=p.span, roast=p.roast, basis=p.basis, used=p.used,
                odd_sigmas=None if sigmas is None else round(sigmas, 1), sample_id=p.sample_id,
                odd=sigmas is not None and abs(sigmas) > ODD_SIGMAS,
            )
        )  # fmt: skip
    return views


def _equivalences(session: Session, era: models.Era) -> list[SettingEquivalenceView]:
    views = []
    for equal in equivalences_of(session, era.id):
        ours = equal.era_a_id == era.id
        other = (equal.era_b if ours else equal.era_a).grinder
        here, there = (equal.setting_a, equal.setting_b) if ours else (equal.setting_b, equal.setting_a)
        views.append(
            SettingEquivalenceView(
                id=equal.id, setting=here, other_id=other.id, other_name=other.name, other_setting=there
            )
        )
    return views


def _marks(core: Grinder, curve: Curve) -> list[RailMark]:
    low, high = curve.interval_um()
    fines, span = core.fines_trend(), core.span_trend()
    usable = core.dial.usable()
    return [
        RailMark(
            setting=setting, position=round(float(p), 6), d50_um=round(float(m), 2), low_um=round(float(a), 2),
            high_um=round(float(b), 2), fines_below_100=round(min(fines.at(float(m)), 0.45), 4) if fines else None,
            span=round(span.at(float(m)), 3) if span else None, usable=bool(good),
        )
        for setting, p, m, a, b, good in zip(
            core.dial.settings, curve.positions, curve.median_um, low, high, usable, strict=True
        )
    ]  # fmt: skip


def _era_view(era: models.Era, core: Grinder, key: Hashable) -> EraView:
    try:
        marks = _marks_held.get(key, lambda: _marks(core, core.curve(TARGET_SEED)))
    except InputError:
        marks = []
    return EraView(
        id=era.id, label=era.label, reason=era.reason, began_at=era.created_at.isoformat(),
        points=len(live_points(era)), marks=marks[:: max(1, len(marks) // 60)],
    )  # fmt: skip


def _roasts(curve: Curve) -> list[RoastView]:
    views = []
    for roast, ln in curve.roast_ln.items():
        low, middle, high = (100 * float(np.expm1(q)) for q in np.percentile(ln, [2.5, 50, 97.5]))
        views.append(
            RoastView(roast=roast, percent=round(middle, 1), low_percent=round(low, 1), high_percent=round(high, 1))
        )
    return views


def _next(core: Grinder, curve: Curve, brewed_um: tuple[float, float]) -> NextView | None:
    """Weighs the sizes that this kitchen brews."""
    low, high = brewed_um
    middle = curve.median_um
    wanted = ((middle >= low) & (middle <= high) & core.dial.usable()).astype(np.float64)
    if not wanted.any():
        return None
    place, before, after = next_to_measure(curve, wanted, core.dial.usable() & (middle > 200) & (middle < 1600))
    if before - after < LEAST_GAIN:
        return None
    known = f"From {low:.0f} to {high:.0f} µm it is known to ±{100 * before:.0f} %"
    return NextView(
        setting=core.dial.write(place), before_percent=round(100 * before, 1), after_percent=round(100 * after, 1),
        words=f"{known}; one photo there brings ±{100 * after:.0f} %.",
    )  # fmt: skip


def _brewed_um(session: Session) -> tuple[float, float]:
    """Return the windows of the plans that were made, together, looked for once a transaction; all usual ones before any."""
    if BREWED not in session.info:
        session.info[BREWED] = _windows_of_plans(session)
    found: tuple[float, float] = session.info[BREWED]
    return found


def _windows_of_plans(session: Session) -> tuple[float, float]:
    brewer, dose_g = models.Plan.recipe["brewer"].as_string(), models.Plan.dose_g
    made = session.execute(select(brewer, dose_g).where(models.Plan.deleted_at.is_(None)).distinct())
    windows = windows_of(session)
    known = [w for w in (window_for(name, dose, windows) for name, dose in made) if w is not None]
    return (min(w.low_um for w in known), max(w.high_um for w in known)) if known else BREWED_UM
