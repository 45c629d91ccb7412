"""Contact shadows: in side light the shadow side of a ground reads large, the lit side does not.

On many isolated grounds the light taken away on either side of a dense core is compared; twice the lit side is
what the grounds alone would take. The ratio is found by size and applied to all grounds of the photo.
"""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from hakari.core.photo.result import FloatArray

MIN_GROUNDS = 150
SIZE_CLASSES = 6
SMALLEST_PX, SMALL_PX, LARGE_PX = 3.5, 14.0, 30.0


def shadow_factor(
    size_px: FloatArray,
    owner: npt.NDArray[np.int32],
    dx: FloatArray,
    dy: FloatArray,
    light: FloatArray,
    isolated: npt.NDArray[np.bool_],
) -> FloatArray:
    """Factor (n,) by which each ground's area is to be multiplied; 1 where no side light shows.

    Parameters
    ----------
    size_px:
        Diameter of each ground, (n,).
    owner, dx, dy, light:
        For each pixel of the isolated grounds' basins: its ground (0-based), its offset from that ground's dense core
        in px, and its contribution to the ground's area.
    isolated:
        Grounds without neighbours near by, (n,).
    """
    n = len(size_px)
    chosen = np.flatnonzero(isolated)
    if len(chosen) < MIN_GROUNDS:
        return np.ones(n)
    total = np.maximum(np.bincount(owner, weights=light, minlength=n), 1e-6)
    lean_x = np.bincount(owner, weights=light * dx, minlength=n) / total / size_px
    lean_y = np.bincount(owner, weights=light * dy, minlength=n) / total / size_px
    mean = np.array([np.mean(lean_x[chosen]), np.mean(lean_y[chosen])])
    error = np.array([np.std(lean_x[chosen]), np.std(lean_y[chosen])]) / np.sqrt(len(chosen))
    strength = float(np.hypot(*mean))
    if strength < 0.006 or strength < 6 * float(np.hypot(*error)):
        return np.ones(n)
    towards = mean / strength
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
        return np.ones(n)
    factor = np.interp(np.log(np.maximum(size_px, 1e-3)), np.log(centres), ratios)
    # A large ground is measured at half height, where a shadow is too faint to count, and its own shading moves
    # the dense core: no correction there.
    fade = np.clip((LARGE_PX - size_px) / (LARGE_PX - SMALL_PX), 0, 1)
    return 1.0 + fade * (np.clip(factor, 0.7, 1.05) - 1.0)
