"""A plan as steps to follow: pours, actions, the valve, the press, what is added, and what to see to beforehand."""

from __future__ import annotations

from hakari.core.brew.brewers import Brewer
from hakari.core.brew.dilution import drops_per_second
from hakari.core.brew.display_units import DisplayUnits
from hakari.core.brew.filters import PAPERS
from hakari.core.brew.schedule import Ending, Event, Strength, Where
from hakari.core.brew.steps import ACTION_S, DRIP_S, Step, StepKind, steps_of
from hakari.core.brew.styles import Draft
from hakari.formats.base import Document
from hakari.formats.plan import PlanDocument
from hakari.formats.prediction import PredictionDocument

ACTION_WORDS = {
    "swirl": "Swirl", "stir": "Stir", "press": "Press", "stir-back": "Stir once each way",
    "decant": "Pour all of it off", "open-valve": "Open the valve", "close-valve": "Close the valve",
    "drain": "Bed bare", "last-drip": "Last drip",
}  # fmt: skip
ENDING_WORDS: dict[Ending, str] = {
    "press": "Press, slowly", "skim": "Break the crust and skim", "draw-off": "Draw off, slowly",
    "draw-down": "Take off the heat: it draws down", "off-heat": "Take off the heat",
}  # fmt: skip
WHERE = {"centre": ", in the middle", "edge": ", along the edge"}
EVENTS = {
    "level-back": "Wait until the level is back",
    "half": "Wait until it has fallen to half",
    "drained": "Wait until it has drained",
}


class StepView(Document):
    """One step: when by the plan, what, and the total on the scale after a pour.

    ``strength`` is how hard and ``where`` on the bed to pour, for a pour; ``waits`` is the event that a wait ends with.
    A pour that falls in drops has ``drops_per_min``. Without a scale ``mark`` counts the cups that are filled to a
    mark, of ``marks`` in all.
    """

    kind: StepKind
    at_s: float
    ends_s: float
    words: str
    total_g: float | None
    amount_g: float
    rate_g_s: float | None
    drops_per_min: float | None
    bloom: bool
    strength: Strength | None
    ending: Ending | None
    waits: Event | None
    where: Where | None
    mark: int | None
    marks: int | None

    def core(self) -> Step:
        """Return the step itself, without its words."""
        return Step(
            self.kind, self.at_s, self.ends_s - self.at_s, self.amount_g, self.total_g, self.waits,
            self.strength or "normal", self.bloom, self.ending, self.where or "spiral", self.mark,
        )  # fmt: skip


class CheckView(Document):
    """Something to see to before the first pour, with its reason."""

    key: str
    words: str
    why: str


def core_steps(document: PlanDocument, prediction: PredictionDocument, added_g: float) -> tuple[Step, ...]:
    """Return the plan's steps; ``added_g`` is hot water that goes into the drink afterwards."""
    starts = tuple(prediction.pour_starts_s)
    return steps_of(document.core(), starts, prediction.drawdown_s, prediction.last_drip_s, added_g, document.by_marks)


def step_views(steps: tuple[Step, ...], units: DisplayUnits) -> list[StepView]:
    """Return steps in words."""
    marks = max((s.mark or 0 for s in steps), default=0) or None
    return [_step_view(step, units, marks) for step in steps]


def _step_view(step: Step, units: DisplayUnits, marks: int | None) -> StepView:
    pours = step.kind == "pour"
    drips = pours and step.lasts_s > DRIP_S
    return StepView(
        kind=step.kind, at_s=step.at_s, ends_s=step.ends_s, words=_words(step, units, marks), total_g=step.total_g,
        amount_g=step.amount_g, rate_g_s=step.rate_g_s,
        drops_per_min=round(60 * drops_per_second(step.amount_g, step.lasts_s)) if drips else None, bloom=step.bloom,
        strength=step.strength if pours else None, ending=step.ending, waits=step.waits,
        where=step.where if pours else None, mark=step.mark, marks=marks if step.mark else None,
    )  # fmt: skip


def _words(step: Step, units: DisplayUnits, marks: int | None) -> str:
    if step.mark is not None:
        return f"Fill the cup to the mark and pour it: {step.mark} of {marks}"
    if step.kind == "pour":
        drip = step.lasts_s > DRIP_S
        verb = "Drip to" if drip else "Bloom, to" if step.bloom else "Pour to"
        how = {"soft": ", softly", "hard": ", hard"}.get(step.strength, "") if not drip else ""
        return f"{verb} {units.masses(step.total_g or 0.0)}{how}{WHERE.get(step.where, '')}"
    if step.kind == "stir" and step.lasts_s > ACTION_S:
        return f"Stir for {step.lasts_s:.0f} s"
    if step.ending is not None:
        return ENDING_WORDS[step.ending]
    if step.kind == "add":
        return f"Add {units.masses(step.amount_g)} of hot water, in small steps, to taste"
    return EVENTS[step.waits] if step.waits else ACTION_WORDS[step.kind]


def checks_of(document: PlanDocument, brewer: Brewer, made: Draft, units: DisplayUnits) -> list[CheckView]:
    """Return what this plan wants seen to first."""
    heat, paper = document.heat, document.filter in PAPERS
    wall = heat.material.capitalize()
    drip, cone = brewer.way == "drip", brewer.is_cone
    dose = units.masses(document.dose_g, digits=None)
    wanted = (
        (
            True,
            "dose",
            f"{dose} weighed out of the grinder" if not made.by_marks else made.by_hand[0].split(",")[0],
            "What is in the brewer counts.",
        ),
        (paper, "rinse", "Paper rinsed and seated", "Folds are then the same every time."),
        (paper, "empty", "Rinse water thrown away", "Left in, it thins the drink."),
        (
            document.filter in ("cloth", "metal", "double-mesh", "mesh-and-paper"),
            "clean",
            "Filter clean",
            "Old oils taste rancid.",
        ),
        (document.water_c > 50 and heat.preheated, "preheat", f"{wall} warmed", "Cold, it takes the heat."),
        (drip, "bed", "A nest in the dry bed" if cone else "Bed level", "It then wets evenly."),
        (brewer.way == "valve", "valve", "Valve closed", "It opens by the plan."),
        (made.ice_g > 0, "ice", f"{units.masses(made.ice_g)} of ice in the server", "What melts is part of the drink."),
        (made.by_marks, "mark", "The cup's mark found", "Every pour is measured with it."),
        (not made.by_marks, "tare", "Scale zeroed", "Totals are read from it."),
    )
    return [CheckView(key=key, words=words, why=why) for holds, key, words, why in wanted if holds]
