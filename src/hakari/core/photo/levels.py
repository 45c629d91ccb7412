"""Local levels of light and colour: what coffee looks like here, and what the background beside it.

Both are local means on the cell grid. In a picture without shade, as of a print or under a wide even sky, the background is
bare paper and one level of coffee serves for all; the more the paper beside grounds is shaded, the more local they become.
"""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace

import cv2
import numpy as np

from hakari.core.arrays import Image32, Mask, as_image, as_mask
from hakari.core.photo.cells import Cells
from hakari.core.photo.regions import Regions

CONTACT_GAIN, CONTACT_FLOOR = 2.9, 0.35
LEAST_CONTRAST = 0.05
BESIDE, GROUND_SIGMA, SMALL_SIGMA, FAR_SIGMA = 1.5, 3.0, 4.0, 12.0
DEEP_WINDOW = 9
# What the blurred rims of a soft picture darken of the paper beside grounds, per doubling of the cells.
SOFT_SHADE = 0.08
# Shade beside grounds up to which the background is bare paper, and from which it is wholly local.
PAPER_ONLY, ALL_LOCAL = 0.035, 0.05


@dataclass(frozen=True)
class BareLevels:
    """Levels of a picture without shade: one light of paper and one of coffee; ``near`` marks cells that are not chaff."""

    paper: float
    ground: float
    near: Mask
    shade_beside: float


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
    """Return a wide Gaussian mean, made on a grid that is coarser by a factor."""
    return as_image(cv2.resize(_coarse(image, sigma, factor), image.shape[::-1], interpolation=cv2.INTER_LINEAR))


