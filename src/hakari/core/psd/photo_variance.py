"""Several photos of one grind: how far they differ beyond counting, and how many more would be enough.

A pinch is not the grind: tapping and static sort the grounds, so photos differ by more than their counts explain. The
spread between photos τ is a random effect on ln D50 with a half-normal prior, estimated on a grid (DerSimonian and Laird
1986 give the model; the prior keeps two photos from saying too much).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.special import chdtrc

from hakari.core.arrays import FloatArray
from hakari.core.photo.result import Particles
from hakari.core.psd.distribution import quantile_um, volumes
from hakari.core.psd.intervals import SHARES, standard_errors_ln

PRIOR_TAU = 0.03
LEAST_GROUNDS = 40
MOST_PHOTOS = 60


@dataclass(frozen=True)
class BetweenPhotoVariance:
    """Photos of one sample compared: each photo's figures and the spread between them.

    ``tau_ln`` is the root mean square spread of ln D50 between photos beyond counting; ``differ`` says that it is
    larger than chance and matters.
    """

    d50_um: tuple[float, ...]
    se_ln: tuple[float, ...]
    tau_ln: float
    differ: bool


def between_photos(particles: Particles, photos: int, cut_um: float) -> BetweenPhotoVariance | None:
    """Compare the photos of a sample; ``None`` for a single photo or when one has too few grounds.

    Parameters
    ----------
    particles : Particles
        Measured grounds.
    photos : int
        How many photos.
    cut_um : float
        Size below which nothing counts, µm.

    Returns
    -------
    BetweenPhotoVariance or None
        The variance; ``None`` with one photo.
    """
    figures, errors = [], []
    for photo in range(photos):
        mine = (particles.photo == photo) & (particles.diameter_um >= cut_um)
        if photos < 2 or int(mine.sum()) < LEAST_GROUNDS:
            return None
        d, w = particles.diameter_um[mine], particles.weight[mine]
        figures.append(float(quantile_um(d, volumes(d, w), [0.5])[0]))
        errors.append(float(standard_errors_ln(d, w)[SHARES.index(0.5)]))
    y, v = np.log(figures), np.array(errors) ** 2
    tau = np.linspace(0, 0.3, 301)
    mean_square = float(_mean_square(y, v, tau))
    fixed = float((y / v).sum() / (1 / v).sum())
    q = float(((y - fixed) ** 2 / v).sum())
    significant = float(chdtrc(len(y) - 1, q)) < 0.05
    tau_ln = float(np.sqrt(mean_square))
    return BetweenPhotoVariance(tuple(figures), tuple(errors), tau_ln, significant and tau_ln > 0.03)


def _mean_square(y: FloatArray, v: FloatArray, tau: FloatArray) -> float:
    """Posterior mean of τ² on a grid, the common mean integrated out under a flat prior."""
    total = v[None, :] + tau[:, None] ** 2
    weight = 1 / total
    mean = (weight * y).sum(axis=1) / weight.sum(axis=1)
    log_post = -0.5 * np.log(total).sum(axis=1) - 0.5 * np.log(weight.sum(axis=1))
    log_post -= 0.5 * (weight * (y - mean[:, None]) ** 2).sum(axis=1) + 0.5 * (tau / PRIOR_TAU) ** 2
    post = np.exp(log_post - log_post.max())
    return float((post * tau**2).sum() / post.sum())


def widening(between: BetweenPhotoVariance | None, pooled_se_ln: float) -> float:
    """Factor by which an interval of the pooled grounds grows because photos differ; 1 for one photo.

    Parameters
    ----------
    between : BetweenPhotoVariance or None
        Variance between photos; ``None`` where it is not known.
    pooled_se_ln : float
        Standard error of ln size from counting.

    Returns
    -------
    float
        Factor by which an interval of the pooled grounds grows because photos differ.
    """
    if between is None or pooled_se_ln <= 0:
        return 1.0
    return float(np.sqrt(1 + between.tau_ln**2 / len(between.d50_um) / pooled_se_ln**2))


def photos_needed(half_width: float, photos: int, wanted: float) -> int | None:
    """How many more photos like these bring a relative half width of an interval down to ``wanted``.

    The half width falls with the root of the number of photos. 0 when it is there; ``None`` when no reasonable number is
    enough.

    Parameters
    ----------
    half_width : float
        Half width of the 95 % interval, as a share.
    photos : int
        How many photos.
    wanted : float
        Half width that is wanted, as a share.

    Returns
    -------
    int or None
        How many more photos like these bring a relative half width of an interval down to ``wanted``.
    """
    if half_width <= wanted:
        return 0
    total = int(np.ceil(photos * (half_width / wanted) ** 2))
    return total - photos if total <= MOST_PHOTOS else None
