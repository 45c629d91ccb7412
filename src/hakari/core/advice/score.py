"""How well the advice has guessed, and what that teaches of the size of each lever's effect, within bounds."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from hakari.core.advice.evidence import BAD_WORDS

# A lever's effect is taken to be as the models say until as much was seen of it as this many steps of noise, squared.
PRIOR_STEPS = 8.0
LEAST, MOST = 0.6, 1.6


@dataclass(frozen=True)
class Tried:
    """A change that was followed: its kind, what it was said to change and what it did, in steps of a repeat's noise."""

    kind: str
    said: float
    came: float


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


def effect_sizes(tried: Sequence[Tried]) -> dict[str, float]:
    """How large each lever's effect is here against what the models say: 1 where nothing was seen, within bounds.

    A line through the origin over all tries of a lever, with the models' own answer as its prior.

    Parameters
    ----------
    tried : Sequence[Tried]
        Changes that were followed, with what came of them.

    Returns
    -------
    dict[str, float]
        Factor on the predicted change, by kind, from ``LEAST`` to ``MOST``.
    """
    sizes: dict[str, float] = {}
    for kind in {t.kind for t in tried}:
        rows = [t for t in tried if t.kind == kind]
        with_it = sum(t.said * t.came for t in rows) + PRIOR_STEPS
        sizes[kind] = float(np.clip(with_it / (sum(t.said**2 for t in rows) + PRIOR_STEPS), LEAST, MOST))
    return sizes


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
