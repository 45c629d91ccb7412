"""What commands read and write."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any, TypeVar

from pydantic import ValidationError

from hakari.core.errors import InputError
from hakari.formats.base import Document, first_wrong

D = TypeVar("D", bound=Document)


def read(path: Path) -> bytes:
    """The bytes of a file; ``InputError`` ``file-unreadable``."""
    try:
        return path.read_bytes()
    except OSError as error:
        raise InputError(
            "file-unreadable",
            f"{path.name} cannot be read: {error.strerror}.",
            "Check the file's name and place.",
        ) from error


def write(path: Path, data: bytes) -> None:
    """Write a file whole or not at all; ``InputError`` ``file-unwritable``."""
    try:
        temporary = path.with_name(path.name + ".part")
        temporary.write_bytes(data)
        temporary.replace(path)
    except OSError as error:
        raise InputError(
            "file-unwritable", f"{path} cannot be written: {error.strerror}.", "Choose another place."
        ) from error


def read_json(path: Path) -> Any:
    """The JSON of a file; ``InputError`` ``not-json``."""
    data = read(path)
    try:
        return json.loads(data)
    except (ValueError, UnicodeDecodeError, RecursionError) as error:
        raise InputError("not-json", f"{path.name} is not JSON.", "Check the file.") from error


def read_document(path: Path, kind: type[D]) -> D:
    """A document of an open format; ``InputError`` ``format-mismatch``."""
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
