"""Sieves: weighed classes as a distribution, what a sieve would take away, and two grinds mixed.

A real sieve does not cut sharply: near its aperture some grounds pass that should not and the other way round. What stays
on it is a logistic in ln d, the usual form of a partition curve.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.special import expit

from hakari.core.arrays import FloatArray
from hakari.core.errors import InputError
from hakari.core.psd.grind import Grind
from hakari.core.psd.grind_sources import grind_from_classes

USUAL_SHARPNESS = 14.0  # of a hand-held sieve shaken for a minute: 10 to 90 % over a third of the aperture
FINEST_UM, LARGEST_UM, COARSEST_FACTOR = 20.0, 10_000.0, 1.6
LIGHTEST_G, HEAVIEST_G = 0.1, 1e5


@dataclass(frozen=True)
class Classes:
    """A distribution known only by classes: figures within the edges of the class that holds them."""

    grind: Grind

    def quantile_um(self, share: float) -> float:
        """Size below which a share of the mass lies, by straight lines in ln d within a class.

        Parameters
        ----------
        share : float
            Share of mass, 0 to 1.

        Returns
        -------
        float
            Size below which a share of the mass lies, by straight lines in ln d within a class, µm.
        """
        return self.grind.quantile_um(share)

    def range_um(self, share: float) -> tuple[float, float]:
        """Edges of the class that holds a quantile: all that the classes say for certain.

        Parameters
        ----------
        share : float
            Share of mass, 0 to 1.

        Returns
        -------
        tuple of two floats
            Edges of the class that holds a quantile, µm.
        """
        ahead = np.cumsum(self.grind.mass_fraction)
        first, last = (int(np.searchsorted(ahead, share + slack)) for slack in (-1e-9, 1e-9))
        return float(self.grind.edges_um[first]), float(self.grind.edges_um[min(last, len(ahead) - 1) + 1])

    def band(self, size_um: FloatArray) -> tuple[FloatArray, FloatArray]:
        """Least and greatest cumulative share that the classes allow at each size.

        Parameters
        ----------
        size_um : ndarray of float64
            Sizes, µm, (n,).

        Returns
        -------
        tuple[ndarray of float64, ndarray of float64]
            Least and greatest cumulative share that the classes allow at each size.
        """
        ahead = np.concatenate([[0.0], np.cumsum(self.grind.mass_fraction)])
        k = np.clip(np.searchsorted(self.grind.edges_um, size_um, side="right"), 1, len(ahead) - 1)
        low = np.where(size_um >= self.grind.edges_um[-1], 1.0, ahead[k - 1])
        return low, np.where(size_um < self.grind.edges_um[0], 0.0, ahead[k])


def classes_from_sieves(aperture_um: list[float], retained_g: list[float], pan_g: float) -> Classes:
    """Return what stayed on each sieve and in the pan as a distribution.

    Parameters
    ----------
    aperture_um : list[float]
        Sieve apertures, µm.
    retained_g : list[float]
        What stayed on each sieve, g.
    pan_g : float
        What fell through all sieves, g.

    Returns
    -------
    Classes
        What stayed on each sieve and in the pan as a distribution.

    Raises
    ------
    InputError
        ``sieves-malformed`` when apertures repeat or masses are negative or all nothing.
    """
    refusal = InputError(
        "sieves-malformed",
        "The sieves need different apertures from 20 µm to 10 mm, and masses of which none is negative.",
        "Type one aperture and one mass a line, and what fell into the pan.",
        field="sieves",
    )
    if not aperture_um or len(aperture_um) != len(retained_g):
        raise refusal
    order = np.argsort(aperture_um)
    apertures = np.asarray(aperture_um, np.float64)[order]
    masses = np.concatenate([[pan_g], np.asarray(retained_g, np.float64)[order]])
    rising = bool((np.diff(apertures) > 0).all()) and apertures[0] > FINEST_UM and apertures[-1] <= LARGEST_UM
    if not rising or not bool(((masses >= 0) & (masses < HEAVIEST_G)).all()) or masses.sum() < LIGHTEST_G:
        raise refusal
    edges = np.concatenate([[FINEST_UM], apertures, [apertures[-1] * COARSEST_FACTOR]])
    return Classes(grind_from_classes(edges, masses))


@dataclass(frozen=True)
class Sieved:
    """What a sieve leaves: the grind that is kept and the share of the mass that is lost."""

    kept: Grind
    lost: float


def sieve(grind: Grind, aperture_um: float, keep: str, sharpness: float = USUAL_SHARPNESS) -> Sieved:
    """Sieve a grind in thought; ``keep`` is ``over`` (fines taken out) or ``under`` (boulders taken out).

    Parameters
    ----------
    grind : Grind
        Size classes of the whole grind.
    aperture_um : float
        Sieve apertures, µm.
    keep : str
        Which fraction is kept.
    sharpness : float
        Sharpness of the sieve's cut.

    Returns
    -------
    Sieved
        What is kept, and its share.

    Raises
    ------
    InputError
        ``sieve-out-of-range``, or ``sieve-takes-all`` when less than a hundredth would be left.
    """
    if not 30 <= aperture_um <= 3500:
        raise InputError(
            "sieve-out-of-range",
            f"A sieve of {aperture_um:g} µm cannot be calculated.",
            "Use 30 to 3500 µm.",
            "aperture_um",
        )
    stays = expit(sharpness * np.log(grind.centre_um / aperture_um))
    mass = grind.mass_fraction * (stays if keep == "over" else 1 - stays)
    if mass.sum() < 0.01:
        raise InputError(
            "sieve-takes-all",
            "Hardly anything would be left.",
            "Choose another aperture or the other part.",
            "aperture_um",
        )
    return Sieved(Grind(grind.edges_um, mass / mass.sum(), grind.fines_relative_sd), float(1 - mass.sum()))


def mix(first: Grind, second: Grind, share_of_first: float) -> Grind:
    """Two grinds mixed by mass.

    Parameters
    ----------
    first : Grind
        First grind.
    second : Grind
        Second grind.
    share_of_first : float
        Share of the first grind in the mixture.

    Returns
    -------
    Grind
        Two grinds mixed by mass.

    Raises
    ------
    InputError
        ``share-out-of-range``.
    """
    if not 0 <= share_of_first <= 1:
        raise InputError(
            "share-out-of-range", "The share must lie between 0 and 100 %.", "Type 50 for half and half.", "share"
        )
    edges = np.unique(np.concatenate([first.edges_um, second.edges_um]))
    below = share_of_first * np.array([first.below(e) for e in edges])
    below += (1 - share_of_first) * np.array([second.below(e) for e in edges])
    mass = np.maximum(np.diff(below), 0)
    spread = max(first.fines_relative_sd, second.fines_relative_sd)
    return Grind(edges, mass / mass.sum(), spread)
