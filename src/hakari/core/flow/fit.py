"""Fitting the flow to a user's own brews: Bayesian least squares of ln time on the logarithms of the factors.

Brews through the same kind of brewer and filter share their factors. Another lot of paper, or another grinder and roast, may
differ by an offset of its own that is as likely to be nothing: such brews count, but for less.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from hakari.core.arrays import FloatArray
from hakari.core.brew.schedule import Plan
from hakari.core.errors import InputError
from hakari.core.flow.bed import make_bed
from hakari.core.flow.factors import BREW_SCALE_WEIGHT, FACTORS, FlowFactors, brew_variance, prior_covariance
from hakari.core.flow.percolation import SEARCH_STEP_S, simulate_percolation
from hakari.core.psd.grind import Grind

LOT_LN_SD, GRINDER_ROAST_LN_SD = 0.12, 0.12
STEP_LN = 0.15
ROUNDS, NEAR_LN = 4, 0.03
OUTLIER_SD, MOST_SD = 2.5, 4.0


@dataclass(frozen=True)
class Observed:
    """A brew to learn from: the plan as it was really poured, its grind, and when the bed was bare.

    ``lot`` names the lot of paper, ``grinder_roast_key`` the grinder and roast; ``bare_sd_s`` is how well the time is known.
    """

    plan: Plan
    grind: Grind
    bare_bed_s: float
    lot: str = ""
    grinder_roast_key: str = ""
    bare_sd_s: float = 1.0


@dataclass(frozen=True)
class Fitted:
    """Factors for one lot of paper, grinder and roast; a brew's time by them, s, and its weight (1 is full) for each brew."""

    factors: FlowFactors
    fitted_s: tuple[float, ...]
    weights: tuple[float, ...]


def drip_time_s(plan: Plan, grind: Grind, ln_factors: FloatArray) -> float:
    """Time to a bare bed under factors given by their logarithms against the starting points, in the order of ``FACTORS``.

    Parameters
    ----------
    plan : Plan
        The plan.
    grind : Grind
        Size classes of the whole grind.
    ln_factors : ndarray of float64
        Logarithms of the flow factors, (3,).

    Returns
    -------
    float
        Time to a bare bed under factors given by their logarithms against the starting points, in the order of
        ``FACTORS``, s.
    """
    bed, paper, fines = (math.exp(v) for v in ln_factors)
    return simulate_percolation(plan, grind, FlowFactors(bed, paper, fines), SEARCH_STEP_S).bare_bed_s


def sensitivity(plan: Plan, grind: Grind, ln_factors: FloatArray) -> tuple[float, FloatArray]:
    """Return ln time to a bare bed, and its slope against each ln factor, shape (3,), by central differences.

    Parameters
    ----------
    plan : Plan
        The plan.
    grind : Grind
        Size classes of the whole grind.
    ln_factors : ndarray of float64
        Logarithms of the flow factors, (3,).

    Returns
    -------
    tuple[float, ndarray of float64]
        Ln time to a bare bed, and its slope against each ln factor, shape (3,), by central differences.
    """
    here = math.log(drip_time_s(plan, grind, ln_factors))
    slopes = np.zeros(len(FACTORS))
    for k in range(len(FACTORS)):
        move = np.zeros(len(FACTORS))
        move[k] = STEP_LN
        above, below = (drip_time_s(plan, grind, ln_factors + s * move) for s in (1, -1))
        slopes[k] = math.log(above / below) / (2 * STEP_LN)
    return here, slopes


