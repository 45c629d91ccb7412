"""Processes for heavy work, so that a live brew's clock never waits for a photo."""

from __future__ import annotations

import ctypes
import logging
import multiprocessing
import os
import queue
import threading
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from functools import cache
from typing import ParamSpec, TypeVar

import cv2

from hakari.core.errors import InputError

log = logging.getLogger(__name__)
M_TRIM_THRESHOLD, M_MMAP_THRESHOLD = -1, -3  # of glibc's malloc.h
KEPT_BYTES = 2**30
Args = ParamSpec("Args")
Answer = TypeVar("Answer")


class Processes:
    """A fixed number of processes, each its own pool, so that a process that dies takes down nothing but its own work.

    With none, work is done in the calling thread.
    """

    def __init__(self, count: int) -> None:
        self._count, self._closed = count, False
        self._idle: queue.LifoQueue[ProcessPoolExecutor] = queue.LifoQueue()
        for _ in range(count):
            self._idle.put(_one())

    @property
    def alive(self) -> bool:
        """Whether work can be done; false once closed."""
        return not self._closed

    def run(self, work: Callable[Args, Answer], *args: Args.args, **kwargs: Args.kwargs) -> Answer:
        """Do work in a process; when that is killed, once more in a new one.

        Raises
        ------
        InputError
            ``work-crashed`` when the second process died as well; whatever the work itself raises.
        """
        if not self._count:
            return work(*args, **kwargs)
        process = self._idle.get()
        try:
            for attempt in (1, 2):
                try:
                    return process.submit(work, *args, **kwargs).result()
                except BrokenProcessPool:
                    log.exception("a process died over %s, attempt %d", work.__name__, attempt)
                    process.shutdown(wait=False)
                    process = _one()
        finally:
            self._idle.put(process)
        raise crashed()

    def close(self) -> None:
        """Stop all that are idle; one at work stops when it is done."""
        self._closed = True
        while not self._idle.empty():
            self._idle.get_nowait().shutdown(cancel_futures=True)


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


def _one() -> ProcessPoolExecutor:
    # Forked from a process that has only imported what measures: one import for all of them, also for those that replace
    # one that died.
    forks = multiprocessing.get_context("forkserver")
    forks.set_forkserver_preload(["hakari.service.batches.measuring", "hakari.service.samples.measuring"])
    return ProcessPoolExecutor(1, mp_context=forks, initializer=_end_with_the_server)


def _end_with_the_server() -> None:
    """Let no process outlive a server that was killed."""

    def watch() -> None:
        server = multiprocessing.parent_process()
        assert server is not None
        server.join()
        os._exit(1)

    threading.Thread(target=watch, daemon=True).start()
