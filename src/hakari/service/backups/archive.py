"""The whole workspace as one ZIP, out and in: rows as JSON, logs and distributions as CSV beside them, files as they are."""

from __future__ import annotations

import json
import zipfile
from collections.abc import Callable
from typing import IO, Any, Literal

from sqlalchemy import Table, select, text
from sqlalchemy.engine import Connection
from sqlalchemy.exc import IntegrityError

from hakari.core.errors import InputError
from hakari.formats.base import Document, parse_json
from hakari.formats.brew_log import write_log
from hakari.service.brews.logs import log_of
from hakari.service.workspace.folder import known_revisions
from hakari.service.workspace.transaction import Workspace, list_active
from hakari.store import models
from hakari.store.json_column import TypedJson

FORMAT: Literal["hakari.workspace/1"] = "hakari.workspace/1"
ROWS = "workspace.json"
# What stays in the folder: a hidden order must not be read from a file that anybody may open.
SECRET = {"experiment": ("blind_seed",)}
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
    """All tables that belong to the work, those that others refer to first; who is let in belongs to the installation."""
    return [t for t in models.Base.metadata.sorted_tables if t.name != models.Device.__tablename__]


def _json_columns(table: Table) -> dict[str, TypedJson]:
    return {c.name: c.type for c in table.columns if isinstance(c.type, TypedJson)}


def _rows(connection: Connection, table: Table) -> list[Row]:
    """Rows as SQLite keeps them, with JSON opened and secrets left out."""
    opened, secret = _json_columns(table), SECRET.get(table.name, ())
    found = connection.execute(text(f'SELECT * FROM "{table.name}" ORDER BY id')).mappings()
    return [
        {k: json.loads(v) if k in opened and v is not None else v for k, v in row.items() if k not in secret}
        for row in found
    ]


def export_workspace(ws: Workspace, to: IO[bytes], progress: Progress = lambda done, of: None) -> None:
    """Write everything into a ZIP; a running server may go on meanwhile."""
    with ws.engine.connect() as connection:
        tables = {t.name: _rows(connection, t) for t in _tables()}
    with zipfile.ZipFile(to, "w", zipfile.ZIP_DEFLATED, allowZip64=True) as archive:
        document = {"format": FORMAT, "revision": known_revisions()[0], "tables": tables}
        archive.writestr(ROWS, json.dumps(document, ensure_ascii=False, indent=0))
        _write_logs(ws, archive)
        hashes = sorted(ws.files.hashes())
        for k, content_hash in enumerate(hashes):
            # Photos are compressed already.
            archive.write(ws.files.path(content_hash), f"files/{content_hash}", zipfile.ZIP_STORED)
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
    try:
        with ws.brewing, ws.engine.begin() as connection:
            connection.execute(text("PRAGMA defer_foreign_keys = ON"))
            rows, known = _Merge(connection, tables).run()
    except (TypeError, ValueError, AttributeError, IntegrityError) as error:
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
        for table in _tables():
            rows = self._tables.get(table.name, [])
            if self._empty:
                self._connection.execute(table.delete())
            there = self._there(table)
            for row in rows:
                same = there.get(self._mark(table, row))
                if same is not None:
                    self._ids[table.name][row["id"]] = same
                    known += 1
                    continue
                self._add(table, dict(row))
                new += 1
        self._link_slips()
        return new, known

    def _there(self, table: Table) -> dict[tuple[Any, ...], int]:
        return {self._mark(table, row): row["id"] for row in _rows(self._connection, table)}

    @staticmethod
    def _mark(table: Table, row: Row) -> tuple[Any, ...]:
        """Return what a row is known by: when it was made, to the microsecond; of some there can be but one."""
        return tuple(row[name] for name in UNIQUE.get(table.name, ("created_at",)))

    def _add(self, table: Table, row: Row) -> None:
        old = row["id"]
        columns = [c.name for c in table.columns if c.name in row]
        if not self._empty:
            del row["id"]
            columns.remove("id")
            for column in table.columns:
                for key in column.foreign_keys:
                    if row.get(column.name) is not None and key.column.table is not table:
                        row[column.name] = self._ids[key.column.table.name][row[column.name]]
        if table.name == "slip" and not self._empty:
            row["number"] = 1 + int(
                self._connection.execute(text("SELECT coalesce(max(number), 0) FROM slip")).scalar_one()
            )
            row["parent_id"] = None
        opened = _json_columns(table)
        for name, kind in opened.items():
            if row.get(name) is not None:
                kind.check(row[name])
        values = {c: json.dumps(row[c]) if c in opened and row[c] is not None else row[c] for c in columns}
        named = ", ".join(f'"{c}"' for c in columns)
        marks = ", ".join(f":{c}" for c in columns)
        done = self._connection.execute(text(f'INSERT INTO "{table.name}" ({named}) VALUES ({marks})'), values)
        self._ids[table.name][old] = old if self._empty else int(done.lastrowid)

    def _link_slips(self) -> None:
        """Threads of slips, once all have their new identities."""
        if self._empty:
            return
        for row in self._tables.get("slip", []):
            if row["parent_id"] is not None:
                values = {"parent": self._ids["slip"].get(row["parent_id"]), "id": self._ids["slip"][row["id"]]}
                statement = "UPDATE slip SET parent_id = :parent WHERE id = :id AND parent_id IS NULL"
                self._connection.execute(text(statement), values)
