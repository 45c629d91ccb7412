"""What measuring a photo returns; the only part of ``photo`` that the rest of core may see."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

import numpy as np
import numpy.typing as npt

FloatArray = npt.NDArray[np.float64]
Severity = Literal["note", "warning", "problem"]


@dataclass(frozen=True)
class Finding:
    """Something a person should know about a photo, with what to do about it."""

    code: str
    severity: Severity
    message: str
    remedy: str


@dataclass(frozen=True)
class Scale:
    """How pixels become millimetres: the method, the mean scale and what is known of its quality."""

    method: str
    um_per_px: float
    tilt_deg: float | None
    residual_um: float | None = None
    paper: str | None = None


@dataclass(frozen=True)
class Particles:
    """Measured grounds, one row each.

    Lengths in µm on the paper, positions in mm on the paper and in pixels of the upright picture.
    ``outline_start`` and ``outline_px`` hold the outlines one after the other: ground ``i`` owns rows
    ``outline_start[i]:outline_start[i + 1]`` of ``outline_px`` (k, 2).
    """

    photo: npt.NDArray[np.int32]
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
    touches_edge: npt.NDArray[np.bool_]
    was_split: npt.NDArray[np.bool_]
    weight: FloatArray
    outline_start: npt.NDArray[np.int64]
    outline_px: npt.NDArray[np.float32]

    def __len__(self) -> int:
        return len(self.diameter_um)


@dataclass(frozen=True)
class PhotoResult:
    """One measured photo: its grounds, scale, sharpness and findings."""

    particles: Particles
    scale: Scale
    width_px: int
    height_px: int
    blur_fwhm_um: float
    resolution_limit_um: float
    coverage: float
    findings: tuple[Finding, ...]
    seconds: dict[str, float] = field(default_factory=dict)
    region_px: npt.NDArray[np.float64] | None = None


def concatenate(parts: list[Particles]) -> Particles:
    """Join the grounds of several photos into one sample; ``photo`` numbers them from 0."""
    names = [n for n in Particles.__dataclass_fields__ if n not in ("photo", "outline_start", "outline_px")]
    columns = {n: np.concatenate([getattr(p, n) for p in parts]) for n in names}
    offsets = np.cumsum([0] + [len(p.outline_px) for p in parts])
    starts = [p.outline_start[:-1] + o for p, o in zip(parts, offsets[:-1], strict=True)]
    return Particles(
        photo=np.concatenate([np.full(len(p), i, np.int32) for i, p in enumerate(parts)]),
        outline_start=np.concatenate([*starts, offsets[-1:]]).astype(np.int64),
        outline_px=np.concatenate([p.outline_px for p in parts]),
        **columns,
    )
