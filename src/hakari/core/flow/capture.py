"""From a log of weights to what happened: the pours, both ends, a stall, the rate of flow and the level over the bed.

A scale under the whole brewer shows what was poured; one under the cup shows what came out. A file may hold both.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from scipy.ndimage import median_filter

from hakari.core.arrays import FloatArray
from hakari.core.brew.schedule import Plan, Pour
from hakari.core.flow.bed import make_bed
from hakari.core.flow.drawdown_detection import Drain, find_drain
from hakari.core.flow.percolation import STALL_AFTER_S, STALL_MM_PER_S
from hakari.core.psd.grind import Grind

GRID_S = 0.2
POURING_G_S, PAUSE_S, LEAST_POUR_G = 0.8, 1.6, 3.0
RATE_WINDOW_S, LEVEL_WINDOW_S = 1.2, 10.0
STANDING_MM = 1.0


@dataclass(frozen=True)
class BrewLog:
    """Weights over time since the first pour; ``poured_g``, ``drink_g`` or both, NaN where nothing was read."""

    t_s: FloatArray
    poured_g: FloatArray | None = None
    drink_g: FloatArray | None = None

    def column(self, values: FloatArray | None) -> tuple[FloatArray, FloatArray]:
        """Return times and values of one column where it was read.

        Parameters
        ----------
        values : ndarray of float64 or None
            Values of the column; ``None`` where there is none.

        Returns
        -------
        tuple[ndarray of float64, ndarray of float64]
            Times and values of one column where it was read.
        """
        if values is None:
            return np.zeros(0), np.zeros(0)
        read = np.isfinite(values)
        return self.t_s[read], values[read]


@dataclass(frozen=True)
class FoundPour:
    """A pour as it was: when it began and ended, and its water."""

    start_s: float
    end_s: float
    water_g: float


@dataclass(frozen=True)
class Captured:
    """What a log or taps tell of a brew.

    ``pours_from`` is the source of the pours: ``scale``, ``taps`` or ``plan``. ``rate_t_s`` and ``rate_g_s`` are the flow
    into the cup, ``level_t_s`` and ``level_mm`` the water over the bed where the cup was weighed.
    """

    pours: tuple[FoundPour, ...]
    pours_from: str
    bare_bed_s: float | None
    bare_sd_s: float | None
    last_drip_s: float | None
    stalled_at_s: float | None
    drink_g: float | None
    rate_t_s: FloatArray
    rate_g_s: FloatArray
    level_t_s: FloatArray
    level_mm: FloatArray


def on_grid(t: FloatArray, values: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Return a column at even times; what was missed is bridged by a straight line, single wild readings are taken out.

    Parameters
    ----------
    t : ndarray of float64
        Times, s, (n,).
    values : ndarray of float64
        Values at those times, NaN where nothing was read, (n,).

    Returns
    -------
    tuple[ndarray of float64, ndarray of float64]
        A column at even times.
    """
    grid = np.arange(t[0], t[-1] + 1e-9, GRID_S)
    straight = np.interp(grid, t, values)
    return grid, median_filter(straight, size=5, mode="nearest") if len(straight) >= 5 else straight


def slope(t: FloatArray, values: FloatArray, window_s: float) -> FloatArray:
    """Rate of change by straight lines through windows of ``window_s`` about each time; even spacing.

    Parameters
    ----------
    t : ndarray of float64
        Times, s, (n,).
    values : ndarray of float64
        Values, (n,).
    window_s : float
        Width of the window, s.

    Returns
    -------
    ndarray of float64
        Rate of change at each time.
    """
    from scipy.signal import savgol_filter  # takes half a second to load, which most commands need not wait for

    half = max(1, round(window_s / GRID_S / 2))
    if len(values) < 3:
        return np.zeros_like(values)
    if len(values) <= half:
        return np.gradient(values, GRID_S)
    padded = np.pad(values, half, mode="reflect", reflect_type="odd")
    return np.asarray(savgol_filter(padded, 2 * half + 1, 1, deriv=1, delta=GRID_S)[half:-half])


def find_pours(t_s: FloatArray, poured_g: FloatArray) -> tuple[FoundPour, ...]:
    """Pours in the weight of the whole brewer: where it rises faster than a drift, short pauses bridged.

    The ends are where straight lines through the rise meet the rest on either side, which lag and noise hardly move.

    Parameters
    ----------
    t_s : ndarray of float64
        Times, s, (n,).
    poured_g : ndarray of float64
        Water poured, g.

    Returns
    -------
    tuple[FoundPour, ...]
        Pours in the weight of the whole brewer.
    """
    if len(t_s) < 5:
        return ()
    t, w = on_grid(t_s, poured_g)
    rising = slope(t, w, RATE_WINDOW_S) > POURING_G_S
    edges = np.flatnonzero(np.diff(np.concatenate([[False], rising, [False]]).astype(int)))
    runs = [[int(a), int(b)] for a, b in zip(edges[::2], edges[1::2], strict=True)]
    joined: list[list[int]] = []
    for run in runs:
        if joined and (run[0] - joined[-1][1]) * GRID_S < PAUSE_S:
            joined[-1][1] = run[1]
        else:
            joined.append(run)
    found = []
    for k, (a, b) in enumerate(joined):
        left = joined[k - 1][1] if k else 0
        right = joined[k + 1][0] if k + 1 < len(joined) else len(t)
        before = float(np.median(w[max(left, a - 10) : max(a, left + 1)]))
        after = float(np.median(w[min(b, right - 1) : min(right, b + 10)]))
        if after - before < LEAST_POUR_G:
            continue
        found.append(_ends(t[a:b], w[a:b], before, after))
    return tuple(found)


