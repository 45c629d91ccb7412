"""A back-up's rows and files into the workspace: all of them, checked, or none."""

from __future__ import annotations

import zipfile
from collections.abc import Iterator
from typing import IO, Any, Literal

from pydantic import ValidationError
from sqlalchemy import Table, func, insert, select, update
from sqlalchemy.engine import Connection
from sqlalchemy.exc import DataError, IntegrityError
from sqlalchemy.orm import Session

from hakari.core.errors import InputError
from hakari.formats.base import Document
from hakari.service.backups.archive import SECRET, Progress, plain, tables
from hakari.service.backups.columns import Row, read_row
from hakari.service.backups.housekeeping import referred_files
from hakari.service.backups.unpacking import Unpacked, malformed, unpacked
from hakari.service.samples.grounds import check_packed
from hakari.service.workspace.transaction import Workspace
from hakari.store import models
from hakari.store.completing import complete
from hakari.store.database import follow_identities

# Of these there is one a folder or a name; what is there already stays.
UNIQUE = {"bench": ("id",), "own_window": ("label",), "draft": ("device", "station")}
AT_ONCE = 100
# What a row that is not as it should be ends in.
WRONG = (ValueError, KeyError, TypeError, AttributeError, IntegrityError, DataError)
Existing = Literal["keep", "replace"]


class Imported(Document):
    """What a back-up brought: new rows and files, and rows that were there already.

    Of those, ``changed`` were changed here since, or before it was made, and ``deleted`` were deleted here since;
    ``replaced`` of them are now as in the back-up, the others as they were here.
    """

    rows: int
    files: int
    known: int
    changed: int
    deleted: int
    replaced: int


def import_workspace(
    ws: Workspace, data: IO[bytes], progress: Progress = lambda done, of: None, existing: Existing = "keep"
) -> Imported:
    """Add what a back-up holds, in one transaction; what is there already is not added twice.

    Into an empty folder everything comes with its own identity, so that the state is the same. Into a filled one rows get
    new identities, slips new numbers, and the present workbench stays. A row is known by its table and when it was made;
    ``existing`` says whether one that differs here stays as it is or becomes as in the back-up.

    Raises
    ------
    InputError
        ``archive-malformed``, ``archive-newer``, ``disk-full``; nothing of it is left behind then.
    """
    with unpacked(data, ws.folder, progress) as backup:

        def once() -> Imported:
            with ws.brewing, ws.engine.begin() as connection:
                merge = _Merge(connection, backup, existing)
                counted = merge.run()
                _check(connection, ws, backup, merge)
            return counted

        placed: list[str] = []
        try:
            _place_files(ws, backup, placed)
            return ws.again_when_overtaken(once).model_copy(update={"files": len(placed)})
        except BaseException as error:
            _remove(ws, placed)
            if isinstance(error, InputError) or not isinstance(error, WRONG):
                raise
            raise malformed(f"a row of it is not as it should be ({_which(error)})") from error


def _which(error: BaseException) -> str:
    """Return which row of a back-up was wrong, as far as it is known, without any of its content."""
    if isinstance(error, KeyError):
        return "it refers to a row that is not in it"
    if isinstance(error, ValidationError | IntegrityError | DataError):
        return type(error).__name__
    return str(error)[:80]


def _place_files(ws: Workspace, backup: Unpacked, placed: list[str]) -> None:
    """Put the files that are new into the workspace, before rows refer to them."""
    for content_hash in backup.hashes:
        if not ws.files.has(content_hash):
            placed.append(content_hash)
            ws.files.take(backup.folder / content_hash, content_hash)


def _remove(ws: Workspace, placed: list[str]) -> None:
    """Take files out again that nothing refers to."""
    with ws.transaction() as session:
        referred = referred_files(session)
    for content_hash in placed:
        if content_hash not in referred:
            ws.files.delete(content_hash)


def _check(connection: Connection, ws: Workspace, backup: Unpacked, merge: _Merge) -> None:
    """Refuse rows that could not be opened, and rows whose files are nowhere."""
    with Session(connection, join_transaction_mode="create_savepoint") as session:
        complete(session)
        session.commit()
    with Session(connection) as session:
        for kind in OPENED:
            for row in merge.added(session, kind):
                try:
                    OPENED[kind](row)
                except (InputError, ValueError, KeyError) as error:
                    raise ValueError(f"{kind.__tablename__} {row.id} cannot be opened: {error}") from error
        for content_hash in sorted(referred_files(session, merge.added_ids) - backup.missing):
            if not ws.files.has(content_hash):
                raise ValueError(f"the file {content_hash[:12]}… is not in it")
        for row in merge.added(session, models.Sample):
            try:
                check_packed(ws.files.get(row.grounds_hash))
            except OSError:
                continue  # said to be missing
            except (ValueError, KeyError, zipfile.BadZipFile) as error:
                raise ValueError(f"the grounds of sample {row.id}") from error


def _open_sample(row: models.Sample) -> None:
    row.whole.core()
    curve = row.curve
    if len({len(v) for v in (curve.size_um, curve.density, curve.cumulative, curve.low, curve.high)}) != 1:
        raise ValueError("its curve's lists differ in length")


def _open_plan(row: models.Plan) -> None:
    row.document.core()
    row.recipe.amounts()


# What opens a row on the page, whose documents may be well-formed and still make no sense.
OPENED: dict[type[Any], Any] = {
    models.Grinder: lambda row: row.dial.core(),
    models.Sample: _open_sample,
    models.OwnBrewer: lambda row: row.shape.model_dump(),
    models.SavedRecipe: lambda row: row.recipe.amounts(),
    models.Plan: _open_plan,
    models.Slip: lambda row: row.document.case(),
}


