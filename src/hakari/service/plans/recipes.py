"""Recipes kept under a name: for whose grinder they were written, how they read on one's own, in and out as files."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError
from sqlalchemy.orm import Session

from hakari.core.brew.styles import style_of
from hakari.core.errors import InputError
from hakari.core.translate.nearest import nearest_setting, target_size
from hakari.formats.base import Document, Name, first_wrong
from hakari.formats.recipe import Recipe
from hakari.service.grinders.curves import core_of, grinder_document
from hakari.service.plans.use_cases import grind_at_hand, plan_at_hand
from hakari.service.workspace.at_hand import at_hand
from hakari.service.workspace.transaction import (
    Workspace,
    find,
    list_active,
    lookup,
    mark_deleted,
    units_of,
    workbench_row,
)
from hakari.store import models

# Another's photo, another's grinder: a recipe's size is good to so much, ln.
RECIPE_SD = 0.05


class RecipeDocument(Document):
    """``hakari.recipe/1``: a recipe with the grinder, setting and size that it was written for."""

    format: Literal["hakari.recipe/1"] = "hakari.recipe/1"
    name: Name
    recipe: Recipe
    grinder_name: Annotated[str, Field(max_length=80)] | None = None
    setting: Annotated[str, Field(max_length=40)] | None = None
    median_um: Annotated[float, Field(ge=20, le=5000)] | None = None


class NewRecipe(Document):
    """A recipe to keep as it stands on the bench."""

    name: Name
    recipe: Recipe


class RecipeView(RecipeDocument):
    """A kept recipe in a list; ``yours`` is its setting on the grinder on the bench."""

    id: int
    version: int
    said: str
    yours: str | None


class RecipeList(Document):
    """All kept recipes, by name."""

    recipes: list[RecipeView]


def list_recipes(ws: Workspace) -> RecipeList:
    """All kept recipes."""
    with ws.transaction() as session:
        return _list(session)


def keep_recipe(ws: Workspace, new: NewRecipe) -> RecipeView:
    """Keep a recipe under a name; one of that name is replaced. ``InputError`` when it cannot be planned."""
    new.recipe.amounts()
    with ws.transaction() as session:
        _, on_plan = grind_at_hand(session, at_hand(session))
        document = RecipeDocument(
            name=new.name, recipe=new.recipe, grinder_name=on_plan.grinder_name, setting=on_plan.setting,
            median_um=None if on_plan.assumed else round(on_plan.median_um, 1),
        )  # fmt: skip
        return _view(_keep(session, document), _grinder(session), session)


def set_recipe_deleted(ws: Workspace, recipe_id: int, deleted: bool) -> RecipeView:
    """Throw a recipe away, or bring it back."""
    with ws.transaction() as session:
        row = find(session, models.SavedRecipe, recipe_id, "recipe", deleted_too=True)
        mark_deleted(row, deleted)
        session.flush()
        return _view(row, _grinder(session), session)


def export_recipe(ws: Workspace, recipe_id: int) -> RecipeDocument:
    """Return a recipe in its open format."""
    with ws.transaction() as session:
        return _document(find(session, models.SavedRecipe, recipe_id, "recipe"))


def import_recipe(ws: Workspace, data: Any) -> RecipeView:
    """Keep a recipe from a file; ``InputError`` ``recipe-malformed``."""
    try:
        document = RecipeDocument.model_validate(data)
    except ValidationError as error:
        place, wrong = first_wrong(error)
        raise InputError(
            "recipe-malformed", f"This is no recipe that can be read: {place or 'the file'}: {wrong}.",
            "Use a file that Hakari wrote.", field=place or None,
        ) from error  # fmt: skip
    document.recipe.amounts()
    with ws.transaction() as session:
        return _view(_keep(session, document), _grinder(session), session)


def _keep(session: Session, document: RecipeDocument) -> models.SavedRecipe:
    # What cannot be planned is not kept: it would be listed and fail whenever it is used.
    plan_at_hand(session, document.recipe).document.core()
    for row in list_active(session, models.SavedRecipe):
        if row.name.lower() == document.name.lower():
            mark_deleted(row, True)
    kept = models.SavedRecipe(
        name=document.name, recipe=document.recipe, grinder_name=document.grinder_name, setting=document.setting,
        median_um=document.median_um,
    )  # fmt: skip
    session.add(kept)
    session.flush()
    return kept


def _document(row: models.SavedRecipe) -> RecipeDocument:
    return RecipeDocument(
        name=row.name, recipe=row.recipe, grinder_name=row.grinder_name, setting=row.setting,
        median_um=row.median_um,
    )  # fmt: skip


def _list(session: Session) -> RecipeList:
    rows = sorted(list_active(session, models.SavedRecipe), key=lambda r: r.name.lower())
    grinder = _grinder(session)
    return RecipeList(recipes=[_view(row, grinder, session) for row in rows])


def _grinder(session: Session) -> models.Grinder | None:
    return lookup(session, models.Grinder, at_hand(session).grinder_id)


def _view(row: models.SavedRecipe, grinder: models.Grinder | None, session: Session) -> RecipeView:
    document = _document(row)
    wanted, units = document.recipe.amounts(), units_of(workbench_row(session))
    said = (
        f"{style_of(document.recipe.school).label}, {document.recipe.core_brewer().label}: "
        f"{units.masses(wanted.dose_g, digits=None)} to {units.masses(wanted.water_g)} at "
        f"{units.heat(document.recipe.water_c)}"
    )
    return RecipeView(
        **document.model_dump(),
        id=row.id,
        version=row.version,
        said=said,
        yours=_yours(session, grinder, row.median_um),
    )


def _yours(session: Session, grinder: models.Grinder | None, median_um: float | None) -> str | None:
    """Return the setting of one's own grinder for a recipe's size, in words; ``None`` while either is not known."""
    if grinder is None or grinder.deleted_at is not None or median_um is None:
        return None
    try:
        found = nearest_setting(core_of(grinder_document(grinder, session)), target_size(median_um, RECIPE_SD))
    except InputError:
        return None
    return f"{grinder.name} {found.setting}" if found.reachable else f"not reached on the {grinder.name}"
