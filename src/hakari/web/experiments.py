"""Station 7, Practice: experiments."""

from __future__ import annotations

from typing import Literal

from flask import Response
from pydantic import BaseModel, Field

from hakari.formats.experiment_result import TrianglePower
from hakari.service.experiments import paper, proposals, winner
from hakari.service.experiments import use_cases as service
from hakari.service.experiments.views import ExperimentDetail, ExperimentList, ExperimentView, PouringSheet
from hakari.service.workbench.use_cases import WorkbenchView
from hakari.web.shared import NO_CONTENT, ById, EmptyBody, Station, file_response, workspace

api = Station("experiments", "/api")


class TriangleDesign(BaseModel):
    """A triangle to be planned."""

    rounds: int = Field(default=12, ge=1, le=60)
    expected_can_tell: float = Field(default=0.5, ge=0, le=1)


@api.get("/triangle-designs", responses={200: TrianglePower})
def get_triangle_power(query: TriangleDesign) -> TrianglePower:
    """Return what a triangle of so many rounds can show, before it begins."""
    return TrianglePower.of(query.rounds, query.expected_can_tell)


@api.get("/experiment-proposals", responses={200: proposals.Proposals})
def list_proposals() -> proposals.Proposals:
    """Return what can be tried with what is on the bench."""
    return proposals.propose(workspace())


@api.get("/experiments", responses={200: ExperimentList})
def list_experiments() -> ExperimentList:
    """Return all experiments, newest first."""
    return service.list_experiments(workspace())


@api.post("/experiments", responses={201: ExperimentDetail})
def begin_experiment(body: service.NewExperiment) -> tuple[ExperimentDetail, int]:
    """Begin an experiment."""
    return service.begin(workspace(), body), 201


@api.get("/experiments/<int:id>", responses={200: ExperimentDetail})
def get_experiment(path: ById) -> ExperimentDetail:
    """Return an experiment; blind rounds that were not answered stay hidden."""
    return service.read_experiment(workspace(), path.id)


@api.patch("/experiments/<int:id>", responses={200: ExperimentDetail})
def change_experiment(path: ById, body: service.ExperimentChange) -> ExperimentDetail:
    """Change what was noted."""
    return service.change_experiment(workspace(), path.id, body)


@api.delete("/experiments/<int:id>", responses={204: None})
def delete_experiment(path: ById) -> tuple[str, int]:
    """Delete an experiment."""
    service.delete_experiment(workspace(), path.id, True)
    return NO_CONTENT


@api.post("/experiments/<int:id>/restore", responses={200: ExperimentView})
def restore_experiment(path: ById) -> ExperimentView:
    """Bring an experiment back."""
    return service.delete_experiment(workspace(), path.id, False)


@api.post("/experiments/<int:id>/pouring-sheets", responses={201: PouringSheet})
def open_pouring_sheet(path: ById, body: EmptyBody) -> tuple[PouringSheet, int]:
    """Open what goes into the cups of the next round, for the one who pours; it is noted that it was opened."""
    return service.open_pouring_sheet(workspace(), path.id), 201


@api.post("/experiments/<int:id>/rounds", responses={201: ExperimentDetail})
def answer_round(path: ById, body: service.RoundAnswer) -> tuple[ExperimentDetail, int]:
    """Keep the answers of a blind round, and open it."""
    return service.answer_round(workspace(), path.id, body), 201


@api.post("/experiments/<int:id>/winner", responses={200: WorkbenchView})
def put_winner_on_bench(path: ById, body: winner.Winner) -> WorkbenchView:
    """Put the winner on the bench."""
    return winner.put_on_bench(workspace(), path.id, body)


class ExperimentFileOf(BaseModel):
    """An experiment in one of its forms."""

    id: int = Field(ge=1, le=2**53)
    form: Literal["pdf", "json"]


@api.get(
    "/experiments/<int:id>/paper/<string:form>", responses=file_response("application/pdf", "application/octet-stream")
)
def get_experiment_file(path: ExperimentFileOf) -> Response:
    """Return an experiment to print (PDF) or to read elsewhere (JSON)."""
    if path.form == "json":
        data = service.experiment_document(workspace(), path.id).model_dump_json(indent=1).encode()
    else:
        data = paper.experiment_pdf(workspace(), path.id)
    name = f'attachment; filename="experiment-{path.id}.{path.form}"'
    kind = "application/pdf" if path.form == "pdf" else "application/octet-stream"
    return Response(data, mimetype=kind, headers={"Content-Disposition": name})
