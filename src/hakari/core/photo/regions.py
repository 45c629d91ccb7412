"""Classify ground, shadow, chaff and paper by colour and darkness, on a grid of cells two pixels wide or wider.

Paper in shadow keeps the paper's colour in whatever light is left; ground coffee is brown however it is lit. Brownness is
measured as ln(red / blue) against the paper, and as the difference of red and blue in sRGB values, where phones and JPEG
smooth colour, so that its half level stays on the true edge.
"""

from __future__ import annotations

from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass

import cv2
import numpy as np

from hakari.core.arrays import BoolArray, Image32, Int32Array, Mask, as_image, as_mask
from hakari.core.photo.cells import FLOOR, Cells

LEAST_COLOUR = 0.2  # below this brownness the picture has no usable colour
CORE_COLOUR = 0.56  # share of the picture's brownness that a ground's pixel has at least
DEEPEST_CORE = 0.45
NO_SHADOW_DARK = 0.10
UNCOLOURED_REACH = 0.25  # without colour, a ground's pixel is this share of the way from coffee to paper at most
SPECK_WINDOW = 7
LEAST_SPECK = 0.08
CHAFF_COLOUR, CHAFF_RED = 0.2, 0.12
LEAST_SHADOW_SHARE = 1e-3
SHADE_BELOW = 0.8
UMBRA_QUANTILE = 0.03
SURE_COLOUR = 0.1
SURELY_BROWN = 0.4  # less brown coffee shows grey parts by noise: what is to count as shadow must be greyer


@dataclass(frozen=True)
class Coffee:
    """What ground coffee looks like in this picture: brightness, brownness, tint, red and blue, as shares of paper's."""

    light: float
    brown: float
    tint: float
    red: float
    blue: float

    @property
    def coloured(self) -> bool:
        """Whether colour can tell coffee from shadow in this picture."""
        return self.brown >= LEAST_COLOUR


@dataclass(frozen=True)
class ShadowLight:
    """What paper in shadow looks like.

    ``light`` is its light in the deeper shadows (0: no shadow) and ``umbra`` that in the deepest, ``brown`` and ``tint`` its
    colour by depth, ``share`` that of the picture which it covers.
    """

    light: float
    umbra: float
    depths: list[float]
    brown: list[float]
    tint: list[float]
    share: float

    def brown_at(self, light: Image32) -> Image32:
        """Brownness of shadowed paper of this brightness.

        Parameters
        ----------
        light : ndarray of float32
            Linear brightness, (height, width).

        Returns
        -------
        ndarray of float32
            Brownness of shadowed paper of this brightness.
        """
        return _by_light(light, self.depths, self.brown)

    def tint_at(self, light: Image32) -> Image32:
        """Tint of shadowed paper of this brightness.

        Parameters
        ----------
        light : ndarray of float32
            Linear brightness, (height, width).

        Returns
        -------
        ndarray of float32
            Tint of shadowed paper of this brightness.
        """
        return _by_light(light, self.depths, self.tint)


def _by_light(light: Image32, depths: list[float], values: list[float]) -> Image32:
    """Piecewise linear function of light between 0 and 1, by a table of 256 entries."""
    if not light.size:
        return light
    table = np.interp(np.arange(256) / 255, depths, values).astype(np.float32)
    return np.asarray(cv2.LUT(cv2.convertScaleAbs(light, alpha=255), table), np.float32)


@dataclass(frozen=True)
class Regions:
    """Masks on the cell grid, and what they were found by.

    ``core`` is 1 inside grounds, ``speck`` at small grounds, ``chaff`` at flakes, ``shade`` at shadowed paper, and
    ``colourless`` wherever it is dark but not brown.
    """

    core: Mask
    speck: Mask
    chaff: Mask
    shade: Mask
    colourless: Mask
    coffee: Coffee
    shadow: ShadowLight


def find_regions(cells: Cells, coloured: bool = True) -> Regions:
    """Tell grounds, shadows and chaff apart.

    Parameters
    ----------
    cells : Cells
        The picture on the cell grid.
    coloured : bool
        Whether colour may be used; without it only darkness tells.

    Returns
    -------
    Regions
        Masks of grounds, specks, chaff and shade.
    """
    with ThreadPoolExecutor(1) as pool:
        dents = pool.submit(_find_dents, cells)
        return _told_apart(cells, _find_coffee(cells, coloured), dents)


