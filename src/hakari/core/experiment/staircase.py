"""Which of two is finer: a staircase that goes where it is hard, and the smallest difference an eye can see."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import ndtr, ndtri

START_LN, LEAST_LN, MOST_LN = 0.35, 0.01, 0.7
WIDE_FACTOR, NARROW_FACTOR = 1.5, 1.25
DOWN_AFTER = 2  # rights in a row
# One answer in fifty is a slip of the finger, whatever the difference.
LAPSES = 0.02
NOISE_LN = np.geomspace(0.01, 0.6, 241)


@dataclass(frozen=True)
class Trial:
    """One comparison: how far the two lay apart in ln size, and whether the finer one was named."""

    difference_ln: float
    right: bool


@dataclass(frozen=True)
class Threshold:
    """The difference in ln size that is judged correctly 75 % of the time, its 95 % interval, and the number of trials."""

    difference_ln: float
    ci95_ln: tuple[float, float]
    trials: int


def next_difference(trials: Sequence[Trial]) -> float:
    """Return how far apart the next two should lie: smaller after two rights in a row, larger after a wrong one.

    Such a staircase converges on the difference that is judged correctly in √½ = 71 % of cases. It takes wide steps until
    it has turned twice.

    Parameters
    ----------
    trials : Sequence[Trial]
        The trials so far, oldest first.

    Returns
    -------
    float
        Difference in ln size.

    References
    ----------
    H. Levitt: Transformed up-down methods in psychoacoustics. Journal of the Acoustical Society of America 49 (1971).
    """
    level, rights, turns, last = START_LN, 0, 0, 0
    for trial in trials:
        way = 0
        if trial.right:
            rights += 1
            if rights == DOWN_AFTER:
                way, rights = -1, 0
        else:
            way, rights = 1, 0
        if way:
            turns += int(last != 0 and way != last)
            last = way
            level *= (WIDE_FACTOR if turns < 2 else NARROW_FACTOR) ** way
            level = min(max(level, LEAST_LN), MOST_LN)
    return level


def chance_right(difference_ln: float, noise_ln: float) -> float:
    """Return how often the finer of two is named by an eye that reads each size with some noise.

    Parameters
    ----------
    difference_ln : float
        How far apart they lie, ln size.
    noise_ln : float
        Standard deviation with which the eye reads one size.

    Returns
    -------
    float
        Half where they are alike, 1 less the lapses where they are far apart.
    """
    return float(_rights(np.array(difference_ln), np.array(noise_ln)))


def threshold(trials: Sequence[Trial]) -> Threshold | None:
    """Return the smallest difference that an eye sees, from how it answered at all differences.

    Bayes' rule on a grid of the eye's noise, even in its logarithm from 1 to 60 %; the median and the middle 95 %.

    Parameters
    ----------
    trials : Sequence[Trial]
        The trials.

    Returns
    -------
    Threshold or None
        The threshold at 75 % correct; ``None`` before the first trial.

    References
    ----------
    A. B. Watson, D. G. Pelli: QUEST, a Bayesian adaptive psychometric method. Perception & Psychophysics 33 (1983).
    """
    if not trials:
        return None
    difference = np.array([t.difference_ln for t in trials])
    right = np.array([t.right for t in trials])
    p = _rights(difference, NOISE_LN[:, None])
    ln_likelihood = np.log(np.where(right, p, 1 - p)).sum(axis=1)
    weight = np.exp(ln_likelihood - ln_likelihood.max())
    share = (np.cumsum(weight) - weight / 2) / weight.sum()
    low, middle, high = (float(np.exp(np.interp(q, share, np.log(NOISE_LN)))) for q in (0.025, 0.5, 0.975))
    told = _told_three_times_in_four()
    return Threshold(told * middle, (told * low, told * high), len(trials))


def _rights(difference_ln: np.ndarray, noise_ln: np.ndarray) -> np.ndarray:
    sure = ndtr(difference_ln / (np.sqrt(2) * noise_ln))
    return np.asarray(LAPSES / 2 + (1 - LAPSES) * sure)


def _told_three_times_in_four() -> float:
    """Return the difference in units of the eye's noise."""
    return float(np.sqrt(2) * ndtri((0.75 - LAPSES / 2) / (1 - LAPSES)))
