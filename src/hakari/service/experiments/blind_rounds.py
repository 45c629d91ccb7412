"""Hidden orders of blind rounds: drawn from a seed that never leaves the data folder, opened when a round is answered."""

from __future__ import annotations

import secrets
from dataclasses import dataclass

import numpy as np

from hakari.core.experiment.blind import draw_codes, draw_order, draw_pairs, draw_triangles
from hakari.formats.experiment import Ladder, Sieve, Triangle, TwoWays
from hakari.store import models

SEED_BITS = 96
CUPS = 3


@dataclass(frozen=True)
class HiddenRound:
    """The next round: its number from 0, the cups' codes, and what is in each."""

    number: int
    codes: tuple[str, ...]
    holds: tuple[str, ...]

    @property
    def order(self) -> str:
        """What is in the cups, as one word."""
        return "".join(self.holds)


def new_seed() -> str:
    """Return a seed that nobody can guess."""
    return f"{secrets.randbits(SEED_BITS):x}"


def hidden_round(row: models.Experiment) -> HiddenRound | None:
    """Return the round that is to be tasted next; ``None`` where all are done, or the kind has none.

    The same row always gives the same round. Without its seed (a back-up brought it) a new one is drawn, and so is the order
    of all rounds that are still to come.
    """
    body = row.document
    if row.blind_seed is None:
        row.blind_seed = new_seed()
    if isinstance(body, Triangle | Sieve):
        return _triangle(row, body)
    if isinstance(body, Ladder):
        return _ladder(row, body)
    return None


def next_pair(row: models.Experiment, body: TwoWays) -> str:
    """Return which way of the next pair is brewed first, ``AB`` or ``BA``."""
    if row.blind_seed is None:
        row.blind_seed = new_seed()
    done = len(body.pairs)
    return draw_pairs(done + 1, _chance(row, 3))[done]


def rounds_done(body: Triangle | Sieve) -> int:
    """Return how many rounds were answered; tasters who share a round's cups answer it together."""
    return max((a.round for a in body.answers), default=-1) + 1


def _triangle(row: models.Experiment, body: Triangle | Sieve) -> HiddenRound | None:
    number = rounds_done(body)
    if row.alone or number >= body.rounds:
        return None
    order = draw_triangles(number + 1, _chance(row, 0))[number]
    return HiddenRound(number, tuple(draw_codes(CUPS, _chance(row, 1, number))), tuple(order))


def _ladder(row: models.Experiment, body: Ladder) -> HiddenRound | None:
    number = len(body.cups) // len(body.values)
    if row.alone or number >= body.rounds:
        return None
    order = draw_order(len(body.values), 1, _chance(row, 2, number))[0]
    codes = draw_codes(len(order), _chance(row, 1, number))
    return HiddenRound(number, tuple(codes), tuple(f"{body.values[k]:g}" for k in order))


def _chance(row: models.Experiment, *stream: int) -> np.random.Generator:
    return np.random.default_rng([int(row.blind_seed or "0", 16), *stream])
