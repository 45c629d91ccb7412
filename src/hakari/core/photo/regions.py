"""Classify ground, shadow, chaff and paper by colour and darkness, on a grid of cells two pixels wide or wider.

Paper in shadow keeps the paper's colour in whatever light is left; ground coffee is brown however it is lit. Brownness is
measured as ln(red / blue) against the paper, and as the difference of red and blue in sRGB values, where phones and JPEG
smooth colour, so that its half level stays on the true edge.
"""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import cv2
import numpy as np
from cv2.typing import MatLike

from hakari.core.arrays import BoolArray, Image32, IntArray, Mask, as_mask
from hakari.core.photo.cells import FLOOR, Cells
from hakari.core.photo.looks import LEAST_COLOUR, Coffee, ShadowLight, by_light
from hakari.core.photo.specks import find_dents, find_specks

DIM = 0.85  # of the paper's light: what is brighter is bare paper
CORE_COLOUR = 0.56  # share of the picture's brownness that a ground's pixel has at least
DEEPEST_CORE = 0.45
NO_SHADOW_DARK = 0.10
UNCOLOURED_REACH = 0.25  # without colour, a ground's pixel is this share of the way from coffee to paper at most
CHAFF_COLOUR, CHAFF_RED = 0.2, 0.12
LEAST_SHADOW_SHARE = 1e-3
SHADE_BELOW = 0.8
UMBRA_QUANTILE = 0.03
SURE_COLOUR = 0.1
SURELY_BROWN = 0.4  # less brown coffee shows grey parts by noise: what is to count as shadow must be greyer


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
        finding_dents = pool.submit(find_dents, cells)
        dim = _find_dim(cells)
        coffee = _find_coffee(dim, coloured)
        found = _by_colour(cells, dim, coffee) if coffee.coloured else _by_darkness(dim, coffee)
        dents = finding_dents.result()
    specks = find_specks(cells, dents, found.core, found.chaff, coffee, found.shadow)
    shade = _shade(dim, found.core | specks | found.chaff) if coffee.coloured else np.zeros(dim.shape, np.uint8)
    return Regions(found.core, specks, found.chaff, shade, found.colourless, coffee, found.shadow)


@dataclass(frozen=True)
class _Dim:
    """Cells that are darker than paper, few in most pictures: their flat indices ``at`` and looks, (n,)."""

    shape: tuple[int, ...]
    at: IntArray
    light: Image32
    brown: Image32
    tint: Image32
    red: Image32
    blue: Image32

    def mask(self, chosen: BoolArray) -> Mask:
        """Return some of the cells as a mask on the grid."""
        mask = np.zeros(self.shape, np.uint8)
        mask.ravel()[self.at[chosen]] = 1
        return mask

    def among(self, mask: MatLike) -> BoolArray:
        """Return which of the cells a mask on the grid holds."""
        return np.asarray(np.asarray(mask).ravel()[self.at] > 0)


def _find_dim(cells: Cells) -> _Dim:
    at = np.flatnonzero(cells.inside & (cells.calm_light < DIM))
    light, tint, red, blue = (v.ravel()[at] for v in (cells.calm_light, cells.tint, cells.red, cells.blue))
    return _Dim(cells.calm_light.shape, at, light, cells.brown_at(at), tint, red, blue)


@dataclass(frozen=True)
class _Classified:
    """Masks of what is large enough to show a colour, and what shadow looks like; see ``Regions``."""

    core: Mask
    chaff: Mask
    colourless: Mask
    shadow: ShadowLight


def _by_darkness(dim: _Dim, coffee: Coffee) -> _Classified:
    none = np.zeros(dim.shape, np.uint8)
    core = _opened(dim.mask(dim.light < coffee.light + UNCOLOURED_REACH * (1 - coffee.light)), 2)
    return _Classified(core, none, none, ShadowLight(0.0, 0.0, [0.0, 1.0], [0.0, 0.0], [0.0, 0.0], 0.0))


