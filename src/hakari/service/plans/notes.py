"""What to know about a plan before it is brewed."""

from __future__ import annotations

from typing import Literal, Protocol

from hakari.core.advice.evidence import TARGETS
from hakari.core.brew.brewers import Brewer
from hakari.core.brew.dilution import drops_per_second, over_ice, rescue_g, steps_to
from hakari.core.brew.display_units import DisplayUnits
from hakari.core.brew.heat import WARM_C
from hakari.core.brew.methods import Window
from hakari.core.brew.styles import Draft, style_of
from hakari.core.brew.suited_grind import suited_grind
from hakari.formats.base import Document, Pair
from hakari.formats.plan import PlanDocument
from hakari.formats.prediction import PredictionDocument

# A pressed concentrate, the water that thins it, and a drink that leaves a dripper: starting points.
DRINK_C, HOT_C, HOT_DRINK_C = 75.0, 90.0, 80.0
DILUTION_STEP_G = 10.0
UNEVEN_PERCENT = 3.0
WIDE_SPAN = 1.6  # of a grind that is wider than burrs usually give: a narrower one is to be had
USUAL_DOSE_G, LARGE_DOSE = 17.0, 1.2


class RecipeLike(Protocol):
    """What the notes need of a recipe."""

    brewer: str
    school: str

    def core_brewer(self) -> Brewer:
        """Return the brewer."""


GrindWay = Literal["finer", "coarser"]


class GrindOnPlan(Document):
    """Which grind a plan is made for; the interval is that of its setting, where a curve says it."""

    source: str
    grinder_id: int | None
    grinder_name: str | None
    setting: str | None
    median_um: float
    interval95_um: Pair | None = None
    fines_below_100: float
    assumed: bool


class PlanNote(Document):
    """Something to know before brewing: ``good``, ``watch`` or ``note``, with what to do.

    ``use_water_c`` is a temperature that can be taken at once; ``grind`` where a note would have the grind go.
    """

    kind: Literal["good", "watch", "note"]
    title: str
    detail: str
    use_water_c: float | None = None
    grind: GrindWay | None = None


URGENCY = {"watch": 0, "good": 1, "note": 2}


def most_useful_first(notes: list[PlanNote]) -> list[PlanNote]:
    """Return notes in the order of their use, without those that would have the grind go the other way than one before."""
    ordered = sorted(notes, key=lambda n: URGENCY[n.kind])
    way = next((n.grind for n in ordered if n.grind is not None), None)
    return [n for n in ordered if n.grind in (None, way)]


def notes_for(
    recipe: RecipeLike,
    on_plan: GrindOnPlan,
    document: PlanDocument,
    p: PredictionDocument,
    target_name: str,
    made: Draft,
    units: DisplayUnits,
    windows: tuple[Window, ...],
) -> list[PlanNote]:
    """Return what a plan's grind, ratio, brewer and style mean for the cup."""
    notes = _grind(recipe, on_plan, document, windows)
    if p.stalled:
        stall = "Go coarser, or pour the last third softly."
        notes.append(PlanNote(kind="watch", title="It may stall", detail=stall, grind="coarser"))
    notes += _limits(recipe, document, p, units)
    notes += _additions(document, p, made, target_name, units)
    if not made.dilution_g and not made.ice_g and document.water_c > WARM_C:
        notes += _target(document, p, target_name)
    small = [y for y in p.ey_by_size if y.diameter_um < 250]
    large = [y for y in p.ey_by_size if y.diameter_um > 900 and y.mass_share > 0.005]
    wide = document.grind.core().span > WIDE_SPAN
    if wide and small and large and small[-1].ey_percent - large[0].ey_percent > UNEVEN_PERCENT:
        title = (
            f"Extraction by size: {small[-1].diameter_um:.0f} µm {small[-1].ey_percent:.0f} %, "
            f"{large[0].diameter_um:.0f} µm {large[0].ey_percent:.0f} %"
        )
        notes.append(PlanNote(kind="note", title=title, detail="A narrower grind would extract more evenly."))
    if on_plan.assumed:
        detail = "Measure one photo to plan for your own grind."
        notes.append(PlanNote(kind="note", title="The grind is assumed", detail=detail))
    return notes


