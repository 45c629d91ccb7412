"""What is wrong with an installation, and how to repair it."""

from __future__ import annotations

import hashlib
import shutil
from dataclasses import dataclass
from pathlib import Path

from hakari.core.errors import InputError
from hakari.service.backups.housekeeping import orphans, referred_files
from hakari.service.workspace.folder import DATABASE, known_revisions, revision_of
from hakari.service.workspace.transaction import Workspace

LEAST_FREE_BYTES = 500 * 2**20


@dataclass(frozen=True)
class Trouble:
    """One thing that is wrong, with its remedy; ``repaired`` says that it was."""

    words: str
    repaired: bool = False


def examine(folder: Path, fix: bool = False) -> list[Trouble]:
    """Look at a data folder and the built page; with ``fix`` what can be repaired without losing anything is.

    Repaired are an old schema, files that nothing refers to, what was left half-written, and damaged files, which are put
    aside under ``rotten``.
    """
    troubles = []
    if not (Path(__file__).parents[2] / "web" / "static" / "index.html").exists():
        troubles.append(Trouble("The page has not been built. Run `make setup` in the project's folder."))
    if not folder.exists():
        return [*troubles, Trouble(f"The data folder {folder} does not exist yet. It is made by `hakari serve`.")]
    if shutil.disk_usage(folder).free < LEAST_FREE_BYTES:
        troubles.append(
            Trouble("Less than 500 MB are free where the data lie. Make room before measuring more photos.")
        )
    try:
        troubles += _inside(folder, fix)
    except InputError as error:
        troubles.append(Trouble(f"{error.message} {error.remedy}"))
    return troubles


def _inside(folder: Path, fix: bool) -> list[Trouble]:
    if not (folder / DATABASE).exists() and not (folder / "files").exists():
        return []
    troubles = []
    if (folder / DATABASE).exists() and revision_of(folder / DATABASE) != known_revisions()[0]:
        troubles.append(Trouble("The database is from an older Hakari; opening it brings it up to date.", repaired=fix))
        if not fix:
            return troubles
    ws = Workspace(folder, measuring_processes=0)
    try:
        return troubles + _missing_and_damaged(ws, fix) + _left_over(ws, fix)
    finally:
        ws.close()


def _missing_and_damaged(ws: Workspace, fix: bool) -> list[Trouble]:
    troubles = []
    with ws.transaction() as session:
        referred = referred_files(session)
    for content_hash in sorted(referred):
        if not ws.files.has(content_hash):
            troubles.append(Trouble(f"The file {content_hash[:12]}… is missing. Put it back from a back-up."))
    for content_hash in sorted(ws.files.hashes()):
        if hashlib.sha256(ws.files.get(content_hash)).hexdigest() != content_hash:
            if fix:
                aside = ws.folder / "rotten"
                aside.mkdir(exist_ok=True)
                ws.files.path(content_hash).replace(aside / content_hash)
            words = f"The file {content_hash[:12]}… is not what it was. Put it back from a back-up."
            troubles.append(Trouble(words, repaired=fix))
    return troubles


def _left_over(ws: Workspace, fix: bool) -> list[Trouble]:
    troubles = []
    alone, parts = orphans(ws), list(ws.files.folder.glob("*/.part-*"))
    if alone:
        troubles.append(Trouble(f"{len(alone)} files belong to nothing any more.", repaired=fix))
    if parts:
        troubles.append(Trouble(f"{len(parts)} files were left half-written.", repaired=fix))
    if fix:
        for path in [*(ws.files.path(h) for h in alone), *parts]:
            path.unlink(missing_ok=True)
    return troubles
