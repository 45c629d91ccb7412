"""A plan as steps to follow: pours, deeds, the valve, the press, what is added, and what to see to beforehand."""

from __future__ import annotations

from hakari.core.brew.brewers import Brewer
from hakari.core.brew.schools import Draft
from hakari.formats.base import Document
from hakari.formats.plan import PlanDocument, PredictionDocument

DEEDS = {
    "swirl": "Swirl", "stir": "Stir", "press": "Press", "open-valve": "Open the valve", "close-valve": "Close the valve",
}  # fmt: skip
EVENTS = {
    "level-back": "when the level is back",
    "half": "when it has fallen to half",
    "drained": "when it has drained",
}
BLOOM_SHARE = 0.26  # a first pour of up to this share of the water is a bloom


class StepView(Document):
    """One step: when by the plan, what, and the total on the scale after a pour; ``waits`` says what it waits for."""

    at_s: float
    ends_s: float
    words: str
    total_g: float | None
    waits: str | None


class CheckView(Document):
    """Something to see to before the first pour, with its reason."""

    key: str
    words: str
    why: str


def steps_of(document: PlanDocument, prediction: PredictionDocument) -> list[StepView]:
    """The plan's steps in the order of time."""
    steps: list[StepView] = []
    total, water = 0.0, sum(p.water_g for p in document.pours)
    for i, pour in enumerate(document.pours):
        total += pour.water_g
        starts = prediction.pour_starts_s
        at = starts[i] if i < len(starts) else (pour.start_s or 0.0)
        bloom = i == 0 and len(document.pours) > 1 and pour.water_g <= BLOOM_SHARE * water
        drip = pour.duration_s > 1200
        verb = "Drip to" if drip else "Bloom, to" if bloom else "Pour to"
        how = {"soft": ", softly", "hard": ", hard"}.get(pour.strength, "")
        steps.append(
            StepView(
                at_s=at, ends_s=at + pour.duration_s, words=f"{verb} {total:.0f} g{how if not drip else ''}", total_g=total,
                waits=EVENTS[pour.start_when] if pour.start_when else None,
            )
        )  # fmt: skip
    for action in document.actions:
        steps.append(
            StepView(at_s=action.at_s, ends_s=action.at_s + 5, words=DEEDS[action.do], total_g=None, waits=None)
        )
    if document.steep:
        s = document.steep
        if s.stir_s > 0:
            at = min(max(step.ends_s for step in steps), s.seconds)
            steps.append(_deed(at, s.stir_s, f"Stir for {s.stir_s:.0f} s"))
        steps.append(_deed(s.seconds, s.press_s, "Press or draw off, slowly"))
    return sorted(steps, key=lambda step: step.at_s)


def _deed(at_s: float, lasts_s: float, words: str) -> StepView:
    return StepView(at_s=at_s, ends_s=at_s + lasts_s, words=words, total_g=None, waits=None)


def checks_of(document: PlanDocument, brewer: Brewer, made: Draft) -> list[CheckView]:
    """What this plan wants seen to first."""
    heat, paper = document.heat, document.filter in ("paper", "thick-paper")
    wall = heat.material.capitalize()
    drip, cone = brewer.way == "drip", brewer.is_cone
    wanted = (
        (True, "dose", f"{document.dose_g:g} g weighed out of the grinder", "What lies in the brewer counts."),
        (paper, "rinse", "Paper rinsed and seated", "Folds are then the same every time."),
        (paper, "empty", "Rinse water thrown away", "Left in, it thins the drink."),
        (document.filter in ("cloth", "metal"), "clean", "Filter clean", "Old oils taste rancid."),
        (document.water_c > 50 and heat.preheated, "preheat", f"{wall} warmed", "Cold, it takes the heat."),
        (drip, "bed", "A nest in the dry bed" if cone else "Bed level", "It then wets evenly."),
        (brewer.way == "valve", "valve", "Valve closed", "It opens by the plan."),
        (made.ice_g > 0, "ice", f"{made.ice_g:.0f} g of ice in the server", "What melts is part of the drink."),
        (True, "tare", "Scale at nothing", "Totals are read off it."),
    )
    return [CheckView(key=key, words=words, why=why) for holds, key, words, why in wanted if holds]
