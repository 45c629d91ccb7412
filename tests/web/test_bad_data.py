"""What must not get in: files and fields that would poison a page, each refused in words, with nothing kept of it."""

from __future__ import annotations

import io
import json
from datetime import UTC, datetime, timedelta

import pytest
from flask.testing import FlaskClient
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image
from pydantic import TypeAdapter

from hakari.core.errors import InputError
from hakari.core.photo.decode import decode
from hakari.formats.base import Name, safe_cell
from hakari.formats.brew_log import read_log
from hakari.service.coffees import use_cases as coffees
from hakari.service.workbench import use_cases as bench
from hakari.service.workspace.transaction import Workspace
from hakari.store import models
from hakari.web.app import HakariApp

DIAL = {"kind": "clicks", "minimum": 0, "maximum": 40}
GOOD = {"name": "Sound", "dial": DIAL, "samples": [{"setting": "20", "d50_um": 600}]}


def sample(**wrong: object) -> dict:
    return {"name": "Odd", "dial": DIAL, "samples": [{"setting": "20", "d50_um": 600, **wrong}]}


@pytest.fixture
def client(app: HakariApp) -> FlaskClient:
    return app.test_client()


@pytest.mark.same_on_any_database
@pytest.mark.parametrize(
    "wrong",
    [
        sample(span=-1), sample(fines_below_100=-5), sample(ci95_um=[1e-300, 1e300]), sample(ci95_um=[700, 500]),
        sample(d50_um=0), sample(d50_um=-3), sample(d50_um=1e300), sample(roast="burnt"), sample(setting="x" * 400),
        {"name": "\u200b\u202e ", "dial": DIAL}, {"name": "Many", "dial": DIAL, "samples": GOOD["samples"] * 600},
        {"name": "Wide", "dial": {**DIAL, "maximum": 10**9}}, {"name": "None", "dial": {"kind": "clicks", "maximum": None}},
    ],
)  # fmt: skip
def test_a_file_with_one_bad_grinder_brings_none(client: FlaskClient, wrong: dict) -> None:
    answer = client.post("/api/grinders/import", data=json.dumps([GOOD, wrong]), content_type="application/json")
    assert answer.status_code == 422 and answer.json["message"] and answer.json["remedy"]
    assert client.get("/api/grinders").json == {"grinders": []}


@pytest.mark.same_on_any_database
@pytest.mark.parametrize(
    "body",
    [b"[" * 100_000 + b"]" * 100_000, b'{"name":"x","dial":{"kind":"clicks","maximum":' + b"9" * 100_000 + b"}}",
     b"\xff\xfe", b"", b"NaN", b'"' + b"x" * 200_000 + b'"', b"[1, 2]", b"null"],
)  # fmt: skip
@pytest.mark.parametrize("path", ["/api/grinders/import", "/api/recipes/import", "/api/plans/preview", "/api/slips"])
def test_json_that_is_none_is_refused_in_words(client: FlaskClient, path: str, body: bytes) -> None:
    answer = client.post(path, data=body, content_type="application/json")
    assert 400 <= answer.status_code < 500 and answer.json["message"] and answer.json["format"] == "hakari.error/1"


@pytest.mark.same_on_any_database
@pytest.mark.parametrize(
    "recipe",
    [
        {"pours": [{"start_s": 1e6, "duration_s": 10, "water_g": 50}]}, {"options": {str(k): "1" for k in range(500)}},
        {"options": {"stages": "9" * 10_000}}, {"dose_g": 1e300}, {"dose_g": -1}, {"water_c": 1e9}, {"brewer": "x" * 900},
        {"shape": {"shape": "flat", "open_share": 5e-324}}, {"pours": [{"duration_s": 1, "water_g": 1}] * 900},
        {"shape": {"shape": "cone", "half_angle_deg": 1e-300}}, {"after_g": -50}, {"filter_lot": "x" * 900},
    ],
)  # fmt: skip
def test_recipes_out_of_reach_are_refused(client: FlaskClient, recipe: dict) -> None:
    answer = client.post("/api/plans/preview", json=recipe)
    assert answer.status_code == 422, answer.json
    assert client.post("/api/recipes", json={"name": "x", "recipe": recipe}).status_code == 422
    assert client.get("/api/recipes").json == {"recipes": []}


def test_a_hundred_grinders_come_at_once_and_names_stay_apart(client: FlaskClient) -> None:
    many = [{**GOOD, "name": "Sound"} for _ in range(100)]
    answer = client.post("/api/grinders/import", json={"grinders": many})
    names = [g["name"] for g in answer.json["grinders"]]
    assert answer.status_code == 201 and len(set(names)) == 100 and names[:2] == ["Sound", "Sound 2"]


@pytest.mark.parametrize("days", [-4000, -1, 5000])
def test_a_clock_that_jumped_does_not_break_plans(workspace: Workspace, client: FlaskClient, days: int) -> None:
    coffee = bench.add_coffee(workspace, coffees.NewCoffee(name="Lot", days_off_roast=9))
    with workspace.transaction() as session:
        session.get_one(models.Coffee, coffee.id).roasted_at = datetime.now(UTC) - timedelta(days=days)
    client.patch("/api/workbenches/current", json={"coffee_id": coffee.id})
    assert client.get("/api/coffees").status_code == 200
    plan = client.post("/api/plans", json={"dose_g": 17})
    assert plan.status_code == 201
    assert client.post("/api/cups/preview", json={}).status_code == 200


def test_formats_that_no_camera_writes_are_not_opened() -> None:
    eps = b"%!PS-Adobe-3.0 EPSF-3.0\n%%BoundingBox: 0 0 400 400\nshowpage\n"
    made = io.BytesIO()
    Image.new("RGB", (400, 400)).save(made, "BMP")
    for data in (eps, made.getvalue(), b"GIF89a" + bytes(400)):
        with pytest.raises(InputError) as refusal:
            decode(data)
        assert refusal.value.code == "not-a-picture"


def test_cells_too_long_for_a_table_are_refused() -> None:
    with pytest.raises(InputError):
        read_log("time_s,poured_g\n" + "\n".join(f"{k},1" for k in range(9)) + '\n"' + "x" * 200_000 + '",1')


@given(st.text(max_size=60))
def test_names_are_one_line_of_what_can_be_seen(text: str) -> None:
    adapter = TypeAdapter(Name)
    try:
        name = adapter.validate_python(text)
    except ValueError:
        return
    assert name == name.strip() and name.isprintable() and adapter.validate_python(name) == name


@given(st.text(max_size=20))
def test_no_cell_is_a_formula(text: str) -> None:
    assert safe_cell(text)[:1] not in ("=", "+", "-", "@", "\t", "\r")
    assert safe_cell(text).endswith(text)
