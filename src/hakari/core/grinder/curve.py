"""A grinder's curve: size against dial position, with its uncertainty, from a few measured samples.

The burr gap grows linearly with the dial on most grinders, but not on all. So the curve is a mixture over families
(``family.py``), weighted by their evidence and drawn from at random; draws that fall along the dial are dropped.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from hakari.core.arrays import FloatArray
from hakari.core.errors import InputError
from hakari.core.grinder.dial import Dial
from hakari.core.grinder.family import FAMILIES, FAMILY_PRIOR, basis, inverse, posterior

# Two runs at one setting differ by more than counting: grinder, feed and mood, ln.
REPEAT_SD = 0.012
DRAWS = 2000
FEWEST_DRAWS = 40
MOST_KNOTS = 121
# The median grows by about as much as the gap between the burrs; how much exactly differs between burrs, ln.
SIZE_PER_TRAVEL, TRAVEL_SD = 1.0, 0.35
ASSUMED_HALF_WIDTH = 0.06


@dataclass(frozen=True)
class CurveSample:
    """One measured setting: its position, median in µm, the ln standard deviation of the median, and the roast, if said."""

    position: float
    d50_um: float
    ln_sd: float
    roast: str | None = None


def assumed_interval_um(d50_um: float) -> tuple[float, float]:
    """Return the 95 % interval of a median that came without one: ±6 %.

    Parameters
    ----------
    d50_um : float
        Volume median, µm.

    Returns
    -------
    tuple of two floats
        The 95 % interval of a median that came without one, µm.
    """
    return (1 - ASSUMED_HALF_WIDTH) * d50_um, (1 + ASSUMED_HALF_WIDTH) * d50_um


def sample_from_interval(
    position: float, d50_um: float, ci95_um: tuple[float, float] | None, roast: str | None = None
) -> CurveSample:
    """Turn a median with its 95 % interval into a sample; without one, ±6 % is assumed.

    Parameters
    ----------
    position : float
        Position on the dial.
    d50_um : float
        Volume median, µm.
    ci95_um : tuple of two floats or None
        95 % interval of the median, µm.
    roast : str or None
        Roast of the coffee; any where ``None``.

    Returns
    -------
    CurveSample
        The sample.

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
    return CurveSample(position, d50_um, max(0.004, float(np.log(high / low)) / (2 * 1.96)), roast)


@dataclass(frozen=True)
class Curve:
    """Curves drawn at knots along the dial, and the samples they rest on.

    ``positions`` (places,) are the dial's; ``knots`` (k,) rise; ``ln_um`` (draws, k) is ln of the median in µm;
    ``roast_ln`` gives, for each further roast that was measured, the draws (draws,) of its ln offset.
    """

    positions: FloatArray
    knots: FloatArray
    ln_um: FloatArray
    samples: tuple[CurveSample, ...]
    roast_ln: dict[str, FloatArray] = field(default_factory=dict)

    def sizes_um(self, positions: FloatArray, roast: str | None = None) -> FloatArray:
        """Draws of the size at some positions, (draws, n); beyond the knots the last slope goes on.

        Parameters
        ----------
        positions : ndarray of float64
            Positions on the dial, (n,).
        roast : str or None
            Roast of the coffee; any where ``None``.

        Returns
        -------
        ndarray of float64
            Draws of the size at some positions, (draws, n), µm.
        """
        right = np.clip(np.searchsorted(self.knots, positions), 1, len(self.knots) - 1)
        left = right - 1
        share = (positions - self.knots[left]) / (self.knots[right] - self.knots[left])
        ln_um = self.ln_um[:, left] * (1 - share) + self.ln_um[:, right] * share
        if roast is not None and roast in self.roast_ln:
            ln_um = ln_um + self.roast_ln[roast][:, None]
        return np.exp(ln_um)

    def roast_factor(self, roast: str | None) -> float:
        """How much coarser a roast comes out than the one that the curve stands for; 1 where that was not measured.

        Parameters
        ----------
        roast : str or None
            Roast of the coffee; any where ``None``.

        Returns
        -------
        float
            How much coarser a roast comes out than the one that the curve stands for.
        """
        return float(np.exp(np.median(self.roast_ln[roast]))) if roast is not None and roast in self.roast_ln else 1.0

    @cached_property
    def median_um(self) -> FloatArray:
        """Middle curve, (places,)."""
        return np.exp(np.interp(self.positions, self.knots, np.median(self.ln_um, axis=0)))

    def interval_um(self) -> tuple[FloatArray, FloatArray]:
        """95 % interval at each place.

        Returns
        -------
        tuple[ndarray of float64, ndarray of float64]
            95 % interval at each place, µm.
        """
        low, high = np.percentile(self.ln_um, [2.5, 97.5], axis=0)
        return tuple(np.exp(np.interp(self.positions, self.knots, v)) for v in (low, high))

    def at(self, place: int, roast: str | None = None) -> FloatArray:
        """Draws of the size at one place, (draws,).

        Parameters
        ----------
        place : int
            Place on the dial.
        roast : str or None
            Roast of the coffee; any where ``None``.

        Returns
        -------
        ndarray of float64
            Draws of the size at one place, (draws,).
        """
        return np.asarray(self.sizes_um(self.positions[[place]], roast)[:, 0])


