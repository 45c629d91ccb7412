"""Measure many photos: ``hakari batch``."""

from __future__ import annotations

import argparse
import sys
from contextlib import closing

from tqdm import tqdm

from hakari.service.batches.engines import engine_for
from hakari.service.batches.listing import list_samples
from hakari.service.batches.tables import check_ending
from hakari.service.batches.use_cases import BatchProgress, run_batch, samples_path

INTERRUPTED = 130


def run(a: argparse.Namespace) -> int:
    """Measure a folder, a pattern or a list; 3 with ``--strict`` where a photo failed."""
    check_ending(a.output)
    samples = list_samples(a.source, a.scale)
    bar = tqdm(total=sum(len(s.photos) for s in samples), unit="photo", disable=a.quiet, file=sys.stderr)

    def tell(p: BatchProgress) -> None:
        bar.update(p.done - bar.n)
        if p.failed:
            bar.set_postfix(dict(p.failed.most_common(3)), refresh=False)

    try:
        with closing(engine_for(a.scheduler, a.jobs, a.shared_photos)) as engine:
            progress = run_batch(samples, a.output, engine, tell, a.particles)
    except KeyboardInterrupt:
        print("Interrupted. Repeat the same command: what is done is not done again.", file=sys.stderr)
        return INTERRUPTED
    finally:
        bar.close()
    failed = sum(progress.failed.values())
    print(
        f"{progress.done} photos ({progress.earlier} measured earlier), {failed} failed; "
        f"{a.output} and {samples_path(a.output)}",
        file=sys.stderr,
    )
    for reason, count in progress.failed.most_common():
        print(f"{reason}: {count}", file=sys.stderr)
    return 3 if a.strict and failed else 0
