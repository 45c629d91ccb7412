"""Photos a second of a batch, against a plain loop in the same run: ``python -m benchmarks.batching [PHOTOS]``.

One and two processes of this computer and a Dask cluster of two workers, in turn with the loop and several times over: a
machine whose speed changes does so for all. Then the cost of a photo from 100 to 2,000 small ones, each against a loop.
Each photo has a content of its own, so that nothing is taken from a journal.
"""

from __future__ import annotations

import multiprocessing
import sys
import tempfile
import time
from collections.abc import Callable
from contextlib import closing
from dataclasses import replace
from pathlib import Path
from statistics import median

from benchmarks.demo_batch import scene
from benchmarks.pictures.flat import make_picture
from benchmarks.pictures.flat_camera import Scene
from hakari.service.batches.engines import ClusterEngine, Engine, LocalEngine
from hakari.service.batches.listing import BatchSample, list_samples
from hakari.service.batches.use_cases import run_batch
from hakari.service.samples.measuring import measure_files, parse_scale

KINDS, ROUNDS, COUNTS = 8, 3, (100, 400, 2000)
SMALL = replace(scene(0, 0, 0), width_px=300, height_px=225, coverage=0.02, with_card=False)
SMALL_SCALE = f"points:0,0,100,0,{SMALL.um_per_px / 10:g}"


def _photos(folder: Path, scenes: list[Scene], count: int) -> Path:
    """Write photos of a few pictures, distinguished by four bytes after the end."""
    made = [make_picture(s).jpeg for s in scenes]
    folder.mkdir()
    for k in range(count):
        (folder / f"{k:05}.jpg").write_bytes(made[k % len(made)] + k.to_bytes(4, "big"))
    return folder


def _loop(samples: list[BatchSample]) -> None:
    for sample in samples:
        measure_files([Path(sample.photos[0]).read_bytes()], parse_scale(sample.scale))


def _seconds(work: Callable[[], object]) -> float:
    started = time.perf_counter()
    work()
    return time.perf_counter() - started


def _largest_mb() -> float:
    """Return the largest memory that a worker of this computer has had, MB."""
    peaks = []
    for worker in multiprocessing.active_children():
        if worker.name.startswith("Dask"):
            continue
        said = Path(f"/proc/{worker.pid}/status").read_text()
        peaks.append(int(said.split("VmHWM:")[1].split()[0]) / 1024)
    return max(peaks)


def _speed(home: Path, count: int) -> None:
    from distributed import LocalCluster

    samples = list_samples(str(_photos(home / "photos", [scene(k % 2, k, 0) for k in range(KINDS)], count)))
    part = max(1, count // ROUNDS)
    with LocalCluster(n_workers=2, threads_per_worker=1, dashboard_address=None, silence_logs=50) as cluster:
        engines: dict[str, Engine] = {
            "1 local process": LocalEngine(1), "2 local processes": LocalEngine(2),
            "Dask, 2 workers": ClusterEngine(cluster.scheduler_address),
        }  # fmt: skip
        for name, engine in engines.items():  # a first photo pays for what is loaded
            run_batch(samples[:4], home / f"warm {name}.jsonl", engine)
        _loop(samples[:2])
        rates: dict[str, list[float]] = {name: [] for name in ("plain loop", *engines)}
        for k in range(ROUNDS):
            some = samples[k * part : (k + 1) * part]
            rates["plain loop"].append(len(some) / _seconds(lambda some=some: _loop(some)))  # type: ignore[misc]
            for name, engine in engines.items():
                output = home / f"{name} {k}.jsonl"
                took = _seconds(lambda s=some, o=output, e=engine: run_batch(s, o, e))  # type: ignore[misc]
                rates[name].append(len(some) / took)
        for name, found in rates.items():
            ratio = median(r / p for r, p in zip(found, rates["plain loop"], strict=True))
            print(f"{name:18} {median(found):6.2f} photos/s, {ratio:.2f} times the plain loop")
        print(f"memory             {_largest_mb():6.0f} MB at most in a local worker")
        for engine in engines.values():
            engine.close()


def _by_number(home: Path) -> None:
    """Print what a photo costs as there are more of them."""
    scenes = [replace(SMALL, seed=k) for k in range(KINDS)]
    with closing(LocalEngine(2)) as engine:
        few = list_samples(str(_photos(home / "few", scenes, 40)), SMALL_SCALE)
        run_batch(few, home / "few.jsonl", engine)
        for count in COUNTS:
            loop_ms = 1000 * _seconds(lambda: _loop(few)) / len(few)
            samples = list_samples(str(_photos(home / f"small{count}", scenes, count)), SMALL_SCALE)
            busy = time.process_time()
            took = _seconds(lambda s=samples, c=count: run_batch(s, home / f"many{c}.jsonl", engine))  # type: ignore[misc]
            own_ms = 1000 * (time.process_time() - busy) / count
            photo_ms = 1000 * took / count
            print(
                f"{count:5} small photos {photo_ms:6.1f} ms a photo, {photo_ms / loop_ms:.2f} of the loop's; "
                f"{own_ms:.1f} ms of it to hand it out and write it down"
            )


def main() -> None:
    """Print the rates as ratios to the plain loop, then the cost of a photo by their number."""
    with tempfile.TemporaryDirectory() as home:
        _speed(Path(home), int(sys.argv[1]) if len(sys.argv) > 1 else 144)
        _by_number(Path(home))


if __name__ == "__main__":
    main()
