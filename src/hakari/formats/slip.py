"""``hakari.slip/1``."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

from pydantic import Field, model_validator

from hakari.core.advice.evidence import TARGETS, Case, EarlierCup, LeverOrder, Outcome, Target
from hakari.core.brew.changes import changes_between
from hakari.core.brew.schedule import Plan, PressForce
from hakari.core.errors import InputError
from hakari.formats.base import Document, Grams, Pair, Percent, Seconds
from hakari.formats.brew_log import BrewDocument
from hakari.formats.grinder import GrinderDocument
from hakari.formats.plan import PlanDocument

LeverOrderName = LeverOrder
Compared = Literal["better", "worse", "alike"]
COMPARED: dict[int, Compared] = {1: "better", -1: "worse", 0: "alike"}


class CoffeeDocument(Document):
    """What is known of the coffee."""

    name: Annotated[str, Field(max_length=80)] | None = None
    roast: Literal["light", "medium", "medium-dark", "dark"] = "medium"
    process: Annotated[str, Field(max_length=80)] | None = None
    days_off_roast: Annotated[int, Field(ge=0, le=3650)] | None = None
    dense: bool = False
    ground_age_h: Annotated[float, Field(ge=0, le=9000)] | None = None
    origin: Annotated[str, Field(max_length=80)] | None = None
    roaster: Annotated[str, Field(max_length=80)] | None = None
    flavours: Annotated[str, Field(max_length=200)] | None = None


ShortText = Annotated[str, Field(max_length=40)]
TasteWords = Annotated[dict[ShortText, Annotated[int, Field(ge=-100, le=100)]], Field(max_length=40)]


class OutcomeDocument(Document):
    """What happened; any part may be missing.

    ``estimated_bare_bed`` is a time and half the width of its 95 % interval, where the last drip alone was seen.
    ``held_back_g`` is what of a concentrate was really held back, where it was weighed.
    """

    drawdown_s: Seconds | None = None
    last_drip_s: Seconds | None = None
    stalled: bool | None = None
    tds_percent: Percent | None = None
    drink_g: Grams | None = None
    taste: TasteWords = {}
    bed: Annotated[list[ShortText], Field(max_length=20)] = []
    plunger_stuck: bool = False
    press_force: PressForce | None = None
    spent_dry_g: Grams | None = None
    taste_cooled: TasteWords = {}
    pressed_s: Seconds | None = None
    added_water_g: Annotated[Grams, Field(ge=0, le=3000)] | None = None
    liked: Annotated[int, Field(ge=1, le=5)] | None = None
    estimated_bare_bed: Pair | None = None
    held_back_g: Annotated[Grams, Field(ge=0, le=3000)] | None = None

    @property
    def bare_bed_s(self) -> float | None:
        """When the bed was bare: as seen, or else as estimated."""
        return self.estimated_bare_bed[0] if self.drawdown_s is None and self.estimated_bare_bed else self.drawdown_s

    def core(self) -> Outcome:
        """Return the core's outcome."""
        return Outcome(
            self.bare_bed_s, self.last_drip_s, self.stalled, self.tds_percent, self.drink_g,
            {k: v for k, v in self.taste.items() if v}, tuple(self.bed), self.plunger_stuck,
            self.spent_dry_g, {k: v for k, v in self.taste_cooled.items() if v}, self.liked,
            self.added_water_g or 0.0,
        )  # fmt: skip


class TargetDocument(Document):
    """A box of one's own."""

    ey_percent: Pair
    tds_percent: Pair

    @model_validator(mode="after")
    def _is_a_box(self) -> TargetDocument:
        for (low, high), most in ((self.ey_percent, 40.0), (self.tds_percent, 15.0)):
            if not 0 < low < high <= most:
                raise ValueError(f"A target goes from a lower to a higher figure, both above 0 and up to {most:g} %.")
        return self


def target_of(document: str | TargetDocument) -> Target:
    """Return the core's target; ``InputError`` ``unknown-target``."""
    if isinstance(document, TargetDocument):
        return Target("own", document.ey_percent, document.tds_percent)
    if document not in TARGETS:
        raise InputError(
            "unknown-target",
            f"There is no target “{document}”.",
            f"Use {', '.join(TARGETS)}, or a box.",
            field="target",
        )
    return TARGETS[document]


class EarlierSlipDocument(Document):
    """An earlier slip of the same coffee in the same brewer; without a plan it had the same."""

    name: Annotated[str, Field(max_length=80)]
    setting: Annotated[str, Field(max_length=40)] | None = None
    plan: PlanDocument | None = None
    outcome: OutcomeDocument = OutcomeDocument()


class GoalDocument(Document):
    """What is wanted beyond the box: a time from the first pour to the bare bed."""

    time_s: Pair | None = None

    @model_validator(mode="after")
    def _is_a_span(self) -> GoalDocument:
        if self.time_s is not None and not 0 < self.time_s[0] <= self.time_s[1] <= 172_800:
            raise ValueError("A target time goes from a shorter to a longer one, in seconds.")
        return self


