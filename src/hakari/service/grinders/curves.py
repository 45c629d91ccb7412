"""Grinders' rows as documents and curves, each computed once for what it rests on."""

from __future__ import annotations

from dataclasses import dataclass, fields

import numpy as np
from sqlalchemy import or_, select
from sqlalchemy.orm import Session

from hakari.core.errors import InputError
from hakari.core.grinder.curve import Curve
from hakari.core.grinder.diagnostics import odd_samples
from hakari.core.grinder.dial import step_words
from hakari.core.grinder.grinder import SOURCE_SEED, TARGET_SEED, Grinder
from hakari.core.psd.grind import Grind
from hakari.formats.base import Pair
from hakari.formats.grinder import CurveSampleDocument, EraDocument, GrinderDocument
from hakari.service.cache import Cache
from hakari.store import models

# Two people's "the same" differ by more than two photos of one grind, ln.
EQUIVALENCE_SD = 0.06


def live_points(era: models.Era) -> list[models.CurvePoint]:
    """Return the points of an era that are not deleted."""
    return [p for p in era.points if p.deleted_at is None]


def live_eras(row: models.Grinder) -> list[models.Era]:
    """Return a grinder's eras that are not deleted; the last is the present one."""
    return [e for e in row.eras if e.deleted_at is None]


def present_era(grinder: models.Grinder, setting: str) -> tuple[models.Era, str]:
    """Return the era that holds now, and the setting as the dial writes it; ``InputError`` for a setting off the dial."""
    dial = bare_document(grinder).dial.core()
    return live_eras(grinder)[-1], dial.write(dial.parse(setting))


def bare_document(row: models.Grinder) -> GrinderDocument:
    """Return a grinder with the measured settings of its eras, in the open format, without equivalences."""
    eras = live_eras(row)
    earlier, present = eras[:-1], eras[-1]
    return GrinderDocument.model_validate(
        {
            "name": row.name, "burrs": row.burrs, "dial": row.dial, "step_travel_um": row.step_travel_um,
            "samples": _samples(present),
            "earlier": [
                EraDocument(ended_by=n.reason or "cleaned", label=e.label, samples=_samples(e)).model_dump()
                for e, n in zip(earlier, eras[1:], strict=True)
            ],
        }
    )  # fmt: skip


def grinder_document(row: models.Grinder, session: Session | None = None) -> GrinderDocument:
    """Return a grinder in the open format, with points from equivalent settings on other grinders when a session is given."""
    document = bare_document(row)
    if session is None:
        return document
    era = live_eras(row)[-1]
    for equal in equivalences_of(session, era.id):
        here, other, there = (
            (equal.setting_a, equal.era_b, equal.setting_b)
            if equal.era_a_id == era.id
            else (equal.setting_b, equal.era_a, equal.setting_a)
        )
        size = _size_there(other.grinder, there)
        if size is not None:
            um, ci = size
            basis = f"equivalent to {other.grinder.name} {there}"
            document.samples.append(CurveSampleDocument(setting=here, d50_um=um, ci95_um=ci, basis=basis))
    return document


def equivalences_of(session: Session, era_id: int) -> list[models.SettingEquivalence]:
    """Return the equivalences that name a setting of an era."""
    either = or_(models.SettingEquivalence.era_a_id == era_id, models.SettingEquivalence.era_b_id == era_id)
    return list(
        session.scalars(select(models.SettingEquivalence).where(either, models.SettingEquivalence.deleted_at.is_(None)))
    )


def core_of(document: GrinderDocument) -> HeldGrinder:
    """Return the core's grinder, held ready for what it rests on."""
    text = document.model_dump_json()
    return _cores.get(text, lambda: _held(text))


def oddness(core: HeldGrinder) -> tuple[float | None, ...]:
    """How far each used sample of the present era lies from the curve of the others, in standard deviations."""
    return _oddness.get(core.document, lambda: odd_samples(core.dial, list(core.samples), core.travel_um))


def words_between(grinder: models.Grinder, start: str, end: str) -> str:
    """Return steps between two settings in words."""
    dial = bare_document(grinder).dial.core()
    return step_words(dial, dial.parse(start), dial.parse(end))


def _samples(era: models.Era) -> list[CurveSampleDocument]:
    return [
        CurveSampleDocument(
            setting=p.setting, d50_um=p.d50_um, ci95_um=(p.ci95_low_um, p.ci95_high_um),
            fines_below_100=p.fines_below_100, span=p.span, roast=p.roast, basis=p.basis, used=p.used,
        )
        for p in live_points(era)
    ]  # fmt: skip


def _size_there(row: models.Grinder, setting: str) -> tuple[float, Pair] | None:
    """Median and interval of a setting on a grinder's own curve; ``None`` while it has none."""
    try:
        core = core_of(bare_document(row))
        draws = core.curve(SOURCE_SEED).at(core.dial.parse(setting))
    except InputError:
        return None
    um = float(np.median(draws))
    half = 1.96 * float(np.hypot(np.std(np.log(draws)), EQUIVALENCE_SD))
    return um, (um * float(np.exp(-half)), um * float(np.exp(half)))


_cores: Cache[HeldGrinder] = Cache(64)
_curves: Cache[Curve] = Cache(128)
_oddness: Cache[tuple[float | None, ...]] = Cache(64)


@dataclass(frozen=True)
class HeldGrinder(Grinder):
    """A grinder whose curves are fitted once for each document, which is also what else is held of it is known by."""

    document: str = ""

    def curve(self, seed: int = SOURCE_SEED) -> Curve:
        """Return the curve, fitted when it is asked for first."""
        return _curves.get((self.document, seed), lambda: super(HeldGrinder, self).curve(seed))


def _held(document: str) -> HeldGrinder:
    core = GrinderDocument.model_validate_json(document).core()
    parts = {f.name: getattr(core, f.name) for f in fields(core)}
    return HeldGrinder(**parts, document=document)


@dataclass(frozen=True)
class SettingSize:
    """What a setting grinds by its grinder's curve: the median and its 95 % interval, µm."""

    um: float
    low_um: float
    high_um: float


def size_at(core: Grinder, place: int) -> SettingSize:
    """Return the one size that a place of a dial has, wherever it is shown; ``InputError`` where there is no curve."""
    curve = core.curve(TARGET_SEED)
    low, high = curve.interval_um()
    return SettingSize(float(curve.median_um[place]), float(low[place]), float(high[place]))


def moved_along(core: Grinder, grind: Grind, from_um: float, to_um: float) -> Grind:
    """Return a grind of one median moved to another, with the fines that the grinder is known to make there."""
    moved = grind.scaled(to_um / from_um)
    fines = core.fines_at(to_um)
    return moved if fines is None else moved.with_fines(fines)
