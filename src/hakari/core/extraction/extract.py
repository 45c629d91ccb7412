"""What a simulated flow of water brings into the cup, whatever the method."""

from __future__ import annotations

from hakari.core.brew.schedule import Plan
from hakari.core.extraction.immersion import steep
from hakari.core.extraction.percolation import percolate
from hakari.core.extraction.result import Extraction
from hakari.core.flow.result import Flow
from hakari.core.psd.grind import Grind


def extract(plan: Plan, grind: Grind, flow: Flow) -> Extraction:
    """Return what is in the cup after a flow that was simulated for the same plan and grind.

    Parameters
    ----------
    plan : Plan
        The plan.
    grind : Grind
        Size classes of the whole grind.
    flow : Flow
        The simulated flow.

    Returns
    -------
    Extraction
        What is in the cup after a flow that was simulated for the same plan and grind.
    """
    return steep(plan, grind, flow) if plan.steep is not None else percolate(plan, grind, flow)
