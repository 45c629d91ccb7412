"""What is said of a change: why, what it does besides, what to mind, and why another was ruled out."""

from __future__ import annotations

from hakari.core.advice.causes import REMEDY_SHARE, WeighedCause
from hakari.core.advice.evidence import COLD_C, Case
from hakari.core.advice.goal import State
from hakari.core.advice.moves import Candidate, Kind
from hakari.core.advice.order import leaning
from hakari.core.brew.units import clock

EFFECTS: dict[tuple[str, str], str] = {
    ("grind", "coarser"): "Coarser opens the bed and gives up less.",
    ("grind", "finer"): "Finer slows it and gives up more.",
    ("temperature", "cooler"): "Cooler water takes less.",
    ("temperature", "hotter"): "Hotter water takes more and runs a little faster.",
    ("ratio", "longer"): "More water thins the drink and washes a little more out.",
    ("ratio", "shorter"): "Less water makes the drink stronger and washes a little less out.",
    ("dose", "less"): "A thinner bed drains sooner; the strength stays.",
    ("dose", "more"): "A deeper bed slows it; the strength stays.",
    ("pours", "softer"): "A soft stream leaves the fines where they lie.",
    ("agitation", "more"): "Moving the bed brings water to all of it and takes more.",
    ("agitation", "less"): "Left alone, the bed gives up less and keeps its fines.",
    ("time", "shorter"): "A shorter steep takes less.",
    ("time", "longer"): "A longer steep takes more.",
    ("filter", "paper-under"): "Paper holds back what the mesh lets through.",
    ("mesh", "under-paper"): "A mesh keeps all of the paper open.",
    ("sieve", "fines"): "Without the dust it drains sooner and is less bitter; some coffee is lost.",
    ("bypass-water", "add"): "Water after the brew thins the drink and takes nothing more out.",
    ("preheat", "warm"): "A warmed brewer leaves the heat in the water.",
    ("brewer", "flat"): "A flat bed is washed more alike from side to side: rounder.",
    ("brewer", "cone"): "More of the paper lies open there, and the middle gives up more: brighter.",
    ("filter", "metal"): "Metal lets oils and some fines through: fuller.",
    ("compensated", "coarser-shorter"): "Coarser alone would make it weaker; a little less water keeps the strength.",
    ("compensated", "more-coffee"): "More coffee makes it stronger; the longer stir keeps the extraction up.",
    ("seating", "reseat"): "A seated paper drains the same every time.",
    ("seating", "rinse"): "Rinsing takes the taste of paper out and seats it.",
    ("filter", "other-lot"): "Papers of one name differ by their lot.",
    ("repeat", "evenly"): "No grind mends that: level the dry bed, wet all of it in the bloom, keep off the paper.",
}  # fmt: skip
# What can hurt where the change is made; makers' instructions come first.
CAUTIONS: dict[tuple[str, str], str] = {
    ("repeat", "clean"): "Unplug a grinder before reaching in: burrs cut.",
    ("preheat", "warm"): "Cold glass cracks under boiling water: warm it step by step.",
    ("temperature", "hotter"): "Hotter water scalds the sooner; mind the steam.",
    ("sieve", "fines"): "Dust of coffee is no good to breathe: sieve it covered.",
    ("mesh", "under-paper"): "Take a hot brewer apart only once it has cooled.",
    ("time", "longer"): "Cold brews are food kept for days: clean vessels, cold storage, when in doubt throw it away.",
}
STUCK = "Never force a plunger, nor press on a plugged filter: it can spray. Release, pause, try again."


NAMES: dict[Kind, str] = {
    "grind": "the grind", "temperature": "the heat", "ratio": "the ratio", "dose": "the dose", "pours": "the pouring",
    "agitation": "the stirring", "time": "the time", "filter": "the filter", "seating": "the paper", "mesh": "the paper",
    "sieve": "the dust", "bypass-water": "the strength", "preheat": "the heat", "brewer": "the brewer",
    "coffee": "the coffee", "water": "the water", "compensated": "the grind", "rest": "its age", "repeat": "the hand",
    "none": "the brew",
}  # fmt: skip


def _cause_for(candidate: Candidate, causes: tuple[WeighedCause, ...]) -> WeighedCause:
    """The cause that speaks loudest for a change; the heaviest of all where none does."""
    key = (candidate.kind, candidate.direction)
    speaking = [(c.weight * REMEDY_SHARE[c.remedies.index(key)], c) for c in causes if key in c.remedies]
    return max(speaking, key=lambda pair: pair[0])[1] if speaking else causes[0]


def reason_for(case: Case, candidate: Candidate, causes: tuple[WeighedCause, ...]) -> str:
    """Why: the cause that speaks loudest, or the goal beyond the box; and what the change does."""
    effect = EFFECTS.get((candidate.kind, candidate.direction), "")
    if leaning(case, candidate) > 0:
        return f"You asked for {case.lean}. {effect}".strip()
    return f"{_cause_for(candidate, causes).reason} {effect}".strip()


def caution_for(case: Case, candidate: Candidate) -> str:
    """What to mind while making a change, or after what was seen."""
    if case.outcome.plunger_stuck or case.outcome.stalled:
        return STUCK
    key = (candidate.kind, candidate.direction)
    cold = case.plan.water_c < COLD_C
    return "" if key == ("time", "longer") and not cold else CAUTIONS.get(key, "")


def side_effects_of(candidate: Candidate, now: State, then: State) -> tuple[str, ...]:
    """What else the change does."""
    if not candidate.modelled:
        return ("no model sees it: the figures stay as they are",)
    sides = []
    late = then.drawdown_s - now.drawdown_s
    if candidate.kind not in ("grind", "seating", "mesh", "time") and abs(late) >= 4:
        sides.append(f"{'slower' if late > 0 else 'faster'} by {abs(late):.0f} s")
    if candidate.kind in ("grind", "sieve", "agitation", "time") and abs(then.tds_percent - now.tds_percent) >= 0.01:
        sides.append(f"strength {'falls' if then.tds_percent < now.tds_percent else 'rises'} with it")
    if candidate.kind == "bypass-water":
        sides.append("what is bitter stays, thinner")
    if candidate.kind == "temperature" and candidate.direction == "hotter":
        sides.append("less acidity to the fore")
    return tuple(sides)


def why_not(candidate: Candidate, then: State, now: State) -> str:
    """What the change would do and why that is the wrong way."""
    if abs(then.ey_percent - now.ey_percent) < 0.15 and abs(then.tds_percent - now.tds_percent) < 0.02:
        reason = (
            f"{candidate.words} would hardly be tasted: {now.ey_percent:.1f} to {then.ey_percent:.1f} % extraction."
        )
    else:
        reason = (
            f"{candidate.words} would go the wrong way or too far: extraction {now.ey_percent:.1f} to "
            f"{then.ey_percent:.1f} %, strength {now.tds_percent:.2f} to {then.tds_percent:.2f} %, "
            f"bare bed {clock(now.drawdown_s)} to {clock(then.drawdown_s)}."
        )
    return reason[0].upper() + reason[1:]
