"""Pour schools: each makes a schedule from dose, water and its few options."""

from __future__ import annotations

from dataclasses import dataclass

from hakari.core.brew.schedule import Action, Pour
from hakari.core.errors import InputError

STAGED_REASON = "A bloom and equal stages at fixed times: easy to do the same way tomorrow."


@dataclass(frozen=True)
class StagedOptions:
    """Options of the staged school."""

    stages: int = 3
    bloom_ratio: float = 2.3
    bloom_s: float = 40.0
    stage_s: float = 35.0
    pour_g_per_s: float = 6.0
    swirl_bloom: bool = True


def staged(
    dose_g: float, water_g: float, options: StagedOptions | None = None
) -> tuple[tuple[Pour, ...], tuple[Action, ...]]:
    """Bloom of about twice the dose, then equal stages at fixed times.

    Raises
    ------
    InputError
        ``ratio-out-of-range`` when there is too little water for a bloom, or far too much.
    """
    o = options or StagedOptions()
    ratio = water_g / dose_g if dose_g > 0 else 0.0
    if not 8 <= ratio <= 25:
        raise InputError(
            "ratio-out-of-range", f"Staged pours are made for ratios of 1:8 to 1:25, not 1:{ratio:.1f}.",
            "Change the dose or the water.", field="water_g",
        )  # fmt: skip
    bloom_g = 5.0 * round(o.bloom_ratio * dose_g / 5)  # a figure that the eye finds on a scale
    pours = [Pour(bloom_g, max(5.0, round(bloom_g / o.pour_g_per_s)), 0.0)]
    each = (water_g - bloom_g) / o.stages
    gap = max(o.stage_s, each / o.pour_g_per_s + 8.0)
    for i in range(o.stages):
        pours.append(Pour(each, max(5.0, round(each / o.pour_g_per_s)), round(o.bloom_s + i * gap)))
    actions = (Action(min(12.0, o.bloom_s - 5), "swirl"),) if o.swirl_bloom else ()
    return tuple(pours), actions
