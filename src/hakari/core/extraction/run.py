"""A plan carried out: the course of its water and what that brings into the cup, whatever the method."""

from __future__ import annotations

from hakari.core.brew.schedule import Plan
from hakari.core.extraction.percolation import percolate
from hakari.core.extraction.result import Extraction
from hakari.core.extraction.steeping import steep
from hakari.core.flow.course import Flow
from hakari.core.flow.drawdown import STEP_S, simulate
from hakari.core.flow.factors import FlowFactors
from hakari.core.flow.steeping import steep_course
from hakari.core.flow.trickle import is_trickle, trickle_course
from hakari.core.psd.whole import Grind


def course(plan: Plan, grind: Grind, factors: FlowFactors | None = None, step_s: float = STEP_S) -> Flow:
    """The course of the water; ``InputError`` as the model of the plan's method says."""
    if plan.steep is not None:
        return steep_course(plan, grind)
    if is_trickle(plan):
        return trickle_course(plan, grind)
    return simulate(plan, grind, factors, step_s)


def extract(plan: Plan, grind: Grind, flow: Flow) -> Extraction:
    """What is in the cup after that course."""
    return steep(plan, grind, flow) if plan.steep is not None else percolate(plan, grind, flow)
