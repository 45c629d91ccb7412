"""A slip to print or to send: one weighing slip as a page or a picture."""

from __future__ import annotations

from dataclasses import dataclass

from hakari.formats.page import (
    CELADON,
    FAINT,
    INK,
    PERSIMMON,
    RULE,
    Item,
    Line,
    Words,
    fitting,
    page_pdf,
    page_png,
    rule,
)

WIDTH_MM, MARGIN_MM, ROW_MM, STEP_MM, CURVE_MM = 80.0, 7.0, 7.2, 4.0, 17.0
FOOT = "Hakari. ~ is estimated. Brewing guidance only; hot water scalds."


@dataclass(frozen=True)
class SlipPaper:
    """What stands on a slip: a title, when, rows of name, value and whether it was changed, and words below.

    ``curve`` is the size curve as (size, height) from 0 to 1; ``good`` says whether the cup was in its target.
    ``steps`` are the times and words of the plan.
    """

    title: str
    coffee: str
    when: str
    rows: tuple[tuple[str, str, bool], ...]
    taste: str
    target: str
    good: bool
    next_words: str
    curve: tuple[tuple[float, float], ...]
    steps: tuple[tuple[str, str], ...] = ()


def _layout(slip: SlipPaper) -> tuple[list[Item], float]:
    right = WIDTH_MM - MARGIN_MM
    drawn: list[Item] = [
        Words(MARGIN_MM, 12, 14, slip.title, True),
        Words(right, 12, 8, slip.when, colour=FAINT, align="r"),
        Words(MARGIN_MM, 18, fitting(9, slip.coffee, right - MARGIN_MM), slip.coffee, colour=FAINT),
    ]
    y = 22.0
    for name, value, changed in slip.rows:
        drawn.append(rule(MARGIN_MM, right, y))
        y += ROW_MM
        colour = PERSIMMON if changed else INK
        drawn.append(Words(MARGIN_MM, y - 2.2, 9, name, colour=FAINT))
        drawn.append(Words(right, y - 2.2, fitting(10, value, 45), value, changed, colour, "r"))
    drawn.append(rule(MARGIN_MM, right, y))
    y += 1.5
    if slip.steps:
        drawn.append(Words(right, y + STEP_MM, 7.5, "as planned", colour=FAINT, align="r"))
    for at, words in slip.steps:
        y += STEP_MM
        drawn.append(Words(MARGIN_MM, y, 7.5, at, colour=FAINT))
        drawn.append(Words(MARGIN_MM + 13, y, fitting(7.5, words, right - MARGIN_MM - 13), words))
    if slip.steps:
        y += 2.5
        drawn.append(rule(MARGIN_MM, right, y))
    y += 6
    drawn.append(Words(MARGIN_MM, y, fitting(10, slip.taste, right - MARGIN_MM), slip.taste))
    y += 4 + CURVE_MM
    wide = right - MARGIN_MM
    drawn.append(Line(tuple((MARGIN_MM + wide * u, y - CURVE_MM * v) for u, v in slip.curve), INK, 1.1))
    drawn.append(rule(MARGIN_MM, right, y, RULE))
    y += 6
    drawn.append(Words(MARGIN_MM, y, 9, slip.target, colour=CELADON if slip.good else FAINT))
    if slip.next_words:
        y += 6
        said = f"next: {slip.next_words}"
        drawn.append(Words(MARGIN_MM, y, fitting(10, said, wide), said, True, PERSIMMON))
    y += 6
    drawn.append(Words(MARGIN_MM, y, fitting(6.5, FOOT, 0.9 * wide), FOOT, colour=FAINT))
    torn = tuple((WIDTH_MM * k / 32, y + 6 + (1.6 if k % 2 else 0.0)) for k in range(33))
    drawn.append(Line(torn, RULE))
    return drawn, y + 11


def slip_pdf(slip: SlipPaper) -> bytes:
    """One page as wide as a receipt."""
    drawn, height = _layout(slip)
    return page_pdf(drawn, WIDTH_MM, height, f"Hakari {slip.title}")


def slip_png(slip: SlipPaper) -> bytes:
    """Return the same as a picture."""
    drawn, height = _layout(slip)
    return page_png(drawn, WIDTH_MM, height)
