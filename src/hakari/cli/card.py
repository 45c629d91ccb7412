"""Draw the card: ``hakari card``."""

from __future__ import annotations

import argparse
import sys

from hakari.cli.files import write
from hakari.core.errors import InputError
from hakari.core.photo.card import card_of
from hakari.formats import card_drawing
from hakari.formats.measurement import CardDocument


def run(a: argparse.Namespace) -> int:
    """Write or describe the printable card."""
    if a.describe:
        print(CardDocument.of(card_of(a.paper)).model_dump_json())
    if a.output is not None:
        write(a.output, _drawn(a.paper, a.format, a.dpi, a.sheet))
        print(f"wrote {a.output}", file=sys.stderr)
    if not a.describe and a.output is None:
        raise InputError("no-output", "Nothing was asked for.", "Give -o FILE, or --describe.")
    return 0


def _drawn(paper: str, form: str, dpi: int, sheet: str | None) -> bytes:
    card = card_of(paper)
    if sheet is not None and form != "pdf":
        raise InputError("sheet-needs-pdf", "A printer's sheet is drawn as PDF only.", "Use --format pdf.", "format")
    if form == "pdf":
        return card_drawing.pdf(card, sheet)
    return card_drawing.svg(card) if form == "svg" else card_drawing.png(card, dpi)
