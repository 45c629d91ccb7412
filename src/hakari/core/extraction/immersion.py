"""Extraction in a steep: one stirred tank, of which the grounds that the liquid really reaches take part."""

from __future__ import annotations

import numpy as np

from hakari.core.brew.schedule import STIRRINGS, Plan
from hakari.core.extraction.mass_transfer import exchange, exchanges_of, full_tanks
from hakari.core.extraction.result import Extraction
from hakari.core.extraction.soluble_fractions import heat_factors, make_pools
from hakari.core.flow.result import Flow
from hakari.core.psd.grind import Grind

# A crust and a settled bed keep part of the grounds from the liquid; stirring and hours bring it in.
REACH, UNREACHED, STIR_S, SETTLE_S = 0.97, 0.274, 8.5, 660.0
STIR_QUICKENING = 0.45
ACTION_STIR_S = 6.0


def participating_fraction(plan: Plan) -> float:
    """Share of the grounds that takes part in the steep.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    float
        Share of the grounds that takes part in the steep.
    """
    assert plan.steep is not None
    seconds = plan.steep.seconds
    # A crust that is broken late brings its grounds in for the rest of the time only.
    late = sum(max(0.0, 1.0 - a.at_s / seconds) for a in plan.actions if a.do in STIRRINGS)
    stirred = plan.steep.stir_s + ACTION_STIR_S * late
    return REACH - UNREACHED * float(np.exp(-stirred / STIR_S - plan.steep.seconds / SETTLE_S))


def steep(plan: Plan, grind: Grind, flow: Flow, reach: float | None = None) -> Extraction:
    """Follow what dissolves until the last drop; what stays behind with the grounds is as strong as the cup.

    Parameters
    ----------
    plan : Plan
        The plan.
    grind : Grind
        Size classes of the whole grind.
    flow : Flow
        The simulated flow.
    reach : float or None
        Share of the coffee that takes part; by the plan where ``None``.

    Returns
    -------
    Extraction
        What was dissolved, and where it is.
    """
    assert plan.steep is not None
    pools = make_pools(grind, plan.roast)
    share = participating_fraction(plan) if reach is None else reach
    dry = plan.dose_g * share
    rates = pools.rate_per_s.copy()
    stirring = plan.steep.stir_s / max(plan.steep.seconds, 1.0)
    rates[0] *= 1.0 + STIR_QUICKENING * min(stirring, 1.0)
    tank, cup = full_tanks(pools, 1), 0.0
    run_off = np.diff(flow.through_g)
    liquids = flow.standing_g[1:] + run_off
    moving = rates * heat_factors(flow.celsius[1:]) * np.diff(flow.t_s)[:, None]
    exchanges = exchanges_of(pools, moving, liquids / dry)
    solids = tank[0, -1]
    cups = [0.0]
    for row, share_out in zip(
        exchanges.rows(slice(None), 1), (run_off / np.maximum(liquids, 1e-9)).tolist(), strict=True
    ):
        exchange(tank, *row)
        out = float(solids[0]) * share_out
        cup += out * dry
        solids -= out
        cups.append(cup)
    gone = pools.by_size(1 - tank[0, :-1, 0]) * share
    # The liquid inside the grounds is as strong as that around them.
    behind = float(solids[0]) * dry * (1 + share * float(flow.absorbed_g[-1]) / max(float(flow.standing_g[-1]), 1e-6))
    return Extraction.of(
        plan.dose_g, flow.through_g, np.array(cups), behind, pools.diameter_um, gone, pools.share, share
    )
