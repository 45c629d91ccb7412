"""Translation between made grinders with known curves, beside an oracle that knows which family each curve is of.

``python -m benchmarks.grinders`` prints the true size error of the chosen setting, whether intervals and chances hold, and
how often the truly nearest setting was found. Half the grinders' true curves are straight in the dial, half are bent.
"""

from __future__ import annotations

import sys
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from scipy.interpolate import PchipInterpolator

from hakari.core.errors import InputError
from hakari.core.grinder.curve import REPEAT_SD, CurveSample
from hakari.core.grinder.dial import Dial
from hakari.core.grinder.grinder import Grinder
from hakari.core.grinder.kinds import ClickDial, NumberDial, SteplessDial
from hakari.core.translate.nearest import nearest_setting, target_setting

PAIRS, SEED = 2000, 7000
BREWED_UM = (400.0, 1100.0)
TRUE_TRAVEL_SD = 0.3
COARSE_STEP_LN = 0.06
# What the true curves are drawn from: ends of the dial, and the bend.
FINE_UM, COARSE_UM, END_SD = 240.0, 1500.0, 0.3
BEND_SD = 0.56
DIALS: tuple[Dial, ...] = (
    ClickDial("down", None, 36, 0, 60), NumberDial("down", None, 0, 14, 4), NumberDial("up", None, 1, 12, 2),
    NumberDial("down", None, 1, 20, 1), SteplessDial("down", None, 0.0, 6.0, 0.05), ClickDial("down", None, 12, 0, 24),
)  # fmt: skip
Array = npt.NDArray[np.float64]


@dataclass(frozen=True)
class Truth:
    """A true curve: D = fine + rise · (x + bend · x (1 − x)), x from 0 at the fine end to 1."""

    dial: Dial
    fine_um: float
    coarse_um: float
    bend: float
    travel_um: float | None = None  # of the whole dial, as a maker's sheet says it

    def unit(self, position: Array) -> Array:
        """0 at the fine end, 1 at the coarse end."""
        p = self.dial.positions()
        x = (position - p[0]) / (p[-1] - p[0])
        return x if self.dial.finer == "down" else 1 - x

    def um(self, position: Array) -> Array:
        """Return true medians."""
        x = self.unit(position)
        return self.fine_um + (self.coarse_um - self.fine_um) * (x + self.bend * x * (1 - x))


def draw_truth(rng: np.random.Generator, bent: bool) -> Truth:
    """Return a made grinder."""
    while True:
        fine, coarse = FINE_UM * np.exp(END_SD * rng.normal()), COARSE_UM * np.exp(END_SD * rng.normal())
        bend = float(np.clip(BEND_SD * rng.normal(), -0.85, 0.85)) if bent else 0.0
        if coarse > 2 * fine and (not bent or abs(bend) > 0.1):
            said = (coarse - fine) * np.exp(TRUE_TRAVEL_SD * rng.normal()) if rng.random() < 0.5 else None
            return Truth(DIALS[int(rng.integers(len(DIALS)))], float(fine), float(coarse), bend, said)


def draw_samples(truth: Truth, count: int, rng: np.random.Generator) -> list[CurveSample]:
    """Return settings that a person measures, spread over the sizes that are brewed, each with its error."""
    p = truth.dial.positions()
    um = truth.um(p)
    low, high = np.log(BREWED_UM)
    # One from each part of the range, as people spread them; a single one near its middle.
    aims = [low + (high - low) * (k + rng.uniform(0.1, 0.9)) / count for k in range(count)]
    chosen = {int(np.argmin(np.abs(np.log(um) - aim))) for aim in aims}
    samples = []
    for i in chosen:
        sd = float(rng.uniform(0.006, 0.03))
        error = np.hypot(sd, REPEAT_SD) * rng.normal()
        samples.append(CurveSample(float(p[i]), float(um[i] * np.exp(error)), sd))
    return samples


