"""What more photos would buy: how far the interval narrows, and what counts between two samples in one light."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hakari.core.psd.intervals import Intervals
from hakari.core.psd.photo_variance import PRIOR_TAU, photos_needed

WANTED_HALF_WIDTH = 0.02
# Photos are not worth taking where any number of them narrows an interval by less than a tenth.
WORTH_NARROWING = 0.1
# Photos of one light err alike: this is what they differ by beyond counting, a standard error (docs/accuracy.md).
SAME_LIGHT_ERROR = 0.01


@dataclass(frozen=True)
class PhotoRequirement:
    """What more photos would buy: the relative half width of D50's interval now, and how many more halve the doubt.

    ``more_photos`` brings the half width to ``wanted``; ``None`` when no reasonable number does.
    """

    half_width: float
    wanted: float
    more_photos: int | None


def required_photos(
    intervals: Intervals, photos: int, light_error: float = 0.0, wanted: float = WANTED_HALF_WIDTH
) -> PhotoRequirement:
    """Return how many more photos in the same light bring D50 within ``wanted``, a share.

    More photos reduce the error of counting, not that of the light.

    Parameters
    ----------
    intervals : Intervals
        95 % intervals of the figures.
    photos : int
        How many photos.
    light_error : float
        Standard error of sizes because of light, as a share.
    wanted : float
        Half width that is wanted, as a share.

    Returns
    -------
    PhotoRequirement
        How many more photos in the same light bring D50 within ``wanted``, a share.
    """
    low, high = intervals.d50_um
    half = float(np.sqrt(high / low) - 1)
    return PhotoRequirement(half, wanted, photos_to_narrow(half, photos, light_error, wanted))


def photos_to_narrow(half_width: float, photos: int, light_error: float, wanted: float) -> int | None:
    """Return how many more photos in the same light bring an interval to the wanted half width.

    Parameters
    ----------
    half_width : float
        Half width of the 95 % interval, as a share.
    photos : int
        How many photos.
    light_error : float
        Standard error of sizes because of light, as a share.
    wanted : float
        Half width that is wanted, as a share.

    Returns
    -------
    int or None
        The number; ``None`` where no reasonable one is enough.
    """
    counting, light = _parts_of(half_width, light_error)
    return None if light >= wanted else photos_needed(counting, photos, float(np.sqrt(wanted**2 - light**2)))


def same_light_half_width(half_width: float, light_error: float, photos: int) -> float:
    """Return the half width that counts when a sample is compared with another one in the same light.

    Most of the error of light is shared by both, so that two settings can be distinguished by less than the uncertainty of
    either. One photo alone does not show how far pinches of its grind differ: what they usually differ by is added.

    Parameters
    ----------
    half_width : float
        Half width of the 95 % interval, as a share.
    light_error : float
        Standard error of sizes because of light, as a share.
    photos : int
        How many photos.

    Returns
    -------
    float
        Half width of the part that is not shared, as a share.
    """
    counting, _ = _parts_of(half_width, light_error)
    return float(np.hypot(counting, 1.96 * unshared_error(light_error, photos)))


def unshared_error(light_error: float, photos: int) -> float:
    """Return the standard error beyond counting that two samples in one light do not share.

    Parameters
    ----------
    light_error : float
        Standard error of sizes because of light, as a share.
    photos : int
        How many photos.

    Returns
    -------
    float
        Standard error, as a share.
    """
    pinch = PRIOR_TAU if photos == 1 else 0.0
    return float(np.hypot(min(light_error, SAME_LIGHT_ERROR), pinch))


def half_width_with_more(half_width: float, light_error: float, photos: int, more: int) -> float:
    """Relative half width of D50's interval after ``more`` photos in the same light; counting alone narrows.

    Parameters
    ----------
    half_width : float
        Half width of the 95 % interval, as a share.
    light_error : float
        Standard error of sizes because of light, as a share.
    photos : int
        How many photos.
    more : int
        How many more photos.

    Returns
    -------
    float
        Relative half width of D50's interval after ``more`` photos in the same light.
    """
    counting, light = _parts_of(half_width, light_error)
    return float(np.hypot(counting * np.sqrt(photos / (photos + more)), light))


def is_limited_by_light(half_width: float, light_error: float) -> bool:
    """Whether even any number of further photos in the same light narrows an interval by less than a tenth.

    Parameters
    ----------
    half_width : float
        Half width of the 95 % interval, as a share.
    light_error : float
        Standard error of sizes because of light, as a share.

    Returns
    -------
    bool
        Whether what is left of the interval is the light's part.
    """
    counting, light = _parts_of(half_width, light_error)
    return light > 0 and light >= (1 - WORTH_NARROWING) * float(np.hypot(counting, light))


def _parts_of(half_width: float, light_error: float) -> tuple[float, float]:
    """Return the part of a half width that is from counting, and the one that is from the light."""
    light = 1.96 * light_error
    return float(np.sqrt(max(half_width**2 - light**2, 0.0))), light