def _coarse(image: Image32, sigma: float, factor: int = 4) -> Image32:
    size = (max(1, image.shape[1] // factor), max(1, image.shape[0] // factor))
    return _blur(as_image(cv2.resize(image, size, interpolation=cv2.INTER_AREA)), sigma / factor)


def _mean(total: Image32, weight: Image32, prior: Image32 | float, strength: float) -> Image32:
    """Weighted mean, drawn towards ``prior`` where less than ``strength`` of weight is near."""
    return as_image((total + prior * np.float32(strength)) / (weight + np.float32(strength)))


@dataclass(frozen=True)
class _Around:
    """Where the paper lies: free of grounds ``anywhere``, right ``beside`` them, ``further`` off and well ``away``.

    Masks on the cell grid; ``large`` is 1 at and round grounds large enough to show a colour, ``far``
    and ``far_tint`` are light and tint of the paper over a wide neighbourhood.
    """

    taken: Mask
    anywhere: Mask
    beside: Mask
    further: Mask
    away: Mask
    large: Image32
    far: Image32
    far_tint: Image32


def _look_around(cells: Cells, regions: Regions) -> _Around:
    core = regions.core
    taken = _grown(core, 5) | _grown(regions.speck, 3) | _grown(regions.chaff, 3)
    free = (cells.inside & (taken == 0)).view(np.uint8)
    with ThreadPoolExecutor(1) as pool:
        paper = pool.submit(_far_paper, cells, free.astype(np.float32))
        first, second = _grown(taken, 3), _grown(taken, 7)
        beside, away = free & first, free & (1 - first)
        further = free & second & (1 - first)
        small = cv2.morphologyEx(core, cv2.MORPH_OPEN, _ellipse(3))
        large = _blur(cv2.dilate(small, _ellipse(7)).astype(np.float32), 1.0)
        far, far_tint = paper.result()
    return _Around(taken, free, beside, further, away, large, far, far_tint)


def _far_paper(cells: Cells, anywhere: Image32) -> tuple[Image32, Image32]:
    """Light and tint of the paper over a wide neighbourhood."""
    weight = _coarse(anywhere, FAR_SIGMA)
    light, tint = (_coarse(v * anywhere, FAR_SIGMA) for v in (cells.light, cells.tint))
    fields = _mean(light, weight, 1.0, 0.001), _mean(tint, weight, 0.0, 0.001)
    size = anywhere.shape[::-1]
    light, tint = (as_image(cv2.resize(field, size, interpolation=cv2.INTER_LINEAR)) for field in fields)
    return light, tint


def _shade_beside(cells: Cells, around: _Around) -> float:
    """By what share the paper right beside large grounds is darker than paper in general, beyond what blur explains."""
    beside_large = (around.beside > 0) & (around.large > 0.3)
    if not beside_large.any():
        return 0.0
    shade = 1 - cells.light[beside_large] / around.far[beside_large]
    return max(0.0, float(shade.mean()) - SOFT_SHADE * (cells.size_px / 2 - 1))


def find_levels(cells: Cells, regions: Regions) -> Levels | BareLevels:
    """Estimate the light and the tint of coffee and of its local background, cell by cell.

    Parameters
    ----------
    cells : Cells
        The picture on the cell grid.
    regions : Regions
        Grounds, specks and chaff on it.

    Returns
    -------
    Levels or BareLevels
        Local levels.
    """
    around = _look_around(cells, regions)
    shade = _shade_beside(cells, around)
    local = float(np.clip((shade - PAPER_ONLY) / (ALL_LOCAL - PAPER_ONLY), 0, 1))
    if regions.shadow.light > 0:
        local = 1.0
    if local == 0:
        return _bare_levels(cells, regions, around, shade)
    levels = _local_levels(cells, regions, around, shade)
    if local == 1:
        return levels
    bare = _bare_levels(cells, regions, around, shade)
    paper, ground = (
        as_image(cv2.addWeighted(of_cells, local, of_cells, 0.0, (1 - local) * everywhere))
        for of_cells, everywhere in ((levels.paper, bare.paper), (levels.ground, bare.ground))
    )
    return replace(levels, paper=paper, ground=ground, large=as_image(levels.large * local), near=bare.near)


def _bare_levels(cells: Cells, regions: Regions, around: _Around, shade_beside: float) -> BareLevels:
    some = np.s_[::3, ::3]
    away = cells.light[some][around.away[some] > 0]
    inner = cells.light[cv2.erode(regions.core, _ellipse(3)) > 0]
    return BareLevels(
        float(np.median(away)) if away.size else 1.0,
        float(np.median(inner)) if inner.size else regions.coffee.light,
        1 - _at_chaff(regions),
        shade_beside,
    )


def _at_chaff(regions: Regions) -> Mask:
    """Flakes and their rims, where no ground lies."""
    return _grown(regions.chaff, 3) & (1 - _grown(regions.core, 5)) | regions.chaff


def _local_levels(cells: Cells, regions: Regions, around: _Around, shade_beside: float) -> Levels:
    with ThreadPoolExecutor(1) as pool:
        coffee = pool.submit(_ground_levels, cells, regions.core)
        beside, further, away = (as_image(mask) for mask in (around.beside, around.further, around.away))
        w_beside, w_further = _blur(beside, BESIDE), _blur(further, 1.3 * BESIDE)
        near_light = _mean(_blur(cells.light * beside, BESIDE), w_beside, around.far, 0.002)
        next_light = _mean(_blur(cells.light * further, 1.3 * BESIDE), w_further, near_light, 0.002)
        paper_tint = _mean(_blur(cells.tint * beside, BESIDE), w_beside, around.far_tint, 0.002)
        # A small ground shades its own surroundings: its paper is looked up further away, and its shade taken off later.
        light_away = _coarse_blur(cells.light * away, SMALL_SIGMA, 2)
        open_light = _mean(light_away, _coarse_blur(away, SMALL_SIGMA, 2), around.far, 0.003)
        ground, ground_tint = coffee.result()
    rise = next_light - near_light
    # A shadow goes on getting deeper towards the contact.
    contact = near_light - CONTACT_GAIN * np.maximum(rise, 0)
    above_ground = ground + LEAST_CONTRAST
    contact = np.maximum(contact, np.maximum(CONTACT_FLOOR * near_light, above_ground))
    open_light = np.maximum(open_light, above_ground)
    paper = open_light + around.large * (contact - open_light)

    # The umbra right at a ground is not among what is free of grounds, but recognised by its lack of colour.
    seen = as_image(around.anywhere | regions.colourless)
    shaded = as_image(np.maximum(np.minimum(cells.light, 1), 1 - seen))
    most = 0.9 * regions.shadow.light if regions.shadow.light > 0 else 1.0
    deepest = np.minimum(np.minimum(cv2.erode(shaded, _ellipse(DEEP_WINDOW)), paper), most)
    deepest = np.maximum(deepest, ground + 0.8 * LEAST_CONTRAST)
    near = _grown(around.taken, 5) & (1 - _at_chaff(regions))
    return Levels(
        as_image(paper), ground, paper_tint, ground_tint, as_image(deepest), around.large, np.abs(rise),
        near, shade_beside,
    )  # fmt: skip


def _ground_levels(cells: Cells, core: Mask) -> tuple[Image32, Image32]:
    """Local mean light and tint inside grounds; the picture's usual ones where no ground is near."""
    inner = cv2.erode(core, _ellipse(3))
    known = (inner if inner.any() else core) > 0
    mask = inner.astype(np.float32)
    weight = _coarse_blur(mask, GROUND_SIGMA, 2)
    found = []
    for values in (cells.light, cells.tint):
        usual = float(np.median(values[known])) if known.any() else float(values.min())
        found.append(_mean(_coarse_blur(values * mask, GROUND_SIGMA, 2), weight, usual, 0.01))
    return found[0], found[1]
