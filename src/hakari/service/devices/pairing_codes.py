"""One-time codes that let a device in: two minutes, one use, and a pause for whoever guesses."""

from __future__ import annotations

import secrets
import threading
import time
from collections.abc import Callable

from hakari.core.errors import InputError

# No letters or digits that are read for one another.
SYMBOLS, LENGTH = "23456789ABCDEFGHJKMNPQRSTVWXYZ", 8
VALID_S, PAUSE_S, MOST_TRIES = 120.0, 60.0, 10


class GuessedTooOftenError(InputError):
    """Somebody tries code after code."""


class PairingCodes:
    """The codes that are valid now, in memory: a restart forgets them. ``clock`` gives seconds."""

    def __init__(self, clock: Callable[[], float] = time.monotonic) -> None:
        self._clock = clock
        self._lock = threading.Lock()
        self._until: dict[str, float] = {}
        self._failed: dict[str, list[float]] = {}

    def issue(self) -> str:
        """Make a code."""
        code = "".join(secrets.choice(SYMBOLS) for _ in range(LENGTH))
        with self._lock:
            self._forget()
            self._until[code] = self._clock() + VALID_S
        return code

    def redeem(self, typed: str, address: str) -> None:
        """Use a code up; ``address`` is where it comes from.

        Raises
        ------
        InputError
            ``code-unknown`` for one that is wrong, used or too old; ``too-many-tries`` for a minute after ten of them.
        """
        code = "".join(c for c in typed.upper() if c.isalnum())
        with self._lock:
            self._forget()
            failed = self._failed.setdefault(address, [])
            if len(failed) >= MOST_TRIES:
                raise GuessedTooOftenError(
                    "too-many-tries", "Too many wrong codes.", "Wait a minute, then use a new code.", field="code"
                )
            if self._until.pop(code, None) is None:
                failed.append(self._clock())
                raise InputError(
                    "code-unknown", "This code is wrong, was used already, or is older than two minutes.",
                    "Get a new one on the computer, under Devices.", field="code",
                )  # fmt: skip
            self._failed.pop(address, None)

    def _forget(self) -> None:
        now = self._clock()
        self._until = {code: until for code, until in self._until.items() if until > now}
        # Tries count until a minute after the last of them.
        self._failed = {a: t for a, t in self._failed.items() if t and t[-1] + PAUSE_S > now}


def spaced(code: str) -> str:
    """Return a code as it is read out: two groups of four."""
    return f"{code[:4]} {code[4:]}"
