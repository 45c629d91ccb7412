"""Dialling in a press and a diluted tube by the one change: how many brews until the cup is in the target.

The made cups follow another law than the core's: a stretched exponential of the steep by size and heat with hidden solubles,
all of the water sharing what is dissolved, a tongue and readings with noise. Every coffee starts up to 40 % off in size and
as much in time, coarse and short or fine and long, the tube with up to 30 g too much or too little water in the cup as well.
Run with ``--quick`` for a third.
"""

from __future__ import annotations

import os
import sys
import time
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace

import numpy as np

from benchmarks.dialing import DRINK_SD, MOST_BREWS, REFRACTOMETERS, TARGET, TDS_READ_SD, inside, report
from hakari.core.advice.advise import advise
from hakari.core.advice.answer import Move
from hakari.core.advice.candidate import Candidate
from hakari.core.advice.estimates import simulate_moves
from hakari.core.advice.evidence import Case, EarlierCup, Outcome
from hakari.core.brew.brewers import built_in
from hakari.core.brew.schedule import Heat, Plan, Pour, Steep
from hakari.core.grinder.curve import CurveSample
from hakari.core.grinder.grinder import Grinder
from hakari.core.grinder.kinds import ClickDial
from hakari.core.psd.grind_sources import grind_from_figures

COFFEES, SEED = 300, 9100
HELD_G_PER_G = {"press-pot": 2.0, "plunger-tube": 1.3}
HAND_SD = 0.012
STEP_G = 10.0


@dataclass
class Coffee:
    """A hidden coffee, and what is set at the moment; ``added_g`` is the water that goes into the cup."""

    solubles: float
    quickness: float
    tongue: float
    refractometer: bool
    um_per_click: float
    offset_um: float
    grinder: Grinder
    photo: float
    plan: Plan
    click: int
    added_g: float = 0.0
    done: int | None = None
    brews: int = 0
    last: Outcome | None = None

    def median_um(self, click: int | None = None) -> float:
        """Return the true median at a click, the present one by default."""
        return self.offset_um + self.um_per_click * (self.click if click is None else click)

    def diluted(self) -> bool:
        """Whether water goes into the cup."""
        return self.plan.brewer.name == "plunger-tube"


def truth(c: Coffee, rng: np.random.Generator | None = None) -> tuple[float, float, float]:
    """Return extraction and strength of the drink as drunk, %, and its grams: 1 − exp(−(t/τ)^0.6), τ by size^1.3 and heat."""
    steep = c.plan.steep
    assert steep is not None
    contact = steep.seconds + 0.5 * steep.press_s + 1.2 * min(steep.stir_s, 40.0)
    z = np.linspace(-1.8, 1.8, 15)
    sizes, weights = c.median_um() * np.exp(0.42 * z), np.exp(-0.5 * z**2)
    tau = 90.0 * (sizes / 800.0) ** 1.3 * np.exp(2300 * (1 / (c.plan.water_c + 265.0) - 1 / 358.0)) / c.quickness
    coarse = float((weights * (1 - np.exp(-((contact / tau) ** 0.6)))).sum() / weights.sum())
    fines = 0.06 * (c.median_um() / 800.0) ** -1.3
    dissolved = c.solubles / 100 * ((1 - fines) * coarse + fines) * (1 - np.exp(-0.34 * c.plan.ratio))
    dissolved *= float(np.exp(rng.normal(0, HAND_SD))) if rng is not None else 1.0
    drink = c.plan.water_g - HELD_G_PER_G[c.plan.brewer.name] * c.plan.dose_g
    solids = dissolved * c.plan.dose_g * drink / c.plan.water_g
    # Of a concentrate a fifth stays in the puck; what was dissolved is what is tasted.
    extracted = dissolved if c.diluted() else solids / c.plan.dose_g
    return 100 * extracted, 100 * solids / (drink + c.added_g), drink + c.added_g


def draw(count: int, seed: int, tube: bool) -> list[Coffee]:
    """Return coffees whose grind, and for a tube whose water in the cup, is off from where the cup would be right."""
    rng = np.random.default_rng(seed)
    return [_drawn(rng, tube) for _ in range(count)]


def _drawn(rng: np.random.Generator, tube: bool) -> Coffee:
    step, offset = float(rng.uniform(18, 30)), float(rng.uniform(40, 160))
    measured = tuple(
        CurveSample(k, (offset + step * k) * float(np.exp(rng.normal(0, 0.02))), 0.025)
        for k in (int((um - offset) / step) for um in (480, 750, 1100))
    )
    grinder = Grinder("mill", "conical", ClickDial(clicks_per_turn=36, minimum=0, maximum=90), measured,
                      (0.12, 0.085, 0.055), (1.1, 1.1, 1.1))  # fmt: skip
    dose = float(rng.uniform(16, 20) if tube else rng.uniform(18, 34))
    water = dose * float(rng.uniform(5.0, 6.5) if tube else rng.uniform(15.8, 17.4))
    steep = Steep(float(rng.uniform(80, 130)), 10.0, 25.0) if tube else Steep(float(rng.uniform(210, 300)), 8.0, 20.0)
    plan = Plan(
        built_in("plunger-tube" if tube else "press-pot"), dose, float(rng.uniform(88, 95)), "medium",
        (Pour(water, 15.0, 0.0),), (), Heat(), "paper" if tube else "metal", steep,
    )  # fmt: skip
    c = Coffee(
        float(rng.normal(28.5, 1.4)), float(np.exp(rng.normal(0, 0.15))), float(rng.normal(20.0, 0.6)),
        bool(rng.random() < REFRACTOMETERS), step, offset, grinder, float(np.exp(rng.normal(0, 0.025))), plan, 30,
    )  # fmt: skip
    return _put_off(c, rng)


