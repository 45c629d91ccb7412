"""A size, or a setting elsewhere, as the nearest position that exists on a dial: matched by volume median."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hakari.core.grinder.curve import Curve
from hakari.core.grinder.grinder import TARGET_SEED, Grinder
from hakari.core.photo.result import FloatArray


@dataclass(frozen=True)
class Neighbour:
    """A position beside the answer, with the chance that it is really the nearest."""

    setting: str
    position: float
    d50_um: float
    chance_nearest: float


@dataclass(frozen=True)
class Translation:
    """The nearest position on the target dial; ``chance_nearest`` and ``neighbours`` say how sure that is."""

    setting: str
    position: float
    d50_um: float
    interval95_um: tuple[float, float]
    target_um: float
    target_interval95_um: tuple[float, float]
    reachable: bool
    chance_nearest: float
    neighbours: tuple[Neighbour, ...]
    fines_target: float | None
    fines_here: float | None


def translate_setting(source: Grinder, setting: str, target: Grinder) -> Translation:
    """Find the position on ``target`` that grinds like ``setting`` on ``source``.

    Raises
    ------
    InputError
        When the setting is not on the dial or a grinder has no curve.
    """
    position = source.dial.parse(setting)
    draws = source.curve().at(position)
    size = float(np.median(draws))
    return _nearest(target, draws, source.fines_at(size))


def translate_size(d50_um: float, ln_sd: float, target: Grinder, fines: float | None = None) -> Translation:
    """Find the position on ``target`` nearest to a measured size with its ln standard deviation."""
    rng = np.random.default_rng(7)
    return _nearest(target, d50_um * np.exp(ln_sd * rng.standard_normal(2000)), fines)


def _nearest(target: Grinder, wanted_um: FloatArray, fines: float | None) -> Translation:
    curve = target.curve(TARGET_SEED)
    n = min(len(wanted_um), len(curve.draws_um))
    wanted, draws = wanted_um[:n], curve.draws_um[:n]
    target_um = float(np.median(wanted))
    middle = curve.median_um
    miss = np.abs(np.log(draws / wanted[:, None]))
    # The least expected error, not the nearest middle curve: the two differ where the curve is uncertain.
    best = int(np.argmin(miss.mean(axis=0)))
    winners = np.argmin(miss, axis=1)
    chance = np.bincount(winners, minlength=len(middle)) / n
    low, high = np.percentile(draws[:, best], [2.5, 97.5])
    w_low, w_high = np.percentile(wanted, [2.5, 97.5])
    beside = [i for i in (best - 1, best + 1) if 0 <= i < len(middle)]
    return Translation(
        setting=target.dial.write(curve.positions[best]), position=float(curve.positions[best]),
        d50_um=float(middle[best]), interval95_um=(float(low), float(high)),
        target_um=target_um, target_interval95_um=(float(w_low), float(w_high)),
        reachable=_reachable(curve, middle, target_um), chance_nearest=float(chance[best]),
        neighbours=tuple(
            Neighbour(target.dial.write(curve.positions[i]), float(curve.positions[i]), float(middle[i]), float(chance[i]))
            for i in beside
        ),
        fines_target=fines, fines_here=target.fines_at(float(middle[best])),
    )  # fmt: skip


def _reachable(curve: Curve, middle: FloatArray, target_um: float) -> bool:
    """Whether the dial's range, and half a step beyond, holds the size."""
    edge = float(np.abs(np.diff(np.log(middle))).max()) / 2
    return bool(np.log(middle.min()) - edge <= np.log(target_um) <= np.log(middle.max()) + edge)
