"""Two ways compared in pairs: the difference, how sure it is, and whether to go on."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy.special import stdtrit

from hakari.core.errors import InputError

Verdict = Literal["keep-going", "different", "alike"]
MOST_PAIRS = 60


@dataclass(frozen=True)
class PairedResult:
    """The mean difference of B from A with its 95 % interval, in the unit of the values.

    ``verdict`` is ``alike`` where all of the interval is smaller than a difference worth having, else ``different`` where it
    leaves out zero, else ``keep-going``; ``more_pairs`` settle it if mean and spread stay
    as they are, ``None`` where that would take more than 60.
    """

    pairs: int
    mean: float
    sd: float
    ci95: tuple[float, float]
    worth: float
    verdict: Verdict
    more_pairs: int | None


def compare_pairs(a: Sequence[float], b: Sequence[float], worth: float) -> PairedResult:
    """Compare two ways by the differences within pairs: Student's t on the differences.

    Parameters
    ----------
    a : Sequence[float]
        Values of the first way, a pair each.
    b : Sequence[float]
        Values of the second way.
    worth : float
        The smallest difference that would matter, above zero, in the unit of the values.

    Returns
    -------
    PairedResult
        Difference, interval and verdict.

    Raises
    ------
    InputError
        ``too-few-pairs`` below two; ``no-worth`` where ``worth`` is not above zero.

    References
    ----------
    Student: The probable error of a mean. Biometrika 6 (1908). The verdict "alike" is that of the confidence interval
    within bounds (Schuirmann 1987).
    """
    if len(a) != len(b) or len(a) < 2:
        raise InputError(
            "too-few-pairs", "Two pairs at least are needed for a spread.", "Make one more pair.", field="pairs"
        )
    if worth <= 0:
        raise InputError(
            "no-worth", "A difference that matters is above zero.", "Say how much would matter to you.", field="worth"
        )
    d = np.asarray(b, float) - np.asarray(a, float)
    mean, sd, n = float(d.mean()), float(d.std(ddof=1)), len(d)
    half = _half_width(sd, n)
    verdict = _verdict(mean, half, worth)
    return PairedResult(n, mean, sd, (mean - half, mean + half), worth, verdict, _more_pairs(n, mean, sd, worth))


def _more_pairs(n: int, mean: float, sd: float, worth: float) -> int | None:
    counts = range(MOST_PAIRS + 1)
    return next((m for m in counts if _verdict(mean, _half_width(sd, n + m), worth) != "keep-going"), None)


def _half_width(sd: float, n: int) -> float:
    return float(stdtrit(n - 1, 0.975)) * sd / float(np.sqrt(n))


def _verdict(mean: float, half: float, worth: float) -> Verdict:
    if abs(mean) + half < worth:
        return "alike"
    return "different" if abs(mean) > half else "keep-going"
