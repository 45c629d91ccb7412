"""What corrects a taste: each taste word with the change that corrects it, from the tables that advice uses."""

from __future__ import annotations

from typing import Literal

from hakari.core.advice.levers import SEEN
from hakari.core.advice.reading import OVER, UNDER

Way = Literal[
    "extract-more", "extract-less", "stronger", "weaker", "rinse-paper", "paper-under-mesh", "fresher-or-other-water"
]
WAYS: tuple[Way, ...] = (
    "extract-more", "extract-less", "stronger", "weaker", "rinse-paper", "paper-under-mesh", "fresher-or-other-water",
)  # fmt: skip
_SEEN_WAYS: dict[tuple[str, str], Way] = {
    ("seating", "rinse"): "rinse-paper",
    ("filter", "paper-under"): "paper-under-mesh",
    ("coffee", "fresher"): "fresher-or-other-water",
    ("water", "change"): "fresher-or-other-water",
}


def taste_lessons() -> dict[str, Way]:
    """Return each taste word and the way that moves it first.

    Returns
    -------
    dict of str to str
        The way by word.
    """
    lessons: dict[str, Way] = dict.fromkeys(UNDER, "extract-more")
    lessons |= dict.fromkeys(OVER, "extract-less")
    lessons |= {"weak": "stronger", "strong": "weaker"}
    for change, way in _SEEN_WAYS.items():
        lessons |= {sign: way for sign in SEEN[change] if sign in ("papery", "silty", "flat")}
    return lessons
