"""Plan and judge an experiment: ``hakari experiment``."""

from __future__ import annotations

import argparse

from hakari.cli.files import read_document
from hakari.formats.experiment import ExperimentDocument
from hakari.formats.experiment_result import ExperimentResult, judge


def run(a: argparse.Namespace) -> int:
    """Say what an experiment can show, and what it shows so far."""
    document = read_document(a.file, ExperimentDocument)
    answer = judge(document.experiment)
    if a.json:
        print(answer.model_dump_json())
        return 0
    print(document.name)
    for line in _lines(answer):
        print(line)
    return 0


def _lines(r: ExperimentResult) -> list[str]:
    """Return the result in words."""
    said = []
    if r.power is not None:
        needed = r.power.rights_needed
        said.append(
            f"{r.power.rounds} rounds: {needed or 'no number of'} rights tell the two apart; "
            f"if {100 * r.power.expected_can_tell:.0f} % can be told, that happens {100 * r.power.power:.0f} % of the time"
        )
    triangle = r.triangle or (r.sieve.triangle if r.sieve else None)
    if triangle is not None:
        low, high = (100 * v for v in triangle.ci95_can_tell)
        said.append(
            f"{triangle.rights} of {triangle.rounds} right; by guessing alone this or more comes "
            f"{100 * triangle.p_value:.1f} % of the time; told, not guessed: {100 * triangle.can_tell:.0f} % "
            f"(95 % interval {low:.0f} to {high:.0f} %)"
        )
    if r.two_ways is not None:
        low, high = r.two_ways.ci95
        said.append(f"B differs by {r.two_ways.mean:+.3g} ({low:+.3g} to {high:+.3g}): {r.two_ways.verdict}")
    if r.ladder is not None:
        said.append(f"best step {r.ladder.best:g} ({r.ladder.ci95[0]:.3g} to {r.ladder.ci95[1]:.3g})")
    if r.hand is not None and r.hand.time_s is not None:
        said.append(f"time: ±{r.hand.time_s.sd:.1f} s; a change is believed from {r.hand.time_s.believed_from:.0f} s")
    if r.thirds is not None:
        said += [
            f"cup {k + 1}: {p.share_percent:.0f} % of what was dissolved; stopped here {p.mixed_tds_percent:.2f} %, "
            f"{p.mixed_ey_percent:.1f} % extracted"
            for k, p in enumerate(r.thirds.found)
        ]
    if r.three_grinds is not None and r.three_grinds.time_per_size_found is not None:
        said.append(f"1 % coarser: time {r.three_grinds.time_per_size_found:+.1f} %")
    return said
