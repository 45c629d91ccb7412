"""Station 5, Cup: evidence in, one change out; what came of the changes."""

from __future__ import annotations

from hakari.service.cups import learning
from hakari.service.cups import use_cases as service
from hakari.web.shared import OfPass, Station, workspace

api = Station("cup", "/api")


@api.post("/cups/preview", responses={200: service.CupView})
def preview_cup(body: service.CupEntry, query: OfPass) -> service.CupView:
    """Judge the brew of a pass without keeping it."""
    return service.preview_cup(workspace(query), body)


@api.get("/cups/learning", responses={200: learning.LearningView})
def get_learning() -> learning.LearningView:
    """How well changes were guessed, and how large each lever's effect is from them."""
    return learning.learning_view(workspace())


@api.post("/cups/learning", responses={200: learning.LearningView})
def learn_from(body: learning.LearnFrom) -> learning.LearningView:
    """Reset the learning, or undo the reset."""
    return learning.learn_from(workspace(), body)