def _by_colour(cells: Cells, dim: _Dim, coffee: Coffee) -> _Classified:
    colourless = _colourless(dim, coffee)
    shadow = _find_shadow(cells, dim, coffee, colourless)
    chaff, darkest_chaff = _find_chaff(dim, coffee)
    brown_enough = dim.brown > np.minimum(shadow.brown_at(dim.light), 0) + CORE_COLOUR * coffee.brown
    # Nothing but coffee is far darker than the picture's shadows, whatever light falls on it.
    darkest = 1.3 * coffee.light + NO_SHADOW_DARK
    if shadow.light > 0:
        darkest = min(0.4 * shadow.light, 1.3 * coffee.light, 0.8 * shadow.umbra)
    dark_enough = dim.light < min(DEEPEST_CORE, darkest_chaff)
    core = _opened(dim.mask((dark_enough & brown_enough) | (dim.light < darkest)), 2)
    return _Classified(core, chaff, colourless, shadow)


def _opened(mask: Mask, width: int) -> Mask:
    return as_mask(cv2.morphologyEx(mask, cv2.MORPH_OPEN, np.ones((width, width), np.uint8)))


def _find_coffee(dim: _Dim, coloured: bool) -> Coffee:
    """Median look of what is dark and brown; brownness 0 where too little of what is dark is brown."""
    dark = dim.light < 0.3
    brown = dark & (dim.brown > 0.7 * LEAST_COLOUR)
    if coloured and brown.sum() > max(200, 0.1 * dark.sum()):
        middle = float(np.median(dim.brown[brown]))
        brown &= dim.brown > 0.6 * middle
        found = Coffee(*(float(np.median(v[brown])) for v in (dim.light, dim.brown, dim.tint, dim.red, dim.blue)))
        if found.coloured:
            return found
    level = float(np.median(dim.light[dark])) if dark.any() else 0.1
    return Coffee(level, 0.0, 0.0, level, level)


def _colourless(dim: _Dim, coffee: Coffee) -> Mask:
    """Wide areas that are darker than paper but not brown: shadow, where there is any."""
    plain = dim.brown < 0.3 * coffee.brown * min(1.0, coffee.brown / SURELY_BROWN)
    return as_mask(cv2.erode(dim.mask(plain), np.ones((3, 3), np.uint8)))


def _find_shadow(cells: Cells, dim: _Dim, coffee: Coffee, colourless: Mask) -> ShadowLight:
    """Look of wide areas that are darker than paper but not brown, by their depth."""
    wide = dim.among(colourless)
    light, brown, tint = (v[wide] for v in (dim.light, dim.brown, dim.tint))
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


def _find_chaff(dim: _Dim, coffee: Coffee) -> tuple[Mask, float]:
    """Wide areas that are brown, but lighter and redder than coffee; and the brightness where chaff begins.

    A blurred edge of a ground is as light, but no browner than the mixture of coffee and paper.
    """
    brown = dim.mask((dim.brown > 0.45 * coffee.brown) & (dim.light < 0.8))
    interior = dim.among(cv2.erode(brown, np.ones((3, 3), np.uint8)))
    counts, edges = np.histogram(dim.light[interior], np.arange(0, 0.82, 0.02))
    counts = np.convolve(counts, [0.25, 0.5, 0.25], "same")
    low, high = int((1.5 * coffee.light + 0.03) / 0.02), int((coffee.light + 0.27) / 0.02)
    valley = low + int(np.argmin(counts[low:high])) if high > low else low
    begins = float(np.clip(edges[valley] + 0.01, 1.5 * coffee.light + 0.04, coffee.light + 0.22))
    if counts[low:high].size == 0 or counts[low:high].min() > 0.5 * counts[valley:].max():
        begins = coffee.light + 0.17
    steps = np.arange(256) / 255
    share = np.clip((1 - steps) / (1 - coffee.light), 0, 1)
    mixed = np.log((share * (coffee.red - 1) + 1 + FLOOR) / (share * (coffee.blue - 1) + 1 + FLOOR))
    pale = (dim.light > begins) & (dim.red > coffee.red + CHAFF_RED)
    pale &= dim.brown > by_light(dim.light, steps.tolist(), (mixed + CHAFF_COLOUR).tolist())
    return _opened(dim.mask(pale), 3), begins


def _shade(dim: _Dim, taken: Mask) -> Mask:
    """Paper that is clearly in shadow, beyond the blurred rims of what lies on it."""
    beyond = ~dim.among(cv2.dilate(taken, np.ones((3, 3), np.uint8)))
    return _opened(dim.mask((dim.light < SHADE_BELOW) & beyond), 3)
