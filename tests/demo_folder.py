"""The demo's data folder, filled once for all test processes and copied by each test module."""

from __future__ import annotations

import time
from pathlib import Path

import pytest

from hakari.demo.stories import fill
from hakari.service.workspace.transaction import Workspace

LONGEST_FILL_S = 240


@pytest.fixture(scope="session")
def filled_demo(tmp_path_factory: pytest.TempPathFactory, worker_id: str) -> Path:
    """A filled demo; to be copied, not changed."""
    base = tmp_path_factory.getbasetemp()
    shared = base if worker_id == "master" else base.parent
    folder, ready = shared / "filled-demo", shared / "filled-demo.ready"
    try:
        folder.mkdir()
    except FileExistsError:
        waited_until = time.monotonic() + LONGEST_FILL_S
        while not ready.exists():
            assert time.monotonic() < waited_until, "the demo was not filled by the other process"
            time.sleep(0.2)
        return folder
    ws = Workspace(folder, measuring_processes=0)
    fill(ws, lambda _: None)
    ws.close()
    ready.touch()
    return folder
