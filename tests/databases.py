"""Where a test's work is kept: the data folder's own SQLite, or a PostgreSQL that the tests start for themselves."""

from __future__ import annotations

import getpass
import io
import os
import shutil
import signal
import subprocess
import tempfile
import time
import uuid
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from dataclasses import dataclass
from pathlib import Path

import psycopg
import pytest

from hakari.service.backups.archive import export_workspace
from hakari.service.backups.importing import import_workspace
from hakari.service.workspace.shared import ALONE, Shared
from hakari.service.workspace.transaction import Workspace
from hakari.web.app import HakariApp, attach, make_routes
from processes import free_port

LONGEST_START_S = 60


@dataclass(frozen=True)
class Postgres:
    """A running server of one test process."""

    port: int

    def address(self, name: str) -> str:
        return f"postgresql+psycopg://hakari@127.0.0.1:{self.port}/{name}"

    def run(self, statement: str) -> None:
        with psycopg.connect(f"postgresql://hakari@127.0.0.1:{self.port}/postgres", autocommit=True) as connection:
            connection.execute(statement.encode())

    def make(self, template: str = "template1") -> str:
        """Make a database, empty or as another one; its name."""
        name = f"t{uuid.uuid4().hex[:12]}"
        self.run(f"CREATE DATABASE {name} TEMPLATE {template}")
        return name

    def drop(self, name: str) -> None:
        self.run(f"DROP DATABASE {name} WITH (FORCE)")

    def let_in(self, name: str, anybody: bool) -> None:
        """Let a database be used again, or break all connections to it and take none."""
        self.run(f"ALTER DATABASE {name} ALLOW_CONNECTIONS {anybody}")
        if not anybody:
            self.run(f"SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = '{name}'")


def binaries() -> Path | None:
    """Where Debian puts the server's programs, of the newest version."""
    found = sorted(Path("/usr/lib/postgresql").glob("*/bin/initdb"), key=lambda p: int(p.parts[-3]))
    if found:
        return found[-1].parent
    elsewhere = shutil.which("initdb")
    return Path(elsewhere).resolve().parent if elsewhere else None


@contextmanager
def running_postgres() -> Iterator[Postgres]:
    """Start a server in a folder of its own, without waiting for the disk; stopped and removed afterwards."""
    programs = binaries()
    assert programs is not None
    # PostgreSQL refuses to run as root.
    user = "postgres" if os.geteuid() == 0 else getpass.getuser()
    as_user = {"user": user} if os.geteuid() == 0 else {}
    port = free_port()
    with tempfile.TemporaryDirectory(prefix="hakari-pg-") as home:
        shutil.chown(home, user)
        data = f"{home}/data"
        quiet = {"stdout": subprocess.DEVNULL, "stderr": subprocess.DEVNULL, "cwd": home}
        subprocess.run(
            [programs / "initdb", "-D", data, "-U", "hakari", "--auth=trust", "-E", "UTF8", "--locale=C", "--no-sync"],
            check=True, **quiet, **as_user,
        )  # fmt: skip
        settings = {
            "listen_addresses": "127.0.0.1", "port": port, "unix_socket_directories": home, "fsync": "off",
            "synchronous_commit": "off", "full_page_writes": "off", "max_connections": 200,
        }  # fmt: skip
        server = subprocess.Popen(
            [programs / "postgres", "-D", data, *(a for k, v in settings.items() for a in ("-c", f"{k}={v}"))],
            **quiet, **as_user,
        )  # fmt: skip
        try:
            postgres = Postgres(port)
            _wait_for(postgres)
            yield postgres
        finally:
            server.send_signal(signal.SIGINT)  # at once, whoever is still connected
            server.wait(LONGEST_START_S)


