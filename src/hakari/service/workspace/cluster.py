"""The workers of a Dask cluster in place of this computer's processes, for as long as its scheduler answers."""

from __future__ import annotations

import logging
import threading
import time
from collections.abc import Callable
from typing import Any, ParamSpec, TypeVar

from hakari.core.errors import InputError
from hakari.service.workspace.processes import Processes, crashed, on_one_core

log = logging.getLogger(__name__)
Args = ParamSpec("Args")
Answer = TypeVar("Answer")
TRY_AGAIN_S = 30.0
LONGEST_S = 300.0  # a photo that nobody has measured by then is measured here


def connect(address: str, timeout_s: float) -> Any:
    """Return a client of a scheduler.

    Raises
    ------
    InputError
        ``no-cluster-support``, ``scheduler-gone``.
    """
    try:
        from distributed import Client
    except ImportError as error:
        raise InputError(
            "no-cluster-support", "Dask is not installed.", "Install it: pip install 'hakari[cluster]'.",
            field="scheduler",
        ) from error  # fmt: skip
    try:
        client: Any = Client
        return client(address, timeout=timeout_s, set_as_default=False)
    except (OSError, ValueError, TimeoutError) as error:
        raise scheduler_gone(address) from error


def scheduler_gone(address: str) -> InputError:
    """Return what is said where nothing answers at a scheduler's address."""
    return InputError(
        "scheduler-gone", f"The scheduler at {address} does not answer.",
        "Start it, and repeat the same command: what is done is not done again.", field="scheduler",
    )  # fmt: skip


class ClusterProcesses:
    """Workers of a cluster; this computer's own processes while it is away. It is looked for again every half minute."""

    def __init__(self, address: str, here: Processes, timeout_s: float = 5.0) -> None:
        self.address, self._here = address, here
        self._client: Any = None
        self._lock = threading.Lock()
        self._tried_at = time.monotonic()
        self._closed = False
        self._timeout_s = timeout_s
        self._connect()

    @property
    def alive(self) -> bool:
        """Whether work can be done; false once closed."""
        return self._here.alive

    @property
    def connected(self) -> bool:
        """Whether the cluster does the work."""
        return self._client is not None

    def run(self, work: Callable[Args, Answer], *args: Args.args, **kwargs: Args.kwargs) -> Answer:
        """Do work in the cluster, or here where the cluster goes away.

        Raises
        ------
        InputError
            ``work-crashed`` when it stopped the workers that did it; whatever the work itself raises.
        """
        client = self._present()
        if client is not None:
            from distributed import CancelledError, KilledWorker

            try:
                if client.nthreads():
                    future = client.submit(on_one_core, work, *args, **kwargs, pure=False)
                    answer: Answer = future.result(timeout=LONGEST_S)
                    return answer
            except KilledWorker as error:
                raise crashed() from error
            except (CancelledError, OSError, TimeoutError) as error:
                self._lost(client, error)
        return self._here.run(work, *args, **kwargs)

    def _present(self) -> Any:
        """Return the client; where there is none, one is looked for beside the work."""
        with self._lock:
            if self._client is None and not self._closed and time.monotonic() - self._tried_at > TRY_AGAIN_S:
                self._tried_at = time.monotonic()
                threading.Thread(target=self._connect, name="cluster", daemon=True).start()
            return self._client

    def _connect(self) -> None:
        try:
            client = connect(self.address, self._timeout_s)
        except InputError as error:
            if error.code != "scheduler-gone":
                raise
            log.warning("%s Photos are measured on this computer meanwhile.", error.message)
            return
        log.info("photos are measured by the cluster at %s", self.address)
        with self._lock:
            self._client = client

    def _lost(self, client: Any, error: Exception) -> None:
        """Go on without the cluster."""
        log.warning("the cluster at %s is gone (%r); photos are measured on this computer", self.address, error)
        with self._lock:
            if self._client is client:
                self._client, self._tried_at = None, time.monotonic()
        threading.Thread(target=client.close, args=(2,), name="cluster-close", daemon=True).start()

    def close(self) -> None:
        """Leave the cluster, which goes on for others, and stop the processes here."""
        self._closed = True
        with self._lock:
            client, self._client = self._client, None
        if client is not None:
            client.close(timeout=2)
        self._here.close()
