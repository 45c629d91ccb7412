"""Files that no row knows: set aside in ``found/`` with a list, never deleted, and taken in again as photos."""

from __future__ import annotations

import csv
from datetime import UTC, datetime
from pathlib import Path

from hakari.core.photo.header import kind_of
from hakari.service.workspace.transaction import Workspace
from hakari.store import models
from hakari.store.snapshots import MeasurementOrder, OrderedPhoto, PhotoProgress

FOUND, LIST = "found", "list.csv"
COLUMNS = ("file", "sha256", "kind", "bytes", "set_aside_at")
ENDINGS = {"JPEG": ".jpg", "PNG": ".png", "WEBP": ".webp", "TIFF": ".tif", "HEIF": ".heic"}
GROUNDS = ".npz"
GROUNDS_BEGIN = b"PK\x03\x04"


def set_aside(ws: Workspace, content_hashes: list[str]) -> Path:
    """Move files out of the store into ``found/`` and write them on the list there; where that is."""
    folder = ws.folder / FOUND
    folder.mkdir(exist_ok=True)
    new = not (folder / LIST).exists()
    with (folder / LIST).open("a", newline="") as file:
        rows = csv.writer(file)
        if new:
            rows.writerow(COLUMNS)
        for content_hash in content_hashes:
            data = ws.files.get(content_hash)
            kind = kind_of(data)
            ending = ENDINGS[kind] if kind else GROUNDS if data.startswith(GROUNDS_BEGIN) else ""
            kept = folder / f"{content_hash}{ending}"
            kept.write_bytes(data)
            shown = "photo" if kind else "grounds" if ending else "other"
            rows.writerow((kept.name, content_hash, shown, len(data), datetime.now(UTC).isoformat(timespec="seconds")))
            file.flush()
            ws.files.delete(content_hash)
    return folder


def take_in(ws: Workspace) -> int:
    """Order the photos in ``found/`` to be measured, each as a sample of its own, when a server next runs; their number."""
    photos = [p for p in sorted((ws.folder / FOUND).glob("*")) if p.suffix in ENDINGS.values()]
    for path in photos:
        photo = OrderedPhoto(
            file_name=f"found {path.name[:12]}{path.suffix}", content_hash=ws.files.put(path.read_bytes())
        )
        with ws.transaction() as session:
            session.add(
                models.MeasurementJob(
                    order=MeasurementOrder(photos=[photo]), finished=False,
                    photos=[PhotoProgress(file_name=photo.file_name, state="waiting")],
                )
            )  # fmt: skip
        path.unlink()
    return len(photos)
