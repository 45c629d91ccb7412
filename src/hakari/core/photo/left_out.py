"""What a person should know about what was left out of a photo's figures."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from hakari.core.photo.areas import SMALLEST_AREA_UM
from hakari.core.photo.result import ExclusionReason, Finding, Particles, Place

MUCH_CHAFF, DOUBTED_MASS = 0.2, 0.1


def left_out_findings(p: Particles) -> Iterator[Finding]:
    """Clumps, chaff, and what may not be coffee: each with its share and whether it matters.

    Parameters
    ----------
    p : Particles
        Measured grounds.

    Yields
    ------
    Finding
        Clumps, chaff, and what may not be coffee.
    """
    clumps = np.flatnonzero(p.left_out == ExclusionReason.TOO_LARGE)
    if len(clumps):
        yield Finding(
            "clumps", "warning", f"{len(clumps)} {'clump' if len(clumps) == 1 else 'clumps'} of grounds were left out.",
            "Break the pinch up with a dry brush, or add a drop of water to the beans before grinding.",
            _around(p, int(clumps[np.argmax(p.diameter_um[clumps])])),
        )  # fmt: skip
    yield from _chaff(p)
    yield from _doubt(p)


def _chaff(p: Particles) -> Iterator[Finding]:
    chaff = np.flatnonzero((p.left_out == ExclusionReason.CHAFF) & (p.diameter_um > SMALLEST_AREA_UM))
    if not len(chaff):
        return
    pieces = len(chaff) + int(((p.left_out == 0) & (p.diameter_um > SMALLEST_AREA_UM)).sum())
    share = len(chaff) / pieces
    much = share > MUCH_CHAFF
    yield Finding(
        "chaff", "note",
        f"{len(chaff)} {'flake' if len(chaff) == 1 else 'flakes'} of chaff left out: {_percent(share)} of the pieces over "
        f"{SMALLEST_AREA_UM:.0f} µm. {'Grounds under flakes are not seen.' if much else 'It does not change the figures.'}",
        "Blow the chaff off the pinch before you take the photo." if much else "Nothing to do.",
        _around(p, int(chaff[np.argmax(p.diameter_um[chaff])])),
    )  # fmt: skip


def _doubt(p: Particles) -> Iterator[Finding]:
    """Return the finding of what was left out but is neither chaff nor shadow: from a tenth of the mass, it is not good."""
    unsure = [ExclusionReason.PALE, ExclusionReason.GREY, ExclusionReason.FAINT]
    odd = np.flatnonzero(np.isin(p.left_out, unsure) & (p.diameter_um > SMALLEST_AREA_UM))
    if not len(odd):
        return
    mass = float((p.diameter_um[odd] ** 3).sum())
    share = mass / (mass + float((p.counted.diameter_um**3).sum()))
    yield Finding(
        "contaminants", "warning" if share > DOUBTED_MASS else "note",
        f"{len(odd)} {'piece was' if len(odd) == 1 else 'pieces were'} left out for not looking like this photo's coffee: "
        f"{_percent(share)} of the mass.",
        "Check them on the photo (T shows what was counted); count what is coffee after all."
        if share > DOUBTED_MASS else "Too little to change the figures.",
        _around(p, int(odd[np.argmax(p.diameter_um[odd])])),
    )  # fmt: skip


def _percent(share: float) -> str:
    return "under 1 %" if share < 0.01 else f"{100 * share:.0f} %"


def _around(p: Particles, row: int) -> Place:
    """Return a box round one ground, with some room."""
    points = p.outline_px[p.outline_start[row] : p.outline_start[row + 1]]
    if len(points) == 0:
        points = np.array([[p.x_px[row], p.y_px[row]]], np.float32)
    (x0, y0), (x1, y1) = points.min(axis=0).tolist(), points.max(axis=0).tolist()
    room = 0.5 * max(x1 - x0, y1 - y0, 20.0)
    return x0 - room, y0 - room, x1 + room, y1 + room
