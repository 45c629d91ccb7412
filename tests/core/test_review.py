"""Corrections by hand keep the light there is, and are replayed on a result that they do not change."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from hakari.core.errors import InputError
from hakari.core.photo.result import Particles, no_grounds
from hakari.core.photo.review import Edit, check_edit, review

SIDE = 40.0


def squares(count: int) -> Particles:
    """Square grounds of 40 px in a row, 20 µm a pixel."""
    x = 100.0 * np.arange(count) + 50
    y = np.full(count, 50.0)
    corners = np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]]) * SIDE / 2
    area = np.full(count, (SIDE * 20) ** 2)
    full = {name: np.ones(count) for name in ("aspect_ratio", "circularity", "solidity", "darkness", "weight")}
    none = no_grounds()
    return Particles(
        photo=np.zeros(count, np.int32), x_mm=x * 0.02, y_mm=y * 0.02, x_px=x, y_px=y, area_um2=area,
        diameter_um=np.sqrt(4 * area / np.pi), min_feret_um=np.full(count, SIDE * 20), max_feret_um=np.full(count, SIDE * 28),
        touches_edge=np.zeros(count, np.bool_), was_split=np.zeros(count, np.bool_), left_out=np.zeros(count, np.int8),
        outline_start=np.arange(count + 1, dtype=np.int64) * 4,
        outline_px=np.vstack([none.outline_px, *(corners + (a, b) for a, b in zip(x, y, strict=True))]).astype(np.float32),
        **full,
    )  # fmt: skip


@given(st.floats(0.1, 0.9), st.floats(-15, 15))
def test_a_split_keeps_the_area_and_shares_it_by_the_line(share: float, slant: float) -> None:
    x = 50 - SIDE / 2 + share * SIDE
    lean = slant * min(share, 1 - share)
    line = ((x - lean, 0.0), (x + lean, 100.0))
    now = review(squares(3), [Edit(1, "split", 0, (0,), line)])
    made = now.particles.area_um2[now.numbers >= 10_000_000]
    assert len(made) == 2 and made.sum() == pytest.approx((SIDE * 20) ** 2)
    assert max(made) / made.sum() == pytest.approx(max(share, 1 - share), abs=0.02)
    assert now.particles.area_um2.sum() == pytest.approx(squares(3).area_um2.sum())


def test_joining_the_halves_of_a_split_gives_the_ground_back() -> None:
    split = Edit(1, "split", 0, (1,), ((150.0, 0.0), (150.0, 100.0)))
    halves = [int(n) for n in review(squares(3), [split]).numbers if n >= 10_000_000]
    now = review(squares(3), [split, Edit(2, "join", 0, tuple(halves))])
    row = int(np.argmax(now.numbers))
    assert now.particles.diameter_um[row] == pytest.approx(squares(1).diameter_um[0])
    assert now.particles.min_feret_um[row] == pytest.approx(SIDE * 20, rel=0.01)
    # With the split taken back, the join has nothing to join and does nothing.
    alone = review(squares(3), [Edit(2, "join", 0, tuple(halves))])
    assert alone.replaced == () and len(alone.particles) == 3


def test_left_out_and_counted_again() -> None:
    machine = squares(4)
    patch = ((0.0, 0.0), (200.0, 0.0), (200.0, 100.0), (0.0, 100.0))
    edits = [Edit(1, "lasso", 0, (), patch), Edit(2, "exclude", 0, (3,)), Edit(3, "include", 0, (0,))]
    assert [len(review(machine, edits[:k]).particles.counted) for k in range(4)] == [4, 2, 1, 2]
    assert len(review(machine, [Edit(1, "photo", 0)]).particles.counted) == 0
    assert len(machine.counted) == 4


@pytest.mark.parametrize(
    ("edit", "code"),
    [
        (Edit(0, "exclude", 0, (99,)), "no-such-ground"),
        (Edit(0, "include", 0, ()), "no-such-ground"),
        (Edit(0, "split", 0, (0,), ((0.0, 0.0), (1.0, 0.0))), "line-misses"),
        (Edit(0, "join", 0, (0,)), "join-needs-two"),
        (Edit(0, "join", 0, (0, 3)), "join-too-far"),
        (Edit(0, "lasso", 0, (), ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0))), "nothing-drawn"),
    ],
)
def test_corrections_that_would_do_nothing_are_refused(edit: Edit, code: str) -> None:
    far = squares(40)
    edit = Edit(0, edit.kind, 0, (0, 39), edit.drawn_px) if code == "join-too-far" else edit
    with pytest.raises(InputError) as refusal:
        check_edit(review(far, []), edit)
    assert refusal.value.code == code and refusal.value.remedy
