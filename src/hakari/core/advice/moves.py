"""Candidate changes, each of one thing or one named compensated pair.

Their steps are steps of the gear, and larger than the noise of the hand.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from hakari.core.advice.evidence import COLD_C, Case
from hakari.core.brew.brewers import MESH_OPEN_SHARE, built_in
from hakari.core.brew.schedule import STIRRINGS, Action, Plan, Pour, Strength, check_plan
from hakari.core.brew.styles import draft, style_of
from hakari.core.brew.units import clock
from hakari.core.errors import InputError
from hakari.core.grinder.dial import step_words
from hakari.core.psd.grind import Grind

Kind = Literal[
    "grind", "temperature", "ratio", "dose", "pours", "agitation", "time", "filter", "seating", "mesh", "sieve",
    "bypass-water", "dilution", "preheat", "brewer", "coffee", "water", "compensated", "rest", "repeat", "none",
]  # fmt: skip
LEAST_GRIND_LN = 0.03
GRIND_AIMS_LN = (0.06, 0.11, 0.17, 0.26, 0.38)
COMPENSATED_AIM_LN = 0.11
HEAT_STEPS_C = (3.0, 4.0)
RATIO_STEPS = (0.75, 1.5)
HOTTEST_C, COOLEST_C = 98.0, 78.0
DOSE_STEP, LEAST_DOSE_G, DEEP_BED_G = 0.08, 0.3, 24.0
STIR_STEP_S, LONGEST_STIR_S = 15.0, 60.0
BYPASS_G = (20.0, 40.0, 60.0)
DILUTION_G = (10.0, 20.0, 30.0)
LONGEST_STEEP_STEP_S, SHORT_STEEP_S = 30.0, 600.0
WEIGHED = ("ratio", "bypass-water", "dilution")
SIEVED_FINES = 0.45  # share of the dust that is left by a usual sieve
SOFTER: dict[Strength, Strength] = {"hard": "normal", "normal": "soft", "soft": "soft"}


@dataclass(frozen=True)
class Candidate:
    """One change: what it is called, from and to in the gear's own notation, and the brew that it makes.

    ``added_g`` is water put into the drink afterwards beyond what was; ``dilution_g`` all of it, where it is diluted.
    ``modelled`` is false for what no equation here sees: paper seated again, other coffee, other water; ``option`` is the
    style's option that it sets.
    """

    kind: Kind
    direction: str
    start: str
    end: str
    words: str
    size_steps: int
    plan: Plan
    grind: Grind
    added_g: float = 0.0
    modelled: bool = True
    dilution_g: float | None = None
    option: tuple[str, str] | None = None


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
        _grind, _heat, _ratio, _dose, _pours, _agitation, _time, _filter, _mesh, _sieve, _bypass, _dilution, _preheat,
        _brewer, _compensated, _of_style, _unmodelled,
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


def _grind(case: Case) -> Iterator[Candidate]:
    if case.on_dial is None:
        yield from _grind_without_dial(case)
        return
    dial, at = case.on_dial
    for direction, i, factor, size in _settings(case, GRIND_AIMS_LN):
        yield Candidate(
            "grind", direction, dial.write(at), dial.write(i), step_words(dial, at, i), abs(i - at), case.plan,
            reground(case, factor, size),
        )  # fmt: skip


def _settings(case: Case, aims: tuple[float, ...]) -> Iterator[tuple[str, int, float, float]]:
    """Yield settings near each aim: direction, place, size factor, and the size now in µm."""
    assert case.grinder is not None and case.on_dial is not None
    dial, at = case.on_dial
    size = case.grinder.curve().median_um
    usable = dial.usable()
    for direction, sign in (("coarser", 1.0), ("finer", -1.0)):
        ratio = sign * np.log(size / size[at])
        possible = np.flatnonzero((ratio >= LEAST_GRIND_LN) & usable)
        for i in sorted({int(possible[np.argmin(np.abs(ratio[possible] - aim))]) for aim in aims if len(possible)}):
            yield direction, i, float(size[i] / size[at]), float(size[at])


def reground(case: Case, factor: float, size_um: float) -> Grind:
    """Return the grind moved by a factor: the photo sets its level, the grinder's curve the ratio and the fines.

    Parameters
    ----------
    case : Case
        The brew to be judged.
    factor : float
        Factor on the coarse mode.
    size_um : float
        Size at the present setting, µm.

    Returns
    -------
    Grind
        The grind moved by a factor.
    """
    grind = case.grind.scaled(factor)
    now = case.grinder.fines_at(size_um) if case.grinder else None
    then = case.grinder.fines_at(size_um * factor) if case.grinder else None
    share = case.grind.below(100.0)
    ratio = then / now if now and then else factor**-1.3
    return grind.with_fines(float(np.clip(share * ratio, 0.0, 0.45))) if share > 0 else grind


def _grind_without_dial(case: Case) -> Iterator[Candidate]:
    for factor in (1.08, 1.15, 1.3, 0.93, 0.87, 0.77):
        direction = "coarser" if factor > 1 else "finer"
        now, then = case.grind.d50_um, case.grind.d50_um * factor
        words = f"about {abs(factor - 1) * 100:.0f} % {direction}"
        if case.grinder is not None and case.grinder.has_blades:
            words = f"{words}: run the blades {'shorter' if factor > 1 else 'longer'}, and shake"
        yield Candidate(
            "grind", direction, f"{now:.0f} µm", f"{then:.0f} µm", words, 1, case.plan, reground(case, factor, now)
        )


def _heat(case: Case) -> Iterator[Candidate]:
    now = case.plan.water_c
    if now < COLD_C:
        return
    for step in HEAT_STEPS_C:
        for direction, then in (("cooler", now - step), ("hotter", now + step)):
            if COOLEST_C <= then <= HOTTEST_C:
                yield Candidate(
                    "temperature", direction, case.units.heat(now), case.units.heat(then),
                    f"water {case.units.heat_difference(step)} {direction}", 1,
                    replace(case.plan, water_c=then), case.grind,
                )  # fmt: skip


def _ratio(case: Case) -> Iterator[Candidate]:
    """Yield another ratio at the same dose."""
    now = case.plan.ratio
    least, most = (3.0, 10.0) if now < 9 else (10.0, 22.0)
    for step in RATIO_STEPS:
        for direction, then in (("shorter", now - step), ("longer", now + step)):
            if least <= then <= most:
                water = float(round(then * case.plan.dose_g))
                change = water - round(case.plan.water_g)
                words = f"{case.units.masses(abs(change))} {'more' if change > 0 else 'less'} water"
                yield Candidate(
                    "ratio",
                    direction,
                    f"1:{now:.1f}",
                    f"1:{then:.1f}",
                    words,
                    1,
                    case.plan.with_water(water),
                    case.grind,
                )


def _dose(case: Case) -> Iterator[Candidate]:
    """Yield another dose at the same water, and for a deep bed a smaller one at the same ratio."""
    plan, now = case.plan, case.plan.dose_g
    for direction, share in (("less", 1 - DOSE_STEP), ("more", 1 + DOSE_STEP), ("smaller", 1 - DOSE_STEP)):
        then = round(2 * now * share) / 2
        if abs(then - now) < LEAST_DOSE_G or not plan.brewer.dose_g[0] <= then <= plan.brewer.dose_g[1]:
            continue
        start, end = (case.units.masses(g, digits=None) for g in (now, then))
        by = case.units.masses(abs(then - now), digits=1)
        changed = replace(plan, dose_g=then)
        if direction == "smaller":
            if case.by_marks or plan.steep is not None or now < DEEP_BED_G:
                continue
            words = f"{by} less coffee, and less water with it"
            changed = replace(changed, pours=tuple(replace(p, water_g=p.water_g * then / now) for p in plan.pours))
        elif case.by_marks:
            words = f"{'a smaller' if direction == 'less' else 'a fuller'} spoon of coffee"
            start, end = "as it was", words
        else:
            words = f"{by} {direction} coffee, the same water"
        yield Candidate("dose", direction, start, end, words, 1, changed, case.grind)


def _pours(case: Case) -> Iterator[Candidate]:
    """How hard the water falls after the first pour."""
    plan = case.plan
    if plan.steep is not None or plan.brewer.way == "tower":
        return
    later = plan.pours[1:] or plan.pours
    softer = tuple(replace(p, strength=SOFTER[p.strength]) for p in later)
    if softer != later:
        hardest: Strength = "hard" if any(p.strength == "hard" for p in later) else "normal"
        pours: tuple[Pour, ...] = (*plan.pours[: len(plan.pours) - len(later)], *softer)
        yield Candidate(
            "pours",
            "softer",
            hardest,
            SOFTER[hardest],
            "pour softly after the first",
            1,
            replace(plan, pours=pours),
            case.grind,
        )


@dataclass(frozen=True)
class StyleLever:
    """A lever that only one style has: its option, the option's values from one end to the other, and what each way is."""

    option: str
    values: tuple[str, ...]
    ways: tuple[tuple[str, str], tuple[str, str]]  # direction and words, towards the start and towards the end


