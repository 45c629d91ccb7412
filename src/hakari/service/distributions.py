"""The size curve of a sample as one wants to see it, samples compared, sieves and mixtures, and curves from elsewhere."""

from __future__ import annotations

import csv
import io
from typing import Literal

import numpy as np
from pydantic import Field
from sqlalchemy.orm import Session

from hakari.core.errors import InputError
from hakari.core.photo.result import FloatArray, no_grounds
from hakari.core.psd.compare import compare
from hakari.core.psd.distribution import (
    BOULDER_FACTOR,
    Curve,
    effective_count,
    kernel,
    kernel_width_ln,
    log_grid,
    mass_below,
    moments,
    smooth_curve,
)
from hakari.core.psd.intervals import Intervals, cumulative_band, density_band
from hakari.core.psd.modes import density_of, fit_modes
from hakari.core.psd.sieve import Classes, classes_from_sieves, mix, sieve
from hakari.core.psd.summary import enough
from hakari.core.psd.whole import Grind, whole_from_classes
from hakari.formats.base import Document, Pair
from hakari.formats.measurement import (
    EnoughDocument,
    ExtrapolatedDocument,
    IntervalsDocument,
    MeasurementDocument,
    ScaleDocument,
    VerdictDocument,
)
from hakari.formats.plan import GrindClasses
from hakari.service.grounds import pack
from hakari.service.sample_views import CurveView, SampleDetail, reviewed, sample_detail_view
from hakari.service.samples import put_on_bench
from hakari.service.workspace import Workspace, find
from hakari.store import models

Weighting = Literal["number", "surface", "volume"]
Diameter = Literal["area", "sieve"]
POWERS: dict[str, int] = {"number": 0, "surface": 2, "volume": 3}
WHAT_IF_SMOOTHING_LN = 0.07
BAND_SEED, BAND_REPLICATES = 7, 200
MOST_COMPARED = 4
LARGEST_CSV_BYTES = 1024 * 1024


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


class WhatIfView(Document):
    """A grind that is only thought of: its curve and figures, the mass lost, and the figures before."""

    size_um: list[float]
    density: list[float]
    cumulative: list[float]
    d10_um: float
    d50_um: float
    d90_um: float
    below_100: float
    lost_share: float
    before_d50_um: float
    before_below_100: float


class SieveMasses(Document):
    """Weighed sieves: what stayed on each, what fell into the pan, and which grind it was."""

    aperture_um: list[float] = Field(min_length=1, max_length=20)
    retained_g: list[float] = Field(min_length=1, max_length=20)
    pan_g: float
    coffee_id: int | None = None
    grinder_id: int | None = None
    setting: str | None = Field(default=None, max_length=40)


def distribution(
    ws: Workspace, sample_id: int, weighting: Weighting, diameter: Diameter, fines_um: float, boulders_um: float | None
) -> DistributionView:
    """A sample's curve as asked for."""
    with ws.transaction() as session:
        row = find(session, models.Sample, sample_id, "sample")
        if row.source != "photo":
            return _of_classes(row, fines_um, boulders_um)
        document = MeasurementDocument.model_validate(row.measurement)
        p = reviewed(ws, row).particles.counted
    d = p.diameter_um if diameter == "area" else p.min_feret_um
    seen = d >= document.resolution_limit_um
    d, w = d[seen], p.weight[seen] * d[seen] ** (POWERS[weighting] - 3)
    from_cut = d >= document.cut_um
    shown = moments(d[from_cut], w[from_cut])
    width = kernel_width_ln(shown, effective_count(d[from_cut], w[from_cut]))
    curve = smooth_curve(d, w, width)
    band = density_band(d, w, np.random.default_rng(BAND_SEED), width, BAND_REPLICATES)
    ahead = cumulative_band(d, w, np.random.default_rng(BAND_SEED), BAND_REPLICATES)
    boulders = boulders_um or BOULDER_FACTOR * shown.d50_um
    modes = fit_modes(d, w)
    keep = np.arange(0, len(curve.size_um), 2)
    size = curve.size_um[keep]
    return DistributionView(
        weighting=weighting, diameter=diameter, size_um=_list(size, 2), density=_list(curve.density[keep]),
        low=_list(band.low[keep]), high=_list(band.high[keep]), cumulative=_list(curve.cumulative[keep]),
        cumulative_low=_list(ahead.low[keep]), cumulative_high=_list(ahead.high[keep]),
        d10_um=shown.d10_um, d50_um=shown.d50_um, d90_um=shown.d90_um, fines_um=fines_um,
        fines_share=mass_below(d[from_cut], w[from_cut], fines_um) if fines_um > document.cut_um else None,
        boulders_um=boulders, boulder_share=1 - mass_below(d[from_cut], w[from_cut], boulders),
        limit_um=document.resolution_limit_um, cut_um=document.cut_um,
        modes=[
            ModeView(share=m.share, median_um=m.median_um, sigma_ln=m.sigma_ln, density=_list(shape))
            for m, shape in zip(modes, density_of(modes, size), strict=True)
        ],
    )  # fmt: skip


