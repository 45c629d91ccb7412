"""From evidence to one change: estimate where the cup is, predict where each change would put it, rank by the gain."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from hakari.core.advice.causes import REMEDY_SHARE, WeighedCause, speaks_for, weigh
from hakari.core.advice.evidence import COLD_C, Case, Lean, School, Signs, Target, check_outcome, signs_of
from hakari.core.advice.moves import Candidate, Kind, candidates
from hakari.core.brew.units import clock
from hakari.core.extraction.result import Extraction
from hakari.core.extraction.run import course, extract
from hakari.core.flow.course import Flow
from hakari.core.flow.drawdown import SEARCH_STEP_S

HAND_TIME = 0.05  # spread of one brew's time, as a share of it
HAND_EY = 0.28
AGAIN = "If the second cup says the same, change one thing then."
MODEL_SHARE = 0.3  # relative error of a predicted change
TASTE_EY = 0.8  # how far one strength of a taste word puts the extraction from where it is wanted, % of dose
TASTE_TDS = 0.08
FITTED_TIME_SHARE = 0.07  # the same once fitted, for brews as alike as usual
UNFITTED_TIME_SHARE = 0.16  # how far off a predicted time may be before being late says much
GAIN_WEIGHT = 0.6  # what the models say of a change against what the causes say
LEAST_COST = 1.0
AGAIN_OUTSIDE = 0.2
NEAR = 0.35  # distance from the goal inside the box, against leaving the box
LATE = 2.0  # a bed that stood or drained very late, per e-fold of its time
OFFERED, HARMFUL, SPOKEN_FOR = 0.08, -0.05, 0.3

# How much each school likes to move each thing first.
_REST: dict[Kind, float] = {"repeat": 1.0, "none": 1.0, "rest": 0.9, "coffee": 0.9, "water": 0.9}
ORDER: dict[School, dict[Kind, float]] = {
    "grind-first": _REST | {
        "grind": 1.15, "compensated": 0.85, "ratio": 0.85, "temperature": 0.65, "dose": 0.6, "pours": 0.75, "agitation": 0.7,
        "time": 0.75, "filter": 0.95, "seating": 0.85, "mesh": 0.8, "sieve": 0.7, "bypass-water": 0.7, "preheat": 1.0,
        "brewer": 0.35,
    },
    "technique-first": _REST | {
        "grind": 0.75, "compensated": 0.6, "ratio": 0.7, "temperature": 1.0, "dose": 0.6, "pours": 1.15, "agitation": 1.1,
        "time": 1.1, "filter": 0.95, "seating": 1.15, "mesh": 0.8, "sieve": 0.7, "bypass-water": 0.7, "preheat": 1.15,
        "brewer": 0.35,
    },
    "grind-last": _REST | {
        "grind": 0.8, "compensated": 0.7, "ratio": 1.1, "temperature": 0.5, "dose": 0.9, "pours": 0.65, "agitation": 0.65,
        "time": 0.6, "filter": 0.8, "seating": 0.9, "mesh": 0.9, "sieve": 0.7, "bypass-water": 0.9, "preheat": 1.0,
        "brewer": 0.6, "coffee": 1.15, "rest": 1.15,
    },
    "start-coarse": _REST | {
        "grind": 1.1, "compensated": 0.6, "ratio": 0.85, "temperature": 0.5, "dose": 0.5, "pours": 0.7, "agitation": 0.65,
        "time": 0.6, "filter": 0.95, "seating": 0.85, "mesh": 0.8, "sieve": 0.7, "bypass-water": 0.6, "preheat": 1.0,
        "brewer": 0.3,
    },
}  # fmt: skip
# Goals beyond the box change brewer, filter or heat rather than the grind, the likeliest first.
LEANS: dict[Lean, tuple[tuple[str, str], ...]] = {
    "brighter": (("brewer", "cone"), ("temperature", "cooler")),
    "rounder": (("brewer", "flat"), ("temperature", "hotter")),
    "cleaner": (("filter", "paper-under"), ("pours", "softer"), ("agitation", "less")),
    "fuller": (("filter", "metal"), ("temperature", "hotter"), ("ratio", "shorter")),
}
LEAN_WEIGHT = 0.9
# Who starts coarse comes finer by small steps.
FINER_STEP_LN = 0.08


@dataclass(frozen=True)
class State:
    """Time, strength and extraction of a brew, measured or estimated."""

    drawdown_s: float
    tds_percent: float
    ey_percent: float
    evenness_percent: float | None = None


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
    caution: str = ""


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


Run = tuple[Flow, Extraction]


@dataclass(frozen=True)
class Foreseen:
    """What the models say of a plan and of every change to it; good for any outcome, target and school of one brew."""

    now: Run
    changes: tuple[tuple[Candidate, Run | None], ...]


def foresee(case: Case) -> Foreseen:
    """Run the models for a case and all changes worth weighing.

    Raises
    ------
    InputError
        When the plan or the setting cannot be used.
    """
    runs = ((c, _run(case, c) if c.modelled and c.added_g == 0 else None) for c in candidates(case))
    return Foreseen(_run(case, None), tuple(runs))


def advise(case: Case, foreseen: Foreseen | None = None) -> Advice:
    """Judge one brew.

    Parameters
    ----------
    foreseen
        What ``foresee`` gave for the same plan, grind, gear and amounts; computed where it is not at hand.

    Raises
    ------
    InputError
        When the outcome, the plan or the setting cannot be used.
    """
    check_outcome(case.outcome, case.plan.dose_g)
    runs = foreseen or foresee(case)
    flow, cup = runs.now
    now, measured = _now(case, flow, cup)
    ey_known = now.ey_percent if "ey_percent" in measured else None
    signs = signs_of(case, flow.bare_bed_s, ey_known, _time_share(case))
    causes = weigh(signs, case.learned)
    wanted = _Wanted.from_signs(case, signs, now, flow.bare_bed_s)
    best: dict[tuple[Kind, str], _Weighed] = {}
    for candidate, run in runs.changes:
        if case.only is not None and candidate.modelled and candidate.kind not in case.only:
            continue
        weighed = _weighed(case, candidate, (runs.now, run), now, wanted, causes)
        key = (candidate.kind, candidate.direction)
        if key not in best or weighed.score > best[key].score:
            best[key] = weighed
    ranked = sorted(best.values(), key=lambda w: -w.score)
    good = [w for w in ranked if w.score > OFFERED]
    quiet = _quiet(case, signs, wanted, now, good)
    moves = [_move(case, w, now, causes) for w in good]
    if quiet:
        moves = [m for m in moves if (m.kind, m.direction) != (quiet[0].kind, quiet[0].direction)]
    ruled = tuple(_ruled_out(w.candidate, w.then, now) for w in ranked if w.score <= OFFERED and w.candidate.modelled)
    return Advice((*quiet, *moves), causes, ruled, now, measured)


@dataclass(frozen=True)
class _Weighed:
    """A candidate with where it leads and how much there is to be said for it."""

    candidate: Candidate
    then: State
    score: float


def _weighed(
    case: Case, candidate: Candidate, runs: tuple[Run, Run | None], now: State, wanted: _Wanted,
    causes: tuple[WeighedCause, ...],
) -> _Weighed:  # fmt: skip
    """What the causes say for a change, and what the models say it would do; in the school's order."""
    speaks = speaks_for(causes, candidate.kind, candidate.direction) + _leaning(case, candidate)
    order = ORDER[case.school][candidate.kind]
    if not candidate.modelled:
        then = now
        if candidate.kind == "seating" and candidate.direction == "reseat":
            then = replace(now, drawdown_s=runs[0][0].bare_bed_s)
        # A cup that was measured outside the box is not brewed again unchanged.
        outside = wanted.measured and not wanted.inside(now) and candidate.direction == "again"
        # Where no model speaks, a change is taken to mend as much as the causes say.
        return _Weighed(candidate, then, order * speaks * (AGAIN_OUTSIDE if outside else 1 + GAIN_WEIGHT))
    then = _after(case, candidate, now, runs)
    here = max(wanted.cost(now), LEAST_COST)
    gain = float(np.clip((wanted.cost(now) - wanted.cost(then)) / here, -1.0, 1.0))
    if wanted.free_tds and candidate.kind == "bypass-water":
        gain = speaks
    if speaks >= SPOKEN_FOR:
        gain = max(gain, 0.0)  # what was seen goes before what a model would do to the figures
    if gain < HARMFUL:
        return _Weighed(candidate, then, gain)
    score = order * (speaks + GAIN_WEIGHT * gain) - 0.02 * _strain(candidate, now, then)
    if case.school == "start-coarse" and candidate.direction == "finer":
        score -= 0.8 * max(0.0, float(np.log(case.grind.d50_um / candidate.grind.d50_um)) - FINER_STEP_LN)
    return _Weighed(candidate, then, score)


