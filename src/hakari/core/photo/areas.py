"""Areas that are not coffee, chaff and shadow, as outlines among what was left out: for a person to see and check."""

from __future__ import annotations

import cv2
import numpy as np

from hakari.core.arrays import Uint8Array
from hakari.core.photo.result import ExclusionReason, Particles, no_grounds
from hakari.core.photo.view import View

SMALLEST_AREA_UM = 220.0


def areas_left_out(mask: Uint8Array, cell_px: float, reason: ExclusionReason, view: View) -> Particles:
    """Outlines of the areas of a mask (1 there) on the cell grid of the measured box, left out for a reason.

    Parameters
    ----------
    mask : ndarray of uint8
        1 where the area is, on the cell grid.
    cell_px : float
        Width of a cell, px.
    reason : ExclusionReason
        Why.
    view : View
        The view of the sheet.

    Returns
    -------
    Particles
        Outlines of the areas of a mask (1 there) on the cell grid of the measured box, left out for a reason.
    """
    step = np.array([(view.x1 - view.x0) / mask.shape[1], (view.y1 - view.y0) / mask.shape[0]])
    least_cells = np.pi / 4 * (SMALLEST_AREA_UM / view.scale.um_per_px / cell_px) ** 2
    contours, _ = cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    found = [c for c in contours if len(c) >= 5 and cv2.contourArea(c) >= least_cells]
    if not found:
        return no_grounds()
    n = len(found)
    contours = [((c[:, 0, :] + 0.5) * step - 0.5).astype(np.float32)[:, None, :] for c in found]
    # Outlines run through the middles of cells; half a cell all round belongs to the area as well.
    area_px = np.array([cv2.contourArea(c) + 0.5 * cell_px * cv2.arcLength(c, True) for c in contours])
    centres = np.array([c[:, 0, :].mean(axis=0) for c in contours]) + [view.x0, view.y0]
    um_per_px = np.sqrt(view.plane.mm2_per_px(centres)) * 1000
    sides = np.sort([cv2.minAreaRect(c)[1] for c in contours], axis=1) + cell_px
    length = np.array([cv2.arcLength(c, True) for c in contours])
    hull = np.array([cv2.contourArea(cv2.convexHull(c)) for c in contours])
    mm = view.plane.to_mm(centres)
    outlines = [cv2.approxPolyDP(c, 0.35 * cell_px, True)[:, 0, :] for c in contours]
    return Particles(
        photo=np.zeros(n, np.int32), x_mm=mm[:, 0], y_mm=mm[:, 1], x_px=centres[:, 0], y_px=centres[:, 1],
        area_um2=area_px * um_per_px**2, diameter_um=np.sqrt(4 * area_px / np.pi) * um_per_px,
        min_feret_um=sides[:, 0] * um_per_px, max_feret_um=sides[:, 1] * um_per_px, aspect_ratio=sides[:, 1] / sides[:, 0],
        circularity=np.minimum(1.0, 4 * np.pi * area_px / np.maximum(length, 1.0) ** 2),
        solidity=np.minimum(1.0, area_px / np.maximum(hull, area_px)),
        darkness=np.full(n, 0.3), touches_edge=np.zeros(n, np.bool_), was_split=np.zeros(n, np.bool_), weight=np.ones(n),
        left_out=np.full(n, reason, np.int8),
        outline_start=np.concatenate([[0], np.cumsum([len(o) for o in outlines])]).astype(np.int64),
        outline_px=(np.concatenate(outlines) + [view.x0, view.y0]).astype(np.float32),
    )  # fmt: skip
