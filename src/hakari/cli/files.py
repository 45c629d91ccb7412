"""What commands read and write."""

from __future__ import annotations

import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import IO, Any, TypeVar

from pydantic import ValidationError

from hakari.core.errors import InputError
from hakari.formats.base import Document, first_wrong, parse_json

D = TypeVar("D", bound=Document)


def read(path: Path) -> bytes:
    """Return the bytes of a file; ``InputError`` ``file-unreadable``."""
    try:
        return path.read_bytes()
    except OSError as error:
        raise InputError(
            "file-unreadable",
            f"{path.name} cannot be read: {error.strerror}.",
            "Check the file's name and place.",
        ) from error


@contextmanager
def writing(path: Path) -> Iterator[IO[bytes]]:
    """Return a file that is there whole or not at all; ``InputError`` ``file-unwritable``."""
    part = path.with_name(path.name + ".part")
    try:
        with part.open("w+b") as file:
            yield file
            file.flush()
            os.fsync(file.fileno())
        part.replace(path)
    except OSError as error:
        part.unlink(missing_ok=True)
        raise InputError(
            "file-unwritable", f"{path} cannot be written: {error.strerror}.", "Choose another place."
        ) from error


def write(path: Path, data: bytes) -> None:
    """Write a file; as ``writing``."""
    with writing(path) as file:
        file.write(data)


def read_json(path: Path) -> Any:
    """Return the JSON of a file; ``InputError`` ``not-json``."""
    return parse_json(read(path), f"{path.name} is not JSON.", "Check the file.")


def read_document(path: Path, kind: type[D]) -> D:
    """Return a document of an open format; ``InputError`` ``format-mismatch``."""
    raw = read_json(path)
    try:
        return kind.model_validate(raw)
    except ValidationError as error:
        place, wrong = first_wrong(error)
        where = place or "document"
        raise InputError(
            "format-mismatch", f"{path.name}: {where}: {wrong}.", "See docs/formats.md in the project.",
            field=where,
        ) from error  # fmt: skip