class Oracle:
    """Bayesian least squares in the true family with the very prior that the true curves were drawn from."""

    def __init__(self, bent: bool) -> None:
        rng = np.random.default_rng(1)
        truths = [draw_truth(rng, bent) for _ in range(4000)]
        rise = np.array([t.coarse_um - t.fine_um for t in truths])
        table = np.column_stack([[t.fine_um for t in truths], rise, rise * [t.bend for t in truths]])
        table = table if bent else table[:, :2]
        self.mean, self.covariance = table.mean(axis=0), np.cov(table.T)
        self.bent = bent

    def median_um(self, truth: Truth, samples: list[CurveSample]) -> Array:
        """Return the expected curve at all positions."""
        d = np.array([s.d50_um for s in samples])
        noise = (d * np.hypot([s.ln_sd for s in samples], REPEAT_SD)) ** 2
        phi = self._basis(truth.unit(np.array([s.position for s in samples])))
        if truth.travel_um is not None:
            # What the maker says of the travel is one more, vague measurement: of the rise.
            phi = np.vstack([phi, np.eye(phi.shape[1])[1]])
            d, noise = np.append(d, truth.travel_um), np.append(noise, (TRUE_TRAVEL_SD * truth.travel_um) ** 2)
        gain = self.covariance @ phi.T @ np.linalg.inv(phi @ self.covariance @ phi.T + np.diag(noise))
        mean = self.mean + gain @ (d - phi @ self.mean)
        return self._basis(truth.unit(truth.dial.positions())) @ mean

    def _basis(self, x: Array) -> Array:
        columns = [np.ones_like(x), x, x * (1 - x)]
        return np.column_stack(columns if self.bent else columns[:2])


def pchip_um(truth: Truth, samples: list[CurveSample]) -> Array:
    """Return a monotone cubic through the samples, its ends drawn on straight."""
    ordered = sorted(samples, key=lambda s: s.position)
    x, y = (np.array(v) for v in zip(*((s.position, np.log(s.d50_um)) for s in ordered), strict=True))
    p = truth.dial.positions()
    inside = PchipInterpolator(x, y)(np.clip(p, x[0], x[-1]))
    low, high = (y[1] - y[0]) / (x[1] - x[0]), (y[-1] - y[-2]) / (x[-1] - x[-2])
    return np.exp(inside + np.where(p < x[0], (p - x[0]) * low, 0) + np.where(p > x[-1], (p - x[-1]) * high, 0))


def _grinder(truth: Truth, samples: list[CurveSample]) -> Grinder:
    p = truth.dial.positions()
    travel = truth.travel_um / (p[-1] - p[0]) if truth.travel_um else None
    return Grinder("", "conical", truth.dial, tuple(samples), travel_um=travel)


