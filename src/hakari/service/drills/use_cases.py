"""Drills: what is asked next, and how it was answered."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated

import numpy as np
from pydantic import Field
from sqlalchemy.orm import Session

from hakari.core.advice.taste_lessons import WAYS, taste_lessons
from hakari.core.errors import InputError
from hakari.core.experiment.staircase import next_difference
from hakari.formats.base import Document
from hakari.service.drills import eye, pours
from hakari.service.drills.dials import dial_items, dial_question, dial_right
from hakari.service.drills.known_grounds import own_samples, shipped_names
from hakari.service.drills.progress import DrillView, drill_view, next_item, record, trials_of
from hakari.service.drills.questions import Asked, Drill, Question, Questions, QuestionView
from hakari.service.workspace.transaction import Workspace, find, may_delete
from hakari.store import models

# A guess so near counts as well.
WELL_WITHIN_LN = 0.15
CHOICES = 4
SIDES = ("left", "right")
DRILLS: tuple[Drill, ...] = ("size", "finer", "fines", "pour", "words", "dial")
PAIR = "pair"


class DrillList(Document):
    """All drills and how they go."""

    drills: list[DrillView]


class NewQuestion(Document):
    """Which drill to ask from."""

    drill: Asked


class DrillEntry(Document):
    """An answer: a size in µm, the left or right picture, a way, or a setting."""

    answer: Annotated[str, Field(max_length=60)]


class DrillVerdict(Document):
    """How an answer was: whether well, what is right, and by how much it was off or how far apart the two were, %."""

    well: bool
    right: str
    off_percent: float | None
    drill: DrillView


def list_drills(ws: Workspace) -> DrillList:
    """Return all drills and how they go."""
    with ws.transaction() as session:
        return DrillList(drills=[drill_view(session, d, _items(session, d)) for d in DRILLS])


def read_drill(ws: Workspace, drill: Drill) -> DrillView:
    """Return how one drill goes."""
    with ws.transaction() as session:
        return drill_view(session, drill, _items(session, drill))


def ask(ws: Workspace, questions: Questions, new: NewQuestion) -> QuestionView:
    """Ask what is due of a drill.

    Raises
    ------
    InputError
        ``nothing-to-practise`` where there are no dials yet.
    """
    with ws.transaction() as session:
        items = _items(session, new.drill)
        if not items:
            raise _nothing(new.drill)
        item = next_item(session, new.drill, items, questions.rng)
        return ASK[new.drill](ws, session, questions, item, questions.rng)


def answer(ws: Workspace, questions: Questions, number: int, entry: DrillEntry) -> DrillVerdict:
    """Judge an answer, keep it, and say what is right.

    Raises
    ------
    InputError
        ``unreadable-guess`` for a size that is no number of µm; the question stays open then.
    """
    guess = _guess(questions.get(number), entry.answer)
    question = questions.take(number)
    with ws.transaction() as session:
        value, well, off = _judge(session, question, entry.answer, guess)
        record(session, question.drill, question.item, value, question.truth, well)
        view = drill_view(session, question.drill, _items(session, question.drill))
        return DrillVerdict(well=well, right=question.right, off_percent=off, drill=view)


def forget_drill(ws: Workspace, drill: Drill) -> DrillView:
    """Begin a drill again: its answers do not count any more."""
    with ws.transaction() as session:
        for row in session.query(models.DrillAnswer).filter_by(drill=drill, deleted_at=None):
            if may_delete(session, row):
                session.delete(row)
        session.flush()
        return drill_view(session, drill, _items(session, drill))


def picture(ws: Workspace, questions: Questions, number: int, side: int) -> bytes:
    """Return one of the two pictures of a question; ``NotFoundError`` where it has none."""
    question = questions.get(number)
    if side >= len(question.shown):
        raise InputError("no-picture", "This question has no such picture.", "Take the next one.", field="side")
    return eye.picture_of(ws, question.shown[side])


def _items(session: Session, drill: Drill) -> list[str]:
    """Return what can be practised of a drill."""
    if drill == "words":
        return list(taste_lessons())
    if drill == "dial":
        return dial_items(session)
    if drill == "pour":
        return [c.name for c in pours.curves_of(session)]
    if drill == "size":
        return [*(str(s.id) for s in own_samples(session)), *shipped_names()]
    return [PAIR]


def _ask_size(
    ws: Workspace, session: Session, questions: Questions, item: str, rng: np.random.Generator
) -> QuestionView:
    if not item.isdecimal():
        shown, d50_um = eye.one_window(ws, item, rng)
        number = questions.ask(Question("size", item, right=f"{d50_um:.0f}", truth=d50_um, shown=(shown,)))
        return QuestionView(id=number, drill="size", window_mm=shown.side_mm, simulated=True)
    row = find(session, models.Sample, int(item), "sample")
    number = questions.ask(Question("size", item, right=f"{row.d50_um:.0f}", truth=row.d50_um))
    return QuestionView(id=number, drill="size", sample_id=row.id, simulated=row.simulated)


def _ask_pair(drill: Asked) -> Callable[..., QuestionView]:
    compare = eye.compare_sizes if drill == "finer" else eye.compare_small

    def ask_pair(
        ws: Workspace, session: Session, questions: Questions, item: str, rng: np.random.Generator
    ) -> QuestionView:
        found = compare(ws, session, next_difference(trials_of(session, drill)), rng)
        if found is None:
            raise _nothing(drill)
        # Asked is which is finer, or which has more small grounds.
        second = found.second_has_more if drill == "fines" else not found.second_has_more
        question = Question(drill, item, SIDES[int(second)], found.difference_ln, (found.first, found.second))
        return QuestionView(id=questions.ask(question), drill=drill, options=list(SIDES))

    return ask_pair


def _ask_word(
    ws: Workspace, session: Session, questions: Questions, item: str, rng: np.random.Generator
) -> QuestionView:
    right = taste_lessons()[item]
    others = [w for w in WAYS if w != right]
    options = [right, *(others[int(k)] for k in rng.permutation(len(others))[: CHOICES - 1])]
    shown = [options[int(k)] for k in rng.permutation(len(options))]
    return QuestionView(id=questions.ask(Question("words", item, right)), drill="words", word=item, options=shown)


def _ask_dial(
    ws: Workspace, session: Session, questions: Questions, item: str, rng: np.random.Generator
) -> QuestionView:
    question, task = dial_question(session, item, rng)
    return QuestionView(id=questions.ask(question), drill="dial", dial=task, options=task.options)


ASK: dict[Asked, Callable[..., QuestionView]] = {
    "size": _ask_size,
    "finer": _ask_pair("finer"),
    "fines": _ask_pair("fines"),
    "words": _ask_word,
    "dial": _ask_dial,
}


def _guess(question: Question, text: str) -> float | None:
    """Return a guess of a size, µm; ``None`` where something else is asked."""
    if question.drill != "size":
        return None
    try:
        guess = float(text.replace(",", ".").removesuffix("µm"))
    except ValueError:
        guess = 0.0
    if not 1 < guess < 10_000:
        raise InputError("unreadable-guess", f"“{text}” is no size in µm.", "Type a number like 650.", field="answer")
    return guess


def _judge(session: Session, question: Question, text: str, guess: float | None) -> tuple[float, bool, float | None]:
    """Return the value to keep, whether it was well, and how far off or apart, %."""
    if guess is not None:
        off = float(np.log(guess / question.truth))
        return guess, abs(off) <= WELL_WITHIN_LN, 100 * float(np.expm1(off))
    well = dial_right(session, question, text) if question.drill == "dial" else text == question.right
    apart = 100 * float(np.expm1(question.truth)) if len(question.shown) == 2 else None
    return float(well), well, apart


def _nothing(drill: Drill) -> InputError:
    remedy = "Set up a grinder first." if drill == "dial" else "Try again."
    return InputError("nothing-to-practise", "There is nothing to practise with yet.", remedy)
