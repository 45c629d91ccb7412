"""Judge a cup: ``hakari advise``."""

from __future__ import annotations

import argparse
import json

from hakari.cli.files import read_document
from hakari.core.advice.advise import advise
from hakari.formats.advice import AdviceDocument
from hakari.formats.slip import Compared, SlipDocument

TASTES: dict[Compared, str] = {"better": "better than", "worse": "worse than", "alike": "no better and no worse than"}


def run(a: argparse.Namespace) -> int:
    """Say what to change next."""
    answer = AdviceDocument.of(advise(read_document(a.file, SlipDocument).case()))
    if a.json:
        print(json.dumps(answer.dump(), ensure_ascii=False))
        return 0
    first = answer.moves[0]
    print(f"{first.words[0].upper()}{first.words[1:]}" + (f": {first.start} to {first.end}" if first.end else ""))
    print(f"bare bed {first.before.drawdown_s:.0f} to {first.after.drawdown_s:.0f} s, "
          f"strength {first.before.tds_percent:.2f} to {first.after.tds_percent:.2f} %, "
          f"extraction {first.before.ey_percent:.1f} to {first.after.ey_percent:.1f} %")  # fmt: skip
    print(first.reason)
    if answer.since and len(answer.since.changed) > 1:
        since = answer.since
        told = f" This cup tastes {TASTES[since.compared]} {since.slip}." if since.compared else ""
        print(f"{len(since.changed)} things changed since {since.slip} ({', '.join(since.changed)}): "
              f"which of them did it cannot be told.{told}")  # fmt: skip
    return 0
