"""Pairs of pictures for the eye: the difference that is shown is the one that was asked for."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from hakari.core.experiment.eye_pairs import MOST_MAGNIFIED_LN, Grounds, figures_of, pair_by_size, pair_by_small

windows = st.lists(
    st.builds(Grounds, d50_um=st.floats(500, 1100), small_share=st.floats(0.01, 0.3)), min_size=2, max_size=8
)


@given(windows, st.floats(0.02, 0.5), st.booleans(), st.integers(0, 2**32 - 1))
def test_what_is_shown_differs_in_size_as_asked(found: list[Grounds], by: float, finer: bool, seed: int) -> None:
    wanted = -by if finer else by
    pair = pair_by_size(found, wanted, np.random.default_rng(seed))
    if pair is None:
        return
    first, second = found[pair.first].d50_um * pair.magnify_first, found[pair.second].d50_um * pair.magnify_second
    assert pair.first != pair.second
    # The second is the coarser by the wanted difference; both are shown at a size between the two.
    assert abs(np.log(second / first)) == pytest.approx(by)
    assert pair.magnify_first * pair.magnify_second == pytest.approx(1)
    assert max(abs(np.log([pair.magnify_first, pair.magnify_second]))) <= MOST_MAGNIFIED_LN + 1e-12


@given(windows, st.floats(0.1, 2.0), st.integers(0, 2**32 - 1))
def test_where_small_ones_are_asked_for_the_medians_look_alike(found: list[Grounds], by: float, seed: int) -> None:
    pair = pair_by_small(found, by, np.random.default_rng(seed))
    if pair is None:
        return
    first, second = found[pair.first], found[pair.second]
    assert first.d50_um * pair.magnify_first == pytest.approx(second.d50_um * pair.magnify_second)
    shown = abs(np.log(first.small_share / second.small_share))
    for i, a in enumerate(found):
        for b in found[i + 1 :]:
            if abs(np.log(a.d50_um / b.d50_um)) / 2 <= MOST_MAGNIFIED_LN:
                assert abs(shown - by) <= abs(abs(np.log(a.small_share / b.small_share)) - by) + 0.051


def test_pictures_that_cannot_be_brought_so_near_are_no_pair() -> None:
    apart = [Grounds(300, 0.1), Grounds(1500, 0.1)]
    rng = np.random.default_rng(1)
    assert pair_by_size(apart, 0.1, rng) is None and pair_by_small(apart, 0.1, rng) is None
    assert pair_by_small([Grounds(700, 0.0), Grounds(700, 0.2)], 0.1, rng) is None


def test_figures_of_a_window_are_those_of_its_spheres() -> None:
    # Sixty spheres of 400 and sixty of 800 µm: eight ninths of the volume lie in the large ones.
    d = np.repeat([400.0, 800.0], 60)
    grounds = figures_of(d)
    assert grounds is not None and grounds.d50_um == pytest.approx(800, rel=0.01) and grounds.small_share == 0
    fines = figures_of(np.concatenate([d, np.full(40, 100.0)]))
    assert fines is not None
    assert fines.small_share == pytest.approx(40 * 100**2 / (40 * 100**2 + 60 * 400**2 + 60 * 800**2))
    assert figures_of(d[:59]) is None
