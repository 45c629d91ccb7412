"""Small grounds freed from the shade that they cast round themselves.

A ground of a few pixels cannot show its own shadow apart from itself: the darkening round it is summed with it. Its share was
measured on path-traced grounds with a height of 0.6 to 0.7 of their width, in windows, lamps and open sky: all lights
darken the paper round a small ground by 0.2 to 0.35 of its own area. One number is taken for all, and only where the paper
beside the picture's larger grounds is darkened at all; on flat prints it is not.
"""

from __future__ import annotations

import numpy as np

from hakari.core.arrays import FloatArray

SHADE_SHARE = 0.33
# Paper beside large grounds is darker by this much where the correction begins, and where it is whole.
SHADE_FROM, SHADE_WHOLE = 0.04, 0.09
# Widths of the blur across, up to which all and from which none of it applies.
ALL_SIGMAS, NONE_SIGMAS = 8.0, 17.0


def without_own_shade(area_px: FloatArray, blur_sigma_px: float, shade_beside: float) -> FloatArray:
    """Areas of grounds without the shade that was summed with the small ones.

    Parameters
    ----------
    area_px : ndarray, shape (n,)
        Measured areas, px.
    blur_sigma_px : float
        Blur of the picture, px.
    shade_beside : float
        By what share the paper right beside the picture's larger grounds is darker than paper away from them.

    Returns
    -------
    ndarray, shape (n,)
        Corrected areas, px.
    """
    whole = float(np.clip((shade_beside - SHADE_FROM) / (SHADE_WHOLE - SHADE_FROM), 0, 1))
    sigmas = np.sqrt(4 * area_px / np.pi) / max(blur_sigma_px, 0.4)
    share = np.clip((NONE_SIGMAS - sigmas) / (NONE_SIGMAS - ALL_SIGMAS), 0, 1)
    smaller = 1 - share * (1 - 1 / np.sqrt(1 + SHADE_SHARE * whole))
    return np.asarray(area_px * smaller**2)
