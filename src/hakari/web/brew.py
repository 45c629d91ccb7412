"""Station 4, Brew: the clock."""

from __future__ import annotations

from hakari.service import brews as service
from hakari.web.shared import ById, Nothing, blueprint, workspace

api = blueprint("brew", "/api")


@api.post("/brews", responses={200: service.BrewView})
def start_brew(body: Nothing) -> service.BrewView:
    """Start the clock on the bench's plan."""
    return service.start_brew(workspace())


@api.get("/brews/<int:id>", responses={200: service.BrewView})
def get_brew(path: ById) -> service.BrewView:
    """A brew as it stands."""
    return service.brew_view(workspace(), path.id)


@api.post("/brews/<int:id>/taps", responses={200: service.BrewView})
def tap_brew(path: ById, body: service.BrewTap) -> service.BrewView:
    """Note what the hand reports now."""
    return service.tap_brew(workspace(), path.id, body)
