"""How much of the longest tests runs: a part each time, all of it by `make thorough`."""

from __future__ import annotations

import os

THOROUGH = os.environ.get("HAKARI_TESTS") == "thorough"


def tries(each_time: int, thorough: int) -> int:
    """Return how often a test that gains by repeating is repeated."""
    return thorough if THOROUGH else each_time
