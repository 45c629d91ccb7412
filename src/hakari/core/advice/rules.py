"""Stage three, what was seen goes before any lever: a table of situations, each with what is changed first in it.

The first row that holds is the answer, where its change does no harm. Sources: a stall is looked for where it is easiest to
check (pouring, paper, brewer, then grind); strength is corrected by ratio, dose or water in the cup; heat goes with roast
(darker cooler, lighter and denser hotter); a cup that is bitter at a low extraction is uneven or too hot.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from hakari.core.advice.candidate import Candidate
from hakari.core.advice.evidence import COLD_C
from hakari.core.advice.judged import LONG_STIR, OFF_TIME, Judged
from hakari.core.advice.reading import OVER, UNDER
from hakari.core.advice.status import time_against_goal

HOT_FOR_DARK_C, COOL_FOR_LIGHT_C = 94.0, 91.0
STALE_GROUND_H, FRESH_ROAST_DAYS = 12.0, 3


@dataclass(frozen=True)
class Rule:
    """When a row holds, and which changes come first in it, by kind and direction; without a direction, in any."""

    name: str
    holds: Callable[[Judged], bool]
    first: tuple[tuple[str, str | None], ...]


RULES: tuple[Rule, ...] = (
    # A brew that cannot be judged, the easiest to check first.
    Rule("a plunger that is hard to move: coarser", lambda j: j.case.outcome.plunger_stuck, (("grind", "coarser"),)),
    Rule(
        "stalled after hard pours: pour softer, where that is worth it",
        lambda j: j.stalled and j.signs["hard-pours"] > 0, (("pours", "softer"), ("grind", "coarser")),
    ),
    Rule(
        "stalled on a clean bed, with little of the paper open: a mesh under it, or seat it again",
        lambda j: j.stalled and j.clean_bed and j.signs["narrow"] > 0, (("mesh", "under-paper"), ("seating", "reseat")),
    ),
    Rule(
        "stalled on a clean bed: the paper",
        lambda j: j.stalled and j.clean_bed, (("seating", "reseat"), ("filter", "other-lot")),
    ),
    Rule(
        "stalled otherwise: coarser",
        lambda j: j.stalled, (("grind", "coarser"), ("pours", "softer"), ("dose", "smaller"), ("sieve", "fines")),
    ),
    Rule("papery: rinse the paper", lambda j: j.said("papery"), (("seating", "rinse"),)),
    Rule(
        "old oils in the gear: clean it",
        lambda j: j.signs["dirty"] > 0 and j.said("harsh", "bitter", "muddled"), (("repeat", "clean"),),
    ),
    Rule(
        "ground long ago: grind fresh",
        lambda j: (j.case.ground_age_h or 0) >= STALE_GROUND_H, (("coffee", "fresher"),),
    ),
    Rule(
        "roasted long ago, and hollow, thin or flat: fresher coffee",
        lambda j: j.signs["stale"] > 0 and j.said("hollow", "thin", "flat"), (("coffee", "fresher"),),
    ),
    Rule(
        "hard or alkaline water, and hollow, flat or salty: other water",
        lambda j: j.signs["odd-water"] > 0 and j.said("hollow", "flat", "salty", "sharp"), (("water", "change"),),
    ),
    Rule(
        "roasted days ago: let it rest",
        lambda j: j.case.days_off_roast is not None and j.case.days_off_roast < FRESH_ROAST_DAYS, (("rest", None),),
    ),
    Rule(
        "pressed later than meant, and over-extracted: press in time",
        lambda j: j.case.pressed_late and j.over, (("time", "shorter"),),
    ),
    Rule(
        "pressed sooner than meant, and under-extracted: press in time",
        lambda j: j.case.pressed_early and j.said(*UNDER, "weak") and not j.said(*OVER), (("time", "longer"),),
    ),
    Rule(
        "slower than was asked for, and nothing else wrong: coarser",
        lambda j: time_against_goal(j.case) > 0 and not j.said(*UNDER), (("grind", "coarser"),),
    ),
    Rule(
        "faster than was asked for, and nothing else wrong: finer",
        lambda j: time_against_goal(j.case) < 0 and not j.said(*OVER), (("grind", "finer"),),
    ),
    Rule(
        "sour and bitter from a wide grind: sieve the dust out",
        lambda j: j.reading.uneven and j.signs["wide"] > 0 and not j.signs["bed-holes"],
        (("sieve", "fines"), ("repeat", "evenly")),
    ),
    Rule(
        "sour and bitter at once: brew it evenly",
        lambda j: j.reading.uneven, (("repeat", "evenly"), ("agitation", "more")),
    ),
    Rule(
        "a cold brewer, and under-extracted: warm it",
        lambda j: j.signs["cold-brewer"] > 0 and j.under, (("preheat", "warm"),),
    ),
    Rule(
        "strong and under-extracted: more water through the bed",
        lambda j: j.reading.strength < 0 < j.reading.extraction and not j.steeps, (("ratio", "longer"),),
    ),
    Rule(
        "weak and over-extracted: coarser and more coffee, as one change",
        lambda j: j.reading.extraction < 0 < j.reading.strength and not j.steeps,
        (("compensated", "coarser-shorter"), ("ratio", "shorter")),
    ),
    # What a style has of its own goes before the general levers.
    Rule(
        "split, and weak: one pour more in the second part",
        lambda j: j.case.style == "split" and j.only("weak"), (("pours", "more"),),
    ),
    Rule(
        "split, and strong: one pour less in the second part",
        lambda j: j.case.style == "split" and j.only("strong"), (("pours", "fewer"),),
    ),
    Rule(
        "split, and a little sour: the first part towards sweetness",
        lambda j: j.case.style == "split" and j.said("sour", "sharp") and j.slight and not j.said(*OVER),
        (("pours", "sweeter"), ("grind", "finer")),
    ),
    Rule(
        "split, and flat: the first part towards brightness",
        lambda j: j.case.style == "split" and j.only("flat"), (("pours", "brighter"),),
    ),
    Rule(
        "twin bloom, and weak or a little under-extracted: a third pour",
        lambda j: j.case.style == "twin-bloom" and j.said(*UNDER, "weak") and j.slight and not j.said(*OVER),
        (("pours", "more"), ("grind", "finer")),
    ),
    Rule(
        "twin bloom, and a little over-extracted: water a few minutes off the boil",
        lambda j: j.case.style == "twin-bloom" and j.over and j.slight, (("temperature", "cooler"), ("grind", "coarser")),
    ),
    # Strength, where it alone is wrong.
    Rule(
        "no scale, and strong: a smaller spoon of coffee",
        lambda j: j.case.by_marks and j.only("strong"), (("dose", "less"), ("grind", "coarser")),
    ),
    Rule(
        "no scale, and weak: a fuller spoon of coffee",
        lambda j: j.case.by_marks and j.only("weak"), (("dose", "more"), ("grind", "finer")),
    ),
    Rule(
        "a cold brew that is flat: longer, or more coffee",
        lambda j: j.case.plan.water_c < COLD_C and j.said("flat") and not j.said(*OVER),
        (("time", "longer"), ("dose", "more")),
    ),
    Rule(
        "flat and nothing else: rule out old coffee and alkaline water before any lever",
        lambda j: j.only("flat"), (("coffee", "fresher"), ("water", "change")),
    ),
    Rule(
        "over ice, and weak: more coffee; the ice has to cool it all the same",
        lambda j: j.case.ice_g > 0 and j.only("weak"), (("dose", "more"), ("grind", "finer")),
    ),
    Rule(
        "diluted, and weak as drunk: less water in the cup",
        lambda j: j.case.diluted and j.only("weak"), (("dilution", "less"), ("ratio", "shorter")),
    ),
    Rule(
        "diluted, and strong as drunk: more water in the cup",
        lambda j: j.case.diluted and j.only("strong"), (("dilution", "more"), ("ratio", "longer")),
    ),
    Rule(
        "a concentrate or a cold brew that is strong as drunk: more water in the cup",
        lambda j: j.steeps and j.only("strong") and (j.case.is_concentrate or j.case.plan.water_c < COLD_C),
        (("bypass-water", None), ("ratio", "longer")),
    ),
    Rule(
        "the recipe is fixed and the cup is strong: the grind does everything",
        lambda j: j.case.change_first == "grind-only" and j.only("strong"), (("grind", "coarser"),),
    ),
    Rule(
        "the recipe is fixed and the cup is weak: the grind does everything",
        lambda j: j.case.change_first == "grind-only" and j.only("weak"), (("grind", "finer"),),
    ),
    Rule(
        "strong and nothing else: more water, in the brew or in the cup",
        lambda j: j.only("strong") and j.reading.extraction >= 0,
        (("ratio", "longer"), ("bypass-water", None), ("dose", "less")),
    ),
    Rule(
        "strong at the right measured extraction, whatever else: more water",
        lambda j: j.measured and j.said("strong") and j.reading.strength < 0 and j.in_range,
        (("ratio", "longer"), ("dose", "less")),
    ),
    Rule(
        "a stronger cup is wished for: more coffee at the same water",
        lambda j: j.case.target.name == "stronger" and j.reading.extraction == 0, (("dose", "more"), ("ratio", "shorter")),
    ),
    Rule(
        "weak, and the recipe's setting stands: more coffee",
        lambda j: j.case.change_first == "grind-last" and j.only("weak"), (("dose", "more"), ("ratio", "shorter")),
    ),
    Rule(
        "weak at the right measured extraction: a shorter ratio, or more coffee",
        lambda j: j.measured and j.only("weak") and j.in_range, (("ratio", "shorter"), ("dose", "more")),
    ),
    # Extraction.
    Rule(
        "silt in a steep: paper under the mesh, or wait and pour off",
        lambda j: j.steeps and j.said("silty"), (("filter", "paper-under"), ("time", "longer"), ("mesh", None)),
    ),
    Rule(
        "a concentrate that is bitter: coarser, or cooler",
        lambda j: j.case.is_concentrate and j.over, (("grind", "coarser"), ("temperature", "cooler"), ("time", "shorter")),
    ),
    Rule(
        "a steep that is weak or under-extracted: longer, then finer",
        lambda j: j.steeps and j.by_time and j.said(*UNDER, "weak") and not j.said(*OVER),
        (("time", "longer"), ("grind", "finer")),
    ),
    Rule(
        "stirred for long, and over-extracted: stir less",
        lambda j: j.steeps and j.over and j.signs["stirred"] >= LONG_STIR, (("agitation", "less"), ("time", "shorter")),
    ),
    Rule(
        "a steep that is over-extracted: shorter, then coarser",
        lambda j: j.steeps and j.by_time and j.over, (("time", "shorter"), ("grind", "coarser")),
    ),
    Rule(
        "bitter at a low measured extraction: too hot or uneven, not too fine",
        lambda j: j.measured and j.over and j.now.ey_percent < j.case.target.ey_percent[0],
        (("agitation", None), ("seating", None), ("temperature", "cooler")),
    ),
    Rule(
        "over-extracted and late, or with fines on the bed: coarser",
        lambda j: not j.steeps and j.reading.extraction < 0 and (j.signs["slow"] > OFF_TIME or j.muddy),
        (("grind", "coarser"), ("compensated", "coarser-shorter")),
    ),
    Rule(
        "under-extracted and early: finer",
        lambda j: not j.steeps and j.reading.extraction > 0 and j.signs["fast"] > OFF_TIME, (("grind", "finer"),),
    ),
    Rule(
        "dark and bitter from hot water: cooler",
        lambda j: j.case.roast in ("dark", "medium-dark") and j.case.plan.water_c >= HOT_FOR_DARK_C and j.said(*OVER),
        (("temperature", "cooler"),),
    ),
    Rule(
        "light and sour from cool water: hotter",
        lambda j: j.case.roast == "light" and COLD_C < j.case.plan.water_c <= COOL_FOR_LIGHT_C
        and j.said("sour", "sharp") and not j.said(*OVER),
        (("temperature", "hotter"),),
    ),
)  # fmt: skip


def rule_for(judged: Judged) -> Rule | None:
    """Return the row that applies to a cup, if any.

    Parameters
    ----------
    judged : Judged
        The brew with what is known of its cup.

    Returns
    -------
    Rule or None
        The first row that holds.
    """
    return next((rule for rule in RULES if rule.holds(judged)), None)


def rank_in(rule: Rule, candidate: Candidate) -> int | None:
    """Return where a row puts a change, from 0; ``None`` for one that it says nothing of.

    Parameters
    ----------
    rule : Rule
        The row that applies.
    candidate : Candidate
        The change.

    Returns
    -------
    int or None
        Its place.
    """
    for rank, (kind, way) in enumerate(rule.first):
        if candidate.kind == kind and way in (None, candidate.direction):
            return rank
    return None
