"""How much coffee covers each pixel, with shadow taken for what it is: darkened paper.

The edge of a ground is where the light is halfway between the ground's own level and the local background: bright paper on
one side, shadow on the other. Where a shadow is nearly as dark as the ground, colour decides; beside large grounds nothing
counts as coffee that has the colour of shadowed paper.
"""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import cv2
import numpy as np

from hakari.core.arrays import Image32, Mask, Uint8Array, as_image
from hakari.core.photo.cells import Cells
from hakari.core.photo.decode import BAND_ROWS
from hakari.core.photo.levels import LEAST_CONTRAST, BareLevels, Levels
from hakari.core.photo.paper import PaperLight
from hakari.core.photo.regions import Regions

LEAST_TINT = 0.02
TINT_GAIN, TINT_ALLOWED = 3.0, 0.06


def coverage_of(
    rgb: Uint8Array,
    light: Image32,
    paper: PaperLight,
    cells: Cells,
    regions: Regions,
    levels: Levels | BareLevels,
) -> Image32:
    """Share of each pixel that coffee covers, (height, width); not clipped, so that noise keeps a mean of zero.

    Light and tint are each read as a share of the way from paper to coffee, and weighted by the inverse of their variance.

    Parameters
    ----------
    rgb : ndarray of uint8
        The picture, (height, width, 3), sRGB.
    light : ndarray of float32
        Linear brightness, (height, width).
    paper : PaperLight
        Light on bare paper.
    cells : Cells
        The picture on the cell grid.
    regions : Regions
        Grounds, shadow and chaff on the cell grid.
    levels : Levels or BareLevels
        Local levels of light and colour.

    Returns
    -------
    ndarray of float32
        Share of each pixel that coffee covers, (height, width).
    """
    if isinstance(levels, BareLevels):
        per_contrast = 1 / max(levels.paper - levels.ground, LEAST_CONTRAST)
        return _by_light(light, levels.paper * per_contrast, as_image(per_contrast / paper.light), levels.near)
    contrast = np.maximum(levels.paper - levels.ground, LEAST_CONTRAST)
    per_light = 1 / paper.resized(paper.light, contrast.shape)
    if not regions.coffee.coloured:
        return _by_light(light, as_image(levels.paper / contrast), as_image(per_light / contrast), levels.near)
    tint_contrast = np.maximum(levels.ground_tint - levels.paper_tint, LEAST_TINT)
    spread = (0.2 * levels.uneven) ** 2 + (0.02 * levels.paper) ** 2 + (0.1 * levels.ground) ** 2 + cells.noise**2
    tint_spread = cells.tint_noise**2 + (0.3 * regions.coffee.tint) ** 2
    light_variance, tint_variance = spread / contrast**2, tint_spread / tint_contrast**2
    by_tint = levels.large * light_variance / (light_variance + tint_variance)
    plain_tint, reach = levels.paper_tint / tint_contrast, levels.deepest - levels.ground
    least = TINT_ALLOWED + 3 * cells.tint_noise / regions.coffee.tint
    fields = _Fields(
        near=as_image(levels.near),
        red=1 / (paper.resized(paper.red8, contrast.shape) * tint_contrast),
        blue=1 / (paper.resized(paper.blue8, contrast.shape) * tint_contrast),
        offset=(1 - by_tint) * levels.paper / contrast - by_tint * plain_tint,
        by_light=(1 - by_tint) * per_light / contrast,
        by_tint=by_tint,
        allowed=least - TINT_GAIN * plain_tint + 3 * (1 - levels.large),
        surely=levels.deepest / reach,
        drop=per_light / reach,
    )
    return _with_colour(rgb, light, fields)


@dataclass(frozen=True)
class _Fields:
    """What coverage is put together from, on the cell grid.

    A pixel's tint, ``red`` and ``blue`` times its values, is in units of the way from paper to coffee. Coverage is
    ``offset`` − ``by_light`` · light + ``by_tint`` · tint, and at most ``allowed`` + ``TINT_GAIN`` · tint or
    ``surely`` − ``drop`` · light, whichever is more.
    """

    near: Image32
    red: Image32
    blue: Image32
    offset: Image32
    by_light: Image32
    by_tint: Image32
    allowed: Image32
    surely: Image32
    drop: Image32


