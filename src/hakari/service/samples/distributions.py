"""The size curve of a sample as one wants to see it, and samples compared."""

from __future__ import annotations

from typing import Literal

import numpy as np
from sqlalchemy.orm import Session

from hakari.core.arrays import FloatArray
from hakari.core.errors import InputError
from hakari.core.psd.distribution import (
    BOULDER_FACTOR,
    effective_count,
    kernel_width_ln,
    log_grid,
    mass_below,
    moments,
    smooth_curve,
)
from hakari.core.psd.grind import Grind
from hakari.core.psd.intervals import cumulative_band, density_band, resample
from hakari.core.psd.modes import density_of, fit_modes
from hakari.core.psd.sieve import Classes
from hakari.formats.base import Document, Pair
from hakari.service.samples.comparing import differ
from hakari.service.samples.views import reviewed, rounded
from hakari.service.workspace.transaction import Workspace, find
from hakari.store import models
from hakari.store.snapshots import CurveView

Weighting = Literal["number", "surface", "volume"]
Diameter = Literal["area", "sieve"]
POWERS: dict[str, int] = {"number": 0, "surface": 2, "volume": 3}
BAND_SEED, BAND_REPLICATES = 7, 200
MOST_COMPARED = 4


class ModeView(Document):
    """One mode of the mixture that explains the curve."""

    share: float
    median_um: float
    sigma_ln: float
    density: list[float]


class DistributionView(Document):
    """A size curve in one weighting and by one diameter, with its bands, marks and cuts."""

    weighting: Weighting
    diameter: Diameter
    size_um: list[float]
    density: list[float]
    low: list[float]
    high: list[float]
    cumulative: list[float]
    cumulative_low: list[float]
    cumulative_high: list[float]
    d10_um: float
    d50_um: float
    d90_um: float
    fines_um: float
    fines_share: float | None
    boulders_um: float
    boulder_share: float
    limit_um: float
    cut_um: float
    modes: list[ModeView]


class DifferenceView(Document):
    """A sample against the first one: D50 in percent with its interval, if it is real, and in words."""

    sample_id: int
    d50_percent: float
    interval95_percent: Pair
    real: bool
    distance_ln: float
    words: str


class OverlayView(Document):
    """A sample's curve for laying over another's."""

    sample_id: int
    label: str
    d50_um: float
    curve: CurveView


class ComparisonView(Document):
    """Up to four samples over each other, and each against the first."""

    curves: list[OverlayView]
    differences: list[DifferenceView]


def distribution(
    ws: Workspace, sample_id: int, weighting: Weighting, diameter: Diameter, fines_um: float, boulders_um: float | None
) -> DistributionView:
    """Return a sample's curve as asked for."""
    with ws.transaction() as session:
        row = find(session, models.Sample, sample_id, "sample")
        if row.source != "photo":
            return _of_classes(row, fines_um, boulders_um)
        document = row.measurement
        p = reviewed(ws, row).particles.counted
    d = p.diameter_um if diameter == "area" else p.min_feret_um
    seen = d >= document.resolution_limit_um
    d, w = d[seen], p.weight[seen] * d[seen] ** (POWERS[weighting] - 3)
    from_cut = d >= document.cut_um
    shown = moments(d[from_cut], w[from_cut])
    width = kernel_width_ln(shown, effective_count(d[from_cut], w[from_cut]))
    curve = smooth_curve(d, w, width)
    pinches = resample(d, w, np.random.default_rng(BAND_SEED), BAND_REPLICATES)
    band, ahead = density_band(pinches, width), cumulative_band(pinches)
    boulders = boulders_um or BOULDER_FACTOR * shown.d50_um
    modes = fit_modes(d, w)
    keep = np.arange(0, len(curve.size_um), 2)
    size = curve.size_um[keep]
    return DistributionView(
        weighting=weighting, diameter=diameter, size_um=rounded(size, 2), density=rounded(curve.density[keep]),
        low=rounded(band.low[keep]), high=rounded(band.high[keep]), cumulative=rounded(curve.cumulative[keep]),
        cumulative_low=rounded(ahead.low[keep]), cumulative_high=rounded(ahead.high[keep]),
        d10_um=shown.d10_um, d50_um=shown.d50_um, d90_um=shown.d90_um, fines_um=fines_um,
        fines_share=mass_below(d[from_cut], w[from_cut], fines_um) if fines_um > document.cut_um else None,
        boulders_um=boulders, boulder_share=1 - mass_below(d[from_cut], w[from_cut], boulders),
        limit_um=document.resolution_limit_um, cut_um=document.cut_um,
        modes=[
            ModeView(share=m.share, median_um=m.median_um, sigma_ln=m.sigma_ln, density=rounded(shape))
            for m, shape in zip(modes, density_of(modes, size), strict=True)
        ],
    )  # fmt: skip