class SlipDocument(Document):
    """One pass: plan, gear, coffee, what came of it, and the brew with its log where it was followed."""

    format: Literal["hakari.slip/1"] = "hakari.slip/1"
    plan: PlanDocument
    grinder: GrinderDocument | None = None
    setting: str | None = None
    coffee: CoffeeDocument = CoffeeDocument()
    outcome: OutcomeDocument = OutcomeDocument()
    target: str | TargetDocument = "classical"
    school: LeverOrderName = "grind-first"
    water: Literal["soft", "fine", "hard", "alkaline"] | None = None
    gear_clean: bool | None = None
    lean: Literal["brighter", "rounder", "cleaner", "fuller"] | None = None
    goal: GoalDocument = GoalDocument()
    note: Annotated[str, Field(max_length=600)] = ""
    brew: BrewDocument | None = None
    previous: Annotated[list[EarlierSlipDocument], Field(max_length=50)] = []

    def case(self) -> Case:
        """Return the core's case."""
        plan, planned_steep_s = self._as_brewed()
        outcome = self.outcome.core()
        if self.outcome.added_water_g is None:
            outcome = replace(outcome, added_water_g=self.plan.dilution_g)
        if plan.is_pressed:
            outcome = replace(outcome, drawdown_s=None, last_drip_s=None)
        grinder = self.grinder.core() if self.grinder and self.grinder.samples else None
        if grinder and self.setting:
            grinder.dial.parse(self.setting)
        previous = tuple(EarlierCup(p.name, p.outcome.core(), self._changed_since(p)) for p in self.previous)
        return Case(
            plan=plan, grind=self.plan.grind.core(), outcome=outcome, target=target_of(self.target),
            change_first=self.school, grinder=grinder, setting=self.setting if grinder else None, roast=self.plan.roast,
            days_off_roast=self.coffee.days_off_roast, dense=self.coffee.dense,
            ground_age_h=self.coffee.ground_age_h, water=self.water, gear_clean=self.gear_clean,
            lean=self.lean, previous=previous,
            only=frozenset({"grind"}) if self.school == "grind-only" else None,
            factors=self.plan.factors(), planned_steep_s=planned_steep_s, time_goal_s=self.goal.time_s,
            diluted=self.outcome.added_water_g is not None or self.plan.dilution_g > 0, ice_g=self.plan.ice_g,
            held_back_g=self.plan.held_back_g if self.outcome.held_back_g is None else self.outcome.held_back_g,
            by_marks=self.plan.by_marks, style=self.plan.style, style_options=self.plan.style_options,
        )  # fmt: skip

    def _changed_since(self, earlier: EarlierSlipDocument) -> tuple[str, ...]:
        """Return what was changed since an earlier slip; how the flow was known then does not make it another brew."""
        before = earlier.plan or self.plan
        known = earlier.setting is not None and self.setting is not None
        grind = earlier.setting != self.setting if known else before.grind != self.plan.grind
        into_the_cup = [(p.dilution_g, p.held_back_g, p.ice_g) for p in (before, self.plan)]
        changes = changes_between(before.core(), self.plan.core())
        return (*(["grind"] if grind else []), *changes, *(["dilution"] if into_the_cup[0] != into_the_cup[1] else []))

    @property
    def poured_g(self) -> float:
        """The water that was poured: by the scale where it saw that, else as planned, g."""
        found = self.brew.found if self.brew is not None else None
        if found is not None and found.pours_from == "scale" and found.pours:
            return sum(p.water_g for p in found.pours)
        return self.plan.core().water_g

    def _as_poured(self, plan: Plan) -> Plan:
        """Return a plan with as much water as was really poured, each pour in proportion."""
        share = self.poured_g / plan.water_g
        return (
            plan
            if share == 1
            else replace(plan, pours=tuple(replace(p, water_g=share * p.water_g) for p in plan.pours))
        )

    def _as_brewed(self) -> tuple[Plan, float | None]:
        """Return the plan as poured, with how and when a steep was really ended, and the time that was meant."""
        plan, o = self._as_poured(self.plan.core()), self.outcome
        if plan.steep is None or not plan.is_pressed:
            return plan, None
        steep = replace(plan.steep, force=o.press_force or plan.steep.force)
        meant, pressed = steep.seconds, o.pressed_s
        if pressed is None and o.drawdown_s is not None:
            pressed = o.drawdown_s - steep.press_s
        if pressed is None:
            return replace(plan, steep=steep), meant
        # However early it was pressed: all of the water was in, and it was not stirred for longer than that.
        poured_by = max((p.start_s or 0.0) + p.duration_s for p in plan.pours)
        seconds = max(pressed, poured_by, 5.0)
        return replace(plan, steep=replace(steep, seconds=seconds, stir_s=min(steep.stir_s, seconds))), meant
