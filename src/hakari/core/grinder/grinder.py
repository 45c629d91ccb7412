"""A grinder as the core sees it: a dial, the samples measured on it, and what was known before its last era began."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hakari.core.errors import InputError
from hakari.core.grinder.curve import Curve, CurveSample, fit_curve
from hakari.core.grinder.dial import Dial
from hakari.core.grinder.era import ENOUGH_OF_ITS_OWN, refit
from hakari.core.grinder.kinds import BladeDial
from hakari.core.grinder.trend import FINES, SPAN, Trend, fit_trend

# A dial that is read is drawn apart from the one that a grind comes from: their errors are independent.
SOURCE_SEED, TARGET_SEED = 20, 21
BLADES = "blade"


@dataclass(frozen=True)
class Grinder:
    """Name, burrs, dial and measured samples, with fines below 100 µm and span where they were measured.

    ``travel_um`` is how far the burrs move over one unit of position, where the maker says it. ``before`` is the same
    grinder in the era before, which ended by ``reason`` (``era.REASONS``); ``None`` in the first.
    """

    name: str
    burrs: str
    dial: Dial
    samples: tuple[CurveSample, ...]
    fines_below_100: tuple[float | None, ...] = ()
    spans: tuple[float | None, ...] = ()
    travel_um: float | None = None
    before: Grinder | None = None
    reason: str = "cleaned"

    @property
    def has_blades(self) -> bool:
        """Whether it chops with blades, whose settings have no size of their own."""
        return self.burrs == BLADES or isinstance(self.dial, BladeDial)

    def curve(self, seed: int = SOURCE_SEED) -> Curve:
        """Fit the curve; the same samples give the same draws.

        Parameters
        ----------
        seed : int
            Seed of the draws.

        Returns
        -------
        Curve
            The curve.

        Raises
        ------
        InputError
            ``no-curve-for-blades``; else as ``fit_curve`` and ``refit``.
        """
        if self.has_blades:
            raise InputError(
                "no-curve-for-blades", "Blades chop at random: no setting of theirs gives one size, so there is no curve.",
                "Time and shaking change what comes out; measure each grind by itself.", field="burrs",
            )  # fmt: skip
        rng = np.random.default_rng(seed)
        if self.before is not None and len(self.samples) < ENOUGH_OF_ITS_OWN:
            try:
                old = self.before.curve(seed)
            except InputError:
                old = None
            if old is not None:
                return refit(old, list(self.samples), self.reason, rng)
        return fit_curve(self.dial, list(self.samples), rng, self.travel_um)

    def fines_trend(self) -> Trend | None:
        """Share below 100 µm against the median, from this era and, while it is young, from the one before.

        Returns
        -------
        Trend or None
            Share below 100 µm against the median, from this era and, while it is young, from the one before.
        """
        return self._trend("fines_below_100")

    def span_trend(self) -> Trend | None:
        """Span against the median.

        Returns
        -------
        Trend or None
            Span against the median.
        """
        return self._trend("spans")

    def _trend(self, what: str) -> Trend | None:
        sizes: list[float] = []
        values: list[float | None] = []
        grinder: Grinder | None = self
        while grinder is not None and sum(v is not None for v in values) < ENOUGH_OF_ITS_OWN:
            own = getattr(grinder, what)
            sizes += [s.d50_um for s in grinder.samples[: len(own)]]
            values += own
            grinder = grinder.before
        return fit_trend(sizes, values, FINES if what == "fines_below_100" else SPAN)

    def fines_at(self, d50_um: float) -> float | None:
        """Return the expected share below 100 µm at a median; ``None`` where none was measured.

        Parameters
        ----------
        d50_um : float
            Volume median, µm.

        Returns
        -------
        float or None
            The expected share below 100 µm at a median.
        """
        trend = self.fines_trend()
        return None if trend is None else float(np.clip(trend.at(d50_um), 0.0, 0.45))

    def span_at(self, d50_um: float) -> float | None:
        """Return the expected span at a median; ``None`` where none was measured.

        Parameters
        ----------
        d50_um : float
            Volume median, µm.

        Returns
        -------
        float or None
            The expected span at a median.
        """
        trend = self.span_trend()
        return None if trend is None else trend.at(d50_um)
