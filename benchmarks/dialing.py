"""Dialling in by the one change: how many brews until the cup is in the target, against a naive rule on the same coffees.

The made cups follow other equations than the core's: the flow of ``made_brews.py``, a stretched-exponential extraction by
size, hidden solubles, a hand and a tongue with noise. Every coffee starts up to 40 % off in size. Run with ``--quick`` for a
third.
"""

from __future__ import annotations

import os
import sys
import time
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field

import numpy as np

from benchmarks.brewing import BREWERS, STYLES, draw_plan
from benchmarks.made_brews import Kitchen, MadeBrew, brew_all
from hakari.core.advice.advise import advise
from hakari.core.advice.answer import Move
from hakari.core.advice.candidate import Candidate
from hakari.core.advice.estimates import simulate_moves
from hakari.core.advice.evidence import TARGETS, Case, EarlierCup, Outcome
from hakari.core.brew.schedule import Plan
from hakari.core.brew.styles import style_of
from hakari.core.flow.factors import FlowFactors
from hakari.core.flow.fit import Observed, fit
from hakari.core.grinder.curve import CurveSample
from hakari.core.grinder.grinder import Grinder
from hakari.core.grinder.kinds import ClickDial
from hakari.core.psd.grind import Grind
from hakari.core.psd.grind_sources import grind_from_figures
from hakari.device.practice_scale import Hand, poured_by_hand

COFFEES, MOST_BREWS, SEED = 300, 10, 8000
TARGET = TARGETS["classical"]
TDS_READ_SD, TIME_READ_SD, DRINK_SD = 0.02, 2.0, 2.0
REFRACTOMETERS = 0.6
PHOTO_SD, PHOTO_FINES_SD = 0.025, 0.08


@dataclass
class Coffee:
    """A hidden coffee in a hidden kitchen, and what is set at the moment."""

    kitchen: Kitchen
    solubles: float
    quickness: float
    tongue: float
    refractometer: bool
    span: float
    um_per_click: float
    offset_um: float
    fines_at_700: float
    grinder: Grinder
    photo: float
    photo_fines: float
    plan: Plan
    click: int
    added_g: float = 0.0
    fines_left: float = 1.0
    seen: list[Observed] = field(default_factory=list)
    last: Outcome | None = None
    brews: int = 0
    done: int | None = None

    def median_um(self) -> float:
        """Return the true median at the present click."""
        return self.offset_um + self.um_per_click * self.click

    def fines(self) -> float:
        """Return the true share of fines at the present click."""
        return float(np.clip(self.fines_at_700 * (self.median_um() / 700) ** -1.3, 0.004, 0.4)) * self.fines_left

    def photo_grind(self) -> Grind:
        """Return the grind as the photo tells it: off by the same share at every setting."""
        grind = grind_from_figures(self.median_um() * self.photo, self.span, self.fines() * self.photo_fines)
        return Grind(grind.edges_um, grind.mass_fraction, 0.2)


def yield_percent(coffee: Coffee, made: MadeBrew, plan: Plan, rng: np.random.Generator) -> float:
    """Return the extraction by another law: 1 − exp(−(t/τ)^0.62) a size, τ by size^1.25 and heat; uneven beds waste some."""
    contact = (made.bare_bed_s or 600.0) * 0.62 + 20.0
    sizes = coffee.median_um() * np.exp(0.42 * np.linspace(-1.8, 1.8, 15))
    weights = np.exp(-0.5 * np.linspace(-1.8, 1.8, 15) ** 2)
    tau = 72.0 * (sizes / 700.0) ** 1.25 * np.exp(2300 * (1 / (plan.water_c + 265.0) - 1 / 358.0)) / coffee.quickness
    coarse = float((weights * (1 - np.exp(-((contact / tau) ** 0.62)))).sum() / weights.sum())
    fines = coffee.fines()
    share = (1 - fines) * coarse + fines
    washed = 0.97 - 0.12 * coffee.kitchen.uneven
    water = 1 - np.exp(-0.34 * plan.ratio)
    return float(coffee.solubles * share * washed * water * np.exp(rng.normal(0, 0.012)))


