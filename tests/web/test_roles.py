"""What a manager, a barista and a display may do, and the log of who did what."""

from __future__ import annotations

import io
import json
import logging
import threading
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from test_pairing import OTHER, Client
from werkzeug.serving import make_server

from hakari.service.devices.use_cases import IDLE, let_in
from hakari.service.workspace.transaction import Workspace
from hakari.store import models
from hakari.web.addresses import serving_at
from hakari.web.app import create_app
from hakari.web.logs import log_to


@pytest.fixture
def port(workspace: Workspace) -> Iterator[int]:
    server = make_server(OTHER, 0, create_app(workspace, serving_at(OTHER, 0, https=False)), threaded=True)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield server.port
    server.shutdown()


def device(ws: Workspace, port: int, name: str, role: str) -> Client:
    return Client(port, cookies={"hakari_device": let_in(ws, name, role)})


MANAGED = [
    ("GET", "/api/archives/latest.zip", None), ("POST", "/api/archives", None), ("POST", "/api/pairing-codes", "{}"),
    ("GET", "/api/pairing-codes", None), ("DELETE", "/api/pairing-codes/1", None), ("POST", "/api/guest-links", "{}"),
    ("DELETE", "/api/devices/99", None), ("PATCH", "/api/devices/99", '{"role": "manager"}'),
    ("DELETE", "/api/counters/1", None),
]  # fmt: skip


def test_what_takes_the_work_out_and_who_comes_and_goes_needs_a_manager(workspace: Workspace, port: int) -> None:
    barista, manager = device(workspace, port, "A", "barista"), device(workspace, port, "B", "manager")
    for method, path, body in MANAGED:
        refused = barista(method, path, body, Content_Type="application/json")
        assert (refused.status, refused.json()["code"]) == (403, "manager-only"), path
        assert manager(method, path, body, Content_Type="application/json").status not in (401, 403), path
    # And nobody makes a manager of itself.
    assert barista("GET", "/api/devices/current").json() == {"name": "A", "role": "barista"}


def test_a_barista_deletes_what_it_made_and_a_manager_everything(workspace: Workspace, port: int) -> None:
    first, second = device(workspace, port, "A", "barista"), device(workspace, port, "B", "barista")
    manager = device(workspace, port, "C", "manager")
    recipe = {"name": "Morning", "recipe": {"dose_g": 17}}
    made = first.post("/api/recipes", recipe)
    assert made.status == 201, made.text
    first.post("/api/plans", {"dose_g": 17})
    slip = first.post("/api/slips", {"outcome": {"drawdown_s": 200, "taste": {"sweet": 1}}}).json()["id"]
    grinder = first.post(
        "/api/grinders", {"name": "Hand mill", "burrs": "conical",
                          "dial": {"kind": "clicks", "clicks_per_turn": 36, "minimum": 0, "maximum": 60}}
    ).json()["id"]  # fmt: skip
    for path in (f"/api/recipes/{made.json()['id']}", f"/api/slips/{slip}", f"/api/grinders/{grinder}"):
        refused = second("DELETE", path)
        assert (refused.status, refused.json()["code"]) == (403, "not-yours"), path
        assert first("DELETE", path).status == 204, path
        assert first.post(f"{path}/restore", {}).status == 200
        assert manager("DELETE", path).status == 204
    # A recipe of the same name would replace another's; one's own it may.
    manager.post(f"/api/recipes/{made.json()['id']}/restore", {})
    assert second.post("/api/recipes", recipe).status == 403 and first.post("/api/recipes", recipe).status == 201


def test_a_role_is_given_and_taken_and_ends_with_the_device(workspace: Workspace, port: int) -> None:
    phone, manager = device(workspace, port, "Phone", "barista"), device(workspace, port, "Tablet", "manager")
    listed = {d["name"]: d for d in manager("GET", "/api/devices").json()["devices"]}
    assert listed["Phone"]["role"] == "barista" and not listed["Phone"]["expired"]
    path = f"/api/devices/{listed['Phone']['id']}"
    assert manager("PATCH", path, '{"role": "manager"}', Content_Type="application/json").json()["role"] == "manager"
    assert phone.post("/api/pairing-codes", {}).status == 201
    assert manager("PATCH", path, '{"role": "owner"}', Content_Type="application/json").status == 422
    assert manager("DELETE", path).status == 204 and phone("GET", "/api/coffees").status == 401


def test_codes_are_listed_without_what_they_are_and_withdrawn(workspace: Workspace, port: int) -> None:
    manager = device(workspace, port, "Tablet", "manager")
    code = manager.post("/api/pairing-codes", {"role": "manager"}).json()
    listed = manager("GET", "/api/pairing-codes")
    assert [(c["id"], c["role"], c["by"]) for c in listed.json()["codes"]] == [(code["id"], "manager", "Tablet")]
    assert code["code"].replace(" ", "") not in listed.text.replace(" ", "")
    assert manager("DELETE", f"/api/pairing-codes/{code['id']}").status == 204
    assert manager("GET", "/api/pairing-codes").json()["codes"] == []
    assert Client(port).pair(code["code"]).status == 403


def test_a_device_that_was_not_used_for_a_season_is_let_in_anew(workspace: Workspace, port: int) -> None:
    phone = device(workspace, port, "Phone", "barista")
    assert phone("GET", "/api/coffees").status == 200
    with workspace.transaction() as session:
        row = session.query(models.Device).one()
        row.last_used_at = datetime.now(UTC) - IDLE - timedelta(minutes=1)
    assert phone("GET", "/api/coffees").status == 401
    manager = device(workspace, port, "Tablet", "manager")
    assert {d["name"]: d["expired"] for d in manager("GET", "/api/devices").json()["devices"]}["Phone"]


@pytest.mark.same_on_any_database
def test_the_log_says_who_did_what(workspace: Workspace, port: int, tmp_path: Path) -> None:
    logger = logging.getLogger("hakari")
    before = list(logger.handlers)
    try:
        log_to(tmp_path)
        device(workspace, port, "Phone", "barista").post("/api/coffees", {"name": "Lot"})
        Client(port)("GET", "/api/coffees")
        lines = [json.loads(line) for line in (tmp_path / "hakari.jsonl").read_text().splitlines()]
    finally:
        logger.handlers[:] = before
    asked = [line["by"] for line in lines if line.get("path") == "/api/coffees"]
    assert (asked[0]["name"], asked[0]["role"]) == ("Phone", "barista") and asked[1].startswith("a stranger at 127.")


@pytest.mark.same_on_any_database
def test_what_a_device_photographed_is_its_own(workspace: Workspace, port: int, small_picture: object) -> None:
    phone = device(workspace, port, "Phone", "barista")
    edge = "x" * 20
    part = f'--{edge}\r\nContent-Disposition: form-data; name="photos"; filename="a.jpg"\r\n\r\n'.encode()
    body = io.BytesIO(part + small_picture.jpeg + f"\r\n--{edge}--\r\n".encode())  # type: ignore[attr-defined]
    job = phone("POST", "/api/measurements", body.getvalue(), Content_Type=f"multipart/form-data; boundary={edge}")  # type: ignore[arg-type]
    assert job.status == 202, job.text
    while not (seen := phone("GET", f"/api/measurements/{job.json()['id']}").json())["finished"]:
        pass
    other = device(workspace, port, "Other", "barista")
    path = f"/api/samples/{seen['sample_id']}"
    assert other("DELETE", path).status == 403 and phone("DELETE", path).status == 204
