"""Contact shadows: what a lamp from one side darkens of the paper next to each ground, found and taken off.

The shadow is the grounds' own outline, moved away from the lamp, softened and weakened: S = s · (c ∗ G(Δ, τ)), with c the
share that coffee covers. Depth s, shift Δ and softness τ are fitted to the paper beside the grounds, where the lens's blur
no longer reaches, and S is then taken off up to the grounds' very edges, where it would have made them read large.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
import numpy.typing as npt
from scipy.optimize import least_squares

from hakari.core.photo.detect import Sharpness
from hakari.core.photo.flatten import Image32
from hakari.core.photo.result import FloatArray

GROUND = 0.4  # coverage that is a ground, not a shadow
EDGE = 0.5
RING_PX, BROAD_PX = 14.0, 10.0
# A photo is judged on some square tiles at half its size; shadows reach over from beyond a tile's margin.
TILE, MARGIN, MOST_TILES, FEWEST_TILES = 160, 20, 24, 4
LEAST_PULL_PX, LEAST_SIGNIFICANCE = 0.12, 4.0
LEAST_SHIFT_PX, FIRST_SHIFT_PX, FIRST_SOFTNESS_PX = 1.5, 6.0, 4.0
SOFTNESS_PX, DEPTHS = (0.8, 15.0), (0.01, 0.6)
BAND_ROWS = 512


@dataclass(frozen=True)
class ContactShadow:
    """Depth (share of the light taken away), shift away from the lamp and Gaussian softness of the shadows, px."""

    depth: float
    dx_px: float
    dy_px: float
    softness_px: float


def without_contact_shadows(coverage: Image32, sharp: Sharpness) -> Image32:
    """Coverage (height, width) without the grounds' shadows; the same array when none shows."""
    shadow = find_contact_shadow(coverage, sharp)
    return coverage if shadow is None else take_off(coverage, shadow, sharp)


def find_contact_shadow(coverage: Image32, sharp: Sharpness) -> ContactShadow | None:
    """Fit the photo's shadows; ``None`` when the paper is not significantly darker on one side of the grounds."""
    half = cv2.resize(coverage, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA)
    sheet = _tiles(np.asarray(half, np.float32))
    if sheet is None:
        return None
    grounds = _grounds(sheet)
    ring = _ring(sheet, sharp.blur_sigma_px / 2)
    guess = _first_guess(sheet, grounds, ring)
    found = guess and _fitted(guess, sheet, grounds, ring)
    return found and ContactShadow(found.depth, 2 * found.dx_px, 2 * found.dy_px, 2 * found.softness_px)


def take_off(coverage: Image32, shadow: ContactShadow, sharp: Sharpness) -> Image32:
    """Coverage (height, width) without these shadows.

    A shadow falls on the paper alone, and the lens then blurs it over the grounds' edges.
    """
    result = np.empty_like(coverage)
    blur_px = sharp.blur_sigma_px
    # Fitted behind the lens; before it, the shadow was as much less soft.
    softness_px = float(np.sqrt(max(shadow.softness_px**2 - blur_px**2, 1.0)))
    reach = int(np.ceil(np.hypot(shadow.dx_px, shadow.dy_px) + 4 * softness_px + 4 * blur_px)) + 2
    for top in range(0, len(coverage), BAND_ROWS):
        low, end = max(0, top - reach), min(len(coverage), top + BAND_ROWS)
        band = coverage[low : end + reach]
        grounds = _grounds(band)
        on_paper = shadow.depth * (1 - grounds) * _cast(grounds, shadow.dx_px, shadow.dy_px, softness_px)
        dark = cv2.GaussianBlur(on_paper, (0, 0), blur_px)
        result[top:end] = band[top - low : end - low] - dark[top - low : end - low]
    return result


def _tiles(half: Image32) -> Image32 | None:
    """The tiles with most grounds in them, one below the other, (n·TILE, TILE); ``None`` when too few have any."""
    rows, columns = half.shape[0] // TILE, half.shape[1] // TILE
    if rows * columns < FEWEST_TILES:
        return None
    grid = half[: rows * TILE, : columns * TILE].reshape(rows, TILE, columns, TILE)
    squares = grid.swapaxes(1, 2).reshape(-1, TILE, TILE)
    share = np.count_nonzero(squares > GROUND, axis=(1, 2)) / TILE**2
    chosen = np.flatnonzero((share > 0.01) & (share < 0.4))
    if len(chosen) < FEWEST_TILES:
        return None
    chosen = chosen[np.argsort(-share[chosen], kind="stable")][:MOST_TILES]
    return np.ascontiguousarray(squares[chosen]).reshape(-1, TILE)


