"""Several devices and processes at once: overtaken writes, foreign names, killed workers, restarts, structured logs."""

from __future__ import annotations

import io
import json
import logging
import os
import signal
import time
from concurrent.futures import ThreadPoolExecutor
from multiprocessing.connection import Connection
from pathlib import Path
from typing import IO

import pytest
from benchmarks.pictures.flat import Made
from flask.testing import FlaskClient

from hakari.core.errors import InputError
from hakari.service.samples import measurement_queue
from hakari.service.samples.measurement_queue import MeasurementOrder, MeasurementQueue
from hakari.service.samples.use_cases import list_samples
from hakari.service.workspace.processes import Processes
from hakari.service.workspace.transaction import StaleError, Workspace
from hakari.web.app import HakariApp, create_app
from hakari.web.logs import log_to
from processes import FORKS


@pytest.fixture
def client(app: HakariApp) -> FlaskClient:
    return app.test_client()


def test_writes_that_overtake_each_other_are_all_taken(app: HakariApp) -> None:

    def save(k: int) -> list[int]:
        client = app.test_client()
        plan = client.post("/api/plans", json={"dose_g": 15 + k % 5})
        slip = client.post("/api/slips", json={"outcome": {"drawdown_s": 200, "taste": {"sweet": 1}}})
        return [plan.status_code, slip.status_code]

    with ThreadPoolExecutor(8) as devices:
        answers = [code for codes in devices.map(save, range(16)) for code in codes]
    assert set(answers) == {201}


@pytest.mark.same_on_any_database
def test_an_upload_that_was_overtaken_is_not_repeated_without_its_file(
    client: FlaskClient, small_picture: Made, monkeypatch: pytest.MonkeyPatch
) -> None:
    sent: list[int] = []

    def overtaken(_: MeasurementQueue, photos: list[tuple[str, IO[bytes]]], *__: object) -> None:
        sent.append(len(photos[0][1].read()))
        raise StaleError("changed-elsewhere", "This was changed.", "Look again.")

    monkeypatch.setattr(MeasurementQueue, "start", overtaken)
    body = {"photos": [(io.BytesIO(small_picture.jpeg), "a.jpg")], "scale": "card"}
    assert client.post("/api/measurements", data=body).status_code == 409
    assert sent == [len(small_picture.jpeg)]


def test_a_write_for_a_version_that_was_seen_is_refused_when_that_is_past(client: FlaskClient) -> None:
    seen = client.get("/api/workbenches/current").json["version"]
    client.post("/api/plans", json={"dose_g": 17})
    late = client.patch("/api/workbenches/current", json={"version": seen, "setting": "3"})
    assert (late.status_code, late.json["code"]) == (409, "changed-elsewhere")


@pytest.mark.same_on_any_database
@pytest.mark.parametrize("host", ["elsewhere.example", "elsewhere.example:8720", "127.0.0.1.elsewhere.example", ""])
def test_foreign_names_are_not_answered(client: FlaskClient, host: str) -> None:
    answer = client.get("/api/coffees", headers={"Host": host})
    assert answer.status_code == 400
    for own in ("127.0.0.1:8720", "localhost", "[::1]:8720"):
        assert client.get("/api/coffees", headers={"Host": own}).status_code == 200


def _die_once(marker: str) -> str:
    if not Path(marker).exists():
        Path(marker).touch()
        os.kill(os.getpid(), signal.SIGKILL)
    return "done"


def _die(_: str) -> None:
    os.kill(os.getpid(), signal.SIGKILL)


def test_a_killed_process_is_replaced_and_its_work_done_once_more(tmp_path: Path) -> None:
    processes = Processes(1)
    assert processes.run(_die_once, str(tmp_path / "marker")) == "done"
    with pytest.raises(InputError) as refusal:
        processes.run(_die, "")
    assert refusal.value.code == "work-crashed"
    assert processes.run(os.path.basename, "a/b") == "b"  # the next one finds a process again
    processes.close()


def _work_until_killed(told: Connection) -> None:
    processes = Processes(1)
    told.send(processes.run(os.getpid))
    time.sleep(600)
    processes.close()


def _runs(pid: int) -> bool:
    try:
        return ") Z " not in Path(f"/proc/{pid}/stat").read_text()
    except OSError:
        return False


