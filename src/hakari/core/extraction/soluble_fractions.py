"""What a ground holds and how fast it gives it up: an opened surface, and diffusion out of a sphere.

The inner pool follows the series solution for a sphere in a bath (Crank 1975): modes n with share 6/(π²n²) empty at
n²π²D/r². All pools move towards balance with the liquid around them (Moroney et al. 2015), each at its own rate; so pools
of one rate empty alike, whatever ground they belong to, and are followed together at a few rates.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hakari.core.arrays import FloatArray
from hakari.core.brew.schedule import Roast
from hakari.core.psd.grind import Grind

SURFACE_DEPTH_UM = 44.9
SURFACE_S = 13.8
DIFFUSION_M2_PER_S = 6.25e-11  # at 93 °C
# Washing off an opened surface depends on heat as the viscosity of water does; diffusion through cell walls far more.
SURFACE_ACTIVATION_J_PER_MOL, DIFFUSION_ACTIVATION_J_PER_MOL = 22000.0, 45400.0
GAS_J_PER_MOLK = 8.314
REFERENCE_K = 366.15
MODES = 12
CLASSES = 40
RATES = 28
FASTEST_PER_S = 2.0  # what is quicker is as good as at once
# In balance the liquid inside the grounds is as strong as that around them, and their solid keeps some more: both in g of
# liquid per g of dry coffee that would hold as much.
HELD_G_PER_G, BOUND_G_PER_G = 1.0, 0.38
SOLUBLE_SHARE: dict[Roast, float] = {"light": 0.2965, "medium": 0.3015, "medium-dark": 0.3065, "dark": 0.3115}


@dataclass(frozen=True)
class Pools:
    """Soluble matter of a grind by size class, and the rates at which it is followed.

    ``share`` (classes,) is each class's part of the dose. ``rate_per_s`` (1 + RATES,) holds the followed rates at 93 °C: the
    opened surface first, then the spheres' modes. ``weight`` (classes, 1 + RATES) is each class's part at each rate; a row
    adds up to 1. ``soluble`` is the soluble share of the dose.
    """

    diameter_um: FloatArray
    share: FloatArray
    rate_per_s: FloatArray
    weight: FloatArray
    soluble: float

    @property
    def mass(self) -> FloatArray:
        """Soluble mass at each rate per gram of dry coffee, (1 + RATES,)."""
        return np.asarray(self.soluble * (self.share @ self.weight))

    def by_size(self, gone: FloatArray) -> FloatArray:
        """Return what each class gave, as a share of its dry mass, from what is gone at each rate, (classes,).

        Parameters
        ----------
        gone : ndarray of float64
            Share of each pool that is gone, (classes, pools).

        Returns
        -------
        ndarray of float64
            What each class gave, as a share of its dry mass, from what is gone at each rate, (classes,).
        """
        return np.asarray(self.soluble * (self.weight @ gone))


def make_pools(grind: Grind, roast: Roast) -> Pools:
    """Divide a grind into size classes of soluble pools, and these between the followed rates.

    Parameters
    ----------
    grind : Grind
        Size classes of the whole grind.
    roast : Roast
        Roast of the coffee; any where ``None``.

    Returns
    -------
    Pools
        Soluble mass a class and rate.
    """
    edges = np.exp(np.linspace(np.log(20.0), np.log(3000.0), CLASSES + 1))
    ahead = np.concatenate([[0.0], np.cumsum(grind.mass_fraction)])
    below = np.interp(np.log(edges), np.log(grind.edges_um), ahead)
    below[0], below[-1] = 0.0, 1.0
    share = np.diff(below)
    keep = share > 1e-6
    d = np.sqrt(edges[1:] * edges[:-1])[keep]
    share = share[keep] / share[keep].sum()
    surface = 1.0 - np.maximum(0.0, 1.0 - 2 * SURFACE_DEPTH_UM / d) ** 3
    n = np.arange(1, MODES + 1)
    mode = 6 / (np.pi**2 * n**2)
    # What the series leaves out is so quick that it joins the last mode; the sum is then one.
    mode[-1] += 1.0 - mode.sum()
    inner = n**2 * np.pi**2 * DIFFUSION_M2_PER_S / (d[:, None] * 0.5e-6) ** 2
    ln = np.log(np.minimum(inner, FASTEST_PER_S))
    nodes = np.linspace(ln.min(), max(ln.max(), ln.min() + 1e-3), RATES)
    place = np.clip((ln - nodes[0]) / (nodes[1] - nodes[0]), 0, RATES - 1 - 1e-9)
    left = place.astype(int)
    part = (1 - surface)[:, None] * mode
    weight = np.zeros((len(d), 1 + RATES))
    weight[:, 0] = surface
    rows = np.repeat(np.arange(len(d))[:, None], MODES, axis=1)
    np.add.at(weight, (rows, 1 + left), part * (1 - (place - left)))
    np.add.at(weight, (rows, 2 + left), part * (place - left))
    return Pools(d, share, np.concatenate([[1 / SURFACE_S], np.exp(nodes)]), weight, SOLUBLE_SHARE[roast])


def heat_factors(celsius: FloatArray | float) -> FloatArray:
    """Arrhenius factors of the followed rates against 93 °C: the opened surface, then diffusion.

    Parameters
    ----------
    celsius : ndarray of float64 or float
        Temperature, °C, (times,).

    Returns
    -------
    ndarray of float64
        Factor of each rate, (times, 1 + RATES).
    """
    activation = np.full(1 + RATES, DIFFUSION_ACTIVATION_J_PER_MOL)
    activation[0] = SURFACE_ACTIVATION_J_PER_MOL
    colder = 1 / (np.atleast_1d(celsius) + 273.15) - 1 / REFERENCE_K
    return np.asarray(np.exp(-activation / GAS_J_PER_MOLK * colder[:, None]))
