"""A batch as one page that needs nothing else: what changed, control charts, and the photos behind each point."""

from __future__ import annotations

import io
from collections.abc import Sequence
from datetime import datetime
from pathlib import Path
from typing import Any

import numpy as np
from jinja2 import Environment, FileSystemLoader

from hakari.core.errors import InputError
from hakari.formats.batch import OK, PhotoRow, SampleRow
from hakari.service.batches.tables import read_table
from hakari.service.batches.tracking import Followed, Group, change_words, follow, likely_cause
from hakari.service.batches.use_cases import samples_path

TEMPLATE = "report.html.j2"
INK, FAINT, CELADON, WASH, PERSIMMON, PAPER = "#1b2440", "#5a6279", "#4f8b76", "#dde9e1", "#b83f19", "#fbf8f1"


def write_report(source: Path, output: Path, now: datetime) -> list[Group]:
    """Write the report of a batch's results; return what it is of.

    Raises
    ------
    InputError
        As ``read_table``; ``nothing-to-follow`` where no sample that was measured has a date.
    """
    photos, samples = read_table(source, PhotoRow), read_table(samples_path(source), SampleRow)
    groups = follow(samples)
    if not groups:
        raise InputError(
            "nothing-to-follow", "No sample that was measured has a date.",
            "Measure a list with the columns photo, grinder, setting and date (2026-03-14).", field="file",
        )  # fmt: skip
    behind: dict[str, list[str]] = {}
    for p in photos:
        behind.setdefault(p.sample, []).append(p.photo)
    page = Environment(loader=FileSystemLoader(Path(__file__).parent), autoescape=True).get_template(TEMPLATE)
    text = page.render(
        source=source.name, photos=len(photos), samples=len(samples), now=now,
        failed=[p for p in photos if p.status != OK], changes=list(_changes(groups)), places=_places(groups),
        groups=[_group(k, g, behind) for k, g in enumerate(groups)],
    )  # fmt: skip
    output.write_text(text, encoding="utf-8")
    return groups


def _changes(groups: Sequence[Group]) -> list[dict[str, Any]]:
    return [
        {"number": k, "name": _name(g), "words": _words(g), "cause": likely_cause(g) or ""}
        for k, g in enumerate(groups)
        if g.changed
    ]


def _places(groups: Sequence[Group]) -> list[dict[str, Any]]:
    """Cafés side by side: how many charts each has, how many changed, when it was looked at last, its medians now."""
    found = []
    for place in sorted({g.place for g in groups}):
        own = [g for g in groups if g.place == place]
        medians = [f"{g.grinder} {g.setting}: {g.figures[0].value[-1]:.0f} µm" for g in own if g.figures[0].value]
        found.append(
            {
                "name": place or "no place named", "charts": len(own), "changed": sum(g.changed for g in own),
                "last": max(f.when[-1] for g in own for f in g.figures if f.when), "now": ", ".join(medians),
            }
        )  # fmt: skip
    return found


def _group(number: int, g: Group, behind: dict[str, list[str]]) -> dict[str, Any]:
    median = g.figures[0]
    rows = [
        {
            "anchor": f"g{number}s{k}", "when": when, "median": f"{row.d50_um:.0f} µm", "verdict": row.verdict or "",
            "interval": f"{row.d50_low_um or 0:.0f} to {row.d50_high_um or 0:.0f}", "photos": behind.get(row.sample, []),
            "fines": "" if row.fines_below_100 is None else f"{100 * row.fines_below_100:.1f} %",
        }
        for k, (row, when) in enumerate(zip(median.rows, median.when, strict=True))
    ]  # fmt: skip
    return {"name": _name(g), "changed": g.changed, "words": _words(g), "rows": rows, "svg": _svg(number, g)}


def _words(g: Group) -> str:
    words = [w for f in g.figures if (w := change_words(f))]
    if words:
        return "; ".join(words)
    return "fewer than five samples: no limits yet" if all(f.chart is None for f in g.figures) else "steady"


def _name(g: Group) -> str:
    setting = f" at {g.setting}" if g.setting else ""
    return f"{g.place + ', ' if g.place else ''}{g.grinder or 'no grinder named'}{setting}"


def _svg(number: int, g: Group) -> str:
    """Draw the figures of a group under each other; each point links to its row and so to its photos."""
    from matplotlib.figure import Figure

    figure = Figure(figsize=(10, 2 * len(g.figures)), facecolor=PAPER, layout="constrained")
    axes = figure.subplots(len(g.figures), 1, sharex=True, squeeze=False)[:, 0]
    for axis, followed in zip(axes, g.figures, strict=True):
        _draw(axis, number, followed)
    out = io.StringIO()
    figure.savefig(out, format="svg", metadata={"Date": None})
    text = out.getvalue()
    return text[text.index("<svg") :]


def _draw(axis: Any, number: int, f: Followed) -> None:
    axis.set_facecolor(PAPER)
    axis.set_ylabel(f.label, fontsize=8, color=FAINT)
    axis.tick_params(labelsize=8, colors=FAINT)
    for side in ("top", "right"):
        axis.spines[side].set_visible(False)
    chart = f.chart
    if chart is not None:
        axis.axhspan(np.exp(chart.low_ln), np.exp(chart.high_ln), color=WASH, zorder=0)
        axis.axhline(np.exp(chart.centre_ln), color=CELADON, linewidth=1, linestyle=(0, (5, 4)))
        axis.plot(f.when, np.exp(chart.average_ln), color=INK, linewidth=1.2)
        if chart.since is not None:
            axis.axvline(f.when[chart.since], color=PERSIMMON, linewidth=1)
    out = set(chart.out) if chart is not None else set()
    for k, (when, value) in enumerate(zip(f.when, f.value, strict=True)):
        marker, colour = ("D", PERSIMMON) if k in out else ("o", INK)
        point = axis.scatter([when], [value], s=26, marker=marker, color=colour, zorder=3)
        point.set_urls([f"#g{number}s{k}"])
