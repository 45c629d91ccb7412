"""Measure photos: ``hakari measure``."""

from __future__ import annotations

import argparse
from contextlib import closing

from hakari.cli.files import read, write
from hakari.formats.measurement import particles_csv
from hakari.service.samples.measuring import measure_files, overlay_png, parse_scale
from hakari.service.workspace.processes import Processes


def run(a: argparse.Namespace) -> int:
    """Measure photos of one grind."""
    scale = parse_scale(a.scale, a.bar_mm)
    files = [read(p) for p in a.photos]
    # Whatever a picture does to the process that reads it, the command says so.
    with closing(Processes(1, start="fork")) as processes:
        sample = measure_files(files, scale, a.polarity, processes)
    if a.particles:
        write(a.particles, particles_csv(sample.particles).encode())
    if a.overlay:
        write(a.overlay, overlay_png(files[0], sample.photos[0].particles))
    m = sample.document
    if a.json:
        print(m.model_dump_json())
        return 0
    low, high = m.ci95.d50_um
    print(f"D50 {m.d50_um:.0f} µm ({low:.0f} to {high:.0f}), D10 {m.d10_um:.0f}, D90 {m.d90_um:.0f}, span {m.span:.2f}")
    print(f"{m.particles} grounds from {m.cut_um:.0f} µm up; nothing seen below {m.resolution_limit_um:.0f} µm")
    print(f"{m.verdict.level}: {m.verdict.reason}")
    for f in m.findings:
        print(f"{f.severity}: {f.message} {f.remedy}")
    return 0
