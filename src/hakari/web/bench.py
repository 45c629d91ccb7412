"""The bench and the coffee shelf."""

from __future__ import annotations

from hakari.service.coffees import use_cases as coffees
from hakari.service.coffees.views import CoffeeView
from hakari.service.workbench import use_cases as service
from hakari.web.shared import NO_CONTENT, ById, Station, workspace

api = Station("bench", "/api")


@api.get("/workbenches/current", responses={200: service.WorkbenchView})
def get_bench() -> service.WorkbenchView:
    """Return what is on the bench."""
    return service.read_bench(workspace())


@api.patch("/workbenches/current", responses={200: service.WorkbenchView})
def change_bench(body: service.WorkbenchChange) -> service.WorkbenchView:
    """Put things on the bench."""
    return service.change_bench(workspace(), body)


@api.get("/coffees", responses={200: coffees.CoffeeList})
def list_coffees() -> coffees.CoffeeList:
    """Return the coffee shelf."""
    return coffees.list_coffees(workspace())


@api.patch("/coffees/<int:id>", responses={200: coffees.ShelfCoffee})
def change_coffee(path: ById, body: coffees.CoffeeChange) -> coffees.ShelfCoffee:
    """Change a coffee."""
    return service.change_coffee(workspace(), path.id, body)


@api.post("/coffees", responses={201: CoffeeView})
def add_coffee(body: coffees.NewCoffee) -> tuple[CoffeeView, int]:
    """Put a coffee on the shelf."""
    return service.add_coffee(workspace(), body), 201


@api.delete("/coffees/<int:id>", responses={204: None})
def delete_coffee(path: ById) -> tuple[str, int]:
    """Put a coffee away."""
    service.set_coffee_deleted(workspace(), path.id, True)
    return NO_CONTENT


@api.post("/coffees/<int:id>/restore", responses={200: CoffeeView})
def restore_coffee(path: ById) -> CoffeeView:
    """Put a coffee back on the shelf."""
    return service.set_coffee_deleted(workspace(), path.id, False)
