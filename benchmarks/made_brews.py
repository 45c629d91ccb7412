"""Made brews that follow *other* equations than the core's: what a user's kitchen might really do.

Three columns side by side (an uneven bed); porosity that falls with fines; permeability after Rumpf and Gupte (ε^5.5);
fines that block pores of the paper instead of lying on it; drainage with the cube of the saturation; a viscosity after
Andrade; heat that falls off exponentially; brews of one kitchen alike but for a spread of their own. All brews are stepped
side by side.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from hakari.core.brew.brewers import Brewer
from hakari.core.brew.schedule import Plan

Array = npt.NDArray[np.float64]
STEP_S, LONGEST_S = 0.1, 900.0
KEPT_EVERY = 2
STALL_MM_S, STALL_S, STANDING_MM = 0.06, 30.0, 1.0
COLUMNS = 3


@dataclass(frozen=True)
class Kitchen:
    """Hidden factors of one kitchen: its beds, its paper, its mill's fines against what the photo tells, its unevenness."""

    bed: float
    paper: float
    fines: float
    uneven: float
    uptake: float
    leak: float
    brew_sd: float

    @classmethod
    def draw(cls, rng: np.random.Generator) -> Kitchen:
        """Return a kitchen at random."""
        return cls(
            bed=float(np.exp(rng.normal(0, 0.28))), paper=float(np.exp(rng.normal(0, 0.25))),
            fines=float(np.exp(rng.normal(0, 0.2))), uneven=float(rng.uniform(0.0, 0.4)), uptake=float(rng.normal(1.1, 0.1)),
            leak=float(np.exp(rng.normal(0, 0.4))), brew_sd=float(rng.uniform(0.03, 0.09)),
        )  # fmt: skip


@dataclass(frozen=True)
class MadeBrew:
    """What really happened: the course and its ends."""

    t_s: Array
    drink_g: Array
    level_mm: Array
    bare_bed_s: float | None
    stalled: bool


