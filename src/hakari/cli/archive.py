"""Write and read back-ups: ``hakari export`` and ``hakari import``."""

from __future__ import annotations

import argparse
import sys

from hakari.cli.files import writing
from hakari.cli.storage import shared_of
from hakari.core.errors import InputError
from hakari.service.backups.archive import export_workspace
from hakari.service.backups.importing import import_workspace
from hakari.service.workspace.folder import DATABASE
from hakari.service.workspace.transaction import Workspace


def run(a: argparse.Namespace) -> int:
    """Write everything into one ZIP, or add what one holds."""
    return _export(a) if a.command == "export" else _import(a)


def _progress(done: int, of: int) -> None:
    if sys.stderr.isatty():
        print(f"\r{done} of {of} files", end="" if done < of else "\n", file=sys.stderr, flush=True)


def _export(a: argparse.Namespace) -> int:
    shared = shared_of(a)
    if shared.database is None and not (a.data / DATABASE).exists():
        raise InputError("no-data", f"There is nothing in {a.data}.", "Say which folder with --data.")
    # A running server keeps the folder; reading beside it is safe.
    ws = Workspace(a.data, measuring_processes=0, lock=False, shared=shared)
    try:
        with writing(a.output) as file:
            contents = export_workspace(ws, file, _progress)
    finally:
        ws.close()
    print(f"wrote {a.output}, and read it back", file=sys.stderr)
    if contents.missing:
        print(f"{len(contents.missing)} files were missing already; hakari doctor names them", file=sys.stderr)
    return 0


def _import(a: argparse.Namespace) -> int:
    try:
        file = a.file.open("rb")
    except OSError as error:
        raise InputError("file-unreadable", f"{a.file} cannot be read: {error.strerror}.", "Check its name.") from error
    ws = Workspace(a.data, measuring_processes=0, shared=shared_of(a))
    try:
        with file:
            brought = import_workspace(ws, file, _progress, a.existing)
    finally:
        ws.close()
    print(
        f"{brought.rows} rows and {brought.files} files added, {brought.known} rows were there already", file=sys.stderr
    )
    if brought.changed or brought.deleted:
        now = (
            "are now as in the back-up"
            if brought.replaced
            else "stayed as they were here (--existing replace takes them)"
        )
        print(
            f"of those, {brought.changed} differ here and {brought.deleted} were deleted here; they {now}",
            file=sys.stderr,
        )
    return 0
