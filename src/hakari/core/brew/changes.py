"""What differs between two plans: one thing at a time can be judged, several at once cannot be told apart."""

from __future__ import annotations

from typing import Literal

from hakari.core.brew.schedule import Plan

Change = Literal["temperature", "dose", "water", "brewer", "filter", "pours", "steep", "stirring", "heat", "room"]

LEAST_DOSE_G = 0.05
LEAST_WATER_G = 1.0
LEAST_RATIO = 0.12
LEAST_SHARE = 0.02  # of the water in one pour
LEAST_TIME_S = 1.0


def changes_between(before: Plan, after: Plan) -> tuple[Change, ...]:
    """Return each thing that differs between two plans; a dose that keeps the ratio or the water is one thing.

    Parameters
    ----------
    before, after : Plan
        Two plans for the same coffee.

    Returns
    -------
    tuple of str
        What differs, the same each time in the same order; the grind is no part of a plan.
    """
    same_water = abs(after.water_g - before.water_g) <= LEAST_WATER_G
    same_brewer = after.brewer == before.brewer
    different: dict[Change, bool] = {
        "temperature": after.water_c != before.water_c,
        "dose": abs(after.dose_g - before.dose_g) >= LEAST_DOSE_G,
        "water": abs(after.ratio - before.ratio) > LEAST_RATIO and not same_water,
        "brewer": not same_brewer,
        "filter": same_brewer and after.filter_name != before.filter_name,
        "pours": not _same_pours(before, after, same_water),
        "steep": not _same_steep(before, after),
        "stirring": _stirring(before, same_water) != _stirring(after, same_water),
        "heat": same_brewer and after.heat != before.heat,
        "room": after.room_c != before.room_c,
    }
    return tuple(change for change, differs in different.items() if differs)


def _same_pours(before: Plan, after: Plan, same_water: bool) -> bool:
    """Whether the water goes in alike: the same number of pours, shares and ways; times count where the water is the same."""
    if len(before.pours) != len(after.pours):
        return False
    for a, b in zip(before.pours, after.pours, strict=True):
        if (a.start_when, a.strength, a.where) != (b.start_when, b.strength, b.where):
            return False
        if abs(a.water_g / before.water_g - b.water_g / after.water_g) > LEAST_SHARE:
            return False
        apart_s = max(abs((a.start_s or 0.0) - (b.start_s or 0.0)), abs(a.duration_s - b.duration_s))
        if same_water and apart_s > LEAST_TIME_S:
            return False
    return True


def _same_steep(before: Plan, after: Plan) -> bool:
    """Whether a steep takes as long and ends alike."""
    a, b = before.steep, after.steep
    if a is None or b is None:
        return a is b
    return (a.seconds, a.press_s, a.ending, a.force, a.decant) == (b.seconds, b.press_s, b.ending, b.force, b.decant)


def _stirring(plan: Plan, timed: bool) -> tuple[object, ...]:
    """Return what is done to the bed or the slurry, comparable; with its times where the water is the same."""
    actions = tuple((a.do, round(a.at_s) if timed else None) for a in plan.actions)
    return (*actions, plan.steep.stir_s if plan.steep else 0.0)