def _leaning(case: Case, candidate: Candidate) -> float:
    """What a goal beyond the box says for a change."""
    wished = LEANS[case.lean] if case.lean else ()
    key = (candidate.kind, candidate.direction)
    return LEAN_WEIGHT * REMEDY_SHARE[wished.index(key)] if key in wished else 0.0


def _time_share(case: Case) -> float:
    """How far off the predicted time may be, as a share of it."""
    return FITTED_TIME_SHARE * case.factors.brew_scale if case.factors.fitted_on_brews else UNFITTED_TIME_SHARE


def _run(case: Case, candidate: Candidate | None) -> Run:
    plan = candidate.plan if candidate else case.plan
    grind = candidate.grind if candidate else case.grind
    flow = course(plan, grind, case.factors, SEARCH_STEP_S)
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
        ey = o.tds_percent * drink / case.plan.dose_g
        return State(time, o.tds_percent, ey, 100 * cup.evenness), tuple(measured)
    if o.spent_dry_g is not None:
        measured.append("ey_percent")
        ey = 100 * (1 - o.spent_dry_g / case.plan.dose_g)
        return State(time, ey * case.plan.dose_g / drink, ey, 100 * cup.evenness), tuple(measured)
    # Contact time and surface move together: about 0.2 % of extraction for 1 % of time.
    ey = cup.ey_percent * (time / flow.bare_bed_s) ** 0.2
    return State(time, ey * case.plan.dose_g / drink, ey, 100 * cup.evenness), tuple(measured)


