"""Guessing a size by eye: the bias, and the spread that is left."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import stdtrit

from hakari.core.experiment.noise import Spread, pooled_spread


@dataclass(frozen=True)
class EyeBias:
    """Guesses against what was measured, in ln: the mean with its 95 % interval, and the spread about it."""

    guesses: int
    bias_ln: float
    ci95_ln: tuple[float, float]
    spread: Spread


def judge_guesses(guess_um: Sequence[float], true_um: Sequence[float]) -> EyeBias | None:
    """Judge guesses of a size.

    Parameters
    ----------
    guess_um : Sequence[float]
        Guessed sizes, µm, (n,).
    true_um : Sequence[float]
        Measured sizes, µm, (n,).

    Returns
    -------
    EyeBias or None
        Bias and spread; ``None`` with fewer than two.
    """
    off = np.log(np.asarray(guess_um, float) / np.asarray(true_um, float))
    spread = pooled_spread([off.tolist()])
    if spread is None:
        return None
    half = float(stdtrit(spread.freedom, 0.975)) * spread.sd / float(np.sqrt(len(off)))
    mean = float(off.mean())
    return EyeBias(len(off), mean, (mean - half, mean + half), spread)
