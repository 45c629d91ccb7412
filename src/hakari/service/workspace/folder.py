"""The data folder as it is found: locked for one server, and refused in words when it cannot be used."""

from __future__ import annotations

import fcntl
import os
import shutil
import sqlite3
from pathlib import Path
from typing import IO

from hakari.core.errors import InputError
from hakari.store import sqlite_files
from hakari.store.revisions import known_revisions

DATABASE, BACKUPS, SET_ASIDE = "hakari.sqlite3", "backups", "set-aside"
STAGING = ".import-"  # where a back-up is opened
LEAST_FREE_BYTES = 20 * 2**20
RESTORE = "Put the newest copy back with: hakari restore --data {folder}"


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


def remove_left_over(folder: Path) -> None:
    """Remove the folders of imports that were cut short: nothing in them belongs to the work yet."""
    for left in folder.glob(f"{STAGING}*"):
        shutil.rmtree(left, ignore_errors=True)


def check_folder(folder: Path, own_database: bool = True, own_files: bool = True, write: bool = True) -> None:
    """Refuse a folder that cannot be used, before anything in it is touched.

    ``own_database`` and ``own_files`` say whether those lie in it, ``write`` whether its database must be free to be written.

    Raises
    ------
    InputError
        ``data-folder`` (no folder, or no permission), ``disk-read-only``, ``disk-full``; and as ``check_database``.
    """
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise InputError(
            "data-folder", f"The data folder {folder} cannot be made: {error.strerror}.", "Choose another with --data."
        ) from error
    if sqlite_files.is_read_only(folder):
        raise _read_only(folder)
    if not os.access(folder, os.W_OK | os.X_OK):
        raise InputError(
            "data-folder",
            f"The data folder {folder} cannot be written.",
            "Change its owner, or choose another with --data.",
        )
    # A full disk is all the more reason to read what is on it.
    if write and shutil.disk_usage(folder).free < LEAST_FREE_BYTES:
        raise _full(folder)
    if own_database:
        check_database(folder, own_files, write)


def check_database(folder: Path, own_files: bool = True, write: bool = True) -> str | None:
    """Return the revision of a folder's own database, ``None`` where there is none yet.

    Raises
    ------
    InputError
        ``database-missing``, ``database-empty``, ``database-damaged``, ``database-held``, ``database-unreadable``,
        ``database-newer``, ``disk-read-only``, ``disk-full``.
    """
    database, restore = folder / DATABASE, RESTORE.format(folder=folder)
    photos = own_files and any((folder / "files").glob("??/*"))
    if not database.exists():
        if photos:
            raise InputError(
                "database-missing", f"The data folder {folder} holds photos, but its database {DATABASE} is gone.",
                f"{restore}, or import a back-up with hakari import.",
            )  # fmt: skip
        return None
    try:
        revision = sqlite_files.look(database, write)
        empty = revision is None and sqlite_files.is_empty(database)
    except sqlite3.Error as error:
        raise database_trouble(folder, error) from error
    if empty and photos:
        raise InputError(
            "database-empty", f"The data folder {folder} holds photos, but its database {DATABASE} is empty.", restore
        )
    if revision is not None and revision not in known_revisions():
        raise InputError(
            "database-newer", f"The data folder {folder} was written by a newer Hakari.",
            "Start that one, or choose another folder with --data.",
        )  # fmt: skip
    return revision


def database_trouble(folder: Path, error: BaseException | None) -> InputError:
    """Return the refusal of a folder's database; damage, the disk's troubles and other programs have codes of their own."""
    database = folder / DATABASE
    match sqlite_files.trouble_of(error):
        case "damaged":
            return InputError(
                "database-damaged", f"The database {database} is damaged.",
                f"{RESTORE.format(folder=folder)}; the damaged one is set aside, not deleted.",
            )  # fmt: skip
        case "held":
            return InputError(
                "database-held", f"Another program holds the database {database}.",
                "Close that program, such as a database browser or a copy that is being made, then try again.",
            )  # fmt: skip
        case "read-only":
            return _read_only(folder)
        case "full":
            return _full(folder)
    if shutil.disk_usage(folder).free < LEAST_FREE_BYTES:
        return _full(folder)
    return InputError(
        "database-unreadable", f"The database {database} cannot be opened: {error}.",
        "Check its owner and permissions, and that it is a file.",
    )  # fmt: skip


def _read_only(folder: Path) -> InputError:
    return InputError(
        "disk-read-only", f"The disk of {folder} takes no writes.",
        "Have it mounted for writing, or choose another folder with --data; nothing was lost.",
    )  # fmt: skip


def _full(folder: Path) -> InputError:
    return InputError(
        "disk-full", f"There is no room left on the disk of {folder}.", "Make room, then start again; nothing was lost."
    )