STYLE_LEVERS: dict[str, tuple[StyleLever, ...]] = {
    "split": (
        StyleLever("body", ("1", "2", "3", "4"),
                   (("fewer", "one pour less in the second part"), ("more", "one pour more in the second part"))),
        StyleLever("taste", ("brighter", "even", "sweeter"),
                   (("brighter", "a larger first pour"), ("sweeter", "a smaller first pour, a larger second"))),
    ),
    "twin-bloom": (
        StyleLever("fast", ("2", "3"), (("fewer", "two fast pours"), ("more", "a third fast pour"))),
    ),
}  # fmt: skip


def _of_style(case: Case) -> Iterator[Candidate]:
    """Yield the levers that a style brings of its own, as its reason says; the models hardly see them."""
    for lever in STYLE_LEVERS.get(case.style or "", ()):
        style = style_of(str(case.style))
        usual = next(o.usual for o in style.options if o.name == lever.option)
        now = case.style_options.get(lever.option, usual)
        at = lever.values.index(now) if now in lever.values else None
        for step, (direction, words) in zip((-1, 1), lever.ways, strict=True):
            if at is None or not 0 <= at + step < len(lever.values):
                continue
            then = lever.values[at + step]
            options = {**case.style_options, lever.option: then}
            made = draft(style, case.plan.dose_g, case.plan.water_g, case.plan.brewer, options)
            plan = replace(case.plan, pours=made.pours, actions=made.actions)
            yield Candidate(
                "pours", direction, now, then, words, 1, plan, case.grind, modelled=False, option=(lever.option, then)
            )


