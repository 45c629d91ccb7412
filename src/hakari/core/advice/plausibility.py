"""Readings of a cup that cannot be, which are refused, and those that are unlikely, which are asked about once."""

from __future__ import annotations

from hakari.core.advice.evidence import BED_SIGNS, TASTE_WORDS, Outcome
from hakari.core.brew.schedule import LONGEST_DRIP_S, Plan
from hakari.core.brew.usual import Unlikely, outside
from hakari.core.errors import InputError

CONCENTRATE_RATIO = 9.0
USUAL_STRENGTH, USUAL_CONCENTRATE = (0.8, 2.0), (1.5, 10.0)
USUAL_EXTRACTION = (12.0, 27.0)
USUAL_HELD = (0.8, 3.5)  # water that a gram of grounds keeps, g
USUAL_SPENT = (0.73, 0.88)  # of the dose
TIME_FACTOR = 2.5
READING_NAMES = {
    "drawdown_s": "The time of the bare bed", "last_drip_s": "The time of the last drip", "tds_percent": "Strength",
    "drink_g": "The drink", "spent_dry_g": "The dried grounds",
}  # fmt: skip
MOST_EXTRACTED_PERCENT = 33.0  # about all that hot water can dissolve of roasted coffee


def _span(name: str, low: float, high: float) -> str:
    if name.endswith("_s"):
        return f"between {low:.0f} s and {high / 3600:g} h"
    return f"{low:g}–{high:g} {'%' if name.endswith('_percent') else 'g'}"


def check_strength(tds_percent: float | None, drink_g: float | None, dose_g: float) -> None:
    """Refuse a strength that would need more than coffee has to give.

    Parameters
    ----------
    tds_percent : float or None
        Strength of the drink, %.
    drink_g : float or None
        Mass of the drink, g.
    dose_g : float
        Coffee, g.

    Raises
    ------
    InputError
        ``strength-impossible``.
    """
    if tds_percent is None or drink_g is None:
        return
    extracted = tds_percent * drink_g / dose_g
    if extracted > MOST_EXTRACTED_PERCENT:
        raise InputError(
            "strength-impossible",
            f"{tds_percent:g} % in {drink_g:.0f} g would be {extracted:.0f} % of the coffee; at most about 30 % dissolves.",
            "Strength is usually 0.8–2 %, of a concentrate up to 8 %: check the reading and the mass of the drink.",
            field="outcome.tds_percent",
        )


def check_outcome(outcome: Outcome, dose_g: float | None = None) -> None:
    """Refuse impossible readings.

    Parameters
    ----------
    outcome : Outcome
        What was recorded of the cup.
    dose_g : float or None
        Coffee, g.

    Raises
    ------
    InputError
        ``unknown-taste``, ``taste-strength``, ``unknown-bed-sign``, ``reading-impossible``.
    """
    for word, strength in (*outcome.taste.items(), *outcome.taste_cooled.items()):
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
        "drawdown_s": (1, LONGEST_DRIP_S),
        "last_drip_s": (1, LONGEST_DRIP_S),
        "tds_percent": (0.05, 25),
        "drink_g": (1, 5000),
        "spent_dry_g": (0.5, 400),
    }
    for name, (low, high) in limits.items():
        value = getattr(outcome, name)
        if value is not None and not low <= value <= high:
            raise InputError(
                "reading-impossible", f"{READING_NAMES[name]} must be {_span(name, low, high)}.",
                "Correct the value, or leave it empty.", field=f"outcome.{name}",
            )  # fmt: skip
    if (
        outcome.spent_dry_g is not None
        and dose_g is not None
        and not (1 - MOST_EXTRACTED_PERCENT / 100) * dose_g <= outcome.spent_dry_g < dose_g
    ):
        raise InputError(
            "reading-impossible", f"{outcome.spent_dry_g:g} g of dried grounds cannot come from {dose_g:g} g of coffee.",
            "Dry them until they lose no more, and weigh them all; about four fifths of the dose are left.",
            field="outcome.spent_dry_g",
        )  # fmt: skip
    bare, drip = outcome.drawdown_s, outcome.last_drip_s
    if bare is not None and drip is not None and drip < bare:
        raise InputError(
            "reading-impossible", "The last drip cannot come before the bare bed.",
            "Both are counted from the first pour; check the two times.", field="outcome.last_drip_s",
        )  # fmt: skip


def unlikely_readings(outcome: Outcome, plan: Plan, expected_s: float, added_g: float = 0.0) -> list[Unlikely]:
    """Return readings that are possible, but more often slips of the finger than true.

    Parameters
    ----------
    outcome : Outcome
        What was recorded; impossible readings have been refused before.
    plan : Plan
        What was brewed.
    expected_s : float
        Predicted time of the bare bed, s.
    added_g : float
        Water and ice that go into the drink after the brew, g.

    Returns
    -------
    list of Unlikely
        Each with its usual range: strength by the kind of drink and by the extraction that it means (about 14 to 26 %
        of the coffee), the drink by what grounds keep, the bare bed by the prediction and by the last pour of the plan,
        dried grounds by what is left. Where pours wait for an event, no time of the plan is held against what was seen.
    """
    dose, poured = plan.dose_g, plan.water_g
    concentrate = plan.ratio < CONCENTRATE_RATIO and added_g <= 0
    low, high = USUAL_CONCENTRATE if concentrate else USUAL_STRENGTH
    if outcome.drink_g is not None:
        per_percent = dose / outcome.drink_g
        low, high = max(low, USUAL_EXTRACTION[0] * per_percent), min(high, USUAL_EXTRACTION[1] * per_percent)
    held = [max(poured + added_g - share * dose, 0.0) for share in USUAL_HELD[::-1]]
    found = [
        outside("outcome.tds_percent", outcome.tds_percent, low, max(low, high)),
        outside("outcome.drink_g", outcome.drink_g, held[0], held[1]),
        outside("outcome.spent_dry_g", outcome.spent_dry_g, USUAL_SPENT[0] * dose, USUAL_SPENT[1] * dose),
    ]
    if plan.steep is None and not outcome.stalled:
        found.append(_unlikely_time(outcome.drawdown_s, plan, expected_s))
    return [unlikely for unlikely in found if unlikely is not None]


def _unlikely_time(drawdown_s: float | None, plan: Plan, expected_s: float) -> Unlikely | None:
    poured_by_s = last_pour_ends_s(plan)
    if drawdown_s is not None and poured_by_s is not None and drawdown_s < poured_by_s:
        return Unlikely("outcome.drawdown_s", drawdown_s, poured_by_s, TIME_FACTOR * expected_s, "before-last-pour")
    if poured_by_s is None:
        return None
    return outside("outcome.drawdown_s", drawdown_s, expected_s / TIME_FACTOR, TIME_FACTOR * expected_s)


def last_pour_ends_s(plan: Plan) -> float | None:
    """Return when the last pour of a plan ends; where pours wait for an event, no plan says it.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    float or None
        Seconds from the first pour.
    """
    starts = [p.start_s for p in plan.pours]
    ends = [s + p.duration_s for s, p in zip(starts, plan.pours, strict=True) if s is not None]
    return max(ends) if len(ends) == len(starts) else None
