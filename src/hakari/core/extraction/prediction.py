"""One brew predicted whole: flow, extraction, and how far off either may be."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from hakari.core.brew.schedule import Plan
from hakari.core.extraction.percolation import Extraction, percolate
from hakari.core.flow.bed import BED_FACTOR_LN_SD
from hakari.core.flow.drawdown import Flow, FlowFactors, simulate
from hakari.core.psd.whole import Grind

# Spread of strength that stays when the flow is right (solubles of the coffee, evenness of the hand), relative.
UNFITTED_EY_SD = 0.05
HAND_S = 6.0


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
    """Predict a drip brew.

    The interval comes from running the brew with the bed factor and the fines moved by one standard deviation each,
    and from the spread of the hand.

    Raises
    ------
    InputError
        When the plan or grind cannot be used.
    """
    f = factors or FlowFactors()
    flow = simulate(plan, grind, f)
    cup = percolate(plan, grind, flow)
    bed_sd = BED_FACTOR_LN_SD / np.sqrt(1 + f.fitted_on_brews)
    fines = grind.below(100.0)
    fines_sd = max(0.1, grind.fines_relative_sd) * fines / np.sqrt(1 + f.fitted_on_brews)
    slow_grind = grind.with_fines(min(0.5, fines + fines_sd)) if fines > 0.002 else grind
    by_fines = simulate(plan, slow_grind, f, 0.5).bare_bed_s - flow.bare_bed_s
    spread_ln = float(bed_sd)
    slow = simulate(plan, slow_grind, replace(f, bed_factor=f.bed_factor * np.exp(-spread_ln)), 0.5)
    fast_grind = grind.with_fines(max(0.001, fines - fines_sd)) if fines > 0.002 else grind
    fast = simulate(plan, fast_grind, replace(f, bed_factor=f.bed_factor * np.exp(spread_ln)), 0.5)
    both = (slow.bare_bed_s - fast.bare_bed_s) / 2
    by_bed = max(0.0, both - abs(by_fines))
    half = 1.96 * float(np.sqrt(by_bed**2 + by_fines**2 + HAND_S**2))
    # Strength follows contact time: its flow part from the two runs, its own part from what is not fitted.
    flow_part = abs(percolate(plan, grind, slow).ey_percent - percolate(plan, grind, fast).ey_percent) / 2
    ey_half = 1.96 * float(np.hypot(0.7 * flow_part, UNFITTED_EY_SD * cup.ey_percent))
    return Prediction(
        plan=plan, flow=flow, cup=cup, factors=f, drawdown_half_width_s=half,
        tds_half_width=ey_half * cup.tds_percent / max(cup.ey_percent, 1e-9), ey_half_width=ey_half,
        fast=fast, slow=slow, assumptions=_assumptions(plan, grind, f),
    )  # fmt: skip


def _assumptions(plan: Plan, grind: Grind, factors: FlowFactors) -> tuple[str, ...]:
    said = []
    if factors.fitted_on_brews == 0:
        said.append(
            "Not yet fitted to your brews: bed and filter are starting points, so trust changes more than levels."
        )
    if grind.fines_relative_sd > 0:
        said.append(f"Fines under 100 µm are extrapolated: {100 * grind.below(100.0):.1f} % of the mass.")
    said.append(
        f"Brewer of {plan.heat.material}, {'preheated' if plan.heat.preheated else 'cold'}, "
        f"{'with a lid' if plan.heat.lid else 'no lid'}; {plan.filter_name} filter rinsed and seated."
    )
    if plan.brewer.bypass != "none":
        said.append("Water past the bed is a starting point for this kind of wall.")
    return tuple(said)
