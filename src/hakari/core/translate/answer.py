"""One translation whole: the nearest setting, what was matched in which plan, and what will differ even so."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hakari.core.brew.schedule import Plan
from hakari.core.flow.percolation import SEARCH_STEP_S
from hakari.core.flow.simulate import simulate_flow
from hakari.core.grinder.grinder import Grinder
from hakari.core.translate.match import DEFAULT_PLAN, Match, default_plan, grind_of, matched
from hakari.core.translate.nearest import TargetSize, Translation, nearest_setting

SAME_SHARE, SAME_SPAN = 0.10, 0.08  # relative differences that nobody tastes or measures
LEAST_S = 5.0
EQUAL = ("you named these two settings as equal",)
SHARES = (
    (0.1, "a tenth"),
    (0.2, "a fifth"),
    (0.25, "a quarter"),
    (0.33, "a third"),
    (0.5, "half"),
    (0.75, "three quarters"),
)


@dataclass(frozen=True)
class PlanInUse:
    """The plan that flow and yield are compared in, and its name."""

    plan: Plan
    name: str


def usual_plan() -> PlanInUse:
    """Return the plan where none is given.

    Returns
    -------
    PlanInUse
        The plan where none is given.
    """
    return PlanInUse(default_plan(), DEFAULT_PLAN)


@dataclass(frozen=True)
class Difference:
    """What is not the same there, what to expect of it, and whether that asks for attention."""

    title: str
    expect: str
    matters: bool

    def __str__(self) -> str:
        return f"{self.title}: {self.expect}"


@dataclass(frozen=True)
class Answer:
    """The setting, by what it was matched and in which plan, fines and span here and there, and what differs.

    ``longer_s`` is how much longer the bed takes to fall dry in the plan; ``None`` where fines are not known on both sides.
    """

    translation: Translation
    match: Match
    plan: str | None
    fines_wanted: float | None
    fines_there: float | None
    span_wanted: float | None
    span_there: float | None
    longer_s: float | None
    differs: tuple[Difference, ...]
    assumptions: tuple[str, ...]


def translate(
    wanted: TargetSize,
    target: Grinder,
    match: Match = "median",
    in_plan: PlanInUse | None = None,
    steps: int = 0,
    roast: str | None = None,
    equal: str | None = None,
) -> Answer:
    """Find the setting of ``target`` for a wanted grind, of a coffee of this roast where it is known.

    Parameters
    ----------
    wanted : TargetSize
        The size that is wanted, with its uncertainty.
    target : Grinder
        The grinder to be set.
    match : Match
        What is to be the same: size, flow, yield or shape.
    in_plan : PlanInUse or None
        The plan that matching by flow or yield is for.
    steps : int
        Steps beyond it on the target dial.
    roast : str or None
        Roast of the coffee; any where ``None``.
    equal : str or None
        A setting of the target that a person said to be equal: it is the answer, whatever the curves say.

    Returns
    -------
    Answer
        The setting, its chance of being nearest, and what will differ.

    Raises
    ------
    InputError
        As ``nearest_setting``, ``matched`` and, for the plan, ``simulate``.
    """
    use = in_plan or usual_plan()
    found = matched(target, wanted, match, use.plan)
    t = nearest_setting(target, found.wanted, steps, roast, equal)
    there = t.d50_um
    fines, span = target.fines_at(there), target.span_at(there)
    longer = None
    if wanted.fines_below_100 is not None and fines is not None:
        before, after = grind_of(wanted.um, wanted.fines_below_100, wanted.span), grind_of(there, fines, span)
        a, b = (simulate_flow(use.plan, grind, None, SEARCH_STEP_S) for grind in (before, after))
        longer = None if a.stalled or b.stalled else float(b.bare_bed_s - a.bare_bed_s)
    return Answer(
        t, match, use.name if match in ("flow", "yield") else None, wanted.fines_below_100, fines, wanted.span, span,
        longer, _differences(wanted, t, fines, span, longer), (*found.assumed, *(EQUAL if equal is not None else ())),
    )  # fmt: skip


def _differences(
    wanted: TargetSize, t: Translation, fines: float | None, span: float | None, longer_s: float | None
) -> tuple[Difference, ...]:
    found = []
    gap = t.d50_um / wanted.um - 1
    median = "Same median" if abs(gap) < 0.02 else f"Median {abs(100 * gap):.0f} % {'coarser' if gap > 0 else 'finer'}"
    if wanted.fines_below_100 and fines:
        ratio = fines / wanted.fines_below_100
        amount = "much the same fines" if abs(np.log(ratio)) < SAME_SHARE else f"{_share(ratio)} fines"
        much_the_same = longer_s is not None and abs(longer_s) < LEAST_S
        found.append(Difference(f"{median}, {amount}", _pace(longer_s), not much_the_same))
    if wanted.span and span and abs(np.log(span / wanted.span)) > SAME_SPAN:
        wider = span > wanted.span
        less = "less even: sour and bitter come nearer together" if wider else "more even"
        title = f"{'Wider' if wider else 'Narrower'} spread, span {span:.2f} for {wanted.span:.2f}"
        found.append(Difference(title, less, wider))
    return tuple(found)


def _share(ratio: float) -> str:
    """Return  "a third more", "a quarter fewer", "twice the"."""
    if ratio > 1.87:
        return "twice the" if ratio < 2.5 else f"{ratio:.0f} times the"
    gap = abs(ratio - 1)
    word = min(SHARES, key=lambda s: abs(s[0] - gap))[1]
    return f"{word} {'more' if ratio > 1 else 'fewer'}"


def _pace(longer_s: float | None) -> str:
    if longer_s is None:
        return "it may run otherwise"
    if abs(longer_s) < LEAST_S:
        return "expect much the same time"
    return f"expect about {5 * round(abs(longer_s) / 5):.0f} s {'longer' if longer_s > 0 else 'less'}"
