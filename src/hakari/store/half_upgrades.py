"""Databases that an older Hakari left between two revisions: it changed tables outside transactions, and was killed.

What such an upgrade had added is taken back, so that it can be done again from its beginning.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from sqlalchemy import Connection, create_engine

from hakari.store.revisions import upgrade

ALEMBIC = "alembic_version"


class HalfUpgradedError(Exception):
    """A database that fits no revision, for other reasons than an upgrade that was cut short."""


@dataclass(frozen=True)
class _Shape:
    """What a database consists of."""

    columns: dict[str, set[str]]
    indexes: set[str]


def take_back_half_an_upgrade(connection: Connection, revision: str | None) -> bool:
    """Drop what does not belong to a revision; whether there was any.

    Raises
    ------
    HalfUpgradedError
        When a table that should not be there holds rows, or one that should be there is missing.
    """
    found, expected = _shape_of(connection), _shape_at(revision)
    if found == expected:
        return False
    missing = [t for t, names in expected.columns.items() if not names <= found.columns.get(t, set())]
    if missing:
        raise HalfUpgradedError(f"the table {missing[0]} is not as it was")
    for index in sorted(found.indexes - expected.indexes):
        connection.exec_driver_sql(f'DROP INDEX "{index}"')
    for table in _referring_first(connection, found.columns.keys() - expected.columns.keys()):
        if connection.exec_driver_sql(f'SELECT 1 FROM "{table}" LIMIT 1').first():
            raise HalfUpgradedError(f"the table {table} belongs to no revision and holds rows")
        connection.exec_driver_sql(f'DROP TABLE "{table}"')
    for table, names in expected.columns.items():
        for name in sorted(found.columns[table] - names):
            connection.exec_driver_sql(f'ALTER TABLE "{table}" DROP COLUMN "{name}"')
    return True


def _referring_first(connection: Connection, tables: Iterable[str]) -> list[str]:
    """Tables in an order in which none is dropped before one that refers to it."""
    left, order = sorted(tables), list[str]()
    while left:
        referred = {
            row[2] for table in left for row in connection.exec_driver_sql(f'PRAGMA foreign_key_list("{table}")')
            if row[2] != table
        }  # fmt: skip
        free = [t for t in left if t not in referred] or left
        order += free
        left = [t for t in left if t not in free]
    return order


def _shape_at(revision: str | None) -> _Shape:
    """Return what a revision consists of, from one that is made for it."""
    if revision is None:
        return _Shape({}, set())
    engine = create_engine("sqlite://")
    try:
        with engine.begin() as connection:
            upgrade(connection, revision)
            return _shape_of(connection)
    finally:
        engine.dispose()


def _shape_of(connection: Connection) -> _Shape:
    named = connection.exec_driver_sql(
        "SELECT type, name FROM sqlite_master WHERE name NOT LIKE 'sqlite\\_%' ESCAPE '\\'"
    ).all()
    tables = [name for kind, name in named if kind == "table" and name != ALEMBIC]
    columns = {t: {row[1] for row in connection.exec_driver_sql(f'PRAGMA table_info("{t}")')} for t in tables}
    return _Shape(columns, {name for kind, name in named if kind == "index"})
