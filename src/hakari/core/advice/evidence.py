"""What was seen, timed and tasted, as signs that causes can be weighed by."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

from hakari.core.brew.schedule import Plan, Roast
from hakari.core.errors import InputError
from hakari.core.flow.factors import FlowFactors
from hakari.core.grinder.grinder import Grinder
from hakari.core.psd.whole import Grind

School = Literal["grind-first", "grind-last", "technique-first", "start-coarse"]
TASTE_WORDS = (
    "sour", "sharp", "thin", "hollow", "bitter", "drying", "harsh", "heavy", "muddled", "salty", "papery", "silty",
    "weak", "strong", "sweet", "balanced",
)  # fmt: skip
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
    """What happened; everything may be missing. Times from the first pour."""

    drawdown_s: float | None = None
    last_drip_s: float | None = None
    stalled: bool | None = None
    tds_percent: float | None = None
    drink_g: float | None = None
    taste: dict[str, int] = field(default_factory=dict)
    bed: tuple[str, ...] = ()


@dataclass(frozen=True)
class Case:
    """One brew to be judged: plan, grind, gear, coffee, outcome, and what is wanted."""

    plan: Plan
    grind: Grind
    outcome: Outcome
    target: Target
    school: School = "grind-first"
    grinder: Grinder | None = None
    setting: str | None = None
    roast: Roast = "medium"
    days_off_roast: int | None = None
    dense: bool = False
    factors: FlowFactors = field(default_factory=FlowFactors)


def check_outcome(outcome: Outcome) -> None:
    """Refuse impossible readings.

    Raises
    ------
    InputError
        ``unknown-taste``, ``taste-strength``, ``unknown-bed-sign``, ``reading-impossible``.
    """
    for word, strength in outcome.taste.items():
        if word not in TASTE_WORDS:
            raise InputError(
                "unknown-taste", f"“{word}” is not one of the taste words.", f"Use {', '.join(TASTE_WORDS)}.",
                field="outcome.taste",
            )  # fmt: skip
        if not 0 <= strength <= 3:
            raise InputError(
                "taste-strength", f"{word} at {strength} is off the scale.", "Use 0 (none) to 3 (strong).",
                field="outcome.taste",
            )  # fmt: skip
    for sign in outcome.bed:
        if sign not in BED_SIGNS:
            raise InputError(
                "unknown-bed-sign", f"“{sign}” is not one of the bed signs.", f"Use {', '.join(BED_SIGNS)}.",
                field="outcome.bed",
            )  # fmt: skip
    limits = {
        "drawdown_s": (1, 7200),
        "last_drip_s": (1, 7200),
        "tds_percent": (0.05, 25),
        "drink_g": (1, 5000),
    }
    for name, (low, high) in limits.items():
        value = getattr(outcome, name)
        if value is not None and not low <= value <= high:
            raise InputError(
                "reading-impossible", f"{value:g} is not a possible {name.rsplit('_', 1)[0].replace('_', ' ')}.",
                f"Type a value from {low:g} to {high:g}, or leave it empty.", field=f"outcome.{name}",
            )  # fmt: skip
    bare, drip = outcome.drawdown_s, outcome.last_drip_s
    if bare is not None and drip is not None and drip < bare:
        raise InputError(
            "reading-impossible", "The last drip cannot come before the bare bed.",
            "Both are counted from the first pour; check the two times.", field="outcome.last_drip_s",
        )  # fmt: skip


@dataclass(frozen=True)
class Signs:
    """Evidence as numbers from 0 (none) to about 3 (strong), by name."""

    values: dict[str, float]

    def __getitem__(self, name: str) -> float:
        return self.values.get(name, 0.0)


def signs_of(case: Case, expected_s: float, ey_percent: float | None, time_share: float) -> Signs:
    """Turn an outcome and what is known of the coffee into signs.

    ``expected_s`` is the predicted bare bed, good to about ``time_share`` of itself; ``ey_percent`` what was measured.
    """
    outcome, target = case.outcome, case.target
    taste = outcome.taste
    over = sum(w * taste.get(k, 0) for k, w in _OVER.items())
    under = sum(w * taste.get(k, 0) for k, w in _UNDER.items())
    values: dict[str, float] = {
        "over": min(over, 4.0),
        "under": min(under, 4.0),
        "both": min(over, under, 3.0),
    }
    for word in ("weak", "strong", "papery", "silty", "hollow", "sweet", "balanced"):
        values[word] = float(taste.get(word, 0))
    if outcome.drawdown_s is not None:
        late = (outcome.drawdown_s - expected_s) / expected_s
        values["slow"], values["fast"] = (
            min(3.0, max(0.0, late / time_share)),
            min(3.0, max(0.0, -late / time_share)),
        )
    values["stalled"] = 1.0 if outcome.stalled else 0.0
    if ey_percent is not None:
        values["ey-high"] = min(3.0, max(0.0, ey_percent - target.ey_percent[1]))
        values["ey-low"] = min(3.0, max(0.0, target.ey_percent[0] - ey_percent))
    if outcome.tds_percent is not None:
        values["tds-high"] = min(3.0, max(0.0, (outcome.tds_percent - target.tds_percent[1]) / 0.1))
        values["tds-low"] = min(3.0, max(0.0, (target.tds_percent[0] - outcome.tds_percent) / 0.1))
    for sign in outcome.bed:
        values[f"bed-{sign}"] = 1.0
    return Signs(values | _signs_of_coffee(case))


def _signs_of_coffee(case: Case) -> dict[str, float]:
    """Heat against roast, young coffee that gasses, dense beans that shatter into more fines."""
    heat = case.plan.water_c
    return {
        "cool-for-roast": max(0.0, (92.0 - heat) / 4) if case.roast == "light" else 0.0,
        "hot-for-roast": max(0.0, (heat - 91.0) / 3) if case.roast in ("medium-dark", "dark") else 0.0,
        "gassy": 1.0 if case.days_off_roast is not None and case.days_off_roast < 3 else 0.0,
        "dense": 1.0 if case.dense else 0.0,
    }
