"""A process that reads a picture may take so much memory and time; past it the photo is refused, and nothing else ends."""

from __future__ import annotations

import io
import os
import time

import numpy as np
import pytest
from benchmarks.pictures.flat import Made

from hakari.core.errors import InputError
from hakari.service.samples import measurement_queue
from hakari.service.samples.measurement_queue import MeasurementOrder, MeasurementQueue, MeasuringJob
from hakari.service.samples.use_cases import sample_detail
from hakari.service.workspace.processes import Processes
from hakari.service.workspace.transaction import Workspace


def take(megabytes: int) -> int:
    return int(np.ones(megabytes * 2**20, np.uint8)[-1])


def test_memory_and_time_are_limited_and_the_next_work_goes_on() -> None:
    processes = Processes(1, longest_s=2.0, most_bytes=2**30)
    with pytest.raises(InputError) as refusal:
        processes.run(take, 3000)
    assert refusal.value.code == "work-too-large"
    assert processes.run(take, 50) == 1
    before = processes.run(os.getpid)
    began = time.monotonic()
    with pytest.raises(InputError) as refusal:
        processes.run(time.sleep, 600)
    assert refusal.value.code == "work-too-long" and time.monotonic() - began < 20
    assert processes.run(os.getpid) != before
    processes.close()


def finished(queue: MeasurementQueue, job_id: int) -> MeasuringJob:
    until = time.monotonic() + 90
    while not (job := queue.look(job_id)).finished:
        assert time.monotonic() < until, "it is not measured"
        time.sleep(0.05)
    return job


def test_a_photo_that_fails_takes_none_of_the_others_with_it(
    workspace: Workspace, small_picture: Made, monkeypatch: pytest.MonkeyPatch
) -> None:
    measure = measurement_queue.measure_one

    def fails_over_one(data: bytes, *more: object) -> object:
        if data.endswith(b"odd"):
            raise ZeroDivisionError("a fault of ours")
        return measure(data, *more)  # type: ignore[arg-type]

    monkeypatch.setattr(measurement_queue, "measure_one", fails_over_one)
    queue = MeasurementQueue(workspace)
    odd, text = small_picture.jpeg + b"odd", b"not a picture"
    sent = [("good.jpg", small_picture.jpeg), ("odd.jpg", odd), ("text.jpg", text)]
    job = finished(queue, queue.start([(n, io.BytesIO(d)) for n, d in sent], MeasurementOrder(photos=[])).id)
    assert [p.state for p in job.photos] == ["done", "refused", "refused"]
    assert [p.error.code for p in job.photos if p.error] == ["measuring-failed", "not-a-picture"]
    assert job.error is None and job.sample_id is not None
    assert len(sample_detail(workspace, job.sample_id).photos) == 1
    queue.close()


def test_an_order_that_met_a_full_disk_goes_on_by_itself(
    workspace: Workspace, small_picture: Made, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(measurement_queue, "LOOK_EVERY_S", 0.2)
    full = True
    put = type(workspace.files).put

    def put_if_there_is_room(files: object, data: bytes) -> str:
        if full and not data.startswith(b"\xff\xd8"):
            raise OSError(28, "No space left on device")
        return put(files, data)  # type: ignore[arg-type]

    monkeypatch.setattr(type(workspace.files), "put", put_if_there_is_room)
    queue = MeasurementQueue(workspace)
    job = queue.start([("a.jpg", io.BytesIO(small_picture.jpeg))], MeasurementOrder(photos=[]))
    until = time.monotonic() + 60
    while queue.look(job.id).photos[0].state != "done":
        assert time.monotonic() < until
        time.sleep(0.05)
    time.sleep(0.5)
    assert not queue.look(job.id).finished
    full = False
    assert finished(queue, job.id).sample_id is not None
    queue.close()
