"""What each order of levers moves first, and what serves a goal beyond the box."""

from __future__ import annotations

from hakari.core.advice.causes import REMEDY_SHARE
from hakari.core.advice.evidence import Case, Lean, LeverOrder
from hakari.core.advice.moves import Candidate, Kind

# How much each school likes to move each thing first.
_REST: dict[Kind, float] = {"repeat": 1.0, "none": 1.0, "rest": 0.9, "coffee": 0.9, "water": 0.9}
ORDER: dict[LeverOrder, dict[Kind, float]] = {
    "grind-first": _REST | {
        "grind": 1.15, "compensated": 0.85, "ratio": 0.85, "temperature": 0.65, "dose": 0.6, "pours": 0.75, "agitation": 0.7,
        "time": 0.75, "filter": 0.95, "seating": 0.85, "mesh": 0.8, "sieve": 0.7, "bypass-water": 0.7,
        "dilution": 0.7, "preheat": 1.0, "brewer": 0.35,
    },
    "technique-first": _REST | {
        "grind": 0.75, "compensated": 0.6, "ratio": 0.7, "temperature": 1.0, "dose": 0.6, "pours": 1.15, "agitation": 1.1,
        "time": 1.1, "filter": 0.95, "seating": 1.15, "mesh": 0.8, "sieve": 0.7, "bypass-water": 0.7,
        "dilution": 0.7, "preheat": 1.15, "brewer": 0.35,
    },
    "grind-last": _REST | {
        "grind": 0.8, "compensated": 0.7, "ratio": 1.1, "temperature": 0.5, "dose": 0.9, "pours": 0.65, "agitation": 0.65,
        "time": 0.6, "filter": 0.8, "seating": 0.9, "mesh": 0.9, "sieve": 0.7, "bypass-water": 0.9,
        "dilution": 0.9, "preheat": 1.0, "brewer": 0.6, "coffee": 1.15, "rest": 1.15,
    },
    "grind-only": _REST | {
        "grind": 1.15, "compensated": 0.0, "ratio": 0.0, "temperature": 0.0, "dose": 0.0, "pours": 0.0, "agitation": 0.0,
        "time": 0.0, "filter": 0.0, "seating": 0.85, "mesh": 0.0, "sieve": 0.0, "bypass-water": 0.0,
        "dilution": 0.0, "preheat": 0.0, "brewer": 0.0,
    },
    "start-coarse": _REST | {
        "grind": 1.1, "compensated": 0.6, "ratio": 0.85, "temperature": 0.5, "dose": 0.5, "pours": 0.7, "agitation": 0.65,
        "time": 0.6, "filter": 0.95, "seating": 0.85, "mesh": 0.8, "sieve": 0.7, "bypass-water": 0.6,
        "dilution": 0.6, "preheat": 1.0, "brewer": 0.3,
    },
}  # fmt: skip
# Goals beyond the box change brewer, filter or heat rather than the grind, the likeliest first.
LEANS: dict[Lean, tuple[tuple[str, str], ...]] = {
    "brighter": (("brewer", "cone"), ("temperature", "cooler")),
    "rounder": (("brewer", "flat"), ("temperature", "hotter")),
    "cleaner": (("filter", "paper-under"), ("pours", "softer"), ("agitation", "less")),
    "fuller": (("filter", "metal"), ("temperature", "hotter"), ("ratio", "shorter")),
}
LEAN_WEIGHT = 0.9


def leaning(case: Case, candidate: Candidate) -> float:
    """Return what a goal beyond the box says for a change.

    Parameters
    ----------
    case : Case
        The brew to be judged.
    candidate : Candidate
        The change.

    Returns
    -------
    float
        What a goal beyond the box says for a change.
    """
    wished = LEANS[case.lean] if case.lean else ()
    key = (candidate.kind, candidate.direction)
    return LEAN_WEIGHT * REMEDY_SHARE[wished.index(key)] if key in wished else 0.0