def draw(count: int, seed: int) -> list[Coffee]:
    rng = np.random.default_rng(seed)
    coffees = []
    for i in range(count):
        brewer = BREWERS[i % 3]
        style = next(s for s in (STYLES[(i // 3 + k) % 3] for k in range(3)) if brewer in style_of(s).brewers)
        step, offset = float(rng.uniform(18, 30)), float(rng.uniform(40, 160))
        dial = ClickDial(clicks_per_turn=36, minimum=0, maximum=90)
        measured = tuple(
            CurveSample(k, (offset + step * k) * float(np.exp(rng.normal(0, 0.02))), 0.025)
            for k in (int((um - offset) / step) for um in (480, 700, 960))
        )
        grinder = Grinder("mill", "conical", dial, measured, (0.12, 0.085, 0.055), (1.1, 1.1, 1.1))
        kitchen = Kitchen.draw(rng)
        coffee = Coffee(
            kitchen, solubles=float(rng.normal(27.0, 1.6)), quickness=float(np.exp(rng.normal(0, 0.15))),
            tongue=float(rng.normal(20.0, 0.6)), refractometer=bool(rng.random() < REFRACTOMETERS),
            span=float(rng.uniform(0.95, 1.25)), um_per_click=step, offset_um=offset,
            fines_at_700=float(rng.uniform(0.05, 0.1)), grinder=grinder,
            photo=float(np.exp(rng.normal(0, PHOTO_SD))), photo_fines=float(np.exp(rng.normal(0, PHOTO_FINES_SD))),
            plan=draw_plan(brewer, style, rng), click=0,
        )  # fmt: skip
        coffees.append(coffee)
    _start(coffees, rng)
    return coffees


def _start(coffees: list[Coffee], rng: np.random.Generator) -> None:
    """Put every coffee up to 40 % off the size that lands it in the middle of the box, found in its own true world."""
    clicks = np.linspace(0.45, 1.7, 14)
    best = np.full(len(coffees), np.inf)
    where = np.zeros(len(coffees))
    for share in clicks:
        for c in coffees:
            c.click = max(1, round((700 * share - c.offset_um) / c.um_per_click))
        for k, (ey, tds, _, _) in enumerate(truths(coffees, [c.plan for c in coffees], np.random.default_rng(1))):
            off = abs(ey - 20) / 2 + abs(tds - 1.3) / 0.15
            if off < best[k]:
                best[k], where[k] = off, coffees[k].median_um()
    for c, um in zip(coffees, where, strict=True):
        off = float(rng.uniform(0.1, 0.4)) * (1 if rng.random() < 0.5 else -1)
        c.click = int(np.clip(round((um * (1 + off) - c.offset_um) / c.um_per_click), 2, 88))


def truths(
    coffees: list[Coffee], plans: list[Plan], rng: np.random.Generator
) -> list[tuple[float, float, float, MadeBrew]]:
    """Return what really came of each: extraction, strength, grams in the cup, and the course."""
    made = brew_all(
        plans, [c.kitchen for c in coffees], np.array([c.median_um() for c in coffees]),
        np.array([c.span for c in coffees]), np.array([c.fines() for c in coffees]), rng,
    )  # fmt: skip
    told = []
    for c, plan, m in zip(coffees, plans, made, strict=True):
        ey = yield_percent(c, m, plan, rng)
        water = float(m.drink_g[-1])
        solids = ey / 100 * plan.dose_g
        drink = water + solids + c.added_g
        told.append((ey, 100 * solids / drink, drink, m))
    return told


def tasted(c: Coffee, ey: float, tds: float, rng: np.random.Generator) -> dict[str, int]:
    """Words of a noisy tongue: under and over by extraction, weak and strong by strength."""
    said: dict[str, int] = {}
    off = ey - c.tongue + float(rng.normal(0, 0.7))
    for word, second, amount in (("sour", "sharp", -off), ("bitter", "drying", off)):
        if amount > 1.5:
            said[word] = int(np.clip(round((amount - 0.6) / 1.3), 1, 3))
            if amount > 3:
                said[second] = 1
    strong = (tds - 1.3) / 0.15 + float(rng.normal(0, 0.5))
    if abs(strong) > 1.6:
        said["strong" if strong > 0 else "weak"] = int(np.clip(round(abs(strong) - 0.8), 1, 3))
    if not said:
        said["sweet"] = 1
    return said


def judge(job: tuple[Coffee, Outcome]) -> tuple[Move, Candidate | None, FlowFactors]:
    """Return the program's one change."""
    c, outcome = job
    factors = fit(c.seen).factors
    case = Case(
        c.plan, c.photo_grind(), outcome, TARGET, "grind-first", c.grinder, c.grinder.dial.write(c.click), "light",
        factors=factors, previous=(EarlierCup("the cup before", c.last),) if c.last is not None else (),
    )  # fmt: skip
    simulated = simulate_moves(case)
    move = advise(case, simulated).moves[0]
    chosen = (x for x, _ in simulated.changes if (x.kind, x.direction, x.end) == (move.kind, move.direction, move.end))
    return move, next(chosen, None), factors


def apply(c: Coffee, move: Move, candidate: Candidate | None) -> None:
    if candidate is None or not candidate.modelled:
        return
    if candidate.kind == "grind" or candidate.direction == "coarser-shorter":
        c.click = c.grinder.dial.parse(candidate.end.rsplit(", ", 1)[0] if "," in candidate.end else candidate.end)
    if candidate.kind == "sieve":
        c.fines_left *= 0.45
    if candidate.kind == "bypass-water":
        c.added_g += candidate.added_g
    c.plan = candidate.plan


def naive(c: Coffee, said: dict[str, int]) -> None:
    """Sour: two clicks finer; bitter: two coarser; else as it is."""
    move = -2 if said.get("sour") else 2 if said.get("bitter") else 0
    c.click = int(np.clip(c.click + move, 2, 88))


def inside(ey: float, tds: float) -> bool:
    return TARGET.ey_percent[0] <= ey <= TARGET.ey_percent[1] and TARGET.tds_percent[0] <= tds <= TARGET.tds_percent[1]


def dial_in(
    coffees: list[Coffee], by_program: bool, seed: int, pool: ProcessPoolExecutor
) -> list[tuple[Move, dict[str, float]]]:
    """Brew every coffee until it is in the box; the moves with what came of them."""
    rng = np.random.default_rng(seed)
    told: list[tuple[Move, dict[str, float]]] = []
    pending: dict[int, Move] = {}
    for _ in range(MOST_BREWS):
        active = [k for k, c in enumerate(coffees) if c.done is None]
        if not active:
            break
        group = [coffees[k] for k in active]
        poured = [poured_by_hand(c.plan, Hand(), rng) for c in group]
        jobs = []
        for k, c, pour, (ey, tds, drink, made) in zip(active, group, poured, truths(group, poured, rng), strict=True):
            c.brews += 1
            bare = (made.bare_bed_s or 600.0) + float(rng.normal(0, TIME_READ_SD))
            if k in pending:
                told.append((pending.pop(k), {"drawdown_s": bare, "tds_percent": tds, "ey_percent": ey}))
            if inside(ey, tds):
                c.done = c.brews
            said = tasted(c, ey, tds, rng)
            if not by_program:
                if c.done is None:
                    naive(c, said)
                continue
            read = tds + float(rng.normal(0, TDS_READ_SD)) if c.refractometer else None
            outcome = Outcome(bare, None, made.stalled or None, read, drink + float(rng.normal(0, DRINK_SD)), said)
            c.seen.append(Observed(pour, c.photo_grind(), bare))
            if c.done is None:
                jobs.append((k, (c, outcome)))
        for (k, (c, outcome)), (move, candidate, _) in zip(
            jobs, pool.map(judge, [j for _, j in jobs], chunksize=4), strict=True
        ):
            apply(c, move, candidate)
            # The next cup of an unchanged plan is judged with this one in mind.
            c.last = None if candidate is not None and candidate.modelled else outcome
            if candidate is not None and candidate.modelled and c.refractometer:
                pending[k] = move
    return told


def report(name: str, done: list[int | None]) -> None:
    """Print how many brews it took; ``None`` for a coffee that was never in the box."""
    brews = np.array([d if d is not None else MOST_BREWS + 1 for d in done])
    print(f"{name}: in the box after a median of {np.median(brews):.0f} brews, 90 % by {np.percentile(brews, 90):.0f}; "
          f"{100 * (brews <= 3).mean():.0f} % within 3, {100 * (brews <= 5).mean():.0f} % within 5, "
          f"{100 * (brews > MOST_BREWS).mean():.0f} % not in {MOST_BREWS}")  # fmt: skip


def main() -> None:
    count = COFFEES // (3 if "--quick" in sys.argv else 1)
    seed = int(next((a for a in sys.argv[1:] if a.isdigit()), SEED))
    started = time.perf_counter()
    with ProcessPoolExecutor(os.cpu_count()) as pool:
        ours, theirs = draw(count, seed), draw(count, seed)
        told = dial_in(ours, True, seed + 1, pool)
        dial_in(theirs, False, seed + 1, pool)
    print(
        f"{count} coffees, up to 40 % off in size, other equations than the core's, {time.perf_counter() - started:.0f} s"
    )
    report("the one change", [c.done for c in ours])
    report("two clicks by taste", [c.done for c in theirs])
    for name, what in (("drawdown_s", "drawdown"), ("tds_percent", "strength"), ("ey_percent", "extraction")):
        after = np.array([getattr(m.after, name) for m, _ in told])
        half = np.array([getattr(m.half_width, name) for m, _ in told])
        off = np.abs(np.array([seen[name] for _, seen in told]) - after)
        print(f"  predicted {what} after a change: 95 % interval held {100 * (off <= half).mean():.1f} % of {len(told)}, "
              f"off by {np.median(off):.2f} (median)")  # fmt: skip
    kinds = sorted({m.kind for m, _ in told}, key=lambda k: -sum(m.kind == k for m, _ in told))
    print("  moves made: " + ", ".join(f"{k} {sum(m.kind == k for m, _ in told)}" for k in kinds))


if __name__ == "__main__":
    main()
