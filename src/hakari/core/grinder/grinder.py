"""A grinder as the core sees it: a dial and the samples measured on it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hakari.core.grinder.curve import Curve, CurveSample, fit_curve
from hakari.core.grinder.dial import ClickDial, NumberDial

# A dial that is read is drawn apart from the one that a grind comes from: their errors are independent.
SOURCE_SEED, TARGET_SEED = 20, 21


@dataclass(frozen=True)
class Grinder:
    """Name, burrs, dial and measured samples, with fines below 100 µm and span where they were measured."""

    name: str
    burrs: str
    dial: ClickDial | NumberDial
    samples: tuple[CurveSample, ...]
    fines_below_100: tuple[float | None, ...] = ()
    spans: tuple[float | None, ...] = ()

    def curve(self, seed: int = SOURCE_SEED) -> Curve:
        """Fit the curve; the same samples give the same draws."""
        return fit_curve(self.dial, list(self.samples), np.random.default_rng(seed))

    def fines_at(self, d50_um: float) -> float | None:
        """Share below 100 µm at a size, from the measured settings; finer brings more (ln–ln slope −1.3 where unknown)."""
        known = [(s.d50_um, f) for s, f in zip(self.samples, self.fines_below_100, strict=False) if f]
        if not known:
            return None
        d, f = (np.log(np.array(v)) for v in zip(*known, strict=True))
        slope = -1.3
        if len(d) > 1 and np.ptp(d) > 0.15:
            # Shrink the measured slope towards the usual one: two samples carry much noise.
            measured = float(np.polyfit(d, f, 1)[0])
            weight = min(0.8, (len(d) - 1) / 4)
            slope = float(np.clip(weight * measured + (1 - weight) * slope, -2.5, 0.0))
        return float(np.clip(np.exp(f.mean() + slope * (np.log(d50_um) - d.mean())), 0.0, 0.45))

    def span_at(self, d50_um: float) -> float | None:
        """Span near a size: the mean of the measured ones, nearer settings counting more."""
        known = [(s.d50_um, v) for s, v in zip(self.samples, self.spans, strict=False) if v]
        if not known:
            return None
        d, v = (np.array(c) for c in zip(*known, strict=True))
        weight = 1 / (0.05 + np.abs(np.log(d / d50_um)))
        return float((weight * v).sum() / weight.sum())
