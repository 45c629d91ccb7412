"""What a ground holds and how fast it gives it up: an opened surface, and diffusion out of a sphere.

The inner pool follows the series solution for a sphere in a bath (Crank 1975): modes n with share 6/(π²n²) empty at
n²π²D/r². Both pools move towards balance with the liquid around them (Moroney et al. 2015).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hakari.core.brew.schedule import Roast
from hakari.core.photo.result import FloatArray
from hakari.core.psd.whole import Grind

SURFACE_DEPTH_UM = 30.0
SURFACE_S = 8.0
DIFFUSION_M2_PER_S = 3.8e-11  # at 93 °C
ACTIVATION_J_PER_MOL = 22000.0
GAS_J_PER_MOLK = 8.314
REFERENCE_K = 366.15
MODES = 5
CLASSES = 12
# Liquid in and on the grounds that shares in the balance, g per g of dry coffee.
HELD_G_PER_G = 1.0
SOLUBLE_SHARE: dict[Roast, float] = {"light": 0.285, "medium": 0.29, "medium-dark": 0.295, "dark": 0.30}


@dataclass(frozen=True)
class Pools:
    """Soluble mass per gram of dry coffee by size class and pool.

    ``start`` and ``rate_per_s`` are (classes, 1 + MODES): column 0 is the surface, the others the sphere's modes;
    rates are at 93 °C. ``share`` (classes,) is each class's part of the dose.
    """

    diameter_um: FloatArray
    share: FloatArray
    start: FloatArray
    rate_per_s: FloatArray


def make_pools(grind: Grind, roast: Roast) -> Pools:
    """Divide a grind into size classes of soluble pools."""
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
    radius_m = d * 1e-6 / 2
    inner_rate = n**2 * np.pi**2 * DIFFUSION_M2_PER_S / radius_m[:, None] ** 2
    soluble = SOLUBLE_SHARE[roast]
    start = soluble * np.column_stack([surface, (1 - surface)[:, None] * mode])
    rate = np.column_stack([np.full(len(d), 1 / SURFACE_S), inner_rate])
    return Pools(d, share, start, rate)


def heat_factor(celsius: FloatArray | float) -> FloatArray:
    """Arrhenius factor of the rates against 93 °C."""
    kelvin = np.asarray(celsius) + 273.15
    return np.asarray(np.exp(-ACTIVATION_J_PER_MOL / GAS_J_PER_MOLK * (1 / kelvin - 1 / REFERENCE_K)))
