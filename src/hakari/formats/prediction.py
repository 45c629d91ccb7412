"""What is predicted of a plan: times, strength, extraction, and their course."""

from __future__ import annotations

from typing import Any

import numpy as np

from hakari.core.extraction.prediction import Prediction
from hakari.core.psd.grind import Grind
from hakari.formats.base import Document, Triple
from hakari.formats.plan import MOST_SECONDS


class SeriesDocument(Document):
    """The course of a brew; equal lengths."""

    t_s: list[float]
    level_mm: list[float]
    poured_g: list[float]
    drink_g: list[float]
    level_low_mm: list[float] = []
    level_high_mm: list[float] = []


class SizeYield(Document):
    """What grounds of one size gave to the cup."""

    diameter_um: float
    ey_percent: float
    mass_share: float


class PredictionDocument(Document):
    """A predicted brew."""

    format: str = "hakari.prediction/1"
    drawdown_s: float
    last_drip_s: float
    stalled: bool
    drink_g: float
    tds_percent: float
    ey_percent: float
    ey_total_percent: float
    half_width95: dict[str, float]
    permeability_m2: float
    bed_depth_mm: float
    bypass_fraction: float
    slurry_c: float
    fitted_on_brews: int
    pour_starts_s: list[float]
    series: SeriesDocument
    ey_by_size: list[SizeYield]
    tds_by_third: Triple
    assumptions: list[str]

    @classmethod
    def of(cls, p: Prediction, grind: Grind) -> PredictionDocument:
        """Put a prediction into the format; the series has one value a second, fewer over hours."""
        flow, cup = p.flow, p.cup
        end = np.ceil(flow.t_s[-1])
        seconds = np.arange(0, end + 1, max(1.0, np.ceil(end / MOST_SECONDS)))

        def sampled(values: Any, t: Any = flow.t_s) -> list[float]:
            return [round(float(v), 3) for v in np.interp(seconds, t, values)]

        edges = np.sqrt(cup.diameter_um[1:] * cup.diameter_um[:-1])
        shares = np.diff([0.0, *(grind.below(float(e)) for e in edges), 1.0])
        return cls(
            drawdown_s=flow.bare_bed_s, last_drip_s=flow.last_drip_s, stalled=flow.stalled, drink_g=cup.drink_g,
            tds_percent=cup.tds_percent, ey_percent=cup.ey_percent, ey_total_percent=cup.ey_total_percent,
            half_width95={
                "drawdown_s": p.drawdown_half_width_s, "tds_percent": p.tds_half_width, "ey_percent": p.ey_half_width
            },
            permeability_m2=flow.bed.permeability_m2, bed_depth_mm=1000 * flow.bed.depth_m,
            bypass_fraction=flow.bypass_fraction, slurry_c=float(flow.celsius.max()),
            fitted_on_brews=p.factors.fitted_on_brews, pour_starts_s=list(flow.pour_starts_s),
            series=SeriesDocument(
                t_s=[float(t) for t in seconds], level_mm=sampled(flow.level_mm), poured_g=sampled(flow.poured_g),
                drink_g=sampled(flow.drink_g), level_low_mm=sampled(p.fast.level_mm, p.fast.t_s),
                level_high_mm=sampled(p.slow.level_mm, p.slow.t_s),
            ),
            ey_by_size=[
                SizeYield(diameter_um=float(d), ey_percent=float(e), mass_share=float(s))
                for d, e, s in zip(cup.diameter_um, cup.ey_by_size_percent, shares, strict=True)
            ],
            tds_by_third=cup.tds_by_third_percent, assumptions=list(p.assumptions),
        )  # fmt: skip
