"""First starts and upgrades: killed at any statement they are done again from the beginning, and nothing is lost."""

from __future__ import annotations

import shutil
import signal
import sqlite3
from contextlib import closing, suppress
from functools import cache
from pathlib import Path

import pytest
from alembic import command
from sqlalchemy import create_engine, event

from hakari.core.errors import InputError
from hakari.service.backups.doctor import examine
from hakari.service.slips import use_cases as slips
from hakari.service.workspace.folder import DATABASE
from hakari.service.workspace.transaction import Workspace
from hakari.service.workspace.upgrade import copy_before
from hakari.store import models
from hakari.store.revisions import alembic_config, known_revisions
from killed import open_and_be_killed
from processes import FORKS, IMPORTED, done
from thorough import THOROUGH

FIXTURE = Path(__file__).parents[1] / "data" / "databases" / "0012.sql"
OLD = [r for r in reversed(known_revisions()) if r <= "0012"]
ALL = 10_000


@cache
def database_of(revision: str) -> bytes:
    """A database of an older revision, with work in it: the newest of them, taken down step by step."""
    with closing(sqlite3.connect(":memory:")) as made:
        made.executescript(FIXTURE.read_text())
        engine = create_engine("sqlite://", creator=lambda: made)
        config = alembic_config()
        with engine.connect() as connection:
            config.attributes["connection"] = connection
            command.downgrade(config, revision)
            connection.commit()
            return made.serialize()


def folder_of(revision: str | None, folder: Path) -> Path:
    shutil.rmtree(folder, ignore_errors=True)
    folder.mkdir(parents=True)
    if revision is not None:
        (folder / DATABASE).write_bytes(database_of(revision))
    return folder


def content_of(folder: Path) -> dict[str, list[tuple]]:
    """All tables of a folder's database, with the rows in them."""
    if not (folder / DATABASE).exists():
        return {}
    with closing(sqlite3.connect(folder / DATABASE)) as held:
        names = [n for (n,) in held.execute("SELECT name FROM sqlite_master WHERE type = 'table'")]
        columns = {n: ", ".join(row[1] for row in held.execute(f'PRAGMA table_info("{n}")')) for n in names}
        return {f"{n}: {columns[n]}": held.execute(f'SELECT * FROM "{n}"').fetchall() for n in names}


def killed_at(folder: Path, number: int) -> int | None:
    """Open a folder in a process that is killed after a statement; the number of statements when it was not."""
    FORKS.set_forkserver_preload(IMPORTED)
    here, there = FORKS.Pipe(duplex=False)
    child = FORKS.Process(target=open_and_be_killed, args=(folder, number, there))
    child.start()
    there.close()
    child.join(60)
    with suppress(EOFError):
        return int(here.recv())
    assert child.exitcode == -signal.SIGKILL
    return None


def work_in(folder: Path) -> dict[str, int]:
    """How many rows of each kind an opened folder holds."""
    ws = Workspace(folder, measuring_processes=0)
    with ws.transaction() as session:
        kinds = (models.Coffee, models.Grinder, models.Sample, models.Plan, models.Brew, models.LogPart, models.Slip)
        held = {kind.__tablename__: session.query(kind).count() for kind in kinds}
        assert session.query(models.Workbench).count() == 1
        # Every document can be read, and the columns that lists ask for are filled.
        for slip in session.query(models.Slip):
            assert slip.thread and slip.document.plan.dose_g > 0 and slip.advice.moves is not None
    ws.close()
    return held


@pytest.mark.parametrize("revision", OLD)
def test_every_older_database_is_brought_up_to_date_with_a_copy_of_it(revision: str, tmp_path: Path) -> None:
    folder = folder_of(revision, tmp_path / "data")
    held = work_in(folder)
    assert held["slip"] == 2 and held["plan"] == 3 and held["sample"] == 1
    assert held["log_part"] == (2 if revision >= "0005" else 0)
    kept = folder / "backups" / copy_before(revision)
    with closing(sqlite3.connect(kept)) as copy:
        assert copy.execute("SELECT version_num FROM alembic_version").fetchone() == (revision,)
        assert copy.execute("SELECT count(*) FROM slip").fetchone() == (2,)
    assert examine(folder) == [] or all("missing" in t.words for t in examine(folder))


# A sample each time; `make thorough` kills after each statement there is.
FROM = [None, *OLD] if THOROUGH else [None, "0002", "0012"]
STEP = 1 if THOROUGH else 17


