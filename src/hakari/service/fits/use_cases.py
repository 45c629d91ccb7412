"""What earlier brews say of the flow: the factors fitted to them, which count, and how alike repeats came out."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Annotated

import numpy as np
from pydantic import Field
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from hakari.core.brew.schedule import Plan
from hakari.core.experiment.noise import pooled_spread
from hakari.core.flow.capture import actual_plan
from hakari.core.flow.factors import FlowFactors, brew_variance
from hakari.core.flow.fit import Fitted, Observed, fit
from hakari.core.flow.last_drip import DOUBT
from hakari.core.flow.slow_drip import SLOW_S
from hakari.formats.base import Document
from hakari.formats.brew_log import CapturedDocument
from hakari.formats.plan import PlanDocument
from hakari.formats.recipe import Recipe
from hakari.service.cache import Cache
from hakari.service.fits.doubts import doubts_of
from hakari.service.workspace.at_hand import at_hand
from hakari.service.workspace.transaction import Workspace, find, lookup
from hakari.store import models

MOST_BREWS = 30
# A brew in which these happened says nothing of the flow.
SPOILT = {"spilt": "some was spilt", "overflowed": "it overflowed", "channelled": "it channelled"}
USUAL_SLOPES = np.array([-0.5, 0.1, 0.6])  # of a cone or a flat at its usual time
SCALE_SD_S, TAP_SD_S = 1.0, 3.0

SLIP_COLUMNS = (models.Slip.brew_id, models.Slip.number, models.Slip.created_at, models.Slip.deleted_at)

_fits: Cache[Fitted] = Cache(64)
_factors: Cache[FlowFactors] = Cache(64)


@dataclass(frozen=True)
class Context:
    """What brews must share to be fitted together: brewer and filter; lot, grinder and roast nearly."""

    brewer: str
    filter: str
    lot: str
    grinder_roast_key: str

    @classmethod
    def of(cls, recipe: Recipe, grinder_id: int | None, roast: str) -> Context:
        """Return the context of a recipe on a grind."""
        label = recipe.core_brewer().label
        return cls(label, recipe.core_filter(), recipe.filter_lot.strip().lower(), f"{grinder_id or 0} {roast}")


class FitBrew(Document):
    """A brew that the fit may rest on; ``why_not`` says why it does not. ``weight`` falls for one that is unlike the rest."""

    brew_id: int
    slip_number: int | None
    brewed_at: str
    setting: str | None
    bare_bed_s: float
    fitted_s: float | None
    weight: float | None
    counts: bool
    why_not: str | None


class FitRow(Document):
    """A fitted factor in words, with how far it is from the starting point and its 95 % half-width, both in %."""

    name: str
    words: str
    off_percent: float
    half_width_percent: float


class HandNoise(Document):
    """How far brews that were meant to be alike came out apart."""

    sd_s: float
    low_s: float
    high_s: float
    repeats: int


class FitView(Document):
    """What predictions for the bench's plan rest on."""

    brewer: str
    filter: str
    lot: str
    brews: list[FitBrew]
    counted: int
    rows: list[FitRow]
    brew_spread_percent: float
    hand: HandNoise | None


class FitUse(Document):
    """Brews to count, or to leave out."""

    brew_ids: Annotated[list[int], Field(max_length=500)]
    counts: bool


def factors_for(session: Session, context: Context) -> FlowFactors:
    """Return the factors for a context, as far as earlier brews tell them.

    A plan is predicted at every key that is typed: no brew is read again while none has changed.
    """
    stamp = session.execute(select(func.count(), func.sum(models.Brew.version)).select_from(models.Brew)).one()
    key = (str(session.get_bind()), context, tuple(stamp))
    return _factors.get(key, lambda: _fitted(session, context)[1].factors)


def fit_view(ws: Workspace) -> FitView:
    """Return what predictions for the plan on the bench rest on."""
    with ws.transaction() as session:
        return _view(session, _bench_context(session))


def use_brews(ws: Workspace, use: FitUse) -> FitView:
    """Let brews count, or leave them out."""
    with ws.brewing, ws.transaction() as session:
        for brew_id in use.brew_ids:
            find(session, models.Brew, brew_id, "brew").in_fit = use.counts
        session.flush()
        return _view(session, _bench_context(session))


def context_of_plan(session: Session, plan: models.Plan) -> Context:
    """Return the context that a kept plan was made in."""
    era = lookup(session, models.Era, plan.era_id)
    recipe = plan.recipe
    return Context.of(recipe, era.grinder_id if era else None, plan.document.roast)


def poured_plan(document: PlanDocument, dose_g: float | None, captured: CapturedDocument | None) -> Plan:
    """Return the plan as it was really poured, with the dose that was weighed in and the pours that were found."""
    plan = document.core()
    plan = replace(plan, dose_g=dose_g) if dose_g else plan
    if captured is None or captured.pours_from == "plan" or plan.steep is not None:
        return plan
    return actual_plan(plan, captured.found_pours())


def _bench_context(session: Session) -> Context:
    plan = find(session, models.Plan, at_hand(session).plan_id, "plan on the bench")
    return context_of_plan(session, plan)


@dataclass(frozen=True)
class _Row:
    brew: models.Brew
    plan: models.Plan
    context: Context
    why_not: str | None


