"""Candidate changes of how it is poured, stirred, steeped and filtered, and of the brewer."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from hakari.core.advice.candidate import Candidate
from hakari.core.advice.evidence import Case
from hakari.core.brew.brewers import MACHINES, MESH_OPEN_SHARE, UNSTIRRED, built_in
from hakari.core.brew.filters import PAPERS
from hakari.core.brew.schedule import STIRRINGS, Action, Pour, Strength
from hakari.core.brew.styles import draft, style_of
from hakari.core.brew.units import clock

STIR_STEP_S, LONGEST_STIR_S = 15.0, 60.0


LONGEST_STEEP_STEP_S, SHORT_STEEP_S = 30.0, 600.0


SOFTER: dict[Strength, Strength] = {"hard": "normal", "normal": "soft", "soft": "soft"}


def softer_pours(case: Case) -> Iterator[Candidate]:
    """How hard the water falls after the first pour.

    Parameters
    ----------
    case : Case
        The brew to be judged.

    Yields
    ------
    Candidate
        Changes, each with the brew that it makes.
    """
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


def style_levers(case: Case) -> Iterator[Candidate]:
    """Yield the levers that a style brings of its own, as its reason says; the models hardly see them.

    Parameters
    ----------
    case : Case
        The brew to be judged.

    Yields
    ------
    Candidate
        Changes, each with the brew that it makes.
    """
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


def other_stirring(case: Case) -> Iterator[Candidate]:
    """Yield more stirring and less, in a steep by time and in a bed by swirls.

    Parameters
    ----------
    case : Case
        The brew to be judged.

    Yields
    ------
    Candidate
        Changes, each with the brew that it makes.
    """
    plan, steep = case.plan, case.plan.steep
    if plan.brewer.name in (*MACHINES, *UNSTIRRED):
        return
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


def steep_time(case: Case) -> Iterator[Candidate]:
    """Yield a longer and a shorter steep.

    Parameters
    ----------
    case : Case
        The brew to be judged.

    Yields
    ------
    Candidate
        Changes, each with the brew that it makes.
    """
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


def other_filter(case: Case) -> Iterator[Candidate]:
    """Yield another filter.

    Parameters
    ----------
    case : Case
        The brew to be judged.

    Yields
    ------
    Candidate
        Changes, each with the brew that it makes.
    """
    plan = case.plan
    choices = []
    if plan.steep is not None and plan.filter_name in ("metal", "none", "cloth"):
        choices.append(("paper-under", "paper", "paper under the mesh"))
    if plan.filter_name in PAPERS and plan.brewer.way in ("drip", "steep"):
        choices.append(("metal", "metal", "a metal filter instead of the paper"))
    for direction, name, words in choices:
        yield Candidate(
            "filter", direction, plan.filter_name, name, words, 1, replace(plan, filter_name=name), case.grind
        )


def under_mesh(case: Case) -> Iterator[Candidate]:
    """Yield a mesh under the paper.

    Parameters
    ----------
    case : Case
        The brew to be judged.

    Yields
    ------
    Candidate
        Changes, each with the brew that it makes.
    """
    brewer = case.plan.brewer
    if not brewer.is_cone and brewer.way == "drip" and not brewer.mesh and brewer.open_share < MESH_OPEN_SHARE:
        plan = replace(case.plan, brewer=replace(brewer, mesh=True))
        yield Candidate("mesh", "under-paper", "none", "mesh", "a mesh under the paper", 1, plan, case.grind)


def other_brewer(case: Case) -> Iterator[Candidate]:
    """From a brewer that chokes, or to the other shape of bed, with the same pours.

    Parameters
    ----------
    case : Case
        The brew to be judged.

    Yields
    ------
    Candidate
        Changes, each with the brew that it makes.
    """
    now = case.plan.brewer
    if now.way != "drip" or case.plan.steep is not None:
        return
    other = built_in("flat-bottom" if now.is_cone else "ribbed-cone")
    direction = "flat" if now.is_cone else "cone"
    plan = replace(
        case.plan, brewer=replace(other, mesh=True) if not other.is_cone else other, filter_name=other.filter_name
    )
    yield Candidate("brewer", direction, now.label, other.label, f"brew it in a {other.label}", 3, plan, case.grind)