def class_curve(grind: Grind) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Sizes, density per ln d (even within a class) and cumulative share of a grind in classes."""
    size = log_grid()[::2]
    ahead = np.array([grind.below(s) for s in size])
    k = np.clip(np.searchsorted(grind.edges_um, size, side="right") - 1, 0, len(grind.mass_fraction) - 1)
    density = (grind.mass_fraction / np.diff(np.log(grind.edges_um)))[k]
    density[(size < grind.edges_um[0]) | (size > grind.edges_um[-1])] = 0
    return size, density, ahead


def _of_classes(row: models.Sample, fines_um: float, boulders_um: float | None) -> DistributionView:
    grind = row.whole.core()
    size, density, ahead = class_curve(grind)
    low, high = Classes(grind).band(size)
    d10, d50, d90 = (grind.quantile_um(q) for q in (0.1, 0.5, 0.9))
    boulders = boulders_um or BOULDER_FACTOR * d50
    return DistributionView(
        weighting="volume", diameter="sieve", size_um=rounded(size, 2), density=rounded(density), low=rounded(density),
        high=rounded(density), cumulative=rounded(ahead), cumulative_low=rounded(low), cumulative_high=rounded(high),
        d10_um=d10, d50_um=d50, d90_um=d90, fines_um=fines_um, fines_share=grind.below(fines_um),
        boulders_um=boulders, boulder_share=1 - grind.below(boulders), limit_um=float(grind.edges_um[0]),
        cut_um=float(grind.edges_um[0]), modes=[],
    )  # fmt: skip


def _label(row: models.Sample, session: Session) -> str:
    era = session.get(models.Era, row.era_id) if row.era_id is not None else None
    place = f"{era.grinder.name} {row.setting}" if era is not None and row.setting else None
    return place or {"photo": f"sample {row.id}", "sieve": f"sieves {row.id}", "table": f"table {row.id}"}[row.source]


def compare_samples(ws: Workspace, sample_ids: list[int]) -> ComparisonView:
    """Lay samples over each other.

    Raises
    ------
    InputError
        ``too-many-samples`` for more than four.
    """
    if not 1 <= len(sample_ids) <= MOST_COMPARED:
        raise InputError("too-many-samples", "Up to four curves lie over each other.", "Take one away.", field="ids")
    with ws.transaction() as session:
        rows = [find(session, models.Sample, k, "sample") for k in sample_ids]
        curves = [OverlayView(sample_id=r.id, label=_label(r, session), d50_um=r.d50_um, curve=r.curve) for r in rows]
        others = zip(rows[1:], curves[1:], strict=True)
        differences = [_difference(rows[0], curves[0], other, view) for other, view in others]
    return ComparisonView(curves=curves, differences=differences)


def _difference(first: models.Sample, shown: OverlayView, other: models.Sample, view: OverlayView) -> DifferenceView:
    d = differ(other, first)
    low, high = (100 * v for v in d.interval95)
    size = f"{abs(100 * d.d50):.0f} % {'coarser' if d.d50 > 0 else 'finer'}"
    words = f"is {size} than {shown.label}" if d.real else f"shows no difference from {shown.label}"
    return DifferenceView(
        sample_id=other.id, d50_percent=100 * d.d50, interval95_percent=(low, high), real=d.real,
        distance_ln=d.distance_ln, words=f"{view.label} {words} ({low:+.0f} to {high:+.0f} %)",
    )  # fmt: skip
