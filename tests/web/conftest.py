"""The API is tested twice: on the data folder's own SQLite, and on a PostgreSQL that the tests start."""

from __future__ import annotations

import io
import shutil
from collections.abc import Iterator
from pathlib import Path

import pytest

from databases import Postgres, binaries, running_postgres
from hakari.service.backups.archive import export_workspace, import_workspace
from hakari.service.workspace.shared import ALONE, Shared
from hakari.service.workspace.transaction import Workspace


@pytest.fixture(scope="session")
def postgres() -> Iterator[Postgres]:
    """A server of one's own, for a test process."""
    if binaries() is None:
        pytest.skip("PostgreSQL is not installed: apt-get install postgresql")
    with running_postgres() as server:
        yield server


@pytest.fixture(scope="session")
def filled_database(postgres: Postgres, filled_demo: Path, tmp_path_factory: pytest.TempPathFactory) -> str:
    """The demo's work in PostgreSQL, brought there as users bring theirs; to be copied, not changed."""
    moved, name = io.BytesIO(), postgres.make()
    source = Workspace(filled_demo, measuring_processes=0, lock=False)
    export_workspace(source, moved)
    source.close()
    there = Workspace(tmp_path_factory.mktemp("moved"), measuring_processes=0, shared=Shared(postgres.address(name)))
    import_workspace(there, moved)
    there.close()
    return name


@pytest.fixture(params=["sqlite", "postgresql"])
def shared(request: pytest.FixtureRequest) -> Iterator[Shared]:
    """What is shared in place of the data folder's own: nothing, or an empty database."""
    if request.param == "sqlite":
        yield ALONE
        return
    server: Postgres = request.getfixturevalue("postgres")
    name = server.make()
    yield Shared(server.address(name))
    server.drop(name)


@pytest.fixture
def workspace(tmp_path: Path, shared: Shared) -> Iterator[Workspace]:
    """An empty workspace that measures in this process."""
    ws = Workspace(tmp_path / "data", measuring_processes=0, shared=shared)
    yield ws
    ws.close()


@pytest.fixture(params=["sqlite", "postgresql"])
def shop(request: pytest.FixtureRequest, filled_demo: Path, tmp_path: Path) -> Iterator[Workspace]:
    """The demo's work, to be changed."""
    folder = tmp_path / "shop"
    shutil.copytree(filled_demo, folder)
    if request.param == "sqlite":
        ws = Workspace(folder, measuring_processes=0)
        yield ws
        ws.close()
        return
    server: Postgres = request.getfixturevalue("postgres")
    name = server.make(request.getfixturevalue("filled_database"))
    ws = Workspace(folder, measuring_processes=0, shared=Shared(server.address(name)))
    yield ws
    ws.close()
    server.drop(name)
