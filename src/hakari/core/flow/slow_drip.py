"""Slow dripping over hours: drops soak in as they fall, nothing stands on the bed, and what enters leaves."""

from __future__ import annotations

import numpy as np

from hakari.core.arrays import FloatArray
from hakari.core.brew.schedule import Plan, check_plan
from hakari.core.errors import InputError
from hakari.core.flow.bed import RESIDUAL_SATURATION, make_bed
from hakari.core.flow.percolation import UPTAKE_G_PER_G
from hakari.core.flow.result import Flow
from hakari.core.psd.grind import Grind

STEPS = 700
SLOW_S = 1200.0  # a pour that takes longer than this is a drip, not a pour
DRAINED_S = 900.0


def is_slow_drip(plan: Plan) -> bool:
    """Whether the plan drips rather than pours.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    bool
        Whether the plan drips rather than pours.
    """
    return plan.steep is None and any(p.duration_s > SLOW_S for p in plan.pours)


def simulate_slow_drip(plan: Plan, grind: Grind) -> Flow:
    """Follow a slow drip; the bed is drained but for what its pores hold.

    Parameters
    ----------
    plan : Plan
        The plan.
    grind : Grind
        Size classes of the whole grind.

    Returns
    -------
    Flow
        Levels and masses over time.

    Raises
    ------
    InputError
        As ``check_plan``; ``drip-malformed`` when drips wait for events.
    """
    check_plan(plan)
    if any(p.start_s is None for p in plan.pours):
        raise InputError(
            "drip-malformed", "A slow drip starts at set times.", "Give start_s for every pour.", field="pours"
        )
    bed = make_bed(grind, plan.brewer, plan.dose_g)
    end = max((p.start_s or 0.0) + p.duration_s for p in plan.pours)
    t = np.linspace(0.0, end + DRAINED_S, STEPS)
    poured = np.sum([np.clip((t - (p.start_s or 0.0)) / p.duration_s, 0, 1) * p.water_g for p in plan.pours], axis=0)
    first = UPTAKE_G_PER_G * plan.dose_g
    absorbed = np.minimum(poured, first)
    held = np.minimum(poured - absorbed, RESIDUAL_SATURATION * bed.pore_g)
    through = poured - absorbed - held
    last = float(t[int(np.argmax(through >= through[-1] - 1e-9))])
    zero: FloatArray = np.zeros_like(t)
    return Flow(
        bed=bed, t_s=t, level_mm=zero, poured_g=poured, through_g=through, bypass_g=zero, absorbed_g=absorbed,
        standing_g=held, pore_g=held, celsius=np.full_like(t, plan.water_c), valve_open=np.ones_like(t, np.bool_),
        bare_bed_s=end, last_drip_s=last, stalled=False, pour_starts_s=tuple(p.start_s or 0.0 for p in plan.pours),
        finished=True,
    )  # fmt: skip
