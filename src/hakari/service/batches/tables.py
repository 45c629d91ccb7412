"""Rows as Parquet, CSV or JSON lines, by the ending of the file's name; each is read back as it was written."""

from __future__ import annotations

import csv
import json
from collections.abc import Sequence
from pathlib import Path
from typing import Any, TypeVar, get_args

from pydantic import ValidationError

from hakari.core.errors import InputError
from hakari.formats.base import safe_cell
from hakari.formats.batch import BatchPlace

Row = TypeVar("Row", bound=BatchPlace)
ENDINGS = (".parquet", ".csv", ".jsonl")


def check_ending(path: Path) -> None:
    """Refuse a file of another kind; ``InputError`` ``unknown-table``."""
    if path.suffix.lower() not in ENDINGS:
        raise InputError(
            "unknown-table", f"{path.name} is no table that is written here.",
            f"Use a name that ends in {', '.join(ENDINGS)}.", field="output",
        )  # fmt: skip


def write_table(path: Path, kind: type[Row], rows: Sequence[Row]) -> None:
    """Write rows to a file that is there whole or not at all."""
    check_ending(path)
    part = path.with_name(f".{path.name}.part")
    path.parent.mkdir(parents=True, exist_ok=True)
    WRITERS[path.suffix.lower()](part, kind, rows)
    part.replace(path)


def read_table(path: Path, kind: type[Row]) -> list[Row]:
    """Return the rows of a file.

    Raises
    ------
    InputError
        ``file-unreadable``, ``unknown-table``, ``table-malformed``.
    """
    check_ending(path)
    if not path.is_file():
        raise InputError("file-unreadable", f"{path.name} cannot be read.", "Check the file's name and place.")
    try:
        return [kind.model_validate(raw) for raw in READERS[path.suffix.lower()](path)]
    except (ValueError, OSError, ValidationError) as error:
        raise InputError(
            "table-malformed", f"{path.name} is no table of photos.", "Choose what hakari batch wrote."
        ) from error


def _write_jsonl(path: Path, kind: type[Row], rows: Sequence[Row]) -> None:
    with path.open("w", encoding="utf-8") as file:
        file.writelines(json.dumps(r.model_dump(), ensure_ascii=False) + "\n" for r in rows)


def _read_jsonl(path: Path) -> list[dict[str, Any]]:
    return [json.loads(line) for line in path.read_text(encoding="utf-8").splitlines() if line.strip()]


def _write_csv(path: Path, kind: type[Row], rows: Sequence[Row]) -> None:
    with path.open("w", encoding="utf-8", newline="") as file:
        table = csv.DictWriter(file, list(kind.model_fields))
        table.writeheader()
        for row in rows:
            table.writerow({k: _cell(v) for k, v in row.model_dump().items()})


def _cell(value: object) -> object:
    # The shortest figure that is read back as the same number.
    return "" if value is None else safe_cell(value) if isinstance(value, str) else value


def _read_csv(path: Path) -> list[dict[str, Any]]:
    with path.open(encoding="utf-8", newline="") as file:
        return [
            {
                k: v.removeprefix("'") if v[:2] in ("'=", "'+", "'-", "'@") else v
                for k, v in row.items()
                if v != "" and k
            }
            for row in csv.DictReader(file)
        ]


def _write_parquet(path: Path, kind: type[Row], rows: Sequence[Row]) -> None:
    import pyarrow as pa
    from pyarrow import parquet

    of = {str: pa.string(), int: pa.int64(), float: pa.float64()}
    schema = pa.schema([(name, of[_plain(f.annotation)]) for name, f in kind.model_fields.items()])
    parquet.write_table(pa.Table.from_pylist([r.model_dump() for r in rows], schema=schema), path)


def _plain(annotation: Any) -> type:
    """Return the type of a field, without the ``None`` that it may be."""
    kinds: list[type] = [t for t in (get_args(annotation) or (annotation,)) if t is not type(None)]
    return kinds[0]


def _read_parquet(path: Path) -> list[dict[str, Any]]:
    from pyarrow import parquet

    rows: list[dict[str, Any]] = parquet.read_table(path).to_pylist()
    return rows


WRITERS = {".parquet": _write_parquet, ".csv": _write_csv, ".jsonl": _write_jsonl}
READERS = {".parquet": _read_parquet, ".csv": _read_csv, ".jsonl": _read_jsonl}