def _after(case: Case, candidate: Candidate, now: State, runs: tuple[Run, Run | None]) -> State:
    """Move the real brew by the ratio that the model predicts; levels are the user's own, only changes the model's."""
    (f0, c0), changed = runs
    if changed is None:
        drink = case.outcome.drink_g or c0.drink_g
        return replace(now, tds_percent=now.tds_percent * drink / (drink + candidate.added_g))
    f1, c1 = changed
    ey = now.ey_percent * c1.ey_percent / c0.ey_percent
    tds = now.tds_percent * c1.tds_percent / c0.tds_percent
    return State(now.drawdown_s * f1.bare_bed_s / f0.bare_bed_s, tds, ey, 100 * c1.evenness)


@dataclass(frozen=True)
class _Wanted:
    """Where the cup should go: the target's box, leaned by what was tasted."""

    target: Target
    ey_goal: float
    tds_goal: float
    free_tds: bool  # a concentrate's strength is set in the cup
    shift: tuple[float, float]  # what stands between a level that was not measured and the middle of the box
    due_s: float | None  # when the bed should have been bare, where it was so late that this alone wants mending

    @classmethod
    def from_signs(cls, case: Case, signs: Signs, now: State, due_s: float) -> _Wanted:
        target = case.target
        measured = case.outcome.tds_percent is not None or case.outcome.spent_dry_g is not None
        mid_ey, mid_tds = sum(target.ey_percent) / 2, sum(target.tds_percent) / 2
        # A model's level is not to be trusted as its changes are: unmeasured, the cup is where the tongue puts it.
        shift = (0.0, 0.0) if measured else (mid_ey - now.ey_percent, mid_tds - now.tds_percent)
        lean = TASTE_EY * (signs["under"] - signs["over"])
        taste_goal = now.ey_percent + shift[0] + lean
        heard = min(1.0, (signs["under"] + signs["over"]) / 2) * 0.6 if measured else 1.0
        ey_goal = (1 - heard) * mid_ey + heard * taste_goal
        tds_goal = mid_tds + TASTE_TDS * (signs["weak"] - signs["strong"]) * 0.5
        half = (target.ey_percent[1] - target.ey_percent[0]) / 2
        ey_goal = float(np.clip(ey_goal, mid_ey - 1.5 * half, mid_ey + 1.5 * half))
        late = case.outcome.stalled or signs["slow"] > 1.5
        return cls(target, ey_goal, tds_goal, signs["concentrate"] > 0, shift, due_s if late else None)

    @property
    def measured(self) -> bool:
        """Whether the level was measured."""
        return self.shift == (0.0, 0.0)

    def inside(self, state: State) -> bool:
        """Whether a cup is in the box as far as is known; a concentrate by its extraction alone."""
        ey = self.target.ey_percent[0] <= state.ey_percent <= self.target.ey_percent[1]
        return ey and (self.free_tds or self.target.tds_percent[0] <= state.tds_percent <= self.target.tds_percent[1])

    def cost(self, state: State) -> float:
        """Distance from the goal: extraction in steps of 1 %, strength in steps of 0.1 %, outside the box dearer."""
        ey, tds = state.ey_percent + self.shift[0], state.tds_percent + self.shift[1]
        ey_low, ey_high = self.target.ey_percent
        tds_low, tds_high = self.target.tds_percent
        out = max(0.0, ey_low - ey, ey - ey_high)
        near = abs(ey - self.ey_goal)
        if not self.free_tds:
            out += max(0.0, tds_low - tds, tds - tds_high) / 0.1
            near += 0.5 * abs(tds - self.tds_goal) / 0.1
        late = max(0.0, float(np.log(state.drawdown_s / self.due_s))) if self.due_s else 0.0
        return out + NEAR * near + LATE * late


