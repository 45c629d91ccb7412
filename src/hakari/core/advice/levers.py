"""Stage four, which lever: the levers of each family of methods in their usual order, and when one may be offered.

A lever is taken by its rank, not by weights. It is offered if the model moves what is wrong the right way by more than two
brews of one plan differ, and pushes nothing that was right out of its range; what no model sees is offered where its sign was
seen.
"""

from __future__ import annotations

from typing import Literal

from hakari.core.advice.candidate import Candidate, Kind
from hakari.core.advice.evidence import COLD_C, Case, Lean, LeverOrder
from hakari.core.advice.goal import CupGoal, State, outside
from hakari.core.advice.reading import Reading
from hakari.core.advice.signs import Signs
from hakari.core.brew.brewers import MACHINES

Family = Literal["drip", "steep", "concentrate", "cold", "machine"]

# What a repeat of the same brew differs by: less than this is not worth a change.
NOISE_EY_PERCENT, NOISE_TDS_PERCENT, NOISE_TIME_SHARE = 0.3, 0.04, 0.05

CLEARLY = 0.5  # from where a sign is more than a trace

_LAST: tuple[Kind, ...] = ("filter", "seating", "mesh", "sieve", "coffee", "water", "rest", "brewer", "repeat", "none")
FAMILY_LEVERS: dict[Family, tuple[Kind, ...]] = {
    "drip": (
        "grind", "compensated", "preheat", "ratio", "dilution", "bypass-water", "pours", "agitation", "temperature", "dose",
        *_LAST,
    ),
    "steep": (
        "time", "grind", "agitation", "ratio", "compensated", "dose", "dilution", "bypass-water", "temperature", *_LAST,
    ),
    "concentrate": (
        "dilution", "bypass-water", "grind", "temperature", "time", "agitation", "ratio", "compensated", "dose", *_LAST,
    ),
    "cold": ("dilution", "bypass-water", "ratio", "dose", "time", "grind", "agitation", *_LAST),
    "machine": ("grind", "compensated", "ratio", "dose", "dilution", "bypass-water", *_LAST),
}  # fmt: skip
# What an order of levers puts before the family's own; ``grind-last`` takes the grind from its place.
BEFORE: dict[LeverOrder, tuple[Kind, ...]] = {
    "grind-first": (),
    "start-coarse": (),
    "grind-only": (),
    "technique-first": ("pours", "agitation", "seating", "time", "preheat", "temperature"),
    "grind-last": ("ratio", "dose", "dilution", "bypass-water", "preheat", "temperature"),
}
# Strength is corrected by these; extraction by the others.
STRENGTH_LEVERS: frozenset[Kind] = frozenset({"ratio", "dose", "dilution", "bypass-water"})
# Changes that extract less; their opposites extract more.
EXTRACTS_LESS = {("grind", "coarser"), ("temperature", "cooler"), ("time", "shorter"), ("agitation", "less")}
EXTRACTS_MORE = {("grind", "finer"), ("temperature", "hotter"), ("time", "longer"), ("agitation", "more")}
# What no model sees, or what mends one thing alone, is offered where one of its signs was seen.
SEEN: dict[tuple[str, str], tuple[str, ...]] = {
    ("seating", "reseat"): ("stalled", "slow"),
    ("seating", "rinse"): ("papery",),
    ("filter", "other-lot"): ("stalled", "slow"),
    ("filter", "paper-under"): ("silty",),
    ("filter", "metal"): (),
    ("coffee", "fresher"): ("stale", "flat"),
    ("water", "change"): ("odd-water", "flat"),
    ("rest", "wait"): ("gassy",),
    ("repeat", "clean"): ("dirty",),
    ("repeat", "evenly"): ("both", "bed-holes", "bed-cratered", "bed-mounded", "bed-stranded"),
    ("repeat", "again"): (),
    ("sieve", "fines"): ("dusty", "wide"),
    ("mesh", "under-paper"): ("narrow",),
    ("brewer", "cone"): ("narrow",),
    ("brewer", "flat"): (),
    ("pours", "more"): (),
    ("pours", "fewer"): (),
    ("pours", "brighter"): (),
    ("pours", "sweeter"): (),
    ("pours", "softer"): ("hard-pours", "bed-mud", "bed-cratered"),
}
# The paper is looked at where it drained late; fines on the bed, or a cup that says over-extracted, speak for the grind.
SPEAKS_AGAINST: dict[tuple[str, str], tuple[str, ...]] = {
    ("seating", "reseat"): ("bed-mud", "bed-shiny", "over", "ey-high"),
    ("filter", "other-lot"): ("bed-mud", "bed-shiny", "over", "ey-high"),
}
# Goals beyond the box change brewer, filter or heat rather than the grind, the likeliest first.
LEANS: dict[Lean, tuple[tuple[str, str], ...]] = {
    "brighter": (("temperature", "cooler"), ("brewer", "cone")),
    "rounder": (("temperature", "hotter"), ("brewer", "flat")),
    "cleaner": (("filter", "paper-under"), ("pours", "softer"), ("agitation", "less")),
    "fuller": (("filter", "metal"), ("temperature", "hotter"), ("ratio", "shorter")),
}