def _grind(
    recipe: RecipeLike, on_plan: GrindOnPlan, document: PlanDocument, windows: tuple[Window, ...]
) -> list[PlanNote]:
    """Whether the grind suits the method, and where the style wants it."""
    suited = suited_grind(recipe.school, recipe.brewer, document.dose_g, document.steep_s, windows)
    if suited is None:
        return []
    window = suited.window
    said = f"{window.low_um:.0f}–{window.high_um:.0f} µm suits it; this is {on_plan.median_um:.0f}."
    if suited.moved != 1.0:
        way = "coarser" if suited.moved > 1 else "finer"
        said += f" “{style_of(recipe.school).label}” is ground {abs(100 * (suited.moved - 1)):.0f} % {way} than usual."
    verdict = window.verdict(on_plan.median_um)
    if verdict == "inside":
        return [PlanNote(kind="good", title=f"Suits the {window.label}", detail=said)]
    remedy: GrindWay = "finer" if verdict == "coarse" else "coarser"
    return [PlanNote(kind="watch", title=f"Too {verdict} for the {window.label}", detail=said, grind=remedy)]


def _limits(recipe: RecipeLike, document: PlanDocument, p: PredictionDocument, units: DisplayUnits) -> list[PlanNote]:
    """Return what the brewer and the style are made for."""
    brewer, style = recipe.core_brewer(), style_of(recipe.school)
    poured = sum(pour.water_g for pour in document.pours)
    notes = []
    usual_mm = 1000 * brewer.height_m(brewer.volume_m3(p.bed_depth_mm / 1000) * USUAL_DOSE_G / document.dose_g)
    low, high = max(brewer.dose_g[0], style.dose_g[0]), min(brewer.dose_g[1], style.dose_g[1])
    made_for = f"“{style.label}” in a {brewer.label}: {units.masses(low, high, digits=None, between=' to ')}."
    dose = units.masses(document.dose_g, digits=None)
    if document.dose_g > high:
        much = f"{made_for} Brew in two, or take a larger brewer."
        notes.append(PlanNote(kind="note", title=f"{dose} is more than this is made for", detail=much))
    elif document.dose_g < low:
        little = f"{made_for} Use more coffee, or a smaller brewer."
        notes.append(PlanNote(kind="note", title=f"{dose} is less than this is made for", detail=little))
    if brewer.way == "drip" and document.dose_g > LARGE_DOSE * USUAL_DOSE_G and p.bed_depth_mm > LARGE_DOSE * usual_mm:
        notes.append(
            PlanNote(kind="note", title="A deeper bed than usual: go a little coarser",
                     detail=f"It is {p.bed_depth_mm:.0f} mm deep; {units.masses(USUAL_DOSE_G)} make {usual_mm:.0f} mm.",
                     grind="coarser")
        )  # fmt: skip
    held = _most_held_g(document, p, poured)
    if held > brewer.capacity_g:
        notes.append(
            PlanNote(kind="watch", title=f"The {brewer.label} does not hold that much",
                     detail=f"It takes about {units.masses(brewer.capacity_g)} at once; this needs {units.masses(held)}.")
        )  # fmt: skip
    if brewer.way == "drip" and p.bed_depth_mm < brewer.least_bed_mm:
        notes.append(
            PlanNote(kind="watch", title="The bed is shallow",
                     detail=f"{p.bed_depth_mm:.0f} mm; under {brewer.least_bed_mm:.0f} water finds holes. Use more coffee.")
        )  # fmt: skip
    if any(pour.where == "edge" for pour in document.pours) and brewer.way == "drip":
        notes.append(
            PlanNote(kind="watch", title="Water poured along the edge runs past the coffee",
                     detail="The cup comes thinner and less even than predicted. Pour in circles round the middle.")
        )  # fmt: skip
    if document.steep is not None and document.steep.force != "gentle":
        notes.append(
            PlanNote(kind="watch", title="Pressed hard, more fines come through",
                     detail="Never force a plunger: it can spray or break. Hard to move means too fine a grind.")
        )  # fmt: skip
    if style.kettle.startswith("a kettle"):
        notes.append(PlanNote(kind="note", title=f"It wants {style.kettle}", detail=style.reason))
    return notes


