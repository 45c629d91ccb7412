"""How well drawdowns are found, stalls are told and the next brew is predicted after some brews of a kitchen were logged.

The brews follow other equations than the core's (``made_brews.py``); the program sees only a noisy scale under the cup, a
photo with its error, and the plan. Run with ``--quick`` for a third of the kitchens.
"""

from __future__ import annotations

import os
import sys
import time
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass

import numpy as np

from benchmarks.made_brews import Kitchen, MadeBrew, brew_all
from hakari.core.brew.brewers import BUILT_IN
from hakari.core.brew.schedule import Plan
from hakari.core.brew.styles import draft, style_of
from hakari.core.extraction.prediction import predict
from hakari.core.flow.capture import BrewLog, actual_plan, capture
from hakari.core.flow.capture import FoundPour as Pour
from hakari.core.flow.factors import FlowFactors
from hakari.core.flow.fit import Observed, fit
from hakari.core.psd.grind import Grind
from hakari.core.psd.grind_sources import grind_from_figures
from hakari.device.practice_scale import Hand, poured_by_hand

KITCHENS, BREWS = 300, 11
AFTER = (0, 1, 3, 10)
STALL_BREWS = 400
SEED = 7000
BREWERS = ("ribbed-cone", "flat-bottom", "smooth-cone")
STYLES = ("staged", "steady", "twin-bloom")
NOISE_G, DRIFT_G_S, LAG_S, LOST = 0.1, 0.0015, 0.4, 0.03
TAP_S = 3.0
PHOTO_D50_SD, PHOTO_FINES_SD = 0.025, 0.08  # of one photo; docs/accuracy.md
HAND = Hand()


@dataclass
class Logged:
    """One made brew and what the program knows of it."""

    plan: Plan
    poured: Plan
    grind: Grind
    made: MadeBrew
    bare_s: float | None = None
    found: bool = False
    stalled: bool = False
    error_s: float | None = None


def draw_plan(brewer: str, style: str, rng: np.random.Generator) -> Plan:
    dose = float(rng.uniform(15, 21))
    made = draft(style_of(style), dose, round(float(rng.uniform(15.5, 17)) * dose), BUILT_IN[brewer], {})
    return Plan(BUILT_IN[brewer], dose, float(rng.uniform(90, 96)), "light", made.pours, made.actions)


