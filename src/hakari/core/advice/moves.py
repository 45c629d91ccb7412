"""Candidate changes, each of one thing or one named compensated pair.

Their steps are steps of the gear, and larger than the noise of the hand.
"""

from __future__ import annotations

from collections.abc import Iterator

from hakari.core.advice import grind_moves, pour_moves, water_moves
from hakari.core.advice.candidate import Candidate, Kind
from hakari.core.advice.evidence import Case
from hakari.core.brew.filters import PAPERS
from hakari.core.brew.schedule import check_plan
from hakari.core.errors import InputError

WEIGHED = ("ratio", "bypass-water", "dilution")


def candidates(case: Case) -> list[Candidate]:
    """All changes worth weighing; those of a plan that cannot be brewed are left out.

    Parameters
    ----------
    case : Case
        The brew to be judged.

    Returns
    -------
    list[Candidate]
        All changes worth weighing.
    """
    makers = (
        grind_moves.grind_settings, water_moves.other_heat, water_moves.other_ratio, water_moves.other_dose,
        pour_moves.softer_pours, pour_moves.other_stirring, pour_moves.steep_time, pour_moves.other_filter,
        pour_moves.under_mesh, grind_moves.sieving, water_moves.bypass_water, water_moves.other_dilution,
        water_moves.preheating, pour_moves.other_brewer, grind_moves.grind_and_ratio, pour_moves.style_levers, _unmodelled,
    )  # fmt: skip
    found = []
    for make in makers:
        for candidate in make(case):
            if case.by_marks and candidate.kind in WEIGHED:
                continue  # nobody can weigh that
            try:
                check_plan(candidate.plan)
            except InputError:
                continue
            found.append(candidate)
    return found


def _unmodelled(case: Case) -> Iterator[Candidate]:
    """Return what no equation here sees; offered where a cause speaks for it."""
    paper = case.plan.filter_name in PAPERS
    days = case.days_off_roast
    rows: tuple[tuple[bool, Kind, str, str, str, str], ...] = (
        (paper, "seating", "reseat", "as folded", "rinsed and pressed flat", "seat the paper again and rinse it"),
        (paper, "seating", "rinse", "dry", "rinsed", "rinse the paper, throw the rinse water away"),
        (paper, "filter", "other-lot", "this paper", "another lot", "try paper of another lot"),
        (True, "coffee", "fresher", "this coffee", "fresher, ground last", "fresher coffee, ground just before"),
        (True, "water", "change", case.water or "this water", "soft, low in alkali", "brew it with soft water"),
        (
            True,
            "rest",
            "wait",
            f"{days} days" if days is not None else "young",
            "a week or more",
            "let the coffee rest",
        ),
        (True, "repeat", "clean", "as it is", "clean", "clean brewer and grinder, then brew it again"),
        (True, "repeat", "evenly", "", "", "brew it again, evenly"),
        (True, "repeat", "again", "", "", "brew it again first"),
    )
    for holds, kind, direction, start, end, words in rows:
        if holds:
            yield Candidate(kind, direction, start, end, words, 1, case.plan, case.grind, modelled=False)
