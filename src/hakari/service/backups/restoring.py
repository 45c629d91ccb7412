"""Putting a daily copy of the database in the place of one that is damaged or gone."""

from __future__ import annotations

import shutil
import sqlite3
import tempfile
from contextlib import closing
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

from hakari.core.errors import InputError
from hakari.core.photo.header import kind_of
from hakari.service.backups.housekeeping import orphans
from hakari.service.workspace.folder import BACKUPS, DATABASE, SET_ASIDE, STAGING, FolderLock, check_folder
from hakari.service.workspace.transaction import Workspace
from hakari.store import sqlite_files
from hakari.store.revisions import known_revisions

COPIES = "hakari-*.sqlite3"
# What a person misses, by the tables that hold it.
MISSED = {"slip": "slips", "brew": "brews", "sample": "samples", "plan": "plans", "recipe": "recipes", "coffee": "coffees",
          "grinder": "grinders", "experiment": "experiments"}  # fmt: skip


@dataclass(frozen=True)
class Restored:
    """What was put in place, where the files before it were set aside, and what of later date is missing, in words."""

    copy: Path
    made_at: datetime
    set_aside: Path | None
    missing: tuple[str, ...]
    passed_over: tuple[str, ...]


def restore(folder: Path, which: str | None = None) -> Restored:
    """Put the newest copy that is whole in place, or the one that is named by its file, its name or its day.

    The database that was there, and what SQLite keeps beside it, is set aside and not deleted.

    Raises
    ------
    InputError
        ``no-copy``, ``copy-damaged``, ``folder-in-use``; and as ``check_folder``.
    """
    if not folder.is_dir():
        raise InputError("no-data", f"There is no data folder {folder}.", "Say which folder with --data.")
    check_folder(folder, own_database=False)
    lock = FolderLock(folder)
    try:
        copy, passed_over = _choose(folder, which)
        made_at = datetime.fromtimestamp(copy.stat().st_mtime, UTC)
        part = folder / f"{DATABASE}.restoring"
        if shutil.disk_usage(folder).free < 2 * copy.stat().st_size:
            raise InputError("disk-full", f"There is no room for a copy of {copy.name}.", "Make room, then try again.")
        shutil.copyfile(copy, part)
        sqlite_files.sync(part)
        later = _later_rows(folder / DATABASE, made_at)
        aside = _set_aside(folder)
        part.replace(folder / DATABASE)
        sqlite_files.sync(folder)
    finally:
        lock.release()
    ws = Workspace(folder, measuring_processes=0)
    try:
        photos = sum(kind_of(ws.files.get(content_hash)) is not None for content_hash in orphans(ws))
    finally:
        ws.close()
    missing = list(later)
    if photos:
        missing.append(f"{photos} photos that no row knows are still in the folder: hakari doctor --fix --take-in has them "
                       "measured again")  # fmt: skip
    return Restored(copy, made_at, aside, tuple(missing), tuple(passed_over))


def _choose(folder: Path, which: str | None) -> tuple[Path, list[str]]:
    """Return the copy to be put in place, and the newer ones that are damaged."""
    copies = sorted((folder / BACKUPS).glob(COPIES), key=lambda p: p.stat().st_mtime, reverse=True)
    listed = ", ".join(p.name for p in copies[:5]) or "none"
    if which is not None:
        named = [p for p in copies if which in (p.name, p.stem, p.stem.removeprefix("hakari-"))]
        chosen = named[0] if named else Path(which)
        if not chosen.is_file():
            raise InputError("no-copy", f"There is no copy “{which}”.", f"The newest are: {listed}.", field="copy")
        trouble = _trouble(chosen)
        if trouble is not None:
            raise InputError(
                "copy-damaged", f"The copy {chosen} cannot be used: {trouble}.", f"The newest are: {listed}."
            )
        return chosen, []
    passed_over: list[str] = []
    for copy in copies:
        trouble = _trouble(copy)
        if trouble is None:
            return copy, passed_over
        passed_over.append(f"{copy.name}: {trouble}")
    raise InputError(
        "no-copy", f"There is no copy in {folder / BACKUPS} that can be used.",
        "Import a back-up that hakari export wrote into an empty folder, with hakari import.",
    )  # fmt: skip


def _trouble(copy: Path) -> str | None:
    try:
        revision = sqlite_files.look(copy, write=False)
    except sqlite3.Error as error:
        return "it is damaged" if sqlite_files.trouble_of(error) == "damaged" else str(error)
    if revision is None:
        return "it is empty"
    return None if revision in known_revisions() else "it was written by a newer Hakari"


def _later_rows(database: Path, made_at: datetime) -> list[str]:
    """Return what the database that is to be set aside holds of later date, as far as it can still be read."""
    if not database.exists():
        return []
    # From a copy: opening a damaged database would change its log.
    with tempfile.TemporaryDirectory(prefix=STAGING, dir=database.parent) as aside:
        for ending in ("", "-wal"):
            if (there := database.with_name(f"{database.name}{ending}")).exists():
                shutil.copyfile(there, Path(aside) / there.name)
        with closing(sqlite3.connect(Path(aside) / database.name)) as connection:
            later, unread = _count_later(connection, made_at)
    return [*later, *(["what else was made since cannot be read from the damaged database"] if unread else [])]


def _count_later(connection: sqlite3.Connection, made_at: datetime) -> tuple[list[str], bool]:
    """Return what was made later, by the tables that can be read, and whether some cannot."""
    later, unread = [], False
    for table, words in MISSED.items():
        since = f'SELECT count(*) FROM "{table}" WHERE created_at > ? AND deleted_at IS NULL'
        try:
            count = connection.execute(since, (made_at.strftime("%Y-%m-%d %H:%M:%S.%f"),)).fetchone()[0]
        except sqlite3.Error:
            unread = True
            continue
        if count:
            later.append(f"{count} {words}")
    return later, unread


def _set_aside(folder: Path) -> Path | None:
    """Move the database and what SQLite keeps beside it away; where to."""
    there = [folder / f"{DATABASE}{ending}" for ending in ("", *sqlite_files.ALONGSIDE)]
    if not any(path.exists() for path in there):
        return None
    aside = folder / SET_ASIDE / f"{datetime.now(UTC):%Y-%m-%d-%H%M%S-%f}"
    aside.mkdir(parents=True)
    for path in there:
        if path.exists():
            path.replace(aside / path.name)
    return aside
