"""The whole workspace as one ZIP: rows as lines of JSON, logs and distributions as CSV beside them, files as they are."""

from __future__ import annotations

import hashlib
import json
import zipfile
import zlib
from collections.abc import Callable, Iterable, Iterator
from datetime import UTC, datetime
from typing import IO, Annotated, Any, Literal

from pydantic import Field, ValidationError
from sqlalchemy import DateTime, Table, TableClause, column, select, table
from sqlalchemy.engine import Connection
from sqlalchemy.orm import Session
from sqlalchemy.types import JSON, TypeEngine

from hakari.core.errors import InputError
from hakari.formats.base import ContentHash, Document
from hakari.formats.brew_log import write_log
from hakari.service.backups.columns import Row
from hakari.service.backups.housekeeping import referred_files
from hakari.service.brews.logs import log_of
from hakari.service.workspace.transaction import Workspace
from hakari.store import models
from hakari.store.base import UtcDateTime
from hakari.store.database import read_snapshot
from hakari.store.json_column import TypedJson
from hakari.store.packed_json import PackedJson
from hakari.store.revisions import known_revisions

FORMAT: Literal["hakari.workspace/2"] = "hakari.workspace/2"
CONTENTS, ROWS, FILES = "contents.json", "rows/", "files/"
# What stays in the folder: a hidden order must not be read from a file that anybody may open.
SECRET = {"experiment": ("blind_seed",)}
# Who is let in, and which server does what, belongs to the installation.
INSTALLATION = ("device", "lease")
BLOCK = 2**20
Progress = Callable[[int, int], None]


class Entry(Document):
    """One entry of an archive: its size and the SHA-256 of its content."""

    bytes: Annotated[int, Field(ge=0)]
    sha256: ContentHash


class Contents(Document):
    """What an archive holds, and of which moment; ``missing`` are files that were gone already when it was made."""

    format: Literal["hakari.workspace/2"] = FORMAT
    revision: str
    made_at: datetime
    rows: dict[str, int]
    missing: list[ContentHash] = []
    entries: dict[str, Entry] = {}


def tables() -> list[Table]:
    """All tables that belong to the work, those that others refer to first."""
    return [t for t in models.Base.metadata.sorted_tables if t.name not in INSTALLATION]


def plain(kept: Table) -> TableClause:
    """Return a table whose JSON and times are read and written as they are, whatever the database."""

    def type_of(kind: TypeEngine[Any]) -> TypeEngine[Any]:
        if isinstance(kind, PackedJson):
            return PackedJson()
        if isinstance(kind, TypedJson):
            return JSON(none_as_null=True)
        return DateTime() if isinstance(kind, UtcDateTime) else kind

    return table(kept.name, *(column(c.name, type_of(c.type)) for c in kept.columns))


def rows_of(connection: Connection, kept: Table) -> Iterator[Row]:
    """Rows with JSON opened and times in UTC as text, without secrets and what is derived from the rest."""
    without = {*SECRET.get(kept.name, ()), *(c.name for c in kept.columns if c.info.get("derived")), "made_by_id"}
    of = plain(kept)
    wanted = [c for c in of.c if c.name not in without]
    found = connection.execution_options(yield_per=100).execute(select(*wanted).order_by(of.c.id))
    for row in found.mappings():
        yield {k: v.isoformat(" ", "microseconds") if isinstance(v, datetime) else v for k, v in row.items()}


def export_workspace(ws: Workspace, to: IO[bytes], progress: Progress = lambda done, of: None) -> Contents:
    """Write everything as it is at one moment into a ZIP, and read that back; others may go on writing meanwhile.

    Rows are read in one snapshot of the database. Files never change and are there before the rows that refer to them, so
    they are read afterwards.

    Raises
    ------
    InputError
        ``archive-unreadable`` when what was written cannot be read back as it was.
    """
    with zipfile.ZipFile(to, "w", zipfile.ZIP_DEFLATED, allowZip64=True) as archive:
        writing = _Writing(archive)
        with read_snapshot(ws.engine) as connection:
            contents = Contents(revision=known_revisions()[0], made_at=datetime.now(UTC), rows={})
            for kept in tables():
                contents.rows[kept.name] = writing.lines(f"{ROWS}{kept.name}.jsonl", rows_of(connection, kept))
            with Session(connection) as session:
                hashes = sorted(referred_files(session))
                _write_tables(session, writing)
        for k, content_hash in enumerate(hashes):
            try:
                # Photos are compressed already.
                writing.write(f"{FILES}{content_hash}", [ws.files.get(content_hash)], zipfile.ZIP_STORED)
            except OSError:
                if ws.files.has(content_hash):
                    raise
                contents.missing.append(content_hash)
            progress(k + 1, len(hashes))
        contents.entries = writing.entries
        archive.writestr(CONTENTS, contents.model_dump_json())
    to.seek(0)
    _read_back(to, contents)
    return contents


class _Writing:
    """An archive that is being written, and what it holds so far."""

    def __init__(self, archive: zipfile.ZipFile) -> None:
        self._archive = archive
        self.entries: dict[str, Entry] = {}

    def write(self, name: str, parts: Iterable[bytes], how: int = zipfile.ZIP_DEFLATED) -> None:
        """Write an entry, part by part."""
        info = zipfile.ZipInfo(name, datetime.now(UTC).timetuple()[:6])
        info.compress_type = how
        hashed, size = hashlib.sha256(), 0
        with self._archive.open(info, "w", force_zip64=True) as entry:
            for part in parts:
                entry.write(part)
                hashed.update(part)
                size += len(part)
        self.entries[name] = Entry(bytes=size, sha256=hashed.hexdigest())

    def lines(self, name: str, rows: Iterable[Row]) -> int:
        """Write rows as lines of JSON; their number."""
        count = 0

        def parts() -> Iterator[bytes]:
            nonlocal count
            for row in rows:
                count += 1
                # Text may hold half a character, which only JSON's own escapes can write.
                yield json.dumps(row).encode() + b"\n"

        self.write(name, parts())
        return count


def _write_tables(session: Session, writing: _Writing) -> None:
    """Write logs and distributions to be read elsewhere."""
    for identity in session.scalars(
        select(models.Brew.id).where(models.Brew.deleted_at.is_(None)).order_by(models.Brew.id)
    ):
        brew = session.get_one(models.Brew, identity)
        if brew.parts:
            writing.write(f"brews/brew-{identity}.csv", [write_log(log_of(brew), []).encode()])
        session.expunge_all()
    whole = select(models.Sample.id, models.Sample.whole).where(models.Sample.deleted_at.is_(None))
    for identity, classes in session.execute(whole.order_by(models.Sample.id)):
        writing.write(f"samples/sample-{identity}.csv", [classes.csv().encode()])


def _read_back(written: IO[bytes], contents: Contents) -> None:
    """Refuse an archive that does not hold what was written into it."""
    try:
        with zipfile.ZipFile(written) as archive:
            if Contents.model_validate_json(archive.read(CONTENTS)) != contents:
                raise ValueError(CONTENTS)
            for name, entry in contents.entries.items():
                hashed = hashlib.sha256()
                with archive.open(name) as part:
                    while block := part.read(BLOCK):
                        hashed.update(block)
                if hashed.hexdigest() != entry.sha256:
                    raise ValueError(name)
    except (OSError, ValueError, KeyError, EOFError, zlib.error, zipfile.BadZipFile, ValidationError) as error:
        raise InputError(
            "archive-unreadable", f"The back-up could not be read back as it was written: {error}.",
            "Write it to another disk.",
        ) from error  # fmt: skip