def _put_off(c: Coffee, rng: np.random.Generator) -> Coffee:
    def off(click: int) -> float:
        c.click = click
        return abs(truth(c)[0] - 20.0)

    best = float(np.clip(c.median_um(min(range(4, 80), key=off)), 350, 1300))
    if c.diluted():
        c.click = round((best - c.offset_um) / c.um_per_click)
        _, tds, drink = truth(c)
        c.added_g = max(0.0, round(drink * (tds / 1.3 - 1), -1) + STEP_G * int(rng.integers(-3, 4)))
    far = float(rng.uniform(0.1, 0.4)) * (1 if rng.random() < 0.5 else -1)
    c.click = int(np.clip(round((best * (1 + far) - c.offset_um) / c.um_per_click), 5, 88))
    steep = c.plan.steep
    assert steep is not None
    # Coarse and short, or fine and long.
    seconds = round(steep.seconds * (1 - far), -1)
    c.plan = replace(c.plan, steep=replace(steep, seconds=seconds))
    return c


def tasted(c: Coffee, ey: float, tds: float, rng: np.random.Generator) -> dict[str, int]:
    """Return words of a noisy tongue: under and over by extraction, weak and strong by strength."""
    said: dict[str, int] = {}
    off = ey - c.tongue + float(rng.normal(0, 0.7))
    for word, amount in (("sour", -off), ("bitter", off)):
        if amount > 1.5:
            said[word] = int(np.clip(round((amount - 0.6) / 1.3), 1, 3))
    strong = (tds - 1.3) / 0.15 + float(rng.normal(0, 0.5))
    if abs(strong) > 1.6:
        said["strong" if strong > 0 else "weak"] = int(np.clip(round(abs(strong) - 0.8), 1, 3))
    return said or {"sweet": 1}


def judge(c: Coffee, outcome: Outcome) -> tuple[Move, Candidate | None]:
    """Return the program's one change."""
    grind = grind_from_figures(c.median_um() * c.photo, 1.1, 0.06)
    before = (EarlierCup("the cup before", c.last),) if c.last is not None else ()
    setting = c.grinder.dial.write(c.click)
    case = Case(
        c.plan,
        grind,
        outcome,
        TARGET,
        "grind-first",
        c.grinder,
        setting,
        "medium",
        diluted=c.diluted(),
        previous=before,
    )
    simulated = simulate_moves(case)
    move = advise(case, simulated).moves[0]
    found = (x for x, _ in simulated.changes if (x.kind, x.direction, x.end) == (move.kind, move.direction, move.end))
    return move, next(found, None)


def apply(c: Coffee, candidate: Candidate | None) -> None:
    """Make a change."""
    if candidate is None or not candidate.modelled:
        return
    if candidate.kind == "grind":
        c.click = c.grinder.dial.parse(candidate.end)
    c.added_g = max(0.0, c.added_g + candidate.added_g)
    c.plan = candidate.plan


def naive(c: Coffee, said: dict[str, int]) -> None:
    """Sour: two clicks finer; bitter: two coarser; of a tube weak and strong by 10 g of water; else as it is."""
    c.click = int(np.clip(c.click + (-2 if said.get("sour") else 2 if said.get("bitter") else 0), 5, 88))
    if c.diluted() and not (said.get("sour") or said.get("bitter")):
        c.added_g = max(0.0, c.added_g + (-STEP_G if said.get("weak") else STEP_G if said.get("strong") else 0.0))


def dial_in(job: tuple[Coffee, bool, tuple[int, int]]) -> Coffee:
    """Brew a coffee until its cup is in the box."""
    c, by_program, seed = job
    rng = np.random.default_rng(seed)
    while c.done is None and c.brews < MOST_BREWS:
        c.brews += 1
        ey, tds, drink = truth(c, rng)
        if inside(ey, tds):
            c.done = c.brews
            break
        said = tasted(c, ey, tds, rng)
        if not by_program:
            naive(c, said)
            continue
        read = tds + float(rng.normal(0, TDS_READ_SD)) if c.refractometer else None
        in_cup = drink + float(rng.normal(0, DRINK_SD))
        outcome = Outcome(tds_percent=read, drink_g=in_cup, taste=said, added_water_g=c.added_g)
        candidate = judge(c, outcome)[1]
        apply(c, candidate)
        c.last = None if candidate is not None and candidate.modelled else outcome
    return c


def main() -> None:
    """Dial in presses and tubes."""
    count = COFFEES // (3 if "--quick" in sys.argv else 1)
    seed = int(next((a for a in sys.argv[1:] if a.isdigit()), SEED))
    for name, tube in (("press", False), ("tube with dilution", True)):
        started = time.perf_counter()
        coffees = draw(count, seed, tube)
        with ProcessPoolExecutor(os.cpu_count()) as pool:
            ours = list(pool.map(dial_in, [(replace(c), True, (seed, i)) for i, c in enumerate(coffees)], chunksize=5))
        theirs = [dial_in((replace(c), False, (seed, i))) for i, c in enumerate(coffees)]
        print(f"{name}: {count} coffees, up to 40 % off in size and time, {time.perf_counter() - started:.0f} s")
        report("  the one change", [c.done for c in ours])
        report("  two clicks by taste", [c.done for c in theirs])


if __name__ == "__main__":
    main()
