"""A size, or a setting elsewhere, as the nearest setting that exists on a dial, with how sure that is."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from scipy.special import ndtr

from hakari.core.arrays import BoolArray, FloatArray
from hakari.core.errors import InputError
from hakari.core.grinder.curve import Curve
from hakari.core.grinder.grinder import TARGET_SEED, Grinder

DRAWS = 2000
STANDS_OUT = 0.15  # a chance to be the nearest that few settings share
NEAR_STEPS = 40  # so many places either way are weighed against each other


@dataclass(frozen=True)
class TargetSize:
    """A size to look for: draws of the median in µm (n,), and fines and span there, where known."""

    draws_um: FloatArray
    fines_below_100: float | None = None
    span: float | None = None

    @property
    def um(self) -> float:
        """The middle of it."""
        return float(np.median(self.draws_um))

    @property
    def interval95_um(self) -> tuple[float, float]:
        """The 95 % interval."""
        return _interval(self.draws_um)


@dataclass(frozen=True)
class Neighbour:
    """A setting beside the answer, with the chance that it is really the nearest."""

    setting: str
    place: int
    d50_um: float
    chance_nearest: float


@dataclass(frozen=True)
class Translation:
    """The nearest setting on the target dial; ``chance_nearest`` and ``neighbours`` say how sure that is."""

    setting: str
    place: int
    d50_um: float
    interval95_um: tuple[float, float]
    target_um: float
    target_interval95_um: tuple[float, float]
    reachable: bool
    chance_nearest: float
    neighbours: tuple[Neighbour, ...]


def target_setting(source: Grinder, setting: str, roast: str | None = None) -> TargetSize:
    """Return what a setting grinds; ``InputError`` when it is not on the dial or the grinder has no curve.

    Parameters
    ----------
    source : Grinder
        The grinder that the setting belongs to.
    setting : str
        Setting as a person writes it.
    roast : str or None
        Roast of the coffee; any where ``None``.

    Returns
    -------
    TargetSize
        What a setting grinds.
    """
    draws = source.curve().at(source.dial.parse(setting), roast)
    size = float(np.median(draws))
    return TargetSize(draws, source.fines_at(size), source.span_at(size))


def target_size(d50_um: float, ln_sd: float, fines: float | None = None, span: float | None = None) -> TargetSize:
    """Return a measured or typed size with its ln standard deviation; ``InputError`` ``size-out-of-range``.

    Parameters
    ----------
    d50_um : float
        Volume median, µm.
    ln_sd : float
        Standard deviation of ln size.
    fines : float or None
        Share of mass below 100 µm; ``None`` where unknown.
    span : float or None
        (D90 − D10)/D50; ``None`` where unknown.

    Returns
    -------
    TargetSize
        A measured or typed size with its ln standard deviation.
    """
    if not 20 <= d50_um <= 5000:
        raise InputError(
            "size-out-of-range", f"{d50_um:g} µm is no size of ground coffee.", "Ask for 20 to 5000 µm.", field="size"
        )
    return TargetSize(d50_um * np.exp(ln_sd * np.random.default_rng(7).standard_normal(DRAWS)), fines, span)


def nearest_setting(
    target: Grinder, wanted: TargetSize, steps: int = 0, roast: str | None = None, equal: str | None = None
) -> Translation:
    """Return the setting of ``target`` nearest to a size, or ``steps`` usable steps coarser than that (negative: finer).

    A ``roast`` that was measured on the target shifts its curve. It is the setting that is nearest most often when both
    sizes are drawn from what is known of them.

    Parameters
    ----------
    target : Grinder
        The grinder to be set.
    wanted : TargetSize
        The size that is wanted, with its uncertainty.
    steps : int
        Steps beyond it on the target dial.
    roast : str or None
        Roast of the coffee; any where ``None``.
    equal : str or None
        A setting of the target that a person said to be equal, which is then the answer.

    Returns
    -------
    Translation
        The setting of ``target``, with how likely it is the nearest, and its neighbours.

    Raises
    ------
    InputError
        When the target has no curve.
    """
    curve = target.curve(TARGET_SEED)
    places = _distinct(curve, target.dial.usable())
    middle = curve.median_um[places] * curve.roast_factor(roast)
    target_um = wanted.um
    said = None if equal is None else target.dial.parse(equal)
    first = int(np.argmin(np.abs(np.log(middle / target_um)) if said is None else np.abs(places - said)))
    near = np.arange(max(0, first - NEAR_STEPS), min(len(places), first + NEAR_STEPS + 1))
    n = min(len(wanted.draws_um), len(curve.ln_um))
    draws = curve.sizes_um(curve.positions[places[near]], roast)[:n]
    ln_off = np.log(draws / wanted.draws_um[:n, None])
    chance = _chances(np.log(middle), near, ln_off)
    # The likeliest setting, as far as one stands out: where many are likely alike, that with the least expected error.
    best = int(np.argmin(np.abs(ln_off).mean(axis=0)))
    around = slice(max(0, best - 1), best + 2)
    if chance[around].max() > STANDS_OUT:
        best = max(0, best - 1) + int(np.argmax(chance[around]))
    if said is not None:
        best = int(np.argmin(np.abs(places[near] - said)))
    if steps:
        coarser = 1 if target.dial.finer == "down" else -1
        best = int(np.clip(best + coarser * steps, 0, len(near) - 1))
    beside = [i for i in (best - 1, best + 1) if 0 <= i < len(near)]
    dial = target.dial
    return Translation(
        setting=dial.write(int(places[near[best]])), place=int(places[near[best]]), d50_um=float(middle[near[best]]),
        interval95_um=_interval(draws[:, best]), target_um=target_um, target_interval95_um=wanted.interval95_um,
        reachable=_reachable(middle, target_um), chance_nearest=float(chance[best]),
        neighbours=tuple(
            Neighbour(dial.write(int(places[near[i]])), int(places[near[i]]), float(middle[near[i]]), float(chance[i]))
            for i in beside
        ),
    )  # fmt: skip


def _distinct(curve: Curve, usable: BoolArray) -> npt.NDArray[np.intp]:
    """Usable places, one for each position: two rings may say the same position twice."""
    _, first = np.unique(np.round(curve.positions, 9), return_index=True)
    return np.asarray([p for p in first if usable[p]], np.intp)


def _chances(ln_middle: FloatArray, near: npt.NDArray[np.intp], ln_off: FloatArray) -> FloatArray:
    """Return how likely each of some settings is the nearest of all: the share of a normal curve between its half-way points.

    ``ln_off`` (draws, n) is how far each of them is off the wanted size. From the draws alone the share of one setting among
    many would be too rough to tell the likeliest.
    """
    off, sd = np.median(ln_off, axis=0), np.maximum(np.std(ln_off, axis=0), 1e-6)
    half = np.abs(np.diff(ln_middle)) / 2
    # The last settings of a dial reach as far as there are sizes.
    below, above = np.r_[np.inf, half][near], np.r_[half, np.inf][near]
    side = 1.0 if ln_middle[-1] >= ln_middle[0] else -1.0
    low, high = (below, above) if side > 0 else (above, below)
    return np.asarray(ndtr((off + high) / sd) - ndtr((off - low) / sd), np.float64)


def _interval(draws: FloatArray) -> tuple[float, float]:
    low, high = np.percentile(draws, [2.5, 97.5])
    return float(low), float(high)


def _reachable(middle: FloatArray, target_um: float) -> bool:
    """Whether the dial's range, and half a step beyond, holds the size."""
    low, high = np.sort(middle[[0, -1]])
    ends = np.abs(np.diff(np.log(middle)))
    fine_edge, coarse_edge = (ends[0], ends[-1]) if middle[0] < middle[-1] else (ends[-1], ends[0])
    return bool(np.log(low) - fine_edge / 2 <= np.log(target_um) <= np.log(high) + coarse_edge / 2)
