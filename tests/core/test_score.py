"""Scoring guesses and learning from them: within bounds, in the right direction, nothing from nothing."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from hakari.core.advice.advise import advise
from hakari.core.advice.causes import CAUSES
from hakari.core.advice.evidence import BAD_WORDS, TARGETS, Case, Outcome
from hakari.core.advice.score import BOUND, Guess, Tried, better, cause_behind, complaints, learned, score
from hakari.core.errors import InputError
from hakari.core.psd.grind import grind_from_figures
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


@given(st.lists(st.tuples(st.sampled_from([c.name for c in CAUSES]), st.floats(-1, 1)), max_size=40))
def test_learning_stays_within_its_bounds(tries: list[tuple[str, float]]) -> None:
    found = learned([Tried(c, b) for c, b in tries])
    assert all(abs(v) <= BOUND for v in found.values()) and set(found) == {c for c, _ in tries}


def test_what_helped_weighs_more_and_the_measure_counts_half() -> None:
    assert learned([Tried("paper", 1.0)] * 2)["paper"] > 0 > learned([Tried("paper", -1.0)])["paper"]
    assert better({"bitter": 2}, {}, nearer=-1.0) == 0.0
    assert cause_behind([("too-fine", 0.6), ("too-hot", 0.3)], "temperature", "cooler") == "too-fine"
    assert cause_behind([("hand", 0.9)], "grind", "finer") is None


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