def _wait_for(postgres: Postgres) -> None:
    until = time.monotonic() + LONGEST_START_S
    while True:
        try:
            postgres.run("SELECT 1")
            return
        except psycopg.OperationalError:
            assert time.monotonic() < until, "PostgreSQL did not start"
            time.sleep(0.1)


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
    # Opening a folder writes beside its database, which others may be copying at this moment.
    copy = shutil.copytree(filled_demo, tmp_path_factory.mktemp("demo") / "data")
    source = Workspace(copy, measuring_processes=0)
    export_workspace(source, moved)
    source.close()
    there = Workspace(tmp_path_factory.mktemp("moved"), measuring_processes=0, shared=Shared(postgres.address(name)))
    import_workspace(there, moved)
    there.close()
    return name


@pytest.fixture(scope="session")
def empty_folder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A data folder with nothing in it but its schema; to be copied, not changed."""
    folder = tmp_path_factory.mktemp("empty") / "data"
    Workspace(folder, measuring_processes=0).close()
    return folder


@pytest.fixture(scope="session")
def empty_database(postgres: Postgres, tmp_path_factory: pytest.TempPathFactory) -> str:
    """A database with nothing in it but its schema; to be copied, not changed."""
    name = postgres.make()
    Workspace(tmp_path_factory.mktemp("none"), measuring_processes=0, shared=Shared(postgres.address(name))).close()
    return name


def pytest_generate_tests(metafunc: pytest.Metafunc) -> None:
    """Test the API twice, on the data folder's own SQLite and on PostgreSQL, but for what is the same on any database."""
    once = metafunc.definition.get_closest_marker("same_on_any_database") is not None
    if metafunc.definition.path.parent.name == "web" and "database_kind" in metafunc.fixturenames and not once:
        metafunc.parametrize("database_kind", ["sqlite", "postgresql"], indirect=True)


@pytest.fixture
def database_kind(request: pytest.FixtureRequest) -> str:
    """What a test's work is kept in."""
    return str(getattr(request, "param", "sqlite"))


@pytest.fixture
def shared(request: pytest.FixtureRequest, database_kind: str) -> Iterator[Shared]:
    """What is shared in place of the data folder's own: nothing, or an empty database."""
    if database_kind == "sqlite":
        yield ALONE
        return
    server: Postgres = request.getfixturevalue("postgres")
    name = server.make(request.getfixturevalue("empty_database"))
    yield Shared(server.address(name))
    server.drop(name)


@pytest.fixture
def workspace(tmp_path: Path, shared: Shared, empty_folder: Path) -> Iterator[Workspace]:
    """An empty workspace that measures in this process."""
    shutil.copytree(empty_folder, tmp_path / "data")
    ws = Workspace(tmp_path / "data", measuring_processes=0, shared=shared)
    yield ws
    ws.close()


@pytest.fixture(scope="session")
def routes() -> HakariApp:
    """The application without work; making its addresses takes a while."""
    return make_routes()


@pytest.fixture
def app(routes: HakariApp, workspace: Workspace) -> HakariApp:
    """The application on an empty workspace."""
    attach(routes, workspace)
    return routes


@contextmanager
def opened_shop(request: pytest.FixtureRequest, database_kind: str, folder: Path) -> Iterator[Workspace]:
    """Copy the demo's work and open it."""
    shutil.copytree(request.getfixturevalue("filled_demo"), folder)
    if database_kind == "sqlite":
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


@pytest.fixture
def shop(request: pytest.FixtureRequest, database_kind: str, tmp_path: Path) -> Iterator[Workspace]:
    """The demo's work, to be changed."""
    with opened_shop(request, database_kind, tmp_path / "shop") as ws:
        yield ws


@pytest.fixture
def shops(request: pytest.FixtureRequest, tmp_path: Path) -> Iterator[dict[str, Workspace]]:
    """The demo's work, to be changed, on each database that there is."""
    with ExitStack() as opened:
        kinds = ["sqlite", "postgresql"] if binaries() else ["sqlite"]
        yield {kind: opened.enter_context(opened_shop(request, kind, tmp_path / kind)) for kind in kinds}
