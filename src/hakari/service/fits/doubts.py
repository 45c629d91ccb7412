"""What speaks against learning from a brew: it was practice, it was forgotten, or its taps cannot have been pours."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from hakari.core.advice.plausibility import last_pour_ends_s
from hakari.store import models

# A hand's tap so far behind the plan, seconds and share, is one that came back to a brew long over.
LATE_S, LATE_SHARE = 120.0, 0.8
# No kettle's spout gives more, g/s.
FASTEST_G_S = 25.0


@dataclass(frozen=True)
class Doubt:
    """A reason not to learn from a brew, and its words."""

    code: Literal["practice", "forgotten", "impossible-taps", "poured-sooner"]
    words: str


def doubts_of(row: models.Brew, plan: models.Plan) -> list[Doubt]:
    """Why a brew is not learned from; empty for one that is."""
    found: list[Doubt] = []
    if row.scale is not None and row.scale.simulated:
        found.append(Doubt("practice", "practice on the simulated scale"))
    dripped = plan.document.steep is None and not row.stalled
    # A time that was typed is meant; one that was tapped is when the hand came back.
    tapped_s = max((m.at_s for m in row.marks if m.by == "tap" and m.at_s == row.bare_bed_s), default=0.0)
    # The prediction is read where it is needed alone.
    if dripped and tapped_s > LATE_S and _is_late(tapped_s, plan.prediction.drawdown_s):
        found.append(Doubt("forgotten", "its end was tapped long after the plan; if it stalled, note that"))
    captured = row.found
    planned = last_pour_ends_s(plan.document.core()) if dripped else None
    told = captured is not None and captured.pours_from != "plan"
    if planned is not None and not told and row.bare_bed_s is not None and row.bare_bed_s < planned:
        found.append(Doubt("poured-sooner", "it was poured sooner than planned, and nobody knows when"))
    if captured is not None and captured.pours_from == "taps":
        fastest = max((p.water_g / max(p.end_s - p.start_s, 0.1) for p in captured.pours), default=0.0)
        if fastest > FASTEST_G_S:
            found.append(Doubt("impossible-taps", f"its taps mean a pour of {fastest:.0f} g/s"))
    return found


def _is_late(tapped_s: float, planned_s: float) -> bool:
    return tapped_s > planned_s + max(LATE_S, LATE_SHARE * planned_s)
