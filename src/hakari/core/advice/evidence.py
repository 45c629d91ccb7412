"""A brew to be judged: its plan, what was seen, timed and tasted, and what was meant."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal

from hakari.core.arrays import FloatArray
from hakari.core.brew.display_units import DisplayUnits
from hakari.core.brew.methods import WINDOWS, Window
from hakari.core.brew.schedule import Plan, Roast
from hakari.core.flow.factors import FlowFactors
from hakari.core.grinder.dial import Dial
from hakari.core.grinder.grinder import Grinder
from hakari.core.psd.grind import Grind

LeverOrder = Literal["grind-first", "grind-last", "grind-only", "technique-first", "start-coarse"]
Water = Literal["soft", "fine", "hard", "alkaline"]
HAND_TIME_SHARE = 0.05  # spread of one brew's time, as a share of it, until a user's own repeats say it
OTHER_TIME = 1.25  # a press so much later or sooner than meant was another steep
COLD_C = 45.0
CONCENTRATE_RATIO = 8.5
Lean = Literal["brighter", "rounder", "cleaner", "fuller"]
COOLED_SHARE = 0.6  # a cup says more as it cools
TASTE_WORDS = (
    "sour", "sharp", "thin", "hollow", "bitter", "drying", "harsh", "heavy", "muddled", "salty", "papery", "silty",
    "flat", "weak", "strong", "sweet", "balanced",
)  # fmt: skip
BAD_WORDS = tuple(w for w in TASTE_WORDS if w not in ("strong", "sweet", "balanced"))
BED_SIGNS = ("flat", "mounded", "cratered", "holes", "stranded", "mud", "shiny", "cone")


@dataclass(frozen=True)
class Target:
    """The box in strength and extraction that a user wants to be in."""

    name: str
    ey_percent: tuple[float, float]
    tds_percent: tuple[float, float]

    def holds(self, ey_percent: float, tds_percent: float) -> bool:
        """Whether a cup is in the box.

        Parameters
        ----------
        ey_percent : float
            Extraction, %.
        tds_percent : float
            Strength, %.

        Returns
        -------
        bool
            Whether a cup is in the box.
        """
        ey, tds = self.ey_percent, self.tds_percent
        return ey[0] <= ey_percent <= ey[1] and tds[0] <= tds_percent <= tds[1]


TARGETS = {
    t.name: t
    for t in (
        Target("classical", (18.0, 22.0), (1.15, 1.45)),
        Target("modern", (20.0, 24.0), (1.25, 1.50)),
        Target("lighter", (18.0, 22.0), (0.95, 1.20)),
        Target("stronger", (18.0, 22.0), (1.45, 1.70)),
    )
}


@dataclass(frozen=True)
class Outcome:
    """What happened; everything may be missing. Times from the first pour.

    ``spent_dry_g`` are the spent grounds, dried: what is missing of the dose was dissolved. ``liked`` goes from 1 to 5;
    ``added_water_g`` went into the finished drink, which is judged as it was drunk.
    """

    drawdown_s: float | None = None
    last_drip_s: float | None = None
    stalled: bool | None = None
    tds_percent: float | None = None
    drink_g: float | None = None
    taste: dict[str, int] = field(default_factory=dict)
    bed: tuple[str, ...] = ()
    plunger_stuck: bool = False
    spent_dry_g: float | None = None
    taste_cooled: dict[str, int] = field(default_factory=dict)
    liked: int | None = None
    added_water_g: float = 0.0

    @property
    def tasted(self) -> dict[str, float]:
        """Words by strength: hot alone, or both tastings, the cooled one counting more."""
        if not self.taste_cooled:
            return {k: float(v) for k, v in self.taste.items()}
        words = self.taste.keys() | self.taste_cooled.keys()
        hot = 1 - COOLED_SHARE if self.taste else 0.0
        return {w: hot * self.taste.get(w, 0) + (1 - hot) * self.taste_cooled.get(w, 0) for w in words}


@dataclass(frozen=True)
class EarlierCup:
    """An earlier slip of the same coffee in the same brewer: its name, what was said, and what was different then."""

    name: str
    outcome: Outcome
    changed: tuple[str, ...] = ()

    @property
    def differs(self) -> bool:
        """Whether it was brewed otherwise."""
        return bool(self.changed)


@dataclass(frozen=True)
class Case:
    """One brew to be judged: plan, grind, gear, coffee, outcome, and what is wanted.

    ``ground_age_h`` is how long ago the coffee was ground; ``lean`` a goal beyond the box; ``only`` the kinds of
    change that its style makes, all where ``None``; ``previous`` are earlier slips, newest first; ``effect_sizes`` how
    large each lever's effect was in them against what the models say, by kind; ``units`` those that changes are written in.
    ``planned_steep_s`` is the steep that was meant, where ``plan`` holds the one that was made; ``time_goal_s`` a span wanted
    for the bare bed; ``diluted`` says that water goes into the finished drink, ``ice_g`` that ice melts into it,
    ``held_back_g`` what of a concentrate stays out of it; ``by_marks`` that there is no scale; ``style`` whose pours these
    are, with its options; ``own_time_share`` the spread of the user's own repeats in time, as a share of it, where measured;
    ``windows`` the sizes that suit each method, some of them the user's own.
    """

    plan: Plan
    grind: Grind
    outcome: Outcome
    target: Target
    change_first: LeverOrder = "grind-first"
    grinder: Grinder | None = None
    setting: str | None = None
    roast: Roast = "medium"
    days_off_roast: int | None = None
    dense: bool = False
    ground_age_h: float | None = None
    water: Water | None = None
    gear_clean: bool | None = None
    lean: Lean | None = None
    only: frozenset[str] | None = None
    effect_sizes: dict[str, float] = field(default_factory=dict)
    previous: tuple[EarlierCup, ...] = ()
    factors: FlowFactors = field(default_factory=FlowFactors)
    units: DisplayUnits = field(default_factory=DisplayUnits)
    planned_steep_s: float | None = None
    time_goal_s: tuple[float, float] | None = None
    diluted: bool = False
    ice_g: float = 0.0
    held_back_g: float = 0.0
    by_marks: bool = False
    style: str | None = None
    style_options: Mapping[str, str] = field(default_factory=dict)
    own_time_share: float | None = None
    windows: tuple[Window, ...] = WINDOWS

    @property
    def hand_time_share(self) -> float:
        """How far one brew's time spreads about its plan's, as a share of it."""
        return self.own_time_share if self.own_time_share is not None else HAND_TIME_SHARE

    @property
    def on_dial(self) -> tuple[Dial, int] | None:
        """The dial that can be turned and the place it stands at; ``None`` without a grinder, a setting, or with blades."""
        if self.grinder is None or self.setting is None or self.grinder.has_blades:
            return None
        return self.grinder.dial, self.grinder.dial.parse(self.setting)

    @cached_property
    def sizes_um(self) -> FloatArray:
        """Median size at each place of the grinder's dial by its curve, (places,)."""
        assert self.grinder is not None
        return self.grinder.curve().median_um

    def drink_g(self, brewed_g: float) -> float:
        """Return the mass of the drink as it was drunk: weighed, or what the brew gave with the water and ice in it.

        Parameters
        ----------
        brewed_g : float
            What the models say that the brew gives, g.

        Returns
        -------
        float
            Mass, g.
        """
        poured = max(0.0, brewed_g - self.held_back_g)
        return self.outcome.drink_g or poured + self.outcome.added_water_g + self.ice_g

    @property
    def is_concentrate(self) -> bool:
        """Whether the brew is so short that it is meant to be diluted."""
        return self.plan.steep is not None and self.plan.ratio < CONCENTRATE_RATIO

    @property
    def pressed_late(self) -> bool:
        """Whether it was pressed so much later than meant that it was another steep."""
        steep, meant = self.plan.steep, self.planned_steep_s
        return steep is not None and meant is not None and steep.seconds > OTHER_TIME * meant

    @property
    def pressed_early(self) -> bool:
        """Whether it was pressed so much sooner than meant that it was another steep."""
        steep, meant = self.plan.steep, self.planned_steep_s
        return steep is not None and meant is not None and OTHER_TIME * steep.seconds < meant
