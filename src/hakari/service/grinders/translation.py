"""A grind – a setting, a size, a photo, a method or words – on one of the user's grinders or on all of them."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from pydantic import Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from hakari.core.errors import InputError
from hakari.core.grinder.dial import step_words, stepped
from hakari.core.translate.answer import PlanInUse, translate, usual_plan
from hakari.core.translate.match import Match
from hakari.core.translate.nearest import TargetSize, nearest_setting, target_setting, target_size
from hakari.core.translate.words import GrindQuery, SettingQuery, parse_grind_query
from hakari.formats.base import Document, Pair
from hakari.formats.grinder import TranslationDocument
from hakari.service.grinders.curves import (
    bare_document,
    core_of,
    equivalences_of,
    grinder_document,
    live_eras,
    size_at,
)
from hakari.service.grinders.grind_guide import windows_of
from hakari.service.workspace.at_hand import at_hand
from hakari.service.workspace.transaction import Workspace, find, list_active, lookup
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
    """What was understood, its size, and the answer on each grinder asked; the grinder and setting where it is one."""

    source: str
    grinder_id: int | None = None
    setting: str | None = None
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
        wanted = _wanted(session, ask)
        targets = [find(session, models.Grinder, ask.to, "grinder")] if ask.to else list_active(session, models.Grinder)
        roast = _roast(session)
        in_plan = _plan_in_use(session) if ask.match in ("flow", "yield") else usual_plan()
        answers, silent = [], []
        for target in targets:
            if ask.to is None and target.id == wanted.grinder_id:
                continue
            try:
                there = core_of(grinder_document(target, session))
                equal = _named_equal(session, wanted, target) if ask.match == "median" else None
                answer = translate(wanted.size, there, ask.match, in_plan, wanted.steps, roast, equal)
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
        um, interval = _shown_size(session, wanted)
        return Translations(
            source=wanted.said,
            grinder_id=wanted.grinder_id,
            setting=wanted.setting,
            target_um=um,
            target_interval95_um=interval,
            answers=answers,
            silent=silent,
        )


def _shown_size(session: Session, wanted: _Wanted) -> tuple[float, Pair]:
    """Return the size that is shown of what is wanted: of a setting the one that it has everywhere."""
    grinder = lookup(session, models.Grinder, wanted.grinder_id)
    if grinder is None or wanted.setting is None or not wanted.by_curve:
        return wanted.size.um, wanted.size.interval95_um
    core = core_of(grinder_document(grinder, session))
    size = size_at(core, core.dial.parse(wanted.setting))
    return size.um, (size.low_um, size.high_um)


def _named_equal(session: Session, wanted: _Wanted, target: models.Grinder) -> str | None:
    """Return the setting of a grinder that a person named as equal to the wanted one, whichever was named first."""
    grinder = lookup(session, models.Grinder, wanted.grinder_id)
    if grinder is None or wanted.setting is None or wanted.steps:
        return None
    there = live_eras(target)[-1].id
    for equal in equivalences_of(session, live_eras(grinder)[-1].id):
        for here, ours, other, theirs in (
            (equal.era_a_id, equal.setting_a, equal.era_b_id, equal.setting_b),
            (equal.era_b_id, equal.setting_b, equal.era_a_id, equal.setting_a),
        ):
            if here != there and ours == wanted.setting and other == there:
                return theirs
    return None


def setting_of_words(session: Session, grinder: models.Grinder, typed: str) -> str:
    """Return the setting that is meant: as the dial writes it, or "two clicks finer" than the one at hand.

    Raises
    ------
    InputError
        As ``parse_grind_query``, with the field ``setting``.
    """
    dial = bare_document(grinder).dial.core()
    try:
        return dial.write(dial.parse(typed))
    except InputError as off:
        try:
            meant = parse_grind_query(typed, windows_of(session), dial)
        except InputError:
            raise off from None
        if not isinstance(meant, SettingQuery):
            raise off from None
        return _on_grinder_in_use(session, grinder, meant).setting or typed


@dataclass(frozen=True)
class _Wanted:
    """The grind that is meant, in words; the grinder and setting that it comes from; and steps beyond it."""

    size: TargetSize
    said: str
    grinder_id: int | None = None
    setting: str | None = None
    steps: int = 0
    by_curve: bool = False


def _wanted(session: Session, ask: Ask) -> _Wanted:
    """Return the grind that is meant.

    A sample ground at a known setting goes through its own grinder's curve, which knows that setting from all of its
    samples; any other goes by its measured median.
    """
    if ask.setting is not None:
        grinder = find(session, models.Grinder, ask.grinder_id or at_hand(session).grinder_id, "grinder")
        core = core_of(grinder_document(grinder, session))
        written = core.dial.write(core.dial.parse(ask.setting))
        return _at(session, grinder, written, f"{grinder.name} {written}")
    if ask.words is not None and ask.words.strip():
        in_use = lookup(session, models.Grinder, at_hand(session).grinder_id)
        in_use = in_use if in_use is not None and in_use.deleted_at is None else None
        dial = bare_document(in_use).dial.core() if in_use else None
        meant = parse_grind_query(ask.words, windows_of(session), dial)
        if isinstance(meant, GrindQuery):
            # A typed size is meant as typed; words are as vague as they are.
            return _Wanted(target_size(meant.um, max(meant.ln_sd, 0.001)), meant.said, steps=meant.steps)
        assert in_use is not None  # only its dial makes words a setting
        return _on_grinder_in_use(session, in_use, meant)
    sample = find(session, models.Sample, ask.sample_id or at_hand(session).sample_id, "sample on the bench")
    era = lookup(session, models.Era, sample.era_id)
    if era is not None and sample.setting and era.grinder_id != ask.to and era.grinder.deleted_at is None:
        try:
            return _at(session, era.grinder, sample.setting, f"{era.grinder.name} {sample.setting}")
        except InputError:
            pass  # its grinder has no curve any more: the photo still says a size
    low, high = sample.measurement.ci95.d50_um
    fines = sample.measurement.extrapolated.mass_below_um.get("100")
    size = target_size(sample.d50_um, math.log(high / low) / (2 * 1.96), fines, sample.measurement.span)
    return _Wanted(size, f"the photo's {sample.d50_um:.0f} µm", era.grinder_id if era else None, sample.setting)


def _at(session: Session, grinder: models.Grinder, setting: str, said: str) -> _Wanted:
    core = core_of(grinder_document(grinder, session))
    return _Wanted(target_setting(core, setting, _roast(session)), said, grinder.id, setting, by_curve=True)


def _on_grinder_in_use(session: Session, grinder: models.Grinder, meant: SettingQuery) -> _Wanted:
    """Return a setting of the grinder in use, or a way from the one it stands at."""
    core = core_of(grinder_document(grinder, session))
    dial = core.dial
    if len(meant.settings) == 2:
        low, high = sorted(dial.parse(s) for s in meant.settings)
        middle = dial.write((low + high) // 2)
        wanted = replace(_at(session, grinder, middle, f"{grinder.name} {meant.said}"), by_curve=False)
        ends = [target_setting(core, s).um for s in meant.settings]
        return replace(wanted, size=target_size(wanted.size.um, max(abs(math.log(ends[1] / ends[0])) / 4, 0.001)))
    start = meant.settings[0] if meant.settings else _setting_in_use(session, grinder)
    place = stepped(dial, dial.parse(start), meant.steps)
    if meant.factor != 1.0:
        aim = target_setting(core, dial.write(place), _roast(session)).um * meant.factor
        place_there = nearest_setting(core, target_size(aim, 0.001), 0, _roast(session)).place
        # "Finer" is at least one step, however far a step goes.
        moved = dial.positions()[place_there] != dial.positions()[place]
        place = place_there if moved else stepped(dial, place, 1 if meant.factor > 1 else -1)
    written = dial.write(place)
    moved_from = f", {step_words(dial, dial.parse(start), place)} than {start}" if written != start else ""
    return _at(session, grinder, written, f"{grinder.name} {written}{moved_from}")


def _setting_in_use(session: Session, grinder: models.Grinder) -> str:
    """Return the setting that the grinder in use stands at: the workbench's, or that of its last brew."""
    setting = at_hand(session).setting
    if setting is None:
        last = (
            select(models.Plan.setting)
            .join(models.Era, models.Plan.era_id == models.Era.id)
            .where(models.Era.grinder_id == grinder.id, models.Plan.setting.is_not(None))
            .order_by(models.Plan.id.desc())
            .limit(1)
        )
        setting = session.scalar(last)
    if setting is None:
        raise InputError(
            "words-unreadable", f"No setting of the {grinder.name} is in use yet.",
            f"Type the setting first, for example “{grinder.name} {_example(grinder)}”.", field="words",
        )  # fmt: skip
    return setting


def _example(grinder: models.Grinder) -> str:
    """Return a setting from the middle of a grinder's dial."""
    settings = bare_document(grinder).dial.core().settings
    return settings[len(settings) // 2]


def _roast(session: Session) -> str | None:
    """Roast of the coffee on the bench."""
    coffee = lookup(session, models.Coffee, at_hand(session).coffee_id)
    return coffee.roast if coffee else None


def _plan_in_use(session: Session) -> PlanInUse:
    plan = lookup(session, models.Plan, at_hand(session).plan_id)
    if plan is None:
        return usual_plan()
    document = plan.document
    brewer = plan.recipe.core_brewer().label
    return PlanInUse(document.core(), f"the plan on the bench: {document.dose_g:g} g, {brewer}")
