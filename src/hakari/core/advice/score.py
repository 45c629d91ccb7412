"""How well the advice has guessed, and what its causes learn from that, within bounds."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from hakari.core.advice.causes import CAUSES
from hakari.core.advice.evidence import BAD_WORDS

# What one try moves a cause's log-odds, and how far all tries together may.
PER_TRY, BOUND = 0.3, 0.8


@dataclass(frozen=True)
class Tried:
    """A change that was made for a cause, and how much better the next cup was, −1 to 1."""

    cause: str
    better: float


@dataclass(frozen=True)
class Guess:
    """A figure as predicted with its 95 % half-width, and as it came out."""

    predicted: float
    half_width: float
    actual: float


@dataclass(frozen=True)
class Score:
    """Guesses so far: how many, how far off in the median, and the share that lay within their intervals."""

    count: int
    typical_off: float
    held: float


def complaints(taste: dict[str, int]) -> float:
    """How much was complained of, in strengths of words.

    Parameters
    ----------
    taste : dict[str, int]
        Taste words, 0 (none) to 3 (strong).

    Returns
    -------
    float
        How much was complained of, in strengths of words.
    """
    return float(sum(strength for word, strength in taste.items() if word in BAD_WORDS))


def better(before: dict[str, int], after: dict[str, int], nearer: float | None = None) -> float:
    """How much better a cup is than the one before, −1 (worse) to 1 (nothing left to complain of).

    ``nearer`` is how much of the way to the target's middle was gone, where both were measured; it counts half.

    Parameters
    ----------
    before : dict[str, int]
        Taste words of the earlier cup, 0 (none) to 3 (strong).
    after : dict[str, int]
        Taste words of the later cup, 0 (none) to 3 (strong).
    nearer : float or None
        How much nearer to the target the later cup was measured; ``None`` where it was not.

    Returns
    -------
    float
        How much better a cup is than the one before, −1 (worse) to 1 (nothing left to complain of).
    """
    was, now = complaints(before), complaints(after)
    taste = float(np.clip((was - now) / max(was, 1.0), -1.0, 1.0))
    return taste if nearer is None else 0.5 * (taste + float(np.clip(nearer, -1.0, 1.0)))


def learned(tried: Sequence[Tried]) -> dict[str, float]:
    """Log-odds to add to each cause: up where its remedies helped, down where they did not, never by more than ``BOUND``.

    Parameters
    ----------
    tried : Sequence[Tried]
        Changes that were followed, with what came of them.

    Returns
    -------
    dict[str, float]
        Log-odds to add to each cause.
    """
    sums: dict[str, float] = {}
    for t in tried:
        sums[t.cause] = sums.get(t.cause, 0.0) + PER_TRY * t.better
    return {cause: float(np.clip(v, -BOUND, BOUND)) for cause, v in sums.items()}


def cause_behind(weights: Sequence[tuple[str, float]], kind: str, direction: str) -> str | None:
    """Return the heaviest cause that has a change among its remedies; ``weights`` are the causes of that time by name.

    Parameters
    ----------
    weights : Sequence[tuple[str, float]]
        Causes with their weights.
    kind : str
        Kind of the change, as "grind".
    direction : str
        Direction of the change, as "coarser".

    Returns
    -------
    str or None
        The heaviest cause that has a change among its remedies.
    """
    remedies = {c.name: c.remedies for c in CAUSES}
    named = [(w, name) for name, w in weights if (kind, direction) in remedies.get(name, ())]
    return max(named)[1] if named else None


def score(guesses: Sequence[Guess]) -> Score | None:
    """Score guesses; ``None`` where there are none.

    Parameters
    ----------
    guesses : Sequence[Guess]
        Predictions with what came of them.

    Returns
    -------
    Score or None
        How often and how far predictions held; ``None`` without any.
    """
    if not guesses:
        return None
    off = np.array([abs(g.actual - g.predicted) for g in guesses])
    held = np.array([o <= g.half_width for o, g in zip(off, guesses, strict=True)])
    return Score(len(guesses), float(np.median(off)), float(held.mean()))
