"""From evidence to one change: estimate where the cup is, predict where each change would put it, rank by the gain."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hakari.core.advice.causes import WeighedCause, weigh
from hakari.core.advice.evidence import Case, School, Signs, Target, check_outcome, signs_of
from hakari.core.advice.moves import Candidate, Kind, candidates
from hakari.core.brew.units import clock
from hakari.core.extraction.result import Extraction
from hakari.core.extraction.run import course, extract
from hakari.core.flow.course import Flow

HAND_TIME_S = 8.0
HAND_EY = 0.35
AGAIN = "If the second cup says the same, change one thing then."
MODEL_SHARE = 0.3  # relative error of a predicted change
TASTE_EY = 0.8  # how far one strength of a taste word puts the extraction from where it is wanted, % of dose
TASTE_TDS = 0.08
FITTED_TIME_SHARE = 0.07  # the same once fitted, for brews as alike as usual
UNFITTED_TIME_SHARE = 0.16  # how far off a predicted time may be before being late says much

# How much each school likes to move each thing first.
ORDER: dict[School, dict[Kind, float]] = {
    "grind-first": {"grind": 1.0, "ratio": 0.7, "temperature": 0.6},
    "technique-first": {"grind": 0.65, "ratio": 0.7, "temperature": 1.0},
    "grind-last": {"ratio": 1.0, "grind": 0.7, "temperature": 0.6},
    "start-coarse": {"grind": 1.0, "ratio": 0.6, "temperature": 0.5},
}


@dataclass(frozen=True)
class State:
    """Time, strength and extraction of a brew, measured or estimated."""

    drawdown_s: float
    tds_percent: float
    ey_percent: float


@dataclass(frozen=True)
class Move:
    """A change on offer: before → after with 95 % half-widths, why, and what would show it wrong."""

    kind: Kind
    direction: str
    start: str
    end: str
    words: str
    reason: str
    wrong_if: str
    side_effects: tuple[str, ...]
    before: State
    after: State
    half_width: State
    score: float


@dataclass(frozen=True)
class RuledOut:
    """A change that would do harm, and why."""

    kind: Kind
    direction: str
    reason: str


@dataclass(frozen=True)
class Advice:
    """Moves best first, causes heaviest first, moves ruled out, and where the cup is taken to be."""

    moves: tuple[Move, ...]
    causes: tuple[WeighedCause, ...]
    ruled_out: tuple[RuledOut, ...]
    now: State
    measured: tuple[str, ...]


def advise(case: Case) -> Advice:
    """Judge one brew.

    Raises
    ------
    InputError
        When the outcome, the plan or the setting cannot be used.
    """
    check_outcome(case.outcome)
    flow, cup = _run(case, None)
    now, measured = _now(case, flow, cup)
    ey_known = now.ey_percent if "ey_percent" in measured else None
    signs = signs_of(case, flow.bare_bed_s, ey_known, _time_share(case))
    causes = weigh(signs)
    wanted = _Wanted.from_signs(case.target, signs, now)
    here = wanted.cost(now)
    offered: dict[tuple[Kind, str], tuple[float, Candidate, State]] = {}
    for candidate in candidates(case):
        then = _after(now, (flow, cup), _run(case, candidate))
        gain = here - wanted.cost(then) - 0.03 * _strain(candidate, now, then)
        score = gain * ORDER[case.school][candidate.kind] * _agreement(candidate, causes)
        key = (candidate.kind, candidate.direction)
        if key not in offered or score > offered[key][0]:
            offered[key] = (score, candidate, then)
    ranked = sorted(offered.values(), key=lambda o: -o[0])
    moves = [_move(s, c, then, now, causes) for s, c, then in ranked if s > 0.05]
    quiet = _quiet(case, signs, wanted, now, moves)
    ruled = tuple(_ruled_out(c, then, now) for s, c, then in ranked if s <= 0.05)
    return Advice((*quiet, *moves), causes, ruled, now, measured)


def _time_share(case: Case) -> float:
    """How far off the predicted time may be, as a share of it."""
    return FITTED_TIME_SHARE * case.factors.brew_scale if case.factors.fitted_on_brews else UNFITTED_TIME_SHARE


def _run(case: Case, candidate: Candidate | None) -> tuple[Flow, Extraction]:
    plan = candidate.plan if candidate else case.plan
    grind = candidate.grind if candidate else case.grind
    flow = course(plan, grind, case.factors)
    return flow, extract(plan, grind, flow)


def _now(case: Case, flow: Flow, cup: Extraction) -> tuple[State, tuple[str, ...]]:
    """Measured where it was measured, else predicted; a late or early brew moves the predicted extraction along."""
    o = case.outcome
    measured = []
    time = flow.bare_bed_s
    if o.drawdown_s is not None:
        time = o.drawdown_s
        measured.append("drawdown_s")
    drink = o.drink_g or cup.drink_g
    if o.tds_percent is not None:
        measured += ["tds_percent", "ey_percent"]
        return State(time, o.tds_percent, o.tds_percent * drink / case.plan.dose_g), tuple(measured)
    # Contact time and surface move together: about 0.2 % of extraction for 1 % of time.
    ey = cup.ey_percent * (time / flow.bare_bed_s) ** 0.2
    return State(time, ey * case.plan.dose_g / drink, ey), tuple(measured)


def _after(now: State, before: tuple[Flow, Extraction], after: tuple[Flow, Extraction]) -> State:
    """Move the real brew by the ratio that the model predicts; levels are the user's own, only changes the model's."""
    (f0, c0), (f1, c1) = before, after
    ey = now.ey_percent * c1.ey_percent / c0.ey_percent
    tds = now.tds_percent * c1.tds_percent / c0.tds_percent
    return State(now.drawdown_s * f1.bare_bed_s / f0.bare_bed_s, tds, ey)


@dataclass(frozen=True)
class _Wanted:
    """Where the cup should go: the target's box, leaned by what was tasted."""

    target: Target
    ey_goal: float
    tds_goal: float

    @classmethod
    def from_signs(cls, target: Target, signs: Signs, now: State) -> _Wanted:
        mid_ey, mid_tds = sum(target.ey_percent) / 2, sum(target.tds_percent) / 2
        # A taste word is a reading of how far this cup is from this tongue's liking; the box is the other reading.
        lean = TASTE_EY * (signs["under"] - signs["over"])
        taste_goal = now.ey_percent + lean
        heard = min(1.0, (signs["under"] + signs["over"]) / 2) * 0.6
        ey_goal = (1 - heard) * mid_ey + heard * taste_goal
        tds_goal = mid_tds + TASTE_TDS * (signs["weak"] - signs["strong"]) * 0.5
        half = (target.ey_percent[1] - target.ey_percent[0]) / 2
        return cls(target, float(np.clip(ey_goal, mid_ey - 1.5 * half, mid_ey + 1.5 * half)), tds_goal)

    def cost(self, state: State) -> float:
        """Distance from the goal: extraction in steps of 1 %, strength in steps of 0.1 %, outside the box dearer."""
        ey_low, ey_high = self.target.ey_percent
        tds_low, tds_high = self.target.tds_percent
        out = max(0.0, ey_low - state.ey_percent, state.ey_percent - ey_high)
        out += max(0.0, tds_low - state.tds_percent, state.tds_percent - tds_high) / 0.1
        near = abs(state.ey_percent - self.ey_goal) + 0.5 * abs(state.tds_percent - self.tds_goal) / 0.1
        return out + 0.5 * near


