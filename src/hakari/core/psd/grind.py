"""The whole grind with the fines that a photo cannot show: a fine mode added to what was seen.

Shattered cell walls make a separate small mode, lognormal with σ_ln 0.35. Its amount and its median are fitted to the
part of it that the photo shows, held by a prior where it shows little. It is an extrapolation and is named so wherever
it is shown.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.special import ndtr

from hakari.core.arrays import FloatArray
from hakari.core.psd.distribution import CUT_UM

FINE_MODE_UM = 55.0  # mass-weighted, of a grind that is given by figures alone
FINE_SIGMA = 0.35
FINE_TOP_UM = 160.0


def fine_below(size_um: FloatArray | float, median_um: float = FINE_MODE_UM) -> FloatArray:
    """Share of the fine mode's mass below a size.

    Parameters
    ----------
    size_um : ndarray of float64 or float
        Sizes, µm.
    median_um : float
        Volume median, µm.

    Returns
    -------
    ndarray of float64
        Share of the fine mode's mass below a size.
    """
    return np.asarray(ndtr(np.log(np.asarray(size_um) / median_um) / FINE_SIGMA))


def standard_edges() -> FloatArray:
    """Edges of classes for grinds that bring none of their own, evenly spaced in ln from 15 to 4000 µm.

    Returns
    -------
    ndarray of float64
        The edges, µm, (57,).
    """
    return np.exp(np.linspace(np.log(15.0), np.log(4000.0), 57))


@dataclass(frozen=True)
class Grind:
    """A whole grind as mass fractions between edges; ``edges_um`` (n + 1,), ``mass_fraction`` (n,) sums to 1."""

    edges_um: FloatArray
    mass_fraction: FloatArray
    fines_relative_sd: float = 0.1

    @property
    def centre_um(self) -> FloatArray:
        """Geometric mean size of each class."""
        return np.asarray(np.sqrt(self.edges_um[1:] * self.edges_um[:-1]))

    @property
    def d32_um(self) -> float:
        """Surface mean diameter of the whole."""
        return float(1.0 / (self.mass_fraction / self.centre_um).sum())

    def below(self, size_um: float) -> float:
        """Mass share below a size, interpolated in ln d.

        Parameters
        ----------
        size_um : float
            Size, µm.

        Returns
        -------
        float
            Mass share below a size, interpolated in ln d.
        """
        ahead = np.concatenate([[0.0], np.cumsum(self.mass_fraction)])
        return float(np.interp(np.log(max(size_um, 1e-3)), np.log(self.edges_um), ahead))

    def quantile_um(self, share: float, above_um: float = 0.0) -> float:
        """Size below which ``share`` of the mass at or above ``above_um`` lies.

        Parameters
        ----------
        share : float
            Share of mass, 0 to 1.
        above_um : float
            Smallest size that counts, µm.

        Returns
        -------
        float
            Size below which ``share`` of the mass at or above ``above_um`` lies, µm.
        """
        start = self.below(above_um) if above_um > 0 else 0.0
        target = start + share * (1.0 - start)
        ahead = np.concatenate([[0.0], np.cumsum(self.mass_fraction)])
        return float(np.exp(np.interp(target, ahead, np.log(self.edges_um))))

    @property
    def d50_um(self) -> float:
        """Median of the whole."""
        return self.quantile_um(0.5)

    @property
    def span(self) -> float:
        """Width (D90 − D10)/D50 of the grounds at or above the cut, as in the headline figures."""
        d10, d50, d90 = (self.quantile_um(q, CUT_UM) for q in (0.1, 0.5, 0.9))
        return (d90 - d10) / d50

    def scaled(self, factor: float) -> Grind:
        """Return the same grind with its coarse mode moved by ``factor``; the fine mode keeps its size and mass.

        Parameters
        ----------
        factor : float
            Factor on the size.

        Returns
        -------
        Grind
            The same grind with its coarse mode moved by ``factor``.
        """
        top = self.below(FINE_TOP_UM)
        edges = standard_edges()
        fine = np.interp(np.log(edges), np.log(self.edges_um), np.concatenate([[0], np.cumsum(self.mass_fraction)]))
        coarse = np.interp(
            np.log(edges / factor),
            np.log(self.edges_um),
            np.concatenate([[0], np.cumsum(self.mass_fraction)]),
        )
        below = np.minimum(fine, top) + np.maximum(coarse - top, 0.0)
        mass = np.maximum(np.diff(below), 0.0)
        return Grind(edges, mass / mass.sum(), self.fines_relative_sd)

    def with_fines(self, fines_below_100: float) -> Grind:
        """Return the same grind with another share below 100 µm, made by scaling the part below the fine mode's top.

        Parameters
        ----------
        fines_below_100 : float
            Share of mass below 100 µm.

        Returns
        -------
        Grind
            The same grind with another share below 100 µm, made by scaling the part below the fine mode's top.
        """
        now = self.below(CUT_UM)
        factor = fines_below_100 / max(now, 1e-6)
        is_fine = self.centre_um < FINE_TOP_UM
        fine, coarse = self.mass_fraction * is_fine, self.mass_fraction * ~is_fine
        share = min(0.95, fine.sum() * factor)
        mass = fine / max(fine.sum(), 1e-9) * share + coarse / max(coarse.sum(), 1e-9) * (1 - share)
        return Grind(self.edges_um, mass / mass.sum(), self.fines_relative_sd)
