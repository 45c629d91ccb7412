"""Which step of a brew the scale shows to be over, and when it was."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from hakari.core.brew.follow import STILL_S, BrewProgress, next_pour, pour_begun, pour_reached, pour_rested
from hakari.core.brew.schedule import Event
from hakari.core.brew.steps import Step
from hakari.core.flow.capture import on_grid
from hakari.core.flow.drawdown_detection import find_drain
from hakari.device.source import Reading
from hakari.service.brews.scale_log import ScaleLog

LEAST_READINGS = 50
BARE_G = 2.0  # so little water over the bed is none, within what a cup's scale tells of it
AFTER_BARE_S = 12.0  # so much of the brew must lie behind a bare bed before it is believed


def pour_seen(
    steps: tuple[Step, ...], standing: BrewProgress, scale: ScaleLog, elapsed_s: float, lag_s: float
) -> tuple[int, float] | None:
    """Return the step that a scale under the brewer shows to be over, and since when, s; None while there is none."""
    now = standing.now
    coming = next_pour(steps, now)
    if coming is None:
        return None
    step, rate = steps[coming], scale.rate_g_s() or 0.0
    rested_g = scale.weight_at(standing.places[now - 1].ends_s + lag_s if now else 0.0)
    weight_g = scale.readings[-1].weight_g
    gained = weight_g - rested_g
    if coming > now:
        # Something else is on, but water is being poured: it is over, and the next pour has begun.
        return (coming - 1, scale.rose_at(rested_g) - lag_s) if pour_begun(step, gained, rate) else None
    if pour_reached(step, weight_g, rate):
        return now, elapsed_s - lag_s - STILL_S
    if (rested := scale.rested_s(rate)) and pour_rested(standing.places[now], gained, rested, elapsed_s):
        return now, elapsed_s - lag_s - rested
    after = next_pour(steps, now + 1)
    # One pour may go over into the next without a rest that was seen.
    if after is not None and pour_begun(steps[after], gained - step.amount_g, rate):
        return now, scale.rose_at(rested_g + step.amount_g) - lag_s
    return None


def level_is_down(waits: Event, now_g: float, before_pour_g: float, after_pour_g: float) -> bool:
    """Whether the water over the bed has fallen as far as a pour waits for; masses of free water, g."""
    if waits == "half":
        return now_g <= 0.5 * after_pour_g
    return now_g <= max(before_pour_g if waits == "level-back" else 0.0, BARE_G)


def ends_seen(
    steps: tuple[Step, ...],
    marks: Mapping[int, float],
    standing: BrewProgress,
    readings: Sequence[Reading],
    lag_s: float,
) -> list[tuple[int, float]]:
    """Return both ends of a brew whose cup is weighed, once all is poured: the step of each, and its time, s."""
    ends = [i for i, s in enumerate(steps) if s.kind in ("drain", "last-drip")]
    if len(readings) < LEAST_READINGS or not ends or standing.now < ends[0] or ends[-1] in marks:
        return []
    t, w = np.array([(r.t_s, r.weight_g) for r in readings]).T
    grid, smooth = on_grid(t - lag_s, w)
    drain = find_drain(grid, smooth, max(p.ends_s for p in standing.places if p.step.kind == "pour"))
    if drain.bare_bed_s is None or grid[-1] < drain.bare_bed_s + AFTER_BARE_S:
        return []
    times = zip(ends, (drain.bare_bed_s, drain.last_drip_s), strict=True)
    return [(step, at) for step, at in times if at is not None and step not in marks]
