"""The course of a steep: all the water stays with the grounds, then it is pressed, poured or drawn off."""

from __future__ import annotations

import numpy as np

from hakari.core.arrays import FloatArray
from hakari.core.brew.filters import filter_of
from hakari.core.brew.heat import Slurry, kettle_c
from hakari.core.brew.schedule import Plan, PressForce, check_plan
from hakari.core.errors import InputError
from hakari.core.flow.bed import make_bed
from hakari.core.flow.percolation import UPTAKE_G_PER_G, UPTAKE_S
from hakari.core.flow.result import Flow
from hakari.core.psd.grind import Grind

# What a press leaves behind, by how hard it is pressed, against a gentle one: starting points.
HELD_BY_FORCE: dict[PressForce, float] = {"gentle": 1.0, "firm": 0.93, "hard": 0.87}
FIRST_STEP_S, STEP_GROWTH, LONGEST_STEP_S = 0.25, 0.01, 240.0


def simulate_immersion(plan: Plan, grind: Grind) -> Flow:
    """Follow a steep from the first pour to the last drop.

    Steps grow with time, since everything in a steep slows down.

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
        As ``check_plan``; ``steep-malformed`` when the press comes before the water, or pours wait for events.
    """
    check_plan(plan)
    assert plan.steep is not None
    steep = plan.steep
    ends = [(p.start_s or 0.0) + p.duration_s for p in plan.pours]
    if any(p.start_s is None for p in plan.pours) or max(ends) > steep.seconds:
        raise InputError(
            "steep-malformed", "All the water of a steep is poured at set times, before it is pressed.",
            "Steep longer, or pour sooner.", field="steep",
        )  # fmt: skip
    bed = make_bed(grind, plan.brewer, plan.dose_g)
    t = _times(steep.seconds, steep.press_s, plan)
    poured = _poured(plan, t)
    wet_s = np.maximum(t - (plan.pours[0].start_s or 0.0), 0.0)
    absorbed = np.minimum(poured, UPTAKE_G_PER_G * plan.dose_g * -np.expm1(-wet_s / UPTAKE_S))
    held_g_per_g = plan.brewer.held_g_per_g * HELD_BY_FORCE[steep.force] * filter_of(plan.filter_name).held
    held = min(held_g_per_g * plan.dose_g, float(poured[-1]))
    share = np.clip((t - steep.seconds) / steep.press_s, 0.0, 1.0)
    through = (poured[-1] - held) * share
    standing = poured - absorbed - through
    celsius = _heat(plan, t, poured, standing)
    free = np.maximum(standing - bed.pore_g, 0.0)
    level = np.array([1000 * (plan.brewer.height_m(bed.bulk_m3 + f * 1e-6) - bed.depth_m) for f in free])
    return Flow(
        bed=bed, t_s=t, level_mm=np.where(free > 0, level, 0.0), poured_g=poured, through_g=through,
        bypass_g=np.zeros_like(t), absorbed_g=absorbed, standing_g=standing, pore_g=np.minimum(standing, bed.pore_g),
        celsius=celsius, valve_open=t > steep.seconds, bare_bed_s=steep.seconds + steep.press_s,
        last_drip_s=steep.seconds + steep.press_s, stalled=False,
        pour_starts_s=tuple(p.start_s or 0.0 for p in plan.pours), finished=True,
    )  # fmt: skip


def _times(seconds: float, press_s: float, plan: Plan) -> FloatArray:
    """Return times that grow apart, with every pour's start and end and the press among them."""
    times = [0.0]
    while times[-1] < seconds:
        times.append(times[-1] + min(max(STEP_GROWTH * times[-1], FIRST_STEP_S), LONGEST_STEP_S))
    marks = [m for p in plan.pours for m in (p.start_s or 0.0, (p.start_s or 0.0) + p.duration_s)]
    press = seconds + press_s * np.linspace(0, 1, 41)
    joined = np.concatenate([[v for v in times if v < seconds], marks, press])
    return np.unique(np.round(joined, 6))


def _poured(plan: Plan, t: FloatArray) -> FloatArray:
    """Water poured by each time, g."""
    shares = [np.clip((t - (p.start_s or 0.0)) / p.duration_s, 0.0, 1.0) * p.water_g for p in plan.pours]
    return np.asarray(np.sum(shares, axis=0))


def _heat(plan: Plan, t: FloatArray, poured: FloatArray, standing: FloatArray) -> FloatArray:
    slurry = Slurry.start(plan.dose_g, plan.heat, plan.water_c, plan.room_c)
    celsius = [slurry.celsius]
    for a in range(len(t) - 1):
        kettle = kettle_c(plan.water_c, plan.room_c, float(t[a]))
        slurry.step(float(t[a + 1] - t[a]), float(standing[a]), float(poured[a + 1] - poured[a]), kettle)
        celsius.append(slurry.celsius)
    return np.array(celsius)
