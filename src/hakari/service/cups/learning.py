"""Closing the loop: which change a brew followed, whether it did what was said, and what the causes learn from it."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import Field
from sqlalchemy.orm import Session

from hakari.core.advice.evidence import Target
from hakari.core.advice.score import Guess, Score, Tried, better, cause_behind, learned, score
from hakari.core.errors import InputError
from hakari.formats.base import Document
from hakari.formats.recipe import Recipe
from hakari.service.plans.next_plan import changed_recipe, changed_setting, changes_of, key_of
from hakari.service.workspace.transaction import Workspace, list_active, workbench_row
from hakari.store import models
from hakari.store.snapshots import FollowedView, SlipFigures


class LearnedCause(Document):
    """A cause, how often its remedies were tried, and what was learned: log-odds, above 0 where they helped."""

    cause: str
    tries: int
    helped: int
    log_odds: float


class ScoreView(Document):
    """How one figure has been guessed."""

    count: int
    typical_off: float
    held_percent: float


class LearningView(Document):
    """What came of the changes that were followed."""

    causes: list[LearnedCause]
    drawdown: ScoreView | None
    strength: ScoreView | None
    learns_after: int


class LearnFrom(Document):
    """From which slip on the causes learn; the present highest number resets the learning."""

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
            weights = [(c.cause, c.weight) for c in parent.advice.causes]
            return FollowedView(
                words=move.words, cause=cause_behind(weights, move.kind, move.direction),
                better=_better(parent, view, target), after=move.after, half_width95=move.half_width95,
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


def learned_now(session: Session) -> dict[str, float]:
    """Return what the causes have learned so far, as log-odds."""
    return learned(_tries(session, list_active(session, models.Slip)))


def learning_view(ws: Workspace) -> LearningView:
    """Return what came of the changes that were followed."""
    with ws.transaction() as session:
        return _view(session)


def learn_from(ws: Workspace, choice: LearnFrom) -> LearningView:
    """Reset the learning, or undo the reset."""
    with ws.transaction() as session:
        highest = max((s.number for s in list_active(session, models.Slip)), default=0)
        workbench_row(session).learns_after = highest if choice.learns_after is None else max(0, choice.learns_after)
        session.flush()
        return _view(session)


def _tries(session: Session, slips: list[models.Slip]) -> list[Tried]:
    after = workbench_row(session).learns_after
    said = [s.view.followed for s in slips if s.number > after]
    return [Tried(f.cause, f.better) for f in said if f and f.cause]


def _view(session: Session) -> LearningView:
    slips = list_active(session, models.Slip)
    tries = _tries(session, slips)
    odds = learned(tries)
    times, strengths = [], []
    for slip in slips:
        said = slip.view.followed
        if said and slip.view.drawdown_measured:
            times.append(_guess(said, "drawdown_s", slip))
        if said and slip.view.tds_measured:
            strengths.append(_guess(said, "tds_percent", slip))
    return LearningView(
        causes=[
            LearnedCause(
                cause=name, tries=sum(t.cause == name for t in tries),
                helped=sum(t.cause == name and t.better > 0 for t in tries), log_odds=value,
            )
            for name, value in sorted(odds.items(), key=lambda pair: -abs(pair[1]))
        ],
        drawdown=_score(score(times)), strength=_score(score(strengths)), learns_after=workbench_row(session).learns_after,
    )  # fmt: skip


def _guess(said: FollowedView, name: str, slip: models.Slip) -> Guess:
    return Guess(getattr(said.after, name), getattr(said.half_width95, name), getattr(slip.view, name))


def _score(s: Score | None) -> ScoreView | None:
    return ScoreView(count=s.count, typical_off=s.typical_off, held_percent=100 * s.held) if s else None