def _strain(candidate: Candidate, now: State, then: State) -> float:
    """Side effects in the same coin: more dial steps, and time far from where it was."""
    return 0.3 * candidate.size_steps + 2.0 * abs(float(np.log(then.drawdown_s / now.drawdown_s)))


_SPEAKS_FOR = {
    ("grind", "coarser"): ("too-fine",), ("grind", "finer"): ("too-coarse",),
    ("temperature", "cooler"): ("too-hot", "too-fine"), ("temperature", "hotter"): ("too-cool", "too-coarse"),
    ("ratio", "longer"): ("too-little-water",), ("ratio", "shorter"): ("too-much-water",),
}  # fmt: skip


def _agreement(candidate: Candidate, causes: tuple[WeighedCause, ...]) -> float:
    """How far the causes stand behind a change, about 0.5 to 1.5."""
    names = _SPEAKS_FOR.get((candidate.kind, candidate.direction), ())
    return 0.5 + min(1.0, 1.4 * max((c.weight for c in causes if c.cause in names), default=0.0))


def _cause_for(candidate: Candidate, causes: tuple[WeighedCause, ...]) -> WeighedCause:
    names = _SPEAKS_FOR[(candidate.kind, candidate.direction)]
    return max((c for c in causes if c.cause in names), key=lambda c: c.weight)