def make(count: int, brews: int, seed: int, dust: float = 1.0) -> list[list[Logged]]:
    """Kitchens with their brews: one brewer, style and mill each, the grind changed a little from brew to brew."""
    rng = np.random.default_rng(seed)
    kitchens, flat = [], []
    for i in range(count):
        kitchen = Kitchen.draw(rng)
        brewer = BREWERS[i % 3]
        style = next(s for s in (STYLES[(i // 3 + k) % 3] for k in range(3)) if brewer in style_of(s).brewers)
        centre, span = float(rng.uniform(560, 820)), float(rng.uniform(0.95, 1.25))
        dusty = float(rng.uniform(0.05, 0.11)) * dust
        rows = []
        for _ in range(brews):
            um = centre * float(np.exp(rng.normal(0, 0.06)))
            fines = dusty * (um / centre) ** -1.3
            plan = draw_plan(brewer, style, rng)
            rows.append((plan, poured_by_hand(plan, HAND, rng), um, span, min(fines, 0.4)))
        kitchens.append(kitchen)
        flat.append(rows)
    made = brew_all(
        [r[1] for rows in flat for r in rows], [k for k in kitchens for _ in range(brews)],
        *(np.array([r[c] for rows in flat for r in rows]) for c in (2, 3, 4)), rng,
    )  # fmt: skip
    out = []
    for i, rows in enumerate(flat):
        logged = []
        for j, (plan, poured, um, span, fines) in enumerate(rows):
            seen = grind_from_figures(
                um * float(np.exp(rng.normal(0, PHOTO_D50_SD))),
                span,
                fines * float(np.exp(rng.normal(0, PHOTO_FINES_SD))),
            )
            seen = Grind(seen.edges_um, seen.mass_fraction, 0.2)
            logged.append(Logged(plan, poured, seen, made[i * brews + j]))
        out.append(logged)
    return out


def read(item: Logged, rng: np.random.Generator) -> None:
    """Return the scale under the cup, read badly, and what the program makes of it; a hand taps where it finds no end."""
    t = np.arange(0, min(item.made.t_s[-1], (item.made.bare_bed_s or 600) + 90), 0.1)
    late = np.maximum(t - LAG_S, 0)
    weight = np.interp(late, item.made.t_s, item.made.drink_g) + DRIFT_G_S * t + rng.normal(0, NOISE_G, len(t))
    weight[rng.random(len(t)) < LOST] = np.nan
    taps = tuple(
        Pour((p.start_s or 0.0), (p.start_s or 0.0) + p.duration_s + float(abs(rng.normal(0, 0.7))), q.water_g)
        for p, q in zip(item.poured.pours, item.plan.pours, strict=True)
    )
    found = capture(item.plan, item.grind, BrewLog(t, None, weight), taps, LAG_S)
    item.stalled, item.found = found.stalled_at_s is not None, found.bare_bed_s is not None
    true = item.made.bare_bed_s
    if found.bare_bed_s is not None:
        item.bare_s = found.bare_bed_s
        item.error_s = found.bare_bed_s - true if true is not None else None
    elif true is not None:
        item.bare_s = true + float(rng.normal(0, TAP_S))
    item.poured = actual_plan(item.plan, found.pours)


def follow_kitchen(job: tuple[list[Logged], int]) -> list[tuple[int, float, float, float, Logged]]:
    """Per number of brews known: predicted and true time of the next brew, s, and the half-width."""
    brews, seed = job
    rng = np.random.default_rng(seed)
    rows = []
    for item in brews:
        read(item, rng)
    for known in AFTER:
        if known >= len(brews):
            continue
        learned = [Observed(b.poured, b.grind, b.bare_s) for b in brews[:known] if b.bare_s is not None]
        factors = fit(learned).factors if learned else FlowFactors()
        nxt = brews[-1]
        if nxt.made.bare_bed_s is None:
            continue
        p = predict(nxt.plan, nxt.grind, factors)
        rows.append((known, p.flow.bare_bed_s, nxt.made.bare_bed_s, p.drawdown_half_width_s, nxt))
    return rows


def read_only(job: tuple[list[Logged], int]) -> list[Logged]:
    brews, seed = job
    rng = np.random.default_rng(seed)
    for item in brews:
        read(item, rng)
    return brews


def main() -> None:
    share = 3 if "--quick" in sys.argv else 1
    seed = int(next((a for a in sys.argv[1:] if a.isdigit()), SEED))
    started = time.perf_counter()
    kitchens = make(KITCHENS // share, BREWS, seed)
    with ProcessPoolExecutor(os.cpu_count()) as pool:
        answers = list(pool.map(follow_kitchen, [(k, 9000 + i) for i, k in enumerate(kitchens)], chunksize=5))
        stall_share = [
            make(STALL_BREWS // 2 // share, 1, seed + 1, 1.0),
            make(STALL_BREWS // 2 // share, 1, seed + 2, 2.2),
        ]
        stall_brews = [b for part in stall_share for b in part]
        told = [
            b
            for row in pool.map(read_only, [(k, 19000 + i) for i, k in enumerate(stall_brews)], chunksize=5)
            for b in row
        ]
    print(f"{len(kitchens)} made kitchens, other equations than the core's, {time.perf_counter() - started:.0f} s")
    rows = [r for a in answers for r in a]
    print("| brews known | next drawdown off, median | 90th percentile | 95 % interval held | half-width, median |")
    print("|---|---|---|---|---|")
    for known in AFTER:
        part = np.array([r[1:4] for r in rows if r[0] == known])
        off = np.abs(part[:, 0] / part[:, 1] - 1)
        held = (np.abs(part[:, 0] - part[:, 1]) <= part[:, 2]).mean()
        name = "none (no fit)" if known == 0 else str(known)
        print(
            f"| {name} | {100 * np.median(off):.1f} % | {100 * np.percentile(off, 90):.1f} % | {100 * held:.1f} % | "
            f"{100 * np.median(part[:, 2] / part[:, 0]):.0f} % |"
        )
    errors = np.array([b.error_s for b in told if b.error_s is not None and not b.made.stalled])
    ends = [b for b in told if b.made.bare_bed_s is not None]
    print(
        f"bare bed in the cup's weight, {len(ends)} brews that drained: found in "
        f"{100 * np.mean([b.found for b in ends]):.0f} %, "
        f"off by {np.median(np.abs(errors)):.1f} s (median), {np.percentile(np.abs(errors), 90):.1f} s (90th)"
    )
    truth, said = np.array([b.made.stalled for b in told]), np.array([b.stalled for b in told])
    print(
        f"stalls, {len(told)} brews of which {truth.sum()} stalled: found {100 * said[truth].mean():.1f} %, "
        f"false alarms {100 * said[~truth].mean():.1f} % of the others"
    )


if __name__ == "__main__":
    main()
