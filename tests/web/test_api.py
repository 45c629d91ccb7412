"""The HTTP interface: one shape of error, same-origin writes, a document that is current, and random probing."""

import io
import time
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from benchmarks.pictures.flat import Made, make_picture
from benchmarks.pictures.flat_camera import Scene
from flask.testing import FlaskClient
from hypothesis import HealthCheck, given, settings

from hakari.service.workspace.transaction import Workspace
from hakari.web.app import HakariApp, create_app
from hakari.web.openapi import document_text
from thorough import tries

ROOT = Path(__file__).parents[2]


@pytest.fixture
def client(app: HakariApp) -> Iterator[FlaskClient]:
    with app.test_client() as c:
        yield c


@pytest.mark.same_on_any_database
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


@pytest.mark.same_on_any_database
@pytest.mark.parametrize(
    ("method", "path", "body", "status", "code"),
    [
        ("get", "/api/samples/77", None, 404, "not-found"),
        ("get", "/api/nowhere", None, 404, "http-404"),
        ("put", "/api/health", None, 405, "http-405"),
        ("post", "/api/nowhere", {}, 404, "http-404"),
        ("delete", "/api", None, 404, "http-404"),
        ("post", "/api/plans/preview", {"dose_g": -3}, 422, "dose-not-positive"),
        ("post", "/api/plans/preview", {"dose_g": "a lot"}, 422, "not-valid"),
        ("post", "/api/plans", {"dose_g": 17, "ratio": 90}, 422, "ratio-out-of-range"),
        ("post", "/api/recipes", {"name": " ", "recipe": {}}, 422, "not-valid"),
        ("post", "/api/coffees", {"name": " \u200b", "roast": "light"}, 422, "not-valid"),
        ("post", "/api/cups/preview", {}, 404, "not-found"),
        ("patch", "/api/workbenches/current", {"version": 99}, 409, "changed-elsewhere"),
        ("post", "/api/grinders", {"name": "x", "dial": {"kind": "clicks", "maximum": 0}}, 422, "dial-malformed"),
        ("get", "/api/translations?to=1", None, 404, "not-found"),
        ("get", "/api/translations?words=xyzzy", None, 422, "words-unreadable"),
        ("post", "/api/grinders/import", {"name": "x"}, 422, "grinder-malformed"),
        ("get", "/api/setting-cards/pdf", None, 422, "no-curves"),
        ("put", "/api/windows", {"label": "bathtub", "low_um": 300, "high_um": 500}, 404, "not-found"),
    ],
)  # fmt: skip
def test_refusals_have_one_shape(client: FlaskClient, method: str, path: str, body, status: int, code: str) -> None:
    answer = getattr(client, method)(path, json=body)
    assert (answer.status_code, answer.json["code"]) == (status, code)
    assert answer.json["format"] == "hakari.error/1" and answer.json["message"] and answer.json["remedy"]


def test_what_is_made_comes_back_and_what_is_deleted_does_not(client: FlaskClient) -> None:
    dial = {"kind": "clicks", "minimum": 0, "maximum": 40}
    grinder = client.post("/api/grinders", json={"name": "Arl", "dial": dial})
    assert grinder.status_code == 201
    path = f"/api/grinders/{grinder.json['id']}"
    first, second = (
        client.post(f"{path}/points", json={"setting": s, "d50_um": um}).json for s, um in (("20", 600), ("24", 700))
    )
    by_id = {p["id"]: p for p in second["grinder"]["points"]}
    assert (by_id[first["id"]]["setting"], by_id[second["id"]]["setting"]) == ("20", "24")
    point = f"/api/points/{second['id']}"
    changed = client.patch(point, json={"used": False, "version": by_id[second["id"]]["version"]})
    stale = client.patch(point, json={"used": True, "version": by_id[second["id"]]["version"]})
    assert (changed.status_code, stale.status_code, stale.json["code"]) == (200, 409, "changed-elsewhere")
    # Another row has changed meanwhile; that is no reason to refuse this one.
    assert (
        client.patch(path, json={"name": "Arlo", "dial": dial, "version": grinder.json["version"]}).status_code == 200
    )
    gone = client.delete(point)
    assert (gone.status_code, gone.data) == (204, b"") and gone.headers.get("Allow") is None
    left = client.get("/api/grinders").json["grinders"][0]["points"]
    assert [p["setting"] for p in left] == ["20"]
    assert len(client.post(f"{point}/restore", json={}).json["points"]) == 2


