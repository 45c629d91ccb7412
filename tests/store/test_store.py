"""Rows and files: migrations fit the models, times are UTC, stale writes are refused, files are whole or absent."""

import io
import json
import sqlite3
from contextlib import closing
from dataclasses import fields
from datetime import UTC, datetime, timedelta, timezone
from pathlib import Path

import numpy as np
import pytest
from alembic import command
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from benchmarks.pictures.flat import Made
from sqlalchemy import create_engine, text
from sqlalchemy.exc import IntegrityError, StatementError

from hakari.core.photo.pipeline import CardScale
from hakari.service.samples.grounds import grounds_of, unpack
from hakari.service.samples.use_cases import add_sample
from hakari.service.workspace.transaction import StaleError, Workspace
from hakari.store import database, models
from hakari.store.files import FolderStore
from hakari.store.revisions import alembic_config

FIXTURE = Path(__file__).parents[1] / "data" / "databases" / "0012.sql"


def test_the_migrations_make_what_the_models_say(workspace: Workspace) -> None:
    with workspace.engine.connect() as connection:
        context = MigrationContext.configure(connection, opts={"compare_type": True})
        assert compare_metadata(context, models.Base.metadata) == []


def test_wal_and_foreign_keys_are_on(workspace: Workspace) -> None:
    with workspace.engine.connect() as connection:
        assert connection.execute(text("PRAGMA journal_mode")).scalar() == "wal"
        assert connection.execute(text("PRAGMA foreign_keys")).scalar() == 1
    with pytest.raises(IntegrityError), workspace.transaction() as session:
        session.add(models.Brew(plan_id=12345))


def test_times_come_back_in_utc_and_naive_ones_are_refused(workspace: Workspace) -> None:
    evening = datetime(2026, 10, 3, 23, 30, tzinfo=timezone(timedelta(hours=-5)))
    with workspace.transaction() as session:
        session.add(models.Coffee(id=1, name="a", roast="light", process="", roasted_at=evening))
    with workspace.transaction() as session:
        row = session.get(models.Coffee, 1)
        assert row is not None and row.roasted_at == evening and row.roasted_at.tzinfo is UTC
    with pytest.raises(StatementError), workspace.transaction() as session:
        session.add(models.Coffee(name="b", roast="light", process="", roasted_at=datetime(2026, 1, 1)))


def test_a_write_against_an_old_version_is_refused(workspace: Workspace) -> None:
    with workspace.transaction() as session:
        session.add(models.Coffee(id=1, name="a", roast="light", process=""))
    with pytest.raises(StaleError), workspace.transaction() as mine:
        row = mine.get(models.Coffee, 1)
        with workspace.transaction() as theirs:
            other = theirs.get(models.Coffee, 1)
            assert other is not None
            other.name = "theirs"
        assert row is not None
        row.name = "mine"
    with workspace.transaction() as session:
        assert session.get(models.Coffee, 1).name == "theirs"  # type: ignore[union-attr]


def test_files_are_kept_once_and_never_half(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    store = FolderStore(tmp_path)
    first = store.put(b"grounds")
    assert store.put(b"grounds") == first and store.get(first) == b"grounds"

    def full_disk(_: int) -> None:
        raise OSError("no space left")

    monkeypatch.setattr("os.fsync", full_disk)
    with pytest.raises(OSError):
        store.put(b"more grounds")
    assert [p.name for p in tmp_path.rglob("*") if p.is_file()] == [first]


def test_a_folder_from_before_corrections_is_brought_up_to_date(
    workspace: Workspace, small_picture: Made, tmp_path: Path
) -> None:
    made = add_sample(workspace, [("a.jpg", small_picture.jpeg)], CardScale())
    older = {k: v for k, v in made.measurement.model_dump().items() if k not in ("verdict", "enough", "between")}
    # A database of before the corrections, with this sample in the place of its own.
    with closing(sqlite3.connect(tmp_path / "old")) as old:
        old.executescript(FIXTURE.read_text())
    engine = create_engine(database.sqlite_address(tmp_path / "old"))
    config = alembic_config()
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.downgrade(config, "0001")
        connection.execute(text("UPDATE sample SET measurement = :m"), {"m": json.dumps(older)})
    database.migrate(engine)
    with database.session_factory(engine)() as session:
        measurement = session.query(models.Sample).one().measurement
    engine.dispose()
    assert measurement.verdict.level == made.measurement.verdict.level
    assert measurement.enough.half_width == pytest.approx(made.measurement.enough.half_width)
    with workspace.transaction() as session:
        held = grounds_of(workspace, session.get_one(models.Sample, made.id).grounds_hash)
    without = io.BytesIO()
    np.savez(without, **{f.name: getattr(held, f.name) for f in fields(held) if f.name != "left_out"})
    assert len(unpack(without.getvalue()).counted) == len(held)
