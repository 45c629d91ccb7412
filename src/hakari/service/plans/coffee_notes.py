"""What the coffee in hand asks of a plan: heat for its roast, papers that it may clog, and how it has rested."""

from __future__ import annotations

from hakari.core.brew.display_units import DisplayUnits
from hakari.core.brew.filters import PAPERS
from hakari.core.brew.heat import minutes_off_boil
from hakari.core.brew.rest import rest_of
from hakari.core.brew.styles.style import RecipeStyle
from hakari.core.brew.usual_heat import LEAST_C, usual_heat_c
from hakari.formats.plan import PlanDocument
from hakari.service.coffees.views import CoffeeView
from hakari.service.plans.notes import GrindOnPlan, PlanNote

MANY_FINES = 0.11  # share under 100 µm from which papers clog more often: a starting point
ROASTS = {
    "light": "a light roast",
    "medium": "a medium roast",
    "medium-dark": "a medium-dark roast",
    "dark": "a dark roast",
}


def coffee_notes(
    style: RecipeStyle, coffee: CoffeeView | None, on_plan: GrindOnPlan, document: PlanDocument, units: DisplayUnits
) -> list[PlanNote]:
    """Return remarks on heat, clogging and rest; none of them keeps a plan from being brewed."""
    notes = [
        _heat(style, document, units),
        _clogging(coffee, on_plan, document),
        _rest(coffee, document),
        _longer(style, coffee, document),
    ]
    return [note for note in notes if note is not None]


def _heat(style: RecipeStyle, document: PlanDocument, units: DisplayUnits) -> PlanNote | None:
    usual = usual_heat_c(style, document.roast)
    if usual is None or abs(document.water_c - usual) < LEAST_C:
        return None
    way = "hotter" if usual > document.water_c else "cooler"
    return PlanNote(
        kind="note", title=f"{units.heat(usual)} is usual for {ROASTS[document.roast]}, {way} than planned",
        detail=f"Without a thermometer: about {minutes_off_boil(usual):.0f} min off the boil, the lid open.",
        use_water_c=usual,
    )  # fmt: skip


def _clogging(coffee: CoffeeView | None, on_plan: GrindOnPlan, document: PlanDocument) -> PlanNote | None:
    if document.steep is not None or document.filter not in PAPERS or max(p.duration_s for p in document.pours) > 1200:
        return None
    why = [
        *(["a light roast"] if document.roast == "light" else []),
        *(["dense beans"] if coffee is not None and coffee.dense else []),
        *(
            [f"{100 * on_plan.fines_below_100:.0f} % fines"]
            if not on_plan.assumed and on_plan.fines_below_100 > MANY_FINES
            else []
        ),
    ]
    if not why:
        return None
    return PlanNote(
        kind="note", title=f"It may clog: {' and '.join(why)}",
        detail="Seat the paper well, pour softly and early. If the level stops falling, grind coarser next time.",
    )  # fmt: skip


def _rest(coffee: CoffeeView | None, document: PlanDocument) -> PlanNote | None:
    if coffee is None or coffee.days_off_roast is None:
        return None
    state, words = rest_of(coffee.days_off_roast, coffee.rest_guideline)
    days = f"Roasted {coffee.days_off_roast} {'day' if coffee.days_off_roast == 1 else 'days'} ago"
    blooms = document.steep is None and len(document.pours) > 1
    if state == "young":
        return PlanNote(
            kind="note", title=f"{days}, {words}",
            detail="It gasses: let it bloom 15 s longer." if blooms else "It gasses: leave room for the foam.",
        )  # fmt: skip
    if state == "old":
        return PlanNote(kind="note", title=f"{days}, {words}", detail="Expect little bloom and a flatter cup.")
    return None


def _longer(style: RecipeStyle, coffee: CoffeeView | None, document: PlanDocument) -> PlanNote | None:
    """One fill is steered by its time, which goes with roast and density."""
    if style.name != "one-fill":
        return None
    if document.roast == "light" or (coffee is not None and coffee.dense):
        return PlanNote(
            kind="note", title="Light or dense coffee: aim for a longer time", detail="Grind finer for it.",
            grind="finer",
        )  # fmt: skip
    if document.roast == "dark":
        return PlanNote(
            kind="note", title="A dark roast: aim for a shorter time", detail="Grind coarser for it.",
            grind="coarser",
        )  # fmt: skip
    return None