def _list(values: FloatArray, digits: int = 5) -> list[float]:
    return [float(v) for v in np.round(values, digits)]


def _class_curve(grind: Grind) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Sizes, density per ln d (even within a class) and cumulative share of a grind in classes."""
    size = log_grid()[::2]
    ahead = np.array([grind.below(s) for s in size])
    k = np.clip(np.searchsorted(grind.edges_um, size, side="right") - 1, 0, len(grind.mass_fraction) - 1)
    density = (grind.mass_fraction / np.diff(np.log(grind.edges_um)))[k]
    density[(size < grind.edges_um[0]) | (size > grind.edges_um[-1])] = 0
    return size, density, ahead


def _of_classes(row: models.Sample, fines_um: float, boulders_um: float | None) -> DistributionView:
    grind = GrindClasses.model_validate(row.whole).core()
    size, density, ahead = _class_curve(grind)
    low, high = Classes(grind).band(size)
    d10, d50, d90 = (grind.quantile_um(q) for q in (0.1, 0.5, 0.9))
    boulders = boulders_um or BOULDER_FACTOR * d50
    return DistributionView(
        weighting="volume", diameter="sieve", size_um=_list(size, 2), density=_list(density), low=_list(density),
        high=_list(density), cumulative=_list(ahead), cumulative_low=_list(low), cumulative_high=_list(high),
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
        curves = [
            OverlayView(
                sample_id=r.id, label=_label(r, session), d50_um=r.d50_um, curve=CurveView.model_validate(r.curve)
            )
            for r in rows
        ]
        intervals = [MeasurementDocument.model_validate(r.measurement).ci95.d50_um for r in rows]
    return ComparisonView(
        curves=curves,
        differences=[
            _difference(curves[0], intervals[0], c, ci) for c, ci in zip(curves[1:], intervals[1:], strict=True)
        ],
    )


def _core_curve(view: CurveView) -> Curve:
    return Curve(np.array(view.size_um), np.array(view.density), np.array(view.cumulative))


def _difference(first: OverlayView, first_ci: Pair, other: OverlayView, other_ci: Pair) -> DifferenceView:
    d = compare(
        other.d50_um, other_ci, first.d50_um, first_ci, _core_curve(other.curve), _core_curve(first.curve)
    )  # fmt: skip
    low, high = (100 * v for v in d.interval95)
    size = f"{abs(100 * d.d50):.0f} % {'coarser' if d.d50 > 0 else 'finer'}"
    words = f"is {size} than {first.label}" if d.real else f"shows no difference from {first.label}"
    return DifferenceView(
        sample_id=other.sample_id, d50_percent=100 * d.d50, interval95_percent=(low, high), real=d.real,
        distance_ln=d.distance_ln, words=f"{other.label} {words} ({low:+.0f} to {high:+.0f} %)",
    )  # fmt: skip


def _grind(session: Session, sample_id: int) -> Grind:
    return GrindClasses.model_validate(find(session, models.Sample, sample_id, "sample").whole).core()


def _what_if(now: Grind, before: Grind, lost: float) -> WhatIfView:
    size, density, ahead = _class_curve(now)
    smooth = np.convolve(density, kernel(float(np.log(size[1] / size[0])), WHAT_IF_SMOOTHING_LN), mode="same")
    return WhatIfView(
        size_um=_list(size, 2), density=_list(smooth), cumulative=_list(ahead), d10_um=now.quantile_um(0.1),
        d50_um=now.d50_um, d90_um=now.quantile_um(0.9), below_100=now.below(100.0), lost_share=lost,
        before_d50_um=before.d50_um, before_below_100=before.below(100.0),
    )  # fmt: skip


def sieve_sample(ws: Workspace, sample_id: int, aperture_um: float, keep: str) -> WhatIfView:
    """What a hand-held sieve would leave of a sample, its unseen fines counted in."""
    with ws.transaction() as session:
        before = _grind(session, sample_id)
    left = sieve(before, aperture_um, keep)
    return _what_if(left.kept, before, left.lost)


def mix_samples(ws: Workspace, first_id: int, second_id: int, share_of_first: float) -> WhatIfView:
    """Two samples mixed by mass, compared with the first."""
    with ws.transaction() as session:
        first, second = _grind(session, first_id), _grind(session, second_id)
    return _what_if(mix(first, second, share_of_first), first, 0.0)


def distribution_csv(ws: Workspace, sample_id: int) -> str:
    """The whole grind of a sample as class edges and mass fractions."""
    with ws.transaction() as session:
        grind = _grind(session, sample_id)
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(("low_um", "high_um", "mass_fraction"))
    for low, high, mass in zip(grind.edges_um[:-1], grind.edges_um[1:], grind.mass_fraction, strict=True):
        writer.writerow((f"{low:.3f}", f"{high:.3f}", f"{mass:.8f}"))
    return out.getvalue()


def read_distribution_csv(text: str) -> Grind:
    """Read classes from CSV: three columns ``low_um, high_um, mass`` (any header names, ``;`` or tabs too), rising.

    Raises
    ------
    InputError
        ``csv-unreadable`` when rows are not three numbers or classes do not follow each other.
    """
    lines = [line for line in text.replace("\ufeff", "").splitlines() if line.strip()]
    first = lines[0] if lines else ""
    delimiter = ";" if ";" in first else "\t" if "\t" in first else ","
    rows: list[list[float]] = []
    for k, cells in enumerate(csv.reader(lines, delimiter=delimiter)):
        try:
            rows.append([float(c.strip().replace(",", ".")) for c in cells[:3]])
        except ValueError:
            if k > 0:
                raise _unreadable(f"Line {k + 1} is not three numbers.") from None
    if not rows or any(len(r) != 3 for r in rows):
        raise _unreadable("There are no rows of three numbers in it.")
    table = np.array(rows)
    if not np.isfinite(table).all() or not np.allclose(table[1:, 0], table[:-1, 1], rtol=1e-3):
        raise _unreadable("Each class must begin where the one before ends.")
    return whole_from_classes(np.concatenate([table[:, 0], table[-1:, 1]]), table[:, 2])


def _unreadable(why: str) -> InputError:
    return InputError(
        "csv-unreadable",
        f"The table could not be read. {why}",
        "Use three columns: low_um, high_um, mass.",
        field="table",
    )


def import_distribution(ws: Workspace, data: bytes) -> SampleDetail:
    """Keep a distribution that was made elsewhere as a sample."""
    if len(data) > LARGEST_CSV_BYTES:
        raise _unreadable("The file is far too large for a table of classes.")
    try:
        text = data.decode("utf-8")
    except UnicodeDecodeError:
        raise _unreadable("It is not text.") from None
    return _keep_classes(
        ws, read_distribution_csv(text), "table", SieveMasses(aperture_um=[1], retained_g=[1], pan_g=0)
    )


def add_sieving(ws: Workspace, masses: SieveMasses) -> SampleDetail:
    """Keep weighed sieves as a sample."""
    grind = classes_from_sieves(masses.aperture_um, masses.retained_g, masses.pan_g).grind
    return _keep_classes(ws, grind, "sieve", masses)


def _keep_classes(ws: Workspace, grind: Grind, source: str, of: SieveMasses) -> SampleDetail:
    document = _class_document(grind, source)
    size, density, ahead = _class_curve(grind)
    curve = CurveView(
        size_um=_list(size, 2), density=_list(density), cumulative=_list(ahead), low=_list(density), high=_list(density)
    )
    with ws.transaction() as session:
        row = models.Sample(
            d50_um=document.d50_um, measurement=document.model_dump(mode="json"), curve=curve.model_dump(),
            whole=GrindClasses.of(grind).model_dump(), grounds_hash=ws.files.put(pack(no_grounds())), source=source,
        )  # fmt: skip
        put_on_bench(session, row, of.coffee_id, of.grinder_id, of.setting)
        return sample_detail_view(ws, session, row)


def _class_document(grind: Grind, source: str) -> MeasurementDocument:
    """A measurement of which only classes are known: each figure is sure to the edges of its class."""
    classes = Classes(grind)
    d10, d50, d90 = (classes.quantile_um(q) for q in (0.1, 0.5, 0.9))
    ranges = [classes.range_um(q) for q in (0.1, 0.5, 0.9)]
    share = grind.mass_fraction
    intervals = IntervalsDocument(d10_um=ranges[0], d50_um=ranges[1], d90_um=ranges[2])
    doubt = enough(Intervals(intervals.d10_um, intervals.d50_um, intervals.d90_um), 1)
    below = {str(u): grind.below(float(u)) for u in (100, 200, 300)}
    words = {"sieve": "Weighed on sieves: each figure is known to its class.", "table": "Read from a table of classes."}
    return MeasurementDocument(
        photos=0, particles=0, scale=ScaleDocument(method=source, um_per_px=1.0, tilt_deg=None), diameter="sieve",
        d10_um=d10, d50_um=d50, d90_um=d90, span=(d90 - d10) / d50, d32_um=grind.d32_um,
        d43_um=float((share * grind.centre_um).sum()), mass_below_um=dict(below), boulder_um=BOULDER_FACTOR * d50,
        boulder_share=1 - grind.below(BOULDER_FACTOR * d50),
        extrapolated=ExtrapolatedDocument(
            d50_um=d50, mass_below_um=below, method="none: classes as given", fines_relative_sd=0.0
        ),
        ci95=intervals, effective_count=float(len(share)),
        resolution_limit_um=float(grind.edges_um[0]), blur_fwhm_um=0.0, cut_um=float(grind.edges_um[0]), coverage=0.0,
        findings=[], verdict=VerdictDocument(level="good", reason=words[source]),
        enough=EnoughDocument(half_width=doubt.half_width, wanted=doubt.wanted, more_photos=None), between=None,
        seconds={},
    )  # fmt: skip
