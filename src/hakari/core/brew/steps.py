"""A plan as steps to follow: pours, actions, valve, press, what is added, and the ends that a brew comes to by itself."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from hakari.core.brew.schedule import Ending, Event, Plan, Strength, Where

StepKind = Literal[
    "pour", "wait", "swirl", "stir", "stir-back", "press", "decant", "open-valve", "close-valve", "drain", "last-drip", "add",
]  # fmt: skip
DECANT_S = 15.0
ACTION_S = 5.0
BLOOM_SHARE = 0.26  # a first pour of up to this share of the water is a bloom
DRIP_S = 1200.0  # a pour that takes longer falls in drops


@dataclass(frozen=True)
class Step:
    """One step: when by the plan, how long, and what; ``total_g`` is the water poured in all when a pour has ended.

    A ``wait`` ends with the event ``waits``, for which the pour after it waits; ``drain`` and ``last-drip`` end by
    themselves. ``amount_g`` is what the step pours or adds; ``ending`` says how a steep ends, for a ``press``. ``mark``
    counts pours that fill the same cup to its mark, from 1, where there is no scale.
    """

    kind: StepKind
    at_s: float
    lasts_s: float
    amount_g: float = 0.0
    total_g: float | None = None
    waits: Event | None = None
    strength: Strength = "normal"
    bloom: bool = False
    ending: Ending | None = None
    where: Where = "spiral"
    mark: int | None = None

    @property
    def ends_s(self) -> float:
        """When it is over by the plan."""
        return self.at_s + self.lasts_s

    @property
    def rate_g_s(self) -> float | None:
        """How fast a pour should be."""
        return self.amount_g / self.lasts_s if self.kind == "pour" and self.lasts_s > 0 else None


def steps_of(
    plan: Plan,
    pour_starts_s: tuple[float, ...],
    bare_bed_s: float,
    last_drip_s: float,
    added_g: float = 0.0,
    by_marks: bool = False,
) -> tuple[Step, ...]:
    """Return the steps of a plan in the order of time.

    ``pour_starts_s`` and the two ends come from the prediction: pours that wait for an event have no time of their own.
    ``added_g`` is hot water that goes into the drink afterwards.

    Parameters
    ----------
    plan : Plan
        The plan.
    pour_starts_s : tuple[float, ...]
        Start of each pour, s.
    bare_bed_s : float
        When no water stands on the bed any more, s from the first pour.
    last_drip_s : float
        When the last drop falls, s from the first pour.
    added_g : float
        Water that goes into the drink after the brew, g.
    by_marks : bool
        Whether pours are cups filled to a mark, for want of a scale.

    Returns
    -------
    tuple[Step, ...]
        The steps of a plan in the order of time.
    """
    steps: list[Step] = []
    total = 0.0
    for i, pour in enumerate(plan.pours):
        total += pour.water_g
        at = pour_starts_s[i] if i < len(pour_starts_s) else (pour.start_s or 0.0)
        bloom = i == 0 and len(plan.pours) > 1 and pour.water_g <= BLOOM_SHARE * plan.water_g
        steps.append(
            Step("pour", at, pour.duration_s, pour.water_g, total, pour.start_when, pour.strength, bloom and not by_marks,
                 where=pour.where, mark=i + 1 if by_marks else None)
        )  # fmt: skip
    poured = max(s.ends_s for s in steps)
    for action in plan.actions:
        steps.append(Step(action.do, action.at_s, ACTION_S))
    if plan.steep is not None:
        if plan.steep.stir_s > 0:
            steps.append(Step("stir", min(poured, plan.steep.seconds), plan.steep.stir_s))
        steps.append(Step("press", plan.steep.seconds, plan.steep.press_s, ending=plan.steep.ending))
        if plan.steep.decant:
            steps.append(Step("decant", plan.steep.seconds + plan.steep.press_s, DECANT_S))
    steps = _with_waits(sorted(steps, key=lambda s: s.at_s))
    if plan.steep is None:
        last = max(s.ends_s for s in steps)
        steps.append(Step("drain", last, max(0.0, bare_bed_s - last)))
        steps.append(Step("last-drip", max(last, bare_bed_s), max(0.0, last_drip_s - max(last, bare_bed_s))))
    if added_g > 0:
        steps.append(Step("add", steps[-1].ends_s, 20.0, added_g))
    return tuple(steps)


def _with_waits(steps: list[Step]) -> list[Step]:
    """Before every pour that waits for an event, the wait itself."""
    made: list[Step] = []
    for step in steps:
        if step.waits is None:
            made.append(step)
            continue
        # An action may go on for a moment after the event has come.
        before = min(made[-1].ends_s if made else 0.0, step.at_s)
        made += [Step("wait", before, max(0.0, step.at_s - before), waits=step.waits), replace(step, waits=None)]
    return made


def for_dose(
    steps: tuple[Step, ...], planned_g: float, weighed_g: float, done: int, poured_g: float
) -> tuple[Step, ...]:
    """Return the steps for the dose that really lies in the brewer: the ratio stays, what is poured already stays as well.

    Parameters
    ----------
    steps
        As ``steps_of`` makes them for ``planned_g``.
    done
        How many of the steps are over.
    poured_g
        Water that these have poured.

    Returns
    -------
    tuple[Step, ...]
        The steps for the dose that really lies in the brewer.
    """
    planned_water = sum(s.amount_g for s in steps if s.kind == "pour")
    rest = sum(s.amount_g for s in steps[done:] if s.kind == "pour")
    wanted = max(0.0, planned_water * weighed_g / planned_g - poured_g)
    scaled: list[Step] = []
    total = poured_g
    for k, s in enumerate(steps):
        if s.kind == "pour" and k >= done:
            amount = s.amount_g * wanted / rest
            total += amount
            scaled.append(replace(s, amount_g=amount, total_g=total))
        elif s.kind == "add":
            scaled.append(replace(s, amount_g=s.amount_g * weighed_g / planned_g))
        else:
            scaled.append(s)
    return tuple(scaled)
