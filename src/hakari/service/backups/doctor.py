"""What is wrong with an installation, and how to repair it."""

from __future__ import annotations

import hashlib
import shutil
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

from hakari.core.errors import InputError
from hakari.service.backups.housekeeping import orphans, referred_files
from hakari.service.workspace.folder import DATABASE, revision_of
from hakari.service.workspace.shared import ALONE, Shared, open_database
from hakari.service.workspace.transaction import Workspace
from hakari.store.database import known_revisions, revision_of_database
from hakari.store.files import YOUNG, FolderStore

LEAST_FREE_BYTES = 500 * 2**20


@dataclass(frozen=True)
class Trouble:
    """One thing that is wrong, with its remedy; ``repaired`` says that it was."""

    words: str
    repaired: bool = False


def examine(folder: Path, fix: bool = False, shared: Shared = ALONE) -> list[Trouble]:
    """Look at a data folder, what is shared in place of it, and the built page.

    With ``fix`` what can be repaired without losing anything is: an old schema, files that nothing refers to, what was left
    half-written, and damaged files, which are put aside under ``rotten``.
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
        troubles += _inside(folder, fix, shared)
    except InputError as error:
        troubles.append(Trouble(f"{error.message} {error.remedy}"))
    return troubles


def _inside(folder: Path, fix: bool, shared: Shared) -> list[Trouble]:
    if shared.database is None and not (folder / DATABASE).exists() and not (folder / "files").exists():
        return []
    troubles = []
    if _is_old(folder, shared):
        troubles.append(Trouble("The database is from an older Hakari; opening it brings it up to date.", repaired=fix))
        if not fix:
            return troubles
    ws = Workspace(folder, measuring_processes=0, shared=shared)
    try:
        return troubles + _missing_and_damaged(ws, fix) + _left_over(ws, fix)
    finally:
        ws.close()


def _is_old(folder: Path, shared: Shared) -> bool:
    if shared.database is not None:
        engine = open_database(shared.database)
        revision = revision_of_database(engine)
        engine.dispose()
        return revision != known_revisions()[0]
    return (folder / DATABASE).exists() and revision_of(folder / DATABASE) != known_revisions()[0]


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
        troubles.append(Trouble(f"{len(alone)} files belong to nothing any more.", repaired=fix))
    if parts:
        troubles.append(Trouble(f"{len(parts)} files were left half-written.", repaired=fix))
    if fix:
        for content_hash in alone:
            ws.files.delete(content_hash)
        for path in parts:
            path.unlink(missing_ok=True)
    return troubles