def fit_curve(
    dial: Dial, samples: list[CurveSample], rng: np.random.Generator, travel_um: float | None = None
) -> Curve:
    """Fit a curve to at least one sample.

    Parameters
    ----------
    travel_um:
        How far the burrs move apart over one unit of position, where the maker says it: the slope is then expected
        near it, within a third or so.

    Returns
    -------
    Curve
        The curve.

    Raises
    ------
    InputError
        ``no-samples``, or ``samples-contradict`` when no curve that grinds coarser along the dial goes through them.
    """
    if not samples:
        raise InputError(
            "no-samples", "This grinder has no measured setting yet, so it has no curve.",
            "Photograph a grind and say at which setting it was ground.", field="samples",
        )  # fmt: skip
    positions = dial.positions()
    low, high = positions[0], positions[-1]
    knots = np.unique(positions)
    knots = knots if len(knots) <= MOST_KNOTS else np.linspace(low, high, MOST_KNOTS)

    def unit(p: FloatArray) -> FloatArray:
        """0 at the fine end, 1 at the coarse end."""
        return np.asarray((p - low) / (high - low) if dial.finer == "down" else (high - p) / (high - low))

    further = _further_roasts(samples)
    x = unit(np.array([s.position for s in samples]))
    d = np.array([s.d50_um for s in samples])
    ln_sd = np.hypot([s.ln_sd for s in samples], REPEAT_SD)
    of_roast = np.array([[s.roast == r for r in further] for s in samples], np.float64).reshape(len(samples), -1)
    fits = [posterior(family, x, d, ln_sd, of_roast) for family in FAMILIES]
    evidence = np.array([f[2] for f in fits]) + np.log(FAMILY_PRIOR)
    weights = np.exp(evidence - evidence.max())
    counts = rng.multinomial(4 * DRAWS, weights / weights.sum())
    grid = unit(knots)
    curves, offsets = [], []
    for family, (mean, covariance, _), count in zip(FAMILIES, fits, counts, strict=True):
        if count:
            coefficients = rng.multivariate_normal(mean, covariance, size=count, method="eigh", check_valid="ignore")
            shape = basis(grid, family, d.mean())
            curves.append(inverse(coefficients[:, : shape.shape[1]] @ shape.T, family))
            offsets.append(coefficients[:, shape.shape[1] :])
    drawn, offset = np.concatenate(curves), np.concatenate(offsets)
    rising = np.isfinite(drawn).all(axis=1) & (np.diff(drawn[:, np.argsort(grid)], axis=1) > 0).all(axis=1)
    drawn, offset = drawn[rising], offset[rising]
    if len(drawn) < FEWEST_DRAWS:
        raise InputError(
            "samples-contradict", "No curve that grinds coarser along the dial goes through these samples.",
            "Check which setting each sample was ground at, or leave the odd one out.", field="samples",
        )  # fmt: skip
    chosen = _chosen(drawn, travel_um * (high - low) if travel_um else None, rng)
    return Curve(
        positions, knots, np.log(drawn[chosen]), tuple(samples),
        {r: offset[chosen, k] for k, r in enumerate(further)},
    )  # fmt: skip


def _further_roasts(samples: list[CurveSample]) -> list[str]:
    """Roasts other than the one measured most, which the curve itself stands for."""
    named = [s.roast for s in samples if s.roast is not None]
    order = sorted(set(named), key=lambda r: (-named.count(r), named.index(r)))
    return order[1:]


def _chosen(drawn: FloatArray, whole_travel_um: float | None, rng: np.random.Generator) -> FloatArray:
    """Which draws to keep, (≤ DRAWS,): any, or those whose slope suits the burrs' travel the likelier."""
    if whole_travel_um is None:
        return np.asarray(rng.permutation(len(drawn))[:DRAWS])
    rise = np.abs(drawn[:, -1] - drawn[:, 0])
    miss = (np.log(rise) - np.log(SIZE_PER_TRAVEL * whole_travel_um)) / TRAVEL_SD
    weight = np.exp(-0.5 * (miss**2 - (miss**2).min()))
    return np.asarray(rng.choice(len(drawn), DRAWS, p=weight / weight.sum()))
