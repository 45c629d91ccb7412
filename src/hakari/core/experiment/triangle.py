"""The triangle test: two cups alike and one odd, guessed right one time in three by chance alone."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

import numpy as np
from scipy.special import bdtr, bdtrc, betaincinv

from hakari.core.errors import InputError

CHANCE = 1 / 3
LEVEL = 0.05
WANTED_POWER = 0.8
MOST_ROUNDS = 400


@dataclass(frozen=True)
class TriangleResult:
    """What the rounds of a triangle test say.

    ``p_value`` is the probability of so many rights or more by guessing alone; ``can_tell`` the share of rounds in which the
    odd cup was told and not guessed, with its 95 % interval; ``rights_needed`` how many rights of so many rounds leave less
    than 5 % to guessing, ``None`` where no number does; ``more_rounds`` how many more settle it at the share that was found,
    four times in five, ``None`` where that would take more than 400.
    """

    rounds: int
    rights: int
    p_value: float
    can_tell: float
    ci95_can_tell: tuple[float, float]
    rights_needed: int | None
    more_rounds: int | None

    @property
    def told_apart(self) -> bool:
        """Whether guessing alone is an unlikely explanation."""
        return self.p_value < LEVEL


def chance_of_rights(rights: int, rounds: int, chance: float = CHANCE) -> float:
    """Return the probability of so many rights or more: the upper tail of the binomial distribution.

    Parameters
    ----------
    rights : int
        Rounds in which the odd cup was named.
    rounds : int
        Rounds in all.
    chance : float
        Probability of a right in one round.

    Returns
    -------
    float
        Probability of ``rights`` or more.
    """
    return 1.0 if rights <= 0 else float(bdtrc(rights - 1, rounds, chance))


@cache
def rights_needed(rounds: int) -> int | None:
    """Return the smallest number of rights that guessing reaches in less than 5 % of cases.

    Parameters
    ----------
    rounds : int
        Rounds in all.

    Returns
    -------
    int or None
        The number; ``None`` where even all rights could well be guessed.
    """
    return next((k for k in range(rounds + 1) if chance_of_rights(k, rounds) < LEVEL), None)


def power(rounds: int, can_tell: float) -> float:
    """Return the probability that a test of so many rounds tells two brews apart.

    Parameters
    ----------
    rounds : int
        Rounds in all.
    can_tell : float
        Assumed share of rounds in which the odd cup is recognised, not guessed.

    Returns
    -------
    float
        Probability of reaching ``rights_needed``.
    """
    needed = rights_needed(rounds)
    return 0.0 if needed is None else chance_of_rights(needed, rounds, _right(can_tell))


def rounds_for_power(can_tell: float, wanted: float = WANTED_POWER) -> int | None:
    """Return how many rounds tell two brews apart with the wanted power, also with every number above.

    The power of a test by counts is a saw; the number that is returned is the one from which on it stays above.

    Parameters
    ----------
    can_tell : float
        Assumed share of rounds in which the odd cup is recognised.
    wanted : float
        Wanted power.

    Returns
    -------
    int or None
        The number of rounds; ``None`` where more than 400 are needed.
    """
    short = [n for n in range(1, MOST_ROUNDS + 1) if power(n, can_tell) < wanted]
    last = max(short, default=0)
    return last + 1 if last < MOST_ROUNDS else None


def binomial_interval(rights: int, rounds: int) -> tuple[float, float]:
    """Return the 95 % interval of a probability from counts: Jeffreys', which covers 95 % on the average.

    Parameters
    ----------
    rights : int
        Successes.
    rounds : int
        Trials.

    Returns
    -------
    tuple of float
        Lower and upper limit; 0 and 1 where nothing or everything succeeded.

    References
    ----------
    L. D. Brown, T. T. Cai, A. DasGupta: Interval estimation for a binomial proportion. Statistical Science 16 (2001).
    """
    a, b = rights + 0.5, rounds - rights + 0.5
    low = 0.0 if rights == 0 else float(betaincinv(a, b, 0.025))
    high = 1.0 if rights == rounds else float(betaincinv(a, b, 0.975))
    return low, high


def judge_triangle(rights: int, rounds: int) -> TriangleResult:
    """Judge a triangle test.

    The share who can tell follows from rights = told + (1 − told)/3 (Abbott's formula), and so does its interval.

    Parameters
    ----------
    rights : int
        Rounds in which the odd cup was named.
    rounds : int
        Answered rounds, at least one.

    Returns
    -------
    TriangleResult
        Probability, share with its interval, and what would settle it.

    Raises
    ------
    InputError
        ``no-rounds`` where nothing was answered; ``too-many-rights``.
    """
    if rounds < 1:
        raise InputError("no-rounds", "No round was answered.", "Taste a round and name the odd cup.", field="rounds")
    if not 0 <= rights <= rounds:
        raise InputError("too-many-rights", f"{rights} of {rounds} cannot be right.", "Count again.", field="rights")
    low, high = (_told(p) for p in binomial_interval(rights, rounds))
    return TriangleResult(
        rounds, rights, chance_of_rights(rights, rounds), _told(rights / rounds), (low, high), rights_needed(rounds),
        _more_rounds(rights, rounds),
    )  # fmt: skip


def _right(can_tell: float) -> float:
    return CHANCE + (1 - CHANCE) * can_tell


def _told(right: float) -> float:
    return float(np.clip((right - CHANCE) / (1 - CHANCE), 0.0, 1.0))


def _more_rounds(rights: int, rounds: int) -> int | None:
    if chance_of_rights(rights, rounds) < LEVEL:
        return 0
    right = _right(_told(rights / rounds))
    for more in range(1, MOST_ROUNDS + 1):
        needed = rights_needed(rounds + more)
        missing = None if needed is None else needed - rights
        if missing is not None and missing <= more and 1 - float(bdtr(missing - 1, more, right)) >= WANTED_POWER:
            return more
    return None
