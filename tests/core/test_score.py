"""Scoring guesses and learning from them: within bounds, in the right direction, nothing from nothing."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from hakari.core.advice.advise import advise
from hakari.core.advice.evidence import BAD_WORDS, TARGETS, Case, Outcome
from hakari.core.advice.score import LEAST, MOST, Guess, Tried, better, complaints, effect_sizes, score
from hakari.core.errors import InputError
from hakari.core.psd.grind_sources import grind_from_figures
from hakari.core.translate.match import default_plan

tastes = st.dictionaries(st.sampled_from([*BAD_WORDS, "sweet", "strong"]), st.integers(0, 3), max_size=5)
CASE = Case(default_plan(), grind_from_figures(660, 1.0, 0.09), Outcome(), TARGETS["classical"])


@given(tastes, tastes)
def test_better_is_bounded_and_turns_with_the_order(before: dict[str, int], after: dict[str, int]) -> None:
    value = better(before, after)
    assert -1 <= value <= 1
    if complaints(after) < complaints(before):
        assert value > 0 >= better(after, before)
    assert better(before, before) == 0


@given(st.lists(st.tuples(st.sampled_from(["grind", "ratio"]), st.floats(-6, 6), st.floats(-6, 6)), max_size=40))
def test_effects_stay_within_their_bounds(tries: list[tuple[str, float, float]]) -> None:
    found = effect_sizes([Tried(*t) for t in tries])
    assert all(LEAST <= v <= MOST for v in found.values()) and set(found) == {k for k, _, _ in tries}


def test_the_size_of_an_effect_is_found_and_little_evidence_moves_it_little() -> None:
    rng = np.random.default_rng(4)
    said = rng.normal(0, 3, 300)
    many = [Tried("grind", float(s), float(0.75 * s + rng.normal())) for s in said]
    # The ordinary least squares slope through the origin, which 300 tries outweigh the prior to reach.
    slope = sum(t.said * t.came for t in many) / sum(t.said**2 for t in many)
    assert effect_sizes(many)["grind"] == pytest.approx(slope, abs=0.01) and slope == pytest.approx(0.75, abs=0.05)
    assert (
        0.9
        < effect_sizes([Tried("grind", 1.0, 0.5)])["grind"]
        < 1.0
        < effect_sizes([Tried("grind", 1.0, 2.0)])["grind"]
    )
    assert better({"bitter": 2}, {}, nearer=-1.0) == 0.0


def test_guesses_are_scored() -> None:
    assert score([]) is None
    found = score([Guess(200, 10, 205), Guess(200, 10, 220), Guess(200, 10, 199)])
    assert found is not None and (found.count, found.typical_off) == (3, 5) and found.held == pytest.approx(2 / 3)


def test_dried_grounds_tell_the_extraction() -> None:
    answer = advise(replace(CASE, outcome=Outcome(200, drink_g=246, spent_dry_g=13.4)))
    assert answer.now.ey_percent == pytest.approx(100 * (1 - 13.4 / CASE.plan.dose_g))
    assert "ey_percent" in answer.measured and "tds_percent" not in answer.measured
    with pytest.raises(InputError, match="dried grounds"):
        advise(replace(CASE, outcome=Outcome(spent_dry_g=CASE.plan.dose_g + 1)))
