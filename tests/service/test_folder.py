"""The data folder: locked, refused in words, examined and mended, copied, exported and imported."""

from __future__ import annotations

import csv
import shutil
import sqlite3
import time
from collections.abc import Callable
from datetime import UTC, date, datetime, timedelta
from pathlib import Path

import pytest

from hakari.core.errors import InputError
from hakari.service.backups.doctor import examine
from hakari.service.backups.housekeeping import copy_database, kept_days, orphans, purge
from hakari.service.samples import use_cases as samples
from hakari.service.samples.measurement_queue import MeasurementQueue
from hakari.service.slips import use_cases as slips
from hakari.service.workspace.folder import DATABASE
from hakari.service.workspace.transaction import Workspace, find
from hakari.store import models
from processes import done


def files(folder: Path) -> dict[str, bytes]:
    return {p.name: p.read_bytes() for p in (folder / "files").glob("*/*")}


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
    assert all(w in said for w in (missing[:12], some[0].name[:12], "belong to no row", "half-written"))
    repaired = examine(demo, fix=True)
    assert sum(t.repaired for t in repaired) == 3 and (demo / "rotten" / some[0].name).exists()
    assert alone not in files(demo) and (demo / "found" / alone).read_bytes() == b"nobody's"
    left = examine(demo)
    assert len(left) == 2 and all("missing" in t.words for t in left)


def test_no_photo_is_ever_deleted_and_found_ones_are_taken_in_again(demo: Path) -> None:
    ws = Workspace(demo, measuring_processes=0)
    photo = ws.files.get(_first_photo(ws))
    # A photo that no row knows, as after a daily copy was put in place: purging and mending leave it alone.
    lost = ws.files.put(photo + b"\0")
    with ws.transaction() as session:
        session.add(models.Experiment(name="old", document=session.query(models.Experiment).first().document,
                                      deleted_at=datetime.now(UTC) - timedelta(days=40)))  # fmt: skip
    assert purge(ws) == 1 and ws.files.has(lost)
    ws.close()
    status, said, _ = done("doctor", "--fix", "--data", str(demo))
    assert status == 0 and "1 files belong to no row; they are in" in said
    kept = demo / "found" / f"{lost}.jpg"
    assert kept.read_bytes() == photo + b"\0"
    listed = list(csv.DictReader((demo / "found" / "list.csv").open()))
    assert [(r["file"], r["sha256"], r["kind"]) for r in listed] == [(kept.name, lost, "photo")]
    status, said, _ = done("doctor", "--fix", "--take-in", "--data", str(demo))
    assert status == 0 and "1 photos of found will be measured" in said and not kept.exists()
    ws = Workspace(demo, measuring_processes=0)
    before = samples.list_samples(ws).total
    queue = MeasurementQueue(ws)
    until = time.monotonic() + 60
    while samples.list_samples(ws).total == before:
        assert time.monotonic() < until, "it was not measured"
        time.sleep(0.1)
    queue.close()
    ws.close()


def _first_photo(ws: Workspace) -> str:
    with ws.transaction() as session:
        return str(session.query(models.Photo).first().content_hash)


def test_a_copy_a_day_is_made_and_older_ones_are_thinned(demo: Path) -> None:
    ws = Workspace(demo, measuring_processes=0)
    start = datetime(2026, 3, 1, 12, tzinfo=UTC)
    assert [copy_database(ws, start + timedelta(days=d)) for d in (0, 0, *range(1, 40))].count(True) == 40
    copies = sorted((demo / "backups").iterdir())
    # The last is of Thursday 9 April: a week, the Mondays of four weeks, the first of both months.
    assert [p.stem.removeprefix("hakari-2026-") for p in copies] == [
        "03-01", "03-16", "03-23", "03-30", "04-01", *(f"04-{d:02d}" for d in range(3, 10))
    ]  # fmt: skip
    with sqlite3.connect(copies[-1]) as copy:
        assert copy.execute("SELECT count(*) FROM slip").fetchone() == (3,)
    copy.close()
    ws.close()


def test_years_of_daily_copies_are_a_week_four_weeks_and_twelve_months() -> None:
    kept: set[date] = set()
    for day in range(1500):
        kept = kept_days({*kept, date(2026, 1, 1) + timedelta(days=day)})
    newest = max(kept)
    assert {newest - timedelta(days=d) for d in range(7)} <= kept and len(kept) <= 7 + 4 + 12
    assert {d for d in kept if newest - d > timedelta(days=45)} == {
        d for d in kept if d.day == 1 and newest - d > timedelta(days=45)
    }
    assert (newest - min(kept)).days > 330


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