def brew_all(
    plans: list[Plan], kitchens: list[Kitchen], median_um: Array, span: Array, fines: Array, rng: np.random.Generator
) -> list[MadeBrew]:
    """Brew every plan (as poured, at set times) in its kitchen; all at once."""
    n = len(plans)
    dose = np.array([p.dose_g for p in plans])
    celsius = np.array([p.water_c for p in plans])

    def factor(name: str) -> Array:
        return np.array([getattr(k, name) for k in kitchens])

    real_fines = np.clip(fines * factor("fines"), 0.003, 0.5)
    eps = 0.43 - 0.035 * (span - 1.0) - 0.25 * (real_fines - 0.08)
    grain = 1.0 / ((1 - real_fines) / (0.86 * median_um) + real_fines / 62.0)  # surface-weighted size, µm
    own = np.exp(rng.normal(0, factor("brew_sd")))
    k = 2.0 * factor("bed") * own * 5.6e-3 * eps**5.5 * (grain * 1e-6) ** 2
    bulk = dose * 1e-3 / 640.0 / (1 - eps)
    geometry = _Geometry([p.brewer for p in plans])
    depth = geometry.height(bulk)
    area, per_m = geometry.filter_area(depth), geometry.bed_per_m(depth)
    spread = factor("uneven")[:, None] * np.linspace(-1, 1, COLUMNS)
    column_k = k[:, None] * np.exp(spread)
    r_paper = 2.6e8 * factor("paper")
    room_for_fines = 0.9 * area / factor("paper") ** 0.5  # kg that would close the paper
    pore = eps * bulk * 1e6
    water = np.array([p.water_g for p in plans])
    steps = int(LONGEST_S / STEP_S)
    poured_at = np.stack([_poured(p, np.arange(steps + 1) * STEP_S) for p in plans])
    ends = np.array([max((q.start_s or 0.0) + q.duration_s for q in p.pours) for p in plans])
    standing, drunk, drink = np.zeros(n), np.zeros(n), np.zeros(n)
    washed, slow = np.zeros(n), np.zeros(n)
    bare = np.full(n, np.nan)
    stalled = np.zeros(n, bool)
    levels, drinks = np.zeros((steps // KEPT_EVERY + 1, n)), np.zeros((steps // KEPT_EVERY + 1, n))
    level = np.zeros(n)
    for i in range(steps):
        t = i * STEP_S
        standing += poured_at[:, i + 1] - poured_at[:, i]
        sip = np.minimum(standing, (factor("uptake") * dose - drunk) * (1 - np.exp(-STEP_S / 18.0)))
        drunk += sip
        standing -= sip
        free = np.maximum(standing - pore, 0.0)
        head = geometry.height(bulk + free * 1e-6)
        warm = 22 + (celsius - 8 - 22) * np.exp(-t / 1500.0)
        mu = 2.414e-5 * 10 ** (247.8 / (warm + 273.15 - 140.0))
        lies = real_fines * dose * 1e-3 * (1 - np.exp(-washed / (3.2 * bulk * 1e6)))
        blocked = np.minimum(lies / room_for_fines, 0.97)
        paper = r_paper / area * (1 + 6 * blocked) / (1 - blocked) ** 1.5
        s = np.clip((np.minimum(standing / pore, 1.0) - 0.62) / 0.38, 0.0, 1.0)
        each = 9810.0 * head[:, None] / (mu[:, None] * (per_m[:, None] / column_k + paper[:, None])) / COLUMNS
        through = np.minimum(each.sum(axis=1) * 1e6 * s**3 * STEP_S, standing)
        leak = geometry.leak * factor("leak") * 0.9 * np.maximum(head - depth, 0.0) ** 1.5 * 1.3e-3 / mu * STEP_S
        leak = np.minimum(leak, np.maximum(free - through, 0.0))
        standing -= through + leak
        drink += through + leak
        washed += through
        was, level = level, 1000 * np.maximum(head - depth, 0.0)
        after = t > ends
        falling = (was - level) / STEP_S
        slow = np.where(after & np.isnan(bare) & (falling < STALL_MM_S) & (level > STANDING_MM), slow + STEP_S, 0.0)
        stalled |= slow >= STALL_S
        bare = np.where(after & np.isnan(bare) & (free <= 0), t + STEP_S, bare)
        if (i + 1) % KEPT_EVERY == 0:
            levels[(i + 1) // KEPT_EVERY], drinks[(i + 1) // KEPT_EVERY] = level, drink
    t = np.arange(levels.shape[0]) * STEP_S * KEPT_EVERY
    assert (np.abs(poured_at[:, -1] - water) < 1e-6).all()
    return [
        MadeBrew(t, drinks[:, j], levels[:, j], None if np.isnan(bare[j]) else float(bare[j]), bool(stalled[j]))
        for j in range(n)
    ]


def _poured(plan: Plan, t: Array) -> Array:
    """Water poured by each time, a little faster in the middle of a pour than at its ends."""
    total = np.zeros_like(t)
    for p in plan.pours:
        x = np.clip((t - (p.start_s or 0.0)) / p.duration_s, 0, 1)
        total += p.water_g * (x + 0.12 * np.sin(2 * np.pi * (x - 0.5)) / np.pi)
    return total


class _Geometry:
    """Heights and areas of many brewers at once."""

    def __init__(self, brewers: list[Brewer]) -> None:
        self.r0 = np.array([b.bottom_mm / 2000 for b in brewers])
        self.slope = np.array([np.tan(np.radians(b.half_angle_deg)) for b in brewers])
        self.cone = self.slope > 0
        self.open = np.array([b.open_share for b in brewers])
        self.leak = np.array([{"none": 0.0, "edge": 22.0, "ribs": 26.0}[b.bypass] for b in brewers])

    def height(self, volume: Array) -> Array:
        slope = np.where(self.cone, self.slope, 1.0)
        cone = (np.cbrt(self.r0**3 + 3 * slope * volume / np.pi) - self.r0) / slope
        return np.where(self.cone, cone, volume / (np.pi * self.r0**2))

    def filter_area(self, depth: Array) -> Array:
        r1 = self.r0 + depth * self.slope
        wall = np.pi * ((self.r0 + r1) * depth * np.sqrt(1 + self.slope**2) + self.r0**2)
        return np.where(self.cone, wall, np.pi * self.r0**2) * self.open

    def bed_per_m(self, depth: Array) -> Array:
        r1 = self.r0 + depth * self.slope
        axial = depth / (np.pi * self.r0 * r1)
        return np.where(self.cone, 0.36 * axial, 1.05 * axial)