def _move(score: float, candidate: Candidate, then: State, now: State, causes: tuple[WeighedCause, ...]) -> Move:
    cause = _cause_for(candidate, causes)
    effect = {
        "coarser": "Coarser opens the bed and gives up less.", "finer": "Finer slows it and gives up more.",
        "cooler": "Cooler water takes less.", "hotter": "Hotter water takes more and runs a little faster.",
        "longer": "More water thins the drink and washes a little more out.",
        "shorter": "Less water makes the drink stronger and washes a little less out.",
    }[candidate.direction]  # fmt: skip
    sides = []
    if candidate.kind == "temperature" and abs(then.drawdown_s - now.drawdown_s) >= 4:
        sides.append(f"{'slower' if then.drawdown_s > now.drawdown_s else 'faster'} by "
                     f"{abs(then.drawdown_s - now.drawdown_s):.0f} s")  # fmt: skip
    if candidate.kind == "grind":
        sides.append(f"strength {'falls' if then.tds_percent < now.tds_percent else 'rises'} with it")
    what = {"grind": "the grind", "temperature": "the heat", "ratio": "the ratio"}[candidate.kind]
    return Move(
        candidate.kind, candidate.direction, candidate.start, candidate.end, candidate.words,
        f"{cause.reason} {effect}",
        f"If the taste is still the same at {clock(then.drawdown_s)} and {then.tds_percent:.2f} %, "
        f"{what} was not the cause.",
        tuple(sides), now, then, _half_width(now, then), score,
    )  # fmt: skip


def _half_width(now: State, then: State) -> State:
    """95 % half-widths of the after: the hand's noise in two brews, and the model's share of the change."""

    def width(noise: float, change: float) -> float:
        return 1.96 * float(np.hypot(noise * np.sqrt(2), MODEL_SHARE * change))

    ey = width(HAND_EY, then.ey_percent - now.ey_percent)
    return State(
        width(HAND_TIME_S, then.drawdown_s - now.drawdown_s),
        ey * then.tds_percent / max(then.ey_percent, 1e-9), ey,
    )  # fmt: skip


def _quiet(case: Case, signs: Signs, wanted: _Wanted, now: State, moves: list[Move]) -> tuple[Move, ...]:
    """“Brew it again first” when the evidence is inside the noise, “leave it” when the cup is where it should be."""
    spoken = signs["over"] + signs["under"] + signs["weak"] + signs["strong"]
    praised = signs["sweet"] + signs["balanced"] > 0
    measured = case.outcome.tds_percent is not None
    inside = (
        wanted.target.ey_percent[0] <= now.ey_percent <= wanted.target.ey_percent[1]
        and wanted.target.tds_percent[0] <= now.tds_percent <= wanted.target.tds_percent[1]
    )
    if inside and not case.outcome.stalled and spoken <= 0.5 and (measured or praised):
        reason = "The cup is in your target and the taste has no complaint."
        if max(signs["slow"], signs["fast"]) > 0.5:
            reason += " It did not drain when the model said, but time is a witness, not the goal."
        wrong = "If the next two brews of it disagree, look at the hand first."
        return (_still("none", "keep", "leave it as it is", reason, wrong, now),)
    off_time = max(signs["slow"], signs["fast"]) > 1.2
    serious = case.outcome.stalled or measured or off_time or spoken > 1.0
    if signs["both"] > 0.5:
        reason = (
            "Sour and bitter together come from uneven wetting, which no grind mends: level the dry bed, wet all of it "
            "in the bloom, keep the stream off the paper."
        )
        return (_still("repeat", "again", "brew it again, evenly", reason, AGAIN, now),)
    if moves and serious:
        return ()
    if serious and not inside:
        reason = (
            "No change of grind, heat or ratio brings it nearer: the coffee, its roast or the water may be the limit."
        )
        wrong = "Brew another coffee to this plan; if that one lands, it was the coffee."
        return (_still("none", "coffee", "it isn't the brew", reason, wrong, now),)
    reason = "What was seen is inside the noise of the hand: two brews of one plan differ by as much."
    return (_still("repeat", "again", "brew it again first", reason, AGAIN, now),)


def _still(kind: Kind, direction: str, words: str, reason: str, wrong_if: str, now: State) -> Move:
    """A move that changes nothing in the plan; two brews of one plan differ by about the hand's noise."""
    noise = State(HAND_TIME_S * 2.77, 0.06, HAND_EY * 2.77)
    return Move(kind, direction, "", "", words, reason, wrong_if, (), now, now, noise, 99.0)


def _ruled_out(candidate: Candidate, then: State, now: State) -> RuledOut:
    """Say what the change would do and why that is the wrong way."""
    if abs(then.ey_percent - now.ey_percent) < 0.15 and abs(then.tds_percent - now.tds_percent) < 0.02:
        reason = (
            f"{candidate.words} would hardly be tasted: {now.ey_percent:.1f} to {then.ey_percent:.1f} % extraction."
        )
    else:
        reason = (
            f"{candidate.words} would go the wrong way or too far: extraction {now.ey_percent:.1f} to "
            f"{then.ey_percent:.1f} %, strength {now.tds_percent:.2f} to {then.tds_percent:.2f} %, "
            f"bare bed {clock(now.drawdown_s)} to {clock(then.drawdown_s)}."
        )
    return RuledOut(candidate.kind, candidate.direction, reason[0].upper() + reason[1:])
