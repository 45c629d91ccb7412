"""One-time codes that let a device in: two minutes, one use, and a pause for whoever guesses."""

from __future__ import annotations

import secrets
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass

from hakari.core.errors import InputError
from hakari.formats.base import Document
from hakari.service.devices.use_cases import LetIn

# No letters or digits that are read for one another.
SYMBOLS, LENGTH = "23456789ABCDEFGHJKMNPQRSTVWXYZ", 8
VALID_S, PAUSE_S, MOST_TRIES = 120.0, 60.0, 10


class GuessedTooOftenError(InputError):
    """Somebody tries code after code."""


@dataclass(frozen=True)
class _Code:
    id: int
    role: LetIn
    by: str
    until: float


@dataclass(frozen=True)
class IssuedCode:
    """A code that was just made, and what it is withdrawn by."""

    id: int
    code: str


class CodeView(Document):
    """A code that is valid now: the role that it gives, who asked for it, and for how long."""

    id: int
    role: LetIn
    by: str
    valid_s: float


class PairingCodes:
    """The codes that are valid now, in memory: a restart forgets them. ``clock`` gives seconds."""

    def __init__(self, clock: Callable[[], float] = time.monotonic) -> None:
        self._clock = clock
        self._lock = threading.Lock()
        self._codes: dict[str, _Code] = {}
        self._last_id = 0
        self._failed: dict[str, list[float]] = {}

    def issue(self, role: LetIn = "barista", by: str = "") -> IssuedCode:
        """Make a code that lets one device in; ``by`` names who asked for it."""
        code = "".join(secrets.choice(SYMBOLS) for _ in range(LENGTH))
        with self._lock:
            self._forget()
            self._last_id += 1
            self._codes[code] = _Code(self._last_id, role, by, self._clock() + VALID_S)
            return IssuedCode(id=self._last_id, code=code)

    def list(self) -> list[CodeView]:
        """Return the codes that are valid now, without what they are."""
        with self._lock:
            self._forget()
            now = self._clock()
            return [CodeView(id=c.id, role=c.role, by=c.by, valid_s=c.until - now) for c in self._codes.values()]

    def withdraw(self, code_id: int) -> None:
        """Make a code worth nothing; one that was used or is too old is so already."""
        with self._lock:
            self._codes = {code: c for code, c in self._codes.items() if c.id != code_id}

    def redeem(self, typed: str, address: str) -> LetIn:
        """Use a code up and return the role that it gives; ``address`` is where it comes from.

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
            found = self._codes.pop(code, None)
            if found is None:
                failed.append(self._clock())
                raise InputError(
                    "code-unknown", "This code is wrong, was used already, or is older than two minutes.",
                    "Get a new one on the computer, under Devices.", field="code",
                )  # fmt: skip
            self._failed.pop(address, None)
            return found.role

    def _forget(self) -> None:
        now = self._clock()
        self._codes = {code: c for code, c in self._codes.items() if c.until > now}
        # Tries count until a minute after the last of them.
        self._failed = {a: t for a, t in self._failed.items() if t and t[-1] + PAUSE_S > now}


def spaced(code: str) -> str:
    """Return a code as it is read out: two groups of four."""
    return f"{code[:4]} {code[4:]}"
