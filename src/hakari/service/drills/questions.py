"""Questions that were asked and not answered yet, in memory: what is right stays on the server."""

from __future__ import annotations

import threading
from collections import OrderedDict
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from hakari.formats.base import Document
from hakari.formats.grinder import DialDocument
from hakari.service.workspace.transaction import NotFoundError

Drill = Literal["size", "finer", "fines", "words", "dial", "pour"]
Asked = Literal["size", "finer", "fines", "words", "dial"]
MOST_OPEN = 200


class DialTask(Document):
    """What to do at a dial: read where it stands, set it, go so many steps, or say which of two settings is finer."""

    grinder: str
    dial: Annotated[DialDocument, Field(discriminator="kind")]
    settings: list[str]
    task: Literal["read", "set", "step", "finer"]
    place: int | None = None
    setting: str | None = None
    steps: str | None = None
    options: list[str] = []


class QuestionView(Document):
    """A question: for ``size`` a sample or one picture with its width, for pairs two, for words a word and ways."""

    id: int
    drill: Asked
    sample_id: int | None = None
    window_mm: float | None = None
    word: str | None = None
    options: list[str] = []
    dial: DialTask | None = None
    simulated: bool = False


@dataclass(frozen=True)
class Shown:
    """A window of a photo as it is shown: px of its picture, and how wide it is on the paper."""

    source: str
    left_px: int
    top_px: int
    side_px: int
    side_mm: float


@dataclass(frozen=True)
class Question:
    """What was asked, and what is right: a choice, a size in µm, or a place on a dial."""

    drill: Asked
    item: str
    right: str
    truth: float = 1.0
    shown: tuple[Shown, ...] = ()


class Questions:
    """Open questions by number; the oldest are forgotten, and all at a restart. ``rng`` draws what is asked."""

    def __init__(self) -> None:
        self.rng = np.random.default_rng()
        self._lock = threading.Lock()
        self._open: OrderedDict[int, Question] = OrderedDict()
        self._last = 0

    def ask(self, question: Question) -> int:
        """Keep a question, and return its number."""
        with self._lock:
            self._last += 1
            self._open[self._last] = question
            while len(self._open) > MOST_OPEN:
                self._open.popitem(last=False)
            return self._last

    def get(self, number: int) -> Question:
        """Return an open question; ``NotFoundError``."""
        with self._lock:
            found = self._open.get(number)
        if found is None:
            raise _gone()
        return found

    def take(self, number: int) -> Question:
        """Return an open question and close it; ``NotFoundError``."""
        with self._lock:
            found = self._open.pop(number, None)
        if found is None:
            raise _gone()
        return found


def _gone() -> NotFoundError:
    return NotFoundError("not-found", "This question is closed.", "Take the next one.")
