"""The light of a photo, judged: dim, burnt, uneven, shadows, a colour cast; and how unsure it makes sizes."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from hakari.core.arrays import FloatArray
from hakari.core.photo.photo_evidence import PhotoEvidence
from hakari.core.photo.result import Finding, Place

TILE_ROWS, TILE_COLUMNS = 4, 6


SHADOW_DIP = 0.12
DARK_PAPER, BURNT_LIGHT, BURNT_SHARE = 0.06, 0.985, 0.25


HARD_SHADOW, DARK_ROOM, LEAST_HARD_SHARE = 0.5, 0.2, 0.003


COLOUR_CAST = 1.4


@dataclass(frozen=True)
class Tile:
    """A part of the measured area: brightness of its paper and where it lies in the picture."""

    paper: float
    burnt: float
    row: int
    column: int
    place: Place


def light_findings(e: PhotoEvidence, tiles: list[Tile]) -> Iterator[Finding]:
    """Yield what brightness and its evenness say of a photo.

    Parameters
    ----------
    e : PhotoEvidence
        What the photo shows.
    tiles : list[Tile]
        Brightness of its parts.

    Yields
    ------
    Finding
        A finding with its place and its remedy.
    """
    if not tiles:
        return
    darkest = min(tiles, key=lambda t: t.paper)
    brightest = max(tiles, key=lambda t: t.paper)
    ratio = brightest.paper / max(darkest.paper, 1e-3)
    shaded = _shaded(tiles)
    if shaded is not None:
        yield Finding(
            "shadow", "note", "A shadow falls across part of the paper; it was evened out.",
            "Stand so that neither hand nor phone comes between lamp and paper.", shaded.place,
        )  # fmt: skip
    if ratio > 2.0:
        yield Finding(
            "uneven-light", "note", f"The paper is {ratio:.1f} times brighter at one side than at the other.",
            "It was evened out; light from two sides would be better.", darkest.place,
        )  # fmt: skip
    burnt = float(np.mean([t.burnt for t in tiles]))
    if burnt > BURNT_SHARE:
        yield Finding(
            "overexposed", "warning", "The paper is burnt out, so the edges of the grounds are eaten.",
            "Lower the exposure a little until the paper looks light grey.", max(tiles, key=lambda t: t.burnt).place,
        )  # fmt: skip
    if float(np.median([t.paper for t in tiles])) < DARK_PAPER:
        yield Finding(
            "underexposed", "warning", "The photo is dark, so fines drown in noise.", "Move to a window or add a lamp.",
        )  # fmt: skip


def shadow_findings(e: PhotoEvidence) -> Iterator[Finding]:
    """Yield what shadows and the colour of the light say of a photo.

    Parameters
    ----------
    e : PhotoEvidence
        What the photo shows.

    Yields
    ------
    Finding
        A finding with its place and its remedy.
    """
    if not e.coloured:
        yield Finding(
            "colour-missing", "warning",
            "Colour does not tell coffee from shadow in this photo, so shadows may be counted as coffee.",
            "Take the photo in colour, in daylight or under a white lamp.",
        )  # fmt: skip
    elif e.shadow_light > 0 and e.shadow_share > LEAST_HARD_SHARE and e.shadow_light < DARK_ROOM:
        yield Finding(
            "dark-room", "warning",
            f"The shadows are nearly as dark as coffee: only {100 * e.shadow_light:.0f} % of the light reaches them.",
            "Switch on the room's light as well, or take the photo by a window.",
        )  # fmt: skip
    elif e.shadow_light > 0 and e.shadow_share > LEAST_HARD_SHARE and e.shadow_light < HARD_SHADOW:
        yield Finding(
            "hard-shadow", "note",
            f"Hard shadows: {100 * e.shadow_light:.0f} % of the light reaches them. They were not counted as coffee.",
            "Turn so that the window lies behind you, or stand a second sheet of paper opposite as a reflector.",
        )  # fmt: skip
    if not 1 / COLOUR_CAST < e.red_over_blue < COLOUR_CAST:
        tint = "yellow" if e.red_over_blue > 1 else "blue"
        yield Finding(
            "colour-cast", "note", f"The light is {tint}; it was corrected by the colour of the paper.",
            "Daylight or a white lamp shows the colour of coffee best.",
        )  # fmt: skip


def light_error(e: PhotoEvidence) -> float:
    """Return the standard error of sizes because of light and view, as a share.

    From the shade beside grounds, the depth of shadows, and how far the camera looks at the grounds from the side, which
    shows more of them than their outline from above. Found on path-traced pictures with known grounds (docs/accuracy.md).

    Parameters
    ----------
    e : PhotoEvidence
        What the photo shows.

    Returns
    -------
    float
        The standard error of sizes because of light and view, as a share.
    """
    shaded = 1.0 if e.shadow_light > 0 else float(np.clip(e.shade_beside / 0.1, 0, 1))
    aside = shaded * (0.015 + 0.25 * np.tan(np.radians(e.view.scale.tilt_deg or 0.0)) ** 2)
    deep = float(np.clip((HARD_SHADOW - e.shadow_light) / HARD_SHADOW, 0, 1)) if e.shadow_light > 0 else 0.0
    crowded = float(np.clip((e.coverage - 0.1) / 0.05, 0, 1))
    blind = 0.0 if e.coloured else 0.1 * shaded
    parts = (0.004, aside, 0.045 * shaded, 0.04 * deep, 0.04 * crowded, blind)
    return float(np.sqrt(np.sum(np.square(parts))))


def tiles_of(e: PhotoEvidence) -> list[Tile]:
    """Tiles of the measured area that lie wholly inside it.

    Parameters
    ----------
    e : PhotoEvidence
        What the photo shows.

    Returns
    -------
    list[Tile]
        Brightness of its parts.
    """
    height, width = e.light.shape
    tiles = []
    for i, rows in enumerate(np.array_split(np.arange(0, height, 8), TILE_ROWS)):
        for j, columns in enumerate(np.array_split(np.arange(0, width, 8), TILE_COLUMNS)):
            if len(rows) == 0 or len(columns) == 0:
                continue
            box = np.ix_(rows, columns)
            if e.view.inside is not None and e.view.inside[box].mean() < 0.95:
                continue
            values = e.light[box]
            x, y = e.view.x0, e.view.y0
            place = (float(x + columns[0]), float(y + rows[0]), float(x + columns[-1]), float(y + rows[-1]))
            tiles.append(Tile(float(np.quantile(values, 0.7)), float((values > BURNT_LIGHT).mean()), i, j, place))
    return tiles


def _shaded(tiles: list[Tile]) -> Tile | None:
    """Return the tile that lies darkest below a smooth fall of light over all tiles, if it lies far below."""
    if len(tiles) < 10:
        return None
    y = np.array([t.row / TILE_ROWS for t in tiles])
    x = np.array([t.column / TILE_COLUMNS for t in tiles])
    brightness = np.log(np.maximum([t.paper for t in tiles], 1e-3))
    terms: FloatArray = np.column_stack([np.ones_like(x), x, y, x * x, y * y])
    fit = terms @ np.linalg.lstsq(terms, brightness, rcond=None)[0]
    below = fit - brightness
    spread = float(below.max() - below.min())
    return tiles[int(np.argmin(brightness))] if spread > SHADOW_DIP else None
