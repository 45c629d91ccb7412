"""One step finer, one step coarser: what it would do to a plan, before it is taken."""

from __future__ import annotations

from typing import Literal

from hakari.core.errors import InputError
from hakari.core.grinder.dial import stepped
from hakari.formats.base import Document, Pair
from hakari.formats.plan import GrindClasses
from hakari.formats.recipe import Recipe
from hakari.service.fits import use_cases as fits
from hakari.service.grinders.curves import core_of, grinder_document, size_at
from hakari.service.plans.matching import brewed, tasted
from hakari.service.plans.use_cases import grind_at_hand, plan_at_hand, plan_document
from hakari.service.workspace.at_hand import at_hand, pass_of_brew
from hakari.service.workspace.transaction import Workspace, find, lookup
from hakari.store import models


class StepOutcome(Document):
    """A setting, its size, and what the plan would come to there."""

    way: Literal["finer", "here", "coarser"]
    setting: str
    um: float
    interval95_um: Pair
    drawdown_s: float
    tds_percent: float
    ey_percent: float
    stalled: bool


class SettingSteps(Document):
    """The setting at hand and one step either way, as far as the dial goes; or why there are none."""

    grinder_id: int | None = None
    grinder: str | None = None
    steps: list[StepOutcome] = []
    why_none: str | None = None


def setting_steps(ws: Workspace, recipe: Recipe) -> SettingSteps:
    """Return what one step finer or coarser would do to a recipe on the grind at hand."""
    with ws.transaction() as session:
        here = at_hand(session)
        grinder = lookup(session, models.Grinder, here.grinder_id)
        if grinder is None or here.setting is None:
            return SettingSteps(why_none="No grinder and setting are at hand.")
        planned = plan_at_hand(session, recipe)
        factors = fits.factors_for(session, fits.Context.of(recipe, grinder.id, planned.roast))
        core = core_of(grinder_document(grinder, session))
        found, brews = [], []
        for way, by in (("finer", -1), ("here", 0), ("coarser", 1)):
            try:
                place = stepped(core.dial, core.dial.parse(here.setting), by)
                setting, size = core.dial.write(place), size_at(core, place)
                grind, _ = grind_at_hand(session, here, setting)
                document = plan_document(recipe, GrindClasses.of(grind), planned.roast, factors)
                brews.append(brewed(document, grind))
            except InputError as error:
                if by == 0:
                    return SettingSteps(grinder_id=grinder.id, grinder=grinder.name, why_none=error.message)
                continue  # the dial ends there, or such a grind cannot be planned
            found.append((way, setting, size))
        return SettingSteps(
            grinder_id=grinder.id, grinder=grinder.name,
            steps=[
                StepOutcome(
                    way=way, setting=setting, um=size.um, interval95_um=(size.low_um, size.high_um),
                    drawdown_s=cup.drawdown_s, tds_percent=cup.tds_percent, ey_percent=cup.ey_percent, stalled=cup.stalled,
                )
                for (way, setting, size), cup in zip(found, tasted(brews), strict=True)
            ],
        )  # fmt: skip


def setting_steps_of_slip(ws: Workspace, slip_id: int) -> SettingSteps:
    """Return what one step finer or coarser would do to the brew of a slip."""
    with ws.transaction() as session:
        # One that was just deleted is still asked for by a page that has not heard of it.
        row = pass_of_brew(session, find(session, models.Slip, slip_id, "slip", deleted_too=True).brew_id)
        pass_id, recipe = row.id, find(session, models.Plan, row.plan_id, "plan").recipe
        gone = row.deleted_at is not None
    return SettingSteps() if gone else setting_steps(ws.about(pass_id), recipe)
