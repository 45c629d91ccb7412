"""What a good barista changes first, where the models alone would choose otherwise: rules that are read, not weights.

Each rule names when it holds and which changes it puts first. The first that holds is applied; what it prefers keeps its
order by weight. Sources: taste separates strength from extraction, strength is corrected by ratio, dose or water in the cup;
heat goes with roast (darker cooler, lighter and denser hotter); a cup that is bitter at low extraction is uneven or too hot.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from hakari.core.advice.evidence import COLD_C, Case
from hakari.core.advice.goal import State
from hakari.core.advice.moves import Candidate
from hakari.core.advice.status import time_against_goal

UNDER, OVER = ("sour", "sharp", "thin", "hollow", "salty"), ("bitter", "drying", "harsh")
HOT_FOR_DARK_C, COOL_FOR_LIGHT_C = 94.0, 91.0
STALE_GROUND_H, FRESH_ROAST_DAYS = 12.0, 3
LARGEST_STEP_LN = 0.14  # 15 % in grind size in one pass, twice that after a stall or a gross miss
GROSS_MISS, GROSS_MISS_PERCENT = 3, 3.5
LARGEST_FINER_LN = 0.1  # who starts coarse comes finer by small steps


@dataclass(frozen=True)
class Rule:
    """When a rule holds, and which changes it puts first, by kind and direction; without a direction, in any."""

    name: str
    holds: Callable[[Case, State, bool], bool]
    first: tuple[tuple[str, str | None], ...]


def _said(case: Case, words: tuple[str, ...]) -> float:
    return sum(v for word, v in case.outcome.tasted.items() if word in words)


def _only_strength(case: Case, word: str) -> bool:
    return _said(case, (word,)) > 0 and _said(case, (*UNDER, *OVER)) == 0


RULES: tuple[Rule, ...] = (
    Rule(
        "ground long ago: grind fresh",
        lambda case, now, measured: (case.ground_age_h or 0) >= STALE_GROUND_H,
        (("coffee", "fresher"),),
    ),
    Rule(
        "roasted days ago: let it rest",
        lambda case, now, measured: case.days_off_roast is not None and case.days_off_roast < FRESH_ROAST_DAYS,
        (("rest", None),),
    ),
    Rule(
        "pressed later than meant, and over-extracted: press in time",
        lambda case, now, measured: case.pressed_late and _said(case, OVER) > 0 and _said(case, UNDER) == 0,
        (("time", "shorter"),),
    ),
    Rule(
        "pressed sooner than meant, and under-extracted: press in time",
        lambda case, now, measured: case.pressed_early and _said(case, (*UNDER, "weak")) > 0 and _said(case, OVER) == 0,
        (("time", "longer"),),
    ),
    Rule(
        "slower than was asked for, and nothing else wrong: coarser",
        lambda case, now, measured: time_against_goal(case) > 0 and _said(case, UNDER) == 0,
        (("grind", "coarser"),),
    ),
    Rule(
        "faster than was asked for, and nothing else wrong: finer",
        lambda case, now, measured: time_against_goal(case) < 0 and _said(case, OVER) == 0,
        (("grind", "finer"),),
    ),
    Rule(
        "no scale, and strong: a smaller spoon of coffee",
        lambda case, now, measured: case.by_marks and _only_strength(case, "strong"),
        (("dose", "less"), ("grind", "coarser")),
    ),
    Rule(
        "no scale, and weak: a fuller spoon of coffee",
        lambda case, now, measured: case.by_marks and _only_strength(case, "weak"),
        (("dose", "more"), ("grind", "finer")),
    ),
    Rule(
        "a cold brew that is flat: longer, or more coffee",
        lambda case, now, measured: case.plan.water_c < COLD_C and _said(case, ("flat",)) > 0 and _said(case, OVER) == 0,
        (("time", "longer"), ("dose", "more"), ("ratio", "shorter")),
    ),
    Rule(
        "flat and nothing else: rule out old coffee and alkaline water before any lever",
        lambda case, now, measured: _said(case, ("flat",)) > 0 and _said(case, (*UNDER, *OVER)) == 0,
        (("coffee", "fresher"), ("water", "change")),
    ),
    Rule(
        "diluted, and weak as drunk: less water in the cup",
        lambda case, now, measured: case.diluted and _only_strength(case, "weak"),
        (("dilution", "less"), ("ratio", "shorter")),
    ),
    Rule(
        "diluted, and strong as drunk: more water in the cup",
        lambda case, now, measured: case.diluted and _only_strength(case, "strong"),
        (("dilution", "more"), ("ratio", "longer")),
    ),
    Rule(
        "a concentrate or a cold brew that is strong as drunk: more water in the cup",
        lambda case, now, measured: case.plan.steep is not None and _only_strength(case, "strong")
        and (case.is_concentrate or case.plan.water_c < COLD_C),
        (("bypass-water", None), ("ratio", "longer")),
    ),
    Rule(
        "a concentrate that is bitter: coarser, or cooler",
        lambda case, now, measured: case.is_concentrate
        and _said(case, OVER) > 0 and _said(case, UNDER) == 0,
        (("grind", "coarser"), ("temperature", "cooler"), ("time", "shorter")),
    ),
    Rule(
        "strong and nothing else: more water, in the brew or in the cup",
        lambda case, now, measured: case.school != "grind-only" and _only_strength(case, "strong"),
        (("ratio", "longer"), ("bypass-water", None), ("dose", "less")),
    ),
    Rule(
        "the recipe is fixed and strength is wrong: the grind does everything",
        lambda case, now, measured: case.school == "grind-only" and _only_strength(case, "strong"),
        (("grind", "coarser"),),
    ),
    Rule(
        "the recipe is fixed and the cup is weak: the grind does everything",
        lambda case, now, measured: case.school == "grind-only" and _only_strength(case, "weak"),
        (("grind", "finer"),),
    ),
    Rule(
        "a stronger cup is wished for: more coffee at the same water",
        lambda case, now, measured: case.target.name == "stronger" and now.tds_percent < case.target.tds_percent[0]
        and _said(case, (*UNDER, *OVER)) == 0,
        (("dose", "more"), ("ratio", "shorter")),
    ),
    Rule(
        "silt in a steep: paper under the mesh, or wait and pour off",
        lambda case, now, measured: case.plan.steep is not None and _said(case, ("silty",)) >= 2,
        (("filter", "paper-under"), ("time", "longer"), ("mesh", None)),
    ),
    Rule(
        "a steep that is weak or under-extracted: longer, then finer",
        lambda case, now, measured: case.plan.steep is not None and case.school != "technique-first"
        and _said(case, (*UNDER, "weak")) > 0 and _said(case, OVER) == 0,
        (("time", "longer"), ("grind", "finer")),
    ),
    Rule(
        "weak, and the recipe's setting stands: more coffee",
        lambda case, now, measured: case.school == "grind-last" and _only_strength(case, "weak"),
        (("dose", "more"), ("ratio", "shorter")),
    ),
    Rule(
        "weak at the right measured extraction: a shorter ratio, or more coffee",
        lambda case, now, measured: measured and _only_strength(case, "weak")
        and case.target.ey_percent[0] <= now.ey_percent <= case.target.ey_percent[1],
        (("ratio", "shorter"), ("dose", "more")),
    ),
    Rule(
        "bitter at a low measured extraction: too hot or uneven, not too fine",
        lambda case, now, measured: (
            measured and _said(case, OVER) > 0 and _said(case, UNDER) == 0 and now.ey_percent < case.target.ey_percent[0]
        ),
        (("agitation", None), ("seating", None), ("filter", None), ("temperature", "cooler")),
    ),
    Rule(
        "dark and bitter from hot water: cooler",
        lambda case, now, measured: (
            case.roast in ("dark", "medium-dark") and case.plan.water_c >= HOT_FOR_DARK_C and _said(case, OVER) > 0
        ),
        (("temperature", "cooler"),),
    ),
    Rule(
        "light and sour from cool water: hotter",
        lambda case, now, measured: (
            case.roast == "light" and case.plan.water_c <= COOL_FOR_LIGHT_C
            and _said(case, ("sour", "sharp")) > 0 and _said(case, OVER) == 0
        ),
        (("temperature", "hotter"),),
    ),
)  # fmt: skip


# Changes that extract less; their opposites extract more.
EXTRACTS_LESS = {("grind", "coarser"), ("temperature", "cooler"), ("time", "shorter"), ("agitation", "less")}
EXTRACTS_MORE = {("grind", "finer"), ("temperature", "hotter"), ("time", "longer"), ("agitation", "more")}


def extraction_wanted(case: Case, now: State, measured: bool) -> int:
    """Return whether more (1) or less (−1) should be extracted, 0 where the evidence does not say.

    Parameters
    ----------
    case : Case
        The brew to be judged.
    now : State
        The cup as it is.
    measured : bool
        Whether the extraction was measured; a measurement outside the target wins over the tongue, but a cup that is
        bitter at a low extraction, or both at once, is uneven.

    Returns
    -------
    int
        1, −1 or 0.
    """
    if case.outcome.stalled or case.outcome.plunger_stuck or time_against_goal(case):
        return 0
    said = _said(case, UNDER) - _said(case, OVER)
    low, high = case.target.ey_percent
    if measured and not case.is_concentrate and now.ey_percent > high:
        return -1
    if measured and not case.is_concentrate and now.ey_percent < low:
        return 1 if said >= 0 else 0
    return 1 if said > 0 else -1 if said < 0 else 0


def goes_against(wanted: int, candidate: Candidate) -> bool:
    """Return whether a change moves the extraction away from where it is wanted.

    Parameters
    ----------
    wanted : int
        1 for more, −1 for less, 0 for neither.
    candidate : Candidate
        The change.

    Returns
    -------
    bool
        Whether it does.
    """
    way = candidate.kind, candidate.direction
    return (wanted > 0 and way in EXTRACTS_LESS) or (wanted < 0 and way in EXTRACTS_MORE)


def rule_for(case: Case, now: State, measured: bool) -> Rule | None:
    """Return the rule that applies to a cup, if any; ``measured`` says that its extraction was.

    Parameters
    ----------
    case : Case
        The brew to be judged.
    now : State
        The cup as it is.
    measured : bool
        Whether the extraction was measured.

    Returns
    -------
    Rule or None
        The rule that applies to a cup, if any.
    """
    if case.outcome.stalled:
        return None
    return next((rule for rule in RULES if rule.holds(case, now, measured)), None)


def rank_in(rule: Rule, candidate: Candidate) -> int | None:
    """Where a rule puts a change, from 0; ``None`` for one that it says nothing of.

    Parameters
    ----------
    rule : Rule
        The rule that applies.
    candidate : Candidate
        The change.

    Returns
    -------
    int or None
        Where a rule puts a change, from 0.
    """
    for rank, (kind, way) in enumerate(rule.first):
        if candidate.kind == kind and way in (None, candidate.direction):
            return rank
    return None


def too_large(case: Case, candidate: Candidate, now: State, measured: bool) -> bool:
    """Whether a change of grind is more than one pass should make.

    Parameters
    ----------
    case : Case
        The brew to be judged.
    candidate : Candidate
        The change.
    now : State
        The cup as it is.
    measured : bool
        Whether the extraction was measured.

    Returns
    -------
    bool
        Whether a change of grind is more than one pass should make.
    """
    if candidate.kind not in ("grind", "compensated") or not candidate.modelled:
        return False
    low, high = case.target.ey_percent
    missed = max(low - now.ey_percent, now.ey_percent - high) if measured else 0.0
    gross = bool(case.outcome.stalled) or missed >= GROSS_MISS_PERCENT
    gross = gross or max(case.outcome.tasted.values(), default=0) >= GROSS_MISS
    away = float(np.log(candidate.grind.d50_um / case.grind.d50_um))
    largest = LARGEST_STEP_LN * (2 if gross else 1)
    if case.school == "start-coarse" and away < 0:
        largest = LARGEST_FINER_LN
    return candidate.size_steps > 1 and abs(away) > largest
