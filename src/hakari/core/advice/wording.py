"""Sentences about a change: why, its side effects, cautions, and why another was ruled out."""

from __future__ import annotations

from hakari.core.advice.candidate import Candidate, Kind
from hakari.core.advice.causes import WeighedCause
from hakari.core.advice.evidence import COLD_C, Case
from hakari.core.advice.goal import State
from hakari.core.advice.levers import Refusal, wished
from hakari.core.advice.status import time_against_goal
from hakari.core.brew.brewers import MACHINES
from hakari.core.brew.suited_grind import suited_grind
from hakari.core.brew.units import clock
from hakari.core.flow.simulate import runs_through_a_bed

EFFECTS: dict[tuple[str, str], str] = {
    ("grind", "coarser"): "A coarser grind drains faster and extracts less.",
    ("grind", "finer"): "A finer grind drains slower and extracts more.",
    ("temperature", "cooler"): "Cooler water extracts less.",
    ("temperature", "hotter"): "Hotter water extracts more and runs a little faster.",
    ("ratio", "longer"): "More water makes the drink weaker and extracts a little more.",
    ("ratio", "shorter"): "Less water makes the drink stronger and extracts a little less.",
    ("dose", "less"): "Less coffee at the same water makes the drink weaker.",
    ("dose", "more"): "More coffee at the same water makes the drink stronger.",
    ("dose", "smaller"): "A thinner bed drains sooner; the strength stays.",
    ("pours", "more"): "One more pour washes the bed again: stronger.",
    ("pours", "fewer"): "Fewer pours wash the bed less: lighter.",
    ("pours", "sweeter"): "A smaller first pour sets the first part towards sweetness.",
    ("pours", "brighter"): "A larger first pour sets the first part towards acidity.",
    ("pours", "softer"): "A gentle pour moves fewer fines to the filter.",
    ("agitation", "more"): "Stirring wets all of the coffee and extracts more.",
    ("agitation", "less"): "Without stirring, less is extracted and fewer fines reach the filter.",
    ("time", "shorter"): "A shorter steep extracts less.",
    ("time", "longer"): "A longer steep extracts more.",
    ("filter", "paper-under"): "Paper holds back the fines that a mesh lets through.",
    ("mesh", "under-paper"): "A mesh keeps all of the paper open.",
    ("sieve", "fines"): "Without the finest grounds it drains sooner and is less bitter; some coffee is lost.",
    ("bypass-water", "add"): "Water added after the brew makes the drink weaker without extracting more.",
    ("dilution", "less"): "Less water in the cup makes it stronger; the extraction stays.",
    ("dilution", "more"): "More water in the cup makes it weaker; the extraction stays.",
    ("preheat", "warm"): "A warm brewer cools the water less.",
    ("brewer", "flat"): "A flat bed extracts more evenly: rounder.",
    ("brewer", "cone"): "A cone drains through more of its paper, and its middle extracts more: brighter.",
    ("filter", "metal"): "Metal lets oils and some fines through: fuller.",
    ("compensated", "coarser-shorter"): "Coarser alone would make it weaker; a little less water keeps the strength.",
    ("compensated", "more-coffee"): "More coffee makes it stronger; the longer stir keeps the extraction up.",
    ("seating", "reseat"): "A seated paper drains the same every time.",
    ("seating", "rinse"): "Rinsing takes the taste of paper out and seats it.",
    ("filter", "other-lot"): "Papers of the same name differ from lot to lot.",
    ("repeat", "evenly"): "Not a matter of grind: level the dry bed, wet all of it in the bloom, pour away from the wall.",
}  # fmt: skip
# Where nothing runs through a bed.
EFFECTS_IN_A_STEEP: dict[tuple[str, str], str] = {
    ("grind", "coarser"): "A coarser grind extracts less in the same time.",
    ("grind", "finer"): "A finer grind extracts more in the same time.",
    ("temperature", "hotter"): "Hotter water extracts more.",
    ("agitation", "less"): "Without stirring, less is extracted and less silt is raised.",
    ("sieve", "fines"): "Without the finest grounds it is less bitter; some coffee is lost.",
    ("repeat", "evenly"): "Not a matter of grind: wet all of the grounds alike, the same way each time.",
}
EFFECTS_IN_A_MACHINE: dict[tuple[str, str], str] = {
    ("repeat", "evenly"): "Not a matter of grind: level the dry bed, and see whether the water reaches all of it.",
}
# What can hurt where the change is made; makers' instructions come first.
CAUTIONS: dict[tuple[str, str], str] = {
    ("repeat", "clean"): "Unplug a grinder before reaching in: burrs cut.",
    ("preheat", "warm"): "Cold glass cracks under boiling water: warm it step by step.",
    ("temperature", "hotter"): "Hotter water scalds faster; keep clear of the steam.",
    ("sieve", "fines"): "Do not breathe coffee dust: keep the sieve covered.",
    ("mesh", "under-paper"): "Take a hot brewer apart only once it has cooled.",
    ("time", "longer"): "Cold brews are food kept for days: clean vessels, cold storage, when in doubt throw it away.",
}
WHY_NOT: dict[str, str] = {
    "wrong-way": "would move the cup the wrong way",
    "too-small": "would do less than two brews of one recipe differ by",
    "leaves-the-target": "would take out of your target what was measured in it",
    "leaves-the-range": "would push out of your target what is right",
    "other-axis": "is for the extraction, and that is not what is wrong",
}
LIKELY = 0.5  # of the weight of the heaviest cause
STUCK = "Never force a plunger, nor press on a plugged filter: it can spray. Release, pause, try again."


