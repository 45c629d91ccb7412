"""Processes for heavy work, so that a live brew's clock never waits for a photo."""

from __future__ import annotations

import logging
import multiprocessing
import queue
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from typing import ParamSpec, TypeVar

from hakari.core.errors import InputError

log = logging.getLogger(__name__)
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

    def pids(self) -> list[int]:
        """Return the processes that are idle and have worked."""
        return [pid for pool in list(self._idle.queue) for pid in (pool._processes or {})]

    def close(self) -> None:
        """Stop all that are idle; one at work stops when it is done."""
        self._closed = True
        while not self._idle.empty():
            self._idle.get_nowait().shutdown(cancel_futures=True)


def crashed() -> InputError:
    """Return what is said of a photo that stopped whatever measured it."""
    return InputError(
        "work-crashed",
        "Reading this photo stopped the program that measures, twice.",
        "Save the photo again as a JPEG, or make it smaller, then try again.",
    )


def _one() -> ProcessPoolExecutor:
    return ProcessPoolExecutor(1, mp_context=multiprocessing.get_context("spawn"))
