"""A page of words and lines, laid out once in mm and drawn as PDF or as a picture."""

from __future__ import annotations

import io
from collections.abc import Sequence
from pathlib import Path
from typing import NamedTuple

import reportlab
from PIL import Image, ImageDraw, ImageFont
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

PX_PER_MM = 8.0
INK, FAINT, RULE, PERSIMMON, CELADON = (40, 46, 92), (104, 106, 118), (198, 194, 184), (176, 62, 26), (47, 107, 87)
PAPER = (255, 254, 250)
FONTS = {False: "Vera.ttf", True: "VeraBd.ttf"}
MM_PER_POINT = 25.4 / 72
Colour = tuple[int, int, int]


class Words(NamedTuple):
    """Words at a place in mm from the top left; ``size`` in points; ``align`` is l, m or r."""

    x: float
    y: float
    size: float
    text: str
    bold: bool = False
    colour: Colour = INK
    align: str = "l"


class Line(NamedTuple):
    """A line through points in mm; ``width`` in points."""

    points: tuple[tuple[float, float], ...]
    colour: Colour
    width: float = 0.7


Item = Words | Line


def rule(x0: float, x1: float, y: float, colour: Colour = RULE) -> Line:
    """A horizontal line."""
    return Line(((x0, y), (x1, y)), colour)


def font_file(bold: bool) -> str:
    """The face that ships with the drawing library."""
    return str(Path(reportlab.__file__).parent / "fonts" / FONTS[bold])


def _register() -> None:
    for bold in (False, True):
        pdfmetrics.registerFont(TTFont(FONTS[bold], font_file(bold)))


def fitting(size: float, text: str, room_mm: float) -> float:
    """The size in points, or less where the words would run out of their room."""
    _register()
    wide_mm = float(pdfmetrics.stringWidth(text, FONTS[True], size)) * MM_PER_POINT
    return size * min(1.0, 0.98 * room_mm / max(wide_mm, 1e-6))


def page_pdf(items: Sequence[Item], width_mm: float, height_mm: float, title: str) -> bytes:
    """One page as PDF."""
    _register()
    out = io.BytesIO()
    page = Canvas(out, pagesize=(width_mm * mm, height_mm * mm))
    page.setTitle(title)
    draw = {"l": page.drawString, "m": page.drawCentredString, "r": page.drawRightString}
    for item in items:
        colour = tuple(c / 255 for c in item.colour)
        if isinstance(item, Line):
            page.setStrokeColorRGB(*colour)
            page.setLineWidth(item.width)
            path = page.beginPath()
            for k, (x, y) in enumerate(item.points):
                (path.lineTo if k else path.moveTo)(x * mm, (height_mm - y) * mm)
            page.drawPath(path)
            continue
        page.setFillColorRGB(*colour)
        page.setFont(FONTS[item.bold], item.size)
        draw[item.align](item.x * mm, (height_mm - item.y) * mm, item.text)
    page.showPage()
    page.save()
    return out.getvalue()


def page_png(items: Sequence[Item], width_mm: float, height_mm: float) -> bytes:
    """The same page as a picture."""
    image = Image.new("RGB", (round(width_mm * PX_PER_MM), round(height_mm * PX_PER_MM)), PAPER)
    draw = ImageDraw.Draw(image)
    for item in items:
        if isinstance(item, Line):
            points = [(x * PX_PER_MM, y * PX_PER_MM) for x, y in item.points]
            draw.line(points, item.colour, max(1, round(item.width * MM_PER_POINT * PX_PER_MM)))
            continue
        font = ImageFont.truetype(font_file(item.bold), item.size * MM_PER_POINT * PX_PER_MM)
        draw.text((item.x * PX_PER_MM, item.y * PX_PER_MM), item.text, item.colour, font, f"{item.align}s")
    out = io.BytesIO()
    image.save(out, "PNG", dpi=(PX_PER_MM * 25.4, PX_PER_MM * 25.4))
    return out.getvalue()
