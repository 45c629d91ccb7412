"""Opening the database: SQLite in the data folder, or a PostgreSQL that several servers share; brought up to date."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from alembic.runtime.migration import MigrationContext
from sqlalchemy import Connection, Engine, create_engine, event, func, make_url, select
from sqlalchemy.orm import Session, sessionmaker
from sqlalchemy.pool import NullPool

from hakari.store.half_upgrades import HalfUpgradedError, take_back_half_an_upgrade
from hakari.store.models import Base
from hakari.store.revisions import known_revisions, upgrade

# One lock of the whole database, for what must be done by one server at a time: "hakari" in ASCII.
ONE_AT_A_TIME = 0x68616B617269
BUSY_S = 5.0  # so long a write waits for another one


def sqlite_address(path: Path) -> str:
    """Return the address of a database file."""
    return f"sqlite:///{path}"


def open_engine(address: str) -> Engine:
    """Return an engine on a database, shared by all threads.

    Transactions of PostgreSQL are serializable, as SQLite's are: a write that rests on what another has changed since fails
    and is done again, in this process or in another.
    """
    url = make_url(address)
    if url.get_backend_name() == "sqlite":
        return _with_pragmas(create_engine(url, connect_args={"timeout": BUSY_S}, pool_size=40, max_overflow=8))
    return create_engine(
        url, isolation_level="SERIALIZABLE", pool_size=20, max_overflow=28, pool_pre_ping=True,
        connect_args={"connect_timeout": 10},
    )  # fmt: skip


def is_shared(engine: Engine) -> bool:
    """Whether other servers may use the same database."""
    return engine.dialect.name != "sqlite"


def _with_pragmas(engine: Engine) -> Engine:
    @event.listens_for(engine, "connect")
    def _set_pragmas(connection: Any, _record: Any) -> None:
        cursor = connection.cursor()
        cursor.execute("PRAGMA journal_mode=WAL")
        cursor.execute("PRAGMA synchronous=FULL")
        cursor.execute("PRAGMA foreign_keys=ON")
        cursor.close()

    return engine


def revision_of_database(engine: Engine) -> str | None:
    """Return the schema's revision; ``None`` in a database that has none yet."""
    with engine.connect() as connection:
        return MigrationContext.configure(connection).get_current_revision()


def migrate(engine: Engine, to: str = "head") -> None:
    """Bring the schema up to date in one transaction: it is done as a whole or not at all, whenever the process ends.

    What an older Hakari left of an upgrade that was cut short is taken back first.

    Raises
    ------
    HalfUpgradedError
        When rows stand where nothing can be, so that this is no upgrade that was cut short.
    """
    revision = revision_of_database(engine)
    if revision == known_revisions()[0]:
        return
    writing = engine if is_shared(engine) else _engine_of_one_transaction(engine)
    try:
        with writing.begin() as connection:
            if not is_shared(engine):
                take_back_half_an_upgrade(connection, revision)
            upgrade(connection, to)
            if not is_shared(engine) and connection.exec_driver_sql("PRAGMA foreign_key_check").first():
                raise HalfUpgradedError("a row refers to one that is not there")
    finally:
        if writing is not engine:
            writing.dispose()


def shrink(engine: Engine) -> None:
    """Give the room that an upgrade freed back to the disk."""
    if is_shared(engine):
        return
    with engine.connect().execution_options(isolation_level="AUTOCOMMIT") as connection:
        free = connection.exec_driver_sql("PRAGMA freelist_count").scalar_one()
        if free > connection.exec_driver_sql("PRAGMA page_count").scalar_one() / 4:
            connection.exec_driver_sql("VACUUM")
            connection.exec_driver_sql("PRAGMA wal_checkpoint(TRUNCATE)")


@contextmanager
def read_snapshot(engine: Engine) -> Iterator[Connection]:
    """Open a connection that sees the database as it was at one moment, whatever others write meanwhile."""
    if is_shared(engine):
        with engine.connect().execution_options(
            isolation_level="REPEATABLE READ", postgresql_readonly=True
        ) as connection:
            yield connection
        return
    reading = _engine_of_one_transaction(engine, "BEGIN")
    try:
        with reading.connect() as connection:
            yield connection
    finally:
        reading.dispose()


def _engine_of_one_transaction(engine: Engine, begin: str = "BEGIN IMMEDIATE") -> Engine:
    """Return an engine whose transactions hold reads and changes of tables too; Python's driver begins them only for rows."""
    alone = create_engine(engine.url, poolclass=NullPool, connect_args={"timeout": BUSY_S})

    @event.listens_for(alone, "connect")
    def _leave_transactions_alone(connection: Any, _record: Any) -> None:
        connection.isolation_level = None
        # A table that is rebuilt would take its references with it; all are checked before the end.
        connection.execute("PRAGMA foreign_keys=OFF")

    @event.listens_for(alone, "begin")
    def _begin(connection: Connection) -> None:
        connection.exec_driver_sql(begin)

    return alone


@contextmanager
def one_at_a_time(engine: Engine) -> Iterator[None]:
    """Do what one server at a time may do with a shared database; SQLite has but one server."""
    if not is_shared(engine):
        yield
        return
    # Outside a transaction: one that had waited here would not see what the others did meanwhile.
    with engine.connect().execution_options(isolation_level="AUTOCOMMIT") as connection:
        connection.execute(select(func.pg_advisory_lock(ONE_AT_A_TIME)))
        try:
            yield
        finally:
            connection.execute(select(func.pg_advisory_unlock(ONE_AT_A_TIME)))


def follow_identities(connection: Connection) -> None:
    """Have new rows numbered after those that came with numbers of their own; SQLite does so by itself."""
    if connection.dialect.name == "sqlite":
        return
    for table in Base.metadata.sorted_tables:
        if "id" in table.c:
            highest = select(func.coalesce(func.max(table.c.id), 0) + 1).scalar_subquery()
            sequence = func.pg_get_serial_sequence(f'"{table.name}"', "id")
            connection.execute(select(func.setval(sequence, highest, False)))


def session_factory(engine: Engine) -> sessionmaker[Session]:
    """Sessions whose objects stay readable after commit."""
    return sessionmaker(engine, expire_on_commit=False)
