"""Candidate changes of heat, coffee and water, in the brewer and in the cup."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from hakari.core.advice.candidate import Candidate
from hakari.core.advice.evidence import COLD_C, Case
from hakari.core.brew.brewers import MACHINES

HEAT_STEPS_C = (3.0, 4.0)


RATIO_STEPS = (0.75, 1.5)


HOTTEST_C, COOLEST_C = 98.0, 78.0


DOSE_STEP, LEAST_DOSE_G, DEEP_BED_G = 0.08, 0.3, 24.0


BYPASS_G = (20.0, 40.0, 60.0)


DILUTION_G = (10.0, 20.0, 30.0)


def other_heat(case: Case) -> Iterator[Candidate]:
    """Yield hotter and cooler water.

    Parameters
    ----------
    case : Case
        The brew to be judged.

    Yields
    ------
    Candidate
        Changes, each with the brew that it makes.
    """
    now = case.plan.water_c
    if now < COLD_C or case.plan.brewer.name in MACHINES:
        return
    for step in HEAT_STEPS_C:
        for direction, then in (("cooler", now - step), ("hotter", now + step)):
            if COOLEST_C <= then <= HOTTEST_C:
                yield Candidate(
                    "temperature", direction, case.units.heat(now), case.units.heat(then),
                    f"water {case.units.heat_difference(step)} {direction}", 1,
                    replace(case.plan, water_c=then), case.grind,
                )  # fmt: skip


def other_ratio(case: Case) -> Iterator[Candidate]:
    """Yield another ratio at the same dose.

    Parameters
    ----------
    case : Case
        The brew to be judged.

    Yields
    ------
    Candidate
        Changes, each with the brew that it makes.
    """
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


def other_dose(case: Case) -> Iterator[Candidate]:
    """Yield another dose at the same water, and for a deep bed a smaller one at the same ratio.

    Parameters
    ----------
    case : Case
        The brew to be judged.

    Yields
    ------
    Candidate
        Changes, each with the brew that it makes.
    """
    plan, now = case.plan, case.plan.dose_g
    for direction, share in (("less", 1 - DOSE_STEP), ("more", 1 + DOSE_STEP), ("smaller", 1 - DOSE_STEP)):
        then = round(2 * now * share) / 2
        if abs(then - now) < LEAST_DOSE_G or not plan.brewer.dose_g[0] <= then <= plan.brewer.dose_g[1]:
            continue
        start, end = (case.units.masses(g, digits=None) for g in (now, then))
        by = case.units.masses(abs(then - now), digits=None)
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


def bypass_water(case: Case) -> Iterator[Candidate]:
    """Water into the drink after the brew: strength only.

    Parameters
    ----------
    case : Case
        The brew to be judged.

    Yields
    ------
    Candidate
        Changes, each with the brew that it makes.
    """
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


def other_dilution(case: Case) -> Iterator[Candidate]:
    """More or less of the water that goes into the finished drink; strength only.

    Parameters
    ----------
    case : Case
        The brew to be judged.

    Yields
    ------
    Candidate
        Changes, each with the brew that it makes.
    """
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


def preheating(case: Case) -> Iterator[Candidate]:
    """Yield a brewer that was warmed before.

    Parameters
    ----------
    case : Case
        The brew to be judged.

    Yields
    ------
    Candidate
        Changes, each with the brew that it makes.
    """
    heat = case.plan.heat
    if not heat.preheated and case.plan.water_c >= COLD_C:
        plan = replace(case.plan, heat=replace(heat, preheated=True))
        yield Candidate("preheat", "warm", "cold", "warmed", "warm the brewer first", 1, plan, case.grind)
