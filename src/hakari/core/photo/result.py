"""What measuring a photo returns; the only part of ``photo`` that the rest of core may see."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import IntEnum
from typing import Any, Literal

import numpy as np

from hakari.core.arrays import BoolArray, FloatArray, Image32, Int8Array, Int32Array, IntArray

Severity = Literal["note", "warning", "problem"]
Place = tuple[float, float, float, float]  # x0, y0, x1, y1 in px of the picture


class ExclusionReason(IntEnum):
    """Why something dark on the paper is not counted; what ``Particles.left_out`` holds."""

    NONE = 0
    PALE = 1
    GREY = 2
    FAINT = 3
    TOO_LARGE = 4
    CUT_BY_THE_EDGE = 5
    BY_HAND = 6
    CHAFF = 7
    SHADOW = 8

    @property
    def words(self) -> str:
        """The reason as the tables and the page name it; empty for what is counted."""
        return "" if self is ExclusionReason.NONE else self.name.lower().replace("_", " ")


@dataclass(frozen=True)
class Finding:
    """Something a person should know about a photo, with what to do about it.

    ``place_px`` is where it shows, (x0, y0, x1, y1) in pixels of photo ``photo``, when it has a place.
    """

    code: str
    severity: Severity
    message: str
    remedy: str
    place_px: Place | None = None
    photo: int | None = None


@dataclass(frozen=True)
class Scale:
    """How pixels become millimetres: the method, the mean scale and what is known of its quality."""

    method: str
    um_per_px: float
    tilt_deg: float | None
    residual_um: float | None = None
    paper: str | None = None


def points_of(starts: IntArray, counts: IntArray) -> tuple[IntArray, IntArray]:
    """Rows of outlines stored one after the other, chosen by their starts and lengths, and the new ``outline_start``.

    Parameters
    ----------
    starts : ndarray of int64
        Where the runs start, (n,).
    counts : ndarray of int64
        Lengths of the runs, (n,).

    Returns
    -------
    tuple[ndarray of int64, ndarray of int64]
        Rows of outlines stored one after the other, chosen by their starts and lengths, and the new
        ``outline_start``.
    """
    ends = np.concatenate([[0], np.cumsum(counts)]).astype(np.int64)
    return np.repeat(starts - ends[:-1], counts) + np.arange(ends[-1]), ends


@dataclass(frozen=True)
class Particles:
    """Measured grounds, one row each.

    Lengths in µm on the paper, positions in mm on the paper and in pixels of the upright picture.
    ``left_out`` is 0 for what counts, else an ``ExclusionReason``: why it does not.
    ``outline_start`` and ``outline_px`` hold the outlines one after the other: ground ``i`` owns rows
    ``outline_start[i]:outline_start[i + 1]`` of ``outline_px`` (k, 2).
    """

    photo: Int32Array
    x_mm: FloatArray
    y_mm: FloatArray
    x_px: FloatArray
    y_px: FloatArray
    area_um2: FloatArray
    diameter_um: FloatArray
    min_feret_um: FloatArray
    max_feret_um: FloatArray
    aspect_ratio: FloatArray
    circularity: FloatArray
    solidity: FloatArray
    darkness: FloatArray
    touches_edge: BoolArray
    was_split: BoolArray
    weight: FloatArray
    left_out: Int8Array
    outline_start: IntArray
    outline_px: Image32

    def __len__(self) -> int:
        return len(self.diameter_um)

    def select(self, rows: IntArray) -> Particles:
        """Return the grounds of some rows, in that order, with their outlines.

        Parameters
        ----------
        rows : ndarray of int64
            Rows to be taken, (n,).

        Returns
        -------
        Particles
            The grounds of some rows, in that order, with their outlines.
        """
        points, ends = points_of(self.outline_start[:-1][rows], np.diff(self.outline_start)[rows])
        columns = {name: getattr(self, name)[rows] for name in COLUMNS}
        return Particles(outline_start=ends, outline_px=self.outline_px[points], **columns)

    @property
    def counted(self) -> Particles:
        """The grounds that count: neither left out by the program nor by hand."""
        return self if not self.left_out.any() else self.select(np.flatnonzero(self.left_out == 0))


COLUMNS = tuple(n for n in Particles.__dataclass_fields__ if n not in ("outline_start", "outline_px"))


@dataclass(frozen=True)
class PhotoResult:
    """One measured photo: its grounds (left out ones too), scale, sharpness and findings.

    ``region_px`` outlines what was measured, ``scale_mark_px`` what the scale was taken from, ``ten_mm_px`` is a line of
    10 mm on the paper for a person to check the scale by. ``light_error`` is the standard error of sizes because of the
    picture's light, as a share.
    """

    particles: Particles
    scale: Scale
    width_px: int
    height_px: int
    blur_fwhm_um: float
    resolution_limit_um: float
    coverage: float
    findings: tuple[Finding, ...]
    seconds: dict[str, float] = field(default_factory=dict)
    region_px: FloatArray | None = None
    scale_mark_px: FloatArray | None = None
    ten_mm_px: FloatArray | None = None
    light_error: float = 0.0


def no_grounds() -> Particles:
    """Particles without a row.

    Returns
    -------
    Particles
        Particles without a row.
    """
    kinds = {"photo": np.int32, "touches_edge": np.bool_, "was_split": np.bool_, "left_out": np.int8}
    columns: dict[str, Any] = {name: np.zeros(0, kinds.get(name, np.float64)) for name in COLUMNS}
    return Particles(outline_start=np.zeros(1, np.int64), outline_px=np.zeros((0, 2), np.float32), **columns)


def concatenate(parts: list[Particles], one_photo: bool = False) -> Particles:
    """Join the grounds of several photos into one sample, or of one; ``photo`` numbers the photos from 0.

    Parameters
    ----------
    parts : list[Particles]
        Grounds to be joined.
    one_photo : bool
        Whether all parts belong to one photo.

    Returns
    -------
    Particles
        All grounds.
    """
    names = [n for n in COLUMNS if n != "photo"]
    columns = {n: np.concatenate([getattr(p, n) for p in parts]) for n in names}
    offsets = np.cumsum([0] + [len(p.outline_px) for p in parts])
    starts = [p.outline_start[:-1] + o for p, o in zip(parts, offsets[:-1], strict=True)]
    return Particles(
        photo=np.concatenate([np.full(len(p), 0 if one_photo else i, np.int32) for i, p in enumerate(parts)]),
        outline_start=np.concatenate([*starts, offsets[-1:]]).astype(np.int64),
        outline_px=np.concatenate([p.outline_px for p in parts]),
        **columns,
    )
