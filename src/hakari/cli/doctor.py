"""Examine a data folder: ``hakari doctor``."""

from __future__ import annotations

import argparse

from hakari.cli.storage import shared_of
from hakari.service.backups.doctor import examine


def run(a: argparse.Namespace) -> int:
    """Say what is wrong with a data folder; with ``--fix`` repair what can be repaired."""
    troubles = examine(a.data, a.fix, shared_of(a), a.take_in)
    for trouble in troubles:
        print(f"repaired: {trouble.words}" if trouble.repaired else trouble.words)
    if not troubles:
        print("nothing wrong found")
    elif not a.fix and any("belong to no row" in t.words or "half-written" in t.words for t in troubles):
        print("hakari doctor --fix repairs what can be repaired without losing anything")
    return 3 if any(not t.repaired for t in troubles) else 0
