"""A grinder's curve: size against dial position, with its uncertainty, from a few measured samples.

The burr gap grows linearly with the dial on most grinders, but not on all. So the curve is a mixture over families in
which D^λ is linear in position (λ = 1 straight, λ = 0 exponential), each with a small smooth departure: a Bayesian
linear regression in closed form (Bishop 2006, §3.3), the families weighted by their evidence. Falling curves are dropped.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hakari.core.errors import InputError
from hakari.core.grinder.dial import Dial
from hakari.core.photo.result import FloatArray

FAMILIES = np.array([0.0, 0.25, 0.5, 0.75, 1.0, 1.25])
# Prior sizes at the fine and the coarse end of the dial: median and ln spread. Wide on purpose.
FINE_END_UM, FINE_END_SD = 260.0, 0.6
COARSE_END_UM, COARSE_END_SD = 1500.0, 0.6
DEPARTURES = 4
DEPARTURE_SD = 0.03
# Two runs at one setting differ by more than counting: grinder, feed and mood, ln.
REPEAT_SD = 0.012
DRAWS = 2000


@dataclass(frozen=True)
class CurveSample:
    """One measured setting: position, median in µm and the ln standard deviation of the median."""

    position: float
    d50_um: float
    ln_sd: float


def assumed_interval_um(d50_um: float) -> tuple[float, float]:
    """The 95 % interval of a median that came without one: ±6 %."""
    return 0.94 * d50_um, 1.06 * d50_um


def sample_from_interval(position: float, d50_um: float, ci95_um: tuple[float, float] | None) -> CurveSample:
    """Turn a median with its 95 % interval into a sample; without one, ±6 % is assumed.

    Raises
    ------
    InputError
        ``sample-malformed``.
    """
    low, high = ci95_um or assumed_interval_um(d50_um)
    if not (20 < d50_um < 5000 and 0 < low <= d50_um <= high):
        raise InputError(
            "sample-malformed", "A sample needs a median between 20 and 5000 µm, inside its interval.",
            "Check the measured size of that setting.", field="samples",
        )  # fmt: skip
    return CurveSample(position, d50_um, max(0.004, float(np.log(high / low)) / (2 * 1.96)))


@dataclass(frozen=True)
class Curve:
    """Drawn curves at all valid positions: ``draws_um`` (draws, positions) and how many samples they rest on."""

    positions: FloatArray
    draws_um: FloatArray
    samples: tuple[CurveSample, ...]

    @property
    def median_um(self) -> FloatArray:
        """Middle curve, (positions,)."""
        return np.median(self.draws_um, axis=0)

    def interval_um(self) -> tuple[FloatArray, FloatArray]:
        """95 % interval at each position."""
        low, high = np.percentile(self.draws_um, [2.5, 97.5], axis=0)
        return low, high

    def at(self, position: float) -> FloatArray:
        """Draws of the size at one valid position, (draws,)."""
        return np.asarray(self.draws_um[:, int(np.argmin(np.abs(self.positions - position)))])


def fit_curve(dial: Dial, samples: list[CurveSample], rng: np.random.Generator) -> Curve:
    """Fit a curve to at least one sample.

    Raises
    ------
    InputError
        ``no-samples``, or ``samples-contradict`` when no rising curve goes through them.
    """
    if not samples:
        raise InputError(
            "no-samples", "This grinder has no measured setting yet, so it has no curve.",
            "Photograph a grind and say at which setting it was ground.", field="samples",
        )  # fmt: skip
    positions = dial.positions()
    sign = 1.0 if dial.finer == "down" else -1.0
    low, high = positions[0], positions[-1]

    def unit(p: FloatArray) -> FloatArray:
        """0 at the fine end, 1 at the coarse end."""
        return np.asarray((p - low) / (high - low) if sign > 0 else (high - p) / (high - low))

    x = unit(np.array([s.position for s in samples]))
    d = np.array([s.d50_um for s in samples])
    ln_sd = np.hypot([s.ln_sd for s in samples], REPEAT_SD)
    grid = unit(positions)
    posteriors = [_posterior(family, x, d, ln_sd) for family in FAMILIES]
    evidence = np.array([p[2] for p in posteriors])
    weights = np.exp(evidence - evidence.max())
    counts = rng.multinomial(4 * DRAWS, weights / weights.sum())
    drawn = []
    for family, (mean, covariance, _), count in zip(FAMILIES, posteriors, counts, strict=True):
        if count:
            coefficients = rng.multivariate_normal(mean, covariance, size=count, method="eigh")
            drawn.append(_inverse(coefficients @ _basis(grid, family, d.mean()).T, family))
    curves = np.concatenate(drawn)
    order = np.argsort(grid)
    rising = np.isfinite(curves).all(axis=1) & (np.diff(curves[:, order], axis=1) > 0).all(axis=1)
    kept = curves[rising]
    if len(kept) < 40:
        raise InputError(
            "samples-contradict", "No curve that grinds coarser along the dial goes through these samples.",
            "Check which setting each sample was ground at.", field="samples",
        )  # fmt: skip
    return Curve(positions, kept[rng.permutation(len(kept))[:DRAWS]], tuple(samples))


def _transform(d: FloatArray, family: float) -> FloatArray:
    return np.log(d) if family == 0 else np.asarray(d**family)


def _inverse(t: FloatArray, family: float) -> FloatArray:
    if family == 0:
        return np.exp(np.minimum(t, 12.0))
    with np.errstate(invalid="ignore"):
        return np.where(t > 0, np.maximum(t, 1e-9) ** (1 / family), np.nan)


def _scale(d: FloatArray | float, family: float) -> FloatArray:
    """dt/dlnD, which turns a relative into a transformed error."""
    return np.asarray(np.ones_like(np.asarray(d, np.float64)) if family == 0 else family * np.asarray(d) ** family)


def _basis(x: FloatArray, family: float, typical_um: float) -> FloatArray:
    """Fine end, coarse end, and smooth departures that are worth ``DEPARTURE_SD`` of the size."""
    scale = float(_scale(typical_um, family))
    waves = [scale * np.cos(k * np.pi * x) / k for k in range(2, 2 + DEPARTURES)]
    return np.column_stack([1 - x, x, *waves])


def _posterior(family: float, x: FloatArray, d: FloatArray, ln_sd: FloatArray) -> tuple[FloatArray, FloatArray, float]:
    """Mean and covariance of the coefficients, and the log evidence in ln D."""
    phi = _basis(x, family, float(d.mean()))
    mean0 = np.zeros(phi.shape[1])
    ends = np.array([FINE_END_UM, COARSE_END_UM])
    mean0[:2] = _transform(ends, family)
    sd0 = np.full(phi.shape[1], DEPARTURE_SD)
    sd0[:2] = _scale(ends, family) * [FINE_END_SD, COARSE_END_SD]
    noise = _scale(d, family) * ln_sd
    s = phi * sd0
    marginal = s @ s.T + np.diag(noise**2)
    residual = _transform(d, family) - phi @ mean0
    gain = np.linalg.solve(marginal, phi * sd0**2).T
    mean = mean0 + gain @ residual
    covariance = np.diag(sd0**2) - gain @ (phi * sd0**2)
    _, log_det = np.linalg.slogdet(marginal)
    log_evidence = -0.5 * float(residual @ np.linalg.solve(marginal, residual)) - 0.5 * float(log_det)
    # Densities are compared in ln D, so each family pays its Jacobian.
    log_evidence += float(np.log(_scale(d, family)).sum())
    return mean, (covariance + covariance.T) / 2, log_evidence