@pytest.mark.same_on_any_database
def test_writes_from_elsewhere_are_refused(client: FlaskClient) -> None:
    for headers in ({"Origin": "http://elsewhere.example"}, {"Sec-Fetch-Site": "cross-site"}):
        assert client.post("/api/coffees", json={"name": "x"}, headers=headers).status_code == 403
    assert client.get("/api/coffees").json == {"coffees": []}


@pytest.mark.same_on_any_database
def test_a_frame_of_the_live_view_is_judged_and_not_kept(client: FlaskClient, workspace: Workspace) -> None:
    scene = Scene(width_px=960, height_px=720, um_per_px=150, blur_sigma_px=0.6, grounds_limit=2000)
    frame = make_picture(scene).jpeg

    def judged(data: bytes) -> tuple[int, dict]:
        answer = client.post("/api/camera-frames", data={"frame": (io.BytesIO(data), "frame.jpg")})
        return answer.status_code, answer.json

    status, said = judged(frame)
    assert status == 200 and said["cues"][0] == "closer" and not said["ready"] and len(said["corners"]) == 4
    assert all(0 < share < 1 for corner in said["corners"] for share in corner)
    status, said = judged(b"nothing that is a picture")
    assert (status, said["code"]) == (422, "not-a-picture")
    status, said = judged(frame + b"\0" * 2_000_000)
    assert (status, said["code"], said["field"]) == (422, "frame-too-large", "frame")
    assert not any(p.is_file() for p in (workspace.folder / "files").rglob("*"))


def measured(client: FlaskClient, *photos: tuple[bytes, str], **known: object) -> dict:
    """Send photos and wait until they are measured."""
    data = {"photos": [(io.BytesIO(content), name) for content, name in photos], **known}
    job = client.post("/api/measurements", data=data).json
    for _ in range(600):
        if job["finished"]:
            return job
        time.sleep(0.05)
        job = client.get(f"/api/measurements/{job['id']}").json
    raise AssertionError("not finished in time")


def test_photos_are_sent_measured_and_shown(client: FlaskClient, small_picture: Made) -> None:
    job = measured(client, (small_picture.jpeg, "a.jpg"), (b"no", "b.jpg"))
    assert [p["state"] for p in job["photos"]] == ["done", "refused"]
    assert job["photos"][1]["error"]["code"] == "not-a-picture" and job["photos"][1]["error"]["remedy"]
    sample = client.get(f"/api/samples/{job['sample_id']}").json
    outlines = client.get(f"/api/samples/{sample['id']}/photos/0/outlines").json
    assert len(outlines["start"]) == len(outlines["diameter_um"]) + 1 == len(outlines["number"]) + 1
    assert client.get(f"/api/photos/{sample['photos'][0]['content_hash']}").mimetype == "image/jpeg"
    assert client.get("/api/workbenches/current").json["sample"]["d50_um"] == pytest.approx(
        sample["measurement"]["d50_um"]
    )
    (x0, y0), (x1, y1) = sample["photos"][0]["ten_mm_px"]
    assert np.hypot(x1 - x0, y1 - y0) * sample["photos"][0]["um_per_px"] == pytest.approx(10_000, rel=0.03)
    nothing = measured(client, (b"no", "c.jpg"))
    assert nothing["sample_id"] is None and nothing["error"]["code"] == "not-a-picture"
    assert len(client.get("/api/samples").json["samples"]) == 1


