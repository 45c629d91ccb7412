"""Kills while photos, slips and a live brew are written: nothing acknowledged is lost, nor a photo in flight."""

from __future__ import annotations

import contextlib
import io
import random
import time
from collections.abc import Callable
from dataclasses import replace
from functools import partial
from multiprocessing.connection import Connection
from pathlib import Path
from typing import TypeVar

from benchmarks.pictures.flat import make_picture
from benchmarks.pictures.flat_camera import Scene

from hakari.formats.recipe import Recipe
from hakari.formats.slip import OutcomeDocument
from hakari.service.backups.doctor import examine
from hakari.service.brews import use_cases as brews
from hakari.service.brews.desk import BrewDesk
from hakari.service.plans import use_cases as plans
from hakari.service.samples.measurement_queue import MeasurementOrder, MeasurementQueue
from hakari.service.slips import use_cases as slips
from hakari.service.workspace.transaction import StaleError, Workspace, find
from hakari.store import models
from processes import FORKS
from thorough import tries

KILLS = tries(6, 20)
LEAST = KILLS // 2
T = TypeVar("T")


def _repeated(write: Callable[[], T]) -> T:
    """A write that another thread overtook, done again as the web does it."""
    for _ in range(20):
        with contextlib.suppress(StaleError):
            return write()
    raise AssertionError("overtaken twenty times")


def _write_until_killed(folder: Path, photo: bytes, acknowledged: Connection) -> None:
    """A server's work, told to the test once it is acknowledged."""
    ws = Workspace(folder, measuring_processes=0)
    queue, desk = MeasurementQueue(ws), BrewDesk(ws)
    acknowledged.send(("ready", 0))
    for k in range(1000):
        # A comment behind the picture makes it another file.
        job = queue.start([(f"{k}.jpg", io.BytesIO(photo + f"{time.time()}".encode()))], MeasurementOrder(photos=[]))
        acknowledged.send(("job", job.id))
        plan = _repeated(partial(plans.save_plan, ws, Recipe(dose_g=15 + k % 5)))
        acknowledged.send(("plan", plan.id))
        view = desk.changed(
            _repeated(partial(brews.start_brew, ws, brews.StartBrew(scale="practice-brewer", speed=20)))
        )
        acknowledged.send(("brew", view.id))
        time.sleep(0.1)
        taste = {"sweet": 1 + k % 3}
        cup = slips.NewSlip(outcome=OutcomeDocument(drawdown_s=200 + k, taste=taste))
        slip = _repeated(partial(slips.save_slip, ws, cup))
        acknowledged.send(("slip", slip.id))
        _repeated(partial(brews.close_brew, ws, view.id))


def test_kills_lose_nothing_that_was_acknowledged(tmp_path: Path, small_scene: Scene) -> None:
    photo = make_picture(replace(small_scene, width_px=1000, height_px=750, um_per_px=2 * small_scene.um_per_px)).jpeg
    told: dict[str, set[int]] = {"ready": set(), "job": set(), "plan": set(), "brew": set(), "slip": set()}
    rng = random.Random(5)
    for _ in range(KILLS):
        here, there = FORKS.Pipe(duplex=False)
        child = FORKS.Process(target=_write_until_killed, args=(tmp_path, photo, there))
        child.start()
        there.close()
        assert here.poll(60) and here.recv() == ("ready", 0)
        # So many answers in, and then at any moment of what is written next.
        for _ in range(rng.randrange(2, 9)):
            assert here.poll(60)
            what, identity = here.recv()
            told[what].add(identity)
        time.sleep(rng.uniform(0.0, 0.12))
        child.kill()
        child.join()
        with contextlib.suppress(EOFError):
            while True:
                what, identity = here.recv()
                told[what].add(identity)
    assert all(len(told[what]) >= LEAST for what in ("job", "plan", "brew"))
    assert all("missing" not in t.words and "damaged" not in t.words for t in examine(tmp_path))
    ws = Workspace(tmp_path, measuring_processes=0)
    kinds = {"job": models.MeasurementJob, "plan": models.Plan, "brew": models.Brew, "slip": models.Slip}
    with ws.transaction() as session:
        for what, kind in kinds.items():
            for identity in told[what]:
                find(session, kind, identity, what)
    queue = MeasurementQueue(ws)
    end = time.monotonic() + 120
    while not all(queue.look(job).finished for job in told["job"]):
        assert time.monotonic() < end, "photos in flight were not measured after the restart"
        time.sleep(0.1)
    kept = [queue.look(job) for job in told["job"]]
    assert all(job.sample_id is not None for job in kept)
    assert len({job.sample_id for job in kept}) == len(kept)  # and none twice
    queue.close()
    ws.close()
