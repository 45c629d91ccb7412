"""Candidate changes, each of one variable and in steps that the gear has and that rise above the hand's noise."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from hakari.core.advice.evidence import Case
from hakari.core.brew.schedule import Plan
from hakari.core.errors import InputError
from hakari.core.grinder.dial import step_words
from hakari.core.psd.whole import Grind

Kind = Literal["grind", "temperature", "ratio", "repeat", "none"]
LEAST_GRIND_LN = 0.03
GRIND_AIMS_LN = (0.06, 0.11, 0.17)
HEAT_STEPS_C = (3.0, 6.0)
RATIO_STEPS = (0.75, 1.5)
HOTTEST_C, COOLEST_C = 98.0, 78.0


@dataclass(frozen=True)
class Candidate:
    """One change: what it is called, from and to in the gear's own notation, and the brew that it makes."""

    kind: Kind
    direction: str
    start: str
    end: str
    words: str
    size_steps: int
    plan: Plan
    grind: Grind


def candidates(case: Case) -> list[Candidate]:
    """All changes worth predicting."""
    return _grind_moves(case) + _heat_moves(case) + _ratio_moves(case)


def _grind_moves(case: Case) -> list[Candidate]:
    if case.grinder is None or case.setting is None:
        return _grind_moves_without_dial(case)
    grinder = case.grinder
    at = grinder.dial.parse(case.setting)
    size = grinder.curve().median_um
    usable = grinder.dial.usable()
    moves = []
    for direction in ("coarser", "finer"):
        sign = 1.0 if direction == "coarser" else -1.0
        ratio = sign * np.log(size / size[at])
        possible = np.flatnonzero((ratio >= LEAST_GRIND_LN) & usable)
        chosen = {int(possible[np.argmin(np.abs(ratio[possible] - aim))]) for aim in GRIND_AIMS_LN if len(possible)}
        for i in sorted(chosen):
            factor = float(size[i] / size[at])
            moves.append(
                Candidate(
                    "grind",
                    direction,
                    grinder.dial.write(at),
                    grinder.dial.write(i),
                    step_words(grinder.dial, at, i),
                    abs(i - at),
                    case.plan,
                    _reground(case, factor, float(size[at])),
                )
            )
    return moves


def _reground(case: Case, factor: float, size_um: float) -> Grind:
    """The photo sets the level, the grinder's curve only the ratio: coarse mode moved, fines by the curve."""
    grind = case.grind.scaled(factor)
    now = case.grinder.fines_at(size_um) if case.grinder else None
    then = case.grinder.fines_at(size_um * factor) if case.grinder else None
    share = case.grind.below(100.0)
    ratio = then / now if now and then else factor**-1.3
    return grind.with_fines(float(np.clip(share * ratio, 0.0, 0.45))) if share > 0 else grind


def _grind_moves_without_dial(case: Case) -> list[Candidate]:
    moves = []
    for direction, factor in (("coarser", 1.08), ("coarser", 1.15), ("finer", 0.93), ("finer", 0.87)):
        percent = abs(factor - 1) * 100
        now, then = case.grind.d50_um, case.grind.d50_um * factor
        moves.append(
            Candidate("grind", direction, f"{now:.0f} µm", f"{then:.0f} µm", f"about {percent:.0f} % {direction}", 1,
                      case.plan, _reground(case, factor, now))
        )  # fmt: skip
    return moves


def _heat_moves(case: Case) -> list[Candidate]:
    moves = []
    now = case.plan.water_c
    for step in HEAT_STEPS_C:
        for direction, then in (("cooler", now - step), ("hotter", now + step)):
            if COOLEST_C <= then <= HOTTEST_C:
                plan = replace(case.plan, water_c=then)
                words = f"water {step:.0f} °C {direction}"
                moves.append(
                    Candidate(
                        "temperature",
                        direction,
                        f"{now:.0f} °C",
                        f"{then:.0f} °C",
                        words,
                        1,
                        plan,
                        case.grind,
                    )
                )
    return moves


def _ratio_moves(case: Case) -> list[Candidate]:
    moves = []
    now = case.plan.ratio
    for step in RATIO_STEPS:
        for direction, then in (("shorter", now - step), ("longer", now + step)):
            if not 10 <= then <= 22:
                continue
            water = round(then * case.plan.dose_g)
            try:
                plan = case.plan.with_water(water)
            except (ZeroDivisionError, InputError):
                continue
            change = water - round(case.plan.water_g)
            words = f"{abs(change)} g {'more' if change > 0 else 'less'} water"
            moves.append(Candidate("ratio", direction, f"1:{now:.1f}", f"1:{then:.1f}", words, 1, plan, case.grind))
    return moves