def test_more_photos_join_a_sample_and_corrections_stand(
    client: FlaskClient, small_picture: Made, small_scene: Scene
) -> None:
    sample_id = measured(client, (small_picture.jpeg, "a.jpg"))["sample_id"]
    address = f"/api/samples/{sample_id}"
    before = client.get(address).json
    largest = int(np.argmax(client.get(f"{address}/photos/0/outlines").json["diameter_um"]))
    corrected = client.post(f"{address}/edits", json={"kind": "exclude", "grounds": [largest]}).json
    assert corrected["more_photos"]["narrowing"] == []
    again = measured(client, (small_picture.jpeg, "same.jpg"), sample_id=sample_id)
    assert again["error"]["code"] == "photo-known"
    other = make_picture(replace(small_scene, seed=77))
    assert measured(client, (other.jpeg, "b.jpg"), sample_id=sample_id)["sample_id"] == sample_id
    after = client.get(address).json
    assert after["measurement"]["photos"] == 2 and len(after["photos"]) == 2
    assert after["review"]["excluded"] == [largest]
    assert after["measurement"]["effective_count"] > 1.3 * before["measurement"]["effective_count"]
    assert len(after["measurement"]["between"]["d50_um"]) == 2
    # The first of the two is that photo alone, after its correction; the last is the sample.
    alone, both = after["more_photos"]["narrowing"]
    assert (alone["photos"], both["photos"]) == (1, 2) and both["d50_um"] == pytest.approx(after["d50_um"])
    assert both["ci95_um"] == pytest.approx(after["measurement"]["ci95"]["d50_um"])
    assert alone["d50_um"] == pytest.approx(corrected["d50_um"], rel=1e-6)
    # Alone it does not show how pinches differ, which is more than its counting.
    (low, high), (counted_low, counted_high) = alone["ci95_um"], corrected["measurement"]["ci95"]["d50_um"]
    assert low < counted_low < counted_high < high and both["ci95_um"][1] - both["ci95_um"][0] < high - low
    assert after["more_photos"]["step_share"] is None and isinstance(after["more_photos"]["enough"], bool)


def test_corrections_change_the_figures_at_once_and_are_taken_back(client: FlaskClient, small_picture: Made) -> None:
    address = f"/api/samples/{measured(client, (small_picture.jpeg, 'a.jpg'))['sample_id']}"
    first = client.get(address).json
    found = client.get(f"{address}/photos/0/outlines").json
    largest = int(np.argmax(found["diameter_um"]))
    points = slice(found["start"][largest], found["start"][largest + 1])
    x, y = np.mean(found["x_px"][points]), np.mean(found["y_px"][points])
    line = [[x - 300, y - 5], [x + 300, y + 5]]
    split = client.post(f"{address}/edits", json={"kind": "split", "grounds": [largest], "drawn_px": line}).json
    halves = split["review"]["made"][0]
    assert split["review"]["replaced"] == [largest] and len(halves["number"]) == 2
    assert sum(d**2 for d in halves["diameter_um"]) == pytest.approx(found["diameter_um"][largest] ** 2, rel=1e-3)
    joined = client.post(f"{address}/edits", json={"kind": "join", "grounds": halves["number"]}).json
    assert joined["review"]["made"][0]["diameter_um"] == [pytest.approx(found["diameter_um"][largest], rel=1e-3)]
    assert joined["measurement"]["d50_um"] == pytest.approx(first["measurement"]["d50_um"])
    patch = [[x - 400, y - 400], [x + 400, y - 400], [x + 400, y + 400], [x - 400, y + 400]]
    lasso = client.post(f"{address}/edits", json={"kind": "lasso", "drawn_px": patch}).json
    assert lasso["measurement"]["particles"] < joined["measurement"]["particles"] - 3
    for edit in reversed(lasso["review"]["edits"]):
        last = client.post(f"{address}/edits/{edit['id']}/undo").json
    assert last["measurement"]["ci95"] == first["measurement"]["ci95"]
    assert all(e["undone"] for e in last["review"]["edits"])
    redone = client.post(f"{address}/edits/{split['review']['edits'][0]['id']}/redo").json
    assert redone["review"]["replaced"] == [largest]
    beside = client.post(f"{address}/edits", json={"kind": "split", "grounds": [3], "drawn_px": [[0, 0], [1, 1]]})
    assert (beside.status_code, beside.json["code"]) == (422, "line-misses")


