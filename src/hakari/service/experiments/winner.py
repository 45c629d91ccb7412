"""An experiment's winner goes to the bench: a setting, a step of a ladder, or one of two plans."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field
from sqlalchemy.orm import Session

from hakari.core.errors import InputError
from hakari.formats.base import Document
from hakari.formats.experiment import Ladder, ThreeGrinds, TwoWays
from hakari.formats.plan import SteepDocument
from hakari.formats.recipe import Recipe
from hakari.service.experiments.views import bench_choices
from hakari.service.plans.choices import choose_setting
from hakari.service.plans.use_cases import keep_plan
from hakari.service.workbench.use_cases import WorkbenchView, read_bench
from hakari.service.workspace.transaction import Workspace, find
from hakari.store import models


class Winner(Document):
    """What to put on the bench: a setting, a step, or A or B."""

    choice: Annotated[str, Field(min_length=1, max_length=40)]


def put_on_bench(ws: Workspace, identity: int, winner: Winner) -> WorkbenchView:
    """Put an experiment's winner on the bench.

    Raises
    ------
    InputError
        ``no-such-choice``; ``no-steep`` where a ladder of time or stirring was made of a brew that does not steep.
    """
    with ws.transaction() as session:
        row = find(session, models.Experiment, identity, "experiment")
        if winner.choice not in bench_choices(row):
            raise InputError(
                "no-such-choice", f"“{winner.choice}” is not one of this experiment.", "Choose one that was tried.",
                field="choice",
            )  # fmt: skip
        body = row.document
        if isinstance(body, ThreeGrinds):
            _put_setting(session, row, winner.choice)
        elif isinstance(body, Ladder):
            keep_plan(session, _stepped(find(session, models.Plan, row.plan_id, "plan"), body, float(winner.choice)))
        elif isinstance(body, TwoWays):
            chosen = row.plan_id if winner.choice == "A" else row.other_plan_id
            keep_plan(session, find(session, models.Plan, chosen, "plan").recipe)
    return read_bench(ws)


def _put_setting(session: Session, row: models.Experiment, setting: str) -> None:
    """Set the grinder, and plan the recipe again at that setting."""
    grinder = find(session, models.Grinder, row.grinder_id, "grinder")
    choose_setting(session, grinder, setting)
    if row.plan_id is not None:
        keep_plan(session, find(session, models.Plan, row.plan_id, "plan").recipe)


def _stepped(plan: models.Plan, body: Ladder, value: float) -> Recipe:
    recipe, steep = plan.recipe, plan.document.steep
    if body.variable == "heat":
        return recipe.model_copy(update={"water_c": value})
    if body.variable == "dilution":
        return recipe.model_copy(update={"after_g": value})
    if steep is None:
        raise InputError(
            "no-steep", "This plan does not steep, so its time is that of the bed.", "Change grind or pours in Plan.",
            field="choice",
        )  # fmt: skip
    field = "seconds" if body.variable == "time" else "stir_s"
    changed = SteepDocument.model_validate({**steep.model_dump(), field: value})
    return recipe.model_copy(update={"steep": changed})