def _brews(session: Session, context: Context) -> list[_Row]:
    """Return timed drips through the same kind of brewer and filter, newest first."""
    rows = session.execute(
        select(models.Brew, models.Plan, models.Era.grinder_id)
        .join(models.Plan, models.Plan.id == models.Brew.plan_id)
        .outerjoin(models.Era, models.Era.id == models.Plan.era_id)
        .where(
            models.Brew.deleted_at.is_(None), models.Brew.bare_bed_s.is_not(None), models.Plan.brewer == context.brewer
        )
        .order_by(models.Brew.id.desc())
        .execution_options(yield_per=MOST_BREWS)
    )
    found: list[_Row] = []
    for brew, plan, grinder_id in rows:
        own = Context.of(plan.recipe, grinder_id, plan.document.roast)
        if (own.brewer, own.filter) != (context.brewer, context.filter) or not _drips(plan):
            continue
        noted = next((SPOILT[n.what] for n in brew.notes if n.what in SPOILT), None)
        doubt = next((d.words for d in doubts_of(brew, plan)), None)
        found.append(_Row(brew, plan, own, "left out" if not brew.in_fit else noted or doubt))
        if len(found) == MOST_BREWS:
            break
    return found


def _drips(plan: models.Plan) -> bool:
    """Whether the plan's water stands on the bed and runs through it."""
    slow = any(p.duration_s > SLOW_S for p in plan.document.pours)
    return not plan.document.steep and not slow


def _fitted(session: Session, context: Context) -> tuple[list[_Row], Fitted, list[int]]:
    """Return the brews of a context, their fit, and the identities of those that count."""
    rows = _brews(session, context)
    counted = [r for r in rows if r.why_not is None]
    which = tuple((r.brew.id, r.brew.version) for r in counted)
    key = (str(session.get_bind()), context, which)
    held = _fits.get(key, lambda: fit([_observed(r) for r in counted], context.lot, context.grinder_roast_key))
    return rows, held, [brew_id for brew_id, _ in which]


def _observed(row: _Row) -> Observed:
    document = row.plan.document
    sd = _time_sd_s(row)
    plan = poured_plan(document, row.brew.dose_g, row.brew.found)
    bare_s = row.brew.bare_bed_s or 1.0
    return Observed(plan, document.grind.core(), bare_s, row.context.lot, row.context.grinder_roast_key, sd)


def _time_sd_s(row: _Row) -> float:
    """Return how sure the time of a bare bed is, s: by the scale, by the hand, or from the last drip."""
    if row.brew.bare_bed_by == "drip":
        drip_s = row.brew.last_drip_s or 0.0
        return math.hypot(TAP_SD_S, DOUBT * max(drip_s - (row.brew.bare_bed_s or 0.0), 0.0))
    return SCALE_SD_S if row.brew.bare_bed_by == "scale" else TAP_SD_S


def _view(session: Session, context: Context) -> FitView:
    rows, fitted, identities = _fitted(session, context)
    told = dict(zip(identities, zip(fitted.fitted_s, fitted.weights, strict=True), strict=True))
    brews = []
    of_brews = models.Slip.brew_id.in_([row.brew.id for row in rows])
    slips = {s.brew_id: s for s in session.execute(select(*SLIP_COLUMNS).where(of_brews))}
    for row in rows:
        slip = slips.get(row.brew.id)
        when = row.brew.started_at or row.brew.created_at
        seconds, weight = told.get(row.brew.id, (None, None))
        brews.append(
            FitBrew(
                brew_id=row.brew.id, slip_number=slip.number if slip and slip.deleted_at is None else None,
                brewed_at=(slip.created_at if slip else when).isoformat(), setting=row.plan.setting,
                bare_bed_s=row.brew.bare_bed_s or 0.0, fitted_s=seconds, weight=weight, counts=row.why_not is None,
                why_not=row.why_not,
            )
        )  # fmt: skip
    spread = pooled_spread(_repeats([r for r in rows if r.why_not is None]))
    return FitView(
        brewer=context.brewer, filter=context.filter, lot=context.lot, brews=brews, counted=fitted.factors.fitted_on_brews,
        rows=_rows(fitted.factors), brew_spread_percent=100 * usual_spread(fitted.factors),
        hand=HandNoise(sd_s=spread.sd, low_s=spread.low, high_s=spread.high, repeats=spread.freedom) if spread else None,
    )  # fmt: skip


def usual_spread(factors: FlowFactors) -> float:
    """Relative spread of a drawdown from brew to brew, for usual slopes of time against the factors."""
    return factors.brew_scale * math.sqrt(float(brew_variance(USUAL_SLOPES)))


def _rows(factors: FlowFactors) -> list[FitRow]:
    """Return the fitted factors in words."""
    if factors.ln_covariance is None:
        return []
    sd = [float(v) ** 0.5 for v in factors.ln_covariance.diagonal()]
    names = (("Bed", "looser", "tighter"), ("Paper", "slower", "quicker"), ("Fines", "more", "fewer"))
    made = []
    for (name, more, less), ln, s in zip(names, factors.ln, sd, strict=True):
        off = 100 * (math.exp(float(ln)) - 1)
        words = "as the starting point" if abs(off) < 2 else f"{abs(off):.0f} % {more if off > 0 else less} than usual"
        made.append(FitRow(name=name, words=words, off_percent=off, half_width_percent=196 * s))
    return made


def _repeats(rows: list[_Row]) -> list[list[float]]:
    """Return times of brews that were meant to be alike: the same plan on the same setting."""
    groups: dict[str, list[float]] = {}
    for r in rows:
        p = r.plan
        same = repr((p.setting, p.era_id, p.coffee_id, p.sample_id, r.brew.dose_g, p.recipe.model_dump_json()))
        groups.setdefault(same, []).append(r.brew.bare_bed_s or 0.0)
    return list(groups.values())
