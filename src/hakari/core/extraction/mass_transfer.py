"""Grounds and the liquid among them moving towards balance."""

from __future__ import annotations

import numpy as np

from hakari.core.arrays import FloatArray
from hakari.core.extraction.soluble_fractions import BOUND_G_PER_G, HELD_G_PER_G


def exchange(
    left: FloatArray, mass: FloatArray, soluble: float, solids_g: FloatArray, liquid_g: FloatArray | float,
    dry_g: FloatArray | float, part: FloatArray,
) -> tuple[FloatArray, FloatArray]:  # fmt: skip
    """One step of the exchange in some well-mixed tanks (layers of a bed, or one steep).

    The liquid's strength is taken at the end of the step, so that no step, however long, goes beyond balance.

    Parameters
    ----------
    left:
        What is left in the pools of each rate, as a share of what was there, (tanks, rates).
    mass:
        Soluble mass at each rate per gram of dry coffee, (rates,).
    solids_g, liquid_g, dry_g:
        Dissolved solids, liquid and dry coffee of each tank, g, (tanks,), or one number for all.
    part:
        1 − exp(−rate · dt), (rates,).

    Returns
    -------
    left, solids_g:
        After the step. What leaves the grounds is in the liquid.
    """
    back = (HELD_G_PER_G + BOUND_G_PER_G) / soluble
    taken = mass * part
    offered = dry_g * (left @ taken)
    strength = (solids_g + offered) / (liquid_g + dry_g * back * float(taken.sum()))
    given = (left - (back * strength)[:, None]) * part
    return np.asarray(left - given), np.asarray(solids_g + dry_g * (given @ mass))
