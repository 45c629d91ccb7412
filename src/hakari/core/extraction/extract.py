"""What a simulated flow of water brings into the cup, whatever the method."""

from __future__ import annotations

from collections.abc import Sequence

from hakari.core.brew.schedule import Plan
from hakari.core.extraction.immersion import steep
from hakari.core.extraction.percolation import percolate, percolate_all
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


def extract_all(brews: Sequence[tuple[Plan, Grind, Flow]]) -> list[Extraction]:
    """Return what is in each cup; several drips are washed together, which takes about half the time.

    Parameters
    ----------
    brews : sequence of (Plan, Grind, Flow)
        The brews, each with its simulated flow.

    Returns
    -------
    list of Extraction
        What is in each cup, in the same order.
    """
    steeps = {k: steep(*brew) for k, brew in enumerate(brews) if brew[0].steep is not None}
    drips = [k for k in range(len(brews)) if k not in steeps]
    cups = steeps | dict(zip(drips, percolate_all([brews[k] for k in drips]), strict=True))
    return [cups[k] for k in range(len(brews))]
