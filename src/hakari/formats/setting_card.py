"""The setting card as a page to print, a picture and a table: one layout, drawn twice."""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass
from typing import NamedTuple

from hakari.formats.base import safe_cell
from hakari.formats.page import FAINT, INK, PERSIMMON, RULE, Item, Words, fitting, page_pdf, page_png, rule

WIDTH_MM, HEIGHT_MM, MARGIN_MM = 297.0, 210.0, 16.0
METHOD_MM, HEAD_MM, TOP_MM = 78.0, 14.0, 40.0
FOOT = (
    "Starting points, made from each grinder's own measured curve; taste decides. "
    "After a cleaning, new burrs or a move, measure one setting again."
)


class Cell(NamedTuple):
    """The setting for a window's middle, for its ends, and how sure the middle is, in words."""

    setting: str | None
    fine: str | None
    coarse: str | None
    sure: str


@dataclass(frozen=True)
class SettingCard:
    """Methods by grinders: rows of method, window, looks and one cell for each grinder."""

    made_on: str
    grinders: tuple[str, ...]
    rows: tuple[tuple[str, str, str, tuple[Cell, ...]], ...]
    all_methods: tuple[str, ...]


def _layout(card: SettingCard) -> list[Item]:
    right = WIDTH_MM - MARGIN_MM
    column = (right - MARGIN_MM - METHOD_MM) / len(card.grinders)
    row = min(16.0, (HEIGHT_MM - TOP_MM - HEAD_MM - 18) / len(card.rows))
    small = min(9.0, 1.9 * row * 0.42, column * 0.30)
    large = min(17.0, row * 1.35, column * 0.55)
    said = f"made {card.made_on} from measured curves; the middle of each window, and its ends"
    drawn: list[Item] = [
        Words(MARGIN_MM, 22, 20, "Settings", True),
        Words(MARGIN_MM, 29, 9, said, colour=FAINT),
        rule(MARGIN_MM, right, TOP_MM + HEAD_MM - 4, INK),
    ]
    middles = [MARGIN_MM + METHOD_MM + (k + 0.5) * column for k in range(len(card.grinders))]
    for x, name in zip(middles, card.grinders, strict=True):
        drawn.append(Words(x, TOP_MM + 6, min(12.0, column * 0.4), name, True, INK, "m"))
    y = TOP_MM + HEAD_MM
    for method, window, looks, cells in card.rows:
        base, below = y + 0.42 * row, y + 0.75 * row
        drawn.append(Words(MARGIN_MM, base, min(11.0, small * 1.3), method, True))
        drawn.append(Words(MARGIN_MM, below, small, f"{window}, like {looks}", colour=FAINT))
        for x, cell in zip(middles, cells, strict=True):
            if cell.setting is None:
                drawn.append(Words(x, y + 0.52 * row, small, cell.sure, colour=FAINT, align="m"))
                continue
            drawn.append(Words(x, base, fitting(large, cell.setting, column), cell.setting, True, PERSIMMON, "m"))
            ends = f"{cell.fine} to {cell.coarse}; {cell.sure}"
            drawn.append(Words(x, below, fitting(small, ends, column), ends, colour=FAINT, align="m"))
        y += row
        drawn.append(rule(MARGIN_MM, right, y - 0.08 * row, RULE))
    drawn.append(Words(MARGIN_MM, HEIGHT_MM - 9, 7.5, FOOT, colour=FAINT))
    return drawn


def card_pdf(card: SettingCard) -> bytes:
    """One A4 page, lying."""
    return page_pdf(_layout(card), WIDTH_MM, HEIGHT_MM, "Hakari setting card")


def card_png(card: SettingCard) -> bytes:
    """Return the same page as a picture."""
    return page_png(_layout(card), WIDTH_MM, HEIGHT_MM)


def card_csv(card: SettingCard) -> bytes:
    """One line for each method and grinder."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    columns = ("method", "window", "looks_like", "grinder", "setting", "finest", "coarsest", "uncertainty", "made_on")
    writer.writerow(columns)
    for method, window, looks, cells in card.rows:
        for name, c in zip(card.grinders, cells, strict=True):
            ends = (c.setting or "", c.fine or "", c.coarse or "")
            cells_of_row = (method, window, looks, name, *ends, c.sure, card.made_on)
            writer.writerow([safe_cell(text) for text in cells_of_row])
    return out.getvalue().encode()
