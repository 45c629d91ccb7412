"""Photos a second of a batch, against a plain loop in the same run: ``python -m benchmarks.batching [PHOTOS]``.

One and two processes of this computer, and a Dask cluster of two workers; then the cost of a photo from 100 to 2,000 of them.
Small pictures, each with a content of its own, so that nothing is taken from a journal.
"""

from __future__ import annotations

import resource
import sys
import tempfile
import time
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

from benchmarks.demo_batch import scene
from benchmarks.pictures.flat import make_picture
from hakari.core.photo.pipeline import CardScale
from hakari.service.batches.engines import ClusterEngine, Engine, LocalEngine
from hakari.service.batches.listing import list_samples
from hakari.service.batches.use_cases import run_batch
from hakari.service.samples.measuring import measure_files

KINDS, COUNTS = 8, (100, 400, 2000)


def _photos(folder: Path, count: int) -> Path:
    """Write photos of a few pictures, distinguished by four bytes after the end."""
    made = [make_picture(scene(k % 2, k, 0)).jpeg for k in range(KINDS)]
    folder.mkdir()
    for k in range(count):
        (folder / f"{k:05}.jpg").write_bytes(made[k % KINDS] + k.to_bytes(4, "big"))
    return folder


def _rate(folder: Path, output: Path, make: Callable[[], Engine]) -> float:
    """Return photos a second, without the start of the workers, which a first small run has paid."""
    samples = list_samples(str(folder))
    with closing(make()) as engine:
        run_batch(samples[:4], output.with_name(f"warm-{output.name}"), engine)
        started = time.perf_counter()
        run_batch(samples, output, engine)
    return len(samples) / (time.perf_counter() - started)


def main() -> None:
    """Print the rates as ratios to the plain loop, then the cost of a photo by their number."""
    from distributed import LocalCluster

    count = int(sys.argv[1]) if len(sys.argv) > 1 else 80
    with tempfile.TemporaryDirectory() as base:
        home = Path(base)
        folder = _photos(home / "photos", count)
        started = time.perf_counter()
        for path in sorted(folder.iterdir()):
            measure_files([path.read_bytes()], CardScale())
        plain = count / (time.perf_counter() - started)
        print(f"plain loop            {plain:5.2f} photos/s")
        for jobs in (1, 2):
            rate = _rate(folder, home / f"local{jobs}.jsonl", lambda jobs=jobs: LocalEngine(jobs))  # type: ignore[misc]
            print(f"{jobs} local process(es)  {rate:5.2f} photos/s, {rate / plain:.2f} times the plain loop")
        peak = resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 1024
        print(f"largest worker        {peak:.0f} MB")
        with LocalCluster(n_workers=2, threads_per_worker=1, dashboard_address=None, silence_logs=50) as cluster:
            rate = _rate(folder, home / "far.jsonl", lambda: ClusterEngine(cluster.scheduler_address))
        print(f"Dask, 2 workers       {rate:5.2f} photos/s, {rate / plain:.2f} times the plain loop")
        if "--many" in sys.argv:
            for many in COUNTS:
                rate = _rate(_photos(home / f"photos{many}", many), home / f"many{many}.jsonl", lambda: LocalEngine(2))
                print(f"{many:5} photos          {1000 / rate:5.0f} ms a photo")


if __name__ == "__main__":
    main()
