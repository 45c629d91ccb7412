"""Grounds and the liquid among them moving towards balance."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hakari.core.arrays import FloatArray
from hakari.core.extraction.soluble_fractions import BOUND_G_PER_G, HELD_G_PER_G, Pools


@dataclass(frozen=True)
class Step:
    """What the exchange of one step is made of; all but ``held`` by rate, (rates,).

    ``kept`` is the share that stays in the grounds, ``gained`` what they take up from liquid of strength one, ``taken`` what
    they offer, in g per g of dry coffee; ``held`` is the liquid that the grounds weigh as in this step, likewise.
    """

    kept: FloatArray
    gained: FloatArray
    taken: FloatArray
    held: float


def steps_of(pools: Pools, moving: FloatArray) -> list[Step]:
    """Prepare the exchange of many steps.

    Parameters
    ----------
    pools : Pools
        Soluble matter by rate.
    moving : ndarray of float64
        Rate times duration of each step, (steps, rates).

    Returns
    -------
    list of Step
        One a step.
    """
    kept = np.exp(-moving)
    part = -np.expm1(-moving)
    back = (HELD_G_PER_G + BOUND_G_PER_G) / pools.soluble
    taken = pools.mass * part
    held = back * taken.sum(axis=1)
    return [Step(*row) for row in zip(kept, back * part, taken, held.tolist(), strict=True)]


def exchange(left: FloatArray, solids: FloatArray, liquid: float, step: Step) -> tuple[FloatArray, FloatArray]:
    """One step of the exchange in some well-mixed tanks (layers of a bed, or one steep).

    The liquid's strength is taken at the end of the step, so that no step, however long, goes beyond balance. What leaves the
    grounds is in the liquid.

    Parameters
    ----------
    left : ndarray of float64
        What is left in the pools of each rate, as a share of what was there, (tanks, rates).
    solids : ndarray of float64
        Dissolved solids of each tank, g per g of its dry coffee, (tanks,).
    liquid : float
        Liquid, g per g of dry coffee, the same in all tanks.
    step : Step
        Rates and duration of the step.

    Returns
    -------
    left, solids : ndarray of float64
        The same after the step.
    """
    strength = (solids + left @ step.taken) / (liquid + step.held)
    return np.asarray(left * step.kept + strength[:, None] * step.gained), np.asarray(strength * liquid)