def _grounds(coverage: Image32) -> Image32:
    """1 where a ground lies; a lower level would take the darkest part of its shadow for a part of it."""
    return (coverage > EDGE).astype(np.float32)


def _ring(sheet: Image32, blur_px: float) -> npt.NDArray[np.int64]:
    """Indices of paper pixels beside grounds that the blurred rims do not reach, away from the tiles' margins."""
    far = cv2.distanceTransform((sheet <= GROUND).astype(np.uint8), cv2.DIST_L2, 5)
    nearest = 2.6 * blur_px + 0.35
    ring = (far > nearest) & (far < nearest + RING_PX / 2) & (sheet < GROUND)
    inner = np.zeros((TILE, TILE), np.bool_)
    inner[MARGIN:-MARGIN, MARGIN:-MARGIN] = True
    found = np.flatnonzero(ring & np.tile(inner, (len(sheet) // TILE, 1)))
    return found[:: 1 + len(found) // 60000]


def _cast(grounds: Image32, dx_px: float, dy_px: float, softness_px: float) -> Image32:
    """The shadow of depth 1."""
    move = np.array([[1, 0, dx_px], [0, 1, dy_px]], np.float32)
    moved = cv2.warpAffine(grounds, move, (grounds.shape[1], grounds.shape[0]))
    return np.asarray(cv2.GaussianBlur(moved, (0, 0), softness_px), np.float32)


def _first_guess(sheet: Image32, grounds: Image32, ring: npt.NDArray[np.int64]) -> ContactShadow | None:
    """The way in which the paper darkens most, from the slopes of the softened grounds, tile by tile."""
    soft = cv2.GaussianBlur(grounds, (0, 0), BROAD_PX / 4)
    slopes = [cv2.Sobel(soft, cv2.CV_32F, *order, ksize=3, scale=1 / 8).ravel()[ring] for order in ((1, 0), (0, 1))]
    broad = cv2.GaussianBlur(grounds, (0, 0), BROAD_PX / 2).ravel()[ring]
    table = np.column_stack([*slopes, broad, np.ones(len(ring))]).astype(np.float64)
    dark = sheet.ravel()[ring].astype(np.float64)
    tile = ring // TILE**2
    pulls = []
    for t in np.unique(tile):
        own = table[tile == t]
        if len(own) > 100:
            pulls.append(-np.linalg.lstsq(own, dark[tile == t], rcond=None)[0][:2])
    if len(pulls) < FEWEST_TILES:
        return None
    pull = np.mean(pulls, axis=0)
    error = float(np.hypot(*np.std(pulls, axis=0)) / np.sqrt(len(pulls)))
    strength = float(np.hypot(*pull))
    # In half-size pixels, as all lengths of the sheet.
    if strength < LEAST_PULL_PX / 2 or strength < LEAST_SIGNIFICANCE * error:
        return None
    dx, dy = FIRST_SHIFT_PX / 2 * pull / strength
    return ContactShadow(0.2, float(dx), float(dy), FIRST_SOFTNESS_PX / 2)


def _fitted(
    guess: ContactShadow, sheet: Image32, grounds: Image32, ring: npt.NDArray[np.int64]
) -> ContactShadow | None:
    """Least squares over shift and softness; depth, and what flattening left of a broad shade, follow linearly."""
    dark = sheet.ravel()[ring].astype(np.float64)
    others = np.column_stack([cv2.GaussianBlur(grounds, (0, 0), BROAD_PX / 2).ravel()[ring], np.ones(len(ring))])

    def depths(shape: FloatArray) -> tuple[FloatArray, FloatArray]:
        cast = _cast(grounds, shape[0], shape[1], float(np.exp(shape[2]))).ravel()[ring]
        table = np.column_stack([cast, others]).astype(np.float64)
        amounts = np.linalg.solve(table.T @ table + 1e-9 * np.eye(3), table.T @ dark)
        return np.asarray(amounts), np.asarray(dark - table @ amounts)

    # Steps of the numerical slope must be felt by the warp, which moves by 1/32 px.
    best = least_squares(
        lambda shape: depths(shape)[1], [guess.dx_px, guess.dy_px, np.log(guess.softness_px)], diff_step=0.06,
        bounds=([-20, -20, np.log(SOFTNESS_PX[0] / 2)], [20, 20, np.log(SOFTNESS_PX[1] / 2)]), xtol=1e-3, ftol=1e-6,
        max_nfev=12,
    )  # fmt: skip
    depth = float(depths(best.x)[0][0])
    if not DEPTHS[0] <= depth <= DEPTHS[1] or np.hypot(best.x[0], best.x[1]) < LEAST_SHIFT_PX / 2:
        return None
    return ContactShadow(depth, float(best.x[0]), float(best.x[1]), float(np.exp(best.x[2])))
