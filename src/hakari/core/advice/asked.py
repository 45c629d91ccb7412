"""Which evidence a method is asked for, apart from the taste: nothing that it does not have."""

from __future__ import annotations

from typing import Literal

from hakari.core.advice.evidence import Case
from hakari.core.brew.filters import PAPERS

Asked = Literal["bare-bed", "last-drip", "spent-bed", "ended", "press-force", "silt", "added-water", "held-back"]

HOLD_SILT = (*PAPERS, "cloth", "mesh-and-paper")


def asked_of(case: Case) -> tuple[Asked, ...]:
    """Return what a person can tell of a brew of this family.

    Parameters
    ----------
    case : Case
        The brew to be judged.

    Returns
    -------
    tuple of str
        Kinds of evidence.
    """
    steep = case.plan.steep
    asked: list[Asked] = ["bare-bed", "last-drip", "spent-bed"] if steep is None else ["ended"]
    pressed = steep is not None and steep.ending == "press"
    if pressed:
        asked.append("press-force")
    if case.plan.filter_name not in HOLD_SILT or pressed:
        asked.append("silt")
    if case.diluted:
        asked.append("added-water")
    if case.held_back_g > 0:
        asked.append("held-back")
    return tuple(asked)
