"""Where samples are measured: processes of this computer, or the workers of a Dask cluster."""

from __future__ import annotations

import os
from collections.abc import Iterable, Iterator
from concurrent.futures import FIRST_COMPLETED, Future, ThreadPoolExecutor, wait
from dataclasses import dataclass
from typing import Any, Protocol

from hakari.core.errors import InputError
from hakari.service.batches.listing import BatchSample
from hakari.service.batches.measuring import SampleResult, crashed, measure_sample, measure_sample_there
from hakari.service.workspace.cluster import connect, scheduler_gone
from hakari.service.workspace.processes import Processes, on_one_core

# So many samples wait for each worker: none idles, and the photos of few are in memory.
AHEAD = 3


@dataclass(frozen=True)
class Work:
    """A sample to be measured: its photos as bytes, their contents, and the key of its result."""

    sample: BatchSample
    data: tuple[bytes, ...]
    contents: tuple[str, ...]
    key: str
    particles: bool


class Engine(Protocol):
    """Measures samples, in whatever order they are done."""

    def run(self, work: Iterable[Work]) -> Iterator[SampleResult]:
        """Yield a result for each piece of work."""
        ...

    def close(self) -> None:
        """Let go of the workers."""
        ...


class LocalEngine:
    """Processes of this computer, as many as it has cores; one that is killed takes down nothing but its own sample."""

    def __init__(self, jobs: int | None = None) -> None:
        self.jobs = jobs or os.cpu_count() or 1
        self._processes = Processes(self.jobs)
        # A thread waits for each process.
        self._threads = ThreadPoolExecutor(self.jobs)

    def run(self, work: Iterable[Work]) -> Iterator[SampleResult]:
        """Yield results as they are done."""
        pending: set[Future[SampleResult]] = set()
        for piece in work:
            pending.add(self._threads.submit(self._one, piece))
            if len(pending) >= AHEAD * self.jobs:
                done, pending = wait(pending, return_when=FIRST_COMPLETED)
                for future in done:
                    yield future.result()
        while pending:
            done, pending = wait(pending, return_when=FIRST_COMPLETED)
            for future in done:
                yield future.result()

    def _one(self, w: Work) -> SampleResult:
        try:
            return self._processes.run(on_one_core, measure_sample, w.sample, w.data, w.key, w.particles)
        except InputError as error:
            return crashed(w.sample, w.contents, w.key, f"{error.message} {error.remedy}")

    def close(self) -> None:
        """Stop the processes."""
        self._threads.shutdown(wait=False, cancel_futures=True)
        self._processes.close()


class ClusterEngine:
    """A Dask cluster by the address of its scheduler.

    Photos are sent to the workers as bytes; or, where ``shared_photos`` says that they reach the same addresses, by those.
    """

    def __init__(self, address: str, timeout_s: float = 15.0, shared_photos: bool = False) -> None:
        self._shared_photos = shared_photos
        self._client: Any = connect(address, timeout_s)
        self._address = address

    def run(self, work: Iterable[Work]) -> Iterator[SampleResult]:
        """Yield results as they are done.

        Raises
        ------
        InputError
            ``scheduler-gone`` when the scheduler cannot be reached any more; what was yielded is done.
        """
        from distributed import CancelledError, KilledWorker
        from distributed import as_completed as completed

        as_completed: Any = completed

        ahead = AHEAD * max(1, sum(self._client.nthreads().values()))
        pieces, running = iter(work), as_completed(loop=self._client.loop)
        waiting: dict[str, Work] = {}

        def submit() -> bool:
            piece = next(pieces, None)
            if piece is None:
                return False
            name = f"hakari-{piece.key}-{len(waiting)}"
            what = (measure_sample_there, piece.contents) if self._shared_photos else (measure_sample, piece.data)
            future = self._client.submit(
                on_one_core, what[0], piece.sample, what[1], piece.key, piece.particles, key=name, pure=False
            )
            waiting[future.key] = piece
            running.add(future)
            return True

        for _ in range(ahead):
            if not submit():
                break
        try:
            for future in running:
                piece = waiting.pop(future.key)
                try:
                    yield future.result()
                except KilledWorker:
                    yield crashed(piece.sample, piece.contents, piece.key, "It stopped the workers that measured it.")
                submit()
        except (CancelledError, OSError, TimeoutError) as error:
            raise scheduler_gone(self._address) from error
        if waiting:
            raise scheduler_gone(self._address)

    def close(self) -> None:
        """Leave the cluster; it goes on for others."""
        self._client.close(timeout=2)


def engine_for(scheduler: str | None, jobs: int | None, shared_photos: bool = False) -> Engine:
    """Return the cluster of a scheduler, or this computer's processes."""
    return ClusterEngine(scheduler, shared_photos=shared_photos) if scheduler else LocalEngine(jobs)
