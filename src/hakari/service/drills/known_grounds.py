"""Photos whose grounds are known: one's own, as they were measured, and the shipped ones by their truth."""

from __future__ import annotations

import csv
import gzip
import io
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from sqlalchemy import select
from sqlalchemy.orm import Session

from hakari.core.photo.decode import decode
from hakari.core.photo.view import CardScale, find_view
from hakari.core.psd.distribution import CUT_UM
from hakari.service.cache import Cache
from hakari.service.samples.demo_photos import FOLDER, demo_photo
from hakari.service.samples.views import reviewed
from hakari.service.workspace.transaction import Workspace
from hakari.store import models

SHIPPED = "shipped"
MOST_OWN = 12
Array = npt.NDArray[np.float64]


@dataclass(frozen=True)
class KnownGrounds:
    """A photo by its source (a content hash, or ``shipped:NAME``), and its grounds from 100 µm up: places, px, and sizes."""

    source: str
    px_per_mm: float
    x_px: Array
    y_px: Array
    diameter_um: Array


def picture_bytes(ws: Workspace, source: str) -> bytes:
    """Return the photo of a source."""
    kind, _, name = source.partition(":")
    return demo_photo(name) if kind == SHIPPED else ws.files.get(source)


def shipped_names() -> list[str]:
    """Return the sources of the photos that ship."""
    return [f"{SHIPPED}:{path.stem}" for path in sorted(FOLDER.glob("*.jpg"))]


def own_samples(session: Session) -> list[models.Sample]:
    """Return the newest samples that were photographed."""
    photographed = select(models.Sample).where(
        models.Sample.deleted_at.is_(None), models.Sample.source == "photo", models.Sample.photos.any()
    )
    return list(session.scalars(photographed.order_by(models.Sample.id.desc()).limit(MOST_OWN)))[::-1]


def own_grounds(ws: Workspace, row: models.Sample) -> KnownGrounds:
    """Return the grounds of the first photo of a sample, after its corrections."""
    return _known.get((str(ws.folder), row.id, row.version), lambda: _measured(ws, row))


def shipped_grounds(ws: Workspace, source: str) -> KnownGrounds:
    """Return the grounds of a shipped photo by its truth."""
    return _known.get(source, lambda: ws.processes.run(_true, source))


_known: Cache[KnownGrounds] = Cache(40)


def _measured(ws: Workspace, row: models.Sample) -> KnownGrounds:
    photo, p = row.photos[0], reviewed(ws, row).particles.counted
    kept = (p.photo == 0) & (p.diameter_um >= CUT_UM)
    return KnownGrounds(
        photo.content_hash, 1000 / photo.um_per_px, p.x_px[kept], p.y_px[kept], p.diameter_um[kept]
    )  # fmt: skip


def _true(source: str) -> KnownGrounds:
    name = source.partition(":")[2]
    view = find_view(decode(demo_photo(name)).rgb, CardScale())
    rows = csv.DictReader(io.StringIO(gzip.decompress((FOLDER / f"{name}.csv.gz").read_bytes()).decode()))
    table = np.array([[float(r["x_mm"]), float(r["y_mm"]), float(r["diameter_um"])] for r in rows])
    table = table[table[:, 2] >= CUT_UM]
    px = view.plane.to_px(table[:, :2])
    return KnownGrounds(source, 1000 / view.scale.um_per_px, px[:, 0], px[:, 1], table[:, 2])
