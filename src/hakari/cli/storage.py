"""Where a command finds the work: the data folder, and what is shared in place of it."""

from __future__ import annotations

import argparse
import os

from hakari.service.workspace.shared import Shared

# A password in the environment is not shown by the list of processes.
DATABASE_VARIABLE, FILES_VARIABLE = "HAKARI_DATABASE", "HAKARI_FILES"


def shared_of(a: argparse.Namespace) -> Shared:
    """Return the shared database and files of a command: as typed, or as the environment says.

    The demo goes nowhere that was not typed for it: its made-up work must not get among real work.
    """
    said = {} if a.command == "demo" else os.environ
    return Shared(a.database or said.get(DATABASE_VARIABLE) or None, a.files or said.get(FILES_VARIABLE) or None)