@pytest.mark.parametrize("revision", FROM)
def test_a_start_or_upgrade_that_is_killed_is_done_again(revision: str | None, tmp_path: Path) -> None:
    whole = killed_at(folder_of(revision, tmp_path / "whole"), ALL)
    assert whole is not None and whole > 20
    done_ = content_of(tmp_path / "whole")
    folder = folder_of(revision, tmp_path / "data")
    before = content_of(folder)
    for number in range(1, whole + 1, STEP):
        assert killed_at(folder, number) is None
        # As a whole or not at all; what is filled from the rows is filled at the next start.
        now = content_of(folder)
        assert now == before or now.keys() == done_.keys(), number
        if now != before:
            assert work_in(folder) == work_in(tmp_path / "whole"), number
            folder = folder_of(revision, tmp_path / "data")
    assert work_in(folder) == work_in(tmp_path / "whole")


class StoppedError(Exception):
    """Where an upgrade of before was cut short."""


def left_by_an_older_hakari(folder: Path, number: int) -> bool:
    """Bring a folder up as it was done before, without one transaction, cut short after a statement; whether it was."""
    engine = create_engine(f"sqlite:///{folder / DATABASE}")
    left = True

    @event.listens_for(engine, "after_cursor_execute")
    def _(*_: object) -> None:
        nonlocal number
        number -= 1
        if number == 0:
            raise StoppedError

    config = alembic_config()
    with suppress(StoppedError), engine.connect() as connection:
        # What its driver had written by then stays; a transaction that it had begun for rows is lost.
        transaction = connection.begin()
        config.attributes["connection"] = connection
        command.upgrade(config, "0012")
        transaction.commit()
        left = False
    engine.dispose()
    return left


@pytest.mark.parametrize("revision", FROM)
def test_a_folder_that_an_older_hakari_left_half_done_is_repaired(revision: str | None, tmp_path: Path) -> None:
    expected = work_in(folder_of(revision, tmp_path / "whole"))
    number = 1
    while True:
        folder = folder_of(revision, tmp_path / "data")
        if not left_by_an_older_hakari(folder, number):
            break
        assert work_in(folder) == expected, number
        number += 1 if THOROUGH else 41
    assert number > 3 or revision == "0012"  # whose upgrade is cut short nowhere any more


def test_a_first_start_of_before_left_tables_and_no_revision(tmp_path: Path) -> None:
    folder = folder_of(None, tmp_path / "data")
    assert left_by_an_older_hakari(folder, 8)
    with closing(sqlite3.connect(folder / DATABASE)) as wedged:
        assert wedged.execute("SELECT count(*) FROM sqlite_master WHERE name = 'coffee'").fetchone() == (1,)
        assert wedged.execute("SELECT count(*) FROM alembic_version").fetchone() == (0,)
    status, said, errors = done("doctor", "--fix", "--data", str(folder))
    assert status == 0, (said, errors)
    assert work_in(folder)["coffee"] == 0


def test_a_database_that_fits_no_version_is_refused_and_left_as_it_is(tmp_path: Path) -> None:
    folder = folder_of("0004", tmp_path / "data")
    with closing(sqlite3.connect(folder / DATABASE)) as strange:
        strange.execute("CREATE TABLE brew_notes (id INTEGER)")
        strange.execute("INSERT INTO brew_notes VALUES (1)")
        strange.commit()
    with pytest.raises(InputError) as refusal:
        Workspace(folder, measuring_processes=0)
    assert refusal.value.code == "database-unfit" and "hakari restore" in refusal.value.remedy
    with closing(sqlite3.connect(folder / DATABASE)) as strange:
        assert strange.execute("SELECT count(*) FROM brew_notes").fetchone() == (1,)
        assert strange.execute("SELECT version_num FROM alembic_version").fetchone() == ("0004",)


def test_a_log_that_was_kept_twice_is_kept_once_and_leaves_whole(tmp_path: Path) -> None:
    folder = folder_of("0012", tmp_path / "data")
    ws = Workspace(folder, measuring_processes=0)
    with ws.transaction() as session:
        slip = session.query(models.Slip).first()
        assert slip is not None and slip.document.brew is not None and slip.document.brew.log.t_s == []
    log = slips.slip_detail(ws, 1).document.brew
    assert log is not None and len(log.log.t_s) == 90 and log.log.drink_g[0] == 0.03
    ws.close()