def _in_bands(height: int, band: Callable[[slice], None]) -> None:
    """Do something for all rows of a picture, some at a time, on two threads."""
    with ThreadPoolExecutor(2) as pool:
        list(pool.map(band, (slice(top, min(top + BAND_ROWS, height)) for top in range(0, height, BAND_ROWS))))


def _by_light(light: Image32, offset: Image32 | float, slope: Image32, near: Mask) -> Image32:
    """Coverage by light alone, ``offset`` − ``slope`` · light; none where ``near`` is 0."""
    result = np.empty(light.shape, np.float32)
    mask = None if near.all() else as_image(near)

    def band(rows: slice) -> None:
        start = np.float32(offset) if isinstance(offset, float) else _enlarged(offset, rows, light.shape)
        np.subtract(start, _enlarged(slope, rows, light.shape) * light[rows], out=result[rows])
        if mask is not None:
            cv2.multiply(result[rows], _switch(mask, rows, light.shape), result[rows])

    _in_bands(light.shape[0], band)
    return result


def _switch(mask: Image32, rows: slice, shape: tuple[int, ...]) -> Image32:
    """Return some rows of a mask on the cell grid as 0 and 1 at pixels."""
    return as_image(cv2.threshold(_enlarged(mask, rows, shape), 0.5, 1.0, cv2.THRESH_BINARY)[1])


def _with_colour(rgb: Uint8Array, light: Image32, fields: _Fields) -> Image32:
    result = np.empty(light.shape, np.float32)

    def band(rows: slice) -> None:
        def of(field: Image32) -> Image32:
            return _enlarged(field, rows, light.shape)

        red, blue = cv2.extractChannel(rgb[rows], 0), cv2.extractChannel(rgb[rows], 2)
        tint = cv2.multiply(red, of(fields.red), dtype=cv2.CV_32F)
        tint = cv2.subtract(tint, cv2.multiply(blue, of(fields.blue), dtype=cv2.CV_32F))
        cover = cv2.subtract(of(fields.offset), cv2.multiply(of(fields.by_light), light[rows]))
        cover = cv2.add(cover, cv2.multiply(of(fields.by_tint), tint))
        by_colour = cv2.scaleAdd(tint, TINT_GAIN, of(fields.allowed))
        most = cv2.max(by_colour, cv2.subtract(of(fields.surely), cv2.multiply(of(fields.drop), light[rows])))
        cover = np.minimum(cover, np.maximum(most, np.float32(0)))
        cv2.multiply(cover, _switch(fields.near, rows, light.shape), result[rows])

    _in_bands(light.shape[0], band)
    return result


def _enlarged(field: Image32, rows: slice, shape: tuple[int, ...]) -> Image32:
    """Return some rows of a field (h, w) brought to a picture of this shape by linear interpolation."""
    size = (shape[1], rows.stop - rows.start)
    whole = shape[1] // field.shape[1]
    if shape == (field.shape[0] * whole, field.shape[1] * whole) and rows.start % whole == 0 == size[1] % whole:
        # Where whole pixels make a cell, resizing a strip with a margin of one cell does the same, and quicker.
        first, last = max(0, rows.start // whole - 1), min(field.shape[0], rows.stop // whole + 1)
        strip = cv2.resize(field[first:last], (shape[1], (last - first) * whole), interpolation=cv2.INTER_LINEAR)
        skipped = rows.start - first * whole
        return as_image(strip[skipped : skipped + size[1]])
    step_y, step_x = field.shape[0] / shape[0], field.shape[1] / shape[1]
    first = max(0, int((rows.start + 0.5) * step_y - 0.5) - 1)
    last = min(field.shape[0], int((rows.stop + 0.5) * step_y + 0.5) + 2)
    to_field = np.array(
        [[step_x, 0, 0.5 * step_x - 0.5], [0, step_y, (rows.start + 0.5) * step_y - 0.5 - first]], np.float64
    )
    flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    return as_image(cv2.warpAffine(field[first:last], to_field, size, flags=flags, borderMode=cv2.BORDER_REPLICATE))