def _told_apart(cells: Cells, coffee: Coffee, dents: Future[_Dents]) -> Regions:
    if not coffee.coloured:
        dark = cells.inside & (cells.calm_light < coffee.light + UNCOLOURED_REACH * (1 - coffee.light))
        none = np.zeros(dark.shape, np.uint8)
        core = as_mask(cv2.morphologyEx(dark.view(np.uint8), cv2.MORPH_OPEN, np.ones((2, 2), np.uint8)))
        shadow = ShadowLight(0.0, 0.0, [0.0, 1.0], [0.0, 0.0], [0.0, 0.0], 0.0)
        return Regions(
            core, _specks(cells, dents.result(), core, none, coffee, shadow), none, none, none, coffee, shadow
        )
    colourless = _colourless(cells, coffee)
    shadow = _find_shadow(cells, coffee, colourless)
    chaff, darkest_chaff = _find_chaff(cells, coffee)
    light = cells.calm_light
    brown_enough = cells.brown > np.minimum(shadow.brown_at(light), 0) + CORE_COLOUR * coffee.brown
    # Nothing but coffee is far darker than the picture's shadows, whatever light falls on it.
    darkest = 1.3 * coffee.light + NO_SHADOW_DARK
    if shadow.light > 0:
        darkest = min(0.4 * shadow.light, 1.3 * coffee.light, 0.8 * shadow.umbra)
    found = cells.inside & (((light < min(DEEPEST_CORE, darkest_chaff)) & brown_enough) | (light < darkest))
    core = as_mask(cv2.morphologyEx(found.view(np.uint8), cv2.MORPH_OPEN, np.ones((2, 2), np.uint8)))
    specks = _specks(cells, dents.result(), core, chaff, coffee, shadow)
    return Regions(core, specks, chaff, _shade(cells, core | specks | chaff), colourless, coffee, shadow)


def _find_coffee(cells: Cells, coloured: bool) -> Coffee:
    """Median look of what is dark and brown; brownness 0 where too little of what is dark is brown."""
    dark = cells.inside & (cells.calm_light < 0.3)
    brown = dark & (cells.brown > 0.7 * LEAST_COLOUR)
    if coloured and brown.sum() > max(200, 0.1 * dark.sum()):
        middle = float(np.median(cells.brown[brown]))
        brown &= cells.brown > 0.6 * middle
        values = (cells.calm_light, cells.brown, cells.tint, cells.red, cells.blue)
        found = Coffee(*(float(np.median(v[brown])) for v in values))
        if found.coloured:
            return found
    level = float(np.median(cells.calm_light[dark])) if dark.any() else 0.1
    return Coffee(level, 0.0, 0.0, level, level)


def _colourless(cells: Cells, coffee: Coffee) -> Mask:
    """Wide areas that are darker than paper but not brown: shadow, where there is any."""
    plain = (
        cells.inside
        & (cells.calm_light < 0.85)
        & (cells.brown < 0.3 * coffee.brown * min(1.0, coffee.brown / SURELY_BROWN))
    )
    return as_mask(cv2.erode(plain.view(np.uint8), np.ones((3, 3), np.uint8)))


def _find_shadow(cells: Cells, coffee: Coffee, colourless: Mask) -> ShadowLight:
    """Look of wide areas that are darker than paper but not brown, by their depth."""
    wide = colourless > 0
    light, brown, tint = (v[wide] for v in (cells.calm_light, cells.brown, cells.tint))
    depths, browns, tints = [1.0], [0.0], [0.0]
    least = 2e-4 * cells.inside.size
    for depth in np.arange(0.8, 0.0, -0.1):
        here = (light >= depth - 0.05) & (light < depth + 0.05)
        if np.count_nonzero(here) > least:
            depths.append(float(depth))
            browns.append(float(np.median(brown[here])))
            tints.append(float(np.median(tint[here])))
    share = len(light) / max(int(cells.inside.sum()), 1)
    # The rims of blurred grounds look like shadow too; the softer the picture, the more of them there are.
    real = share > LEAST_SHADOW_SHARE * (cells.size_px / 2) ** 4
    deep = float(np.quantile(light, 0.25)) if real else 0.0
    if coffee.light < SURE_COLOUR and deep < max(1.4 * coffee.light, coffee.light + 0.035):
        deep = 0.0  # grey parts of grounds, not shadows: coffee as dark as this loses its colour here and there
    umbra = float(np.quantile(light, UMBRA_QUANTILE)) if deep > 0 else 0.0
    return ShadowLight(deep, umbra, depths[::-1], browns[::-1], tints[::-1], share if deep > 0 else 0.0)


