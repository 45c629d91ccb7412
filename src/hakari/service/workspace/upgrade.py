"""Bringing a database up to date: with a copy from before, as a whole or not at all."""

from __future__ import annotations

import shutil
from pathlib import Path

from sqlalchemy import Engine
from sqlalchemy.orm import Session, sessionmaker

from hakari.core.errors import InputError
from hakari.service.workspace.folder import BACKUPS, DATABASE, RESTORE
from hakari.store import sqlite_files
from hakari.store.completing import complete
from hakari.store.database import is_shared, migrate, revision_of_database, shrink
from hakari.store.half_upgrades import HalfUpgradedError
from hakari.store.revisions import known_revisions

# The database, a copy of it, and the new tables before the old ones go.
ROOM = 3


def bring_up_to_date(engine: Engine, folder: Path, sessions: sessionmaker[Session]) -> None:
    """Bring a database's schema up to date, after keeping a copy of it, and fill what its rows lack.

    A shared database is copied by its own tools.

    Raises
    ------
    InputError
        ``disk-full``, ``database-unfit``.
    """
    revision = revision_of_database(engine)
    if revision != known_revisions()[0]:
        if revision is not None and not is_shared(engine):
            _keep_copy(folder, revision)
        try:
            migrate(engine)
        except HalfUpgradedError as error:
            raise InputError(
                "database-unfit", f"The database {folder / DATABASE} fits no version of Hakari: {error}.",
                RESTORE.format(folder=folder),
            ) from error  # fmt: skip
        shrink(engine)
    with sessions.begin() as session:
        complete(session)


def copy_before(revision: str) -> str:
    """Return the name of the copy that is kept of a database before it is brought up from a revision."""
    return f"hakari-before-{known_revisions()[0]}-from-{revision}.sqlite3"


def _keep_copy(folder: Path, revision: str) -> None:
    database, backups = folder / DATABASE, folder / BACKUPS
    if shutil.disk_usage(folder).free < ROOM * database.stat().st_size:
        raise InputError(
            "disk-full", f"The database {database} is from an older Hakari, and there is no room to bring it up to date.",
            f"Make room for {ROOM} times its size, then start again; nothing was changed.",
        )  # fmt: skip
    backups.mkdir(exist_ok=True)
    sqlite_files.copy(database, backups / copy_before(revision))
