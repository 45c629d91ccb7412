"""How steady a hand is: the spread of repeats, and what one change must exceed to be believed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from hakari.core.errors import InputError
from hakari.core.experiment.noise import Spread, pooled_spread

# The 97.5 % point of the normal distribution: what a single change is compared with.
Z = 1.959964


@dataclass(frozen=True)
class Steadiness:
    """Repeats of one plan: their mean, the spread with its 95 % interval, and the smallest change that is believed.

    A change is believed where two single brews differ by more than chance makes them differ in one case of twenty.
    """

    repeats: int
    mean: float
    spread: Spread
    believed_from: float


def judge_repeats(values: Sequence[float]) -> Steadiness:
    """Judge repeats of one plan.

    Parameters
    ----------
    values : Sequence[float]
        One quantity of at least two repeats.

    Returns
    -------
    Steadiness
        Mean, spread and the smallest change that is believed, in the unit of the values.

    Raises
    ------
    InputError
        ``too-few-repeats`` below two.
    """
    spread = pooled_spread([values])
    if spread is None:
        raise InputError("too-few-repeats", "One brew has no spread.", "Brew the same plan once more.", field="brews")
    return Steadiness(len(values), float(np.mean(values)), spread, believed_from(spread.sd))


def believed_from(sd: float) -> float:
    """Return what the difference of two single brews must exceed to be more than their spread, 95 %.

    Parameters
    ----------
    sd : float
        Standard deviation of one brew.

    Returns
    -------
    float
        1.96 √2 times the standard deviation.
    """
    return float(Z * np.sqrt(2) * sd)
