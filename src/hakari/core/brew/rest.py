"""When roasted coffee is at its best: guidelines differ, so the window is a choice."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

RestState = Literal["unknown", "young", "ready", "old"]


@dataclass(frozen=True)
class RestGuideline:
    """A rest guideline: from which day off the roast it drinks, and until when."""

    from_day: int
    to_day: int


REST_GUIDELINES = {"second-day": RestGuideline(2, 30), "a-week": RestGuideline(7, 45), "a-month": RestGuideline(4, 30)}


def rest_of(days_off_roast: int | None, guideline: str) -> tuple[RestState, str]:
    """Return how far a coffee is into its rest window, and that in words; an unknown guideline counts as the first.

    Parameters
    ----------
    days_off_roast : int or None
        Days since roasting; ``None`` where unknown.
    guideline : str
        Guideline of rest.

    Returns
    -------
    tuple[RestState, str]
        How far a coffee is into its rest window, and that in words.
    """
    window = REST_GUIDELINES.get(guideline, REST_GUIDELINES["second-day"])
    if days_off_roast is None:
        return "unknown", "roast day not known"
    if days_off_roast < window.from_day:
        wait = window.from_day - days_off_roast
        return "young", f"young: rest it {wait} more {'day' if wait == 1 else 'days'}"
    if days_off_roast > window.to_day:
        return "old", f"past its window by {days_off_roast - window.to_day} days"
    return "ready", f"in its window for {window.to_day - days_off_roast} more days"