class _Merge:
    """Rows of a back-up into tables; ``ids`` says what became of each identity."""

    def __init__(self, connection: Connection, backup: Unpacked, existing: Existing) -> None:
        self._connection, self._backup, self._existing = connection, backup, existing
        self._ids: dict[str, dict[int, int]] = {t.name: {} for t in tables()}
        self._parents: list[tuple[int, int]] = []
        self._counted = Imported(rows=0, files=0, known=0, changed=0, deleted=0, replaced=0)
        self.added_ids: dict[str, set[int]] = {t.name: set() for t in tables()}
        # A folder that was just made holds its workbench alone.
        self._empty = all(
            not connection.execute(select(t.c.id).limit(1)).first()
            for t in tables()
            if t.name not in ("bench", "draft")
        )

    def run(self) -> Imported:
        """Add what is new, and count."""
        for kept in tables():
            if self._empty:
                self._connection.execute(kept.delete())
            there = {self._mark(kept, row): row for row in self._present(kept)}
            for row in self._backup.rows(kept.name):
                same = there.get(self._mark(kept, row))
                if same is None:
                    self._add(kept, row)
                else:
                    self._meet(kept, row, same)
        self._link_slips()
        if self._empty:
            follow_identities(self._connection)
        return self._counted

    def added(self, session: Session, kind: type[Any]) -> Iterator[Any]:
        """Rows that were added or replaced, a few at a time."""
        ids = sorted(self.added_ids[kind.__tablename__])
        for k in range(0, len(ids), AT_ONCE):
            yield from session.scalars(select(kind).where(kind.id.in_(ids[k : k + AT_ONCE])))
            session.expunge_all()

    def _present(self, kept: Table) -> Iterator[Row]:
        """Return what rows that are there are known by, and whether they changed."""
        if self._empty:
            return
        of = plain(kept)
        names = {"id", "version", "created_at", "deleted_at", *UNIQUE.get(kept.name, ())}
        for row in self._connection.execute(select(*(of.c[n] for n in sorted(names)))).mappings():
            yield {**row, "created_at": row["created_at"].isoformat(" ", "microseconds")}

    @staticmethod
    def _mark(kept: Table, row: Row) -> tuple[Any, ...]:
        """Return what a row is known by: when it was made, to the microsecond; of some there can be but one."""
        return tuple(row[name] for name in UNIQUE.get(kept.name, ("created_at",)))

    def _meet(self, kept: Table, row: Row, same: Row) -> None:
        """Keep a row that is there already, or write it as the back-up has it."""
        self._counted.known += 1
        self._ids[kept.name][row["id"]] = same["id"]
        values = self._values(kept, row)
        deleted = same["deleted_at"] is not None and values["deleted_at"] is None
        if not deleted and (same["version"], same["deleted_at"]) == (values["version"], values["deleted_at"]):
            return
        if kept.name in UNIQUE:
            return
        if deleted:
            self._counted.deleted += 1
        else:
            self._counted.changed += 1
        if self._existing == "keep":
            return
        self._counted.replaced += 1
        of = plain(kept)
        for name in ("id", "number", "parent_id", "created_at"):
            values.pop(name, None)
        # Whoever has seen it as it was must look again; what is derived is derived again.
        values["version"] = same["version"] + 1
        values |= {c.name: None for c in kept.columns if c.info.get("derived")}
        self._connection.execute(update(of).where(of.c.id == same["id"]).values(values))
        self.added_ids[kept.name].add(same["id"])

    def _values(self, kept: Table, row: Row) -> Row:
        """Return a row's values as its columns take them, referring to rows by their identities here."""
        values = read_row(kept, {k: v for k, v in row.items() if k not in SECRET.get(kept.name, ())})
        values.pop("made_by_id", None)
        for column in kept.columns:
            for key in column.foreign_keys:
                if values.get(column.name) is not None and key.column.table is not kept:
                    values[column.name] = self._ids[key.column.table.name][values[column.name]]
        if kept.name == "measurement_job":
            values["ordered"] = self._order(values["ordered"])
        return values

    def _order(self, order: Row) -> Row:
        """Return an order of photos with the identities of here; what it names and the back-up lacks is left out."""
        names = {"coffee_id": "coffee", "grinder_id": "grinder", "sample_id": "sample", "counter_id": "bench"}
        return {**order, **{k: self._ids[t].get(order[k]) for k, t in names.items() if order.get(k) is not None}}

    def _add(self, kept: Table, row: Row) -> None:
        values, of = self._values(kept, row), plain(kept)
        old = values["id"]
        if old in self._ids[kept.name]:
            raise ValueError(f"row {old} of {kept.name} twice")
        if not self._empty:
            del values["id"]
            if kept.name == "pass":
                values["taken_up_at"] = None  # what is at hand here stays so
        if kept.name == "slip":
            # The slip before may come later in the back-up.
            if values["parent_id"] is not None:
                self._parents.append((old, values["parent_id"]))
            values["parent_id"] = None
            if not self._empty:
                highest = self._connection.execute(select(func.max(of.c.number))).scalar()
                values["number"] = 1 + (highest or 0)
        new = self._connection.execute(insert(of).values(values).returning(of.c.id)).scalar_one()
        self._ids[kept.name][old] = new
        self.added_ids[kept.name].add(new)
        self._counted.rows += 1

    def _link_slips(self) -> None:
        """Threads of slips, once all have their new identities."""
        slip, ids = plain(models.Base.metadata.tables["slip"]), self._ids["slip"]
        for child, parent in self._parents:
            self._connection.execute(update(slip).where(slip.c.id == ids[child]).values(parent_id=ids[parent]))
