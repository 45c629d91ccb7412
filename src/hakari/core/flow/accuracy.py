"""How close a hand came to the plan."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hakari.core.brew.steps import Step
from hakari.core.flow.capture import FoundPour


@dataclass(frozen=True)
class PourError:
    """One pour against the plan: seconds late at its start, grams over in the total after it, and both rates in g/s."""

    late_s: float
    over_g: float
    rate_g_s: float
    wanted_g_s: float


@dataclass(frozen=True)
class PourAccuracy:
    """All pours against the plan; ``typical_late_s`` and ``typical_over_g`` are root mean squares."""

    pours: tuple[PourError, ...]
    typical_late_s: float
    typical_over_g: float


def pour_accuracy(steps: tuple[Step, ...], pours: tuple[FoundPour, ...]) -> PourAccuracy | None:
    """Compare pours with the steps that they were meant to be; ``None`` when their number is another.

    The first pour starts the clock, and pours that wait for an event have no time to be late for: neither counts as late.

    Parameters
    ----------
    steps : tuple[Step, ...]
        Steps in the order of time.
    pours : tuple[FoundPour, ...]
        Pours that were found in a log.

    Returns
    -------
    PourAccuracy or None
        How late, how far off and how fast; ``None`` without pours.
    """
    wanted = [s for s in steps if s.kind == "pour"]
    waited = {k for k, s in enumerate(steps) if s.kind == "wait"}
    timed_ones = [k - 1 not in waited for k, s in enumerate(steps) if s.kind == "pour"]
    if not pours or len(pours) != len(wanted):
        return None
    errors, total, timed = [], 0.0, []
    for i, (step, pour) in enumerate(zip(wanted, pours, strict=True)):
        total += pour.water_g
        late = pour.start_s - pours[0].start_s - step.at_s if i and timed_ones[i] else 0.0
        if i and timed_ones[i]:
            timed.append(late)
        rate = pour.water_g / max(pour.end_s - pour.start_s, 0.1)
        errors.append(PourError(late, total - (step.total_g or total), rate, step.rate_g_s or 0.0))
    over = [e.over_g for e in errors]
    return PourAccuracy(tuple(errors), _rms(timed), _rms(over))


def _rms(values: list[float]) -> float:
    return float(np.sqrt(np.mean(np.square(values)))) if values else 0.0


def pace_words(rate_g_s: float, wanted_g_s: float) -> str:
    """Return what to say of a rate of pouring against the one wanted.

    Parameters
    ----------
    rate_g_s : float
        Rate on the scale, g/s; ``None`` where it is not known.
    wanted_g_s : float
        Rate that is wanted, g/s.

    Returns
    -------
    str
        What to say of a rate of pouring against the one wanted.
    """
    if rate_g_s < 0.3:
        return "not pouring"
    share = rate_g_s / max(wanted_g_s, 0.1)
    for limit, words in ((0.6, "much too slow"), (0.85, "a little slow"), (1.18, "as planned"), (1.5, "a little fast")):
        if share < limit:
            return words
    return "much too fast"
