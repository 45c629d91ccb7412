"""Results held by what they rest on."""

from __future__ import annotations

import threading
from collections.abc import Callable, Hashable
from concurrent.futures import Future
from typing import Generic, TypeVar

from cachetools import LRUCache

Value = TypeVar("Value")


class Cache(Generic[Value]):
    """The last few results; safe to share between threads.

    Each result is computed once, also when several threads ask for it at the same time. What fails is not held.
    """

    def __init__(self, size: int) -> None:
        self._results: LRUCache[Hashable, Future[Value]] = LRUCache(size)
        self._lock = threading.Lock()

    def get(self, key: Hashable, compute: Callable[[], Value]) -> Value:
        """Return the result for a key, computed when it is not held."""
        with self._lock:
            result = self._results.get(key)
            first = result is None
            if result is None:
                result = self._results[key] = Future()
        if first:
            try:
                result.set_result(compute())
            except BaseException as error:
                with self._lock:
                    self._results.pop(key, None)
                result.set_exception(error)
        return result.result()
