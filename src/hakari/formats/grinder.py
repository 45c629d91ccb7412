"""``hakari.grinder/1`` and ``hakari.translation/1``."""

from __future__ import annotations

from typing import Annotated, Any, Literal, TypeVar

import numpy as np
from pydantic import Field, ValidationError, model_validator

from hakari.core.errors import InputError
from hakari.core.grinder.curve import sample_from_interval
from hakari.core.grinder.dial import Dial, check_dial
from hakari.core.grinder.grinder import Grinder
from hakari.core.grinder.kinds import BladeDial, ClickDial, NumberDial, RingDial, SteplessDial, TurnDial
from hakari.core.translate.answer import Answer
from hakari.formats.base import Document, Name, Pair, first_wrong

AnyDial = TypeVar("AnyDial", bound=Dial)

MOST_GRINDERS, MOST_APART = 300, 5
Small = Annotated[int, Field(ge=-100000, le=100000)]
Label = Annotated[str, Field(min_length=1, max_length=8)]


class _DialDocument(Document):
    """What all dials say: which way is finer, and the setting at which the burrs touch, where that is known."""

    finer: Literal["down", "up"] = "down"
    zero: Annotated[str, Field(max_length=20)] | None = None


class ClickDialDocument(_DialDocument):
    """A dial of counted clicks."""

    kind: Literal["clicks"]
    clicks_per_turn: Annotated[int, Field(ge=1, le=1000)] = 36
    minimum: Small = 0
    maximum: Small

    def core(self) -> ClickDial:
        """Return the core's dial; raises ``InputError`` ``dial-malformed``."""
        places = self.maximum - self.minimum + 1
        return _checked(ClickDial(self.finer, self.zero, self.clicks_per_turn, self.minimum, self.maximum), places)


class NumberDialDocument(_DialDocument):
    """A dial of numbers with parts."""

    kind: Literal["numbers"]
    minimum: Small
    maximum: Small
    parts: Annotated[int, Field(ge=1, le=100)] = 4

    def core(self) -> NumberDial:
        """Return the core's dial; raises ``InputError`` ``dial-malformed``."""
        places = (self.maximum - self.minimum) * self.parts + 1
        return _checked(NumberDial(self.finer, self.zero, self.minimum, self.maximum, self.parts), places)


class SteplessDialDocument(_DialDocument):
    """A collar without stops and how finely it can be read."""

    kind: Literal["stepless"]
    minimum: Annotated[float, Field(ge=-1e4, le=1e4)]
    maximum: Annotated[float, Field(ge=-1e4, le=1e4)]
    readable: Annotated[float, Field(ge=0.001, le=1000)] = 0.05

    def core(self) -> SteplessDial:
        """Return the core's dial; raises ``InputError`` ``dial-malformed``."""
        places = int((self.maximum - self.minimum) / self.readable + 1e-6) + 1
        return _checked(SteplessDial(self.finer, self.zero, self.minimum, self.maximum, self.readable), places)


class TurnDialDocument(_DialDocument):
    """A dial of turns, numbers and clicks; its ends are settings, from nothing to three turns unless said."""

    kind: Literal["turns"]
    numbers_per_turn: Annotated[int, Field(ge=1, le=100)]
    clicks_per_number: Annotated[int, Field(ge=1, le=100)]
    minimum: Annotated[str, Field(max_length=20)] = "0.0.0"
    maximum: Annotated[str, Field(max_length=20)] = "3.0.0"

    def core(self) -> TurnDial:
        """Return the core's dial; raises ``InputError`` ``dial-malformed`` or for ends that are no settings."""
        dial = TurnDial(
            self.finer, self.zero, self.numbers_per_turn, self.clicks_per_number, self.minimum, self.maximum
        )
        return _checked(dial, dial.clicks(self.maximum) - dial.clicks(self.minimum) + 1)


class RingDialDocument(_DialDocument):
    """Two rings with their labels, and how many coarse steps the fine ring covers."""

    kind: Literal["rings"]
    coarse: Annotated[list[Label], Field(min_length=1, max_length=60)]
    fine: Annotated[list[Label], Field(min_length=1, max_length=60)]
    fine_span: Annotated[float, Field(gt=0, le=60)] = 1.0

    def core(self) -> RingDial:
        """Return the core's dial; raises ``InputError`` ``dial-malformed``."""
        dial = RingDial(self.finer, self.zero, tuple(self.coarse), tuple(self.fine), self.fine_span)
        return _checked(dial, len(self.coarse) * len(self.fine))


class BladeDialDocument(_DialDocument):
    """No dial: seconds that blades run, and whether the jar was shaken."""

    kind: Literal["seconds"]
    finer: Literal["up"] = "up"
    minimum: Annotated[int, Field(ge=1, le=600)] = 2
    maximum: Annotated[int, Field(ge=1, le=600)] = 60

    def core(self) -> BladeDial:
        """Return the core's dial; raises ``InputError`` ``dial-malformed``."""
        places = 2 * (self.maximum - self.minimum + 1)
        return _checked(BladeDial(self.finer, self.zero, self.minimum, self.maximum), places)


DialDocument = Annotated[
    ClickDialDocument
    | NumberDialDocument
    | SteplessDialDocument
    | TurnDialDocument
    | RingDialDocument
    | BladeDialDocument,
    Field(discriminator="kind"),
]


def _checked(dial: AnyDial, places: int) -> AnyDial:
    check_dial(dial, places)
    return dial


