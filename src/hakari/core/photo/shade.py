"""Contact shadows: in side light the shadow side of a ground reads large, the lit side does not.

On many isolated grounds the light taken away on either side of a dense core is compared; twice the lit side is
what the grounds alone would take. The ratio is found by size and applied to all grounds of the photo.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from hakari.core.photo.result import FloatArray

MIN_GROUNDS = 60
SIZE_CLASSES = 6
SMALLEST_PX, SMALL_PX, LARGE_PX = 3.5, 14.0, 22.0
MIN_LARGE = 25
# How far the half-height line moves against how much the rim widens: 2.35 for a step of shadow beside a blurred edge; a
# shadow that is itself soft widens the rim less, the more so the wider the edge. Found on simulated pictures.
RIM_GAIN, RIM_SIGMA_PX, RIM_POWER = 2.9, 1.5, 1.5


@dataclass(frozen=True)
class Rim:
    """Pixels between half and three quarters of their ground's height: owner (0-based), offset from its middle, px."""

    owner: npt.NDArray[np.int32]
    dx: FloatArray
    dy: FloatArray


def shadow_factor(
    size_px: FloatArray,
    owner: npt.NDArray[np.int32],
    dx: FloatArray,
    dy: FloatArray,
    light: FloatArray,
    isolated: npt.NDArray[np.bool_],
    rim: Rim,
    blur_sigma_px: float,
) -> FloatArray:
    """Factor (n,) by which each ground's area is to be multiplied; 1 where no side light shows.

    Small grounds by the light of their two sides; large ones, which are measured at half height, by how much
    wider the rim between half and three quarters of the height is on the side of the shadow.

    Parameters
    ----------
    size_px:
        Diameter of each ground, (n,).
    owner, dx, dy, light:
        For each pixel of the isolated grounds' basins: its ground (0-based), its offset from that ground's dense core
        in px, and its contribution to the ground's area.
    isolated:
        Small grounds without neighbours near by, (n,).
    rim:
        The rims of large grounds.
    blur_sigma_px:
        Blur of the photo.
    """
    fade = np.clip((LARGE_PX - size_px) / (LARGE_PX - SMALL_PX), 0, 1)
    small, towards = _small_factor(size_px, owner, dx, dy, light, isolated)
    return np.asarray(fade * small + (1 - fade) * _rim_factor(size_px, rim, towards, blur_sigma_px))


def _direction(lean_x: FloatArray, lean_y: FloatArray, least: float) -> FloatArray | None:
    """Unit vector of the mean lean of some grounds, or ``None`` when it is not significant or less than ``least``."""
    mean = np.array([np.mean(lean_x), np.mean(lean_y)])
    error = np.array([np.std(lean_x), np.std(lean_y)]) / np.sqrt(len(lean_x))
    strength = float(np.hypot(*mean))
    if strength < least or strength < 4.5 * float(np.hypot(*error)):
        return None
    return np.asarray(mean / strength)


def _small_factor(
    size_px: FloatArray,
    owner: npt.NDArray[np.int32],
    dx: FloatArray,
    dy: FloatArray,
    light: FloatArray,
    isolated: npt.NDArray[np.bool_],
) -> tuple[FloatArray, FloatArray | None]:
    """Factor (n,) from twice the lit side of small grounds, by size, and the direction that their shadows fall in."""
    n = len(size_px)
    chosen = np.flatnonzero(isolated)
    if len(chosen) < MIN_GROUNDS:
        return np.ones(n), None
    total = np.maximum(np.bincount(owner, weights=light, minlength=n), 1e-6)
    lean_x = np.bincount(owner, weights=light * dx, minlength=n) / total / size_px
    lean_y = np.bincount(owner, weights=light * dy, minlength=n) / total / size_px
    towards = _direction(lean_x[chosen], lean_y[chosen], 0.006)
    if towards is None:
        return np.ones(n), None
    side = dx * towards[0] + dy * towards[1]
    # A pixel that straddles the dividing line counts for both sides.
    lit = np.bincount(owner, weights=light * np.clip(0.5 - side, 0, 1), minlength=n)
    edges = np.unique(np.quantile(size_px[chosen], np.linspace(0, 1, SIZE_CLASSES + 1)))
    centres, ratios = [], []
    for low, high in zip(edges[:-1], edges[1:], strict=True):
        group = chosen[(size_px[chosen] >= low) & (size_px[chosen] <= high)]
        if len(group) >= 15:
            centres.append(float(np.median(size_px[group])))
            ratios.append(float(np.median(2 * lit[group] / total[group])))
    if not centres:
        return np.ones(n), towards
    factor = np.interp(np.log(np.maximum(size_px, 1e-3)), np.log(centres), ratios)
    return np.clip(factor, 0.7, 1.05), towards


def _rim_factor(size_px: FloatArray, rim: Rim, towards: FloatArray | None, blur_sigma_px: float) -> FloatArray:
    """Factor (n,) for grounds measured at half height, ``towards`` the small grounds' shadows where they show any.

    A shadow of depth s beside an edge blurred by σ moves the half-height line out by about 2.35 times as much as it
    widens the rim between half and three quarters of the height (exact for s = 0.2; 2.2 to 2.5 for 0.3 and 0.1).
    """
    n = len(size_px)
    judged = np.flatnonzero((size_px > SMALL_PX) & (np.bincount(rim.owner, minlength=n) >= 8))
    if len(judged) < MIN_LARGE:
        return np.ones(n)
    reach = np.maximum(np.hypot(rim.dx, rim.dy), 1e-6)
    lean_x = np.bincount(rim.owner, weights=rim.dx / reach, minlength=n)[judged] / size_px[judged]
    lean_y = np.bincount(rim.owner, weights=rim.dy / reach, minlength=n)[judged] / size_px[judged]
    if towards is None:
        towards = _direction(lean_x, lean_y, 0.0)
    if towards is None:
        return np.ones(n)
    side = np.sign(rim.dx * towards[0] + rim.dy * towards[1])
    excess = np.bincount(rim.owner, weights=side, minlength=n)
    # The error in area grows with the circumference: one number for the photo, per pixel of diameter.
    wider = float(np.median(excess[judged] / size_px[judged]))
    gain = RIM_GAIN * max(1.0, blur_sigma_px / RIM_SIGMA_PX) ** RIM_POWER
    return np.asarray(np.clip(1.0 - gain * max(wider, 0.0) / (np.pi / 4 * np.maximum(size_px, 1.0)), 0.8, 1.0))
