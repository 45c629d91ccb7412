"""Passes: what is being worked on, from the first choice to the slip."""

from __future__ import annotations

from hakari.service.brews.use_cases import brew_view
from hakari.service.passes import use_cases as service
from hakari.service.passes.views import PassView
from hakari.web.brew import desk
from hakari.web.shared import NO_CONTENT, ById, Station, workspace

api = Station("passes", "/api")


@api.get("/passes", responses={200: service.PassList})
def list_passes(query: service.PassSearch) -> service.PassList:
    """Return the open passes of this counter, or those that were discarded."""
    return service.list_passes(workspace(), query)


@api.post("/passes", responses={201: PassView})
def begin_pass(body: service.NewPass) -> tuple[PassView, int]:
    """Begin a pass like another one, and take it up."""
    return service.begin_pass(workspace(), body), 201


@api.get("/passes/<int:id>", responses={200: PassView})
def get_pass(path: ById) -> PassView:
    """Return a pass as it stands."""
    return service.pass_detail(workspace(), path.id)


@api.delete("/passes/<int:id>", responses={204: None})
def discard_pass(path: ById) -> tuple[str, int]:
    """Discard a pass."""
    brew_id = service.discard_pass(workspace(), path.id)
    if brew_id is not None:
        desk().let_go(brew_id)
    return NO_CONTENT


@api.post("/passes/<int:id>/restore", responses={200: PassView})
def restore_pass(path: ById) -> PassView:
    """Bring a discarded pass back."""
    restored = service.restore_pass(workspace(), path.id)
    if restored.state == "brewing" and restored.brew is not None:
        desk().changed(brew_view(workspace(), restored.brew.id))
    return restored


@api.patch("/passes/<int:id>/told", responses={200: PassView})
def tell(path: ById, body: service.ToldCup) -> PassView:
    """Keep what was typed and tapped of the cup."""
    return service.tell(workspace(), path.id, body)


@api.delete("/passes/<int:id>/told", responses={200: PassView})
def take_back_told(path: ById) -> PassView:
    """Forget what was told of the cup and is in no slip."""
    return service.take_back_told(workspace(), path.id)
