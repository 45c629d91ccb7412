"""Fines and span along a grinder's curve: straight in ln against ln of the median, with a prior on the slope."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hakari.core.arrays import FloatArray


@dataclass(frozen=True)
class Law:
    """What is known before anything is measured: the slope in ln–ln, its spread, and what two photos differ by, ln."""

    slope: float
    slope_sd: float
    scatter: float


# Finer brings more fines: their share grows about with the surface made. A span hardly follows the size.
FINES = Law(-1.3, 0.5, 0.15)
SPAN = Law(-0.1, 0.25, 0.06)
# Without any measured level its spread is so wide that only samples count.
LEVEL_SD = 3.0


@dataclass(frozen=True)
class Trend:
    """ln y = level + slope · (ln d − ln middle), with the covariance of level and slope."""

    middle_um: float
    mean: FloatArray
    covariance: FloatArray
    scatter: float

    def at(self, d50_um: float) -> float:
        """Return the expected value at a median.

        Parameters
        ----------
        d50_um : float
            Volume median, µm.

        Returns
        -------
        float
            The expected value at a median.
        """
        return float(np.exp(self.mean @ self._row(d50_um)))

    def interval(self, d50_um: float) -> tuple[float, float]:
        """95 % interval of one more sample.

        Parameters
        ----------
        d50_um : float
            Volume median, µm.

        Returns
        -------
        tuple of two floats
            95 % interval of one more sample.
        """
        row = self._row(d50_um)
        half = 1.96 * float(np.sqrt(row @ self.covariance @ row + self.scatter**2))
        return self.at(d50_um) * float(np.exp(-half)), self.at(d50_um) * float(np.exp(half))

    def _row(self, d50_um: float) -> FloatArray:
        return np.array([1.0, np.log(d50_um / self.middle_um)])


def fit_trend(d50_um: list[float], values: list[float | None], law: Law) -> Trend | None:
    """Fit the samples that have a value above nothing; ``None`` when none has.

    Parameters
    ----------
    d50_um : list[float]
        Volume median, µm.
    values : list[float or None]
        Values at those medians; ``None`` where not measured.
    law : Law
        How the trend depends on size.

    Returns
    -------
    Trend or None
        The trend; ``None`` without values.
    """
    known = [(d, v) for d, v in zip(d50_um, values, strict=True) if v]
    if not known:
        return None
    d, v = (np.log(np.array(column)) for column in zip(*known, strict=True))
    middle = float(d.mean())
    phi = np.column_stack([np.ones(len(d)), d - middle])
    prior_mean, prior = np.array([float(v.mean()), law.slope]), np.diag([LEVEL_SD**2, law.slope_sd**2])
    marginal = phi @ prior @ phi.T + law.scatter**2 * np.eye(len(d))
    gain = np.linalg.solve(marginal, phi @ prior).T
    return Trend(
        float(np.exp(middle)), prior_mean + gain @ (v - phi @ prior_mean), prior - gain @ phi @ prior, law.scatter
    )
