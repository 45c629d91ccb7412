"""Windows of photos with known grounds, and the pairs that are made of them."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial

import numpy as np
from sqlalchemy.orm import Session

from hakari.core.experiment.eye_pairs import EyePair, Grounds, figures_of, pair_by_size, pair_by_small
from hakari.service.cache import Cache
from hakari.service.drills.known_grounds import (
    KnownGrounds,
    own_grounds,
    own_samples,
    picture_bytes,
    shipped_grounds,
    shipped_names,
)
from hakari.service.drills.questions import Shown
from hakari.service.samples.pictures import window_jpeg
from hakari.service.workspace.transaction import Workspace

SIDE_MM, SHOWN_PX, QUALITY = 15.0, 640, 88
# The card's frame is not shown: windows keep to where the grounds lie.
SPREAD = (0.01, 0.99)
ACROSS, DOWN = 4, 2


@dataclass(frozen=True)
class _Window:
    """A window of a photo: its middle, px, where the grounds lie, px, and what is in it."""

    x_px: float
    y_px: float
    x_range_px: tuple[float, float]
    y_range_px: tuple[float, float]
    grounds: Grounds
    photo: KnownGrounds

    def shown(self, magnify: float = 1.0) -> Shown:
        """Return the window so large that its grounds look magnified."""
        (x0, x1), (y0, y1) = self.x_range_px, self.y_range_px
        side = int(min(SIDE_MM * self.photo.px_per_mm / magnify, x1 - x0, y1 - y0))
        left = int(np.clip(self.x_px - side / 2, x0, x1 - side))
        top = int(np.clip(self.y_px - side / 2, y0, y1 - side))
        return Shown(self.photo.source, left, top, side, side / self.photo.px_per_mm)

    def seen(self, shown: Shown) -> Grounds | None:
        """Return the figures of the grounds that a window shows."""
        p, half = self.photo, shown.side_px / 2
        inside = (np.abs(p.x_px - shown.left_px - half) < half) & (np.abs(p.y_px - shown.top_px - half) < half)
        return figures_of(p.diameter_um[inside], least=20)


@dataclass(frozen=True)
class Compared:
    """Two windows to be shown, which of them has more of what is asked for, and how far apart they are, ln."""

    first: Shown
    second: Shown
    second_has_more: bool
    difference_ln: float


def compare_sizes(ws: Workspace, session: Session, wanted_ln: float, rng: np.random.Generator) -> Compared | None:
    """Return two windows of one photo whose medians look as far apart as wanted, so that light and colour tell nothing."""
    photos = _photos(ws, session)
    windows = _windows_of(photos[int(rng.integers(len(photos)))]())
    pair = pair_by_size([w.grounds for w in windows], wanted_ln, rng)
    return _compared(windows, pair, rng, lambda g, shown: g.d50_um / shown.side_mm)


def compare_small(ws: Workspace, session: Session, wanted_ln: float, rng: np.random.Generator) -> Compared | None:
    """Return two windows whose shares of small grounds differ about as wanted."""
    windows = [w for photo in _photos(ws, session) for w in _windows_of(photo())]
    pair = pair_by_small([w.grounds for w in windows], wanted_ln, rng)
    return _compared(windows, pair, rng, lambda g, shown: g.small_share)


def one_window(ws: Workspace, source: str, rng: np.random.Generator) -> tuple[Shown, float]:
    """Return a window of a shipped photo as it is, and the median of what it shows, µm."""
    windows = _windows_of(shipped_grounds(ws, source))
    window = windows[int(rng.integers(len(windows)))]
    shown = window.shown()
    seen = window.seen(shown)
    return shown, seen.d50_um if seen else window.grounds.d50_um


_shown: Cache[bytes] = Cache(8)


def picture_of(ws: Workspace, shown: Shown) -> bytes:
    """Return a window as a JPEG of the usual size."""
    cut = int(shown.left_px), int(shown.top_px), int(shown.side_px), SHOWN_PX, QUALITY
    data = partial(picture_bytes, ws, shown.source)
    return _shown.get((shown.source, cut), lambda: ws.processes.run(window_jpeg, data(), *cut))


def _photos(ws: Workspace, session: Session) -> list[Callable[[], KnownGrounds]]:
    """One's own photos and the shipped ones, each looked at when it is wanted."""
    own = [partial(own_grounds, ws, row) for row in own_samples(session)]
    return [*own, *(partial(shipped_grounds, ws, name) for name in shipped_names())]


def _windows_of(photo: KnownGrounds) -> list[_Window]:
    if len(photo.diameter_um) == 0:
        return []
    x, y = (tuple(float(q) for q in np.quantile(v, SPREAD)) for v in (photo.x_px, photo.y_px))
    half = SIDE_MM * photo.px_per_mm / 2
    found = []
    for cx in np.linspace(x[0] + half, x[1] - half, ACROSS):
        for cy in np.linspace(y[0] + half, y[1] - half, DOWN):
            inside = (np.abs(photo.x_px - cx) < half) & (np.abs(photo.y_px - cy) < half)
            grounds = figures_of(photo.diameter_um[inside])
            if grounds is not None:
                found.append(_Window(cx, cy, (x[0], x[1]), (y[0], y[1]), grounds, photo))
    return found


def _compared(
    windows: Sequence[_Window],
    pair: EyePair | None,
    rng: np.random.Generator,
    figure: Callable[[Grounds, Shown], float],
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
    ratio = float(np.log(max(figure(seen[1], shown[1]), 1e-9) / max(figure(seen[0], shown[0]), 1e-9)))
    return Compared(shown[0], shown[1], ratio > 0, abs(ratio))
