"""What is wrong with an installation, and how to repair it."""

from __future__ import annotations

import hashlib
import shutil
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

from hakari.core.errors import InputError
from hakari.service.backups import found
from hakari.service.backups.housekeeping import orphans, referred_files
from hakari.service.workspace.folder import DATABASE, check_database
from hakari.service.workspace.shared import ALONE, Shared, open_database
from hakari.service.workspace.transaction import Workspace
from hakari.store.database import revision_of_database
from hakari.store.files import YOUNG, FolderStore
from hakari.store.revisions import known_revisions

LEAST_FREE_BYTES = 500 * 2**20


@dataclass(frozen=True)
class Trouble:
    """One thing that is wrong, with its remedy; ``repaired`` says that it was."""

    words: str
    repaired: bool = False


def examine(folder: Path, fix: bool = False, shared: Shared = ALONE, take_in: bool = False) -> list[Trouble]:
    """Look at a data folder, what is shared in place of it, and the built page.

    With ``fix`` what can be repaired without losing anything is: an old schema, files that no row knows, which are set aside
    in ``found``, what was left half-written, and damaged files, which are set aside in ``rotten``. No photo is deleted. With
    ``take_in`` the photos in ``found`` are ordered to be measured when a server next runs.
    """
    troubles = []
    if not (Path(__file__).parents[2] / "web" / "static" / "index.html").exists():
        troubles.append(Trouble("The page has not been built. Run `make setup` in the project's folder."))
    if not folder.exists() and shared.database is None:
        return [*troubles, Trouble(f"The data folder {folder} does not exist yet. It is made by `hakari serve`.")]
    if folder.exists() and shutil.disk_usage(folder).free < LEAST_FREE_BYTES:
        troubles.append(
            Trouble("Less than 500 MB are free where the data lie. Make room before measuring more photos.")
        )
    try:
        troubles += _inside(folder, fix, shared, take_in)
    except InputError as error:
        troubles.append(Trouble(f"{error.message} {error.remedy}{_of_the_database(folder, error, shared)}"))
    return troubles


def _of_the_database(folder: Path, error: InputError, shared: Shared) -> str:
    """Return what is known of a database whose disk is the trouble."""
    if error.code not in ("disk-read-only", "disk-full") or shared.database is not None:
        return ""
    try:
        check_database(folder, own_files=shared.files is None, write=False)
    except InputError as damage:
        return f" {damage.message} {damage.remedy}" if damage.code not in ("disk-read-only", "disk-full") else ""
    return " The database itself is whole."


def _inside(folder: Path, fix: bool, shared: Shared, take_in: bool) -> list[Trouble]:
    if shared.database is None and not (folder / DATABASE).exists() and not (folder / "files").exists():
        return []
    troubles = []
    if _is_old(folder, shared):
        troubles.append(Trouble("The database is from an older Hakari; opening it brings it up to date.", repaired=fix))
        if not fix:
            return troubles
    ws = Workspace(folder, measuring_processes=0, shared=shared)
    try:
        troubles += _missing_and_damaged(ws, fix) + _left_over(ws, fix)
        if take_in and (count := found.take_in(ws)):
            troubles.append(Trouble(f"{count} photos of found will be measured when a server runs.", repaired=True))
        return troubles
    finally:
        ws.close()


def _is_old(folder: Path, shared: Shared) -> bool:
    if shared.database is not None:
        engine = open_database(shared.database)
        revision = revision_of_database(engine)
        engine.dispose()
        return revision != known_revisions()[0]
    return (folder / DATABASE).exists() and check_database(folder, shared.files is None) != known_revisions()[0]


def _missing_and_damaged(ws: Workspace, fix: bool) -> list[Trouble]:
    troubles = []
    with ws.transaction() as session:
        referred = referred_files(session)
    kept = set(ws.files.hashes())
    for content_hash in sorted(referred - kept):
        troubles.append(Trouble(f"The file {content_hash[:12]}… is missing. Put it back from a back-up."))
    for content_hash in sorted(kept):
        data = ws.files.get(content_hash)
        if hashlib.sha256(data).hexdigest() != content_hash:
            if fix:
                aside = ws.folder / "rotten"
                aside.mkdir(exist_ok=True)
                (aside / content_hash).write_bytes(data)
                ws.files.delete(content_hash)
            words = f"The file {content_hash[:12]}… is not what it was. Put it back from a back-up."
            troubles.append(Trouble(words, repaired=fix))
    return troubles


def _left_over(ws: Workspace, fix: bool) -> list[Trouble]:
    troubles = []
    # Nobody else is in a folder's own database while it is examined.
    alone = orphans(ws, datetime.now(UTC) - YOUNG if ws.shared else None)
    parts = ws.files.left_half_written() if isinstance(ws.files, FolderStore) and not ws.shared else []
    if alone:
        place = f"; they are in {found.set_aside(ws, alone)}" if fix else ""
        troubles.append(Trouble(f"{len(alone)} files belong to no row{place}.", repaired=fix))
    if parts:
        troubles.append(Trouble(f"{len(parts)} files were left half-written.", repaired=fix))
    if fix:
        for path in parts:
            path.unlink(missing_ok=True)
    return troubles
