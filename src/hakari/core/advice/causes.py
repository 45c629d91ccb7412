"""Why a cup came out as it did: a readable table, weighed as naive Bayes.

Each row has a prior weight and what each sign says for or against it, as a log-odds per unit of the sign. Rows are
added here and nowhere else.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hakari.core.advice.evidence import Signs


@dataclass(frozen=True)
class Cause:
    """One row: its name, the sentence that a person reads, its prior, and the signs that speak for and against it."""

    name: str
    reason: str
    prior: float
    signs: dict[str, float]


CAUSES = (
    Cause("too-fine", "The grounds are too fine: more surface, more fines at the paper, a longer contact.", 1.0,
          {"over": 0.55, "under": -0.6, "slow": 0.6, "fast": -0.8, "stalled": 0.9, "ey-high": 0.7, "ey-low": -0.9,
           "bed-mud": 0.7, "bed-shiny": 0.6, "both": -0.5, "tds-high": 0.2, "dense": 0.15}),
    Cause("too-coarse", "The grounds are too coarse: the water runs by before it has taken enough.", 1.0,
          {"under": 0.55, "over": -0.6, "fast": 0.6, "slow": -0.8, "stalled": -1.5, "ey-low": 0.7, "ey-high": -0.9,
           "weak": 0.2, "hollow": 0.1, "bed-mud": -0.6, "both": -0.5, "tds-low": 0.2}),
    Cause("too-hot", "The water is hot for this roast, so it takes the bitter end too.", 0.35,
          {"over": 0.45, "under": -0.5, "ey-high": 0.4, "ey-low": -0.6, "slow": -0.3, "hot-for-roast": 0.5}),
    Cause("too-cool", "The water is cool for this roast, so it leaves sweetness behind.", 0.35,
          {"under": 0.45, "over": -0.5, "ey-low": 0.4, "ey-high": -0.6, "fast": -0.3, "cool-for-roast": 0.5}),
    Cause("too-little-water", "The ratio is short: the drink is strong whatever is extracted.", 0.4,
          {"strong": 0.6, "tds-high": 0.7, "tds-low": -1.0, "weak": -0.9, "ey-high": -0.3}),
    Cause("too-much-water", "The ratio is long: the drink is thin whatever is extracted.", 0.4,
          {"weak": 0.6, "tds-low": 0.7, "tds-high": -1.0, "strong": -0.9, "ey-low": -0.2}),
    Cause("uneven", "Part of the bed was washed more than the rest: sour and bitter together.", 0.4,
          {"both": 0.9, "bed-holes": 0.8, "bed-cratered": 0.7, "bed-mounded": 0.5, "bed-stranded": 0.5,
           "bed-flat": -0.5, "hollow": 0.3, "gassy": 0.5}),
    Cause("paper", "The paper is badly seated or slow, so it drains late without being ground finer.", 0.3,
          {"slow": 0.35, "stalled": 0.8, "over": -0.1, "papery": 1.0, "bed-mud": -0.3}),
    Cause("hand", "Inside the noise of the hand: two brews of one plan differ by this much.", 0.8,
          {"over": -0.5, "under": -0.5, "slow": -0.5, "fast": -0.5, "stalled": -2.0, "ey-high": -0.9, "ey-low": -0.9,
           "tds-high": -0.6, "tds-low": -0.6, "sweet": 0.3, "balanced": 0.6}),
)  # fmt: skip


@dataclass(frozen=True)
class WeighedCause:
    """A cause with its weight among all causes, 0 to 1."""

    cause: str
    weight: float
    reason: str


def weigh(signs: Signs) -> tuple[WeighedCause, ...]:
    """Weights of all causes, heaviest first; they add to 1."""
    logs = np.array([np.log(c.prior) + sum(w * signs[s] for s, w in c.signs.items()) for c in CAUSES])
    p = np.exp(logs - logs.max())
    p /= p.sum()
    order = np.argsort(-p)
    return tuple(WeighedCause(CAUSES[i].name, float(p[i]), CAUSES[i].reason) for i in order)
