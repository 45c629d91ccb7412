"""Where a command finds the work: the data folder, and what is shared in place of it."""

from __future__ import annotations

import argparse
import os

from hakari.service.workspace.shared import Shared

# A password in the environment is not shown by the list of processes.
DATABASE_VARIABLE, FILES_VARIABLE = "HAKARI_DATABASE", "HAKARI_FILES"


def shared_of(a: argparse.Namespace) -> Shared:
    """Return the shared database and files of a command: as typed, or as the environment says."""
    return Shared(
        a.database or os.environ.get(DATABASE_VARIABLE) or None, a.files or os.environ.get(FILES_VARIABLE) or None
    )
