"""Flakes of chaff: pale, thin and yellowish things on the paper, kept apart as what was left out."""

from __future__ import annotations

import cv2
import numpy as np
import numpy.typing as npt

from hakari.core.photo.result import LEFT_OUT, Particles, no_grounds
from hakari.core.photo.view import View

SMALLEST_FLAKE_UM = 300.0


def flakes(chaff: npt.NDArray[np.uint8], view: View) -> Particles:
    """List the flakes of a mask (1 where chaff lies, in pixels of the measured box) as left out for being pale."""
    least_px = np.pi / 4 * (SMALLEST_FLAKE_UM / view.scale.um_per_px) ** 2
    contours, _ = cv2.findContours(chaff, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    found = [c for c in contours if len(c) >= 5 and cv2.contourArea(c) >= least_px]
    if not found:
        return no_grounds()
    n = len(found)
    area_px = np.array([cv2.contourArea(c) for c in found])
    centres = np.array([c[:, 0, :].mean(axis=0) for c in found]) + [view.x0, view.y0]
    um_per_px = np.sqrt(view.plane.mm2_per_px(centres)) * 1000
    sides = np.sort([cv2.minAreaRect(c)[1] for c in found], axis=1) + 1.0
    length = np.array([cv2.arcLength(c, True) for c in found])
    hull = np.array([cv2.contourArea(cv2.convexHull(c)) for c in found])
    mm = view.plane.to_mm(centres)
    outlines = [cv2.approxPolyDP(c, 0.7, True)[:, 0, :] for c in found]
    return Particles(
        photo=np.zeros(n, np.int32), x_mm=mm[:, 0], y_mm=mm[:, 1], x_px=centres[:, 0], y_px=centres[:, 1],
        area_um2=area_px * um_per_px**2, diameter_um=np.sqrt(4 * area_px / np.pi) * um_per_px,
        min_feret_um=sides[:, 0] * um_per_px, max_feret_um=sides[:, 1] * um_per_px, aspect_ratio=sides[:, 1] / sides[:, 0],
        circularity=np.minimum(1.0, 4 * np.pi * area_px / length**2),
        solidity=np.minimum(1.0, area_px / np.maximum(hull, 1.0)),
        darkness=np.full(n, 0.3), touches_edge=np.zeros(n, np.bool_), was_split=np.zeros(n, np.bool_), weight=np.ones(n),
        left_out=np.full(n, LEFT_OUT.index("pale"), np.int8),
        outline_start=np.concatenate([[0], np.cumsum([len(o) for o in outlines])]).astype(np.int64),
        outline_px=(np.concatenate(outlines) + [view.x0, view.y0]).astype(np.float32),
    )  # fmt: skip
