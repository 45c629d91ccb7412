"""Candidate changes of the grind: settings of the grinder, sizes without a dial, a sieve, and grind with ratio as one."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from hakari.core.advice.candidate import Candidate
from hakari.core.advice.evidence import COLD_C, Case
from hakari.core.advice.pour_moves import LONGEST_STIR_S, STIR_STEP_S
from hakari.core.advice.water_moves import DOSE_STEP, RATIO_STEPS
from hakari.core.brew.brewers import UNSTIRRED
from hakari.core.grinder.dial import step_words
from hakari.core.psd.grind import Grind

LEAST_GRIND_LN = 0.03


GRIND_AIMS_LN = (0.06, 0.11, 0.17, 0.26, 0.38)


COMPENSATED_AIM_LN = 0.11


SIEVED_FINES = 0.45  # share of the dust that is left by a usual sieve


def grind_settings(case: Case) -> Iterator[Candidate]:
    """Yield settings of the grinder, coarser and finer; sizes where it has no curve.

    Parameters
    ----------
    case : Case
        The brew to be judged.

    Yields
    ------
    Candidate
        Changes, each with the brew that it makes.
    """
    if case.on_dial is None:
        yield from grind_sizes(case)
        return
    dial, at = case.on_dial
    for direction, i, factor, size in _settings(case, GRIND_AIMS_LN):
        yield Candidate(
            "grind", direction, dial.write(at), dial.write(i), step_words(dial, at, i), abs(i - at), case.plan,
            reground(case, factor, size),
        )  # fmt: skip


def _settings(case: Case, aims: tuple[float, ...]) -> Iterator[tuple[str, int, float, float]]:
    """Yield settings near each aim: direction, place, size factor, and the size now in µm."""
    assert case.on_dial is not None
    dial, at = case.on_dial
    size = case.sizes_um
    usable = dial.usable()
    for direction, sign in (("coarser", 1.0), ("finer", -1.0)):
        ratio = sign * np.log(size / size[at])
        possible = np.flatnonzero((ratio >= LEAST_GRIND_LN) & usable)
        for i in sorted({int(possible[np.argmin(np.abs(ratio[possible] - aim))]) for aim in aims if len(possible)}):
            yield direction, i, float(size[i] / size[at]), float(size[at])


def reground(case: Case, factor: float, size_um: float) -> Grind:
    """Return the grind moved by a factor: the photo sets its level, the grinder's curve the ratio and the fines.

    Parameters
    ----------
    case : Case
        The brew to be judged.
    factor : float
        Factor on the coarse mode.
    size_um : float
        Size at the present setting, µm.

    Returns
    -------
    Grind
        The grind moved by a factor.
    """
    grind = case.grind.scaled(factor)
    now = case.grinder.fines_at(size_um) if case.grinder else None
    then = case.grinder.fines_at(size_um * factor) if case.grinder else None
    share = case.grind.below(100.0)
    ratio = then / now if now and then else factor**-1.3
    return grind.with_fines(float(np.clip(share * ratio, 0.0, 0.45))) if share > 0 else grind


def grind_sizes(case: Case) -> Iterator[Candidate]:
    """Yield sizes where no dial is known.

    Parameters
    ----------
    case : Case
        The brew to be judged.

    Yields
    ------
    Candidate
        Changes, each with the brew that it makes.
    """
    # One step is the least that is worth it; more than one are held within what one pass should change.
    for factor, steps in ((1.08, 1), (1.15, 2), (1.3, 4), (0.93, 1), (0.87, 2), (0.77, 4)):
        direction = "coarser" if factor > 1 else "finer"
        now, then = case.grind.d50_um, case.grind.d50_um * factor
        words = f"about {abs(factor - 1) * 100:.0f} % {direction}"
        if case.grinder is not None and case.grinder.has_blades:
            words = f"{words}: run the blades {'shorter' if factor > 1 else 'longer'}, and shake"
        yield Candidate(
            "grind", direction, f"{now:.0f} µm", f"{then:.0f} µm", words, steps, case.plan, reground(case, factor, now)
        )


def sieving(case: Case) -> Iterator[Candidate]:
    """Yield the grind with its dust sieved out.

    Parameters
    ----------
    case : Case
        The brew to be judged.

    Yields
    ------
    Candidate
        Changes, each with the brew that it makes.
    """
    fines = case.grind.below(100.0)
    if fines > 0.05 and case.plan.steep is None:
        left = SIEVED_FINES * fines
        yield Candidate(
            "sieve", "fines", f"{100 * fines:.0f} % dust", f"{100 * left:.0f} % dust", "sieve the dust out", 2, case.plan,
            case.grind.with_fines(left),
        )  # fmt: skip


def grind_and_ratio(case: Case) -> Iterator[Candidate]:
    """Two things that belong together, named as one: coarser with less water keeps the strength; more coffee, longer stir.

    Parameters
    ----------
    case : Case
        The brew to be judged.

    Yields
    ------
    Candidate
        Changes, each with the brew that it makes.
    """
    plan = case.plan
    steep = plan.steep
    shorter = plan.ratio - RATIO_STEPS[0]
    if steep is None and shorter >= 10 and case.on_dial is not None:
        dial, at = case.on_dial
        for direction, i, factor, size in _settings(case, (COMPENSATED_AIM_LN,)):
            if direction == "coarser":
                yield Candidate(
                    "compensated", "coarser-shorter",
                    f"{dial.write(at)}, 1:{plan.ratio:.1f}", f"{dial.write(i)}, 1:{shorter:.1f}",
                    f"{step_words(dial, at, i)} with a slightly shorter ratio", abs(i - at) + 1,
                    plan.with_water(float(round(shorter * plan.dose_g))), reground(case, factor, size),
                )  # fmt: skip
    if steep is not None and plan.water_c >= COLD_C and plan.brewer.name not in UNSTIRRED:
        dose = round(2 * plan.dose_g * (1 + DOSE_STEP)) / 2
        stir = min(steep.stir_s + STIR_STEP_S, LONGEST_STIR_S, steep.seconds)
        if dose <= plan.brewer.dose_g[1] and stir > steep.stir_s:
            more = replace(plan, dose_g=dose, steep=replace(steep, stir_s=stir))
            words = f"{case.units.masses(dose - plan.dose_g, digits=None)} more coffee with a longer stir"
            yield Candidate(
                "compensated", "more-coffee",
                f"{case.units.masses(plan.dose_g, digits=None)}, stir {steep.stir_s:.0f} s",
                f"{case.units.masses(dose, digits=None)}, stir {stir:.0f} s", words, 2, more, case.grind,
            )  # fmt: skip
