"""How much coffee covers each pixel, with shadow taken for what it is: darkened paper.

The edge of a ground is where the light is halfway between the ground's own level and the local background: bright paper on
one side, shadow on the other. Where a shadow is nearly as dark as the ground, colour decides; beside large grounds nothing
counts as coffee that has the colour of shadowed paper.
"""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor

import cv2
import numpy as np
import numpy.typing as npt

from hakari.core.photo.arrays import Image32, as_image
from hakari.core.photo.decode import BAND_ROWS
from hakari.core.photo.levels import LEAST_CONTRAST, BareLevels, Levels
from hakari.core.photo.paper import PaperLight
from hakari.core.photo.regions import Cells, Regions

LEAST_TINT = 0.02
TINT_GAIN, TINT_ALLOWED = 3.0, 0.06


def coverage_of(
    rgb: npt.NDArray[np.uint8],
    light: Image32,
    paper: PaperLight,
    cells: Cells,
    regions: Regions,
    levels: Levels | BareLevels,
) -> Image32:
    """Share of each pixel that coffee covers, (height, width); not clipped, so that noise keeps a mean of zero.

    Light and tint are each read as a share of the way from paper to coffee, and weighted by the inverse of their variance.
    """
    if isinstance(levels, BareLevels):
        return _by_light(light, paper, levels)
    contrast = np.maximum(levels.paper - levels.ground, LEAST_CONTRAST)
    tint_contrast = np.maximum(levels.ground_tint - levels.paper_tint, LEAST_TINT)
    near = levels.near.astype(np.float32)
    if not regions.coffee.coloured:
        return _at_pixels(rgb, light, paper, [levels.paper / contrast, 1 / contrast, np.zeros_like(contrast), near])
    spread = (0.2 * levels.uneven) ** 2 + (0.02 * levels.paper) ** 2 + (0.1 * levels.ground) ** 2 + cells.noise**2
    tint_spread = cells.tint_noise**2 + (0.3 * regions.coffee.tint) ** 2
    light_variance, tint_variance = spread / contrast**2, tint_spread / tint_contrast**2
    by_tint = levels.large * light_variance / (light_variance + tint_variance)
    offset = (1 - by_tint) * levels.paper / contrast - by_tint * levels.paper_tint / tint_contrast
    allowed = TINT_ALLOWED - TINT_GAIN * levels.paper_tint / tint_contrast + 3 * (1 - levels.large)
    reach = levels.deepest - levels.ground
    fields = [offset, (1 - by_tint) / contrast, by_tint / tint_contrast, near]
    return _at_pixels(
        rgb, light, paper, [*fields, allowed, TINT_GAIN / tint_contrast, levels.deepest / reach, 1 / reach]
    )


def _in_bands(height: int, band: Callable[[slice], None]) -> None:
    """Do something for all rows of a picture, some at a time, on two threads."""
    with ThreadPoolExecutor(2) as pool:
        list(pool.map(band, (slice(top, min(top + BAND_ROWS, height)) for top in range(0, height, BAND_ROWS))))


def _by_light(light: Image32, paper: PaperLight, levels: BareLevels) -> Image32:
    """Coverage where nothing but coffee darkens the paper."""
    result = np.empty(light.shape, np.float32)
    per_contrast = 1 / max(levels.paper - levels.ground, LEAST_CONTRAST)
    slope = as_image(cv2.divide(-per_contrast, paper.light))
    near = None if levels.near.all() else levels.near.astype(np.float32)

    def band(rows: slice) -> None:
        slopes = _enlarged(slope, rows, light.shape)
        cv2.add(cv2.multiply(light[rows], slopes), levels.paper * per_contrast, result[rows])
        if near is not None:
            _, mask = cv2.threshold(_enlarged(near, rows, light.shape), 0.5, 1.0, cv2.THRESH_BINARY)
            cv2.multiply(result[rows], mask, result[rows])

    _in_bands(light.shape[0], band)
    return result


def _at_pixels(rgb: npt.NDArray[np.uint8], light: Image32, paper: PaperLight, fields: list[Image32]) -> Image32:
    """Put the fields of the cell grid together with the pixels' own light and tint."""
    shape = rgb.shape[0], rgb.shape[1]
    result = np.empty(shape, np.float32)
    papers = as_image(cv2.merge([1 / paper.light, 1 / paper.red8, 1 / paper.blue8]))
    packs = [as_image(cv2.merge([as_image(f) for f in fields[k : k + 4]])) for k in range(0, len(fields), 4)]

    def band(rows: slice) -> None:
        per_light, per_red, per_blue = cv2.split(_enlarged(papers, rows, shape))
        red, _, blue = cv2.split(rgb[rows])
        bright = cv2.multiply(light[rows], per_light)
        tint = cv2.subtract(
            cv2.multiply(red, per_red, dtype=cv2.CV_32F), cv2.multiply(blue, per_blue, dtype=cv2.CV_32F)
        )
        offset, slope, tint_slope, near = cv2.split(_enlarged(packs[0], rows, shape))
        cover = cv2.add(cv2.subtract(offset, cv2.multiply(slope, bright)), cv2.multiply(tint_slope, tint))
        if len(packs) > 1:
            allowed, gain, surely, drop = cv2.split(_enlarged(packs[1], rows, shape))
            most = cv2.max(cv2.add(allowed, cv2.multiply(gain, tint)), cv2.subtract(surely, cv2.multiply(drop, bright)))
            cover = cv2.min(cover, cv2.max(most, 0.0))
        _, mask = cv2.threshold(near, 0.5, 1.0, cv2.THRESH_BINARY)
        cv2.multiply(cover, mask, result[rows])

    _in_bands(shape[0], band)
    return result


def _enlarged(fields: Image32, rows: slice, shape: tuple[int, ...]) -> Image32:
    """Some rows of fields (h, w, channels) brought to a picture of this shape by linear interpolation."""
    step_y, step_x = fields.shape[0] / shape[0], fields.shape[1] / shape[1]
    first = max(0, int((rows.start + 0.5) * step_y - 0.5) - 1)
    last = min(fields.shape[0], int((rows.stop + 0.5) * step_y + 0.5) + 2)
    to_field = np.array(
        [[step_x, 0, 0.5 * step_x - 0.5], [0, step_y, (rows.start + 0.5) * step_y - 0.5 - first]], np.float64
    )
    size = (shape[1], rows.stop - rows.start)
    flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    warped = cv2.warpAffine(fields[first:last], to_field, size, flags=flags, borderMode=cv2.BORDER_REPLICATE)
    return np.asarray(warped, np.float32)