def _most_held_g(document: PlanDocument, p: PredictionDocument, poured_g: float) -> float:
    """Return the most water that is in the brewer at once: all of a steep's, what has not dripped out yet of a drip's."""
    if document.steep is not None:
        return poured_g
    return max(a - b for a, b in zip(p.series.poured_g, p.series.drink_g, strict=True))


def _additions(
    document: PlanDocument, p: PredictionDocument, made: Draft, target_name: str, units: DisplayUnits
) -> list[PlanNote]:
    """Water added afterwards, ice that melts, drops that fall."""
    notes = []
    if made.dilution_g > 0:
        target = TARGETS.get(target_name, TARGETS["classical"])
        wanted = sum(target.tds_percent) / 2
        poured = p.drink_g - made.held_back_g
        steps = steps_to(poured, p.tds_percent, DRINK_C, wanted, HOT_C, DILUTION_STEP_G)
        final = p.tds_percent * poured / (poured + made.dilution_g)
        notes.append(
            PlanNote(kind="note",
                     title=f"{units.masses(p.drink_g)} of concentrate at {p.tds_percent:.1f} %; "
                           f"with {units.masses(made.dilution_g)} of water {final:.2f} %",
                     detail=f"Taste, then add; {wanted:.2f} % is reached with {units.masses(steps[-1].added_g)}, "
                            f"at about {units.heat(steps[-1].celsius)}.")
        )  # fmt: skip
        back = rescue_g(poured + made.dilution_g, 0.85 * wanted, wanted, p.tds_percent)
        notes.append(
            PlanNote(kind="note", title="Too weak? Add back concentrate that you held back",
                     detail=f"A cup at {0.85 * wanted:.2f} % wants about {units.masses(back)} of it for {wanted:.2f} %.")
        )  # fmt: skip
    if made.ice_g:
        celsius, melted = over_ice(p.drink_g, HOT_DRINK_C, made.ice_g)
        strength = p.tds_percent * p.drink_g / (p.drink_g + melted)
        notes.append(
            PlanNote(kind="note",
                     title=f"{units.masses(melted)} of ice melt into it: {strength:.2f} % at about {units.heat(celsius)}",
                     detail="By heat balance, the glass left out.")
        )  # fmt: skip
    slow = [pour for pour in document.pours if pour.duration_s > 1200]
    if slow:
        rate = drops_per_second(slow[0].water_g, slow[0].duration_s)
        notes.append(
            PlanNote(kind="note", title=f"{60 * rate:.0f} drops a minute",
                     detail=f"Twenty drops to the gram; {slow[0].duration_s / 3600:.1f} hours for "
                            f"{units.masses(slow[0].water_g)}.")
        )  # fmt: skip
    return notes


def _target(document: PlanDocument, p: PredictionDocument, target_name: str) -> list[PlanNote]:
    """Whether this ratio can meet the target's box at all."""
    target = TARGETS.get(target_name, TARGETS["classical"])
    held = document.cup_g(p.drink_g) / document.dose_g
    low, high = (t * held for t in target.tds_percent)
    meets = max(low, target.ey_percent[0]), min(high, target.ey_percent[1])
    if meets[1] - meets[0] < 0.5:
        return [
            PlanNote(kind="watch", title=f"This ratio misses the {target.name} target",
                     detail=f"At this ratio its strengths mean {low:.1f}–{high:.1f} % extraction; it wants "
                            f"{target.ey_percent[0]:.0f}–{target.ey_percent[1]:.0f}. Change the water.")
        ]  # fmt: skip
    if meets[1] - meets[0] < 0.6 * (target.ey_percent[1] - target.ey_percent[0]):
        return [
            PlanNote(kind="note", title=f"This ratio crosses the {target.name} target at its edge",
                     detail=f"Only {meets[0]:.1f}–{meets[1]:.1f} % extraction lands in it.")
        ]  # fmt: skip
    return []