def _agitation(case: Case) -> Iterator[Candidate]:
    plan, steep = case.plan, case.plan.steep
    if steep is not None:
        for direction, sign in (("more", 1), ("less", -1)):
            then = float(np.clip(steep.stir_s + sign * STIR_STEP_S, 0.0, min(LONGEST_STIR_S, steep.seconds)))
            if sign * (then - steep.stir_s) >= 5:
                words = f"stir {abs(then - steep.stir_s):.0f} s {'longer' if sign > 0 else 'less'}"
                yield Candidate(
                    "agitation", direction, f"{steep.stir_s:.0f} s", f"{then:.0f} s", words, 1,
                    replace(plan, steep=replace(steep, stir_s=then)), case.grind,
                )  # fmt: skip
        return
    actions = [a for a in plan.actions if a.do in STIRRINGS]
    last = plan.pours[-1]
    if len(actions) < 2 and last.start_s is not None and plan.brewer.way != "tower":
        more = (*plan.actions, Action(last.start_s + last.duration_s + 2, "swirl"))
        yield Candidate(
            "agitation", "more", _swirls(len(actions)), _swirls(len(actions) + 1), "swirl once after the last pour", 1,
            replace(plan, actions=more), case.grind,
        )  # fmt: skip
    # The bloom is wetted in any case; what comes after it can be left out.
    after_bloom = plan.pours[1].start_s if len(plan.pours) > 1 else None
    if actions and after_bloom is not None and actions[-1].at_s >= after_bloom:
        less = tuple(a for a in plan.actions if a is not actions[-1])
        yield Candidate(
            "agitation", "less", _swirls(len(actions)), _swirls(len(actions) - 1), f"leave the last {actions[-1].do} out", 1,
            replace(plan, actions=less), case.grind,
        )  # fmt: skip


