"""One sample of a batch, measured with the same code as the page; runs in a worker and never raises for a bad photo."""

from __future__ import annotations

import hashlib
import json
import logging
import time
from collections.abc import Sequence
from dataclasses import dataclass
from importlib import metadata
from pathlib import Path

from hakari.core.errors import InputError
from hakari.core.photo.result import PhotoResult
from hakari.formats.batch import PhotoRow, SampleRow
from hakari.formats.measurement import MeasurementDocument, particles_csv
from hakari.service.batches.listing import BatchSample, read_photo
from hakari.service.samples.measuring import as_sample, measure_one, parse_scale

CRASHED, FAULT = "work-crashed", "measuring-failed"
log = logging.getLogger(__name__)


@dataclass(frozen=True)
class SampleResult:
    """What was found of a sample: a row a photo, a row for all of them, and each photo's grounds as CSV where wanted."""

    photos: tuple[PhotoRow, ...]
    sample: SampleRow
    particles: tuple[tuple[str, str], ...] = ()


def key_of(sample: BatchSample, contents: Sequence[str]) -> str:
    """Return what a result is known by: content of the photos, settings, and the program's version."""
    said = [list(contents), sample.scale, sample.place.model_dump(), metadata.version("hakari")]
    return hashlib.sha256(json.dumps(said, sort_keys=True).encode()).hexdigest()[:24]


def content_of(data: bytes) -> str:
    """Return the SHA-256 of a photo."""
    return hashlib.sha256(data).hexdigest()


def measure_sample(sample: BatchSample, data: Sequence[bytes], key: str, particles: bool = False) -> SampleResult:
    """Measure the photos of a sample; what cannot be used is a row with its reason."""
    rows, good, tables = [], [], []
    for address, one in zip(sample.photos, data, strict=True):
        row, measured = _measured(sample, address, one, key)
        rows.append(row)
        if measured is not None:
            good.append(measured)
            if particles:
                tables.append((row.sha256, particles_csv(measured.result.particles)))
    return SampleResult(tuple(rows), _together(sample, rows, good, key), tuple(tables))


def measure_sample_there(
    sample: BatchSample, contents: Sequence[str], key: str, particles: bool = False
) -> SampleResult:
    """Measure the photos of a sample where this runs: they are read by their addresses, which must reach the same photos."""
    data = []
    for address, content in zip(sample.photos, contents, strict=True):
        try:
            data.append(read_photo(address))
        except OSError as error:
            return unreadable(sample, address, f"A worker cannot read it: {error.strerror or error}")
        if content_of(data[-1]) != content:
            return unreadable(sample, address, "A worker finds another photo at this address.")
    return measure_sample(sample, data, key, particles)


def crashed(sample: BatchSample, contents: Sequence[str], key: str, message: str) -> SampleResult:
    """Return the rows of a sample that stopped its worker."""
    rows = [
        PhotoRow(
            **sample.place.model_dump(), photo=a, sha256=c, status=CRASHED, message=message, scale=sample.scale, key=key
        )
        for a, c in zip(sample.photos, contents, strict=True)
    ]
    return SampleResult(tuple(rows), _together(sample, rows, [], key))


def unreadable(sample: BatchSample, address: str, message: str) -> SampleResult:
    """Return the rows of a sample of which a photo cannot be read at all."""
    rows = [
        PhotoRow(
            **sample.place.model_dump(), photo=a, sha256="", status="file-unreadable",
            message=message if a == address else f"{Path(address).name} of the same sample cannot be read.",
            scale=sample.scale,
        )
        for a in sample.photos
    ]  # fmt: skip
    return SampleResult(tuple(rows), _together(sample, rows, [], ""))


@dataclass(frozen=True)
class _Measured:
    """A photo's grounds, and its figures as its own sample."""

    result: PhotoResult
    figures: dict[str, object]


def _measured(sample: BatchSample, address: str, data: bytes, key: str) -> tuple[PhotoRow, _Measured | None]:
    row = PhotoRow(
        **sample.place.model_dump(), photo=address, sha256=content_of(data), scale=sample.scale, key=key
    )  # fmt: skip
    started = time.perf_counter()
    try:
        result = measure_one(data, parse_scale(sample.scale))
        figures = _figures(as_sample([result]).document)
    except InputError as error:
        said = {"status": error.code, "message": f"{error.message} {error.remedy}"}
        return row.model_copy(update={**said, "seconds": round(time.perf_counter() - started, 3)}), None
    except Exception as error:
        # One photo in a thousand may hit a fault of ours: it is a row like any other, and the run goes on.
        log.exception("%s could not be measured", address)
        return row.model_copy(update={"status": FAULT, "message": f"{type(error).__name__}: {error}"}), None
    of_photo = {
        "coverage": result.coverage, "resolution_limit_um": result.resolution_limit_um,
        "seconds": round(time.perf_counter() - started, 3),
    }  # fmt: skip
    return row.model_copy(update=figures | of_photo), _Measured(result, figures)


def _together(sample: BatchSample, rows: Sequence[PhotoRow], measured: Sequence[_Measured], key: str) -> SampleRow:
    failed = len(rows) - len(measured)
    row = SampleRow(**sample.place.model_dump(), photos=len(rows), failed=failed, key=key)
    if not measured:
        return row
    if len(measured) == 1:
        return row.model_copy(update=measured[0].figures)
    try:
        return row.model_copy(update=_figures(as_sample([m.result for m in measured]).document))
    except InputError:
        return row


def _figures(m: MeasurementDocument) -> dict[str, object]:
    low, high = m.ci95.d50_um
    return {
        "d10_um": m.d10_um, "d50_um": m.d50_um, "d90_um": m.d90_um, "d50_low_um": low, "d50_high_um": high, "span": m.span,
        "fines_below_100": m.extrapolated.mass_below_um.get("100"), "mass_below_200": m.mass_below_um.get("200"),
        "grounds": m.particles, "cut_um": m.cut_um, "light_error": m.light_error, "verdict": m.verdict.level,
    }  # fmt: skip
