"""Measuring one sample from one or more photos."""

from __future__ import annotations

import zlib
from dataclasses import dataclass

import cv2
import numpy as np
import numpy.typing as npt

from hakari.core.errors import InputError
from hakari.core.photo.decode import decode
from hakari.core.photo.pipeline import CardScale, DiscScale, PointsScale, Polarity, ScaleChoice, measure_photo
from hakari.core.photo.result import Particles, PhotoResult, concatenate
from hakari.core.psd.summary import Summary, summarise
from hakari.formats.measurement import MeasurementDocument
from hakari.service.samples.pictures import check_file
from hakari.service.workspace.processes import Processes


@dataclass(frozen=True)
class MeasuredSample:
    """A measured sample: each photo's result, all grounds together, their summary and its document."""

    photos: list[PhotoResult]
    particles: Particles
    summary: Summary
    document: MeasurementDocument


HERE = Processes(0)  # in the calling thread
SCALE_WORDS = "card, disc:DIAMETER_MM or points:X1,Y1,X2,Y2,DISTANCE_MM"


def parse_scale(text: str, bar_mm: float | None = None) -> ScaleChoice:
    """Read ``card``, ``disc:DIAMETER_MM[,THICKNESS_MM]`` or ``points:X1,Y1,X2,Y2,DISTANCE_MM``.

    Raises
    ------
    InputError
        ``scale-unreadable``.
    """
    name, _, rest = text.partition(":")
    try:
        values = [float(v) for v in rest.split(",")] if rest else []
    except ValueError:
        values = [np.nan]
    if np.isfinite(values).all():
        if name == "card" and not values:
            return CardScale() if bar_mm is None else CardScale(bar_mm)
        if name == "disc" and len(values) in (1, 2):
            return DiscScale(*values)
        if name == "points" and len(values) == 5:
            return PointsScale(*values)
    raise InputError(
        "scale-unreadable", f"“{text}” is not a scale.", f"Use {SCALE_WORDS}, pixels and millimetres.", field="scale"
    )


def measure_one(data: bytes, scale: ScaleChoice, polarity: Polarity = "dark") -> PhotoResult:
    """Measure one photo.

    Raises
    ------
    InputError
        When it cannot be used.
    """
    check_file(data)
    return measure_photo(data, scale, polarity)


def measure_files(
    files: list[bytes], scale: ScaleChoice, polarity: Polarity = "dark", processes: Processes = HERE
) -> MeasuredSample:
    """Measure the photos of one grind as one sample; the same photos always give the same figures.

    Raises
    ------
    InputError
        When a photo cannot be used; several photos name the one at fault.
    """
    results = []
    for i, data in enumerate(files):
        try:
            results.append(processes.run(measure_one, data, scale, polarity))
        except InputError as error:
            if len(files) == 1:
                raise
            raise InputError(error.code, f"Photo {i + 1}: {error.message}", error.remedy, f"photos.{i}") from error
    return as_sample(results)


def as_sample(results: list[PhotoResult]) -> MeasuredSample:
    """Put measured photos of one grind together."""
    particles = concatenate([r.particles for r in results])
    summary = summarise_grounds(
        particles, max(r.resolution_limit_um for r in results), max(r.light_error for r in results)
    )
    return MeasuredSample(results, particles, summary, MeasurementDocument.of(summary, results))


def summarise_grounds(particles: Particles, limit_um: float, light_error: float) -> Summary:
    """Summarise grounds; the same grounds always give the same figures."""
    rng = np.random.default_rng(zlib.crc32(particles.diameter_um.tobytes()))
    return summarise(particles, limit_um, rng, light_error)


def drawn_outlines(rgb: npt.NDArray[np.uint8], particles: Particles) -> npt.NDArray[np.uint8]:
    """Return a picture with the outlines of the grounds that count, in OpenCV's order of colours."""
    picture = np.ascontiguousarray(rgb[:, :, ::-1])
    counted = particles.counted
    s = counted.outline_start
    points = np.round(counted.outline_px * 8).astype(np.int32)
    outlines = [points[a:b].reshape(-1, 1, 2) for a, b in zip(s[:-1], s[1:], strict=True) if b - a > 2]
    cv2.polylines(picture, outlines, True, (34, 75, 207), 1, cv2.LINE_AA, 3)
    return picture


def outlined_jpeg(data: bytes, particles: Particles, long_side_px: int) -> bytes:
    """Return the photo with the outlines of its grounds, reduced, as JPEG."""
    picture = drawn_outlines(decode(data).rgb, particles)
    factor = min(1.0, long_side_px / max(picture.shape[:2]))
    reduced = cv2.resize(picture, None, fx=factor, fy=factor, interpolation=cv2.INTER_AREA)
    _, jpeg = cv2.imencode(".jpg", reduced, [cv2.IMWRITE_JPEG_QUALITY, 82])
    return jpeg.tobytes()


def overlay_png(data: bytes, particles: Particles) -> bytes:
    """Return the photo with the outlines of its grounds, as PNG."""
    ok, png = cv2.imencode(".png", drawn_outlines(decode(data).rgb, particles))
    if not ok:
        raise InputError("overlay-failed", "The overlay could not be drawn.", "Try without --overlay.")
    return png.tobytes()
