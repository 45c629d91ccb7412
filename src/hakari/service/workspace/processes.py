"""Processes for heavy work, so that a live brew's clock never waits for a photo."""

from __future__ import annotations

import ctypes
import logging
import multiprocessing
import os
import queue
import resource
import threading
from collections.abc import Callable
from functools import cache
from typing import Any, Literal, ParamSpec, TypeVar

import cv2
from pebble import ProcessExpired, ProcessPool

from hakari.core.errors import InputError

log = logging.getLogger(__name__)
M_TRIM_THRESHOLD, M_MMAP_THRESHOLD = -1, -3  # of glibc's malloc.h
KEPT_BYTES = 2**30
NICER = 10
# For one photo; one of 60 megapixels with 22,000 grounds was measured in 10 s and 1.3 GB.
LONGEST_S, MOST_BYTES = 120.0, 3 * 2**30
Args = ParamSpec("Args")
Answer = TypeVar("Answer")
StartMethod = Literal["forkserver", "fork"]


class Processes:
    """A fixed number of processes, each its own pool, so that a process that dies takes down nothing but its own work.

    Each may take ``longest_s`` for a piece of work and hold ``most_bytes`` of memory; then the work ends with a refusal, and
    nothing else. With no process, work is done in the calling thread, without limits.
    """

    def __init__(
        self, count: int, longest_s: float = LONGEST_S, most_bytes: int = MOST_BYTES, start: StartMethod = "forkserver"
    ) -> None:
        self._count, self._closed, self._start = count, False, start
        self._longest_s, self._most_bytes = longest_s, most_bytes
        self._idle: queue.LifoQueue[ProcessPool] = queue.LifoQueue()
        for _ in range(count):
            self._idle.put(self._one())

    @property
    def alive(self) -> bool:
        """Whether work can be done; false once closed."""
        return not self._closed

    def run(self, work: Callable[Args, Answer], *args: Args.args, **kwargs: Args.kwargs) -> Answer:
        """Do work in a process; when that is killed, once more in a new one.

        Raises
        ------
        InputError
            ``work-crashed`` when the second process died as well, ``work-too-long`` and ``work-too-large`` past the limits;
            whatever the work itself raises.
        """
        if not self._count:
            return work(*args, **kwargs)
        process = self._idle.get()
        try:
            for attempt in (1, 2):
                future = process.schedule(_within_memory, (work, *args), kwargs, timeout=self._longest_s)
                try:
                    answer: Answer = future.result()
                    return answer
                except ProcessExpired:
                    log.exception("a process died over %s, attempt %d", work.__name__, attempt)
                except TimeoutError as error:
                    log.warning("%s took longer than %.0f s and was ended", work.__name__, self._longest_s)
                    raise _too_long(self._longest_s) from error
        finally:
            self._idle.put(process)
        raise crashed()

    def close(self) -> None:
        """Stop all that are idle; one at work stops when it is done."""
        self._closed = True
        while not self._idle.empty():
            idle: Any = self._idle.get_nowait()
            idle.stop()
            idle.join()

    def _one(self) -> ProcessPool:
        # Forked from a process that has only imported what measures: one import for all of them, also for those that
        # replace one that died. A command without threads of its own forks itself, which is quicker.
        forks = multiprocessing.get_context(self._start)
        if self._start == "forkserver":
            forks.set_forkserver_preload(["hakari.service.batches.measuring", "hakari.service.samples.measuring"])
        return ProcessPool(1, initializer=_begin, initargs=(self._most_bytes,), context=forks)


def _within_memory(work: Callable[Args, Answer], *args: Args.args, **kwargs: Args.kwargs) -> Answer:
    """Do work; what would take more memory than the process may have is refused."""
    try:
        return work(*args, **kwargs)
    except MemoryError as error:
        raise _too_large() from error
    except cv2.error as error:
        if error.code == cv2.Error.STS_NO_MEM:
            raise _too_large() from error
        raise


def on_one_core(work: Callable[Args, Answer], *args: Args.args, **kwargs: Args.kwargs) -> Answer:
    """Do work in one of many workers: as many work side by side as there are cores, so none needs threads of its own."""
    cv2.setNumThreads(1)
    _keep_memory()
    return work(*args, **kwargs)


@cache
def _keep_memory() -> None:
    """Have the C library keep the memory of one photo for the next.

    Where it is given back and asked for again, the kernel clears every page each time: a third of the time where a worker's
    environment asks for memory to be given back at once, as Dask's does.
    """
    try:
        mallopt = ctypes.CDLL(None).mallopt
    except (OSError, AttributeError):
        return  # another C library
    for what in (M_MMAP_THRESHOLD, M_TRIM_THRESHOLD):
        mallopt(what, KEPT_BYTES)


def crashed() -> InputError:
    """Return what is said of a photo that stopped whatever measured it."""
    return InputError(
        "work-crashed",
        "Reading this photo stopped the program that measures, twice.",
        "Save the photo again as a JPEG, or make it smaller, then try again.",
    )


def _too_long(seconds: float) -> InputError:
    return InputError(
        "work-too-long", f"Reading this photo took more than {seconds:.0f} s and was ended.",
        "Check that it shows grounds on paper; make it smaller, then try again.",
    )  # fmt: skip


def _too_large() -> InputError:
    return InputError(
        "work-too-large", "Reading this photo takes more memory than it may have.",
        "Make it smaller, then try again.",
    )  # fmt: skip


def limit_memory(most_bytes: int) -> None:
    """Have the system refuse this process more memory of its own than that."""
    _, hard = resource.getrlimit(resource.RLIMIT_DATA)
    most = most_bytes if hard == resource.RLIM_INFINITY else min(most_bytes, hard)
    resource.setrlimit(resource.RLIMIT_DATA, (most, hard))


def _begin(most_bytes: int) -> None:
    limit_memory(most_bytes)
    # Whoever works at the page goes before a photo that is being measured.
    os.nice(NICER)
    _end_with_the_server()


def _end_with_the_server() -> None:
    """Let no process outlive a server that was killed."""

    def watch() -> None:
        server = multiprocessing.parent_process()
        assert server is not None
        server.join()
        os._exit(1)

    threading.Thread(target=watch, daemon=True).start()
