"""The whole workspace as one ZIP, out and in: rows as JSON, logs and distributions as CSV beside them, files as they are."""

from __future__ import annotations

import json
import zipfile
from collections.abc import Callable
from datetime import datetime
from typing import IO, Any, Literal

from sqlalchemy import JSON, Boolean, DateTime, Table, TableClause, column, func, insert, select, table, update
from sqlalchemy.engine import Connection
from sqlalchemy.exc import DataError, IntegrityError
from sqlalchemy.types import TypeEngine

from hakari.core.errors import InputError
from hakari.formats.base import Document, parse_json
from hakari.formats.brew_log import write_log
from hakari.service.brews.logs import log_of
from hakari.service.workspace.transaction import Workspace, list_active
from hakari.store import models
from hakari.store.base import UtcDateTime
from hakari.store.database import follow_identities, known_revisions
from hakari.store.json_column import TypedJson

FORMAT: Literal["hakari.workspace/1"] = "hakari.workspace/1"
ROWS = "workspace.json"
# What stays in the folder: a hidden order must not be read from a file that anybody may open.
SECRET = {"experiment": ("blind_seed",)}
# Who is let in, and which server does what, belongs to the installation.
INSTALLATION = ("device", "lease")
# Of these there is one a folder or a name; what is there already stays.
UNIQUE = {"bench": ("id",), "own_window": ("label",), "draft": ("device", "station")}
LARGEST_BYTES = 64 * 2**30
Row = dict[str, Any]
Progress = Callable[[int, int], None]


class Imported(Document):
    """What an archive brought: new rows and files, and rows that were there already."""

    rows: int
    files: int
    known: int


def _tables() -> list[Table]:
    """All tables that belong to the work, those that others refer to first."""
    return [t for t in models.Base.metadata.sorted_tables if t.name not in INSTALLATION]


def _plain(kept: Table) -> TableClause:
    """Return a table whose JSON and times are read and written as they are, whatever the database."""

    def type_of(kind: TypeEngine[Any]) -> TypeEngine[Any]:
        if isinstance(kind, TypedJson):
            return JSON(none_as_null=True)
        return DateTime() if isinstance(kind, UtcDateTime) else kind

    return table(kept.name, *(column(c.name, type_of(c.type)) for c in kept.columns))


def _rows(connection: Connection, kept: Table) -> list[Row]:
    """Rows with JSON opened, times in UTC as text, and secrets left out."""
    plain, secret = _plain(kept), SECRET.get(kept.name, ())
    found = connection.execute(select(plain).order_by(plain.c.id)).mappings()
    return [{k: _written(v) for k, v in row.items() if k not in secret} for row in found]


def _written(value: Any) -> Any:
    return value.isoformat(" ", "microseconds") if isinstance(value, datetime) else value


def _read(kind: TypeEngine[Any], value: Any) -> Any:
    """Return a value of an archive as its column takes it; ``ValueError`` where it does not."""
    if value is None:
        return None
    if isinstance(kind, UtcDateTime):
        return datetime.fromisoformat(value)
    if isinstance(kind, Boolean):
        # Back-ups of a folder's own database have them as 0 and 1.
        if value not in (0, 1):
            raise ValueError(value)
        return bool(value)
    if isinstance(kind, TypedJson):
        kind.check(value)
    return value


def export_workspace(ws: Workspace, to: IO[bytes], progress: Progress = lambda done, of: None) -> None:
    """Write everything into a ZIP; a running server may go on meanwhile."""
    with ws.engine.connect() as connection:
        tables = {t.name: _rows(connection, t) for t in _tables()}
    with zipfile.ZipFile(to, "w", zipfile.ZIP_DEFLATED, allowZip64=True) as archive:
        document = {"format": FORMAT, "revision": known_revisions()[0], "tables": tables}
        archive.writestr(ROWS, json.dumps(document, ensure_ascii=False))
        _write_logs(ws, archive)
        hashes = sorted(ws.files.hashes())
        for k, content_hash in enumerate(hashes):
            # Photos are compressed already.
            archive.writestr(f"files/{content_hash}", ws.files.get(content_hash), zipfile.ZIP_STORED)
            progress(k + 1, len(hashes))


def _write_logs(ws: Workspace, archive: zipfile.ZipFile) -> None:
    with ws.transaction() as session:
        for brew in list_active(session, models.Brew):
            if brew.parts:
                archive.writestr(f"brews/brew-{brew.id}.csv", write_log(log_of(brew), []))
        for sample in list_active(session, models.Sample):
            archive.writestr(f"samples/sample-{sample.id}.csv", sample.whole.csv())


def import_workspace(ws: Workspace, data: IO[bytes], progress: Progress = lambda done, of: None) -> Imported:
    """Add what an archive holds, in one transaction; what is there already is not added twice.

    Into an empty folder everything comes with its own identity, so that the state is the same. Into a filled one rows get
    new identities, slips new numbers, and the present workbench stays. A row is known by its table and when it was made.

    Raises
    ------
    InputError
        ``archive-malformed``, ``archive-newer``.
    """
    try:
        with zipfile.ZipFile(data) as archive:
            return _import(ws, archive, _read_rows(archive), progress)
    except (zipfile.BadZipFile, KeyError, EOFError, RuntimeError) as error:
        raise _malformed("it is no ZIP that Hakari wrote, or it is cut short") from error


