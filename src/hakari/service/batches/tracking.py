"""A batch over time: each grinder at each setting as control charts, and what changed there."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime

import numpy as np

from hakari.core.experiment.control_chart import ControlChart, control_chart
from hakari.core.psd.distribution import CUT_UM
from hakari.core.psd.photo_requirement import same_light_half_width
from hakari.formats.batch import SampleRow

FIGURES: tuple[tuple[str, str, Callable[[SampleRow], float | None]], ...] = (
    ("median", "Median, µm", lambda r: r.d50_um),
    ("fines", "Under 100 µm, extrapolated, %", lambda r: 100 * (r.fines_below_100 or 0) if _sees_fines(r) else None),
    ("spread", "Spread (D90 − D10)/D50", lambda r: r.span),
)
# Fines and spread are known less well than the median: fines to a tenth at best, the spread with both its ends' errors.
FINES_ERROR_LN, SPREAD_ERRORS = 0.1, 2.0


@dataclass(frozen=True)
class Followed:
    """One figure of one grinder at one setting: the samples, when they were taken, and their chart."""

    name: str
    label: str
    rows: tuple[SampleRow, ...]
    when: tuple[datetime, ...]
    value: tuple[float, ...]
    chart: ControlChart | None


@dataclass(frozen=True)
class Group:
    """A grinder at a setting, in one place, with its figures over time."""

    place: str
    grinder: str
    setting: str
    figures: tuple[Followed, ...]

    @property
    def changed(self) -> bool:
        """Whether any figure drifts or has jumped."""
        return any(f.chart is not None and f.chart.change is not None for f in self.figures)


def follow(rows: Sequence[SampleRow]) -> list[Group]:
    """Return the charts of all grinders and settings that were measured at known times, those that changed first."""
    groups: dict[tuple[str, str, str], list[tuple[datetime, SampleRow]]] = {}
    for row in rows:
        when = date_of(row)
        if when is not None and row.d50_um is not None:
            groups.setdefault((row.place or "", row.grinder or "", row.setting or ""), []).append((when, row))
    made = []
    for (place, grinder, setting), dated in groups.items():
        dated.sort(key=lambda pair: pair[0])
        figures = (_followed(n, label, of, dated) for n, label, of in FIGURES)
        made.append(Group(place, grinder, setting, tuple(f for f in figures if f.value)))
    return sorted(made, key=lambda g: (not g.changed, g.place, g.grinder, g.setting))


def date_of(row: SampleRow) -> datetime | None:
    """Return when a sample was taken, as its list says; ``None`` where it does not, or not in ISO form."""
    try:
        return datetime.fromisoformat(row.date).replace(tzinfo=None) if row.date else None
    except ValueError:
        return None


def change_words(f: Followed) -> str | None:
    """Return what happened to a figure; ``None`` where it is steady or too little is known."""
    chart = f.chart
    if chart is None or chart.change is None:
        return None
    percent = 100 * float(np.expm1(chart.change_ln))
    way = f"{abs(percent):.1f} % {'up' if percent > 0 else 'down'}"
    if chart.change == "drift" or chart.since is None:
        return f"{f.name} drifts: {way} over {max(1, (f.when[-1] - f.when[0]).days)} days"
    return f"{f.name} jumped: {way} on {f.when[chart.since]:%d %b %Y}"


def likely_cause(g: Group) -> str | None:
    """Return what such a change usually comes from."""
    kinds = {f.name: f.chart.change for f in g.figures if f.chart is not None and f.chart.change}
    if kinds.get("median") == "jump":
        return "A step from one day to the next: a dial that was knocked or set again, a cleaning, new burrs, another coffee."
    if kinds.get("median") == "drift" or kinds.get("fines") == "drift":
        return "A slow change: burrs that wear, or dirt that builds up. Clean it, and measure again."
    return "Look at the photos behind the points first: light, card and pinch." if kinds else None


def _followed(
    name: str, label: str, of: Callable[[SampleRow], float | None], dated: list[tuple[datetime, SampleRow]]
) -> Followed:
    known = [(w, r, v) for w, r in dated if (v := of(r)) is not None and v > 0]
    when = tuple(w for w, _, _ in known)
    days = [(w - when[0]).total_seconds() / 86_400 for w in when] if when else []
    errors = [_error_ln(name, r) for _, r, _ in known]
    chart = control_chart(days, [v for _, _, v in known], errors)
    return Followed(name, label, tuple(r for _, r, _ in known), when, tuple(v for _, _, v in known), chart)


def _sees_fines(row: SampleRow) -> bool:
    """Whether photos show grounds down to 100 µm, so that what lies below is more than a guess."""
    return row.cut_um is not None and row.cut_um <= CUT_UM


def _error_ln(name: str, row: SampleRow) -> float:
    """Return the standard error of a figure among photos of one light, in ln."""
    if name == "fines":
        return FINES_ERROR_LN
    median = _median_error_ln(row)
    return SPREAD_ERRORS * median if name == "spread" else median


def _median_error_ln(row: SampleRow) -> float:
    if row.d50_low_um is None or row.d50_high_um is None:
        return 0.0
    half = float(np.sqrt(row.d50_high_um / row.d50_low_um) - 1)
    return same_light_half_width(half, row.light_error or 0.0, row.photos - row.failed) / 1.96
