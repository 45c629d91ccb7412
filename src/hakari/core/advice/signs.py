"""What a cup says as numbers: signs, from what was tasted and measured, of the coffee and of how it was brewed."""

from __future__ import annotations

from dataclasses import dataclass

from hakari.core.advice.evidence import COLD_C, TASTE_WORDS, Case
from hakari.core.brew.brewers import UNSTIRRED
from hakari.core.brew.filters import PAPERS
from hakari.core.brew.schedule import STIRRINGS, Plan
from hakari.core.flow.simulate import runs_through_a_bed

# Weight of each word as evidence of over- or under-extraction, per strength (0 none … 3 strong).
_OVER = {"bitter": 1.0, "drying": 1.0, "harsh": 0.9, "heavy": 0.6, "muddled": 0.6}
_UNDER = {"sour": 1.0, "sharp": 1.0, "thin": 0.7, "salty": 0.6}


@dataclass(frozen=True)
class Signs:
    """Evidence as numbers from 0 (none) to about 3 (strong), by name."""

    values: dict[str, float]

    def __getitem__(self, name: str) -> float:
        return self.values.get(name, 0.0)


def signs_of(case: Case, expected_s: float, ey_percent: float | None, time_share: float) -> Signs:
    """Turn an outcome and what is known of the coffee into signs.

    ``expected_s`` is the predicted bare bed, good to about ``time_share`` of itself; ``ey_percent`` what was measured.

    Parameters
    ----------
    case : Case
        The brew to be judged.
    expected_s : float
        Predicted time of the bare bed, s.
    ey_percent : float or None
        Extraction, %.
    time_share : float
        Standard deviation of the predicted time, as a share.

    Returns
    -------
    Signs
        Evidence as numbers.
    """
    outcome, target = case.outcome, case.target
    taste = outcome.tasted
    over = sum(w * taste.get(k, 0) for k, w in _OVER.items())
    under = sum(w * taste.get(k, 0) for k, w in _UNDER.items())
    values: dict[str, float] = {
        "over": min(over, 4.0),
        "under": min(under, 4.0),
        "both": min(over, under, 3.0),
    }
    for word in TASTE_WORDS:
        values[word] = float(taste.get(word, 0))
    if outcome.drawdown_s is not None:
        late = (outcome.drawdown_s - expected_s) / expected_s
        values["slow"], values["fast"] = (
            min(3.0, max(0.0, late / time_share)),
            min(3.0, max(0.0, -late / time_share)),
        )
    values["stalled"] = 1.0 if outcome.stalled else 0.0
    # A concentrate gives less of the coffee whatever its grind, so its extraction is no sign.
    if ey_percent is not None and not case.is_concentrate:
        values["ey-high"] = min(3.0, max(0.0, ey_percent - target.ey_percent[1]))
        values["ey-low"] = min(3.0, max(0.0, target.ey_percent[0] - ey_percent))
    if outcome.tds_percent is not None:
        values["tds-high"] = min(3.0, max(0.0, (outcome.tds_percent - target.tds_percent[1]) / 0.1))
        values["tds-low"] = min(3.0, max(0.0, (target.tds_percent[0] - outcome.tds_percent) / 0.1))
    for sign in outcome.bed:
        values[f"bed-{sign}"] = 1.0
    return Signs(values | _signs_of_coffee(case) | _signs_of_plan(case))


def _signs_of_coffee(case: Case) -> dict[str, float]:
    """Heat against roast, young and old coffee, dense beans that shatter into more fines, the water, and the gear."""
    heat, cold = case.plan.water_c, case.plan.water_c < COLD_C
    days, hours = case.days_off_roast, case.ground_age_h
    return {
        "cool-for-roast": max(0.0, (92.0 - heat) / 4) if case.roast == "light" and not cold else 0.0,
        "hot-for-roast": max(0.0, (heat - 91.0) / 3) if case.roast in ("medium-dark", "dark") else 0.0,
        "gassy": 1.0 if days is not None and days < 3 else 0.0,
        "stale": max(1.5 if days is not None and days > 45 else 0.0, 1.5 if hours is not None and hours > 24 else 0.0),
        "dense": 1.0 if case.dense else 0.0,
        "odd-water": 1.5 if case.water in ("hard", "alkaline", "soft") else 0.0,
        "dirty": 1.5 if case.gear_clean is False else 0.0,
        "plunger-stuck": 1.0 if case.outcome.plunger_stuck else 0.0,
    }


NO_DRIP = {"paper": 0.0, "dusty": 0.0, "hard-pours": 0.0, "narrow": 0.0, "big-dose": 0.0}


def _signs_of_plan(case: Case) -> dict[str, float]:
    """How it was brewed: the kind of brew, how hard it was poured and stirred, the brewer, how wide the grind is."""
    plan = case.plan
    is_cold = plan.water_c < COLD_C
    return {
        **(_signs_of_drip(case) if plan.steep is None and plan.brewer.way in ("drip", "valve") else NO_DRIP),
        "warm-water": float(not is_cold),
        "flows": float(runs_through_a_bed(plan)),
        **_signs_of_steep(case, is_cold),
        "diluted": float(case.diluted),
        "concentrate": float(case.is_concentrate and not case.diluted),
        "wide": min(2.0, max(0.0, (case.grind.span - 1.3) / 0.15)),
        "cold-brewer": float(not plan.heat.preheated and plan.heat.material != "plastic" and not is_cold),
        **_signs_of_stirring(case, is_cold),
    }


def _hard_share(plan: Plan) -> float:
    """Return the share of the water that was poured hard."""
    return sum(p.water_g for p in plan.pours if p.strength == "hard") / plan.water_g


def _signs_of_drip(case: Case) -> dict[str, float]:
    plan, brewer = case.plan, case.plan.brewer
    usual_fines = 0.08 * (case.grind.d50_um / 700.0) ** -1.3
    is_narrow = (brewer.open_share < 0.9 and not brewer.mesh) or brewer.bottom_mm < 12
    return {
        "paper": float(plan.filter_name in PAPERS),
        "dusty": min(2.0, max(0.0, (case.grind.below(100.0) / usual_fines - 1.35) / 0.25)),
        "hard-pours": 1.5 * _hard_share(plan),
        "narrow": float(is_narrow),
        "big-dose": min(2.0, max(0.0, (plan.dose_g - 24.0) / 5)),
    }


def _signs_of_steep(case: Case, is_cold: bool) -> dict[str, float]:
    steep = case.plan.steep
    shortest_s, longest_s = (8 * 3600, 18 * 3600) if is_cold else (45, 330)
    return {
        "steep": float(steep is not None),
        "pressed-late": float(case.pressed_late),
        "pressed-early": float(case.pressed_early),
        "mesh": float(steep is not None and case.plan.filter_name in ("metal", "none")),
        "long-steep": float(steep is not None and steep.seconds > longest_s),
        "short-steep": float(steep is not None and 0 < steep.seconds < shortest_s),
    }


def _signs_of_stirring(case: Case, is_cold: bool) -> dict[str, float]:
    plan, steep = case.plan, case.plan.steep
    stirrings = sum(a.do in STIRRINGS for a in plan.actions)
    if plan.brewer.name in UNSTIRRED:
        return {"stirred": 0.0, "still": 0.0}
    if steep is not None:
        return {"stirred": min(2.0, steep.stir_s / 25), "still": float(steep.stir_s < 3 and not is_cold)}
    return {
        "stirred": min(2.0, max(0.0, (stirrings - 1) / 2) + _hard_share(plan)),
        "still": float(stirrings == 0 and not is_cold),
    }
