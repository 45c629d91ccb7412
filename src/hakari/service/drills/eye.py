"""Windows of photos with known grounds, and the pairs that are made of them."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from sqlalchemy.orm import Session

from hakari.core.experiment.eye_pairs import EyePair, Grounds, figures_of, pair_by_size, pair_by_small
from hakari.core.photo.decode import decode
from hakari.core.photo.result import Particles
from hakari.service.cache import Cache
from hakari.service.drills.questions import Shown
from hakari.service.samples.views import reviewed
from hakari.service.workspace.transaction import Workspace, list_active
from hakari.store import models

SIDE_MM, SHOWN_PX, QUALITY = 15.0, 640, 88
# The card's frame is not shown: windows keep to where the grounds lie.
SPREAD = (0.01, 0.99)
ACROSS, DOWN = 4, 2
MOST_PHOTOS = 12


@dataclass(frozen=True)
class _Window:
    """A window of a photo: its middle, px, how many px a mm has, where the grounds lie, px, and what lies in it."""

    content_hash: str
    x_px: float
    y_px: float
    px_per_mm: float
    x_range_px: tuple[float, float]
    y_range_px: tuple[float, float]
    grounds: Grounds
    particles: Particles

    def shown(self, magnify: float) -> Shown:
        """Return the window so large that its grounds look magnified."""
        (x0, x1), (y0, y1) = self.x_range_px, self.y_range_px
        side = int(min(SIDE_MM * self.px_per_mm / magnify, x1 - x0, y1 - y0))
        left = int(np.clip(self.x_px - side / 2, x0, x1 - side))
        top = int(np.clip(self.y_px - side / 2, y0, y1 - side))
        return Shown(self.content_hash, left, top, side)

    def seen(self, shown: Shown) -> Grounds | None:
        """Return the figures of what is shown, in units of the window: what a person can compare."""
        p = self.particles
        inside = (np.abs(p.x_px - shown.left_px - shown.side_px / 2) < shown.side_px / 2) & (
            np.abs(p.y_px - shown.top_px - shown.side_px / 2) < shown.side_px / 2
        )
        return figures_of(p.diameter_um[inside] * self.px_per_mm / shown.side_px, least=20)


_windows: Cache[list[_Window]] = Cache(40)


@dataclass(frozen=True)
class Compared:
    """Two windows to be shown, which of them has more of what is asked for, and how far apart they are, ln."""

    first: Shown
    second: Shown
    second_has_more: bool
    difference_ln: float


def compare_sizes(ws: Workspace, session: Session, wanted_ln: float, rng: np.random.Generator) -> Compared | None:
    """Return two windows whose medians look as far apart as wanted; the second is the coarser one or the finer, by chance."""
    windows = _of_one_photo(ws, session, rng)
    pair = pair_by_size([w.grounds for w in windows], wanted_ln, rng)
    return _compared(windows, pair, rng, lambda g: g.d50_um)


def compare_small(ws: Workspace, session: Session, wanted_ln: float, rng: np.random.Generator) -> Compared | None:
    """Return two windows whose shares of small grounds differ about as wanted."""
    windows = [w for row in _photos(session) for w in _windows_of(ws, row)]
    pair = pair_by_small([w.grounds for w in windows], wanted_ln, rng)
    return _compared(windows, pair, rng, lambda g: g.small_share)


def picture_of(ws: Workspace, shown: Shown) -> bytes:
    """Return a window as a JPEG of the usual size."""
    rgb = decode(ws.files.get(shown.content_hash)).rgb
    cut = rgb[shown.top_px : shown.top_px + shown.side_px, shown.left_px : shown.left_px + shown.side_px]
    way = cv2.INTER_AREA if shown.side_px > SHOWN_PX else cv2.INTER_CUBIC
    resized = cv2.resize(cut, (SHOWN_PX, SHOWN_PX), interpolation=way)
    _, jpeg = cv2.imencode(".jpg", resized[:, :, ::-1], [cv2.IMWRITE_JPEG_QUALITY, QUALITY])
    return jpeg.tobytes()


def _photos(session: Session) -> list[models.Photo]:
    samples = [s for s in list_active(session, models.Sample) if s.source == "photo" and s.photos]
    return [s.photos[0] for s in samples[-MOST_PHOTOS:]]


def _of_one_photo(ws: Workspace, session: Session, rng: np.random.Generator) -> list[_Window]:
    """Windows of one photo, so that light and colour tell nothing."""
    rows = _photos(session)
    for k in rng.permutation(len(rows)):
        windows = _windows_of(ws, rows[int(k)])
        if len(windows) > 1:
            return windows
    return []


def _windows_of(ws: Workspace, row: models.Photo) -> list[_Window]:
    key = (str(ws.folder), row.sample.id, row.sample.version, row.id)
    return _windows.get(key, lambda: _cut(ws, row))


def _cut(ws: Workspace, row: models.Photo) -> list[_Window]:
    now = reviewed(ws, row.sample).particles.counted
    index = row.sample.photos.index(row)
    p = now.select(np.flatnonzero(now.photo == index))
    if len(p) == 0:
        return []
    px_per_mm = 1000 / row.um_per_px
    x, y = (tuple(float(q) for q in np.quantile(v, SPREAD)) for v in (p.x_px, p.y_px))
    half = SIDE_MM * px_per_mm / 2
    found = []
    for cx in np.linspace(x[0] + half, x[1] - half, ACROSS):
        for cy in np.linspace(y[0] + half, y[1] - half, DOWN):
            inside = (np.abs(p.x_px - cx) < half) & (np.abs(p.y_px - cy) < half)
            grounds = figures_of(p.diameter_um[inside])
            if grounds is not None:
                found.append(_Window(row.content_hash, cx, cy, px_per_mm, (x[0], x[1]), (y[0], y[1]), grounds, p))
    return found


def _compared(
    windows: Sequence[_Window], pair: EyePair | None, rng: np.random.Generator, figure: Callable[[Grounds], float]
) -> Compared | None:
    if pair is None:
        return None
    both = [(windows[pair.first], pair.magnify_first), (windows[pair.second], pair.magnify_second)]
    if rng.random() < 0.5:
        both.reverse()
    shown = [w.shown(m) for w, m in both]
    seen = [w.seen(s) for (w, _), s in zip(both, shown, strict=True)]
    if seen[0] is None or seen[1] is None:
        return None
    ratio = float(np.log(max(figure(seen[1]), 1e-9) / max(figure(seen[0]), 1e-9)))
    return Compared(shown[0], shown[1], ratio > 0, abs(ratio))
