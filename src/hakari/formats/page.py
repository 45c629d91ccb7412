"""A page of words and lines, laid out once in mm and drawn as PDF or as a picture."""

from __future__ import annotations

import io
from collections.abc import Sequence
from functools import cache
from itertools import groupby
from pathlib import Path
from typing import NamedTuple

from PIL import Image, ImageDraw, ImageFont
from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

PX_PER_MM, PX_PER_MM_IN_PDF = 8.0, 24.0
INK, FAINT, RULE, PERSIMMON, CELADON = (40, 46, 92), (104, 106, 118), (198, 194, 184), (176, 62, 26), (47, 107, 87)
PAPER = (255, 254, 250)
FOLDER = Path(__file__).parent / "fonts"
FONTS = {False: "NotoSans-Regular.ttf", True: "NotoSans-Bold.ttf"}
ANY_SCRIPT = "unifontex.woff2"  # has a glyph, if a coarse one, for every script
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
    """Return a horizontal line."""
    return Line(((x0, y), (x1, y)), colour)


@cache
def _registered(bold: bool) -> TTFont:
    font = TTFont(FONTS[bold], str(FOLDER / FONTS[bold]))
    pdfmetrics.registerFont(font)
    return font


@cache
def _font(name: str, size_px: float) -> ImageFont.FreeTypeFont:
    return ImageFont.truetype(str(FOLDER / name), size_px)


def _runs(text: str, bold: bool) -> list[tuple[str, str]]:
    """Return the text in runs with the file of the font that has their glyphs; spaces go with what is before them."""
    known = _registered(bold).face.charToGlyph
    files: list[str] = []
    for letter in text:
        same = letter == " " and files
        files.append(files[-1] if same else FONTS[bold] if ord(letter) in known else ANY_SCRIPT)
    return [
        ("".join(letter for letter, _ in run), file)
        for file, run in groupby(zip(text, files, strict=True), lambda p: p[1])
    ]


def _width_mm(text: str, size: float, bold: bool) -> float:
    """Width of a text; ``size`` in points."""
    # Measured large, because small sizes are rounded to whole pixels.
    return sum(_font(file, 100).getlength(run) for run, file in _runs(text, bold)) / 100 * size * MM_PER_POINT


def fitting(size: float, text: str, room_mm: float) -> float:
    """Return the size in points, or less where the words would run out of their room."""
    return size * min(1.0, 0.98 * room_mm / max(_width_mm(text, size, True), 1e-6))


def _draw_words(draw: ImageDraw.ImageDraw, item: Words, px_per_mm: float, x: float, y: float) -> None:
    """Draw words on a picture, their baseline through ``x``, ``y`` in px; scripts are shaped and ordered by the library."""
    size_px = item.size * MM_PER_POINT * px_per_mm
    runs = _runs(item.text, item.bold)
    width = sum(_font(file, size_px).getlength(run) for run, file in runs)
    x -= {"l": 0.0, "m": width / 2, "r": width}[item.align]
    for run, file in runs:
        draw.text((x, y), run, item.colour, _font(file, size_px), "ls")
        x += _font(file, size_px).getlength(run)


def _as_picture(page: Canvas, item: Words, height_mm: float) -> None:
    """Put words that the page's font has not on a PDF page as a picture."""
    size_mm = item.size * MM_PER_POINT
    wide, high = _width_mm(item.text, item.size, item.bold) + size_mm, 2 * size_mm
    left = item.x - {"l": 0.0, "m": 0.5, "r": 1.0}[item.align] * (wide - size_mm) - size_mm / 2
    picture = Image.new("RGBA", (round(wide * PX_PER_MM_IN_PDF), round(high * PX_PER_MM_IN_PDF)), (*item.colour, 0))
    at = size_mm / 2 * PX_PER_MM_IN_PDF
    _draw_words(ImageDraw.Draw(picture), item._replace(align="l"), PX_PER_MM_IN_PDF, at, 3 * at)
    box = (left * mm, (height_mm - item.y - 0.5 * size_mm) * mm, wide * mm, high * mm)
    page.drawImage(ImageReader(picture), *box, mask="auto")


def page_pdf(items: Sequence[Item], width_mm: float, height_mm: float, title: str) -> bytes:
    """One page as PDF."""
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
        if any(file == ANY_SCRIPT for _, file in _runs(item.text, item.bold)):
            _as_picture(page, item, height_mm)
            continue
        page.setFillColorRGB(*colour)
        page.setFont(FONTS[item.bold], item.size)
        draw[item.align](item.x * mm, (height_mm - item.y) * mm, item.text)
    page.showPage()
    page.save()
    return out.getvalue()


def page_png(items: Sequence[Item], width_mm: float, height_mm: float) -> bytes:
    """Return the same page as a picture."""
    image = Image.new("RGB", (round(width_mm * PX_PER_MM), round(height_mm * PX_PER_MM)), PAPER)
    draw = ImageDraw.Draw(image)
    for item in items:
        if isinstance(item, Line):
            points = [(x * PX_PER_MM, y * PX_PER_MM) for x, y in item.points]
            draw.line(points, item.colour, max(1, round(item.width * MM_PER_POINT * PX_PER_MM)))
            continue
        _draw_words(draw, item, PX_PER_MM, item.x * PX_PER_MM, item.y * PX_PER_MM)
    out = io.BytesIO()
    image.save(out, "PNG", dpi=(PX_PER_MM * 25.4, PX_PER_MM * 25.4))
    return out.getvalue()
