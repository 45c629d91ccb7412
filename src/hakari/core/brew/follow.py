"""Where a brew stands in its steps: by the clock, by taps, and by what the scale shows."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType

from hakari.core.brew.schedule import STIRRINGS
from hakari.core.brew.steps import Step

# A pour that nobody reported is taken as done this long after its planned end, when nothing else is due before.
UNREPORTED_S = 8.0
# Deeds need no report.
ACTION_WORDS = (*STIRRINGS, "open-valve", "close-valve")
# The bed or the hand ends these, not the clock.
OPEN_ENDED = ("wait", "drain", "press", "decant", "last-drip", "add")
# The scale stands still within these of the target: the pour is over.
REACHED_G, STILL_G_S, STILL_S = 4.0, 0.6, 1.0
# A pour that falls short is over too: the scale has stood still so long after its planned end, or with so much poured.
RESTED_S, MOSTLY = 3.0, 0.85
# The weight rises at a pour: by so much and so fast, also as a share of what is to be poured.
BEGUN_G, BEGUN_SHARE, POURING_G_S = 4.0, 0.1, 0.8
# Followed by a scale alone, what waits is over so long after its expected end: seconds, or a share of its length.
PATIENCE = {
    "wait": (600.0, 4.0),  # by level or hand, not by the clock; only a brew that was left ends so
    "drain": (120.0, 1.0),
    "press": (60.0, 0.5),
    "decant": (30.0, 0.0),
    "last-drip": (60.0, 1.0),
    "add": (600.0, 0.0),  # tasting takes its time
}


NOTHING: Mapping[int, float] = MappingProxyType({})


@dataclass(frozen=True)
class Place:
    """A step within a running brew: when it starts and ends as things stand, and when it was really over."""

    step: Step
    at_s: float
    ends_s: float
    done_s: float | None


@dataclass(frozen=True)
class BrewProgress:
    """All steps as they stand, and which of them is the present one (the number of steps when all are over)."""

    places: tuple[Place, ...]
    now: int


def follow(
    steps: tuple[Step, ...],
    marks: Mapping[int, float],
    elapsed_s: float,
    by_itself: bool = False,
    begun: Mapping[int, float] = NOTHING,
) -> BrewProgress:
    """Place every step in time.

    Timed steps keep their time, whenever the one before was reported. A step that waits for an event ends when it is marked,
    and what comes after it moves along; until then it is expected at its time, or now when that has passed.

    Parameters
    ----------
    marks
        When steps were reported to be over, by their index, seconds since the first pour.
    begun
        When steps were reported to begin, sooner or later than planned, by their index, seconds since the first pour: such a
        step lasts as long as planned, the ones before it are over, and those after it keep their time.
    by_itself
        Whether a scale speaks, so that nobody need tap: what waits for the bed or the hand then ends by the clock as well,
        ``PATIENCE`` after its expected end. By hand alone it waits for the hand.

    Returns
    -------
    BrewProgress
        Every step in time, and which is on.
    """
    last_marked = max(max(marks, default=-1), max(begun, default=-1))
    places: list[Place] = []
    shift, now = 0.0, len(steps)
    for i, step in enumerate(steps):
        at = begun.get(i, step.at_s + shift)
        ends = at + step.lasts_s
        over = marks.get(i)
        if over is not None:
            at = min(at, over)  # it was over before it was due
        if over is None and i < last_marked:
            over = min(ends, elapsed_s)
        if over is None and now == len(steps):
            if by_itself and step.kind in PATIENCE:
                seconds, share = PATIENCE[step.kind]
                given_up = ends + max(seconds, share * step.lasts_s)
                over = given_up if elapsed_s >= given_up else None
            elif _by_clock(steps, i, ends, shift, elapsed_s):
                over = min(ends, elapsed_s)
        if over is None:
            now = min(now, i)
        if step.kind in OPEN_ENDED:
            # What waits for the bed or the hand moves all that follows.
            shift += (over if over is not None else max(ends, elapsed_s if i == now else ends)) - ends
        places.append(Place(step, at, over if over is not None else ends, over))
    return BrewProgress(tuple(places), now)


def _by_clock(steps: tuple[Step, ...], i: int, ends: float, shift: float, elapsed: float) -> bool:
    """Whether a step that nobody reported is over by the clock."""
    step = steps[i]
    if step.kind in ACTION_WORDS:
        return elapsed >= ends
    if step.kind != "pour":
        return False
    following = steps[i + 1] if i + 1 < len(steps) else None
    if following is None or following.kind in OPEN_ENDED:
        return elapsed >= ends + UNREPORTED_S
    return elapsed >= max(following.at_s + shift, ends if following.kind in ACTION_WORDS else 0.0)


def pour_reached(step: Step, scale_g: float, rate_g_s: float) -> bool:
    """Whether the scale shows that a pour is over: the target is reached and the weight rests.

    ``scale_g`` is the water poured so far by the scale, ``rate_g_s`` its mean rate over the last ``STILL_S``.

    Parameters
    ----------
    step : Step
        The step of the brew.
    scale_g : float
        Reading of the scale, g.
    rate_g_s : float
        Rate on the scale, g/s; ``None`` where it is not known.

    Returns
    -------
    bool
        Whether the scale shows that a pour is over.
    """
    return step.total_g is not None and scale_g >= step.total_g - REACHED_G and abs(rate_g_s) < STILL_G_S


def pour_rested(place: Place, poured_g: float, rested_s: float, elapsed_s: float) -> bool:
    """Whether a pour is over that fell short of its target.

    ``poured_g`` is what the scale has gained since the pour began, ``rested_s`` how long it has stood still.

    Parameters
    ----------
    place : Place
        The pour within the brew.
    poured_g : float
        Water poured, g.
    rested_s : float
        How long the scale has not risen, s.
    elapsed_s : float
        Seconds since the first pour.

    Returns
    -------
    bool
        Whether a pour is over that fell short of its target.
    """
    step = place.step
    begun = poured_g > max(BEGUN_G, BEGUN_SHARE * step.amount_g)
    return begun and rested_s >= RESTED_S and (elapsed_s >= place.ends_s or poured_g >= MOSTLY * step.amount_g)


def pour_begun(step: Step, gained_g: float, rate_g_s: float) -> bool:
    """Whether the scale, which has gained ``gained_g`` since it rested, shows that a pour has begun.

    Parameters
    ----------
    step : Step
        The step of the brew.
    gained_g : float
        What the scale has gained since the pour was due, g.
    rate_g_s : float
        Rate on the scale, g/s; ``None`` where it is not known.

    Returns
    -------
    bool
        Whether the scale, which has gained ``gained_g`` since it rested, shows that a pour has begun.
    """
    return gained_g > max(BEGUN_G, BEGUN_SHARE * step.amount_g) and rate_g_s > POURING_G_S


def next_pour(steps: tuple[Step, ...], now: int) -> int | None:
    """Return the index of the first pour from step ``now`` on.

    Parameters
    ----------
    steps : tuple[Step, ...]
        Steps in the order of time.
    now : int
        Index of the present step.

    Returns
    -------
    int or None
        The index of the first pour from step ``now`` on.
    """
    return next((i for i in range(now, len(steps)) if steps[i].kind == "pour"), None)


def expected_water_g(standing: BrewProgress, elapsed_s: float) -> float:
    """Return what should be poured by now, g.

    Parameters
    ----------
    standing : BrewProgress
        Where the brew stands.
    elapsed_s : float
        Seconds since the first pour.

    Returns
    -------
    float
        What should be poured by now, g.
    """
    total = 0.0
    for place in standing.places:
        if place.step.kind == "pour":
            lasts = max(place.step.lasts_s, 1e-9)
            total += place.step.amount_g * min(1.0, max(0.0, (elapsed_s - place.at_s) / lasts))
    return total