def test_curves_files_and_tables_of_a_sample(client: FlaskClient, small_picture: Made) -> None:
    sample_id = measured(client, (small_picture.jpeg, "a.jpg"))["sample_id"]
    address = f"/api/samples/{sample_id}"
    medians = [
        client.get(f"{address}/distribution?weighting={w}").json["d50_um"] for w in ("number", "surface", "volume")
    ]
    assert medians == sorted(medians) and medians[0] < medians[2]
    seen = client.get(f"{address}/distribution?diameter=sieve&fines_um=300").json
    assert seen["d50_um"] < medians[2] and seen["fines_share"] > 0 and len(seen["modes"]) in (1, 2)
    rows = client.get(f"{address}/particles.csv").text.splitlines()
    assert rows[0].startswith("photo,x_mm,y_mm,area_um2,diameter_um") and len(rows) > 100
    assert client.get(f"{address}/report.pdf").data.startswith(b"%PDF")
    assert client.get(f"{address}/photos/0/annotated.png").data.startswith(b"\x89PNG")
    assert client.get(f"{address}/measurement.json").json["format"] == "hakari.measurement/1"
    table = client.get(f"{address}/distribution.csv").data
    back = client.post("/api/distributions", data={"table": (io.BytesIO(table), "x.csv")}).json
    whole = client.get(address).json["measurement"]["extrapolated"]["d50_um"]
    assert back["source"] == "table" and back["d50_um"] == pytest.approx(whole, rel=1e-3)
    both = client.get(f"/api/comparisons?ids={sample_id},{back['id']}").json
    assert not both["differences"][0]["real"] and "shows no difference" in both["differences"][0]["words"]
    sieved = client.get(f"{address}/sieved?aperture_um=300&keep=over").json
    assert 0 < sieved["lost_share"] < 1 and sieved["below_100"] < sieved["before_below_100"]
    assert client.get(f"{address}/mixed?with_id={back['id']}&share=0.5").json["d50_um"] == pytest.approx(
        whole, rel=1e-2
    )
    sieves = {"aperture_um": [800, 500], "retained_g": [6.0, 9.0], "pan_g": 5.0}
    weighed = client.post("/api/sievings", json=sieves).json
    assert weighed["measurement"]["ci95"]["d50_um"] == [500.0, 800.0] and 500 < weighed["d50_um"] < 800
    wrong = client.post("/api/distributions", data={"table": (io.BytesIO(b"size,share\n1,2\n"), "y.csv")})
    assert (wrong.status_code, wrong.json["code"]) == (422, "csv-unreadable")


def test_nothing_sent_breaks_the_server(shops: dict[str, Workspace]) -> None:
    # Seconds of import, which the other test processes are spared.
    import schemathesis
    from schemathesis.specs.openapi.checks import negative_data_rejection, positive_data_acceptance

    # Figures carry meaning that a schema cannot say (a dose of 1e300 g), and uploads need real photos.
    excluded = [positive_data_acceptance, negative_data_rejection]
    # Making calls takes longer than answering them: each is made once and sent to the application on every database.
    apps = [create_app(ws) for ws in shops.values()]
    asked = apps[0]
    # The generator's calls come from this computer, as the page's do.
    here = {"REMOTE_ADDR": "127.0.0.1"}
    api = schemathesis.openapi.from_wsgi("/api/openapi.json", lambda environ, start: asked(environ | here, start))
    probed = 0
    for found in api.exclude(path="/api/measurements", method="POST").get_all_operations():
        operation = found.ok()

        @settings(max_examples=tries(5, 40), deadline=None, suppress_health_check=list(HealthCheck))
        @given(case=operation.as_strategy())
        def probe(case: schemathesis.Case) -> None:
            nonlocal asked
            for each in apps:
                asked = each
                case.call_and_validate(excluded_checks=excluded)

        probe()
        probed += 1
    assert probed > 25
