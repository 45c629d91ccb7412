"""The HTTP interface: one shape of error, same-origin writes, a document that is current, and random probing."""

import io
from collections.abc import Iterator
from pathlib import Path

import pytest
import schemathesis
from flask.testing import FlaskClient
from hypothesis import HealthCheck, given, settings
from schemathesis.checks import CheckFunction
from schemathesis.specs.openapi.checks import negative_data_rejection, positive_data_acceptance, unsupported_method

from hakari.demo.picture_maker import Made
from hakari.service.workspace import Workspace
from hakari.web.app import create_app
from hakari.web.openapi import document_text

ROOT = Path(__file__).parents[2]


@pytest.fixture
def client(workspace: Workspace) -> Iterator[FlaskClient]:
    with create_app(workspace).test_client() as c:
        yield c


def test_health_and_headers(client: FlaskClient) -> None:
    answer = client.get("/api/health")
    assert answer.status_code == 200 and answer.json == {"status": "ok"}
    assert "default-src 'self'" in answer.headers["Content-Security-Policy"]
    assert answer.headers["X-Content-Type-Options"] == "nosniff"


def test_the_committed_document_is_current() -> None:
    assert (ROOT / "openapi.json").read_text() == document_text(), "run: make types"


def test_generated_types_know_every_address() -> None:
    types = (ROOT / "frontend/src/api/schema.d.ts").read_text()
    for path in create_paths():
        assert f'"{path}"' in types, f"{path} is missing: run make types"


def create_paths() -> list[str]:
    import json

    return list(json.loads(document_text())["paths"])


@pytest.mark.parametrize(
    ("method", "path", "body", "status", "code"),
    [
        ("get", "/api/samples/77", None, 404, "not-found"),
        ("get", "/api/nowhere", None, 404, "http-404"),
        ("put", "/api/health", None, 405, "http-405"),
        ("post", "/api/plans/preview", {"dose_g": -3}, 422, "dose-not-positive"),
        ("post", "/api/plans/preview", {"dose_g": "a lot"}, 422, "not-valid"),
        ("post", "/api/plans", {"dose_g": 17, "ratio": 90}, 422, "ratio-out-of-range"),
        ("post", "/api/cup/preview", {}, 404, "not-found"),
        ("patch", "/api/bench", {"version": 99}, 409, "changed-elsewhere"),
        ("post", "/api/grinders", {"name": "x", "dial": {"kind": "clicks", "maximum": 0}}, 422, "dial-malformed"),
        ("get", "/api/translate?to=1", None, 404, "not-found"),
    ],
)  # fmt: skip
def test_refusals_have_one_shape(client: FlaskClient, method: str, path: str, body, status: int, code: str) -> None:
    answer = getattr(client, method)(path, json=body)
    assert (answer.status_code, answer.json["code"]) == (status, code)
    assert answer.json["format"] == "hakari.error/1" and answer.json["message"] and answer.json["remedy"]


def test_writes_from_elsewhere_are_refused(client: FlaskClient) -> None:
    for headers in ({"Origin": "http://elsewhere.example"}, {"Sec-Fetch-Site": "cross-site"}):
        assert client.post("/api/coffees", json={"name": "x"}, headers=headers).status_code == 403
    assert client.get("/api/coffees").json == {"coffees": []}


def test_photos_are_sent_measured_and_shown(client: FlaskClient, small_picture: Made) -> None:
    sent = client.post("/api/samples", data={"photos": [(io.BytesIO(small_picture.jpeg), "a.jpg")], "scale": "card"})
    assert sent.status_code == 200
    d50 = sent.json["measurement"]["d50_um"]
    outlines = client.get(f"/api/samples/{sent.json['id']}/photos/0/outlines").json
    assert len(outlines["start"]) == len(outlines["diameter_um"]) + 1
    shown = client.get(f"/api/photos/{sent.json['photos'][0]['content_hash']}")
    assert shown.mimetype == "image/jpeg"
    rows = client.get(f"/api/samples/{sent.json['id']}/particles.csv").text.splitlines()
    assert rows[0].startswith("photo,x_mm,y_mm,area_um2,diameter_um") and len(rows) > 100
    wrong = client.post("/api/samples", data={"photos": [(io.BytesIO(b"no"), "b.jpg")]})
    assert wrong.status_code == 422 and wrong.json["code"] == "not-a-picture"
    assert client.get("/api/bench").json["sample"]["d50_um"] == pytest.approx(d50)
    assert len(client.get("/api/samples").json["samples"]) == 1


# Figures carry meaning that a schema cannot say (a dose of 1e300 g), and uploads need real photos.
EXCLUDED: list[CheckFunction] = [positive_data_acceptance, negative_data_rejection, unsupported_method]


def test_nothing_sent_breaks_the_server(workspace: Workspace) -> None:
    api = schemathesis.openapi.from_wsgi("/api/openapi.json", create_app(workspace))
    probed = 0
    for found in api.exclude(path="/api/samples", method="POST").get_all_operations():
        operation = found.ok()

        @settings(max_examples=20, deadline=None, suppress_health_check=list(HealthCheck))
        @given(case=operation.as_strategy())
        def probe(case: schemathesis.Case) -> None:
            case.call_and_validate(excluded_checks=EXCLUDED)

        probe()
        probed += 1
    assert probed > 25
