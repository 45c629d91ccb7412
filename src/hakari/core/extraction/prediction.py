"""One brew predicted whole: flow, extraction, and how far off either may be."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from hakari.core.brew.filters import filter_of
from hakari.core.brew.heat import WARM_C
from hakari.core.brew.schedule import Plan
from hakari.core.extraction.extract import extract, extract_all
from hakari.core.extraction.result import Extraction
from hakari.core.flow.factors import FlowFactors
from hakari.core.flow.fit import sensitivity
from hakari.core.flow.percolation import SEARCH_STEP_S
from hakari.core.flow.result import Flow
from hakari.core.flow.simulate import runs_through_a_bed, simulate_flow
from hakari.core.flow.slow_drip import is_slow_drip
from hakari.core.psd.grind import Grind

# Spread of strength that stays when the flow is right (solubles of the coffee, evenness of the hand), relative.
UNFITTED_EY_SD, UNFITTED_STEEP_EY_SD = 0.05, 0.06
HAND_S = 6.0
DROPS_SD = 0.04  # a rate of drops set by eye drifts over hours: a starting point


@dataclass(frozen=True)
class Prediction:
    """A predicted brew with 95 % half-widths of its figures."""

    plan: Plan
    flow: Flow
    cup: Extraction
    factors: FlowFactors
    drawdown_half_width_s: float
    tds_half_width: float
    ey_half_width: float
    fast: Flow
    slow: Flow
    assumptions: tuple[str, ...]


def predict(plan: Plan, grind: Grind, factors: FlowFactors | None = None) -> Prediction:
    """Predict a brew, whatever its method.

    The interval of a drip comes from how well the factors of its flow are known and from the spread from brew to brew; a
    steep ends when it is pressed.

    Parameters
    ----------
    plan : Plan
        The plan.
    grind : Grind
        Size classes of the whole grind.
    factors : FlowFactors or None
        Flow factors of a fit; none where ``None``.

    Returns
    -------
    Prediction
        Time, strength and extraction with their intervals.

    Raises
    ------
    InputError
        When the plan or grind cannot be used.
    """
    f = factors or FlowFactors()
    flow = simulate_flow(plan, grind, f)
    if not runs_through_a_bed(plan):
        spread_s = HAND_S if plan.steep is not None else max(HAND_S, DROPS_SD * flow.bare_bed_s)
        half, fast, slow, flow_part = 1.96 * spread_s, flow, flow, 0.0
        cup = extract(plan, grind, flow)
    else:
        half, fast, slow = _drip_interval(plan, grind, f)
        cup, cup_of_fast, cup_of_slow = extract_all([(plan, grind, run) for run in (flow, fast, slow)])
        # Strength follows contact time: its flow part from the two runs, its own part from what is not fitted.
        flow_part = abs(cup_of_slow.ey_percent - cup_of_fast.ey_percent) / 2
    unfitted = UNFITTED_EY_SD if plan.steep is None else UNFITTED_STEEP_EY_SD
    ey_half = 1.96 * float(np.hypot(0.7 * flow_part, unfitted * cup.ey_percent))
    return Prediction(
        plan=plan, flow=flow, cup=cup, factors=f, drawdown_half_width_s=half,
        tds_half_width=ey_half * cup.tds_percent / max(cup.ey_percent, 1e-9), ey_half_width=ey_half,
        fast=fast, slow=slow, assumptions=_assumptions(plan, grind, f),
    )  # fmt: skip


def _drip_interval(plan: Plan, grind: Grind, f: FlowFactors) -> tuple[float, Flow, Flow]:
    """Half-width of the 95 % interval of the time to a bare bed, and a run one standard deviation faster and slower."""
    bare_ln, slopes = sensitivity(plan, grind, f.ln)
    covariance = f.covariance(grind.fines_relative_sd)
    variance = float(slopes @ covariance @ slopes)
    # The likeliest way in which the factors would make it slower by one standard deviation.
    slower = covariance @ slopes / math.sqrt(max(variance, 1e-12))
    fast, slow = (simulate_flow(plan, grind, f.moved(sign * slower), SEARCH_STEP_S) for sign in (-1, 1))
    return math.exp(bare_ln) * f.half_width_ln(slopes, grind.fines_relative_sd), fast, slow


def _assumptions(plan: Plan, grind: Grind, factors: FlowFactors) -> tuple[str, ...]:
    said = []
    drips = runs_through_a_bed(plan)
    if drips and factors.fitted_on_brews:
        brews = "one of your brews" if factors.fitted_on_brews == 1 else f"{factors.fitted_on_brews} of your brews"
        said.append(f"Flow fitted to {brews}; strength is not, so trust its changes more than its level.")
    else:
        said.append("Not fitted to your brews: starting points, so trust changes more than levels.")
    if grind.fines_relative_sd > 0:
        said.append(f"Fines under 100 µm are extrapolated: {100 * grind.below(100.0):.1f} % of the mass.")
    said.append(
        f"Brewer of {plan.heat.material}, {'preheated' if plan.heat.preheated and plan.water_c > WARM_C else 'cold'}, "
        f"{'with a lid' if plan.heat.lid else 'no lid'}; {filter_of(plan.filter_name).label}, rinsed and seated."
    )
    if plan.steep is not None:
        said.append(
            "The steep is one stirred tank that reaches most of the grounds; "
            "a crust, and grounds that have sunk, keep the rest from it."
        )
    if is_slow_drip(plan):
        said.append("Drops soak in as they fall; nothing stands on the bed.")
    if plan.brewer.bypass != "none":
        said.append("Water past the bed is a starting point for this kind of wall.")
    return tuple(said)
