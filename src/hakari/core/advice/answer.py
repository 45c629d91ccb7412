"""What is answered: the changes in order, the causes, and what was ruled out."""

from __future__ import annotations

from dataclasses import dataclass

from hakari.core.advice.candidate import Kind
from hakari.core.advice.causes import WeighedCause
from hakari.core.advice.goal import State
from hakari.core.advice.reading import Reading
from hakari.core.advice.status import (
    SinceLast,
    Status,
)


@dataclass(frozen=True)
class Move:
    """A change on offer: before → after with 95 % half-widths, why, and what would show it wrong.

    ``effect_size`` is the factor on the models' change that earlier slips taught.
    """

    kind: Kind
    direction: str
    start: str
    end: str
    words: str
    reason: str
    wrong_if: str
    side_effects: tuple[str, ...]
    before: State
    after: State
    half_width: State
    caution: str = ""
    effect_size: float = 1.0


@dataclass(frozen=True)
class RuledOut:
    """A change that is not offered, and why."""

    kind: Kind
    direction: str
    reason: str


@dataclass(frozen=True)
class Advice:
    """Moves best first, causes heaviest first, moves ruled out, where the cup is taken to be, and whether to change at all.

    ``reading`` says what is wrong; ``back_to`` names the earlier slip to go back to where ``status`` is ``back``; ``since``
    what was changed since the slip before.
    """

    moves: tuple[Move, ...]
    causes: tuple[WeighedCause, ...]
    ruled_out: tuple[RuledOut, ...]
    now: State
    measured: tuple[str, ...]
    status: Status
    reading: Reading
    back_to: str | None = None
    since: SinceLast | None = None
