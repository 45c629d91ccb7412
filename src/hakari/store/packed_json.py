"""JSON columns for what is long: curves, logs and documents, written packed.

Lists of numbers become differences of whole numbers of their last decimal place, and the JSON is compressed: a curve or a
brew's log takes a tenth to a twentieth of its plain JSON, and every number comes back as it was.
"""

from __future__ import annotations

import json
import math
import zlib
from itertools import accumulate, pairwise
from typing import Any

from pydantic import TypeAdapter
from sqlalchemy import Dialect, LargeBinary, TypeDecorator

LEVEL = 6
SHORTEST = 8  # shorter lists gain nothing
MOST_DECIMALS = 6
EXACT = 2**53
# The keys of a packed list; no field of a document begins with a control character.
NUMBERS, PAIRS = "\x01n", "\x01p"


def pack(value: Any) -> bytes:
    """Return plain JSON as bytes; ``unpack`` gives it back."""
    text = json.dumps(_shorter(value), separators=(",", ":"), allow_nan=False)
    return zlib.compress(text.encode(), LEVEL)


def unpack(data: bytes) -> Any:
    """Return the JSON that ``pack`` was given.

    Raises
    ------
    ValueError
        When these are no such bytes.
    """
    try:
        return json.loads(zlib.decompress(data), object_hook=_longer)
    except zlib.error as error:
        raise ValueError("not a packed column") from error


def _shorter(value: Any) -> Any:
    if isinstance(value, dict):
        return {k: _shorter(v) for k, v in value.items()}
    if not isinstance(value, list):
        return value
    if len(value) >= SHORTEST:
        if all(isinstance(v, list) and len(v) == 2 and _are_numbers(v) for v in value):
            return {PAIRS: [_shorter([v[k] for v in value]) for k in (0, 1)]}
        if _are_numbers(value):
            return _differences(value) or value
    return [_shorter(v) for v in value]


def _are_numbers(values: list[Any]) -> bool:
    return all(type(v) in (int, float) for v in values)


def _differences(values: list[float]) -> dict[str, list[int]] | None:
    """Return the number of decimals (-1 for a list of whole numbers), the first value and all steps; ``None`` if inexact."""
    if all(type(v) is int for v in values):
        return {NUMBERS: [-1, *_steps(values)]}
    if not all(type(v) is float and math.isfinite(v) for v in values):
        return None
    largest = max(abs(v) for v in values)
    for decimals in range(MOST_DECIMALS + 1):
        scale = 10**decimals
        if largest * scale >= EXACT:
            return None
        whole = [round(v * scale) for v in values]
        # Compared as text: a negative zero must come back as one.
        if all(str(w / scale) == str(v) for w, v in zip(whole, values, strict=True)):
            return {NUMBERS: [decimals, *_steps(whole)]}
    return None


def _steps(whole: list[Any]) -> list[int]:
    return [whole[0], *(b - a for a, b in pairwise(whole))]


def _longer(found: dict[str, Any]) -> Any:
    if NUMBERS in found:
        decimals, *steps = found[NUMBERS]
        whole = accumulate(steps)
        return list(whole) if decimals < 0 else [w / 10**decimals for w in whole]
    if PAIRS in found:
        first, second = found[PAIRS]
        return [list(pair) for pair in zip(first, second, strict=True)]
    return found


class PackedJson(TypeDecorator[Any]):
    """Writes a pydantic type packed, and reads it back checked; without a type, plain JSON.

    A value is replaced, never changed in place: what is changed inside is not noticed.
    """

    impl = LargeBinary
    cache_ok = True

    def __init__(self, kind: Any = None) -> None:
        super().__init__()
        self.kind = kind
        self.adapter: TypeAdapter[Any] | None = None if kind is None else TypeAdapter(kind)

    def check(self, value: Any) -> None:
        """Refuse plain JSON that could not be read back; ``ValueError``."""
        if self.adapter is not None:
            self.adapter.validate_python(value)

    def process_bind_param(self, value: Any, dialect: Dialect) -> bytes | None:
        """Packed JSON of a document."""
        if value is None:
            return None
        return pack(value if self.adapter is None else self.adapter.dump_python(value, mode="json", by_alias=True))

    def process_result_value(self, value: bytes | None, dialect: Dialect) -> Any:
        """Return the document of what is stored."""
        if value is None:
            return None
        plain = unpack(value)
        return plain if self.adapter is None else self.adapter.validate_python(plain)
