"""What is wrong with an installation, and how to mend it."""

from __future__ import annotations

import os
import shutil
import sqlite3
from pathlib import Path

LEAST_FREE_BYTES = 500 * 2**20


def examine(folder: Path) -> list[str]:
    """Look at a data folder and the built front end; one line a trouble, with its remedy; none when all is well."""
    troubles = []
    front_end = Path(__file__).parents[2] / "web" / "static" / "index.html"
    if not front_end.exists():
        troubles.append("The page has not been built. Run `make setup` in the project's folder.")
    if not folder.exists():
        troubles.append(f"The data folder {folder} does not exist yet. It is made by `hakari serve` or `hakari demo`.")
        return troubles
    if not os.access(folder, os.W_OK):
        troubles.append(f"The data folder {folder} cannot be written. Change its owner or choose another with --data.")
    if shutil.disk_usage(folder).free < LEAST_FREE_BYTES:
        troubles.append("Less than 500 MB are free where the data lie. Make room before measuring more photos.")
    database = folder / "hakari.sqlite3"
    if database.exists() and not _whole(database):
        troubles.append("The database is damaged. Stop the server and put back your last copy of the data folder.")
    return troubles


def _whole(database: Path) -> bool:
    """Whether SQLite finds its file in order."""
    try:
        with sqlite3.connect(f"file:{database}?mode=ro", uri=True) as connection:
            return bool(connection.execute("PRAGMA quick_check").fetchone()[0] == "ok")
    except sqlite3.DatabaseError:
        return False
