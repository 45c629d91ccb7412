"""Grounds and the liquid among them moving towards balance.

Tanks (layers of a bed, or one steep) are the columns of a table, (rates + 1, tanks): what is left in the pools of each
rate, as a share of what was there, and in the last row the dissolved solids, g per g of the tank's dry coffee. The tables of
several brews are stepped together, (brews, rates + 1, tanks): that takes little longer than one.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from hakari.core.arrays import FloatArray
from hakari.core.extraction.soluble_fractions import BOUND_G_PER_G, HELD_G_PER_G, Pools

NO_LIQUID = 1e-7  # g per g: too little to exchange with


@dataclass(frozen=True)
class Exchanges:
    """What the steps of some brews make of their tables of tanks; a step without liquid changes nothing.

    ``offered`` (steps, brews, 1, rates + 1) times a table is the liquid's strength at the end of the step, g per g; ``kept``
    (steps, brews, rates + 1, 1) is the share of each row that stays, ``gained`` (steps, brews, rates + 1, 1) what a row takes
    up from liquid of strength one.
    """

    offered: FloatArray
    kept: FloatArray
    gained: FloatArray

    def rows(self, steps: slice, brews: int) -> Iterator[tuple[FloatArray, FloatArray, FloatArray]]:
        """Return what ``exchange`` needs for each step.

        Parameters
        ----------
        steps : slice
            Which steps.
        brews : int
            Of the first so many brews.

        Returns
        -------
        iterator of tuple
            ``offered``, ``kept`` and ``gained`` of one step each.
        """
        return zip(*(of[steps, :brews] for of in (self.offered, self.kept, self.gained)), strict=True)

    @classmethod
    def of_all(cls, each: Sequence[Exchanges]) -> Exchanges:
        """Put brews beside each other.

        Parameters
        ----------
        each : sequence of Exchanges
            One brew each, the longest first.

        Returns
        -------
        Exchanges
            Of all of them; nothing after a brew's end.
        """
        return cls(*(side_by_side([getattr(e, name)[:, 0] for e in each]) for name in ("offered", "kept", "gained")))


def exchange(tanks: FloatArray, offered: FloatArray, kept: FloatArray, gained: FloatArray) -> None:
    """Take one step in place.

    The liquid's strength is taken at the end of the step, so that no step, however long, goes beyond balance. What leaves
    the grounds is in the liquid.

    Parameters
    ----------
    tanks : ndarray of float64
        The tables, (brews, rates + 1, tanks).
    offered, kept, gained : ndarray of float64
        One of ``Exchanges.rows``.
    """
    strength = offered @ tanks
    tanks *= kept
    tanks += gained * strength


def side_by_side(each: Sequence[FloatArray]) -> FloatArray:
    """Put the steps of brews beside each other.

    Parameters
    ----------
    each : sequence of ndarray of float64
        Each (steps, ...), the longest first.

    Returns
    -------
    ndarray of float64
        Of all, (steps, brews, ...); zeros after a brew's end.
    """
    if len(each) == 1:
        return each[0][:, None]
    together = np.zeros((len(each[0]), len(each), *each[0].shape[1:]))
    for k, one in enumerate(each):
        together[: len(one), k] = one
    return together


def full_tanks(pools: Pools, count: int, brews: int = 1) -> FloatArray:
    """Return tanks of fresh grounds in clear liquid.

    Parameters
    ----------
    pools : Pools
        Soluble matter by rate.
    count : int
        How many tanks a brew has.
    brews : int
        How many brews.

    Returns
    -------
    ndarray of float64
        The tables of tanks, (brews, rates + 1, count).
    """
    tanks = np.ones((brews, len(pools.rate_per_s) + 1, count))
    tanks[:, -1] = 0.0
    return tanks


def exchanges_of(pools: Pools, moving: FloatArray, liquid: FloatArray) -> Exchanges:
    """Prepare the exchange of many steps of one brew.

    Parameters
    ----------
    pools : Pools
        Soluble matter by rate.
    moving : ndarray of float64
        Rate times duration of each step, (steps, rates).
    liquid : ndarray of float64
        Liquid in each step, g per g of dry coffee, (steps,).

    Returns
    -------
    Exchanges
        Of one brew.
    """
    part = -np.expm1(-moving)
    back = (HELD_G_PER_G + BOUND_G_PER_G) / pools.soluble
    taken = pools.mass * part
    offered = np.append(taken, np.ones((len(moving), 1)), axis=1)
    offered /= np.maximum(liquid + back * taken.sum(axis=1), NO_LIQUID)[:, None]
    kept = np.append(np.exp(-moving), np.zeros((len(moving), 1)), axis=1)
    gained = np.append(back * part, liquid[:, None], axis=1)
    dry = liquid <= NO_LIQUID
    offered[dry], kept[dry], gained[dry] = 0.0, 1.0, 0.0
    return Exchanges(offered[:, None, None, :], kept[:, None, :, None], gained[:, None, :, None])
