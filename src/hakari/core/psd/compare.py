"""Are two grinds different? The ratio of their medians with its interval, and how far the whole curves lie apart."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hakari.core.psd.distribution import Curve


@dataclass(frozen=True)
class Difference:
    """A sample against another: D50 of the first over the second less one, its 95 % interval, and if that leaves out 0.

    ``distance_ln`` is the Wasserstein distance of the two mass distributions in ln d: the mean move of mass.
    """

    d50: float
    interval95: tuple[float, float]
    real: bool
    distance_ln: float


def compare(
    first_um: float,
    first_interval_um: tuple[float, float],
    second_um: float,
    second_interval_um: tuple[float, float],
    first_curve: Curve,
    second_curve: Curve,
) -> Difference:
    """Compare two independent samples; the sides of their intervals add in squares on ln d.

    Parameters
    ----------
    first_um : float
        Median of the first sample, µm.
    first_interval_um : tuple of two floats
        95 % interval of the first median, µm.
    second_um : float
        Median of the second sample, µm.
    second_interval_um : tuple of two floats
        95 % interval of the second median, µm.
    first_curve : Curve
        Size curve of the first sample, (n,).
    second_curve : Curve
        Size curve of the second sample, (n,).

    Returns
    -------
    Difference
        The ratio with its interval, and what it means.
    """
    ratio = float(np.log(first_um / second_um))
    (a_low, a_high), (b_low, b_high) = first_interval_um, second_interval_um
    below = float(np.hypot(np.log(first_um / a_low), np.log(b_high / second_um)))
    above = float(np.hypot(np.log(a_high / first_um), np.log(second_um / b_low)))
    low, high = ratio - below, ratio + above
    at = np.log(first_curve.size_um)
    other = np.interp(at, np.log(second_curve.size_um), second_curve.cumulative)
    gap = np.abs(first_curve.cumulative - other)
    distance = float(((gap[1:] + gap[:-1]) / 2 * np.diff(at)).sum())
    return Difference(
        float(np.expm1(ratio)), (float(np.expm1(low)), float(np.expm1(high))), not low <= 0 <= high, distance
    )
