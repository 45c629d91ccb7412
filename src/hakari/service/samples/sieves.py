"""Grinds in classes: sieves weighed and thought of, mixtures, and curves read from and written to tables."""

from __future__ import annotations

import csv

import numpy as np
from pydantic import Field
from sqlalchemy.orm import Session

from hakari.core.errors import InputError
from hakari.core.photo.result import no_grounds
from hakari.core.psd.distribution import BOULDER_FACTOR, kernel
from hakari.core.psd.grind import Grind
from hakari.core.psd.grind_sources import grind_from_classes
from hakari.core.psd.intervals import Intervals
from hakari.core.psd.photo_requirement import required_photos
from hakari.core.psd.sieve import Classes, classes_from_sieves, mix, sieve
from hakari.formats.base import Document
from hakari.formats.measurement import (
    ExtrapolatedDocument,
    IntervalsDocument,
    MeasurementDocument,
    PhotoRequirementDocument,
    ScaleDocument,
    VerdictDocument,
)
from hakari.formats.plan import GrindClasses
from hakari.service.samples.distributions import class_curve
from hakari.service.samples.grounds import pack
from hakari.service.samples.use_cases import put_on_bench
from hakari.service.samples.views import SampleDetail, rounded, sample_detail_view
from hakari.service.workspace.transaction import Workspace, find
from hakari.store import models
from hakari.store.snapshots import CurveView

WHAT_IF_SMOOTHING_LN = 0.07
MOST_ROWS = 2001
LARGEST_CSV_BYTES = 1024 * 1024


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


def _grind(session: Session, sample_id: int) -> Grind:
    return find(session, models.Sample, sample_id, "sample").whole.core()


def _what_if(now: Grind, before: Grind, lost: float) -> WhatIfView:
    size, density, ahead = class_curve(now)
    smooth = np.convolve(density, kernel(float(np.log(size[1] / size[0])), WHAT_IF_SMOOTHING_LN), mode="same")
    return WhatIfView(
        size_um=rounded(size, 2), density=rounded(smooth), cumulative=rounded(ahead), d10_um=now.quantile_um(0.1),
        d50_um=now.d50_um, d90_um=now.quantile_um(0.9), below_100=now.below(100.0), lost_share=lost,
        before_d50_um=before.d50_um, before_below_100=before.below(100.0),
    )  # fmt: skip


def sieve_sample(ws: Workspace, sample_id: int, aperture_um: float, keep: str) -> WhatIfView:
    """Return what a hand-held sieve would leave of a sample, its unseen fines counted in."""
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
    """Return the whole grind of a sample as class edges and mass fractions."""
    with ws.transaction() as session:
        return find(session, models.Sample, sample_id, "sample").whole.csv()


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
    try:
        listed = list(csv.reader(lines[:MOST_ROWS], delimiter=delimiter))
    except csv.Error:
        raise _unreadable("A cell of it is far too long.") from None
    for k, cells in enumerate(listed):
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
    return grind_from_classes(np.concatenate([table[:, 0], table[-1:, 1]]), table[:, 2])


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
    return _keep_classes(ws, read_distribution_csv(text), "table")


def add_sieving(ws: Workspace, masses: SieveMasses) -> SampleDetail:
    """Keep weighed sieves as a sample."""
    grind = classes_from_sieves(masses.aperture_um, masses.retained_g, masses.pan_g).grind
    return _keep_classes(ws, grind, "sieve", masses.coffee_id, masses.grinder_id, masses.setting)


def _keep_classes(
    ws: Workspace,
    grind: Grind,
    source: str,
    coffee_id: int | None = None,
    grinder_id: int | None = None,
    setting: str | None = None,
) -> SampleDetail:
    document = _class_document(grind, source)
    size, density, ahead = class_curve(grind)
    curve = CurveView(
        size_um=rounded(size, 2),
        density=rounded(density),
        cumulative=rounded(ahead),
        low=rounded(density),
        high=rounded(density),
    )
    with ws.transaction() as session:
        row = models.Sample(
            d50_um=document.d50_um, measurement=document, curve=curve,
            whole=GrindClasses.of(grind), grounds_hash=ws.files.put(pack(no_grounds())), source=source,
        )  # fmt: skip
        put_on_bench(session, row, coffee_id, grinder_id, setting)
        return sample_detail_view(ws, session, row)


def _class_document(grind: Grind, source: str) -> MeasurementDocument:
    """Return a measurement of which only classes are known: each figure is sure to the edges of its class."""
    classes = Classes(grind)
    d10, d50, d90 = (classes.quantile_um(q) for q in (0.1, 0.5, 0.9))
    ranges = [classes.range_um(q) for q in (0.1, 0.5, 0.9)]
    share = grind.mass_fraction
    intervals = IntervalsDocument(d10_um=ranges[0], d50_um=ranges[1], d90_um=ranges[2])
    doubt = required_photos(Intervals(intervals.d10_um, intervals.d50_um, intervals.d90_um), 1)
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
        enough=PhotoRequirementDocument(half_width=doubt.half_width, wanted=doubt.wanted, more_photos=None), between=None,
        seconds={},
    )  # fmt: skip
