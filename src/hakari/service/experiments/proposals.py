"""What an experiment starts from: proposals from the coffee, grinder and plan on the bench."""

from __future__ import annotations

from sqlalchemy.orm import Session

from hakari.core.errors import InputError
from hakari.core.experiment.settings import even_settings
from hakari.core.extraction.extract import extract
from hakari.core.flow.simulate import simulate_flow
from hakari.formats.base import Document
from hakari.formats.experiment import CupOfThird, GrindTried, Hand, Ladder, Sieve, Thirds, ThreeGrinds
from hakari.formats.plan import GrindClasses
from hakari.service.grinders.curves import core_of, grinder_document
from hakari.service.plans.use_cases import grind_at_hand, plan_document
from hakari.service.workspace.at_hand import at_hand
from hakari.service.workspace.transaction import Workspace, lookup
from hakari.store import models

HEAT_STEP_C, HEAT_STEPS, LEAST_C, MOST_C = 3.0, 5, 60.0, 99.0
DILUTION_STEP, DILUTION_STEPS = 0.1, 5  # a tenth of the drink a step
TIME_FACTORS = (0.5, 0.75, 1.0, 1.5, 2.0)
STIR_S = (0.0, 5.0, 10.0, 20.0, 30.0)
FEWEST_STEPS = 3


class NotPossible(Document):
    """A kind that cannot start from what is on the bench, and what is missing."""

    kind: str
    message: str
    remedy: str


class Proposals(Document):
    """What can be tried with what is on the bench; a kind that is missing says why in ``not_possible``."""

    coffee: str | None
    plan: str | None
    brewer: str | None
    three_grinds: ThreeGrinds | None
    thirds: Thirds | None
    hand: Hand
    ladders: list[Ladder]
    sieve: Sieve
    not_possible: list[NotPossible]


def propose(ws: Workspace) -> Proposals:
    """Return proposals from the bench."""
    with ws.transaction() as session:
        here = at_hand(session)
        plan, coffee = lookup(session, models.Plan, here.plan_id), lookup(session, models.Coffee, here.coffee_id)
        missing: list[NotPossible] = []
        three = None
        try:
            three = _three_grinds(session, here, plan)
        except InputError as error:
            missing.append(NotPossible(kind="three-grinds", message=error.message, remedy=error.remedy))
        if plan is None:
            missing += [
                NotPossible(kind=k, message="No plan is on the bench.", remedy="Plan a brew first.")
                for k in ("thirds", "ladder")
            ]
        elif plan.document.steep is not None:
            missing.append(
                NotPossible(
                    kind="thirds", message="A steep is drunk as one: it has no thirds.",
                    remedy="Plan a brew that drips.",
                )
            )  # fmt: skip
        return Proposals(
            coffee=coffee.name if coffee else None, plan=_words(plan),
            brewer=plan.recipe.core_brewer().label if plan else None, three_grinds=three,
            thirds=_thirds(plan) if plan else None, hand=Hand(plan=_words(plan) or "the plan on the bench"),
            ladders=_ladders(plan) if plan else [],
            sieve=Sieve(before_g=plan.document.dose_g if plan else None), not_possible=missing,
        )  # fmt: skip


def _words(plan: models.Plan | None) -> str | None:
    if plan is None:
        return None
    water = sum(p.water_g for p in plan.document.pours)
    setting = f", {plan.setting}" if plan.setting else ""
    return f"{plan.recipe.core_brewer().label}, {plan.document.dose_g:g} g to {water:.0f} g{setting}"


def _three_grinds(session: Session, here: models.Pass, plan: models.Plan | None) -> ThreeGrinds:
    grinder = lookup(session, models.Grinder, here.grinder_id)
    if grinder is None or here.setting is None:
        raise InputError("no-grinder", "No grinder is set on the bench.", "Choose one and its setting in Grinders.")
    core = core_of(grinder_document(grinder, session))
    dial = core.dial
    median_um = [float(v) for v in core.curve().median_um]
    chosen = even_settings(median_um, dial.parse(here.setting))
    tried = []
    for place, d50_um in zip(chosen.places, chosen.median_um, strict=True):
        setting = dial.write(place)
        bare_bed_s, tds_percent = _predicted(session, here, plan, setting) if plan else (None, None)
        tried.append(
            GrindTried(
                setting=setting, d50_um=round(d50_um, 1),
                predicted_s=round(bare_bed_s, 1) if bare_bed_s else None,
                predicted_tds_percent=None if tds_percent is None else round(tds_percent, 3),
            )
        )  # fmt: skip
    return ThreeGrinds(grinder=grinder.name, grinds=tried)


def _predicted(session: Session, here: models.Pass, plan: models.Plan, setting: str) -> tuple[float, float]:
    """Bare bed, s, and strength, %, at a setting, without their intervals, which take most of a prediction's time."""
    grind, _ = grind_at_hand(session, here, setting)
    document = plan_document(plan.recipe, GrindClasses.of(grind), plan.document.roast, plan.document.factors())
    core = document.core()
    flow = simulate_flow(core, grind, document.factors())
    return flow.bare_bed_s, extract(core, grind, flow).tds_percent


def _thirds(plan: models.Plan) -> Thirds | None:
    if plan.document.steep is not None:
        return None
    p = plan.prediction
    cups = [CupOfThird(drink_g=round(p.drink_g / 3, 1), tds_percent=round(max(t, 0.01), 3)) for t in p.tds_by_third]
    return Thirds(dose_g=plan.document.dose_g, predicted=cups)


def _ladders(plan: models.Plan) -> list[Ladder]:
    """Return ladders about the plan: heat and dilution of any, time and stirring of a steep."""
    water_c, drink_g, steep = plan.document.water_c, plan.prediction.drink_g, plan.document.steep
    # About the present heat, and no hotter than water gets.
    hottest = water_c + HEAT_STEP_C * min(HEAT_STEPS // 2, (MOST_C - water_c) // HEAT_STEP_C)
    heat = [float(hottest - HEAT_STEP_C * k) for k in reversed(range(HEAT_STEPS))]
    found = [Ladder(variable="heat", values=heat)] if heat[0] > LEAST_C else []
    step_g = max(5.0, 5 * round(drink_g * DILUTION_STEP / 5))
    found.append(Ladder(variable="dilution", values=[k * step_g for k in range(DILUTION_STEPS)]))
    if steep is not None:
        times = sorted({float(5 * max(1, round(steep.seconds * f / 5))) for f in TIME_FACTORS})
        found += [Ladder(variable="time", values=times)] if len(times) >= FEWEST_STEPS else []
        found.append(Ladder(variable="stir", values=list(STIR_S)))
    return found
