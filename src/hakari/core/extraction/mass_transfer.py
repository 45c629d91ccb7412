"""Grounds and the liquid among them moving towards balance.

Tanks (layers of a bed, or one steep) are the columns of a table, (rates + 1, tanks): what is left in the pools of each
rate, as a share of what was there, and in the last row the dissolved solids, g per g of the tank's dry coffee.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hakari.core.arrays import FloatArray
from hakari.core.extraction.soluble_fractions import BOUND_G_PER_G, HELD_G_PER_G, Pools

NO_LIQUID = 1e-7  # g per g: too little to exchange with


@dataclass(frozen=True)
class Exchange:
    """What one step makes of a table of tanks.

    ``offered`` (rates + 1,) times the table is the liquid's strength at the end of the step, g per g; ``kept`` (rates + 1, 1)
    is the share of each row that stays, ``gained`` (rates + 1, 1) what a row takes up from liquid of strength one.
    """

    offered: FloatArray
    kept: FloatArray
    gained: FloatArray

    def apply(self, tanks: FloatArray) -> None:
        """Take the step in place.

        The liquid's strength is taken at the end of the step, so that no step, however long, goes beyond balance. What leaves
        the grounds is in the liquid.

        Parameters
        ----------
        tanks : ndarray of float64
            The table of tanks, (rates + 1, tanks).
        """
        strength = self.offered @ tanks
        tanks *= self.kept
        tanks += self.gained * strength


def full_tanks(pools: Pools, count: int) -> FloatArray:
    """Return tanks of fresh grounds in clear liquid.

    Parameters
    ----------
    pools : Pools
        Soluble matter by rate.
    count : int
        How many.

    Returns
    -------
    ndarray of float64
        The table of tanks, (rates + 1, count).
    """
    tanks = np.ones((len(pools.rate_per_s) + 1, count))
    tanks[-1] = 0.0
    return tanks


def exchanges_of(pools: Pools, moving: FloatArray, liquid: FloatArray) -> list[Exchange | None]:
    """Prepare the exchange of many steps.

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
    list of Exchange or None
        One a step; ``None`` where there is no liquid.
    """
    part = -np.expm1(-moving)
    back = (HELD_G_PER_G + BOUND_G_PER_G) / pools.soluble
    taken = pools.mass * part
    offered = np.append(taken, np.ones((len(moving), 1)), axis=1)
    offered /= np.maximum(liquid + back * taken.sum(axis=1), NO_LIQUID)[:, None]
    kept = np.append(np.exp(-moving), np.zeros((len(moving), 1)), axis=1)[:, :, None]
    gained = np.append(back * part, liquid[:, None], axis=1)[:, :, None]
    wet = (liquid > NO_LIQUID).tolist()
    return [Exchange(*row) if is_wet else None for is_wet, *row in zip(wet, offered, kept, gained, strict=True)]