def _strain(candidate: Candidate, now: State, then: State) -> float:
    """Side effects in the same coin: more dial steps, and time far from where it was."""
    return 0.3 * candidate.size_steps + 2.0 * abs(float(np.log(then.drawdown_s / now.drawdown_s)))


EFFECTS: dict[tuple[str, str], str] = {
    ("grind", "coarser"): "Coarser opens the bed and gives up less.",
    ("grind", "finer"): "Finer slows it and gives up more.",
    ("temperature", "cooler"): "Cooler water takes less.",
    ("temperature", "hotter"): "Hotter water takes more and runs a little faster.",
    ("ratio", "longer"): "More water thins the drink and washes a little more out.",
    ("ratio", "shorter"): "Less water makes the drink stronger and washes a little less out.",
    ("dose", "less"): "A thinner bed drains sooner; the strength stays.",
    ("dose", "more"): "A deeper bed slows it; the strength stays.",
    ("pours", "softer"): "A soft stream leaves the fines where they lie.",
    ("agitation", "more"): "Moving the bed brings water to all of it and takes more.",
    ("agitation", "less"): "Left alone, the bed gives up less and keeps its fines.",
    ("time", "shorter"): "A shorter steep takes less.",
    ("time", "longer"): "A longer steep takes more.",
    ("filter", "paper-under"): "Paper holds back what the mesh lets through.",
    ("mesh", "under-paper"): "A mesh keeps all of the paper open.",
    ("sieve", "fines"): "Without the dust it drains sooner and is less bitter; some coffee is lost.",
    ("bypass-water", "add"): "Water after the brew thins the drink and takes nothing more out.",
    ("preheat", "warm"): "A warmed brewer leaves the heat in the water.",
    ("brewer", "flat"): "A flat bed is washed more alike from side to side: rounder.",
    ("brewer", "cone"): "More of the paper lies open there, and the middle gives up more: brighter.",
    ("filter", "metal"): "Metal lets oils and some fines through: fuller.",
    ("compensated", "coarser-shorter"): "Coarser alone would make it weaker; a little less water keeps the strength.",
    ("compensated", "more-coffee"): "More coffee makes it stronger; the longer stir keeps the extraction up.",
    ("seating", "reseat"): "A seated paper drains the same every time.",
    ("seating", "rinse"): "Rinsing takes the taste of paper out and seats it.",
    ("filter", "other-lot"): "Papers of one name differ by their lot.",
    ("repeat", "evenly"): "No grind mends that: level the dry bed, wet all of it in the bloom, keep off the paper.",
}  # fmt: skip
# What can hurt where the change is made; makers' instructions come first.
CAUTIONS: dict[tuple[str, str], str] = {
    ("repeat", "clean"): "Unplug a grinder before reaching in: burrs cut.",
    ("preheat", "warm"): "Cold glass cracks under boiling water: warm it step by step.",
    ("temperature", "hotter"): "Hotter water scalds the sooner; mind the steam.",
    ("sieve", "fines"): "Dust of coffee is no good to breathe: sieve it covered.",
    ("mesh", "under-paper"): "Take a hot brewer apart only once it has cooled.",
    ("time", "longer"): "Cold brews are food kept for days: clean vessels, cold storage, when in doubt throw it away.",
}
STUCK = "Never force a plunger, nor press on a plugged filter: it can spray. Release, pause, try again."


