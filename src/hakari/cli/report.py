"""A batch as a page: ``hakari report``."""

from __future__ import annotations

import argparse
import sys
from datetime import datetime

from hakari.service.batches.report import write_report


def run(a: argparse.Namespace) -> int:
    """Write control charts of a batch's results."""
    groups = write_report(a.file, a.output, datetime.now())
    changed = sum(g.changed for g in groups)
    print(f"{len(groups)} grinders and settings, {changed} of them changed; {a.output}", file=sys.stderr)
    return 0
