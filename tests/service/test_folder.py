"""The data folder: locked, refused in words, examined and mended, copied, exported and imported."""

from __future__ import annotations

import io
import json
import shutil
import sqlite3
import zipfile
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest

from hakari.core.errors import InputError
from hakari.service.backups.archive import export_workspace, import_workspace
from hakari.service.backups.doctor import examine
from hakari.service.backups.housekeeping import KEPT_COPIES, copy_database, orphans, purge
from hakari.service.coffees import use_cases as coffees
from hakari.service.samples import use_cases as samples
from hakari.service.slips import use_cases as slips
from hakari.service.workspace.folder import DATABASE
from hakari.service.workspace.transaction import Workspace, find
from hakari.store import models
from processes import done


def tables(folder: Path, without_secrets: bool = False) -> dict[str, list[tuple]]:
    """Everything in a database, read past the program."""
    with sqlite3.connect(f"file:{folder / DATABASE}?mode=ro", uri=True) as connection:
        names = [n for (n,) in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")]
        if without_secrets:  # hidden orders stay in the folder that drew them
            connection.execute("CREATE TEMP TABLE experiment AS SELECT * FROM main.experiment")
            connection.execute("UPDATE temp.experiment SET blind_seed = NULL")
        return {n: connection.execute(f'SELECT * FROM "{n}"').fetchall() for n in names}


def files(folder: Path) -> dict[str, bytes]:
    return {p.name: p.read_bytes() for p in (folder / "files").glob("*/*")}


def archive_bytes(ws: Workspace) -> bytes:
    out = io.BytesIO()
    export_workspace(ws, out)
    return out.getvalue()


def decoded(rows: dict[str, list[tuple]]) -> dict[str, list[tuple]]:
    """Rows with their JSON opened, so that spaces in it do not matter."""

    def cell(value: object) -> object:
        if isinstance(value, str) and value[:1] in ("[", "{"):
            return json.loads(value)
        return value

    return {name: [tuple(cell(v) for v in row) for row in of] for name, of in rows.items()}


@pytest.fixture
def demo(filled_demo: Path, tmp_path: Path) -> Path:
    folder = tmp_path / "demo"
    shutil.copytree(filled_demo, folder)
    return folder


def test_a_second_server_on_the_same_folder_is_refused(tmp_path: Path) -> None:
    first = Workspace(tmp_path / "data", measuring_processes=0)
    with pytest.raises(InputError) as refusal:
        Workspace(tmp_path / "data", measuring_processes=0)
    assert refusal.value.code == "folder-in-use"
    first.close()
    Workspace(tmp_path / "data", measuring_processes=0).close()


def _damage(folder: Path) -> None:
    data = bytearray((folder / DATABASE).read_bytes())
    data[4096:12288] = b"coffee" * 1365 + b"co"
    (folder / DATABASE).write_bytes(data)


def _newer(folder: Path) -> None:
    with sqlite3.connect(folder / DATABASE) as connection:
        connection.execute("UPDATE alembic_version SET version_num = '9999'")
    connection.close()


@pytest.mark.parametrize(
    ("harm", "code"),
    [
        (_damage, "damaged"), (_newer, "newer Hakari"), (lambda f: (f / DATABASE).unlink(), "hakari.sqlite3 is gone"),
        (lambda f: (f / DATABASE).write_text("coffee was spilt here" * 400), "damaged"),
    ],
)  # fmt: skip
def test_a_folder_that_cannot_be_used_is_one_clear_message(demo: Path, harm: Callable[[Path], None], code: str) -> None:
    for rest in demo.glob(f"{DATABASE}-*"):
        rest.unlink()
    harm(demo)
    before = files(demo)
    status, _, errors = done("serve", "--data", str(demo), "--port", "8999")
    assert status == 3 and code in errors and "Traceback" not in errors
    assert files(demo) == before


def test_what_is_exported_comes_back_the_same(demo: Path, tmp_path: Path) -> None:
    file = tmp_path / "everything.zip"
    assert done("export", "-o", str(file), "--data", str(demo))[0] == 0
    again = tmp_path / "again"
    assert done("import", str(file), "--data", str(again))[0] == 0
    assert decoded(tables(again)) == decoded(tables(demo, without_secrets=True)) and files(again) == files(demo)
    with zipfile.ZipFile(file) as archive:
        assert any(n.startswith("brews/") for n in archive.namelist())
    # A second time brings nothing.
    assert done("import", str(file), "--data", str(again))[0] == 0
    assert decoded(tables(again)) == decoded(tables(demo, without_secrets=True))


def test_two_folders_are_merged_and_nothing_comes_twice(demo: Path, workspace: Workspace) -> None:
    coffees.add_coffee(workspace, coffees.NewCoffee(name="Already here"))
    theirs = Workspace(demo, measuring_processes=0)
    data = archive_bytes(theirs)
    for _ in range(2):
        brought = import_workspace(workspace, io.BytesIO(data))
    assert brought.rows == 0
    ours, original = slips.list_slips(workspace).slips, slips.list_slips(theirs).slips
    assert [s.number for s in ours] == [1, 2, 3] and [s.curve_density for s in ours] == [
        s.curve_density for s in original
    ]
    assert [s.parent_id for s in ours][1:] == [ours[0].id, ours[1].id]
    assert coffees.list_coffees(workspace).coffees[0].name == "Already here"
    assert [s.d50_um for s in samples.list_samples(workspace).samples] == [
        s.d50_um for s in samples.list_samples(theirs).samples
    ]
    theirs.close()


def _poison(row: dict) -> None:
    row["document"]["pours"] = [{"water_g": "much"}]


def _with_rows(data: bytes, table: str, harm: Callable[[dict], object]) -> bytes:
    """A back-up whose first row of a table was changed, and made at another time, so that it is new."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(out, "w") as new:
        document = json.loads(old.read("workspace.json"))
        row = document["tables"][table][0]
        row["created_at"] = "2020-01-01 00:00:00.000000"
        harm(row)
        new.writestr("workspace.json", json.dumps(document))
    return out.getvalue()


@pytest.mark.parametrize("wrong", [b"", b"PK\x03\x04 cut short", b"not a zip"])
def test_a_file_that_is_no_back_up_changes_nothing(demo: Path, wrong: bytes) -> None:
    ws = Workspace(demo, measuring_processes=0)
    before = decoded(tables(demo))
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w") as archive:
        document = {"format": "hakari.workspace/1", "revision": "0006", "tables": {"coffee": [{"id": 1}]}}
        archive.writestr("workspace.json", json.dumps(document))
    whole = archive_bytes(ws)
    harmed = [_with_rows(whole, "coffee", lambda row: row.pop("name")), _with_rows(whole, "plan", _poison)]
    for data in (wrong, whole[:5000], made.getvalue(), *harmed):
        with pytest.raises(InputError) as refusal:
            import_workspace(ws, io.BytesIO(data))
        assert refusal.value.code == "archive-malformed"
    ws.close()
    assert decoded(tables(demo)) == before


def test_the_doctor_finds_and_repairs(demo: Path) -> None:
    assert examine(demo) == []
    some = sorted((demo / "files").glob("*/*"))
    some[0].write_bytes(b"not what it was")
    missing = some[1].name
    some[1].unlink()
    (some[2].parent / ".part-1").write_bytes(b"half")
    (demo / "files" / "ab").mkdir(exist_ok=True)
    ws = Workspace(demo, measuring_processes=0)
    alone = ws.files.put(b"nobody's")
    ws.close()
    said = " ".join(t.words for t in examine(demo))
    assert all(w in said for w in (missing[:12], some[0].name[:12], "belong to nothing", "half-written"))
    repaired = examine(demo, fix=True)
    assert sum(t.repaired for t in repaired) == 3 and (demo / "rotten" / some[0].name).exists()
    assert alone not in files(demo)
    left = examine(demo)
    assert len(left) == 2 and all("missing" in t.words for t in left)


def test_a_copy_a_day_and_seven_are_kept(demo: Path) -> None:
    ws = Workspace(demo, measuring_processes=0)
    start = datetime(2026, 3, 1, 12, tzinfo=UTC)
    assert [copy_database(ws, start + timedelta(days=d)) for d in (0, 0, *range(1, 12))].count(True) == 12
    copies = sorted((demo / "backups").iterdir())
    assert len(copies) == KEPT_COPIES and copies[-1].name == "hakari-2026-03-12.sqlite3"
    with sqlite3.connect(copies[-1]) as copy:
        assert copy.execute("SELECT count(*) FROM slip").fetchone() == (3,)
    copy.close()
    ws.close()


def test_what_was_deleted_a_month_ago_goes_with_its_files(demo: Path) -> None:
    ws = Workspace(demo, measuring_processes=0)
    sample = samples.list_samples(ws).samples[0]
    last = slips.list_slips(ws).slips[-1]
    samples.set_sample_deleted(ws, sample.id, True)
    slips.set_slip_deleted(ws, last.id, True)
    kept = set(ws.files.hashes())
    assert purge(ws) == 0 and set(ws.files.hashes()) == kept
    assert purge(ws, datetime.now(UTC) + timedelta(days=31)) >= 2
    assert len(slips.list_slips(ws).slips) == 2 and set(ws.files.hashes()) < kept and orphans(ws) == []
    with ws.transaction() as session, pytest.raises(InputError):
        find(session, models.Sample, sample.id, "sample", deleted_too=True)
    ws.close()
    assert examine(demo) == []
