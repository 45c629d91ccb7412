"""SQLite's files: whether one is whole, held by another program or out of reach, and copies of it."""

from __future__ import annotations

import os
import sqlite3
from contextlib import closing
from pathlib import Path
from typing import Literal

# So long another program may hold the database before that is said.
HELD_S = 2.0
ALONGSIDE = ("-wal", "-shm", "-journal")
Trouble = Literal["damaged", "held", "read-only", "full", "unreadable"]
TROUBLES: dict[int, Trouble] = {
    sqlite3.SQLITE_BUSY: "held", sqlite3.SQLITE_LOCKED: "held", sqlite3.SQLITE_READONLY: "read-only",
    sqlite3.SQLITE_FULL: "full", sqlite3.SQLITE_CORRUPT: "damaged", sqlite3.SQLITE_NOTADB: "damaged",
}  # fmt: skip


def trouble_of(error: BaseException | None) -> Trouble:
    """Return what an error of SQLite's means; ``unreadable`` for what is neither damage nor another program nor the disk."""
    code = getattr(error, "sqlite_errorcode", None)
    return "unreadable" if code is None else TROUBLES.get(code & 0xFF, "unreadable")


def is_read_only(folder: Path) -> bool:
    """Whether a folder lies on a disk that takes no writes."""
    return bool(os.statvfs(folder).f_flag & os.ST_RDONLY)


def look(database: Path, write: bool) -> str | None:
    """Read a database through and return its schema's revision; ``None`` where it has none.

    Parameters
    ----------
    database : Path
        The file.
    write : bool
        Whether it must be free to be written, too.

    Raises
    ------
    sqlite3.Error
        See ``trouble_of``.
    """
    # On a disk that takes no writes SQLite must not look for the files that it keeps beside a database.
    how = "immutable=1" if is_read_only(database.parent) else "mode=rw" if write else "mode=ro"
    with closing(
        sqlite3.connect(f"file:{database}?{how}", uri=True, timeout=HELD_S, isolation_level=None)
    ) as connection:
        damage = connection.execute("PRAGMA quick_check(1)").fetchone()[0]
        if damage != "ok":
            wrong = sqlite3.DatabaseError(damage)
            wrong.sqlite_errorcode = sqlite3.SQLITE_CORRUPT
            raise wrong
        if write and how == "mode=rw":
            connection.execute("BEGIN IMMEDIATE")
            connection.execute("ROLLBACK")
        tables = connection.execute("SELECT 1 FROM sqlite_master WHERE name = 'alembic_version'").fetchall()
        row = connection.execute("SELECT version_num FROM alembic_version").fetchone() if tables else None
        return str(row[0]) if row else None


def is_empty(database: Path) -> bool:
    """Whether a database holds no table at all; an empty file is one."""
    with closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True, timeout=HELD_S)) as connection:
        return connection.execute("SELECT 1 FROM sqlite_master").fetchone() is None


def copy(database: Path, to: Path) -> None:
    """Copy a database as it is at one moment, also while others write; the copy is there whole or not at all."""
    part = to.with_name(f"{to.name}.part")
    with closing(sqlite3.connect(database)) as source, closing(sqlite3.connect(part)) as target:
        source.backup(target)
        # One file, whatever is killed: a copy has no log beside it.
        target.execute("PRAGMA journal_mode=DELETE")
    sync(part)
    part.replace(to)
    sync(to.parent)


def sync(path: Path) -> None:
    """Have the disk keep a file or a folder's names."""
    handle = os.open(path, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)
