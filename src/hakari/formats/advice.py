"""``hakari.advice/1``."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import Field

from hakari.core.advice.answer import Advice
from hakari.core.advice.goal import State
from hakari.core.advice.status import SinceLast, Status
from hakari.formats.base import Document
from hakari.formats.slip import COMPARED, Compared


class StateDocument(Document):
    """Time, strength, extraction."""

    drawdown_s: float
    tds_percent: float
    ey_percent: float
    evenness_percent: float | None = None

    @classmethod
    def of(cls, s: State) -> StateDocument:
        """Copy a state."""
        return cls(
            drawdown_s=s.drawdown_s, tds_percent=s.tds_percent, ey_percent=s.ey_percent,
            evenness_percent=s.evenness_percent,
        )  # fmt: skip


class MoveDocument(Document):
    """One change on offer; ``from`` and ``to`` in the gear's own notation."""

    kind: str
    direction: str
    start: Annotated[str, Field(alias="from")]
    end: Annotated[str, Field(alias="to")]
    words: str
    reason: str
    wrong_if: str
    side_effects: list[str]
    before: StateDocument
    after: StateDocument
    half_width95: StateDocument
    caution: str = ""
    effect_size: float = 1.0
    model_config = Document.model_config | {"populate_by_name": True}


class CauseDocument(Document):
    """A weighed cause."""

    cause: str
    weight: float
    reason: str


class RuledOutDocument(Document):
    """A change that would do harm."""

    kind: str
    direction: str
    reason: str


class ReadingDocument(Document):
    """What is wrong with a cup, by axis: 1 where more is wanted, −1 where less is, 0 where nothing is wrong or known."""

    extraction: int = 0
    strength: int = 0
    time: int = 0
    uneven: bool = False


class SinceDocument(Document):
    """What was changed since the slip before; ``compared`` says how this cup tastes against that one, if both were tasted."""

    slip: str
    changed: list[str]
    compared: Compared | None


class AdviceDocument(Document):
    """Advice on one slip, moves best first."""

    format: str = "hakari.advice/1"
    moves: list[MoveDocument]
    causes: list[CauseDocument]
    ruled_out: list[RuledOutDocument]
    now: StateDocument
    measured: list[str]
    status: Status = "change"
    reading: ReadingDocument = ReadingDocument()
    back_to: str | None = None
    since: SinceDocument | None = None

    @classmethod
    def of(cls, a: Advice) -> AdviceDocument:
        """Put advice into the format."""
        return cls(
            moves=[
                MoveDocument(
                    kind=m.kind, direction=m.direction, start=m.start, end=m.end, words=m.words, reason=m.reason,
                    wrong_if=m.wrong_if, side_effects=list(m.side_effects), before=StateDocument.of(m.before),
                    after=StateDocument.of(m.after), half_width95=StateDocument.of(m.half_width), caution=m.caution,
                    effect_size=m.effect_size,
                )
                for m in a.moves
            ],
            causes=[CauseDocument(cause=c.cause, weight=c.weight, reason=c.reason) for c in a.causes],
            ruled_out=[RuledOutDocument(kind=r.kind, direction=r.direction, reason=r.reason) for r in a.ruled_out],
            now=StateDocument.of(a.now), measured=list(a.measured), status=a.status, back_to=a.back_to,
            reading=ReadingDocument.model_validate(a.reading, from_attributes=True), since=_since(a.since),
        )  # fmt: skip

    def dump(self) -> dict[str, Any]:
        """As JSON-ready data, with the format's own names."""
        return self.model_dump(mode="json", by_alias=True)


def _since(last: SinceLast | None) -> SinceDocument | None:
    """Put the comparison with the slip before into the format."""
    if last is None:
        return None
    compared = None if last.compared is None else COMPARED[last.compared]
    return SinceDocument(slip=last.name, changed=list(last.changed), compared=compared)
