"""`hakari restore`, and disks and databases that are not damaged but cannot be used for another reason."""

from __future__ import annotations

import shutil
import sqlite3
import subprocess
import time
from collections.abc import Iterator
from contextlib import closing
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest

from hakari.core.errors import InputError
from hakari.service.backups.doctor import examine
from hakari.service.backups.housekeeping import copy_database
from hakari.service.coffees import use_cases as coffees
from hakari.service.workbench import use_cases as bench
from hakari.service.workspace.folder import DATABASE
from hakari.service.workspace.transaction import Workspace
from hakari.web.app import create_app
from processes import done


@pytest.fixture
def demo(filled_demo: Path, tmp_path: Path) -> Path:
    folder = Path(shutil.copytree(filled_demo, tmp_path / "demo"))
    shutil.rmtree(folder / "backups", ignore_errors=True)
    return folder


def damage(folder: Path) -> None:
    for rest in folder.glob(f"{DATABASE}-*"):
        rest.unlink()
    data = bytearray((folder / DATABASE).read_bytes())
    data[4096:12288] = b"coffee" * 1365 + b"co"
    (folder / DATABASE).write_bytes(data)


def copied(folder: Path, *names: str) -> None:
    """Make a copy for each coffee that is added after the one before; the copies are a minute apart."""
    ws = Workspace(folder, measuring_processes=0)
    for k, name in enumerate(names):
        made = datetime.now(UTC) + timedelta(days=k)
        assert copy_database(ws, made)
        bench.add_coffee(ws, coffees.NewCoffee(name=name))
    ws.close()


def names(folder: Path) -> list[str]:
    ws = Workspace(folder, measuring_processes=0)
    try:
        return [c.name for c in coffees.list_coffees(ws).coffees]
    finally:
        ws.close()


def test_the_newest_whole_copy_is_put_in_place_and_nothing_is_deleted(demo: Path) -> None:
    copied(demo, "First", "Second", "Third")
    newest = sorted((demo / "backups").iterdir())[-1]
    newest.write_bytes(b"spilt" * 5000)
    damage(demo)
    harmed = (demo / DATABASE).read_bytes()
    # Every message names the command.
    status, _, errors = done("serve", "--data", str(demo), "--port", "8999")
    assert status == 3 and f"hakari restore --data {demo}" in errors
    (demo / f"{DATABASE}-wal").write_bytes(b"left behind")
    status, said, errors = done("restore", "--data", str(demo))
    assert status == 0, errors
    assert newest.name in errors and "damaged" in errors
    shown = names(demo)
    assert "First" in shown and "Second" not in shown
    aside = next((demo / "set-aside").iterdir())
    assert (aside / DATABASE).read_bytes() == harmed and (aside / f"{DATABASE}-wal").read_bytes() == b"left behind"
    assert str(aside) in said and "missing, of later date" in said


def test_a_named_copy_is_put_in_place_and_what_came_later_is_said(demo: Path) -> None:
    copied(demo, "First", "Second")
    time.sleep(0.05)
    first = sorted((demo / "backups").iterdir())[0]
    day = first.stem.removeprefix("hakari-")
    ws = Workspace(demo, measuring_processes=0)
    photo = ws.files.get(next(h for h in ws.files.hashes() if ws.files.get(h)[:2] == b"\xff\xd8"))
    ws.files.put(photo + b"\0")
    ws.close()
    status, said, _ = done("restore", day, "--data", str(demo))
    assert status == 0 and "First" not in names(demo)
    assert "2 coffees" in said and "1 photos that no row knows" in said and "--take-in" in said
    status, _, errors = done("restore", "yesterday", "--data", str(demo))
    assert status == 3 and first.name in errors


def test_without_a_copy_that_can_be_used_nothing_is_touched(demo: Path) -> None:
    damage(demo)
    before = (demo / DATABASE).read_bytes()
    status, _, errors = done("restore", "--data", str(demo))
    assert status == 3 and "hakari import" in errors and (demo / DATABASE).read_bytes() == before
    assert not (demo / "set-aside").exists()


@pytest.mark.parametrize("content", [b"", None])
def test_an_empty_or_absent_database_beside_photos_is_no_new_workspace(demo: Path, content: bytes | None) -> None:
    copied(demo, "First")
    for rest in demo.glob(f"{DATABASE}*"):
        rest.unlink()
    if content is not None:
        (demo / DATABASE).write_bytes(content)
    with pytest.raises(InputError) as refusal:
        Workspace(demo, measuring_processes=0)
    assert refusal.value.code == ("database-missing" if content is None else "database-empty")
    assert "hakari restore" in refusal.value.remedy
    assert done("restore", "--data", str(demo))[0] == 0
    assert len(names(demo)) == 4


def test_a_database_that_another_program_holds_is_told_apart_at_once(demo: Path) -> None:
    with closing(sqlite3.connect(demo / DATABASE, isolation_level=None)) as other:
        other.execute("BEGIN EXCLUSIVE")
        started = time.monotonic()
        status, _, errors = done("serve", "--data", str(demo), "--port", "8999")
        said = " ".join(t.words for t in examine(demo))
        assert status == 3 and "Another program holds the database" in errors and "Another program holds" in said
        assert time.monotonic() - started < 30 and "damaged" not in errors + said


def test_a_running_server_says_so_too_and_soon(demo: Path) -> None:
    ws = Workspace(demo, measuring_processes=0)
    client = create_app(ws).test_client()
    with closing(sqlite3.connect(demo / DATABASE, isolation_level=None)) as other:
        other.execute("BEGIN EXCLUSIVE")
        started = time.monotonic()
        answer = client.post("/api/coffees", json={"name": "Lot"})
        assert (answer.status_code, answer.json["code"]) == (503, "database-held") and time.monotonic() - started < 20
        assert client.get("/api/coffees").status_code == 200
        other.execute("ROLLBACK")
    assert client.post("/api/coffees", json={"name": "Lot"}).status_code == 201
    ws.close()


@pytest.fixture
def disk(tmp_path: Path) -> Iterator[Path]:
    """A small disk of its own, where this user may mount one."""
    where = tmp_path / "disk"
    where.mkdir()
    if subprocess.run(["mount", "-t", "tmpfs", "-o", "size=80m", "tmpfs", where], capture_output=True).returncode:
        pytest.skip("mounting is not allowed here")
    yield where
    subprocess.run(["umount", "-l", where], check=True)


def test_a_disk_that_takes_no_writes_is_no_damage(demo: Path, disk: Path) -> None:
    folder = Path(shutil.copytree(demo, disk / "data"))
    subprocess.run(["mount", "-o", "remount,ro", disk], check=True)
    status, _, errors = done("serve", "--data", str(folder), "--port", "8999")
    assert status == 3 and "takes no writes" in errors and "damaged" not in errors and "restore" not in errors
    said = " ".join(t.words for t in examine(folder))
    assert "takes no writes" in said and "The database itself is whole." in said and "damaged" not in said
    subprocess.run(["mount", "-o", "remount,rw", disk], check=True)
    damage(folder)
    subprocess.run(["mount", "-o", "remount,ro", disk], check=True)
    assert "is damaged" in " ".join(t.words for t in examine(folder))


def test_a_full_disk_is_no_damage(demo: Path, disk: Path) -> None:
    folder = Path(shutil.copytree(demo, disk / "data"))
    free = shutil.disk_usage(disk).free
    (disk / "filler").write_bytes(bytes(free - 2_000_000))
    said = " ".join(t.words for t in examine(folder))
    assert "no room left" in said and "The database itself is whole." in said and "damaged" not in said