NAMES: dict[Kind, str] = {
    "grind": "the grind", "temperature": "the heat", "ratio": "the ratio", "dose": "the dose", "pours": "the pouring",
    "agitation": "the stirring", "time": "the time", "filter": "the filter", "seating": "the paper", "mesh": "the paper",
    "sieve": "the dust", "bypass-water": "the strength", "preheat": "the heat", "brewer": "the brewer",
    "coffee": "the coffee", "water": "the water", "compensated": "the grind", "rest": "its age", "repeat": "the hand",
    "none": "the brew",
}  # fmt: skip


def _cause_for(candidate: Candidate, causes: tuple[WeighedCause, ...]) -> WeighedCause:
    """The cause that speaks loudest for a change; the heaviest of all where none does."""
    key = (candidate.kind, candidate.direction)
    speaking = [(c.weight * REMEDY_SHARE[c.remedies.index(key)], c) for c in causes if key in c.remedies]
    return max(speaking, key=lambda pair: pair[0])[1] if speaking else causes[0]


def _reason(case: Case, candidate: Candidate, causes: tuple[WeighedCause, ...]) -> str:
    """Why: the cause that speaks loudest, or the goal beyond the box; and what the change does."""
    effect = EFFECTS.get((candidate.kind, candidate.direction), "")
    if _leaning(case, candidate) > 0:
        return f"You asked for {case.lean}. {effect}".strip()
    return f"{_cause_for(candidate, causes).reason} {effect}".strip()


def _move(case: Case, weighed: _Weighed, now: State, causes: tuple[WeighedCause, ...]) -> Move:
    candidate, then = weighed.candidate, weighed.then
    seen = f" at {clock(then.drawdown_s)} and {then.tds_percent:.2f} %" if candidate.modelled else ""
    half = _half_width(now, then) if candidate.modelled else _noise(now)
    return Move(
        candidate.kind, candidate.direction, candidate.start, candidate.end, candidate.words,
        _reason(case, candidate, causes),
        f"If the taste is still the same{seen}, {NAMES[candidate.kind]} was not the cause.",
        _side_effects(candidate, now, then), now, then, half, weighed.score,
        _caution(case, candidate),
    )  # fmt: skip


def _caution(case: Case, candidate: Candidate) -> str:
    """What to mind while making a change, or after what was seen."""
    if case.outcome.plunger_stuck or case.outcome.stalled:
        return STUCK
    key = (candidate.kind, candidate.direction)
    cold = case.plan.water_c < COLD_C
    return "" if key == ("time", "longer") and not cold else CAUTIONS.get(key, "")


