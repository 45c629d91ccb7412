"""How much coffee covers each pixel, with shadow taken for what it is: darkened paper.

The edge of a ground is where the light is halfway between the ground's own level and the local background: bright paper on
one side, shadow on the other. Both levels are local means on the cell grid. Where a shadow is nearly as dark as the
ground, colour decides; beside large grounds nothing counts as coffee that has the colour of shadowed paper.
"""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import cv2
import numpy as np
import numpy.typing as npt

from hakari.core.photo.arrays import Image32, Mask, as_image, as_mask
from hakari.core.photo.decode import BAND_ROWS
from hakari.core.photo.paper import PaperLight
from hakari.core.photo.regions import Cells, Regions

CONTACT_GAIN, CONTACT_FLOOR = 2.2, 0.35
LEAST_CONTRAST, LEAST_TINT = 0.05, 0.02
BESIDE, GROUND_SIGMA, SMALL_SIGMA, FAR_SIGMA = 1.5, 3.0, 4.0, 12.0
TINT_GAIN, TINT_ALLOWED = 3.0, 0.15
DEEP_WINDOW = 9
SOFT_SHADE = (
    0.05  # what the blurred rims of a soft picture darken of the paper beside grounds, per doubling of the cells
)


@dataclass(frozen=True)
class Levels:
    """Local levels on the cell grid.

    ``paper`` is the light of the background beside a ground and ``ground`` that of coffee, ``paper_tint`` and
    ``ground_tint`` the same in tint; ``deepest`` is the darkest shadow near by; ``large`` is 1 at grounds large enough to
    show their colour; ``uneven`` is by how much the light changes beside a ground; ``near`` marks cells that a ground may
    reach. ``shade_beside`` is by what share paper beside large grounds is darker than away from them.
    """

    paper: Image32
    ground: Image32
    paper_tint: Image32
    ground_tint: Image32
    deepest: Image32
    large: Image32
    uneven: Image32
    near: Mask
    shade_beside: float


def _ellipse(width: int) -> Mask:
    return np.asarray(cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (width, width)), np.uint8)


def _grown(mask: Mask, width: int) -> Mask:
    return as_mask(cv2.dilate(mask, _ellipse(width)))


def _blur(image: Image32, sigma: float) -> Image32:
    return np.asarray(cv2.GaussianBlur(image, (0, 0), sigma), np.float32)


