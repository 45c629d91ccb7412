"""The photos that ship with the application: simulated, with their truth beside them."""

from __future__ import annotations

import json
from pathlib import Path

from hakari.core.errors import InputError
from hakari.core.photo.pipeline import CardScale
from hakari.formats.base import Document
from hakari.service.samples.use_cases import add_sample
from hakari.service.samples.views import SampleDetail
from hakari.service.workspace.transaction import Workspace

FOLDER = Path(__file__).parents[2] / "demo" / "photos"


class DemoPhoto(Document):
    """A shipped photo: what it shows, and the true median of its simulated grounds."""

    name: str
    title: str
    true_d50_um: float


class DemoPhotoList(Document):
    """All of them."""

    photos: list[DemoPhoto]


def list_demo_photos() -> DemoPhotoList:
    """Return the shipped photos."""
    photos = []
    for path in sorted(FOLDER.glob("*.json")):
        truth = json.loads(path.read_text())
        photos.append(DemoPhoto(name=path.stem, title=truth["title"], true_d50_um=truth["d50_um"]))
    return DemoPhotoList(photos=photos)


def demo_photo(name: str) -> bytes:
    """Return a shipped photo's file; ``InputError`` ``no-such-photo``."""
    path = FOLDER / f"{name}.jpg"
    if path.parent != FOLDER or not path.is_file():
        raise InputError("no-such-photo", "There is no such demo photo.", "Choose one of the list.", field="name")
    return path.read_bytes()


def add_demo_sample(ws: Workspace, name: str) -> SampleDetail:
    """Measure a shipped photo like any other."""
    return add_sample(ws, [(f"{name}.jpg", demo_photo(name))], CardScale(), simulated=True)
