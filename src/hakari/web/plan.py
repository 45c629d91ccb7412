"""Station 3, Plan: a recipe, predicted."""

from __future__ import annotations

from flask import request

from hakari.formats.base import parse_json
from hakari.formats.recipe import Recipe
from hakari.service.plans import finer_coarser, matching, recipes, styles
from hakari.service.plans import use_cases as service
from hakari.web.shared import NO_CONTENT, ById, OfPass, Station, workspace

api = Station("plan", "/api")


@api.get("/methods", responses={200: styles.MethodList})
def list_methods() -> styles.MethodList:
    """Styles, brewers and filters."""
    return styles.list_methods(workspace())


@api.post("/plans/preview", responses={200: service.PlanView})
def preview_plan(body: Recipe, query: OfPass) -> service.PlanView:
    """Predict a recipe without keeping it."""
    return service.preview_plan(workspace(query), body)


@api.post("/plans/match", responses={200: matching.Matches})
def match_plan(body: Recipe, query: OfPass) -> matching.Matches:
    """Return settings for a plan, methods for the grind, the plan in other brewers."""
    return matching.match_plan(workspace(query), body)


@api.post("/plans/setting-steps", responses={200: finer_coarser.SettingSteps})
def setting_steps(body: Recipe, query: OfPass) -> finer_coarser.SettingSteps:
    """Return what one step finer or coarser would do to a recipe."""
    return finer_coarser.setting_steps(workspace(query), body)


@api.post("/plans", responses={201: service.PlanView})
def save_plan(body: Recipe, query: OfPass) -> tuple[service.PlanView, int]:
    """Keep a plan for a pass, or for a new one where that has begun."""
    return service.save_plan(workspace(query), body), 201


@api.get("/plans/<int:id>", responses={200: service.PlanView})
def get_plan(path: ById) -> service.PlanView:
    """Return a kept plan."""
    return service.plan_view(workspace(), path.id)


@api.post("/brewers", responses={201: styles.OwnBrewerView})
def add_brewer(body: styles.NewBrewer) -> tuple[styles.OwnBrewerView, int]:
    """Keep a brewer of one's own."""
    return styles.add_brewer(workspace(), body), 201


@api.delete("/brewers/<int:id>", responses={204: None})
def delete_brewer(path: ById) -> tuple[str, int]:
    """Put a brewer of one's own away."""
    styles.set_brewer_deleted(workspace(), path.id, True)
    return NO_CONTENT


@api.post("/brewers/<int:id>/restore", responses={200: styles.OwnBrewerView})
def restore_brewer(path: ById) -> styles.OwnBrewerView:
    """Bring a brewer of one's own back."""
    return styles.set_brewer_deleted(workspace(), path.id, False)


@api.get("/recipes", responses={200: recipes.RecipeList})
def list_recipes() -> recipes.RecipeList:
    """Recipes kept under a name."""
    return recipes.list_recipes(workspace())


@api.post("/recipes", responses={201: recipes.RecipeView})
def keep_recipe(body: recipes.NewRecipe) -> tuple[recipes.RecipeView, int]:
    """Keep a recipe under a name."""
    return recipes.keep_recipe(workspace(), body), 201


@api.delete("/recipes/<int:id>", responses={204: None})
def delete_recipe(path: ById) -> tuple[str, int]:
    """Throw a recipe away."""
    recipes.set_recipe_deleted(workspace(), path.id, True)
    return NO_CONTENT


@api.post("/recipes/<int:id>/restore", responses={200: recipes.RecipeView})
def restore_recipe(path: ById) -> recipes.RecipeView:
    """Bring a recipe back."""
    return recipes.set_recipe_deleted(workspace(), path.id, False)


@api.get("/recipes/<int:id>/export", responses={200: recipes.RecipeDocument})
def export_recipe(path: ById) -> recipes.RecipeDocument:
    """Return a recipe as ``hakari.recipe/1``."""
    return recipes.export_recipe(workspace(), path.id)


@api.post("/recipes/import", responses={201: recipes.RecipeView})
def import_recipe() -> tuple[recipes.RecipeView, int]:
    """Keep a recipe from a file, as the body."""
    data = parse_json(request.get_data(), "That file is not a recipe.", "Choose a file that Hakari wrote.")
    return recipes.import_recipe(workspace(), data), 201
