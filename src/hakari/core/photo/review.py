"""A person's corrections of a measured photo, kept apart from the machine's result and replayed on it.

Grounds have numbers: those of the machine count from 0 in the order of its result; the grounds that edit ``k`` makes
are numbered from ``10_000_000 + 1000 k``. An edit that names a ground which an earlier, undone edit had made does nothing.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import cv2
import numpy as np

from hakari.core.arrays import BoolArray, FloatArray, IntArray
from hakari.core.errors import InputError
from hakari.core.photo.outline import polygon_area
from hakari.core.photo.result import COLUMNS, ExclusionReason, Particles

EditKind = Literal["exclude", "include", "split", "join", "lasso", "photo"]
MADE_FROM, MADE_PER_EDIT = 10_000_000, 1000
BY_HAND = ExclusionReason.BY_HAND
FERET_ANGLES = 36
NEAR_UM = 1500.0


@dataclass(frozen=True)
class Edit:
    """One correction: its number, what it does, to which grounds, and the line or patch drawn, px (n, 2)."""

    number: int
    kind: EditKind
    photo: int = 0
    grounds: tuple[int, ...] = ()
    drawn_px: tuple[tuple[float, float], ...] = ()


@dataclass(frozen=True)
class Reviewed:
    """Grounds after all corrections, with their numbers (n,); ``replaced`` are numbers that were split or joined."""

    particles: Particles
    numbers: IntArray
    replaced: tuple[int, ...]

    def row_of(self, number: int) -> int | None:
        """Return the row of a ground by its number.

        Parameters
        ----------
        number : int
            Number of the ground.

        Returns
        -------
        int or None
            The row of a ground by its number.
        """
        found = np.flatnonzero(self.numbers == number)
        return int(found[0]) if len(found) else None


def review(particles: Particles, edits: list[Edit]) -> Reviewed:
    """Replay corrections in their order on the machine's result, which is not changed.

    Parameters
    ----------
    particles : Particles
        Measured grounds.
    edits : list[Edit]
        Corrections in their order.

    Returns
    -------
    Reviewed
        The corrected grounds.
    """
    now = Reviewed(particles, np.arange(len(particles), dtype=np.int64), ())
    for edit in edits:
        now = _applied(now, edit)
    return now


def check_edit(now: Reviewed, edit: Edit) -> None:
    """Refuse a correction that would do nothing.

    Parameters
    ----------
    now : Reviewed
        The grounds as corrected so far.
    edit : Edit
        The correction.

    Raises
    ------
    InputError
        ``no-such-ground``, ``nothing-drawn``, ``line-misses``, ``join-needs-two`` or ``join-too-far``.
    """
    rows = [now.row_of(g) for g in edit.grounds]
    if any(r is None for r in rows):
        raise InputError("no-such-ground", "One of these grounds is no longer there.", "Pick it again on the photo.")
    picked = [r for r in rows if r is not None]
    if edit.kind == "lasso":
        if len(edit.drawn_px) < 3 or not _inside(now.particles, edit).any():
            raise InputError("nothing-drawn", "No ground lies in the patch.", "Draw round the grounds to leave out.")
    elif edit.kind == "split":
        if len(picked) != 1 or len(edit.drawn_px) < 2 or _halves(now.particles, picked[0], edit) is None:
            raise InputError("line-misses", "The line does not cut the ground in two.", "Draw right across one ground.")
    elif edit.kind == "join":
        _check_join(now.particles, picked)
    elif edit.kind in ("exclude", "include") and not picked:
        raise InputError("no-such-ground", "No ground is picked.", "Click a ground on the photo first.")


def _check_join(p: Particles, rows: list[int]) -> None:
    if len(rows) < 2 or len({int(p.photo[r]) for r in rows}) > 1:
        raise InputError(
            "join-needs-two", "Joining needs two grounds of one photo.", "Pick one, then another with Shift."
        )
    first = rows[0]
    for r in rows[1:]:
        apart = float(np.hypot(p.x_mm[r] - p.x_mm[first], p.y_mm[r] - p.y_mm[first])) * 1000
        if apart > NEAR_UM + p.diameter_um[first] + p.diameter_um[r]:
            raise InputError("join-too-far", "These grounds lie too far apart to be one.", "Pick neighbours.")


def _inside(p: Particles, edit: Edit) -> BoolArray:
    """Which grounds have their centre in the drawn patch of their photo, (n,)."""
    patch = np.asarray(edit.drawn_px, np.float32)
    (x0, y0), (x1, y1) = patch.min(axis=0), patch.max(axis=0)
    inside: BoolArray = (p.photo == edit.photo) & (p.x_px >= x0) & (p.x_px <= x1) & (p.y_px >= y0) & (p.y_px <= y1)
    for r in np.flatnonzero(inside).tolist():
        inside[r] = cv2.pointPolygonTest(patch, (float(p.x_px[r]), float(p.y_px[r])), False) >= 0
    return np.asarray(inside)


def _applied(now: Reviewed, edit: Edit) -> Reviewed:
    p = now.particles
    rows = np.array([r for g in edit.grounds if (r := now.row_of(g)) is not None], np.int64)
    if edit.kind == "split":
        halves = _halves(p, int(rows[0]), edit) if len(rows) else None
        return now if halves is None else _replaced(now, rows, halves, edit)
    if edit.kind == "join":
        return now if len(rows) < 2 else _replaced(now, rows, [_joined(p, rows)], edit)
    left_out = p.left_out.copy()
    if edit.kind == "lasso":
        rows = np.flatnonzero(_inside(p, edit) & (left_out == 0))
    elif edit.kind == "photo":
        rows = np.flatnonzero((p.photo == edit.photo) & (left_out == 0))
    left_out[rows] = 0 if edit.kind == "include" else BY_HAND
    return replace(now, particles=replace(p, left_out=left_out))


def _outline(p: Particles, row: int) -> FloatArray:
    """Return the outline of a ground, px; a small disc where it has none."""
    points = p.outline_px[p.outline_start[row] : p.outline_start[row + 1]].astype(np.float64)
    if len(points) >= 3:
        return points
    t = np.arange(8) * np.pi / 4
    return np.column_stack([p.x_px[row] + 1.5 * np.cos(t), p.y_px[row] + 1.5 * np.sin(t)])


def _halves(p: Particles, row: int, edit: Edit) -> list[tuple[FloatArray, float]] | None:
    """Outlines and areas in µm² of the two parts of a ground on either side of the drawn line; ``None`` if it misses."""
    outline = _outline(p, row)
    (ax, ay), (bx, by) = edit.drawn_px[0], edit.drawn_px[-1]
    side = (outline[:, 0] - ax) * (by - ay) - (outline[:, 1] - ay) * (bx - ax)
    parts: list[FloatArray] = []
    for sign in (1.0, -1.0):
        kept: list[FloatArray] = []
        for k in range(len(outline)):
            here, there = sign * side[k - 1], sign * side[k]
            if (here > 0) != (there > 0):
                t = here / (here - there)
                kept.append(outline[k - 1] + t * (outline[k] - outline[k - 1]))
            if there > 0:
                kept.append(outline[k])
        if len(kept) < 3:
            return None
        parts.append(np.array(kept))
    areas = [polygon_area(part) for part in parts]
    if min(areas) < 0.02 * sum(areas):
        return None
    return [(part, float(p.area_um2[row]) * a / sum(areas)) for part, a in zip(parts, areas, strict=True)]


def _joined(p: Particles, rows: IntArray) -> tuple[FloatArray, float]:
    """One outline round several grounds, bridged where they are nearest, and the sum of their areas in µm²."""
    whole = _outline(p, int(rows[0]))
    for row in rows[1:].tolist():
        other = _outline(p, row)
        apart = ((whole[:, None, :] - other[None, :, :]) ** 2).sum(axis=2)
        i, j = np.unravel_index(int(np.argmin(apart)), apart.shape)
        if _turns_left(whole) != _turns_left(other):
            other, j = other[::-1], np.intp(len(other) - 1 - j)
        whole = np.vstack([whole[: i + 1], np.roll(other, -int(j), axis=0), other[j], whole[i:]])
    return whole, float(p.area_um2[rows].sum())


def _turns_left(points: FloatArray) -> bool:
    x, y = points[:, 0], points[:, 1]
    return bool(np.dot(x, np.roll(y, -1)) > np.dot(y, np.roll(x, -1)))


def _replaced(now: Reviewed, rows: IntArray, made: list[tuple[FloatArray, float]], edit: Edit) -> Reviewed:
    """Put the grounds that an edit makes in place of those it takes."""
    p = now.particles
    kept = p.select(np.setdiff1d(np.arange(len(p)), rows))
    numbers = np.delete(now.numbers, rows)
    parent = p.select(rows[:1])
    new = [_made(parent, p, rows, outline, area) for outline, area in made]
    columns = {c: np.concatenate([getattr(kept, c), *(getattr(n, c) for n in new)]) for c in COLUMNS}
    counts = np.concatenate([np.diff(kept.outline_start), *(np.diff(n.outline_start) for n in new)])
    particles = Particles(
        outline_start=np.concatenate([[0], np.cumsum(counts)]).astype(np.int64),
        outline_px=np.concatenate([kept.outline_px, *(n.outline_px for n in new)]),
        **columns,
    )
    first = MADE_FROM + MADE_PER_EDIT * edit.number
    return Reviewed(
        particles, np.concatenate([numbers, first + np.arange(len(new))]),
        (*now.replaced, *now.numbers[rows].tolist()),
    )  # fmt: skip


def _made(parent: Particles, p: Particles, rows: IntArray, outline: FloatArray, area_um2: float) -> Particles:
    """Return a ground made by hand: place and shape from its outline, scale and colour from those it was made of."""
    um_per_px = np.sqrt(float(p.area_um2[rows].sum()) / max(sum(polygon_area(_outline(p, int(r))) for r in rows), 1e-9))
    angles = np.arange(FERET_ANGLES) * np.pi / FERET_ANGLES
    spans = outline @ np.array([np.cos(angles), np.sin(angles)])
    widths = np.ptp(spans, axis=0) * um_per_px
    hull = cv2.convexHull(outline.astype(np.float32))
    length = float(cv2.arcLength(outline.astype(np.float32), True))
    px = polygon_area(outline)
    x, y = outline.mean(axis=0)
    mm_per_px = um_per_px / 1000
    return replace(
        parent,
        x_px=np.array([x]), y_px=np.array([y]),
        x_mm=parent.x_mm + (x - parent.x_px) * mm_per_px, y_mm=parent.y_mm + (y - parent.y_px) * mm_per_px,
        area_um2=np.array([area_um2]), diameter_um=np.array([np.sqrt(4 * area_um2 / np.pi)]),
        min_feret_um=np.array([widths.min()]), max_feret_um=np.array([widths.max()]),
        aspect_ratio=np.array([widths.max() / max(widths.min(), 1e-9)]),
        circularity=np.array([min(1.0, 4 * np.pi * px / max(length, 1e-9) ** 2)]),
        solidity=np.array([min(1.0, px / max(float(cv2.contourArea(hull)), 1e-9))]),
        was_split=np.array([True]), left_out=np.zeros(1, np.int8),
        outline_start=np.array([0, len(outline)], np.int64), outline_px=outline.astype(np.float32),
    )  # fmt: skip