def test_no_process_outlives_a_killed_server() -> None:
    here, there = FORKS.Pipe(duplex=False)
    server = FORKS.Process(target=_work_until_killed, args=(there,))
    server.start()
    assert here.poll(60)
    worker = here.recv()
    assert _runs(worker)
    server.kill()
    until = time.monotonic() + 20
    while _runs(worker):
        assert time.monotonic() < until, "it still measures"
        time.sleep(0.05)


def finished(queue: MeasurementQueue, job_id: int) -> measurement_queue.MeasuringJob:
    for _ in range(600):
        job = queue.look(job_id)
        if job.finished:
            return job
        time.sleep(0.05)
    raise AssertionError("not measured within half a minute")


def test_photos_that_were_sent_survive_a_restart(
    workspace: Workspace, small_picture: Made, monkeypatch: pytest.MonkeyPatch
) -> None:
    with monkeypatch.context() as stopped:
        stopped.setattr(measurement_queue.MeasurementQueue, "_run", lambda *_: None)  # stopped before it began
        before = MeasurementQueue(workspace)
        sent = before.start([("a.jpg", io.BytesIO(small_picture.jpeg))], MeasurementOrder(photos=[]))
        before.close()
    assert not sent.finished and list_samples(workspace).samples == []
    again = MeasurementQueue(workspace)
    job = finished(again, sent.id)
    assert job.sample_id is not None and job.photos[0].state == "done"
    again.close()
    # One that had been kept before the stop is not kept twice.
    with workspace.transaction() as session:
        row = session.get_one(measurement_queue.models.MeasurementJob, sent.id)
        row.finished, row.sample_id = False, None
    third = MeasurementQueue(workspace)
    assert finished(third, sent.id).sample_id == job.sample_id and len(list_samples(workspace).samples) == 1
    third.close()


@pytest.mark.same_on_any_database
def test_a_request_and_its_trouble_are_a_line_of_json(client: FlaskClient, tmp_path: Path) -> None:
    logger = logging.getLogger("hakari")
    before = list(logger.handlers)
    try:
        log_to(tmp_path)
        client.get("/api/samples/77")
        line = json.loads((tmp_path / "hakari.jsonl").read_text().splitlines()[-1])
    finally:
        logger.handlers[:] = before
    assert (line["method"], line["path"], line["status"], line["cause"]) == ("GET", "/api/samples/77", 404, "not-found")
    assert line["ms"] >= 0 and line["time"].endswith("+00:00")


def test_everything_is_downloaded_and_added_by_the_page(client: FlaskClient, tmp_path: Path) -> None:
    client.post("/api/coffees", json={"name": "Lot"})
    data = client.get("/api/archives/latest.zip").data
    other = Workspace(tmp_path / "other", measuring_processes=0)
    there = create_app(other).test_client()
    for new in (True, False):
        answer = there.post("/api/archives", data={"archive": (io.BytesIO(data), "all.zip")})
        assert answer.status_code == 201 and (answer.json["rows"] > 0) == new
    assert [c["name"] for c in there.get("/api/coffees").json["coffees"]] == ["Lot"]
    wrong = there.post("/api/archives", data={"archive": (io.BytesIO(b"nothing"), "all.zip")})
    assert (wrong.status_code, wrong.json["code"]) == (422, "archive-malformed")
    other.close()


def test_health_tells_the_truth_and_a_full_disk_says_so(
    workspace: Workspace, client: FlaskClient, small_picture: Made, monkeypatch: pytest.MonkeyPatch
) -> None:
    assert client.get("/api/health").json == {"status": "ok"}

    def full(_: int) -> None:
        raise OSError(28, "No space left on device")

    with monkeypatch.context() as disk:
        disk.setattr("os.fsync", full)
        sent = client.post(
            "/api/measurements", data={"photos": [(io.BytesIO(small_picture.jpeg), "a.jpg")], "scale": "card"}
        )
        assert (sent.status_code, sent.json["code"]) == (503, "disk-full") and "disk is full" in sent.json["message"]
    assert client.get("/api/samples").json["samples"] == []
    workspace.processes.close()
    answer = client.get("/api/health")
    assert answer.status_code == 503 and answer.json["failing"] == ["no process measures"]
