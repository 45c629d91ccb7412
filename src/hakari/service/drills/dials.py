"""Tasks at one's own dials: read one, set one, go some steps, say which of two settings is finer."""

from __future__ import annotations

from typing import Literal, get_args

import numpy as np
from sqlalchemy.orm import Session

from hakari.core.errors import InputError
from hakari.core.grinder.dial import Dial, step_words
from hakari.service.drills.questions import DialTask, Question
from hakari.service.grinders.curves import bare_document
from hakari.service.workspace.transaction import list_active
from hakari.store import models

Task = Literal["read", "set", "step", "finer"]
TASKS: tuple[Task, ...] = get_args(Task)
MOST_STEPS = 8


def dial_items(session: Session) -> list[str]:
    """Return what can be practised: each task at each dial that has marks."""
    return [f"{g.id}:{task}" for g in _grinders(session) for task in TASKS]


def dial_question(session: Session, item: str, rng: np.random.Generator) -> tuple[Question, DialTask]:
    """Ask for one task at one dial."""
    grinder_id, _, named = item.partition(":")
    task: Task = next(t for t in TASKS if t == named)
    row = next(g for g in _grinders(session) if str(g.id) == grinder_id)
    document = bare_document(row)
    dial = document.dial.core()
    settings = list(dial.settings)
    place, other = _two_places(dial, rng)
    asked = DialTask(grinder=row.name, dial=document.dial, settings=settings, task=task)
    right = place
    if task == "read":
        asked.place = place
    elif task == "set":
        asked.setting, asked.place = settings[place], other
    elif task == "step":
        asked.setting, asked.steps, right = settings[place], step_words(dial, place, other), other
    else:
        asked.options = [settings[place], settings[other]]
        finer = place if (dial.at(settings[place]) < dial.at(settings[other])) == (dial.finer == "down") else other
        right = finer
    return Question("dial", item, right=settings[right]), asked


def dial_right(session: Session, question: Question, answer: str) -> bool:
    """Whether an answer is the setting that was asked for, however it is written."""
    grinder_id = question.item.partition(":")[0]
    row = next((g for g in _grinders(session) if str(g.id) == grinder_id), None)
    if row is None:
        return False
    dial = bare_document(row).dial.core()
    try:
        return dial.parse(answer) == dial.parse(question.right)
    except InputError:
        return False


def _grinders(session: Session) -> list[models.Grinder]:
    return [g for g in list_active(session, models.Grinder) if len(bare_document(g).dial.core().settings) > 2]


def _two_places(dial: Dial, rng: np.random.Generator) -> tuple[int, int]:
    """Two places a few steps apart, of different positions."""
    last = len(dial.settings) - 1
    at = dial.positions()
    for _ in range(60):
        place = int(rng.integers(0, last + 1))
        other = place + int(rng.integers(1, MOST_STEPS + 1)) * (1 if rng.random() < 0.5 else -1)
        if 0 <= other <= last and at[place] != at[other]:
            return place, other
    return 0, last
