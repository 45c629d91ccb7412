"""``hakari.experiment/1``: what was planned and noted, by kind of experiment."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from hakari.core.experiment.blind import odd_cup
from hakari.formats.base import Document, Grams, Name, Note, Percent, Seconds
from hakari.formats.slip import TasteWords

FORMAT: Literal["hakari.experiment/1"] = "hakari.experiment/1"
MOST_ROUNDS = 60
Rounds = Annotated[int, Field(ge=1, le=MOST_ROUNDS)]
Share = Annotated[float, Field(ge=0, le=1)]
Liking = Annotated[int, Field(ge=1, le=5)]
Drink = Annotated[Grams, Field(gt=0, le=3000)]
Strength = Annotated[Percent, Field(gt=0, le=25)]
Time = Annotated[Seconds, Field(gt=0, le=172_800)]
Value = Annotated[float, Field(ge=-200_000, le=200_000)]  # a cold steep takes hours


class TriangleAnswer(Document):
    """A round: what was in the cups, the place (from 0) that was named, and by whom.

    Where one person pours and tastes, the cups are shuffled by hand: then only ``right`` is known. Tasters who share the cups
    of a ``round`` (from 0) answer it together.
    """

    round: Annotated[int, Field(ge=0, lt=MOST_ROUNDS)] = 0
    taster: Name = "taster"
    order: Literal["AAB", "ABA", "BAA", "BBA", "BAB", "ABB"] | None = None
    named: Annotated[int, Field(ge=0, le=2)] | None = None
    right: bool | None = None

    @model_validator(mode="after")
    def _can_be_judged(self) -> TriangleAnswer:
        if self.right is None and (self.order is None or self.named is None):
            raise ValueError("A round needs its order and the cup that was named, or whether it was right.")
        return self

    @property
    def was_right(self) -> bool:
        """Whether the odd cup was named."""
        if self.order is not None and self.named is not None:
            return odd_cup(self.order) == self.named
        return bool(self.right)


class Triangle(Document):
    """Two brews, three cups, one odd."""

    kind: Literal["triangle"] = "triangle"
    a: Name
    b: Name
    rounds: Rounds = 12
    expected_can_tell: Share = 0.5
    answers: Annotated[list[TriangleAnswer], Field(max_length=4 * MOST_ROUNDS)] = []


class GrindTried(Document):
    """One of the grinds side by side: its setting and size, what was predicted, and what was found."""

    setting: Annotated[str, Field(max_length=40)]
    d50_um: Annotated[float, Field(gt=1, lt=10_000)]
    predicted_s: Time | None = None
    predicted_tds_percent: Strength | None = None
    time_s: Time | None = None
    tds_percent: Strength | None = None
    taste: TasteWords = {}


class ThreeGrinds(Document):
    """The same recipe at several settings; ``liked`` is the setting that was liked most, ``none`` where none was."""

    kind: Literal["three-grinds"] = "three-grinds"
    grinder: Annotated[str, Field(max_length=80)] = ""
    grinds: Annotated[list[GrindTried], Field(min_length=2, max_length=7)]
    liked: Annotated[str, Field(max_length=40)] | None = None


class CupOfThird(Document):
    """One cup of a split brew; ``measured`` by a refractometer, otherwise judged by tongue."""

    drink_g: Drink
    tds_percent: Strength
    measured: bool = True


class Thirds(Document):
    """One brew caught in cups by mass, and what the model predicts of them."""

    kind: Literal["thirds"] = "thirds"
    dose_g: Annotated[Grams, Field(gt=0, le=400)]
    cups: Annotated[list[CupOfThird], Field(max_length=6)] = []
    predicted: Annotated[list[CupOfThird], Field(max_length=6)] = []


class PairOfBrews(Document):
    """A pair of brews, A and B, in the order in which they were made."""

    order: Literal["AB", "BA"] = "AB"
    a: Value
    b: Value


class TwoWays(Document):
    """Two ways to brew compared in pairs by one quantity; ``worth`` is the smallest difference that matters."""

    kind: Literal["two-ways"] = "two-ways"
    a: Name
    b: Name
    quantity: Literal["time", "strength", "drink", "liking"] = "time"
    worth: Annotated[float, Field(gt=0, le=1e4)] = 10.0
    pairs: Annotated[list[PairOfBrews], Field(max_length=60)] = []


class HandBrew(Document):
    """One repeat of a plan; any quantity may be missing."""

    time_s: Time | None = None
    drink_g: Drink | None = None
    tds_percent: Strength | None = None
    pour_rate_g_s: Annotated[float, Field(gt=0, le=50)] | None = None


class Hand(Document):
    """Repeats of one plan: how steady the hand is."""

    kind: Literal["hand"] = "hand"
    plan: Note = ""
    wanted: Annotated[int, Field(ge=2, le=20)] = 5
    brews: Annotated[list[HandBrew], Field(max_length=40)] = []


class LadderCup(Document):
    """A cup that was tasted blind: its step and how it was liked."""

    value: Value
    liked: Liking


class Ladder(Document):
    """One variable in steps, tasted blind in random order, in rounds."""

    kind: Literal["ladder"] = "ladder"
    variable: Literal["dilution", "heat", "time", "stir"]
    values: Annotated[list[Value], Field(min_length=3, max_length=7)]
    rounds: Annotated[int, Field(ge=1, le=10)] = 2
    cups: Annotated[list[LadderCup], Field(max_length=100)] = []

    @model_validator(mode="after")
    def _steps_differ(self) -> Ladder:
        if len(set(self.values)) < len(self.values):
            raise ValueError("Each step of a ladder has a value of its own.")
        return self


class Sieve(Document):
    """A sieved dose against the unsieved one: masses, and a triangle."""

    kind: Literal["sieve"] = "sieve"
    mesh_um: Annotated[float, Field(gt=10, lt=5000)] = 400.0
    before_g: Annotated[Grams, Field(gt=0, le=400)] | None = None
    kept_g: Annotated[Grams, Field(ge=0, le=400)] | None = None
    removed_g: Annotated[Grams, Field(ge=0, le=400)] | None = None
    rounds: Rounds = 12
    expected_can_tell: Share = 0.5
    answers: Annotated[list[TriangleAnswer], Field(max_length=4 * MOST_ROUNDS)] = []


Body = Annotated[Triangle | ThreeGrinds | Thirds | TwoWays | Hand | Ladder | Sieve, Field(discriminator="kind")]
Kind = Literal["triangle", "three-grinds", "thirds", "two-ways", "hand", "ladder", "sieve"]


class ExperimentDocument(Document):
    """``hakari.experiment/1``: an experiment with its name, as a file."""

    format: Literal["hakari.experiment/1"] = FORMAT
    name: Name = "Experiment"
    note: Annotated[str, Field(max_length=600)] = ""
    experiment: Body

    @model_validator(mode="before")
    @classmethod
    def _flat(cls, value: Any) -> Any:
        """Take the kind's own fields beside the name too."""
        if isinstance(value, dict) and "experiment" not in value and "kind" in value:
            own = ("format", "name", "note")
            rest = {k: v for k, v in value.items() if k not in own}
            return {**{k: v for k, v in value.items() if k in own}, "experiment": rest}
        return value
