"""``hakari.grinder/1`` and ``hakari.translation/1``."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from hakari.core.errors import InputError
from hakari.core.grinder.curve import sample_from_interval
from hakari.core.grinder.dial import ClickDial, NumberDial, check_dial
from hakari.core.grinder.grinder import Grinder
from hakari.core.translate.median import Translation
from hakari.formats.base import Document, Pair

Small = Annotated[int, Field(ge=-100000, le=100000)]


class ClickDialDocument(Document):
    """A dial of counted clicks."""

    kind: Literal["clicks"]
    clicks_per_turn: Annotated[int, Field(ge=1, le=1000)] = 36
    minimum: Small = 0
    maximum: Small
    finer: Literal["down", "up"] = "down"

    def core(self) -> ClickDial:
        """The core's dial; raises ``InputError`` ``dial-malformed``."""
        dial = ClickDial(self.clicks_per_turn, self.minimum, self.maximum, self.finer)
        check_dial(dial)
        return dial


class NumberDialDocument(Document):
    """A dial of numbers with parts."""

    kind: Literal["numbers"]
    minimum: Small
    maximum: Small
    parts: Annotated[int, Field(ge=1, le=100)] = 4
    finer: Literal["down", "up"] = "down"

    def core(self) -> NumberDial:
        """The core's dial; raises ``InputError`` ``dial-malformed``."""
        dial = NumberDial(self.minimum, self.maximum, self.parts, self.finer)
        check_dial(dial)
        return dial


DialDocument = Annotated[ClickDialDocument | NumberDialDocument, Field(discriminator="kind")]


class CurveSampleDocument(Document):
    """A measured setting."""

    setting: str
    d50_um: float
    ci95_um: Pair | None = None
    fines_below_100: float | None = None
    span: float | None = None


class GrinderDocument(Document):
    """A grinder with its dial and measured settings."""

    format: Literal["hakari.grinder/1"] = "hakari.grinder/1"
    name: Annotated[str, Field(min_length=1, max_length=80)]
    burrs: str = "unknown"
    dial: DialDocument
    samples: list[CurveSampleDocument] = []

    def core(self) -> Grinder:
        """The core's grinder; raises ``InputError`` for a malformed dial or sample."""
        dial = self.dial.core()
        samples = []
        for i, s in enumerate(self.samples):
            try:
                samples.append(sample_from_interval(dial.parse(s.setting), s.d50_um, s.ci95_um))
            except InputError as error:
                raise InputError(error.code, error.message, error.remedy, field=f"samples.{i}") from error
        return Grinder(
            self.name, self.burrs, dial, tuple(samples),
            tuple(s.fines_below_100 for s in self.samples), tuple(s.span for s in self.samples),
        )  # fmt: skip


class NeighbourDocument(Document):
    """A position beside the answer."""

    setting: str
    d50_um: float
    chance_nearest: float


class TranslationDocument(Document):
    """A grind on another dial."""

    format: str = "hakari.translation/1"
    setting: str
    d50_um: float
    interval95_um: Pair
    target_um: float
    target_interval95_um: Pair
    reachable: bool
    chance_nearest: float
    neighbours: list[NeighbourDocument]
    match: str = "median"
    plan: None = None
    fines_target: float | None
    fines_here: float | None

    @classmethod
    def of(cls, t: Translation) -> TranslationDocument:
        """Put an answer into the format."""
        return cls(
            setting=t.setting, d50_um=t.d50_um, interval95_um=t.interval95_um, target_um=t.target_um,
            target_interval95_um=t.target_interval95_um, reachable=t.reachable, chance_nearest=t.chance_nearest,
            neighbours=[
                NeighbourDocument(setting=n.setting, d50_um=n.d50_um, chance_nearest=n.chance_nearest)
                for n in t.neighbours
            ],
            fines_target=t.fines_target, fines_here=t.fines_here,
        )  # fmt: skip
