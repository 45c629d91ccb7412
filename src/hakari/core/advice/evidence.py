"""What was seen, timed and tasted, as signs that causes can be weighed by."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from hakari.core.brew.display_units import DisplayUnits
from hakari.core.brew.schedule import STIRRINGS, Plan, Roast
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
# How far each word speaks for over- or under-extraction, per strength (0 none … 3 strong).
_OVER = {"bitter": 1.0, "drying": 1.0, "harsh": 0.9, "heavy": 0.6, "muddled": 0.6}
_UNDER = {"sour": 1.0, "sharp": 1.0, "thin": 0.7, "salty": 0.6}


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
    are, with its options; ``own_time_share`` the spread of the user's own repeats in time, as a share of it, where measured.
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


@dataclass(frozen=True)
class Signs:
    """Evidence as numbers from 0 (none) to about 3 (strong), by name."""

    values: dict[str, float]

    def __getitem__(self, name: str) -> float:
        return self.values.get(name, 0.0)


def signs_of(case: Case, expected_s: float, ey_percent: float | None, time_share: float) -> Signs:
    """Turn an outcome and what is known of the coffee into signs.

    ``expected_s`` is the predicted bare bed, good to about ``time_share`` of itself; ``ey_percent`` what was measured.

    Parameters
    ----------
    case : Case
        The brew to be judged.
    expected_s : float
        Predicted time of the bare bed, s.
    ey_percent : float or None
        Extraction, %.
    time_share : float
        Standard deviation of the predicted time, as a share.

    Returns
    -------
    Signs
        Evidence as numbers.
    """
    outcome, target = case.outcome, case.target
    taste = outcome.tasted
    over = sum(w * taste.get(k, 0) for k, w in _OVER.items())
    under = sum(w * taste.get(k, 0) for k, w in _UNDER.items())
    values: dict[str, float] = {
        "over": min(over, 4.0),
        "under": min(under, 4.0),
        "both": min(over, under, 3.0),
    }
    for word in TASTE_WORDS:
        values[word] = float(taste.get(word, 0))
    if outcome.drawdown_s is not None:
        late = (outcome.drawdown_s - expected_s) / expected_s
        values["slow"], values["fast"] = (
            min(3.0, max(0.0, late / time_share)),
            min(3.0, max(0.0, -late / time_share)),
        )
    values["stalled"] = 1.0 if outcome.stalled else 0.0
    # A concentrate gives less of the coffee whatever its grind, so its extraction is no sign.
    if ey_percent is not None and not case.is_concentrate:
        values["ey-high"] = min(3.0, max(0.0, ey_percent - target.ey_percent[1]))
        values["ey-low"] = min(3.0, max(0.0, target.ey_percent[0] - ey_percent))
    if outcome.tds_percent is not None:
        values["tds-high"] = min(3.0, max(0.0, (outcome.tds_percent - target.tds_percent[1]) / 0.1))
        values["tds-low"] = min(3.0, max(0.0, (target.tds_percent[0] - outcome.tds_percent) / 0.1))
    for sign in outcome.bed:
        values[f"bed-{sign}"] = 1.0
    return Signs(values | _signs_of_coffee(case) | _signs_of_plan(case))


def _signs_of_coffee(case: Case) -> dict[str, float]:
    """Heat against roast, young and old coffee, dense beans that shatter into more fines, the water, and the gear."""
    heat, cold = case.plan.water_c, case.plan.water_c < COLD_C
    days, hours = case.days_off_roast, case.ground_age_h
    return {
        "cool-for-roast": max(0.0, (92.0 - heat) / 4) if case.roast == "light" and not cold else 0.0,
        "hot-for-roast": max(0.0, (heat - 91.0) / 3) if case.roast in ("medium-dark", "dark") else 0.0,
        "gassy": 1.0 if days is not None and days < 3 else 0.0,
        "stale": max(1.5 if days is not None and days > 45 else 0.0, 1.5 if hours is not None and hours > 24 else 0.0),
        "dense": 1.0 if case.dense else 0.0,
        "odd-water": 1.5 if case.water in ("hard", "alkaline", "soft") else 0.0,
        "dirty": 1.5 if case.gear_clean is False else 0.0,
        "plunger-stuck": 1.0 if case.outcome.plunger_stuck else 0.0,
    }


def _signs_of_plan(case: Case) -> dict[str, float]:
    """How it was brewed: the kind of brew, how hard it was poured and stirred, the brewer, how wide the grind is."""
    plan, steep = case.plan, case.plan.steep
    actions = sum(a.do in STIRRINGS for a in plan.actions)
    hard = sum(p.water_g for p in plan.pours if p.strength == "hard") / plan.water_g
    drip = plan.brewer.way in ("drip", "valve") and steep is None
    usual_fines = 0.08 * (case.grind.d50_um / 700.0) ** -1.3
    seconds = steep.seconds if steep else 0.0
    cold = plan.water_c < COLD_C
    return {
        "drip": float(drip),
        "steep": float(steep is not None),
        "diluted": float(case.diluted),
        "pressed-late": float(case.pressed_late),
        "pressed-early": float(case.pressed_early),
        "concentrate": float(case.is_concentrate and not case.diluted),
        "mesh": float(steep is not None and plan.filter_name in ("metal", "none")),
        "wide": min(2.0, max(0.0, (case.grind.span - 1.3) / 0.15)),
        "dusty": min(2.0, max(0.0, (case.grind.below(100.0) / usual_fines - 1.35) / 0.25)) if drip else 0.0,
        "hard-pours": 1.5 * hard if drip else 0.0,
        "stirred": min(2.0, steep.stir_s / 25 if steep else max(0.0, (actions - 1) / 2) + hard),
        "still": float((steep.stir_s < 3 if steep else actions == 0) and not cold),
        "cold-brewer": float(not plan.heat.preheated and plan.heat.material != "plastic" and not cold),
        "narrow": float(
            drip and ((plan.brewer.open_share < 0.9 and not plan.brewer.mesh) or plan.brewer.bottom_mm < 12)
        ),
        "big-dose": min(2.0, max(0.0, (plan.dose_g - 24.0) / 5)) if drip else 0.0,
        "long-steep": float(steep is not None and not cold and seconds > 330) + float(cold and seconds > 18 * 3600),
        "short-steep": float(steep is not None and not cold and 0 < seconds < 45)
        + float(cold and 0 < seconds < 8 * 3600),
    }