def _malformed(why: str) -> InputError:
    return InputError(
        "archive-malformed",
        f"This back-up cannot be read: {why}.",
        "Choose a file that hakari export wrote.",
        field="file",
    )


def _read_rows(archive: zipfile.ZipFile) -> dict[str, list[Row]]:
    if sum(i.file_size for i in archive.infolist()) > LARGEST_BYTES:
        raise _malformed("it would fill the disk")
    try:
        document = parse_json(archive.read(ROWS), "", "")
    except InputError as error:
        raise _malformed("its rows are not JSON") from error
    if (
        not isinstance(document, dict)
        or document.get("format") != FORMAT
        or not isinstance(document.get("tables"), dict)
    ):
        raise _malformed(f"it is not {FORMAT}")
    if document.get("revision") not in known_revisions():
        raise InputError("archive-newer", "This back-up was written by a newer Hakari.", "Import it with that one.")
    return dict(document["tables"])


def _import(ws: Workspace, archive: zipfile.ZipFile, tables: dict[str, list[Row]], progress: Progress) -> Imported:
    names = [i for i in archive.namelist() if i.startswith("files/")]
    files = 0
    for k, name in enumerate(names):
        wanted = name.removeprefix("files/")
        if not ws.files.has(wanted):
            files += 1
            if ws.files.put(archive.read(name)) != wanted:
                raise _malformed(f"the file {wanted[:12]}… is damaged")
        progress(k + 1, len(names))

    def merge() -> tuple[int, int]:
        with ws.brewing, ws.engine.begin() as connection:
            return _Merge(connection, tables).run()

    try:
        rows, known = ws.again_when_overtaken(merge)
    except (TypeError, ValueError, AttributeError, IntegrityError, DataError) as error:
        raise _malformed("a row of it is not as it should be") from error
    return Imported(rows=rows, files=files, known=known)


class _Merge:
    """Rows of an archive into tables; ``ids`` says what became of each identity."""

    def __init__(self, connection: Connection, tables: dict[str, list[Row]]) -> None:
        self._connection, self._tables = connection, tables
        self._ids: dict[str, dict[int, int]] = {t.name: {} for t in _tables()}
        # A folder that was just made holds its workbench alone.
        self._empty = all(
            not connection.execute(select(t.c.id).limit(1)).first()
            for t in _tables()
            if t.name not in ("bench", "draft")
        )

    def run(self) -> tuple[int, int]:
        """Add what is new; the numbers of new rows and of known ones."""
        new = known = 0
        for kept in _tables():
            rows = self._tables.get(kept.name, [])
            if self._empty:
                self._connection.execute(kept.delete())
            there = self._there(kept)
            for row in rows:
                same = there.get(self._mark(kept, row))
                if same is not None:
                    self._ids[kept.name][row["id"]] = same
                    known += 1
                    continue
                self._add(kept, dict(row))
                new += 1
        self._link_slips()
        if self._empty:
            follow_identities(self._connection)
        return new, known

    def _there(self, kept: Table) -> dict[tuple[Any, ...], int]:
        return {self._mark(kept, row): row["id"] for row in _rows(self._connection, kept)}

    @staticmethod
    def _mark(kept: Table, row: Row) -> tuple[Any, ...]:
        """Return what a row is known by: when it was made, to the microsecond; of some there can be but one."""
        return tuple(row[name] for name in UNIQUE.get(kept.name, ("created_at",)))

    def _add(self, kept: Table, row: Row) -> None:
        old, plain = row["id"], _plain(kept)
        if not self._empty:
            del row["id"]
            for column in kept.columns:
                for key in column.foreign_keys:
                    if row.get(column.name) is not None and key.column.table is not kept:
                        row[column.name] = self._ids[key.column.table.name][row[column.name]]
        if kept.name == "slip":
            # The slip before may come later in the archive.
            row["parent_id"] = None
            if not self._empty:
                highest = self._connection.execute(select(func.max(plain.c.number))).scalar()
                row["number"] = 1 + (highest or 0)
        values = {c.name: _read(c.type, row[c.name]) for c in kept.columns if c.name in row}
        self._ids[kept.name][old] = self._connection.execute(
            insert(plain).values(values).returning(plain.c.id)
        ).scalar_one()

    def _link_slips(self) -> None:
        """Threads of slips, once all have their new identities."""
        slip = _plain(models.Base.metadata.tables["slip"])
        for row in self._tables.get("slip", []):
            if row["parent_id"] is not None:
                ids = self._ids["slip"]
                this = (slip.c.id == ids[row["id"]]) & slip.c.parent_id.is_(None)
                self._connection.execute(update(slip).where(this).values(parent_id=ids.get(row["parent_id"])))
