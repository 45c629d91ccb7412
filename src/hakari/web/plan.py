"""Station 3, Plan: a recipe, predicted."""

from __future__ import annotations

from hakari.service import plans as service
from hakari.service import schools
from hakari.web.shared import ById, blueprint, workspace

api = blueprint("plan", "/api")


@api.get("/methods", responses={200: schools.MethodList})
def list_methods() -> schools.MethodList:
    """Schools, brewers and filters."""
    return schools.list_methods()


@api.post("/plans/preview", responses={200: service.PlanView})
def preview_plan(body: service.Recipe) -> service.PlanView:
    """Predict a recipe without keeping it."""
    return service.preview_plan(workspace(), body)


@api.post("/plans", responses={200: service.PlanView})
def save_plan(body: service.Recipe) -> service.PlanView:
    """Keep a plan and put it on the bench."""
    return service.save_plan(workspace(), body)


@api.get("/plans/<int:id>", responses={200: service.PlanView})
def get_plan(path: ById) -> service.PlanView:
    """A kept plan."""
    return service.plan_view(workspace(), path.id)