def _find_chaff(cells: Cells, coffee: Coffee) -> tuple[Mask, float]:
    """Wide areas that are brown, but lighter and redder than coffee; and the brightness where chaff begins.

    A blurred edge of a ground is as light, but no browner than the mixture of coffee and paper.
    """
    light = cells.calm_light
    brown = cells.inside & (cells.brown > 0.45 * coffee.brown) & (light < 0.8)
    interior = cv2.erode(brown.view(np.uint8), np.ones((3, 3), np.uint8)) > 0
    counts, edges = np.histogram(light[interior], np.arange(0, 0.82, 0.02))
    counts = np.convolve(counts, [0.25, 0.5, 0.25], "same")
    low, high = int((1.5 * coffee.light + 0.03) / 0.02), int((coffee.light + 0.27) / 0.02)
    valley = low + int(np.argmin(counts[low:high])) if high > low else low
    begins = float(np.clip(edges[valley] + 0.01, 1.5 * coffee.light + 0.04, coffee.light + 0.22))
    if counts[low:high].size == 0 or counts[low:high].min() > 0.5 * counts[valley:].max():
        begins = coffee.light + 0.17
    steps = np.arange(256) / 255
    share = np.clip((1 - steps) / (1 - coffee.light), 0, 1)
    mixed = np.log((share * (coffee.red - 1) + 1 + FLOOR) / (share * (coffee.blue - 1) + 1 + FLOOR))
    pale = cells.inside & (light > begins) & (light < 0.85)
    pale &= cells.brown > _by_light(light, steps.tolist(), (mixed + CHAFF_COLOUR).tolist())
    pale &= cells.red > coffee.red + CHAFF_RED
    opened = cv2.morphologyEx(pale.view(np.uint8), cv2.MORPH_OPEN, np.ones((3, 3), np.uint8))
    return np.asarray(opened, np.uint8), begins


def _shade(cells: Cells, taken: Mask) -> Mask:
    """Paper that is clearly in shadow, beyond the blurred rims of what lies on it."""
    window = np.ones((3, 3), np.uint8)
    dark = (cells.inside & (cells.calm_light < SHADE_BELOW) & (cv2.dilate(taken, window) == 0)).view(np.uint8)
    return np.asarray(cv2.morphologyEx(dark, cv2.MORPH_OPEN, window), np.uint8)


@dataclass(frozen=True)
class _Dents:
    """Where it is darker than all round: light ``around`` and ``depth`` below it, ``dark`` where that is deep.

    ``labels`` number what is joined by darkness, up to ``count``.
    """

    around: Image32
    depth: Image32
    dark: BoolArray
    labels: Int32Array
    count: int


def _find_dents(cells: Cells) -> _Dents:
    """Find dark spots up to the width of a small ground, by what closing fills."""
    window = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (SPECK_WINDOW, SPECK_WINDOW))
    # Steps of 1/200 are enough here, and bytes are an order quicker.
    around = cv2.morphologyEx(cv2.convertScaleAbs(cells.light, alpha=200), cv2.MORPH_CLOSE, window) * np.float32(
        1 / 200
    )
    depth = as_image(cv2.subtract(around, cells.light))
    dark = (depth > max(LEAST_SPECK, 4 * cells.noise) * around) & cells.inside
    joined = cv2.dilate(((cells.light < 0.8) & cells.inside | dark).view(np.uint8), np.ones((2, 2), np.uint8))
    count, labels = cv2.connectedComponents(joined, connectivity=4, ltype=cv2.CV_32S)
    return _Dents(as_image(around), depth, dark, np.asarray(labels, np.int32), count)


def _specks(cells: Cells, dents: _Dents, core: Mask, chaff: Mask, coffee: Coffee, shadow: ShadowLight) -> Mask:
    """Small dark spots too small to show a colour: grounds, unless they hang on a ground or on chaff without being brown."""
    hangs = np.zeros(dents.count, np.bool_)
    hangs[dents.labels[core > 0]] = True
    near_chaff = cv2.dilate(chaff, np.ones((3, 3), np.uint8))
    hangs[dents.labels[cv2.dilate(near_chaff, np.ones((3, 3), np.uint8)) > 0]] = True
    hangs[0] = False
    # Few cells are dark: colour is looked up for those only.
    at = np.flatnonzero(dents.dark & (core == 0) & (near_chaff == 0))
    alone = ~hangs[dents.labels.ravel()[at]]
    if coffee.coloured:
        tint = as_image(cv2.GaussianBlur(cells.tint, (0, 0), 0.8)).ravel()[at]
        tint = tint - shadow.tint_at(cells.calm_light.ravel()[at])
        blackness = dents.depth.ravel()[at] / np.maximum(dents.around.ravel()[at], 0.1)
        alone |= tint > 0.5 * coffee.tint * np.minimum(blackness, 1)
    specks = np.zeros(core.shape, np.uint8)
    specks.ravel()[at[alone]] = 1
    return specks