def _swirls(n: int) -> str:
    return ("none", "once", "twice")[n] if n < 3 else f"{n} times"


def _time(case: Case) -> Iterator[Candidate]:
    steep = case.plan.steep
    if steep is None:
        return
    meant, now = case.planned_steep_s, steep.seconds
    step = 1800.0 if now > 7200 else 60.0 if now > SHORT_STEEP_S else 15.0
    poured = max((p.start_s or 0.0) + p.duration_s for p in case.plan.pours)
    for direction, share in (("shorter", 0.75), ("longer", 1.33)):
        then = max(step, step * round(now * share / step))
        if now <= SHORT_STEEP_S:
            then = float(np.clip(then, now - LONGEST_STEEP_STEP_S, now + LONGEST_STEEP_STEP_S))
        words = f"steep {_duration(abs(then - now))} {direction}"
        # A press at another time than was meant is first put right.
        if meant is not None and (meant < now / 1.1 if direction == "shorter" else meant > 1.1 * now):
            then, words = meant, f"press at {clock(meant)}, as planned"
        if then > poured and then != now:
            plan = replace(case.plan, steep=replace(steep, seconds=then, stir_s=min(steep.stir_s, then)))
            yield Candidate("time", direction, _duration(now), _duration(then), words, 1, plan, case.grind)


def _duration(seconds: float) -> str:
    return f"{seconds / 3600:g} h" if seconds >= 7200 or (seconds >= 1800 and seconds % 1800 == 0) else clock(seconds)


def _filter(case: Case) -> Iterator[Candidate]:
    plan = case.plan
    choices = []
    if plan.steep is not None and plan.filter_name in ("metal", "none", "cloth"):
        choices.append(("paper-under", "paper", "paper under the mesh"))
    if plan.filter_name in ("paper", "thick-paper") and plan.brewer.way in ("drip", "steep"):
        choices.append(("metal", "metal", "a metal filter instead of the paper"))
    for direction, name, words in choices:
        yield Candidate(
            "filter", direction, plan.filter_name, name, words, 1, replace(plan, filter_name=name), case.grind
        )


def _mesh(case: Case) -> Iterator[Candidate]:
    brewer = case.plan.brewer
    if not brewer.is_cone and brewer.way == "drip" and not brewer.mesh and brewer.open_share < MESH_OPEN_SHARE:
        plan = replace(case.plan, brewer=replace(brewer, mesh=True))
        yield Candidate("mesh", "under-paper", "none", "mesh", "a mesh under the paper", 1, plan, case.grind)


def _sieve(case: Case) -> Iterator[Candidate]:
    fines = case.grind.below(100.0)
    if fines > 0.05 and case.plan.steep is None:
        left = SIEVED_FINES * fines
        yield Candidate(
            "sieve", "fines", f"{100 * fines:.0f} % dust", f"{100 * left:.0f} % dust", "sieve the dust out", 2, case.plan,
            case.grind.with_fines(left),
        )  # fmt: skip


