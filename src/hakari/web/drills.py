"""Station 7, Practice: drills."""

from __future__ import annotations

from flask import Response, current_app
from pydantic import BaseModel, Field

from hakari.service.drills import pours
from hakari.service.drills import use_cases as service
from hakari.service.drills.progress import DrillView
from hakari.service.drills.questions import Drill, Questions, QuestionView
from hakari.web.shared import ById, Station, file_response, workspace

api = Station("drills", "/api")


def _questions() -> Questions:
    found: Questions = current_app.extensions["drill_questions"]
    return found


@api.get("/drills", responses={200: service.DrillList})
def list_drills() -> service.DrillList:
    """Return all drills, how they go, and what is due."""
    return service.list_drills(workspace())


class DrillName(BaseModel):
    """A drill."""

    drill: Drill


@api.get("/drills/<string:drill>", responses={200: DrillView})
def get_drill(path: DrillName) -> DrillView:
    """Return how one drill goes."""
    return service.read_drill(workspace(), path.drill)


@api.delete("/drills/<string:drill>", responses={200: DrillView})
def forget_drill(path: DrillName) -> DrillView:
    """Begin a drill again."""
    return service.forget_drill(workspace(), path.drill)


@api.post("/drill-questions", responses={201: QuestionView})
def ask_question(body: service.NewQuestion) -> tuple[QuestionView, int]:
    """Ask what is due of a drill; what is right stays on the server."""
    return service.ask(workspace(), _questions(), body), 201


@api.post("/drill-questions/<int:id>/answers", responses={201: service.DrillVerdict})
def answer_question(path: ById, body: service.DrillEntry) -> tuple[service.DrillVerdict, int]:
    """Judge an answer, and say what is right."""
    return service.answer(workspace(), _questions(), path.id, body), 201


class PictureOf(BaseModel):
    """One of the pictures of a question: 0 on the left, 1 on the right."""

    id: int = Field(ge=1, le=2**53)
    side: int = Field(ge=0, le=1)


@api.get("/drill-questions/<int:id>/pictures/<int:side>", responses=file_response("image/jpeg"))
def get_picture(path: PictureOf) -> Response:
    """Return a picture of a question."""
    return Response(service.picture(workspace(), _questions(), path.id, path.side), mimetype="image/jpeg")


@api.get("/pour-curves", responses={200: pours.PourCurveList})
def list_pours() -> pours.PourCurveList:
    """Return the pours that can be practised."""
    return pours.list_curves(workspace())


@api.post("/pours", responses={201: pours.PourResult})
def score_pour(body: pours.PourEntry) -> tuple[pours.PourResult, int]:
    """Score a pour, and keep its score."""
    return pours.score_pour(workspace(), body), 201
