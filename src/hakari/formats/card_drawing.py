"""The card as PDF, SVG and PNG, and as a printer's sheet with cut marks."""

from __future__ import annotations

import io

import numpy as np
from PIL import Image, ImageDraw, ImageFont
from reportlab.lib.pagesizes import A4, letter
from reportlab.pdfgen.canvas import Canvas

from hakari.core.errors import InputError
from hakari.core.photo.card import CHECK_BAR_MM, Card, ink

_POINTS_PER_MM = 72.0 / 25.4
_SHEETS = {"a4": A4, "letter": letter}


def _caption(card: Card) -> tuple[float, float, float, str]:
    """Place (middle x, baseline y), size in mm and words of the caption over the check bar."""
    bar = card.check_bar
    words = f"hakari {card.paper} · this bar is {CHECK_BAR_MM:.0f} mm · grounds inside the frame only"
    return card.width_mm / 2, bar.y - 0.9, 1.5, words


def svg(card: Card) -> bytes:
    """Return the card as SVG, in mm."""
    shapes = "".join(
        f'<rect x="{r.x:.4f}" y="{r.y:.4f}" width="{r.width:.4f}" height="{r.height:.4f}"/>' for r in ink(card)
    )
    x, y, size, words = _caption(card)
    text = f'<text x="{x}" y="{y}" font-size="{size}" text-anchor="middle" font-family="sans-serif">{words}</text>'
    w, h = card.width_mm, card.height_mm
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{w}mm" height="{h}mm" viewBox="0 0 {w} {h}" '
        f'shape-rendering="crispEdges"><rect width="{w}" height="{h}" fill="#fff"/>{shapes}{text}</svg>\n'
    ).encode()


def png(card: Card, dpi: int) -> bytes:
    """Return the whole card, edge to edge, as a greyscale PNG."""
    if not 72 <= dpi <= 2400:
        raise InputError("dpi-out-of-range", f"{dpi} dots per inch is not drawn.", "Use 72 to 2400.", field="dpi")
    out = io.BytesIO()
    Image.fromarray(raster(card, dpi / 25.4)).save(out, "PNG", dpi=(dpi, dpi))
    return out.getvalue()


def raster(card: Card, px_per_mm: float) -> np.ndarray[tuple[int, int], np.dtype[np.uint8]]:
    """Return the card as pixels: 0 ink, 255 paper; each ink edge is at the nearest pixel."""
    size = (round(card.width_mm * px_per_mm), round(card.height_mm * px_per_mm))
    image = Image.new("L", size, 255)
    draw = ImageDraw.Draw(image)
    for r in ink(card):
        x0, y0 = round(r.x * px_per_mm), round(r.y * px_per_mm)
        x1, y1 = round((r.x + r.width) * px_per_mm), round((r.y + r.height) * px_per_mm)
        draw.rectangle((x0, y0, max(x0, x1 - 1), max(y0, y1 - 1)), fill=0)
    x, y, height, words = _caption(card)
    font = ImageFont.load_default(max(6.0, height * px_per_mm))
    draw.text((x * px_per_mm, y * px_per_mm), words, fill=0, font=font, anchor="ms")
    return np.asarray(image)


def pdf(card: Card, sheet: str | None = None) -> bytes:
    """One card on a page of its own size, or as many as fit on a printer's sheet with cut marks."""
    out = io.BytesIO()
    width, height = card.width_mm * _POINTS_PER_MM, card.height_mm * _POINTS_PER_MM
    if sheet is None:
        canvas = Canvas(out, pagesize=(width, height), invariant=1)
        _draw_pdf(canvas, card, 0, 0)
    else:
        if sheet not in _SHEETS:
            raise InputError("unknown-sheet", f"There is no sheet “{sheet}”.", "Use a4 or letter.", field="sheet")
        page = _SHEETS[sheet]
        if width > page[0] - 20 and width <= page[1] - 20:
            page = (page[1], page[0])
        canvas = Canvas(out, pagesize=page, invariant=1)
        gap = 6 * _POINTS_PER_MM
        columns = max(1, int((page[0] - 2 * gap) // (width + gap)))
        rows = max(1, int((page[1] - 2 * gap) // (height + gap)))
        left = (page[0] - columns * width - (columns - 1) * gap) / 2
        top = (page[1] - rows * height - (rows - 1) * gap) / 2
        for i in range(rows * columns):
            x, y = left + (i % columns) * (width + gap), top + (i // columns) * (height + gap)
            _draw_pdf(canvas, card, x, y)
            _cut_marks(canvas, x, y, width, height)
    canvas.setTitle(f"Hakari card, {card.paper}")
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def _draw_pdf(canvas: Canvas, card: Card, x0: float, y0: float) -> None:
    k = _POINTS_PER_MM
    for r in ink(card):
        canvas.rect(x0 + r.x * k, y0 + (card.height_mm - r.y - r.height) * k, r.width * k, r.height * k, 0, 1)
    x, y, size, words = _caption(card)
    canvas.setFont("Helvetica", size * k)
    canvas.drawCentredString(x0 + x * k, y0 + (card.height_mm - y) * k, words)


def _cut_marks(canvas: Canvas, x: float, y: float, width: float, height: float) -> None:
    canvas.setLineWidth(0.3)
    mark = 2 * _POINTS_PER_MM
    off = 0.7 * _POINTS_PER_MM
    for cx, sx in ((x, -1), (x + width, 1)):
        for cy, sy in ((y, -1), (y + height, 1)):
            canvas.line(cx + sx * off, cy, cx + sx * (off + mark), cy)
            canvas.line(cx, cy + sy * off, cx, cy + sy * (off + mark))
