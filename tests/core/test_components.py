"""Connected pixels against a plain flood fill; light shared out between grounds does not depend on its bands."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from hakari.core.arrays import Int32Array, Mask
from hakari.core.photo import basins
from hakari.core.photo.components import find_components


def flooded(mask: Mask) -> list[set[tuple[int, int]]]:
    """Sets of connected pixels, in the order of their first one, found pixel by pixel."""
    left = {(int(y), int(x)) for y, x in np.argwhere(mask)}
    found = []
    for start in sorted(left):
        if start not in left:
            continue
        piece, todo = set(), [start]
        while todo:
            y, x = todo.pop()
            if (y, x) in left:
                left.remove((y, x))
                piece.add((y, x))
                todo += [(y - 1, x), (y + 1, x), (y, x - 1), (y, x + 1)]
        found.append(piece)
    return found


@given(st.integers(1, 12), st.integers(1, 12), st.floats(0, 1), st.integers(0, 2**32 - 1))
@settings(max_examples=150)
def test_components_are_those_of_a_flood_fill(height: int, width: int, share: float, seed: int) -> None:
    mask = (np.random.default_rng(seed).random((height, width)) < share).astype(np.uint8)
    found, pieces = find_components(mask), flooded(mask)
    assert found.count == 1 + len(pieces)
    assert found.areas_px[0] == 0 and len(found.at) == mask.sum()
    labels = [int(found.image[next(iter(piece))]) for piece in pieces]
    assert sorted(labels) == list(range(1, found.count))
    boxes = found.boxes(np.array(labels, np.int64))
    for piece, label, box in zip(pieces, labels, boxes, strict=True):
        assert {(int(y), int(x)) for y, x in np.argwhere(found.image == label)} == piece
        assert found.areas_px[label] == len(piece)
        rows, columns = zip(*piece, strict=True)
        assert box == (slice(min(rows), max(rows) + 1), slice(min(columns), max(columns) + 1))


def scattered(height: int, width: int, grounds: int) -> Int32Array:
    """Labels of discs of all sizes, later ones over earlier ones."""
    rng = np.random.default_rng(41)
    labels = np.zeros((height, width), np.int32)
    for k in range(1, grounds + 1):
        at, radius = (int(rng.integers(0, width)), int(rng.integers(0, height))), int(rng.geometric(0.2)) + 1
        cv2.circle(labels, at, radius, k, cv2.FILLED)
    return labels


@pytest.mark.parametrize("sigma_px", [0.7, 1.4, 3.0])
def test_basins_do_not_depend_on_the_bands(sigma_px: float, monkeypatch: pytest.MonkeyPatch) -> None:
    labels = scattered(700, 300, 260)
    coverage = cv2.GaussianBlur((labels > 0).astype(np.float32), (0, 0), sigma_px)
    coverage += np.random.default_rng(3).normal(0, 0.02, coverage.shape).astype(np.float32)
    drawn = []
    for rows in (10_000, 64):
        monkeypatch.setattr(basins, "BAND_CELLS", rows)
        drawn.append(basins.draw_basins(coverage, labels, 260, sigma_px))
    whole, banded = drawn
    assert len(np.unique(whole.owner)) > 200 and np.isfinite(whole.core_cover).sum() > 10
    np.testing.assert_array_equal(banded.at, whole.at)
    np.testing.assert_array_equal(banded.owner, whole.owner)
    np.testing.assert_array_equal(banded.labelled, whole.labelled)
    np.testing.assert_allclose(banded.shade, whole.shade, atol=1e-6)
    np.testing.assert_allclose(banded.core_cover, whole.core_cover, rtol=1e-6)


def test_every_pixel_near_a_ground_belongs_to_a_nearest_one() -> None:
    labels = scattered(240, 240, 40)
    drawn = basins.draw_basins((labels > 0).astype(np.float32), labels, 40, 1.0)
    own = np.zeros(labels.shape, np.bool_)
    own.ravel()[drawn.at[drawn.labelled]] = True
    np.testing.assert_array_equal(own, labels > 0)
    away = np.array([cv2.distanceTransform((labels != k).astype(np.uint8), cv2.DIST_L2, 5) for k in range(1, 41)])
    y, x = np.divmod(drawn.at, labels.shape[1])
    mine, nearest = away[drawn.owner, y, x], away[:, y, x].min(axis=0)
    # Cells are two pixels wide, and their distances a little longer or shorter than straight lines.
    assert (mine <= nearest + 2 * basins.CELL_PX).all() and np.quantile(mine - nearest, 0.9) < 1.0
