"""The water of a brew, whatever its method."""

from __future__ import annotations

from hakari.core.brew.schedule import Plan
from hakari.core.flow.factors import FlowFactors
from hakari.core.flow.immersion import simulate_immersion
from hakari.core.flow.percolation import STEP_S, simulate_percolation
from hakari.core.flow.result import Flow
from hakari.core.flow.slow_drip import is_slow_drip, simulate_slow_drip
from hakari.core.psd.grind import Grind


def runs_through_a_bed(plan: Plan) -> bool:
    """Return whether poured water runs through a bed of grounds at its own pace: no steep, and not by the drop.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    bool
        Whether the grind sets how fast it runs.
    """
    return plan.steep is None and not is_slow_drip(plan)


def simulate_flow(plan: Plan, grind: Grind, factors: FlowFactors | None = None, step_s: float = STEP_S) -> Flow:
    """Predict the flow of water by the model of the plan's method.

    Parameters
    ----------
    plan : Plan
        Recipe and brewer.
    grind : Grind
        Sizes of the grounds.
    factors : FlowFactors, optional
        The user's own fit; used for percolation only.
    step_s : float
        Longest time step of percolation, s.

    Returns
    -------
    Flow

    Raises
    ------
    InputError
        When the plan is outside what its model covers.
    """
    if plan.steep is not None:
        return simulate_immersion(plan, grind)
    if is_slow_drip(plan):
        return simulate_slow_drip(plan, grind)
    return simulate_percolation(plan, grind, factors, step_s)