def family_of(case: Case) -> Family:
    """Return the family of a brew's method.

    Parameters
    ----------
    case : Case
        The brew to be judged.

    Returns
    -------
    Family
        The family whose levers it has.
    """
    if case.plan.water_c < COLD_C:
        return "cold"
    if case.is_concentrate or case.diluted:
        return "concentrate"
    if case.plan.steep is not None:
        return "steep"
    return "machine" if case.plan.brewer.name in MACHINES else "drip"


def lever_order(case: Case) -> tuple[Kind, ...]:
    """Return the kinds of change of a brew, in the order in which they are tried.

    Parameters
    ----------
    case : Case
        The brew to be judged.

    Returns
    -------
    tuple[Kind, ...]
        Kinds, the first to be tried first.
    """
    usual = FAMILY_LEVERS[family_of(case)]
    before = tuple(k for k in BEFORE[case.change_first] if k in usual)
    rest = tuple(k for k in usual if k not in before)
    if case.change_first != "grind-last":
        return before + rest
    return before + ("grind",) + tuple(k for k in rest if k != "grind")


def wished(case: Case, candidate: Candidate) -> int | None:
    """Return the place of a change among those that serve a goal beyond the box, from 0; ``None`` for one that does not.

    Parameters
    ----------
    case : Case
        The brew to be judged.
    candidate : Candidate
        The change.

    Returns
    -------
    int or None
        Its place.
    """
    ways = LEANS[case.lean] if case.lean else ()
    key = (candidate.kind, candidate.direction)
    return ways.index(key) if key in ways else None


Refusal = Literal["too-small", "wrong-way", "leaves-the-target", "leaves-the-range", "not-seen", "other-axis"]


def refusal_of(
    candidate: Candidate, reading: Reading, signs: Signs, now: State, then: State, goal: CupGoal
) -> Refusal | None:
    """Return why a lever is not offered; ``None`` for one that may be.

    Parameters
    ----------
    candidate : Candidate
        The change.
    reading : Reading
        What is wrong.
    signs : Signs
        Evidence as numbers.
    now, then : State
        The cup before and after the change.
    goal : CupGoal
        Where the cup should go.

    Returns
    -------
    Refusal or None
        The reason, if any.
    """
    harm = _harm_of(candidate, reading, now, then)
    if harm is not None:
        return harm
    if candidate.modelled and not reading.time and goal.leaves(now, then, NOISE_EY_PERCENT, NOISE_TDS_PERCENT):
        return "leaves-the-target"
    key = (candidate.kind, candidate.direction)
    if key in SEEN and not any(signs[s] >= CLEARLY for s in SEEN[key]):
        return "not-seen"
    if key in SPEAKS_AGAINST and (reading.time >= 0 or any(signs[s] >= CLEARLY for s in SPEAKS_AGAINST[key])):
        return "not-seen"
    if not candidate.modelled:
        return None
    if not _mends(candidate, reading, now, then):
        strength_only = reading.strength and not reading.extraction and candidate.kind not in STRENGTH_LEVERS
        return "other-axis" if strength_only and not reading.time else "too-small"
    return "leaves-the-range" if _leaves(reading, now, then, goal) else None


def _harm_of(candidate: Candidate, reading: Reading, now: State, then: State) -> Refusal | None:
    """Return ``wrong-way`` for a change that moves what is wrong away from where it should go."""
    way = candidate.kind, candidate.direction
    if (reading.extraction > 0 and way in EXTRACTS_LESS) or (reading.extraction < 0 and way in EXTRACTS_MORE):
        return "wrong-way"
    if not candidate.modelled:
        return None
    ey, tds, time = _steps(now, then)
    wrong = reading.extraction * ey < -1 or reading.strength * tds < -1 or reading.time * time < -1
    return "wrong-way" if wrong else None


def _steps(now: State, then: State) -> tuple[float, float, float]:
    """Return the changes of extraction, strength and time, in what a repeat differs by."""
    return (
        (then.ey_percent - now.ey_percent) / NOISE_EY_PERCENT,
        (then.tds_percent - now.tds_percent) / NOISE_TDS_PERCENT,
        (then.drawdown_s / now.drawdown_s - 1) / NOISE_TIME_SHARE,
    )


def _mends(candidate: Candidate, reading: Reading, now: State, then: State) -> bool:
    """Whether a change moves what is wrong by more than the noise: extraction first, then time, then strength.

    Ratio, dose and water in the cup are for strength; they serve the extraction only where the strength is wrong as well.
    """
    ey, tds, time = _steps(now, then)
    for_strength = candidate.kind in STRENGTH_LEVERS
    if reading.extraction:
        return reading.extraction * ey > 1 and (not for_strength or reading.strength * tds > 1)
    if reading.time:
        return reading.time * time > 1 and not (for_strength and candidate.direction != "smaller")
    return reading.strength * tds > 1 and for_strength


def _leaves(reading: Reading, now: State, then: State, goal: CupGoal) -> bool:
    """Whether an axis that was right goes out of its range, or further out, by more than the noise."""
    ey_shift, tds_shift = goal.shift
    axes = (
        (reading.extraction or reading.time, now.ey_percent + ey_shift, then.ey_percent + ey_shift, goal.target.ey_percent,
         NOISE_EY_PERCENT),
        (reading.strength or reading.time or goal.free_tds, now.tds_percent + tds_shift, then.tds_percent + tds_shift,
         goal.target.tds_percent, NOISE_TDS_PERCENT),
    )  # fmt: skip
    return any(not wrong and outside(will, span) > outside(was, span) + noise for wrong, was, will, span, noise in axes)
