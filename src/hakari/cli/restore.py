"""Put a copy of the database in place: ``hakari restore``."""

from __future__ import annotations

import argparse
import sys

from hakari.service.backups.restoring import restore


def run(a: argparse.Namespace) -> int:
    """Put the newest or the named copy in place, and say what of later date is missing."""
    restored = restore(a.data, a.copy)
    for words in restored.passed_over:
        print(f"passed over {words}", file=sys.stderr)
    print(f"restored {restored.copy.name}, made {restored.made_at.astimezone():%Y-%m-%d %H:%M}")
    if restored.set_aside is not None:
        print(f"the database that was there is in {restored.set_aside}")
    print("missing, of later date:" if restored.missing else "nothing of later date was found")
    for words in restored.missing:
        print(f"  {words}")
    return 0
