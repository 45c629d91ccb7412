"""How well a pour followed what was asked: within a band about the wanted weight, and how even its rate was."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from hakari.core.errors import InputError

BAND_G, BAND_SHARE = 5.0, 0.04
RATE_WINDOW_S = 1.5
GRID_S = 0.1


@dataclass(frozen=True)
class PourScore:
    """A pour against its curve: share of the time in the band, the usual distance, and rate with its spread."""

    in_band_share: float
    off_g: float
    rate_g_s: float
    rate_sd_g_s: float
    end_off_g: float
    score: int


def band_g(wanted_g: float) -> float:
    """Return half the band about a wanted weight: 5 g, or 4 % of it where that is more.

    Parameters
    ----------
    wanted_g : float
        Wanted weight, g.

    Returns
    -------
    float
        Half width, g.
    """
    return max(BAND_G, BAND_SHARE * wanted_g)


def judge_pour(
    t_s: Sequence[float], weight_g: Sequence[float], curve_t_s: Sequence[float], curve_g: Sequence[float]
) -> PourScore:
    """Judge a pour against a curve of wanted weight.

    Parameters
    ----------
    t_s : Sequence[float]
        Times of the readings, s from the start, growing, (n,).
    weight_g : Sequence[float]
        Poured so far, g, (n,).
    curve_t_s : Sequence[float]
        Corners of the wanted curve, s, growing, (m,).
    curve_g : Sequence[float]
        Wanted weight there, g, (m,).

    Returns
    -------
    PourScore
        Score from 0 to 100: the share of the time within the band.

    Raises
    ------
    InputError
        ``too-few-readings`` where less than two seconds were poured.
    """
    t, w = np.asarray(t_s, float), np.asarray(weight_g, float)
    if len(t) < 3 or t[-1] - t[0] < 2 or np.any(np.diff(t) <= 0):
        raise InputError("too-few-readings", "There is no pour to judge.", "Pour for some seconds.", field="readings")
    grid = np.arange(0.0, float(curve_t_s[-1]) + GRID_S / 2, GRID_S)
    wanted = np.interp(grid, curve_t_s, curve_g)
    poured = np.interp(grid, t, w)
    off = poured - wanted
    band = np.maximum(BAND_G, BAND_SHARE * wanted)
    inside = float((np.abs(off) <= band).mean())
    rate = _rates(grid, poured, wanted)
    return PourScore(
        inside, float(np.sqrt((off**2).mean())), float(rate.mean()), float(rate.std()), float(off[-1]),
        round(100 * inside),
    )  # fmt: skip


def _rates(grid: np.ndarray, poured: np.ndarray, wanted: np.ndarray) -> np.ndarray:
    """Return rates over a window, where the curve asks for water."""
    half = round(RATE_WINDOW_S / GRID_S / 2)
    asked = np.gradient(wanted, grid) > 0
    rate = np.zeros_like(poured)
    for k in range(len(grid)):
        a, b = max(0, k - half), min(len(grid) - 1, k + half)
        rate[k] = (poured[b] - poured[a]) / (grid[b] - grid[a])
    return rate[asked] if asked.any() else rate
