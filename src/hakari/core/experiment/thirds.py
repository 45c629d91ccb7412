"""One brew caught in several cups: what each holds, and what mixing them back in order makes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from hakari.core.errors import InputError


@dataclass(frozen=True)
class Part:
    """One cup of a split brew, and the drink made of it and all before it.

    ``share_percent`` is its share of all that was dissolved; ``ey_percent`` what it adds to the extraction;
    ``mixed_g``, ``mixed_tds_percent`` and ``mixed_ey_percent`` are the drink if it had been stopped after this cup.
    """

    drink_g: float
    tds_percent: float
    share_percent: float
    ey_percent: float
    mixed_g: float
    mixed_tds_percent: float
    mixed_ey_percent: float


def split_brew(drink_g: Sequence[float], tds_percent: Sequence[float], dose_g: float) -> tuple[Part, ...]:
    """Return what each cup of a split brew holds; solids are kept.

    Parameters
    ----------
    drink_g : Sequence[float]
        Mass of each cup in order, g.
    tds_percent : Sequence[float]
        Strength of each, %.
    dose_g : float
        Dry coffee, g.

    Returns
    -------
    tuple of Part
        A part a cup.

    Raises
    ------
    InputError
        ``empty-cup`` where a cup or the dose holds nothing; ``too-few-cups`` below two.
    """
    mass, tds = np.asarray(drink_g, float), np.asarray(tds_percent, float)
    if len(mass) != len(tds) or len(mass) < 2:
        raise InputError("too-few-cups", "A split brew has two cups at least.", "Weigh every cup.", field="cups")
    if mass.min() <= 0 or tds.min() <= 0 or dose_g <= 0:
        raise InputError(
            "empty-cup", "A cup without mass or strength cannot be shared out.", "Weigh it again.", field="cups"
        )
    solids = mass * tds / 100
    together, drunk = np.cumsum(solids), np.cumsum(mass)
    return tuple(
        Part(
            float(mass[k]), float(tds[k]), float(100 * solids[k] / solids.sum()), float(100 * solids[k] / dose_g),
            float(drunk[k]), float(100 * together[k] / drunk[k]), float(100 * together[k] / dose_g),
        )
        for k in range(len(mass))
    )  # fmt: skip
