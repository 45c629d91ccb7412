"""Do the 95 % intervals hold the grind? Particle lists drawn from grinds that are known in closed form.

``python -m benchmarks.intervals`` draws lists of differing count and width, and prints how many of the intervals of D50 and
D90 hold the grind's own figure and how wide they are beside the ideal: the interval that the true spread of the figure over
many pinches of the same size would give. Seeds from 900000 on were not used when the intervals' factors were found.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from scipy.optimize import brentq
from scipy.stats import norm

from hakari.core.psd.distribution import quantile_um
from hakari.core.psd.intervals import counting_intervals

Array = npt.NDArray[np.float64]
FIRST_SEED, LISTS, PINCHES = 900_000, 600, 120
CUT_UM, LARGEST_UM = 100.0, 6000.0
FIGURES = {"D50": 0.5, "D90": 0.9}


@dataclass(frozen=True)
class KnownGrind:
    """A mixture of lognormals, by mass: shares, volume medians in µm and widths in ln d."""

    share: Array
    median_um: Array
    sigma: Array

    def below(self, size_um: float) -> float:
        """Share of the mass from the cut up that is smaller than a size."""
        low, high, at = (
            float((self.share * norm.cdf(np.log(x / self.median_um) / self.sigma)).sum())
            for x in (CUT_UM, LARGEST_UM, size_um)
        )
        return (at - low) / (high - low)

    def quantile_um(self, share: float) -> float:
        """Size below which a share of the mass from the cut up lies."""
        return float(brentq(lambda x: self.below(x) - share, CUT_UM, LARGEST_UM))

    def pinch(self, count: int, rng: np.random.Generator) -> Array:
        """Diameters of about ``count`` grounds from the cut up (Hatch and Choate 1929 for number from mass)."""
        number_median = self.median_um * np.exp(-3 * self.sigma**2)
        number = self.share / (number_median**3 * np.exp(4.5 * self.sigma**2))
        seen = number * norm.sf(np.log(CUT_UM / number_median) / self.sigma)
        draws = rng.poisson(count * number / seen.sum())
        d = np.concatenate(
            [rng.lognormal(np.log(m), s, n) for m, s, n in zip(number_median, self.sigma, draws, strict=True)]
        )
        return np.asarray(d[(d >= CUT_UM) & (d <= LARGEST_UM)])


def random_grind(rng: np.random.Generator) -> tuple[KnownGrind, int]:
    """Return a grind over the range that people measure, and how many grounds of it lie on the paper."""
    median, sigma, fines = (
        np.exp(rng.uniform(np.log(250), np.log(1200))),
        rng.uniform(0.2, 0.45),
        rng.uniform(0.02, 0.16),
    )
    share, medians, sigmas = [fines, 1 - fines], [55 * np.exp(3 * 0.35**2), median], [0.35, sigma]
    if rng.random() < 0.35:
        second = rng.uniform(0.25, 0.5)
        share = [fines, (1 - fines) * (1 - second), (1 - fines) * second]
        medians, sigmas = [*medians, median * rng.uniform(1.6, 2.1)], [*sigmas, sigma]
    count = int(np.exp(rng.uniform(np.log(600), np.log(8000))))
    return KnownGrind(np.array(share), np.array(medians), np.array(sigmas)), count


def judge(seed: int) -> list[tuple[bool, float]]:
    """For D50 and D90 of one list: whether its interval holds the grind, and its width over the ideal."""
    rng = np.random.default_rng(seed)
    grind, count = random_grind(rng)
    d = grind.pinch(count, rng)
    found = counting_intervals(d, np.ones(len(d)))
    spread = np.array(
        [quantile_um(p, p**3, list(FIGURES.values())) for p in (grind.pinch(count, rng) for _ in range(PINCHES))]
    )
    ideal = 2 * 1.96 * np.log(spread).std(axis=0)
    rows = []
    for (low, high), share, best in zip((found.d50_um, found.d90_um), FIGURES.values(), ideal, strict=True):
        rows.append((low <= grind.quantile_um(share) <= high, float(np.log(high / low) / best)))
    return rows


def main(lists: int = LISTS) -> None:
    results = [judge(FIRST_SEED + k) for k in range(lists)]
    print(f"95 % intervals against the grind, {lists} lists (seeds {FIRST_SEED}…{FIRST_SEED + lists - 1})")
    for k, name in enumerate(FIGURES):
        held = np.mean([r[k][0] for r in results])
        width = [r[k][1] for r in results]
        print(
            f"  {name}: held by {100 * held:.1f} %; "
            f"width over the ideal: median {np.median(width):.2f}, mean {np.mean(width):.2f}"
        )


if __name__ == "__main__":
    main()
