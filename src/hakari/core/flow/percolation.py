"""A drip brew through time: level, outflow, bypass, fouling, and both ends of the brew.

Darcy's law through bed and paper in series, stepped at a fixed time. Water is counted in grams; what goes in is in the
brewer, in the grounds or in the cup, to rounding.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field

import numpy as np

from hakari.core.brew.brewers import Brewer
from hakari.core.brew.filters import filter_of
from hakari.core.brew.heat import Slurry, kettle_c
from hakari.core.brew.schedule import ActionKind, Plan, Pour, Strength, check_plan
from hakari.core.flow.bed import RESIDUAL_SATURATION, Bed, make_bed, viscosity_pa_s
from hakari.core.flow.factors import FlowFactors
from hakari.core.flow.fouling import Paper
from hakari.core.flow.result import Flow
from hakari.core.psd.distribution import CUT_UM
from hakari.core.psd.grind import Grind

# Within a fifth and a third of a percent of a fine step; the second for many candidates.
STEP_S, SEARCH_STEP_S = 0.5, 1.0
UPTAKE_G_PER_G = 1.0
UPTAKE_S = 12.0
LAST_DRIP_G_PER_S = 0.02
LONGEST_S = 1500.0  # after the last timed pour
STALL_MM_PER_S = 0.06
STALL_AFTER_S = 30.0
RHO_G = 1000.0 * 9.81
# A bed is pressed by the water on it as a filter cake is: k falls with a power of the highest head, more for wide grinds.
REFERENCE_HEAD_M, COMPACTION_PER_SPAN, MOST_COMPACTION = 0.045, 0.305, 0.9
# Water past the bed, m³/s per m² of (level above bed × rim) at 1 mPa·s: starting points.
BYPASS = {"none": 0.0, "edge": 0.8e-5, "ribs": 2.54e-5}


@dataclass
class _Pouring:
    """Which pour is on, and when the next may start."""

    pours: tuple[Pour, ...]
    index: int = 0
    started_s: float | None = None
    starts: list[float] = field(default_factory=list)
    ended_s: float = 0.0
    free_at_start: float = 0.0
    free_at_end: float = 0.0
    poured_g: float = 0.0
    before_g: float = 0.0

    @property
    def strength(self) -> Strength:
        """How hard the water fell last; a pour counts from its start on."""
        begun = len(self.starts) - 1
        return self.pours[max(begun, 0)].strength

    @property
    def done(self) -> bool:
        return self.index >= len(self.pours)

    def rate(self, t: float, free_g: float, dt: float) -> float:
        """Water poured in this step, g."""
        if self.done:
            return 0.0
        pour = self.pours[self.index]
        if self.started_s is None:
            if not self._may_start(pour, t, free_g):
                return 0.0
            self.started_s, self.free_at_start = t, free_g
            self.starts.append(t)
        share = min(1.0, (t + dt - self.started_s) / pour.duration_s)
        amount = self.before_g + share * pour.water_g - self.poured_g
        self.poured_g += amount
        if share >= 1.0:
            self.index += 1
            self.before_g += pour.water_g
            self.started_s, self.ended_s = None, t + dt
            self.free_at_end = free_g + amount
        return amount

    def _may_start(self, pour: Pour, t: float, free_g: float) -> bool:
        if pour.start_s is not None:
            return t >= pour.start_s - 1e-9
        if t - self.ended_s > 600:
            return True
        if pour.start_when == "drained":
            return free_g <= 0.05
        if pour.start_when == "half":
            return free_g <= 0.5 * self.free_at_end
        return free_g <= max(self.free_at_start, 0.05)


def simulate_percolation(plan: Plan, grind: Grind, factors: FlowFactors | None = None, step_s: float = STEP_S) -> Flow:
    """Predict the course of a drip brew.

    Parameters
    ----------
    plan : Plan
        The plan.
    grind : Grind
        Size classes of the whole grind.
    factors : FlowFactors or None
        Flow factors of a fit.
    step_s : float
        Time step, s.

    Returns
    -------
    Flow
        Levels and masses over time.

    Raises
    ------
    InputError
        When the plan cannot be brewed (see ``check_plan``).
    """
    check_plan(plan)
    f = factors or FlowFactors()
    if f.fines_factor != 1.0:
        grind = grind.with_fines(min(0.6, f.fines_factor * grind.below(CUT_UM)))
    bed = make_bed(grind, plan.brewer, plan.dose_g, f.bed_factor)
    run = _Run(plan, grind, bed, f, step_s)
    while not run.over:
        run.step()
    return run.result()


class _Run:
    """State of one brew while it is stepped.

    Hundreds of steps make a brew and dozens of brews an answer: what changes seldom is kept until it does.
    """

    def __init__(self, plan: Plan, grind: Grind, bed: Bed, factors: FlowFactors, step_s: float) -> None:
        self.plan, self.bed, self.dt = plan, bed, step_s
        self.water_g, self.pore_g = plan.water_g, bed.pore_g
        self.brewer: Brewer = plan.brewer
        area = self.brewer.filter_area_m2(bed.depth_m)
        self.paper = Paper(bed.fines_kg, bed.bulk_m3, area, factors.filter_factor, filter_of(plan.filter_name))
        self.bed_per_m = self.brewer.bed_resistance_per_m(bed.depth_m)
        self.compaction = min(MOST_COMPACTION, COMPACTION_PER_SPAN * grind.span)
        # m³/s at 1 Pa·s, per m² of (level above the bed × radius)
        self.bypass_per_m2 = BYPASS[self.brewer.bypass] * self.brewer.bypass_factor * 0.001 / 3 * 2 * math.pi
        self.slurry = Slurry.start(plan.dose_g, plan.heat, plan.water_c, plan.room_c)
        self.pouring = _Pouring(plan.pours)
        timed = [p.start_s + p.duration_s for p in plan.pours if p.start_s is not None]
        self.longest_s = LONGEST_S + max([*timed, *(a.at_s for a in plan.actions)], default=0.0)
        self.actions = sorted(plan.actions, key=lambda a: a.at_s)
        self.uptake_share = 1 - math.exp(-step_s / UPTAKE_S)
        self.t = self.standing = self.free = self.absorbed = self.through = self.bypass = 0.0
        self.peak_head, self.bed_resistance_per_m3 = 0.0, math.inf
        self.bare_s: float | None = None
        self.drip_s: float | None = None
        self.slow_s, self.stalled = 0.0, False
        # A valve is closed until it is opened, if it ever is.
        opens = any(a.do == "open-valve" for a in plan.actions)
        self.open = not (self.brewer.way == "valve" and opens)
        self.rows: list[tuple[float, ...]] = [(0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, self.slurry.celsius, self.open)]

    @property
    def over(self) -> bool:
        return self.drip_s is not None or self.t >= self.longest_s

    def _surface_m(self, free_g: float) -> float:
        """Height above the outlet of the surface of so much water standing above the bed; at least the bed's."""
        return self.brewer.height_m(self.bed.bulk_m3 + free_g * 1e-6) if free_g > 0 else self.bed.depth_m

    def step(self) -> None:
        """One time step: pour, drink in, flow, count."""
        dt, t, pouring, pore_g = self.dt, self.t, self.pouring, self.pore_g
        poured = pouring.rate(t, self.free, dt)
        kettle = kettle_c(self.plan.water_c, self.plan.room_c, t) if poured else 0.0
        self.slurry.step(dt, self.standing, poured, kettle)
        while self.actions and self.actions[0].at_s <= t + 1e-9:
            self._do(self.actions.pop(0).do)
        standing = self.standing + poured
        if pouring.starts:
            drunk = min(standing, (UPTAKE_G_PER_G * self.plan.dose_g - self.absorbed) * self.uptake_share)
            self.absorbed += drunk
            standing -= drunk
        free = max(0.0, standing - pore_g)
        rate, past_rate = self._rates(standing, free)
        out = min(standing, rate * dt)
        past = max(0.0, min(free, past_rate * dt, standing - out))
        self.standing = standing = standing - (out + past)
        self.free = free = max(0.0, standing - pore_g)
        self.through += out
        self.bypass += past
        self.paper.flow(out * 1e-6, pouring.strength, pouring.poured_g / self.water_g)
        self.t = t = t + dt
        level = self._surface_m(free) - self.bed.depth_m
        self._watch(rate, level)
        self.rows.append(
            (t, 1000 * level, pouring.poured_g, self.through, self.bypass, self.absorbed, standing,
             min(standing, pore_g), self.slurry.celsius, self.open)
        )  # fmt: skip

    def _do(self, do: ActionKind) -> None:
        """Turn the valve, or move the bed."""
        if do in ("open-valve", "close-valve"):
            self.open = do == "open-valve"
        else:
            self.paper.apply_action(do)

    def _rates(self, standing_g: float, free_g: float) -> tuple[float, float]:
        """Flow through the bed and past it, g/s."""
        s = (min(1.0, standing_g / self.pore_g) - RESIDUAL_SATURATION) / (1 - RESIDUAL_SATURATION)
        if s <= 0 or not self.open:
            return 0.0, 0.0
        head = self._surface_m(free_g)
        if head > self.peak_head:
            self._compact(head)
        mu = viscosity_pa_s(self.slurry.celsius)
        through = RHO_G * head / (mu * (self.bed_resistance_per_m3 + self.paper.resistance_per_m3)) * s * s
        if free_g <= 0:
            return through * 1e6, 0.0
        past = self.bypass_per_m2 * (head - self.bed.depth_m) * self.brewer.radius_m(head) / mu
        return through * 1e6, past * 1e6

    def _compact(self, head_m: float) -> None:
        """Press the bed together under the highest water that stood on it."""
        self.peak_head = head_m
        k = self.bed.permeability_m2 * (REFERENCE_HEAD_M / head_m) ** self.compaction
        self.bed_resistance_per_m3 = self.bed_per_m / k

    def _watch(self, rate: float, level_m: float) -> None:
        """Note the bare bed, the last drip and a stall."""
        if not self.pouring.done or self.pouring.ended_s > self.t - self.dt / 2 or not self.open:
            return
        if self.bare_s is None:
            before = self.rows[-1][1]
            falling = (before - 1000 * level_m) / self.dt
            self.slow_s = self.slow_s + self.dt if falling < STALL_MM_PER_S and level_m > 0.001 else 0.0
            self.stalled = self.stalled or self.slow_s >= STALL_AFTER_S
            over = self.standing - self.pore_g
            if over <= 0:
                # Within the step, so that times do not jump with it.
                was = self.rows[-1][6] - self.pore_g
                self.bare_s = self.t - self.dt * (-over / (was - over) if was > 0 else 1.0)
        if self.bare_s is not None and rate < LAST_DRIP_G_PER_S:
            self.drip_s = self.t

    def result(self) -> Flow:
        """Return the course so far as arrays."""
        t, level, poured, through, bypass, absorbed, standing, pore, celsius, opened = np.array(self.rows).T
        bare = self.bare_s if self.bare_s is not None else self.t
        return Flow(
            bed=self.bed, t_s=t, level_mm=level, poured_g=poured, through_g=through, bypass_g=bypass,
            absorbed_g=absorbed, standing_g=standing, pore_g=pore, celsius=celsius, valve_open=opened > 0,
            bare_bed_s=bare, last_drip_s=self.drip_s or self.t,
            stalled=self.stalled or self.bare_s is None, pour_starts_s=tuple(self.pouring.starts),
            finished=self.drip_s is not None,
        )  # fmt: skip