def _coarse_blur(image: Image32, sigma: float, factor: int = 4) -> Image32:
    """A wide Gaussian mean, made on a grid that is coarser by a factor."""
    size = (max(1, image.shape[1] // factor), max(1, image.shape[0] // factor))
    small = _blur(np.asarray(cv2.resize(image, size, interpolation=cv2.INTER_AREA), np.float32), sigma / factor)
    return np.asarray(cv2.resize(small, image.shape[::-1], interpolation=cv2.INTER_LINEAR), np.float32)


def _ratio(total: Image32, weight: Image32, least: float, fallback: Image32 | float) -> Image32:
    mean = np.divide(total, np.maximum(weight, np.float32(1e-6)))
    np.copyto(mean, np.float32(fallback), where=weight <= least)
    return np.asarray(mean, np.float32)


def find_levels(cells: Cells, regions: Regions) -> Levels:
    """Estimate the light and the tint of coffee and of its local background, cell by cell.

    Parameters
    ----------
    cells : Cells
        The picture on the cell grid.
    regions : Regions
        Grounds, specks and chaff on it.
    """
    core, chaff = regions.core, regions.chaff
    taken = _grown(core, 5) | _grown(regions.speck, 3) | _grown(chaff, 3)
    free = (cells.inside & (taken == 0)).astype(np.uint8)
    first, second = _grown(taken, 3), _grown(taken, 7)
    beside = (free & first).astype(np.float32)
    further = (free & second & (1 - first)).astype(np.float32)
    anywhere = free.astype(np.float32)
    away = anywhere * (1 - first)

    small = cv2.morphologyEx(core, cv2.MORPH_OPEN, _ellipse(3))
    large = _blur(cv2.dilate(small, _ellipse(7)).astype(np.float32), 1.0)
    light, tint = cells.light, cells.tint
    w_beside, w_further, w_far = _blur(beside, BESIDE), _blur(further, 1.3 * BESIDE), _coarse_blur(anywhere, FAR_SIGMA)
    far = _ratio(_coarse_blur(light * anywhere, FAR_SIGMA), w_far, 0.005, 1.0)
    far_tint = _ratio(_coarse_blur(tint * anywhere, FAR_SIGMA), w_far, 0.005, 0.0)
    near_light = _ratio(_blur(light * beside, BESIDE), w_beside, 0.02, far)
    next_light = _ratio(_blur(light * further, 1.3 * BESIDE), w_further, 0.02, near_light)
    uneven = np.abs(next_light - near_light)

    ground, ground_tint = _ground_levels(cells, core)
    # A shadow goes on getting deeper towards the contact.
    contact = near_light - CONTACT_GAIN * np.maximum(next_light - near_light, 0)
    contact = np.maximum(contact, np.maximum(CONTACT_FLOOR * near_light, ground + LEAST_CONTRAST))
    # A small ground shades its own surroundings: its paper is looked up further away, and its shade taken off later.
    open_light = _ratio(_coarse_blur(light * away, SMALL_SIGMA, 2), _coarse_blur(away, SMALL_SIGMA, 2), 0.03, far)
    paper = large * contact + (1 - large) * np.maximum(open_light, ground + LEAST_CONTRAST)
    paper_tint = _ratio(_blur(tint * beside, BESIDE), w_beside, 0.02, far_tint)

    shaded = np.maximum(np.minimum(light, np.float32(1)), 1 - anywhere)
    deepest = np.minimum(cv2.erode(shaded, _ellipse(DEEP_WINDOW)), paper)
    deepest = np.minimum(deepest, 0.9 * regions.shadow.light if regions.shadow.light > 0 else 1.0)
    beside_large = (beside[::2, ::2] > 0) & (large[::2, ::2] > 0.3)
    shade = 1 - light[::2, ::2][beside_large] / far[::2, ::2][beside_large]
    deepest = np.maximum(deepest, ground + 0.8 * LEAST_CONTRAST).astype(np.float32)
    near = _grown(taken, 5)
    near[(_grown(chaff, 3) > 0) & (_grown(core, 5) == 0)] = 0
    near[chaff > 0] = 0
    return Levels(
        paper.astype(np.float32), ground, paper_tint, ground_tint, deepest, large, uneven.astype(np.float32), near,
        max(0.0, float(shade.mean()) - SOFT_SHADE * (cells.size_px / 2 - 1)) if shade.size else 0.0,
    )  # fmt: skip


def _ground_levels(cells: Cells, core: Mask) -> tuple[Image32, Image32]:
    """Local mean light and tint inside grounds; the picture's usual ones where no ground is near."""
    inner = cv2.erode(core, _ellipse(3))
    known = inner if inner.any() else core
    weight = _blur(inner.astype(np.float32), GROUND_SIGMA)
    trust = np.clip(weight / 0.05, 0, 1)
    found = []
    for values in (cells.light, cells.tint):
        usual = float(np.median(values[known > 0])) if known.any() else float(values.min())
        mean = _blur(values * inner, GROUND_SIGMA) / np.maximum(weight, 1e-6)
        found.append((trust * mean + (1 - trust) * usual).astype(np.float32))
    return found[0], found[1]


def coverage_of(
    rgb: npt.NDArray[np.uint8], light: Image32, paper: PaperLight, cells: Cells, regions: Regions, levels: Levels
) -> Image32:
    """Share of each pixel that coffee covers, (height, width); not clipped, so that noise keeps a mean of zero.

    Light and tint are each read as a share of the way from paper to coffee, and weighted by the inverse of their variance.
    """
    contrast = np.maximum(levels.paper - levels.ground, LEAST_CONTRAST)
    tint_contrast = np.maximum(levels.ground_tint - levels.paper_tint, LEAST_TINT)
    by_tint = np.zeros_like(contrast)
    if regions.coffee.coloured:
        spread = (0.2 * levels.uneven) ** 2 + (0.02 * levels.paper) ** 2 + (0.1 * levels.ground) ** 2 + cells.noise**2
        tint_spread = cells.tint_noise**2 + (0.3 * regions.coffee.tint) ** 2
        light_variance, tint_variance = spread / contrast**2, tint_spread / tint_contrast**2
        by_tint = levels.large * light_variance / (light_variance + tint_variance)
    offset = (1 - by_tint) * levels.paper / contrast - by_tint * levels.paper_tint / tint_contrast
    fields = [offset, (1 - by_tint) / contrast, by_tint / tint_contrast]
    fields = [*fields, levels.near.astype(np.float32)]
    if regions.coffee.coloured:
        allowed = TINT_ALLOWED - TINT_GAIN * levels.paper_tint / tint_contrast + 3 * (1 - levels.large)
        reach = levels.deepest - levels.ground
        fields += [allowed, TINT_GAIN / tint_contrast, levels.deepest / reach, 1 / reach]
    return _at_pixels(rgb, light, paper, fields)


def _at_pixels(rgb: npt.NDArray[np.uint8], light: Image32, paper: PaperLight, fields: list[Image32]) -> Image32:
    """Put the fields of the cell grid together with the pixels' own light and tint, bands of rows on two threads."""
    shape = rgb.shape[0], rgb.shape[1]
    result = np.empty(shape, np.float32)
    papers = as_image(cv2.merge([1 / paper.light, 1 / paper.red8, 1 / paper.blue8]))
    packs = [as_image(cv2.merge([as_image(f) for f in fields[k : k + 4]])) for k in range(0, len(fields), 4)]

    def band(top: int) -> None:
        rows = slice(top, min(top + BAND_ROWS, shape[0]))
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
            cover = np.minimum(cover, np.maximum(most, np.float32(0)))
        _, mask = cv2.threshold(near, 0.5, 1.0, cv2.THRESH_BINARY)
        cv2.multiply(cover, mask, result[rows])

    with ThreadPoolExecutor(2) as pool:
        list(pool.map(band, range(0, shape[0], BAND_ROWS)))
    return result


def _enlarged(fields: Image32, rows: slice, shape: tuple[int, int]) -> Image32:
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
