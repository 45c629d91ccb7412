"""Three grinds side by side: settings whose sizes step evenly, and how brew time answers to size."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from hakari.core.errors import InputError

# Less than this between neighbours is not tasted; more is another drink.
LEAST_STEP_LN, USUAL_STEP_LN = 0.06, 0.13


@dataclass(frozen=True)
class EvenSettings:
    """Places on a dial, fine to coarse, and the steps between their medians in ln size."""

    places: tuple[int, ...]
    median_um: tuple[float, ...]
    steps_ln: tuple[float, ...]


def even_settings(median_um: Sequence[float], middle: int, step_ln: float = USUAL_STEP_LN) -> EvenSettings:
    """Choose a finer and a coarser setting whose medians lie evenly about that of the present one.

    The step is shortened where the dial ends, to what both sides can have; on a coarse dial the nearest places are taken.

    Parameters
    ----------
    median_um : Sequence[float]
        Median of each place of the dial, µm.
    middle : int
        The present place.
    step_ln : float
        Wanted step in ln size.

    Returns
    -------
    EvenSettings
        Fine, middle and coarse.

    Raises
    ------
    InputError
        ``dial-ends-here`` where no finer or no coarser setting is far enough away.
    """
    ln = np.log(np.asarray(median_um, float)) - np.log(median_um[middle])
    step = min(step_ln, float(ln.max()), float(-ln.min()))
    if step < LEAST_STEP_LN:
        raise InputError(
            "dial-ends-here",
            "The dial has no finer and coarser setting far enough from the present one.",
            "Choose a setting nearer to the middle of the dial.",
            field="setting",
        )
    fine, coarse = int(np.abs(ln + step).argmin()), int(np.abs(ln - step).argmin())
    if fine == middle or coarse == middle:
        away = np.where(np.arange(len(ln)) == middle, np.inf, np.abs(ln))
        fine = int(np.where(ln < 0, away, np.inf).argmin()) if fine == middle else fine
        coarse = int(np.where(ln > 0, away, np.inf).argmin()) if coarse == middle else coarse
    places = (fine, middle, coarse)
    sizes = tuple(float(median_um[k]) for k in places)
    return EvenSettings(places, sizes, tuple(float(s) for s in np.diff(np.log(sizes))))


def slope_ln(median_um: Sequence[float], value: Sequence[float]) -> float | None:
    """Return how a positive quantity follows size: its change in ln for one in ln size, by least squares.

    Parameters
    ----------
    median_um : Sequence[float]
        Sizes, µm, (n,).
    value : Sequence[float]
        The quantity, above zero, (n,).

    Returns
    -------
    float or None
        −2 says: 1 % coarser takes 2 % less. ``None`` with fewer than two sizes.
    """
    x, y = np.log(np.asarray(median_um, float)), np.log(np.asarray(value, float))
    if len(np.unique(x)) < 2:
        return None
    x = x - x.mean()
    return float((x @ (y - y.mean())) / (x @ x))
