"""The data folder as it is found: locked for one server, and refused in words when it cannot be used."""

from __future__ import annotations

import fcntl
import os
import shutil
import sqlite3
from pathlib import Path
from typing import IO

from hakari.core.errors import InputError
from hakari.store.database import known_revisions

DATABASE = "hakari.sqlite3"
LEAST_FREE_BYTES = 20 * 2**20


class FolderLock:
    """Keeps a second server off a data folder; let go when closed, or when the process ends in whatever way."""

    def __init__(self, folder: Path) -> None:
        self._file: IO[str] | None = (folder / ".lock").open("a")
        try:
            fcntl.flock(self._file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as error:
            self._file.close()
            raise InputError(
                "folder-in-use", f"Another Hakari is using the data folder {folder}.",
                "Stop that one first, or choose another folder with --data.",
            ) from error  # fmt: skip

    def release(self) -> None:
        """Let another server in."""
        if self._file is not None:
            self._file.close()
            self._file = None


def check_folder(folder: Path, own_database: bool = True, own_files: bool = True) -> None:
    """Refuse a folder that cannot be used, before anything in it is touched.

    ``own_database`` and ``own_files`` say whether those lie in it.

    Raises
    ------
    InputError
        ``data-folder`` (no folder, or not writable), ``disk-full``, ``database-missing``, ``database-damaged``,
        ``database-newer``.
    """
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise InputError(
            "data-folder", f"The data folder {folder} cannot be made: {error.strerror}.", "Choose another with --data."
        ) from error
    if not os.access(folder, os.W_OK | os.X_OK):
        raise InputError(
            "data-folder",
            f"The data folder {folder} cannot be written.",
            "Change its owner, or choose another with --data.",
        )
    if shutil.disk_usage(folder).free < LEAST_FREE_BYTES:
        raise InputError(
            "disk-full",
            f"There is no room left on the disk of {folder}.",
            "Make room, then start again; nothing was lost.",
        )
    database = folder / DATABASE
    if not own_database:
        return
    if not database.exists():
        if own_files and any((folder / "files").glob("*/*")):
            raise InputError(
                "database-missing", f"The data folder {folder} holds photos, but its database {DATABASE} is gone.",
                "Put the database back: the newest copy is in the folder's backups, or restore a back-up with hakari import.",
            )  # fmt: skip
        return
    revision = revision_of(database)
    if revision is not None and revision not in known_revisions():
        raise InputError(
            "database-newer", f"The data folder {folder} was written by a newer Hakari.",
            "Start that one, or choose another folder with --data.",
        )  # fmt: skip


def revision_of(database: Path) -> str | None:
    """Return the schema's revision; ``None`` in a database that has none yet."""
    try:
        with sqlite3.connect(f"file:{database}?mode=ro", uri=True) as connection:
            damage = connection.execute("PRAGMA quick_check(1)").fetchone()[0]
            if damage != "ok":
                raise sqlite3.DatabaseError(damage)
            tables = connection.execute("SELECT name FROM sqlite_master WHERE name = 'alembic_version'").fetchall()
            row = connection.execute("SELECT version_num FROM alembic_version").fetchone() if tables else None
            return str(row[0]) if row else None
    except sqlite3.DatabaseError as error:
        raise InputError(
            "database-damaged", f"The database {database} is damaged.",
            "Put the newest copy from the folder's backups in its place; hakari doctor says what else is wrong.",
        ) from error  # fmt: skip
