"""Eras: after a cleaning, a move, wear or new burrs the shape of the curve is kept and its place found again.

The old curve's draws are moved along the dial by δ and stretched by 1 + g, both drawn from what such an event may do; each
is weighted by how well it meets what was measured since.
"""

from __future__ import annotations

from typing import Literal, get_args

import numpy as np

from hakari.core.arrays import FloatArray
from hakari.core.errors import InputError
from hakari.core.grinder.curve import DRAWS, FEWEST_DRAWS, REPEAT_SD, Curve, CurveSample

Reason = Literal["cleaned", "moved", "worn", "new burrs"]
REASONS: tuple[str, ...] = get_args(Reason)
# How far an event moves the zero, as a share of the dial, and changes the slope: standard deviations.
MOVES = {"cleaned": 0.06, "moved": 0.06, "worn": 0.04, "new burrs": 0.10}
STRETCHES = {"cleaned": 0.015, "moved": 0.015, "worn": 0.05, "new burrs": 0.12}
TRIES = 40_000
# From so many samples in the new era on, they alone make the curve.
ENOUGH_OF_ITS_OWN = 4


def refit(old: Curve, samples: list[CurveSample], reason: str, rng: np.random.Generator) -> Curve:
    """Return the curve of a new era from the old one and what was measured since, which may be nothing.

    Parameters
    ----------
    old : Curve
        Curve of the era before.
    samples : list[CurveSample]
        Measured settings.
    reason : str
        What ended the era before.
    rng : Generator
        Source of randomness.

    Returns
    -------
    Curve
        The curve of a new era from the old one and what was measured since, which may be nothing.

    Raises
    ------
    InputError
        ``era-contradicts`` when no shift of the old curve comes near the new samples.
    """
    span = old.positions[-1] - old.positions[0]
    move = rng.normal(0, MOVES[reason], TRIES) * span
    if samples:
        # Far shifts are rare, but a sample may ask for one: part of the tries go anywhere along the dial.
        anywhere = rng.random(TRIES) < 0.5
        move[anywhere] = rng.uniform(-0.35, 0.35, int(anywhere.sum())) * span
    stretch = rng.normal(0, STRETCHES[reason], TRIES)
    which = rng.integers(0, len(old.ln_um), TRIES)
    middle = old.positions.mean()

    def ln_at(position: float) -> FloatArray:
        places = middle + (position + move - middle) * (1 + stretch)
        right = np.clip(np.searchsorted(old.knots, places), 1, len(old.knots) - 1)
        share = (places - old.knots[right - 1]) / (old.knots[right] - old.knots[right - 1])
        return np.asarray(old.ln_um[which, right - 1] * (1 - share) + old.ln_um[which, right] * share)

    log_weight = np.zeros(TRIES)
    if samples:
        # The wide tries stand for a normal with heavy tails, which they were not drawn from: put that right.
        narrow = np.exp(-0.5 * (move / (MOVES[reason] * span)) ** 2) / (MOVES[reason] * span * np.sqrt(2 * np.pi))
        wide = np.where(np.abs(move) < 0.35 * span, 1 / (0.7 * span), 0.0)
        log_weight += np.log(0.9 * narrow + 0.1 * wide) - np.log(0.5 * narrow + 0.5 * wide)
    for s in samples:
        log_weight -= 0.5 * ((ln_at(s.position) - np.log(s.d50_um)) / np.hypot(s.ln_sd, REPEAT_SD)) ** 2
    if samples and log_weight.max() < -8.0 * len(samples):
        raise InputError(
            "era-contradicts", "The old curve, wherever it is moved, does not go through what was measured since.",
            "Check the new samples' settings, or measure four settings to make a new curve.", field="samples",
        )  # fmt: skip
    weight = np.exp(log_weight - log_weight.max())
    kept = rng.choice(TRIES, DRAWS, p=weight / weight.sum())
    move, stretch, which = move[kept], stretch[kept], which[kept]
    ln_um = np.column_stack([ln_at(float(k)) for k in old.knots])
    rising = np.diff(ln_um, axis=1) * np.sign(np.median(ln_um[:, -1] - ln_um[:, 0])) > 0
    good = rising.all(axis=1)
    if good.sum() < FEWEST_DRAWS:
        raise InputError(
            "era-contradicts", "No moved curve still grinds coarser along the whole dial.",
            "Measure four settings to make a new curve.", field="samples",
        )  # fmt: skip
    return Curve(
        old.positions, old.knots, ln_um[good], tuple(samples),
        {r: offset[which][good] for r, offset in old.roast_ln.items()},
    )  # fmt: skip
