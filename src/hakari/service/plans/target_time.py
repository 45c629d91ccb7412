"""A time that is asked for: which setting of the grinder on the bench brews it."""

from __future__ import annotations

import numpy as np
from sqlalchemy.orm import Session

from hakari.core.errors import InputError
from hakari.core.flow.percolation import SEARCH_STEP_S
from hakari.core.flow.simulate import runs_through_a_bed, simulate_flow
from hakari.core.grinder.grinder import TARGET_SEED
from hakari.core.psd.grind import Grind
from hakari.formats.base import Document
from hakari.formats.plan import PlanDocument
from hakari.formats.recipe import Recipe
from hakari.service.grinders.curves import core_of, grinder_document, moved_along
from hakari.store import models

# How far from the grind at hand its shape still says something of the bed.
MOST_FINER, MOST_COARSER = 0.55, 1.8


class SettingForTime(Document):
    """What a target time means: the setting that comes nearest and its predicted time, or why there is none.

    ``fits`` says whether the predicted time lies within the span that counts as met.
    """

    target_s: float
    setting: str | None
    drawdown_s: float | None
    fits: bool
    why_not: str | None


def setting_for_time(
    session: Session, grinder: models.Grinder | None, recipe: Recipe, document: PlanDocument, grind: Grind
) -> SettingForTime | None:
    """Return the setting at which the plan is predicted to be drained in the recipe's target time; ``None`` without one."""
    seconds, plan = recipe.target_time_s, document.core()
    if seconds is None or not runs_through_a_bed(plan):
        return None
    if grinder is None:
        return _none(seconds, "Choose a grinder, and its setting for this time is shown.")
    core = core_of(grinder_document(grinder, session))
    try:
        median = core.curve(TARGET_SEED).median_um
    except InputError:
        return _none(seconds, f"The {grinder.name} has no curve yet: measure one of its settings.")
    here = grind.quantile_um(0.5, 100.0)
    reach = (median > MOST_FINER * here) & (median < MOST_COARSER * here) & core.dial.usable()
    # From the coarsest to the finest: the finer, the slower.
    places = np.flatnonzero(reach)[np.argsort(-median[reach], kind="stable")]
    if not len(places):
        return _none(seconds, "No measured setting is near this grind.")

    def time_at(index: int) -> float:
        moved = moved_along(core, grind, here, float(median[places[index]]))
        return simulate_flow(plan, moved, document.factors(), SEARCH_STEP_S).bare_bed_s

    low, high = 0, len(places) - 1
    fastest, slowest = time_at(low), time_at(high)
    while high - low > 1:
        middle = (low + high) // 2
        time = time_at(middle)
        if time < seconds:
            low, fastest = middle, time
        else:
            high, slowest = middle, time
    index, time = min(((low, fastest), (high, slowest)), key=lambda found: abs(found[1] - seconds))
    least, most = recipe.time_span_s or (seconds, seconds)
    return SettingForTime(
        target_s=seconds,
        setting=core.dial.write(int(places[index])),
        drawdown_s=time,
        fits=least <= time <= most,
        why_not=None,
    )


def _none(seconds: float, why_not: str) -> SettingForTime:
    return SettingForTime(target_s=seconds, setting=None, drawdown_s=None, fits=False, why_not=why_not)
