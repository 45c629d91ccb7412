"""A brew as the page shows it: its clock, its steps as they stand, what the scale says and what was found."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Literal

from sqlalchemy import select
from sqlalchemy.orm import Session

from hakari.core.brew.follow import BrewProgress, follow
from hakari.core.brew.steps import Step, for_dose
from hakari.core.errors import InputError
from hakari.core.flow.accuracy import pour_accuracy
from hakari.core.flow.fit import flows_like
from hakari.formats.base import Document
from hakari.formats.brew_log import BareBedBy, BrewNote, CapturedDocument
from hakari.formats.plan import PlanDocument
from hakari.service.cache import Cache
from hakari.service.fits.doubts import doubts_of
from hakari.service.fits.use_cases import poured_plan
from hakari.service.plans.steps import StepView, step_views
from hakari.service.plans.use_cases import plan_steps
from hakari.service.workspace.transaction import find, units_of, workbench_row
from hakari.store import models
from hakari.store.snapshots import ScaleView

LEFT_RUNNING_S = 600.0  # so long after its end by the plan a running brew was probably forgotten
BrewState = Literal["running", "done"]


class LiveStep(StepView):
    """A step of a running brew: its times as things stand, and when it was really over."""

    done_s: float | None
    by: Literal["tap", "scale"] | None


class PourErrorView(Document):
    """One pour against the plan."""

    late_s: float
    over_g: float
    rate_g_s: float
    wanted_g_s: float


class AccuracyView(Document):
    """All pours against the plan, and typical errors (root mean squares)."""

    pours: list[PourErrorView]
    typical_late_s: float
    typical_over_g: float


class FlowsLikeView(Document):
    """What the drawdown says of the grind, against what the plan's grind is."""

    permeability_m2: float | None
    median_um: float | None
    fines_below_100: float | None
    plan_median_um: float
    plan_fines_below_100: float


class BrewView(Document):
    """A brew: seconds since its first pour by the server's clock, its steps, and what was seen of it."""

    id: int
    version: int
    plan_id: int
    state: BrewState
    speed: float
    elapsed_s: float | None
    left_running: bool
    dose_g: float
    planned_dose_g: float
    scale: ScaleView | None
    steps: list[LiveStep]
    now: int
    water_g: float
    added_water_g: float | None
    notes: list[BrewNote]
    bare_bed_s: float | None
    bare_bed_by: BareBedBy | None
    last_drip_s: float | None
    stalled: bool | None
    found: CapturedDocument | None
    accuracy: AccuracyView | None
    flows_like: FlowsLikeView | None
    in_fit: bool
    doubts: list[str]
    has_log: bool
    has_bed_photo: bool


def elapsed_s(row: models.Brew, now: datetime | None = None) -> float | None:
    """Seconds of the brew since its first pour; it stands still once the brew is over."""
    if row.started_at is None:
        return None
    end = row.closed_at or now or datetime.now(UTC)
    return (end - row.started_at).total_seconds() * row.speed


def _has_log(session: Session, row: models.Brew) -> bool:
    """Whether a scale was read, without reading what it said."""
    return session.scalar(select(models.LogPart.id).where(models.LogPart.brew_id == row.id).limit(1)) is not None


def steps_of_brew(session: Session, row: models.Brew) -> tuple[Step, ...]:
    """Return the plan's steps for the dose that was weighed in."""
    plan = find(session, models.Plan, row.plan_id, "plan")
    steps = plan_steps(plan)
    if row.dose_g is None:
        return steps
    done = min(row.weighed_after, len(steps))
    poured = max((s.total_g for s in steps[:done] if s.total_g is not None), default=0.0)
    return for_dose(steps, plan.document.dose_g, row.dose_g, done, poured)


def follows_itself(row: models.Brew) -> bool:
    """Whether a scale speaks, so that the steps go on without a tap."""
    return bool(row.scale and row.scale.connected and row.scale.key != "file")


def progress_of(steps: tuple[Step, ...], row: models.Brew) -> BrewProgress:
    """Where the brew stands now."""
    marks, begun = ({m.step: m.at_s for m in told} for told in (row.marks, row.begun))
    return follow(steps, marks, elapsed_s(row) or 0.0, follows_itself(row), begun)


def added_water_g(row: models.Brew) -> float | None:
    """Return the water that was really added to the drink, where somebody counted it."""
    return next((m.amount_g for m in reversed(row.marks) if m.amount_g is not None), None)


def brew_view_of(session: Session, row: models.Brew) -> BrewView:
    """Return a brew as it stands."""
    plan = find(session, models.Plan, row.plan_id, "plan")
    steps, units = steps_of_brew(session, row), units_of(workbench_row(session))
    standing = progress_of(steps, row)
    by = {m.step: m.by for m in row.marks}
    live = [
        LiveStep(
            **shown.model_dump(exclude={"at_s", "ends_s"}), at_s=p.at_s, ends_s=p.ends_s, done_s=p.done_s, by=by.get(i),
        )
        for i, (p, shown) in enumerate(zip(standing.places, step_views(steps, units), strict=True))
    ]  # fmt: skip
    elapsed = elapsed_s(row)
    found = row.found
    accuracy = pour_accuracy(steps, found.found_pours()) if found and found.pours_from != "plan" else None
    document = plan.document
    running = row.started_at is not None and row.closed_at is None
    return BrewView(
        id=row.id, version=row.version, plan_id=row.plan_id, state="running" if running else "done", speed=row.speed,
        elapsed_s=elapsed, left_running=running and (elapsed or 0.0) > steps[-1].ends_s + LEFT_RUNNING_S,
        dose_g=row.dose_g or document.dose_g, planned_dose_g=document.dose_g,
        scale=ScaleView.model_validate(row.scale.model_dump()) if row.scale else None, steps=live, now=standing.now,
        water_g=max(s.total_g or 0.0 for s in steps), added_water_g=added_water_g(row), notes=row.notes,
        bare_bed_s=row.bare_bed_s, bare_bed_by=row.bare_bed_by, last_drip_s=row.last_drip_s, stalled=row.stalled,
        found=found, accuracy=AccuracyView.model_validate(accuracy, from_attributes=True) if accuracy else None,
        flows_like=None if running else _flows_like(row, document), in_fit=row.in_fit,
        doubts=[d.words for d in doubts_of(row, plan)],
        has_log=_has_log(session, row), has_bed_photo=row.bed_photo is not None,
    )  # fmt: skip


_likes: Cache[FlowsLikeView | None] = Cache(200)


def _flows_like(row: models.Brew, document: PlanDocument) -> FlowsLikeView | None:
    if row.bare_bed_s is None or document.steep is not None:
        return None
    # Reading a drawdown backwards takes a hundred runs of the model.
    found, bare_bed_s = row.found, row.bare_bed_s
    key = document.model_dump_json(), found.model_dump_json() if found else "", row.dose_g, bare_bed_s
    return _likes.get(key, lambda: _read_backwards(document, found, row.dose_g, bare_bed_s))


def _read_backwards(
    document: PlanDocument, found: CapturedDocument | None, dose_g: float | None, bare_bed_s: float
) -> FlowsLikeView | None:
    grind = document.grind.core()
    try:
        plan = poured_plan(document, dose_g, found)
        like = flows_like(plan, grind, document.factors(), bare_bed_s)
    except InputError:
        return None
    return FlowsLikeView(
        permeability_m2=like.permeability_m2, median_um=like.median_um, fines_below_100=like.fines_below_100,
        plan_median_um=grind.quantile_um(0.5, 100.0), plan_fines_below_100=grind.below(100.0),
    )  # fmt: skip