class CurveSampleDocument(Document):
    """A measured setting; one with ``used`` false is kept, but not on the curve."""

    setting: Annotated[str, Field(min_length=1, max_length=40)]
    d50_um: Annotated[float, Field(ge=10, le=10_000)]
    ci95_um: Pair | None = None
    fines_below_100: Annotated[float, Field(ge=0, le=1)] | None = None
    span: Annotated[float, Field(gt=0, le=20)] | None = None
    roast: Literal["light", "medium", "medium-dark", "dark"] | None = None
    basis: Annotated[str, Field(max_length=160)] | None = None
    used: bool = True

    @model_validator(mode="after")
    def _holds_its_median(self) -> CurveSampleDocument:
        low, high = self.ci95_um or (self.d50_um, self.d50_um)
        if not (self.d50_um / MOST_APART <= low <= self.d50_um <= high <= self.d50_um * MOST_APART):
            raise ValueError(f"the interval does not hold the median, or is more than {MOST_APART} times as wide")
        return self


class _MeasuredDocument(Document):
    """What has measured settings."""

    samples: Annotated[list[CurveSampleDocument], Field(max_length=500)] = []


class EraDocument(_MeasuredDocument):
    """An earlier era of a grinder: its samples, and the event that ended it."""

    ended_by: Literal["cleaned", "moved", "worn", "new burrs"] = "cleaned"
    label: Annotated[str, Field(max_length=80)] | None = None


class GrinderDocument(_MeasuredDocument):
    """A grinder with its dial, the measured settings of its present era, and the eras before it, oldest first.

    ``step_travel_um`` is how far the burrs move over one smallest step, where the maker says it.
    """

    format: Literal["hakari.grinder/1"] = "hakari.grinder/1"
    name: Name
    burrs: Annotated[str, Field(max_length=40)] = "unknown"
    dial: DialDocument
    step_travel_um: Annotated[float, Field(gt=0, le=1000)] | None = None
    earlier: Annotated[list[EraDocument], Field(max_length=50)] = []

    def core(self) -> Grinder:
        """Return the core's grinder; raises ``InputError`` for a malformed dial or sample."""
        dial = self.dial.core()
        steps = np.diff(np.unique(dial.positions()))
        travel = self.step_travel_um / float(steps.min()) if self.step_travel_um else None
        grinder = None
        reason = "cleaned"
        eras: list[_MeasuredDocument] = [*self.earlier, self]
        paths = [*(f"earlier.{i}.samples" for i in range(len(self.earlier))), "samples"]
        for era, path in zip(eras, paths, strict=True):
            used = [(i, s) for i, s in enumerate(era.samples) if s.used]
            samples = []
            for i, s in used:
                try:
                    samples.append(sample_from_interval(dial.at(s.setting), s.d50_um, s.ci95_um, s.roast))
                except InputError as error:
                    raise InputError(error.code, error.message, error.remedy, field=f"{path}.{i}") from error
            grinder = Grinder(
                self.name, self.burrs, dial, tuple(samples), tuple(s.fines_below_100 for _, s in used),
                tuple(s.span for _, s in used), travel, grinder, reason,
            )  # fmt: skip
            reason = era.ended_by if isinstance(era, EraDocument) else reason
        assert grinder is not None
        return grinder


class GrinderCollection(Document):
    """Several grinders in one file."""

    format: Literal["hakari.grinders/1"] = "hakari.grinders/1"
    grinders: Annotated[list[GrinderDocument], Field(max_length=MOST_GRINDERS)]


def read_grinders(data: Any) -> list[GrinderDocument]:
    """Return the grinders of a parsed file: one, a list, or a collection.

    Raises
    ------
    InputError
        ``grinder-malformed``, naming the first place that is wrong.
    """
    if isinstance(data, dict) and "grinders" in data:
        data = data["grinders"]
    listed = data if isinstance(data, list) else [data]
    if len(listed) > MOST_GRINDERS:
        raise InputError(
            "too-many-grinders", f"{len(listed)} grinders in one file are too many.", f"Use up to {MOST_GRINDERS}."
        )
    try:
        return [GrinderDocument.model_validate(g) for g in listed]
    except ValidationError as error:
        place, wrong = first_wrong(error)
        raise InputError(
            "grinder-malformed", f"This is no grinder that can be read: {place or 'the file'}: {wrong}.",
            "Use a file that Hakari wrote, or see hakari.grinder/1 in docs/formats.md.", field=place or None,
        ) from error  # fmt: skip


class NeighbourDocument(Document):
    """A position beside the answer."""

    setting: str
    d50_um: float
    chance_nearest: float


class DifferenceDocument(Document):
    """What is not the same on the other grinder, what to expect of it, and whether that asks for attention."""

    title: str
    expect: str
    matters: bool


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
    plan: str | None = None
    fines_target: float | None = None
    fines_here: float | None = None
    span_target: float | None = None
    span_here: float | None = None
    longer_s: float | None = None
    differs: list[str]
    differences: list[DifferenceDocument]
    assumptions: list[str]

    @classmethod
    def of(cls, a: Answer) -> TranslationDocument:
        """Put an answer into the format."""
        t = a.translation
        return cls(
            setting=t.setting, d50_um=t.d50_um, interval95_um=t.interval95_um, target_um=t.target_um,
            target_interval95_um=t.target_interval95_um, reachable=t.reachable, chance_nearest=t.chance_nearest,
            neighbours=[
                NeighbourDocument(setting=n.setting, d50_um=n.d50_um, chance_nearest=n.chance_nearest)
                for n in t.neighbours
            ],
            match=a.match, plan=a.plan, fines_target=a.fines_wanted, fines_here=a.fines_there,
            span_target=a.span_wanted, span_here=a.span_there, longer_s=a.longer_s, differs=[str(d) for d in a.differs],
            differences=[DifferenceDocument(title=d.title, expect=d.expect, matters=d.matters) for d in a.differs],
            assumptions=list(a.assumptions),
        )  # fmt: skip
