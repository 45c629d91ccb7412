"""The noise of the hand: the pooled spread of brews that were meant to be alike."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import chdtri


@dataclass(frozen=True)
class Spread:
    """A pooled standard deviation with its 95 % interval, in the unit of the values; ``freedom`` counts its repeats."""

    sd: float
    low: float
    high: float
    freedom: int


def pooled_spread(groups: Sequence[Sequence[float]]) -> Spread | None:
    """Pool the spread within groups of repeats; ``None`` where nothing was repeated.

    Sums of squares about each group's mean over their degrees of freedom; the interval is that of chi-square.

    Parameters
    ----------
    groups : Sequence[Sequence[float]]
        Groups of repeated values.

    Returns
    -------
    Spread or None
        The spread within groups; ``None`` without repeats.
    """
    repeated = [np.asarray(g, float) for g in groups if len(g) > 1]
    freedom = int(sum(len(g) - 1 for g in repeated))
    if freedom == 0:
        return None
    squares = float(sum(((g - g.mean()) ** 2).sum() for g in repeated))
    low, high = (float(np.sqrt(squares / chdtri(freedom, p))) for p in (0.025, 0.975))
    return Spread(float(np.sqrt(squares / freedom)), low, high, freedom)