def _side_effects(candidate: Candidate, now: State, then: State) -> tuple[str, ...]:
    """What else the change does."""
    if not candidate.modelled:
        return ("no model sees it: the figures stay as they are",)
    sides = []
    late = then.drawdown_s - now.drawdown_s
    if candidate.kind not in ("grind", "seating", "mesh", "time") and abs(late) >= 4:
        sides.append(f"{'slower' if late > 0 else 'faster'} by {abs(late):.0f} s")
    if candidate.kind in ("grind", "sieve", "agitation", "time") and abs(then.tds_percent - now.tds_percent) >= 0.01:
        sides.append(f"strength {'falls' if then.tds_percent < now.tds_percent else 'rises'} with it")
    if candidate.kind == "bypass-water":
        sides.append("what is bitter stays, thinner")
    if candidate.kind == "temperature" and candidate.direction == "hotter":
        sides.append("less acidity to the fore")
    return tuple(sides)


def _half_width(now: State, then: State) -> State:
    """95 % half-widths of the after: the hand's noise in two brews, and the model's share of the change."""

    def width(noise: float, change: float) -> float:
        return 1.96 * float(np.hypot(noise * np.sqrt(2), MODEL_SHARE * change))

    ey = width(HAND_EY, then.ey_percent - now.ey_percent)
    return State(
        width(HAND_TIME * then.drawdown_s, then.drawdown_s - now.drawdown_s),
        ey * then.tds_percent / max(then.ey_percent, 1e-9), ey,
    )  # fmt: skip


def _quiet(case: Case, signs: Signs, wanted: _Wanted, now: State, good: list[_Weighed]) -> tuple[Move, ...]:
    """“Brew it again first” when the evidence is inside the noise, “leave it” when the cup is where it should be."""
    spoken = signs["over"] + signs["under"] + signs["weak"] + signs["strong"]
    faults = signs["papery"] + signs["silty"] + signs["plunger-stuck"] + signs["hollow"] + signs["muddled"]
    praised = signs["sweet"] + signs["balanced"] > 0
    measured = case.outcome.tds_percent is not None
    inside = wanted.inside(now)
    leaning = case.lean is not None and bool(good)
    if leaning and not case.outcome.stalled and spoken <= 1.0 and faults == 0:
        return ()
    if inside and not case.outcome.stalled and spoken <= 0.5 and faults == 0 and (measured or praised):
        reason = "The cup is in your target and the taste has no complaint."
        if max(signs["slow"], signs["fast"]) > 0.5:
            reason += " It did not drain when the model said, but time is a witness, not the goal."
        wrong = "If the next two brews of it disagree, look at the hand first."
        return (_still("none", "keep", "leave it as it is", reason, wrong, now),)
    off_time = max(signs["slow"], signs["fast"]) > 1.2
    serious = case.outcome.stalled or (measured and not inside) or off_time or spoken > 1.0 or faults > 0
    if not serious:
        reason = "What was seen is inside the noise of the hand: two brews of one plan differ by as much."
        return (_still("repeat", "again", "brew it again first", reason, AGAIN, now),)
    if good:
        return ()
    reason = "No change of grind, heat or ratio brings it nearer: the coffee, its roast or the water may be the limit."
    wrong = "Brew another coffee to this plan; if that one lands, it was the coffee."
    return (_still("none", "coffee", "it isn't the brew", reason, wrong, now),)


def _noise(now: State) -> State:
    """How far two brews of one plan differ, 95 %."""
    return State(HAND_TIME * now.drawdown_s * 2.77, 0.06, HAND_EY * 2.77)


def _still(kind: Kind, direction: str, words: str, reason: str, wrong_if: str, now: State) -> Move:
    """A move that changes nothing in the plan."""
    return Move(kind, direction, "", "", words, reason, wrong_if, (), now, now, _noise(now), 99.0)


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
