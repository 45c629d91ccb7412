"""Where a grind comes from: classes of mass, three figures, or a photo and the fines that it cannot show."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from scipy.special import ndtr

from hakari.core.arrays import FloatArray
from hakari.core.errors import InputError
from hakari.core.psd.distribution import binned_mass, log_grid, volumes
from hakari.core.psd.grind import FINE_TOP_UM, Grind, fine_below, standard_edges

# Prior of a photo's fine mode: mass median and its ln spread, share of the mass and its ln spread.
PRIOR_MEDIAN_UM, PRIOR_MEDIAN_SD = 79.0, 0.06
PRIOR_SHARE, PRIOR_SHARE_SD = 0.085, 0.5


def grind_from_classes(edges_um: FloatArray, mass_fraction: FloatArray) -> Grind:
    """Check and normalise class masses.

    Parameters
    ----------
    edges_um : ndarray of float64
        Edges of the classes, µm, (classes + 1,).
    mass_fraction : ndarray of float64
        Share of mass in each class, (classes,).

    Returns
    -------
    Grind
        The grind.

    Raises
    ------
    InputError
        ``grind-malformed`` when edges do not rise, masses are negative or do not match the edges.
    """
    edges, mass = np.asarray(edges_um, np.float64), np.asarray(mass_fraction, np.float64)
    fits = len(edges) == len(mass) + 1 and len(mass) > 0 and bool((np.diff(edges) > 0).all()) and edges[0] >= 0
    if not fits or not np.isfinite(mass).all() or (mass < 0).any() or mass.sum() <= 0:
        raise InputError(
            "grind-malformed",
            "The grind's classes need rising edges, one more than masses, and no negative mass.",
            "Give edges_um such as [20, 40, 80] with mass_fraction such as [0.4, 0.6].",
            field="grind",
        )
    edges = np.maximum(edges, 1.0) if edges[0] < 1.0 else edges
    return Grind(edges, mass / mass.sum(), fines_relative_sd=0.0)


@lru_cache(maxsize=256)  # asked for the same figures at every key typed
def grind_from_figures(median_um: float, span: float, fines_below_100: float) -> Grind:
    """Return a grind of a fine mode and one lognormal coarse mode with the given figures.

    ``median_um`` is of the whole; ``span`` of the grounds at or above 100 µm.

    Parameters
    ----------
    median_um : float
        Volume median, µm.
    span : float
        (D90 − D10)/D50; ``None`` where unknown.
    fines_below_100 : float
        Share of mass below 100 µm.

    Returns
    -------
    Grind
        A grind of a fine mode and one lognormal coarse mode with the given figures.

    Raises
    ------
    InputError
        ``grind-out-of-range``.
    """
    if not (100 <= median_um <= 2500 and 0.2 <= span <= 3.0 and 0 <= fines_below_100 <= 0.45):
        raise InputError(
            "grind-out-of-range",
            f"A grind of median {median_um:g} µm, span {span:g} and {100 * fines_below_100:g} % fines is not predicted.",
            "Use a median of 100–2500 µm, a span of 0.2–3 and fines of 0–0.45.",
            field="grind",
        )
    from scipy.optimize import brentq  # half a second to load, and most commands do without

    edges = standard_edges()

    def build(sigma: float) -> Grind:
        def coarse_for(median: float) -> Grind:
            coarse = np.diff(ndtr(np.log(edges / median) / sigma))
            coarse /= coarse.sum()
            fine = np.diff(fine_below(edges))
            fine /= fine.sum()
            f100, c100 = fine[edges[1:] <= 100.001].sum(), coarse[edges[1:] <= 100.001].sum()
            share = float(np.clip((fines_below_100 - c100) / max(f100 - c100, 1e-6), 0.0, 0.6))
            return Grind(edges, share * fine + (1 - share) * coarse)

        low, high = 0.5 * median_um, 3.0 * median_um
        root = brentq(lambda m: np.log(coarse_for(m).d50_um / median_um), low, high, xtol=1e-3)
        return coarse_for(float(root))

    lowest, highest = 0.06, 1.0
    if build(lowest).span > span:
        return build(lowest)
    if build(highest).span < span:
        return build(highest)
    return build(float(brentq(lambda s: build(s).span - span, lowest, highest, xtol=1e-3)))


@dataclass(frozen=True)
class _FineMode:
    amount: float
    median_um: float
    relative_sd: float


def _fit_fine_mode(diameter_um: FloatArray, mass: FloatArray, low_um: float) -> _FineMode:
    """Posterior mean of the fine mode's mass and median on a grid, from masses in bins between ``low_um`` and 160 µm.

    Each bin's error is its counting error and a tenth of its mass for the measuring of small grounds; the coarse
    mode's tail under the fine mode falls to nothing from its density just above.
    """
    edges = np.exp(np.linspace(np.log(low_um), np.log(FINE_TOP_UM), 7))
    seen, _ = np.histogram(diameter_um, edges, weights=mass)
    variance, _ = np.histogram(diameter_um, edges, weights=mass**2)
    beside = float(mass[(diameter_um >= FINE_TOP_UM) & (diameter_um < 220.0)].sum()) / np.log(220.0 / FINE_TOP_UM)
    middle = np.sqrt(edges[1:] * edges[:-1])
    tail = beside * np.diff(np.log(edges)) * (middle / FINE_TOP_UM) ** 2
    coarse = float(mass[diameter_um >= FINE_TOP_UM].sum())
    medians = PRIOR_MEDIAN_UM * np.exp(PRIOR_MEDIAN_SD * np.linspace(-2.5, 2.5, 41))
    shares = PRIOR_SHARE * np.exp(PRIOR_SHARE_SD * np.linspace(-4, 3, 141))
    amounts = shares / (1 - np.minimum(shares, 0.6)) * coarse
    shape = np.array([np.diff(fine_below(edges, float(m))) for m in medians])
    expected = tail + amounts[:, None, None] * shape
    sd = np.sqrt(variance + (0.1 * expected) ** 2 + (1e-4 * coarse) ** 2)
    ln_p = -0.5 * (((seen - expected) / sd) ** 2).sum(axis=2) - np.log(sd).sum(axis=2)
    ln_p -= 0.5 * (np.log(medians / PRIOR_MEDIAN_UM) / PRIOR_MEDIAN_SD) ** 2
    ln_p -= 0.5 * (np.log(shares / PRIOR_SHARE) / PRIOR_SHARE_SD)[:, None] ** 2
    p = np.exp(ln_p - ln_p.max())
    p /= p.sum()
    amount = float((p.sum(axis=1) * amounts).sum())
    spread = float(np.sqrt((p.sum(axis=1) * (amounts - amount) ** 2).sum()))
    median = float(np.exp((p.sum(axis=0) * np.log(medians)).sum()))
    return _FineMode(amount, median, spread / max(amount, 1e-12))


def grind_from_photo(diameter_um: FloatArray, weight: FloatArray, limit_um: float) -> tuple[Grind, str]:
    """Add the unseen part of the fine mode to measured grounds.

    Returns the whole grind and the name of the method used.

    Parameters
    ----------
    diameter_um : ndarray of float64
        Diameters of the grounds or classes, µm, (n,).
    weight : ndarray of float64
        Weight of each ground, (n,).
    limit_um : float
        Smallest size that the photo resolves, µm.

    Returns
    -------
    tuple[Grind, str]
        The grind, and what was added to it, in words.
    """
    mass = volumes(diameter_um, weight)
    low = max(1.2 * limit_um, 50.0)
    fitted = low <= 90.0
    fine = _fit_fine_mode(diameter_um, mass, min(low, 130.0))
    size = log_grid(15.0, 4000.0, 0.01)
    seen = binned_mass(size, diameter_um[diameter_um >= low], mass[diameter_um >= low])
    edges = standard_edges()
    below = fine_below(edges, fine.median_um)
    unseen = fine.amount * np.diff(np.minimum(below, fine_below(low, fine.median_um)))
    ahead = np.concatenate([[0.0], np.cumsum(seen)])
    at = np.concatenate([[size[0] * 0.995], size * 1.005])
    classes = np.maximum(np.diff(np.interp(np.log(edges), np.log(at), ahead)), 0) + np.maximum(unseen, 0)
    method = "fitted fine mode" if fitted else "fine mode mostly from its prior"
    return Grind(edges, classes / classes.sum(), max(0.1, fine.relative_sd)), method