NAMES: dict[Kind, str] = {
    "grind": "the grind", "temperature": "the temperature", "ratio": "the ratio", "dose": "the dose", "pours": "the pouring",
    "agitation": "the stirring", "time": "the time", "filter": "the filter", "seating": "the paper", "mesh": "the paper",
    "sieve": "the fines", "bypass-water": "the strength", "dilution": "the strength", "preheat": "the heat",
    "brewer": "the brewer",
    "coffee": "the coffee", "water": "the water", "compensated": "the grind", "rest": "its age", "repeat": "the brew",
    "none": "the brew",
}  # fmt: skip
# Of a brew that is only made again.
REPEATS = {"evenly": "unevenness", "clean": "old oil", "again": "chance"}


def name_of(candidate: Candidate) -> str:
    """Return what a change is about, as what was or was not the cause.

    Parameters
    ----------
    candidate : Candidate
        The change.

    Returns
    -------
    str
        For example "the grind".
    """
    return REPEATS.get(candidate.direction, NAMES["repeat"]) if candidate.kind == "repeat" else NAMES[candidate.kind]


def cause_mended(kind: str, direction: str, causes: tuple[WeighedCause, ...]) -> WeighedCause | None:
    """Return the likeliest cause that a change mends; ``None`` where it mends none of them.

    Parameters
    ----------
    kind, direction : str
        The change.
    causes : tuple[WeighedCause, ...]
        Causes with their weights, heaviest first.

    Returns
    -------
    WeighedCause or None
        The cause.
    """
    return next((c for c in causes if (kind, direction) in c.remedies), None)


def reason_for(case: Case, candidate: Candidate, causes: tuple[WeighedCause, ...], leads: bool) -> str:
    """Return why: the cause that supports it most, or the chosen style of cup; and what the change does.

    An alternative names a cause only where it is the likeliest remedy of a likely one: water is not cooled because the
    grounds are too fine.

    Parameters
    ----------
    case : Case
        The brew to be judged.
    candidate : Candidate
        The change.
    causes : tuple[WeighedCause, ...]
        Causes with their weights, heaviest first.
    leads : bool
        Whether it is the change that is offered first.

    Returns
    -------
    str
        Why.
    """
    effect = _effect_of(case, (candidate.kind, candidate.direction))
    if wished(case, candidate) is not None:
        return f"You asked for {case.lean}. {effect}".strip()
    late = time_against_goal(case)
    if late and candidate.kind == "grind":
        return f"It took {'longer' if late > 0 else 'less time'} than you asked for. {effect}"
    change = candidate.kind, candidate.direction
    if change == ("time", "longer") and case.outcome.tasted.get("silty") and candidate.plan.steep is not None:
        return f"Standing longer lets the silt sink. {effect}"
    own = next((c for c in causes if c.remedies[:1] == (change,) and c.weight >= LIKELY * causes[0].weight), None)
    cause = own or (cause_mended(*change, causes) if leads or not effect else None)
    return f"{cause.reason if cause else ''} {effect}".strip()


