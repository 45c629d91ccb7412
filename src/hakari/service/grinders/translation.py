"""A grind – a setting, a size, a photo, a method or words – on one of the user's grinders or on all of them."""

from __future__ import annotations

import math

from pydantic import Field
from sqlalchemy.orm import Session

from hakari.core.errors import InputError
from hakari.core.translate.answer import PlanInUse, translate, usual_plan
from hakari.core.translate.match import Match
from hakari.core.translate.nearest import TargetSize, target_setting, target_size
from hakari.core.translate.words import parse_grind_query
from hakari.formats.base import Document, Pair
from hakari.formats.grinder import TranslationDocument
from hakari.service.grinders.curves import core_of, grinder_document
from hakari.service.grinders.grind_guide import windows_of
from hakari.service.workspace.transaction import Workspace, find, list_active, lookup, workbench_row
from hakari.store import models


class Ask(Document):
    """What is looked for: a setting of a grinder, words (a size, a method, a comparison), or else a sample's grind.

    Without any of them the grind on the bench is meant. ``to`` is one grinder; all of them when it is left out.
    """

    grinder_id: int | None = Field(default=None, ge=1, le=2**53)
    setting: str | None = Field(default=None, max_length=40)
    words: str | None = Field(default=None, max_length=120)
    sample_id: int | None = Field(default=None, ge=1, le=2**53)
    to: int | None = Field(default=None, ge=1, le=2**53)
    match: Match = "median"


class WorkbenchTranslation(TranslationDocument):
    """The grind on one of the user's grinders."""

    grinder_id: int
    grinder_name: str


class NotThere(Document):
    """A grinder that cannot say, and why."""

    grinder_id: int
    grinder_name: str
    message: str
    remedy: str


class Translations(Document):
    """What was understood, its size, and the answer on each grinder asked."""

    source: str
    target_um: float
    target_interval95_um: Pair
    answers: list[WorkbenchTranslation]
    silent: list[NotThere]


def translate_ask(ws: Workspace, ask: Ask) -> Translations:
    """Look a grind up on the user's dials.

    Raises
    ------
    InputError
        When what is asked for is not understood or has no size; or, with ``to``, when that grinder cannot say.
    """
    with ws.transaction() as session:
        wanted, said, own_id, steps = _wanted(session, ask)
        targets = [find(session, models.Grinder, ask.to, "grinder")] if ask.to else list_active(session, models.Grinder)
        roast = _roast(session)
        in_plan = _plan_in_use(session) if ask.match in ("flow", "yield") else usual_plan()
        answers, silent = [], []
        for target in targets:
            if ask.to is None and target.id == own_id:
                continue
            try:
                answer = translate(wanted, core_of(grinder_document(target, session)), ask.match, in_plan, steps, roast)
            except InputError as error:
                if ask.to is not None:
                    raise
                silent.append(
                    NotThere(grinder_id=target.id, grinder_name=target.name, message=error.message, remedy=error.remedy)
                )
                continue
            document = TranslationDocument.of(answer)
            answers.append(
                WorkbenchTranslation(**document.model_dump(), grinder_id=target.id, grinder_name=target.name)
            )
        return Translations(
            source=said, target_um=wanted.um, target_interval95_um=wanted.interval95_um, answers=answers, silent=silent
        )


def _wanted(session: Session, ask: Ask) -> tuple[TargetSize, str, int | None, int]:
    """Return the grind that is meant, in words, the grinder it comes from, and steps beyond it.

    A sample ground at a known setting goes through its own grinder's curve, which knows that setting from all of its
    samples; any other goes by its measured median.
    """
    if ask.setting is not None:
        grinder = find(session, models.Grinder, ask.grinder_id or workbench_row(session).grinder_id, "grinder")
        core = core_of(grinder_document(grinder, session))
        written = core.dial.write(core.dial.parse(ask.setting))
        return target_setting(core, written, _roast(session)), f"{grinder.name} {written}", grinder.id, 0
    if ask.words is not None and ask.words.strip():
        meant = parse_grind_query(ask.words, windows_of(session))
        # A typed size is meant as typed; words are as vague as they are.
        return target_size(meant.um, max(meant.ln_sd, 0.001)), meant.said, None, meant.steps
    sample = find(session, models.Sample, ask.sample_id or workbench_row(session).sample_id, "sample on the bench")
    era = lookup(session, models.Era, sample.era_id)
    if era is not None and sample.setting and era.grinder_id != ask.to and era.grinder.deleted_at is None:
        core = core_of(grinder_document(era.grinder, session))
        try:
            return (
                target_setting(core, sample.setting, _roast(session)),
                f"{era.grinder.name} {sample.setting}",
                era.grinder_id,
                0,
            )
        except InputError:
            pass  # its grinder has no curve any more: the photo still says a size
    low, high = sample.measurement.ci95.d50_um
    fines = sample.measurement.extrapolated.mass_below_um.get("100")
    wanted = target_size(sample.d50_um, math.log(high / low) / (2 * 1.96), fines, sample.measurement.span)
    return wanted, f"the photo's {sample.d50_um:.0f} µm", era.grinder_id if era else None, 0


def _roast(session: Session) -> str | None:
    """Roast of the coffee on the bench."""
    coffee = lookup(session, models.Coffee, workbench_row(session).coffee_id)
    return coffee.roast if coffee else None


def _plan_in_use(session: Session) -> PlanInUse:
    plan = lookup(session, models.Plan, workbench_row(session).plan_id)
    if plan is None:
        return usual_plan()
    document = plan.document
    brewer = plan.recipe.core_brewer().label
    return PlanInUse(document.core(), f"the plan on the bench: {document.dose_g:g} g, {brewer}")
