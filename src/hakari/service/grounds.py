"""The grounds of a sample: how they are kept, and how the page is given their outlines."""

from __future__ import annotations

import io
from dataclasses import fields

import numpy as np

from hakari.core.photo.result import Particles
from hakari.formats.base import Document, Pair

RULER_GROUNDS = 110
SHAPE_FROM_PX = 8.0


class RulerGround(Document):
    """One ground of the grain ruler: its size and its outline round its own centre, µm."""

    diameter_um: float
    outline_um: list[Pair]


class Outlines(Document):
    """Outlines of one photo's grounds in its pixels: ground i owns points start[i] to start[i + 1] of x and y."""

    diameter_um: list[float]
    start: list[int]
    x_px: list[float]
    y_px: list[float]


def pack(particles: Particles) -> bytes:
    """All grounds of a sample as one compressed file."""
    out = io.BytesIO()
    np.savez_compressed(out, **{f.name: getattr(particles, f.name) for f in fields(Particles)})
    return out.getvalue()


def unpack(data: bytes) -> Particles:
    """Read back what ``pack`` wrote."""
    with np.load(io.BytesIO(data)) as arrays:
        return Particles(**{f.name: arrays[f.name] for f in fields(Particles)})


def outlines_of(particles: Particles, photo_index: int) -> Outlines:
    """Outlines of the grounds of one photo of a sample."""
    p = particles
    mine = np.flatnonzero(p.photo == photo_index)
    starts, ends = p.outline_start[:-1][mine], p.outline_start[1:][mine]
    counts = ends - starts
    total = np.concatenate([[0], np.cumsum(counts)])
    points = p.outline_px[np.repeat(starts - total[:-1], counts) + np.arange(total[-1])]
    return Outlines(
        diameter_um=np.round(p.diameter_um[mine], 1).tolist(), start=total.tolist(),
        x_px=np.round(points[:, 0].astype(float), 1).tolist(), y_px=np.round(points[:, 1].astype(float), 1).tolist(),
    )  # fmt: skip


def grain_ruler(particles: Particles, limit_um: float, px_um: float) -> list[RulerGround]:
    """Grounds for the grain ruler: spread evenly over ln d, each the nearest to its place, drawn as they were seen.

    A ground of few pixels has no shape that can be told; its outline is left empty.
    """
    p = particles
    usable = np.flatnonzero((p.diameter_um >= limit_um) & (np.diff(p.outline_start) >= 5))
    if len(usable) == 0:
        return []
    order = usable[np.argsort(p.diameter_um[usable])]
    sizes = np.log(p.diameter_um[order])
    wanted = np.linspace(sizes[0], sizes[-1], RULER_GROUNDS)
    chosen = sorted({int(np.argmin(np.abs(sizes - w))) for w in wanted})
    grounds = []
    for i in (int(order[k]) for k in chosen):
        size_px = float(p.diameter_um[i]) / px_um
        if size_px < SHAPE_FROM_PX:
            grounds.append(RulerGround(diameter_um=round(float(p.diameter_um[i]), 1), outline_um=[]))
            continue
        points = p.outline_px[p.outline_start[i] : p.outline_start[i + 1]].astype(np.float64)
        points -= points.mean(axis=0)
        x, y = points[:, 0], points[:, 1]
        area = 0.5 * abs(float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))))
        if area <= 0:
            continue
        scale = float(np.sqrt(np.pi / 4 * float(p.diameter_um[i]) ** 2 / area))
        outline = [(round(float(a) * scale, 1), round(float(b) * scale, 1)) for a, b in points]
        grounds.append(RulerGround(diameter_um=round(float(p.diameter_um[i]), 1), outline_um=outline))
    return grounds
