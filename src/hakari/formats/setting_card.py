"""The setting card as a page to print, a picture and a table: one layout, drawn twice."""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass
from pathlib import Path
from typing import NamedTuple

import reportlab
from PIL import Image, ImageDraw, ImageFont
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

WIDTH_MM, HEIGHT_MM, MARGIN_MM = 297.0, 210.0, 16.0
METHOD_MM, HEAD_MM, TOP_MM = 78.0, 14.0, 40.0
PX_PER_MM = 8.0
INK, FAINT, RULE, PERSIMMON = (40, 46, 92), (104, 106, 118), (198, 194, 184), (176, 62, 26)
FONTS = {False: "Vera.ttf", True: "VeraBd.ttf"}
MM_PER_POINT = 25.4 / 72
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


class _Words(NamedTuple):
    """Words at a place in mm from the top left; ``size`` in points."""

    x: float
    y: float
    size: float
    text: str
    bold: bool = False
    colour: tuple[int, int, int] = INK
    middle: bool = False


class _Rule(NamedTuple):
    """A horizontal line."""

    x0: float
    x1: float
    y: float
    colour: tuple[int, int, int]


def _layout(card: SettingCard) -> list[_Words | _Rule]:
    for bold in (False, True):
        pdfmetrics.registerFont(TTFont(FONTS[bold], _font_file(bold)))
    right = WIDTH_MM - MARGIN_MM
    column = (right - MARGIN_MM - METHOD_MM) / len(card.grinders)
    row = min(16.0, (HEIGHT_MM - TOP_MM - HEAD_MM - 18) / len(card.rows))
    small = min(9.0, 1.9 * row * 0.42, column * 0.30)
    large = min(17.0, row * 1.35, column * 0.55)
    said = f"made {card.made_on} from measured curves; the middle of each window, and its ends"
    drawn: list[_Words | _Rule] = [
        _Words(MARGIN_MM, 22, 20, "Settings", True),
        _Words(MARGIN_MM, 29, 9, said, colour=FAINT),
        _Rule(MARGIN_MM, right, TOP_MM + HEAD_MM - 4, INK),
    ]
    middles = [MARGIN_MM + METHOD_MM + (k + 0.5) * column for k in range(len(card.grinders))]
    for x, name in zip(middles, card.grinders, strict=True):
        drawn.append(_Words(x, TOP_MM + 6, min(12.0, column * 0.4), name, True, INK, True))
    y = TOP_MM + HEAD_MM
    for method, window, looks, cells in card.rows:
        base, below = y + 0.42 * row, y + 0.75 * row
        drawn.append(_Words(MARGIN_MM, base, min(11.0, small * 1.3), method, True))
        drawn.append(_Words(MARGIN_MM, below, small, f"{window}, like {looks}", colour=FAINT))
        for x, cell in zip(middles, cells, strict=True):
            if cell.setting is None:
                drawn.append(_Words(x, y + 0.52 * row, small, cell.sure, colour=FAINT, middle=True))
                continue
            drawn.append(_Words(x, base, _fitting(large, cell.setting, column), cell.setting, True, PERSIMMON, True))
            ends = f"{cell.fine} to {cell.coarse}; {cell.sure}"
            drawn.append(_Words(x, below, _fitting(small, ends, column), ends, colour=FAINT, middle=True))
        y += row
        drawn.append(_Rule(MARGIN_MM, right, y - 0.08 * row, RULE))
    drawn.append(_Words(MARGIN_MM, HEIGHT_MM - 9, 7.5, FOOT, colour=FAINT))
    return drawn


def _fitting(size: float, text: str, column_mm: float) -> float:
    """The size in points, or less where the words would run out of their column."""
    wide_mm = float(pdfmetrics.stringWidth(text, FONTS[True], size)) * MM_PER_POINT
    return size * min(1.0, 0.98 * column_mm / max(wide_mm, 1e-6))


def _font_file(bold: bool) -> str:
    return str(Path(reportlab.__file__).parent / "fonts" / FONTS[bold])


def card_pdf(card: SettingCard) -> bytes:
    """One A4 page, lying."""
    out = io.BytesIO()
    page = Canvas(out, pagesize=(WIDTH_MM * mm, HEIGHT_MM * mm))
    page.setTitle("Hakari setting card")
    for item in _layout(card):
        colour = tuple(c / 255 for c in item.colour)
        if isinstance(item, _Rule):
            page.setStrokeColorRGB(*colour)
            page.setLineWidth(0.7)
            page.line(item.x0 * mm, (HEIGHT_MM - item.y) * mm, item.x1 * mm, (HEIGHT_MM - item.y) * mm)
            continue
        page.setFillColorRGB(*colour)
        page.setFont(FONTS[item.bold], item.size)
        draw = page.drawCentredString if item.middle else page.drawString
        draw(item.x * mm, (HEIGHT_MM - item.y) * mm, item.text)
    page.showPage()
    page.save()
    return out.getvalue()


def card_png(card: SettingCard) -> bytes:
    """The same page as a picture."""
    image = Image.new("RGB", (round(WIDTH_MM * PX_PER_MM), round(HEIGHT_MM * PX_PER_MM)), (255, 254, 250))
    draw = ImageDraw.Draw(image)
    for item in _layout(card):
        if isinstance(item, _Rule):
            draw.line(
                (item.x0 * PX_PER_MM, item.y * PX_PER_MM, item.x1 * PX_PER_MM, item.y * PX_PER_MM), item.colour, 2
            )
            continue
        font = ImageFont.truetype(_font_file(item.bold), item.size * MM_PER_POINT * PX_PER_MM)
        anchor = "ms" if item.middle else "ls"
        draw.text((item.x * PX_PER_MM, item.y * PX_PER_MM), item.text, item.colour, font, anchor)
    out = io.BytesIO()
    image.save(out, "PNG", dpi=(PX_PER_MM * 25.4, PX_PER_MM * 25.4))
    return out.getvalue()


def card_csv(card: SettingCard) -> bytes:
    """One line for each method and grinder."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    columns = ("method", "window", "looks_like", "grinder", "setting", "finest", "coarsest", "uncertainty", "made_on")
    writer.writerow(columns)
    for method, window, looks, cells in card.rows:
        for name, c in zip(card.grinders, cells, strict=True):
            ends = (c.setting or "", c.fine or "", c.coarse or "")
            writer.writerow((method, window, looks, name, *ends, c.sure, card.made_on))
    return out.getvalue().encode()
