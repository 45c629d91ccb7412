"""Closing the loop: which change a brew followed, whether it did what was said, and how large its effect is here."""

from __future__ import annotations

from math import log
from typing import Annotated, Any

from pydantic import Field
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from hakari.core.advice.evidence import Target
from hakari.core.advice.levers import NOISE_TDS_PERCENT, NOISE_TIME_SHARE
from hakari.core.advice.score import Guess, Score, Tried, better, effect_sizes, score
from hakari.core.errors import InputError
from hakari.formats.base import Document
from hakari.formats.recipe import Recipe
from hakari.service.plans.next_plan import changed_recipe, changed_setting, changes_of, key_of
from hakari.service.workspace.transaction import Workspace, workbench_row
from hakari.store import models
from hakari.store.snapshots import FollowedView, SlipFigures

MOST_FOLLOWED = 300  # older ones tell of other hands and other coffee


class LearnedLever(Document):
    """A kind of change, how often it was followed and helped, and how large its effect is against what the models say."""

    kind: str
    tries: int
    helped: int
    effect_size: float


class ScoreView(Document):
    """How one figure has been guessed."""

    count: int
    typical_off: float
    held_percent: float


class LearningView(Document):
    """What came of the changes that were followed."""

    levers: list[LearnedLever]
    drawdown: ScoreView | None
    strength: ScoreView | None
    learns_after: int


class LearnFrom(Document):
    """From which slip on effects are learned; the present highest number resets the learning."""

    learns_after: Annotated[int, Field(ge=0, le=2**31)] | None = None


def followed(
    parent: models.Slip, before: models.Plan, plan: models.Plan, view: SlipFigures, target: Target
) -> FollowedView | None:
    """Which move of the slip before a plan carries out, with what it said and what came of it; ``None`` for none of them.

    A move is recognised by the recipe and setting that it makes, so it counts however it was entered.
    """
    recipe, old = plan.recipe, before.recipe
    try:
        changes = changes_of(parent.document)
    except InputError:
        return None
    for move in parent.advice.moves:
        change = changes.get(key_of(move))
        if change is None or not change.modelled:
            continue
        setting = changed_setting(change) or before.setting
        if _alike(changed_recipe(old, change), recipe) and setting == plan.setting:
            return FollowedView(
                words=move.words, kind=move.kind, better=_better(parent, view, target), before=move.before,
                after=move.after, half_width95=move.half_width95, effect_size=move.effect_size,
            )  # fmt: skip
    return None


def _alike(a: Recipe, b: Recipe) -> bool:
    """Whether two recipes make the same brew, however their amounts were given."""

    def made(r: Recipe) -> tuple[Any, ...]:
        amounts = r.amounts()
        rest = r.model_dump(exclude={"dose_g", "ratio", "water_g", "cup_g"})
        return round(amounts.dose_g, 1), round(amounts.water_g), rest

    return made(a) == made(b)


def _better(parent: models.Slip, view: SlipFigures, target: Target) -> float:
    nearer = None
    if parent.view.tds_measured and view.tds_measured:
        middle = sum(target.ey_percent) / 2
        was, now = abs(parent.view.ey_percent - middle), abs(view.ey_percent - middle)
        nearer = (was - now) / max(was, 0.5)
    return better(parent.view.taste, view.taste, nearer)


def effects_now(session: Session) -> dict[str, float]:
    """Return how large each lever's effect is here, as a factor on what the models say."""
    return effect_sizes(_tries(session, _followed(session)))


def learning_view(ws: Workspace) -> LearningView:
    """Return what came of the changes that were followed."""
    with ws.transaction() as session:
        return _view(session)


def learn_from(ws: Workspace, choice: LearnFrom) -> LearningView:
    """Reset the learning, or undo the reset."""
    with ws.transaction() as session:
        highest = session.scalar(select(func.max(models.Slip.number)).where(models.Slip.deleted_at.is_(None))) or 0
        workbench_row(session).learns_after = highest if choice.learns_after is None else max(0, choice.learns_after)
        session.flush()
        return _view(session)


def _followed(session: Session) -> list[models.Slip]:
    """Return the newest slips that carried out a change, oldest first."""
    followed = select(models.Slip).where(models.Slip.follows, models.Slip.deleted_at.is_(None))
    return list(session.scalars(followed.order_by(models.Slip.id.desc()).limit(MOST_FOLLOWED)))[::-1]


def _tries(session: Session, slips: list[models.Slip]) -> list[Tried]:
    """Return what followed changes were said to do and did, in time and strength, where both cups were measured."""
    after = workbench_row(session).learns_after
    before = select(models.Slip).where(
        models.Slip.id.in_([s.parent_id for s in slips if s.parent_id]), models.Slip.deleted_at.is_(None)
    )
    figures = {s.id: s.view for s in session.scalars(before)}
    tries = []
    for slip in slips:
        told, was, now = slip.view.followed, figures.get(slip.parent_id or 0), slip.view
        if slip.number <= after or told is None or told.kind is None or told.before is None or was is None:
            continue
        pairs = []
        if was.drawdown_measured and now.drawdown_measured:
            said = log(told.after.drawdown_s / told.before.drawdown_s)
            pairs.append((said / NOISE_TIME_SHARE, log(now.drawdown_s / was.drawdown_s) / NOISE_TIME_SHARE))
        if was.tds_measured and now.tds_measured:
            said = told.after.tds_percent - told.before.tds_percent
            pairs.append((said / NOISE_TDS_PERCENT, (now.tds_percent - was.tds_percent) / NOISE_TDS_PERCENT))
        tries += [Tried(told.kind, said / told.effect_size, came) for said, came in pairs if abs(said) >= 1]
    return tries


def _view(session: Session) -> LearningView:
    slips = _followed(session)
    learns_after = workbench_row(session).learns_after
    sizes = effect_sizes(_tries(session, slips))
    counted = [f for s in slips if s.number > learns_after and (f := s.view.followed) is not None and f.kind in sizes]
    times, strengths = [], []
    for slip in slips:
        said = slip.view.followed
        if said and slip.view.drawdown_measured:
            times.append(_guess(said, "drawdown_s", slip))
        if said and slip.view.tds_measured:
            strengths.append(_guess(said, "tds_percent", slip))
    return LearningView(
        levers=[
            LearnedLever(
                kind=kind, tries=sum(f.kind == kind for f in counted),
                helped=sum(f.kind == kind and f.better > 0 for f in counted), effect_size=size,
            )
            for kind, size in sorted(sizes.items(), key=lambda pair: -abs(pair[1] - 1))
        ],
        drawdown=_score(score(times)), strength=_score(score(strengths)), learns_after=learns_after,
    )  # fmt: skip


def _guess(said: FollowedView, name: str, slip: models.Slip) -> Guess:
    return Guess(getattr(said.after, name), getattr(said.half_width95, name), getattr(slip.view, name))


def _score(s: Score | None) -> ScoreView | None:
    return ScoreView(count=s.count, typical_off=s.typical_off, held_percent=100 * s.held) if s else None