def main(pairs: int = PAIRS) -> None:
    rng = np.random.default_rng(SEED)
    oracles = {bent: Oracle(bent) for bent in (False, True)}
    rows = []
    chances: list[tuple[float, bool]] = []
    refused = 0
    while len(rows) < pairs:
        bents = bool(rng.random() < 0.5), bool(rng.random() < 0.5)
        a, b = (draw_truth(rng, bent) for bent in bents)
        count = int(rng.integers(1, 7))
        samples = [draw_samples(t, count, rng) for t in (a, b)]
        pa, pb = a.dial.positions(), b.dial.positions()
        ua, ub = a.um(pa), b.um(pb)
        there = np.flatnonzero((ua > BREWED_UM[0]) & (ua < BREWED_UM[1]) & (ua > ub.min()) & (ua < ub.max()))
        if not len(there):
            continue
        i = int(rng.choice(there))
        source, target = (_grinder(t, s) for t, s in zip((a, b), samples, strict=True))
        try:
            t = nearest_setting(target, target_setting(source, source.dial.write(i)))
        except InputError:
            refused += 1
            continue
        guess = [oracles[bent].median_um(x, s) for bent, x, s in zip(bents, (a, b), samples, strict=True)]
        best = int(np.argmin(np.abs(np.log(np.maximum(guess[1], 1) / max(guess[0][i], 1)))))
        miss = np.abs(np.log(ub / ua[i]))
        nearest = int(np.argmin(miss))
        steps = np.abs(np.diff(np.log(ub)))
        curve = None
        if min(map(len, samples)) >= 5:
            curves = [pchip_um(x, s) for x, s in zip((a, b), samples, strict=True)]
            curve = miss[int(np.argmin(np.abs(np.log(curves[1] / curves[0][i]))))]
        low, high = t.interval95_um
        held = low <= ub[t.place] <= high
        rows.append(
            (count, bents[0] or bents[1], miss[t.place], miss[best], held, steps[max(nearest - 1, 0)] > COARSE_STEP_LN,
             abs(t.place - nearest) <= 1, t.place == nearest, miss[nearest], np.nan if curve is None else curve,
             abs(best - nearest) <= 1)
        )  # fmt: skip
        chances.append((t.chance_nearest, t.place == nearest))
        chances += [(n.chance_nearest, n.place == nearest) for n in t.neighbours]
    report(np.array(rows, np.float64), chances, refused)


def report(r: Array, chances: list[tuple[float, bool]], refused: int) -> None:
    count, bent, ours, oracle, held, coarse, beside, itself, possible, cubic, oracle_beside = r.T
    print(f"Translation between {len(r)} pairs of made grinders (seed {SEED}), {refused} refused; true size error, %")
    print(f"{'':20}{'pairs':>6}{'Hakari':>9}{'90th':>7}{'oracle':>9}{'90th':>7}{'ratio':>8}{'90th':>6}{'held %':>8}")
    groups = [("all", count > 0), ("both straight", bent == 0), ("one or both bent", bent == 1)]
    groups += [(f"{n} sample{'s' if n > 1 else ''} each", count == n) for n in range(1, 7)]
    for name, some in groups:
        a, b, c, d = (100 * np.quantile(v[some], q) for v in (ours, oracle) for q in (0.5, 0.9))
        print(
            f"{name:20}{some.sum():6d}{a:9.2f}{b:7.2f}{c:9.2f}{d:7.2f}{a / c:8.2f}{b / d:6.2f}{100 * held[some].mean():8.1f}"
        )
    print(f"the truly nearest setting: {_middle_and_tail(possible)}")
    wide = coarse > 0
    print(
        f"where a step is wider than {100 * COARSE_STEP_LN:.0f} % ({wide.sum():.0f} pairs): the nearest or its neighbour in "
        f"{100 * beside[wide].mean():.1f} % (oracle {100 * oracle_beside[wide].mean():.1f}), "
        f"the nearest itself in {100 * itself[wide].mean():.1f} %"
    )
    of = [wide & (count == n) for n in range(1, 7)]
    print("  by samples: " + ", ".join(f"{n}: {100 * beside[s].mean():.1f} %" for n, s in enumerate(of, 1)))
    five = ~np.isnan(cubic)
    print(
        f"with 5 or 6 samples: {_middle_and_tail(ours[five])}; a monotone cubic through the samples: "
        f"{_middle_and_tail(cubic[five])}"
    )
    said, came = (np.array(v, np.float64) for v in zip(*chances, strict=True))
    print("\nchance of being the nearest as said, and how often it was so")
    for low in np.arange(0, 1, 0.1):
        some = (said >= low) & (said < low + 0.1 + (low > 0.85))
        if some.sum() >= 20:
            print(
                f"  {low:.1f}–{low + 0.1:.1f}: said {said[some].mean():.3f}, came {came[some].mean():.3f} of {some.sum()}"
            )


def _middle_and_tail(errors: Array) -> str:
    return f"median {100 * np.median(errors):.2f} %, 90th {100 * np.quantile(errors, 0.9):.2f} %"


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else PAIRS)