def _effect_of(case: Case, change: tuple[str, str]) -> str:
    of_method: dict[tuple[str, str], str] = {}
    if not runs_through_a_bed(case.plan):
        of_method = EFFECTS_IN_A_STEEP
    elif case.plan.brewer.name in MACHINES:
        of_method = EFFECTS_IN_A_MACHINE
    return of_method.get(change) or EFFECTS.get(change, "")


def caution_for(case: Case, candidate: Candidate) -> str:
    """Return the caution for a change or for what was observed; empty where there is none.

    Parameters
    ----------
    case : Case
        The brew to be judged.
    candidate : Candidate
        The change.

    Returns
    -------
    str
        The caution for a change or for what was observed.
    """
    if case.outcome.plunger_stuck or case.outcome.stalled:
        return STUCK
    key = (candidate.kind, candidate.direction)
    cold = case.plan.water_c < COLD_C
    return "" if key == ("time", "longer") and not cold else CAUTIONS.get(key, "")


def side_effects_of(case: Case, candidate: Candidate, now: State, then: State) -> tuple[str, ...]:
    """Return what else the change does.

    Parameters
    ----------
    case : Case
        The brew to be judged.
    candidate : Candidate
        The change.
    now : State
        The cup as it is.
    then : State
        The cup after the change.

    Returns
    -------
    tuple[str, ...]
        What else the change does.
    """
    if not candidate.modelled:
        return ("its effect can't be predicted",)
    sides = []
    late = then.drawdown_s - now.drawdown_s
    if candidate.kind not in ("grind", "seating", "mesh", "time") and abs(late) >= 4:
        sides.append(f"{'slower' if late > 0 else 'faster'} by {abs(late):.0f} s")
    if candidate.kind in ("grind", "sieve", "agitation", "time") and abs(then.tds_percent - now.tds_percent) >= 0.01:
        sides.append(f"strength {'falls' if then.tds_percent < now.tds_percent else 'rises'} with it")
    beyond = _beyond_what_suits(case, candidate)
    if beyond:
        sides.append(beyond)
    if candidate.kind == "bypass-water":
        sides.append("bitterness stays, diluted")
    if candidate.kind == "temperature" and candidate.direction == "hotter":
        sides.append("less acidity")
    return tuple(sides)


def _beyond_what_suits(case: Case, candidate: Candidate) -> str:
    """Return a warning of a grind that leaves what suits the method, or goes further from it."""
    plan, now, then = case.plan, case.grind.d50_um, candidate.grind.d50_um
    steep_s = plan.steep.seconds if plan.steep else None
    suited = suited_grind(case.style, plan.brewer.name, plan.dose_g, steep_s, case.windows)
    # Who is on the way back is not warned.
    way, said = ("fine", "finer") if then < now else ("coarse", "coarser")
    if suited is None or then == now or suited.window.verdict(then) != way:
        return ""
    window = suited.window
    return f"{said} than suits the {window.label}, {window.low_um:.0f}–{window.high_um:.0f} µm"


def why_not(candidate: Candidate, then: State, now: State, refusal: Refusal | None) -> str:
    """Return why a change is not offered, with what it would do.

    Parameters
    ----------
    candidate : Candidate
        The change.
    then : State
        The cup after the change.
    now : State
        The cup as it is.
    refusal : Refusal or None
        The reason, as a code; ``None`` for the opposite of what is offered.

    Returns
    -------
    str
        A sentence with its figures.
    """
    does = WHY_NOT.get(refusal or "wrong-way", WHY_NOT["wrong-way"])
    figures = (
        f"extraction {now.ey_percent:.1f} to {then.ey_percent:.1f} %, strength {now.tds_percent:.2f} to "
        f"{then.tds_percent:.2f} %, time {clock(now.drawdown_s)} to {clock(then.drawdown_s)}"
    )
    reason = f"{candidate.words} {does}: {figures}."
    return reason[0].upper() + reason[1:]
