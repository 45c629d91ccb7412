"""Measuring one sample from one or more photos."""

from __future__ import annotations

import zlib
from dataclasses import dataclass

import cv2
import numpy as np

from hakari.core.errors import InputError
from hakari.core.photo.decode import decode
from hakari.core.photo.pipeline import CardScale, PointsScale, ScaleChoice, measure_photo
from hakari.core.photo.result import Particles, PhotoResult, concatenate
from hakari.core.psd.summary import Summary, summarise
from hakari.formats.measurement import MeasurementDocument

# Enough for 60 megapixels of JPEG or HEIC at the best quality.
MAX_FILE_BYTES = 64 * 1024 * 1024


@dataclass(frozen=True)
class MeasuredSample:
    """A measured sample: each photo's result, all grounds together, their summary and its document."""

    photos: list[PhotoResult]
    particles: Particles
    summary: Summary
    document: MeasurementDocument


def parse_scale(text: str) -> ScaleChoice:
    """Read ``card`` or ``points:X1,Y1,X2,Y2,DISTANCE_MM``.

    Raises
    ------
    InputError
        ``scale-unreadable``, or ``scale-not-supported`` for a round object.
    """
    if text == "card":
        return CardScale()
    if text.startswith("disc:"):
        raise InputError(
            "scale-not-supported", "A round object as scale is not read yet.",
            "Use the printed card, or two points a known distance apart.", field="scale",
        )  # fmt: skip
    name, _, rest = text.partition(":")
    try:
        values = [float(v) for v in rest.split(",")]
    except ValueError:
        values = []
    if name != "points" or len(values) != 5 or not np.isfinite(values).all():
        raise InputError(
            "scale-unreadable", f"“{text}” is not a scale.",
            "Use card, or points:X1,Y1,X2,Y2,DISTANCE_MM with pixels and millimetres.", field="scale",
        )  # fmt: skip
    return PointsScale(*values)


def measure_files(files: list[bytes], scale: ScaleChoice) -> MeasuredSample:
    """Measure the photos of one grind as one sample; the same photos always give the same figures.

    Raises
    ------
    InputError
        When a photo cannot be used; several photos name the one at fault.
    """
    results = []
    for i, data in enumerate(files):
        try:
            if len(data) > MAX_FILE_BYTES:
                raise InputError(
                    "file-too-large", f"The file has {len(data) / 2**20:.0f} MB; at most {MAX_FILE_BYTES // 2**20} are read.",
                    "Use the phone's normal photo mode.",
                )  # fmt: skip
            results.append(measure_photo(data, scale))
        except InputError as error:
            if len(files) == 1:
                raise
            raise InputError(error.code, f"Photo {i + 1}: {error.message}", error.remedy, f"photos.{i}") from error
    particles = concatenate([r.particles for r in results])
    limit = max(r.resolution_limit_um for r in results)
    seed = zlib.crc32(b"".join(zlib.crc32(f).to_bytes(4, "big") for f in files))
    summary = summarise(particles, limit, np.random.default_rng(seed))
    return MeasuredSample(results, particles, summary, MeasurementDocument.of(summary, results))


def overlay_png(data: bytes, particles: Particles) -> bytes:
    """The photo with the outlines of its grounds, as PNG."""
    picture = np.ascontiguousarray(decode(data).rgb[:, :, ::-1])
    s = particles.outline_start
    points = np.round(particles.outline_px * 8).astype(np.int32)
    outlines = [points[a:b].reshape(-1, 1, 2) for a, b in zip(s[:-1], s[1:], strict=True) if b - a > 2]
    cv2.polylines(picture, outlines, True, (34, 75, 207), 1, cv2.LINE_AA, 3)
    ok, png = cv2.imencode(".png", picture)
    if not ok:
        raise InputError("overlay-failed", "The overlay could not be drawn.", "Try without --overlay.")
    return png.tobytes()