def _ends(t: FloatArray, w: FloatArray, before: float, after: float) -> FoundPour:
    """Start and end of one rise, by lines through its lower and upper part."""
    low, high = before + 0.15 * (after - before), before + 0.85 * (after - before)

    def crossing(rest: float, near: tuple[float, float]) -> float:
        part = (w >= min(near)) & (w <= max(near))
        if part.sum() < 2 or np.ptp(t[part]) == 0:
            return float(np.interp(rest, w, t))
        rate, level = np.polyfit(t[part], w[part], 1)
        return float((rest - level) / max(rate, 0.1))

    middle = (before + after) / 2
    start = min(max(crossing(before, (low, middle)), float(t[0]) - 1.0), float(t[-1]))
    end = max(min(crossing(after, (middle, high)), float(t[-1]) + 1.0), start + GRID_S)
    return FoundPour(start, end, after - before)


def actual_plan(plan: Plan, pours: tuple[FoundPour, ...]) -> Plan:
    """Return the plan as it was poured: each found pour with the strength of the planned one that was due nearest.

    Parameters
    ----------
    plan : Plan
        The plan.
    pours : tuple[FoundPour, ...]
        Pours that were found in a log.

    Returns
    -------
    Plan
        The plan as it was poured.
    """
    if not pours:
        return plan
    due: list[float] = []
    for i, p in enumerate(plan.pours):
        due.append(p.start_s if p.start_s is not None else (pours[min(i, len(pours) - 1)].start_s))
    made: list[Pour] = []
    for i, f in enumerate(pours):
        k = i if len(pours) == len(plan.pours) else int(np.argmin([abs(d - f.start_s) for d in due]))
        start = max(0.0, f.start_s - pours[0].start_s)
        if made and made[-1].start_s is not None:
            start = max(start, made[-1].start_s + made[-1].duration_s)
        made.append(Pour(f.water_g, max(0.5, f.end_s - f.start_s), start, None, plan.pours[k].strength))
    return replace(plan, pours=tuple(made))


def capture(plan: Plan, grind: Grind, log: BrewLog, tapped: tuple[FoundPour, ...] = (), lag_s: float = 0.0) -> Captured:
    """Find out what happened.

    Parameters
    ----------
    plan, grind
        What was meant to be brewed, with the dose that was weighed in.
    log
        The scale's log; may be empty.
    tapped
        Pours by taps, for where the scale did not see them.
    lag_s
        How late the scale shows a change.

    Returns
    -------
    Captured
        Pours, bare bed and last drip that were found.
    """
    t_poured, poured = log.column(log.poured_g)
    pours, source = find_pours(t_poured - lag_s, poured), "scale"
    if not pours:
        pours, source = (tapped, "taps") if tapped else (_planned(plan), "plan")
    t, drink = log.column(log.drink_g)
    none: FloatArray = np.zeros(0)
    if len(t) < 20 or np.ptp(t) < 10:
        return Captured(pours, source, None, None, None, None, None, none, none, none, none)
    grid, smooth = on_grid(t - lag_s, drink)
    rate = slope(grid, smooth, 2 * RATE_WINDOW_S)
    drain = find_drain(grid, smooth, pours[-1].end_s)
    level_t, level = _level(plan, grind, grid, smooth, drain, pours[-1].end_s)
    return Captured(
        pours=pours, pours_from=source, bare_bed_s=drain.bare_bed_s, bare_sd_s=drain.bare_sd_s,
        last_drip_s=drain.last_drip_s, stalled_at_s=_stall(level_t, level), drink_g=float(np.median(smooth[-5:])),
        rate_t_s=grid, rate_g_s=rate, level_t_s=level_t, level_mm=level,
    )  # fmt: skip


def _planned(plan: Plan) -> tuple[FoundPour, ...]:
    """Return the plan's own pours, where they have times."""
    at, found = 0.0, []
    for p in plan.pours:
        at = p.start_s if p.start_s is not None else at
        found.append(FoundPour(at, at + p.duration_s, p.water_g))
        at += p.duration_s
    return tuple(found)


def _level(
    plan: Plan, grind: Grind, t: FloatArray, drink: FloatArray, drain: Drain, poured_by_s: float
) -> tuple[FloatArray, FloatArray]:
    """Water over the bed from the end of pouring on, mm: what still came out until the bed was bare stood over it.

    Where the bed was not bare by the end of the log, what the grounds hold is taken as for a usual bed.
    """
    bed = make_bed(grind, plan.brewer, plan.dose_g)
    after = t >= poured_by_s
    if not after.any():
        return np.zeros(0), np.zeros(0)
    if drain.bare_bed_s is not None:
        left = np.interp(drain.bare_bed_s, t, drink) - drink[after]
    else:
        left = plan.water_g - plan.dose_g - bed.pore_g - drink[after]
    free = np.maximum(left, 0.0)
    level = [1000 * (plan.brewer.height_m(bed.bulk_m3 + g * 1e-6) - bed.depth_m) for g in free]
    return t[after], np.where(free > 0, level, 0.0)


def _stall(t: FloatArray, level: FloatArray) -> float | None:
    """When the level began to stand still, while water stood over the bed; ``None`` when it never did."""
    if len(t) < 10:
        return None
    falling = -slope(t, level, LEVEL_WINDOW_S)
    slow = (falling < STALL_MM_PER_S) & (level > STANDING_MM)
    edges = np.flatnonzero(np.diff(np.concatenate([[False], slow, [False]]).astype(int)))
    for a, b in zip(edges[::2], edges[1::2], strict=True):
        if (b - a) * GRID_S >= STALL_AFTER_S:
            return float(t[a])
    return None
