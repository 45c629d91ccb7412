"""Hakari's command in processes of its own, forked from one that has imported it: so a start takes a fraction of the time."""

from __future__ import annotations

import multiprocessing
import os
import signal
import socket
import sys
import tempfile
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from multiprocessing.context import ForkServerProcess
from pathlib import Path

from hakari.cli.main import main

LONGEST_START_S = 60
FORKS = multiprocessing.get_context("forkserver")
IMPORTED = [
    "tests.warm",
    "killed",
    "hakari.cli.serve",
    "hakari.demo.stories",
    "hakari.service.batches.measuring",
    "scipy.signal",
]


@dataclass(frozen=True)
class Command:
    """A command that runs, or has ended, and the files that it writes to."""

    process: ForkServerProcess
    output: Path
    errors: Path

    def lines(self, count: int) -> list[str]:
        """Its first lines, when it has said so many."""
        until = time.monotonic() + LONGEST_START_S
        while len(said := self.output.read_text().splitlines()) < count:
            assert self.process.is_alive() and time.monotonic() < until, self.errors.read_text()
            time.sleep(0.02)
        return said[:count]

    def wait_for(self, url: str) -> None:
        """Wait until it answers at an address."""
        until = time.monotonic() + LONGEST_START_S
        while True:
            try:
                urllib.request.urlopen(f"{url}/api/health", timeout=2).read()
                return
            except OSError:
                assert self.process.is_alive() and time.monotonic() < until, self.errors.read_text()
                time.sleep(0.05)

    def kill(self) -> None:
        """End it at once, with its own processes: a stop would first wait for the streams of open pages."""
        if self.process.is_alive():
            os.killpg(self.process.pid or 0, signal.SIGKILL)
        self.process.join()


def _run(words: tuple[str, ...], output: Path, errors: Path, environment: dict[str, str]) -> None:
    """Run the command in a process group of its own."""
    os.setsid()
    for stream, file in ((sys.stdout, output), (sys.stderr, errors)):
        os.dup2(os.open(file, os.O_WRONLY), stream.fileno())
    os.environ.update(environment)
    sys.exit(main(list(words)))


@contextmanager
def started(*words: str, **environment: str) -> Iterator[Command]:
    """Start a command, which is killed at the end."""
    with tempfile.TemporaryDirectory(prefix="hakari-said-") as said:
        output, errors = Path(said) / "output", Path(said) / "errors"
        output.touch()
        errors.touch()
        FORKS.set_forkserver_preload(IMPORTED)
        process = FORKS.Process(target=_run, args=(words, output, errors, environment))
        process.start()
        command = Command(process, output, errors)
        try:
            yield command
        finally:
            command.kill()


def done(*words: str) -> tuple[int | None, str, str]:
    """Run a command to its end: its exit status, output and errors."""
    with started(*words) as command:
        command.process.join(120)
        return command.process.exitcode, command.output.read_text(), command.errors.read_text()


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])
