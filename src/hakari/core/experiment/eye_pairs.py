"""Two pictures of grounds whose difference is known: which to show, and how much to magnify each."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from hakari.core.arrays import FloatArray

# No picture is shown more than so much larger or smaller than its size, each way.
MOST_MAGNIFIED_LN = 0.45


@dataclass(frozen=True)
class Grounds:
    """Figures of the grounds in a window: their median by volume, µm, and the share of the covered area in small ones."""

    d50_um: float
    small_share: float


@dataclass(frozen=True)
class EyePair:
    """Which two windows to show, and the magnification of each."""

    first: int
    second: int
    magnify_first: float
    magnify_second: float


def figures_of(diameter_um: FloatArray, least: int = 60) -> Grounds | None:
    """Return the figures of the grounds in a window.

    Parameters
    ----------
    diameter_um : ndarray of float64
        Diameters, µm, (n,).
    least : int
        Fewest grounds that say anything.

    Returns
    -------
    Grounds or None
        Median by volume, and the share of the covered area in grounds below a third of it; ``None`` with too few grounds.
    """
    if len(diameter_um) < least:
        return None
    d = np.sort(diameter_um)
    volume = np.cumsum(d**3)
    d50 = float(np.interp(volume[-1] / 2, volume, d))
    return Grounds(d50, float((d[d < d50 / 3] ** 2).sum() / (d**2).sum()))


def pair_by_size(windows: Sequence[Grounds], wanted_ln: float, rng: np.random.Generator) -> EyePair | None:
    """Choose two windows and magnify them so that their medians lie as far apart as wanted.

    Parameters
    ----------
    windows : Sequence[Grounds]
        Figures of the windows there are.
    wanted_ln : float
        Wanted difference of what is shown, ln size.
    rng : Generator
        Source of chance.

    Returns
    -------
    EyePair or None
        The pair; ``None`` with fewer than two windows that can be brought so near.
    """
    pairs = [(i, j) for i in range(len(windows)) for j in range(len(windows)) if i != j]
    rng.shuffle(pairs)
    for i, j in pairs:
        # The second looks coarser by the wanted difference, whatever it really is.
        by = wanted_ln + float(np.log(windows[i].d50_um / windows[j].d50_um))
        if abs(by) / 2 <= MOST_MAGNIFIED_LN:
            return EyePair(i, j, float(np.exp(-by / 2)), float(np.exp(by / 2)))
    return None


def pair_by_small(windows: Sequence[Grounds], wanted_ln: float, rng: np.random.Generator) -> EyePair | None:
    """Choose the two windows whose shares of small grounds differ most nearly as wanted; their medians will look alike.

    Parameters
    ----------
    windows : Sequence[Grounds]
        Figures of the windows there are.
    wanted_ln : float
        Wanted difference of the shares, ln.
    rng : Generator
        Source of chance.

    Returns
    -------
    EyePair or None
        The pair; ``None`` with fewer than two windows with small grounds.
    """
    best: tuple[float, EyePair] | None = None
    for i in range(len(windows)):
        for j in range(i + 1, len(windows)):
            a, b = windows[i], windows[j]
            by = float(np.log(a.d50_um / b.d50_um)) / 2
            if min(a.small_share, b.small_share) <= 0 or abs(by) > MOST_MAGNIFIED_LN:
                continue
            # A little chance, so that the same two do not come each time.
            miss = abs(abs(float(np.log(a.small_share / b.small_share))) - wanted_ln) + 0.05 * float(rng.random())
            if best is None or miss < best[0]:
                best = (miss, EyePair(i, j, float(np.exp(-by)), float(np.exp(by))))
    return best[1] if best else None