def fit(observed: Sequence[Observed], lot: str = "", grinder_roast_key: str = "") -> Fitted:
    """Fit the factors for one lot of paper and one grinder and roast to brews through the same kind of brewer and filter.

    Gauss–Newton with the prior of ``factors.py``. A brew more than ``OUTLIER_SD`` from the rest counts for less, as by Huber.
    How far brews come out apart is estimated along, from a start that counts for ``BREW_SCALE_WEIGHT`` brews.

    Parameters
    ----------
    observed : Sequence[Observed]
        Timed drips.
    lot : str
        Lot of the filter paper.
    grinder_roast_key : str
        Grinder and roast that the fines offset belongs to.

    Returns
    -------
    Fitted
        The fitted factors with their covariance.
    """
    if not observed:
        return Fitted(FlowFactors(), (), ())
    lots = sorted({lot, *(o.lot for o in observed)})
    grinder_roast_keys = sorted({grinder_roast_key, *(o.grinder_roast_key for o in observed)})
    shared = prior_covariance(max(o.grind.fines_relative_sd for o in observed))
    variance = np.concatenate(
        [np.diag(shared), np.full(len(lots), LOT_LN_SD**2), np.full(len(grinder_roast_keys), GRINDER_ROAST_LN_SD**2)]
    )
    maps = [_map(lots, grinder_roast_keys, o.lot, o.grinder_roast_key) for o in observed]
    seen = np.log([o.bare_bed_s for o in observed])
    read = np.array([o.bare_sd_s / o.bare_bed_s for o in observed]) ** 2
    theta, scale2, weights = np.zeros(len(variance)), 1.0, np.ones(len(observed))
    for _ in range(ROUNDS):
        told = [sensitivity(o.plan, o.grind, m @ theta) for o, m in zip(observed, maps, strict=True)]
        here = np.array([t[0] for t in told])
        slopes = np.stack([t[1] @ m for t, m in zip(told, maps, strict=True)])
        apart = brew_variance(np.stack([t[1] for t in told]))
        for _ in range(6):
            precision = weights / (scale2 * apart + read)
            covariance = np.linalg.inv(np.diag(1 / variance) + (slopes.T * precision) @ slopes)
            moved = covariance @ (slopes.T @ (precision * (seen - here + slopes @ theta)))
            left = seen - here - slopes @ (moved - theta)
            spread = np.einsum("ij,jk,ik->i", slopes, covariance, slopes)
            # One brew that nothing explains (a typing error, another coffee) must not make all brews look wild.
            squares = np.minimum((weights * left**2 + spread) / (apart + read), MOST_SD**2)
            scale2 = float((BREW_SCALE_WEIGHT + squares.sum()) / (BREW_SCALE_WEIGHT + len(seen)))
            far = np.abs(left) / np.sqrt(scale2 * apart + read)
            weights = np.minimum(1.0, OUTLIER_SD / np.maximum(far, 1e-9))
        done = np.abs(moved - theta).max() < NEAR_LN
        theta = moved
        if done:
            break
    own = _map(lots, grinder_roast_keys, lot, grinder_roast_key)
    bed, paper, fines = np.exp(own @ theta)
    factors = FlowFactors(
        float(bed), float(paper), float(fines), len(observed), own @ covariance @ own.T, math.sqrt(scale2),
        BREW_SCALE_WEIGHT + len(observed),
    )  # fmt: skip
    return Fitted(factors, tuple(float(v) for v in np.exp(seen - left)), tuple(float(w) for w in weights))


def _map(lots: list[str], grinder_roast_keys: list[str], lot: str, grinder_roast_key: str) -> FloatArray:
    """From the shared factors and the offsets to the three factors of one lot, grinder and roast, shape (3, parameters)."""
    made = np.zeros((len(FACTORS), len(FACTORS) + len(lots) + len(grinder_roast_keys)))
    made[range(len(FACTORS)), range(len(FACTORS))] = 1.0
    made[FACTORS.index("filter"), len(FACTORS) + lots.index(lot)] = 1.0
    made[FACTORS.index("bed"), len(FACTORS) + len(lots) + grinder_roast_keys.index(grinder_roast_key)] = 1.0
    return made


@dataclass(frozen=True)
class FlowsLike:
    """What a drawdown says of the grind: the permeability of its bed, and the median or the fines that would give it.

    The size holds with the fines as they are, the fines with the size; ``None`` where nothing within reach gives the time.
    """

    permeability_m2: float | None
    median_um: float | None
    fines_below_100: float | None


def flows_like(plan: Plan, grind: Grind, factors: FlowFactors, bare_bed_s: float) -> FlowsLike:
    """Read a drawdown backwards, under the factors as fitted.

    Parameters
    ----------
    plan : Plan
        The plan.
    grind : Grind
        Size classes of the whole grind.
    factors : FlowFactors
        Flow factors of a fit.
    bare_bed_s : float
        When no water stands on the bed any more, s from the first pour.

    Returns
    -------
    FlowsLike
        The grind that flows like this; its median is ``None`` where none does.

    Raises
    ------
    InputError
        When the plan cannot be brewed.
    """
    if plan.steep is not None:
        raise InputError("flow-not-seen", "A steep does not drain through its bed.", "Look at a drip's flow.")

    def time(g: Grind, f: FlowFactors = factors) -> float:
        return simulate_percolation(plan, g, f, SEARCH_STEP_S).bare_bed_s

    bed = _root(lambda x: time(grind, replace(factors, bed_factor=factors.bed_factor * math.exp(-x))) - bare_bed_s, 2.0)
    size = _root(lambda x: time(grind.scaled(math.exp(-x))) - bare_bed_s, 0.7)
    fines = grind.below(100.0)
    most = math.log(0.4 / fines) if fines > 0.002 else 0.0
    dust = (
        _root(lambda x: time(grind.with_fines(fines * math.exp(x))) - bare_bed_s, min(most, 1.6)) if most > 0 else None
    )
    k = make_bed(grind, plan.brewer, plan.dose_g, factors.bed_factor).permeability_m2
    return FlowsLike(
        k * math.exp(-bed) if bed is not None else None,
        grind.quantile_um(0.5, 100.0) * math.exp(-size) if size is not None else None,
        fines * math.exp(dust) if dust is not None else None,
    )


def _root(rising: Callable[[float], float], reach: float) -> float | None:
    """Where a function that rises with its argument is nothing, within ±``reach``; ``None`` when it is not there."""
    from scipy.optimize import brentq  # half a second to load, and most commands do without

    if rising(-reach) > 0 or rising(reach) < 0:
        return None
    return float(brentq(rising, -reach, reach, xtol=0.004))
