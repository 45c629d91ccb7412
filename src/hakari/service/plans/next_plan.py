"""The recipe of the next brew: the last one with one change made to it."""

from __future__ import annotations

from hakari.core.advice.candidate import Candidate
from hakari.core.advice.moves import candidates
from hakari.formats.advice import MoveDocument
from hakari.formats.plan import ActionDocument, FlatDocument, PourDocument, SteepDocument
from hakari.formats.recipe import Recipe
from hakari.formats.slip import SlipDocument
from hakari.service.plans.use_cases import draft_of

SAME_DOSE_G = 0.05


def changes_of(document: SlipDocument) -> dict[tuple[str, str, str], Candidate]:
    """All changes to the brew of a kept slip, by kind, direction and what they go to, as its advice names them.

    Raises
    ------
    InputError
        When the slip's plan or setting cannot be used any more.
    """
    return {(c.kind, c.direction, c.end): c for c in candidates(document.case())}


def key_of(move: MoveDocument) -> tuple[str, str, str]:
    """Return what a kept move is found by among ``changes_of``."""
    return move.kind, move.direction, move.end


def as_brewed(recipe: Recipe, document: SlipDocument) -> Recipe:
    """Return a recipe with what was really done: the dose that was weighed in, and the water that was added to the drink."""
    new, planned = recipe.model_copy(deep=True), recipe.amounts()
    dose_g = document.plan.dose_g
    if abs(dose_g - planned.dose_g) > SAME_DOSE_G:
        share = dose_g / planned.dose_g
        new.dose_g, new.water_g, new.ratio, new.cup_g = dose_g, round(share * planned.water_g, 1), None, None
        if new.pours:
            new.pours = [p.model_copy(update={"water_g": round(share * p.water_g, 1)}) for p in new.pours]
    added = document.outcome.added_water_g
    return new if added is None else with_dilution(new, added)


def with_dilution(recipe: Recipe, dilution_g: float) -> Recipe:
    """Return a recipe with so much water into the finished drink, g.

    What its style itself dilutes by follows from all of the water; the rest is added on top.
    """
    new, of_style = recipe.model_copy(deep=True), draft_of(recipe).dilution_g
    new.after_g = max(dilution_g - of_style, 0.0)
    if dilution_g < of_style:
        amounts = recipe.amounts()
        new.dose_g, new.water_g = amounts.dose_g, round(amounts.water_g - of_style + dilution_g)
        new.ratio = new.cup_g = None
    return new


def changed_recipe(recipe: Recipe, change: Candidate) -> Recipe:
    """Return a recipe with one change: what the plan of the change differs in is written into it.

    The grind is not in a recipe; what no recipe holds (paper seated again, sieving, other coffee) leaves it as it is.
    """
    plan, new = change.plan, recipe.model_copy(deep=True)
    if change.kind == "temperature":
        new.water_c = plan.water_c
    elif change.kind == "dose" and change.direction != "smaller":
        new.dose_g, new.water_g, new.ratio, new.cup_g = plan.dose_g, recipe.amounts().water_g, None, None
    elif change.kind in ("ratio", "dose", "compensated"):
        new.dose_g, new.water_g, new.ratio, new.cup_g = plan.dose_g, round(plan.water_g), None, None
        new.steep = SteepDocument.of(plan.steep) if change.direction == "more-coffee" else new.steep
    elif change.option is not None:
        new.options, new.pours = {**recipe.options, change.option[0]: change.option[1]}, None
    elif change.kind == "pours":
        new.pours = [PourDocument.of(p) for p in plan.pours]
    elif change.kind in ("agitation", "time"):
        new.steep = SteepDocument.of(plan.steep)
        new.actions = [ActionDocument.of(a) for a in plan.actions]
    elif change.kind == "filter" and change.modelled:
        new.filter = plan.filter_name
    elif change.kind == "mesh":
        b = plan.brewer
        new.shape = FlatDocument(
            shape="flat", diameter_mm=b.bottom_mm, bypass=b.bypass, open_share=b.open_share, mesh=True
        )
        new.brewer_name = f"{b.label} with a mesh"
    elif change.kind == "bypass-water":
        new.after_g = recipe.after_g + change.added_g
    elif change.dilution_g is not None:
        new = with_dilution(recipe, change.dilution_g)
    elif change.kind == "preheat":
        new.heat = new.heat.model_copy(update={"preheated": True})
    elif change.kind == "brewer":
        new.brewer, new.shape, new.brewer_name, new.filter = plan.brewer.name, None, None, None
    return new


def changed_setting(change: Candidate) -> str | None:
    """Return the setting of a change that moves the grind, as the dial writes it; ``None`` where it stays."""
    if change.kind == "grind":
        return change.end
    return change.end.rsplit(", ", 1)[0] if change.direction == "coarser-shorter" else None