def _bypass(case: Case) -> Iterator[Candidate]:
    """Water into the drink after the brew: strength only."""
    if case.diluted:
        return
    tds, drink = case.outcome.tds_percent, case.outcome.drink_g
    amounts: tuple[float, ...] = BYPASS_G
    if tds is not None and drink is not None and tds > 2 * case.target.tds_percent[1]:
        amounts = (20.0 * round(drink * (tds / (sum(case.target.tds_percent) / 2) - 1) / 20),)
    temperature = "cold" if case.ice_g > 0 or case.plan.water_c < COLD_C else "hot"
    for water in amounts:
        yield Candidate(
            "bypass-water", "add", case.units.masses(0), case.units.masses(water),
            f"{case.units.masses(water)} of {temperature} water after the brew", 1, case.plan, case.grind, added_g=water,
        )  # fmt: skip


def _dilution(case: Case) -> Iterator[Candidate]:
    """More or less of the water that goes into the finished drink; strength only."""
    if not case.diluted:
        return
    now = case.outcome.added_water_g
    for by in DILUTION_G:
        for direction, then in (("less", now - by), ("more", now + by)):
            if then >= 0:
                yield Candidate(
                    "dilution", direction, case.units.masses(now), case.units.masses(then),
                    f"{case.units.masses(by)} {direction} water in the cup", 1, case.plan, case.grind, added_g=then - now,
                    dilution_g=then,
                )  # fmt: skip


def _preheat(case: Case) -> Iterator[Candidate]:
    heat = case.plan.heat
    if not heat.preheated and case.plan.water_c >= COLD_C:
        plan = replace(case.plan, heat=replace(heat, preheated=True))
        yield Candidate("preheat", "warm", "cold", "warmed", "warm the brewer first", 1, plan, case.grind)


def _brewer(case: Case) -> Iterator[Candidate]:
    """From a brewer that chokes, or to the other shape of bed, with the same pours."""
    now = case.plan.brewer
    if now.way != "drip" or case.plan.steep is not None:
        return
    other = built_in("flat-bottom" if now.is_cone else "ribbed-cone")
    direction = "flat" if now.is_cone else "cone"
    plan = replace(
        case.plan, brewer=replace(other, mesh=True) if not other.is_cone else other, filter_name=other.filter_name
    )
    yield Candidate("brewer", direction, now.label, other.label, f"brew it in a {other.label}", 3, plan, case.grind)


def _compensated(case: Case) -> Iterator[Candidate]:
    """Two things that belong together, named as one: coarser with less water keeps the strength; more coffee, longer stir."""
    plan = case.plan
    steep = plan.steep
    shorter = plan.ratio - RATIO_STEPS[0]
    if steep is None and shorter >= 10 and case.on_dial is not None:
        dial, at = case.on_dial
        for direction, i, factor, size in _settings(case, (COMPENSATED_AIM_LN,)):
            if direction == "coarser":
                yield Candidate(
                    "compensated", "coarser-shorter",
                    f"{dial.write(at)}, 1:{plan.ratio:.1f}", f"{dial.write(i)}, 1:{shorter:.1f}",
                    f"{step_words(dial, at, i)} with a slightly shorter ratio", abs(i - at) + 1,
                    plan.with_water(float(round(shorter * plan.dose_g))), reground(case, factor, size),
                )  # fmt: skip
    if steep is not None and plan.water_c >= COLD_C:
        dose = round(2 * plan.dose_g * (1 + DOSE_STEP)) / 2
        stir = min(steep.stir_s + STIR_STEP_S, LONGEST_STIR_S, steep.seconds)
        if dose <= plan.brewer.dose_g[1]:
            more = replace(plan, dose_g=dose, steep=replace(steep, stir_s=stir))
            words = f"{case.units.masses(dose - plan.dose_g, digits=1)} more coffee with a longer stir"
            yield Candidate(
                "compensated", "more-coffee",
                f"{case.units.masses(plan.dose_g, digits=None)}, stir {steep.stir_s:.0f} s",
                f"{case.units.masses(dose, digits=None)}, stir {stir:.0f} s", words, 2, more, case.grind,
            )  # fmt: skip


def _unmodelled(case: Case) -> Iterator[Candidate]:
    """Return what no equation here sees; offered where a cause speaks for it."""
    paper = case.plan.filter_name in ("paper", "thick-paper")
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
