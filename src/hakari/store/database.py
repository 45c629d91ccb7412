"""Opening the database: SQLite in the data folder, or a PostgreSQL that several servers share; brought up to date."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from functools import cache
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import Connection, Engine, create_engine, event, func, make_url, select
from sqlalchemy.orm import Session, sessionmaker

from hakari.store.models import Base

# One lock of the whole database, for what must be done by one server at a time: "hakari" in ASCII.
ONE_AT_A_TIME = 0x68616B617269


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
        return _with_pragmas(create_engine(url, connect_args={"timeout": 15}, pool_size=40, max_overflow=8))
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


def alembic_config() -> Config:
    """Where the migrations are."""
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    return config


@cache
def known_revisions() -> tuple[str, ...]:
    """Return the revisions of the schema that this program knows, newest first."""
    return tuple(s.revision for s in ScriptDirectory.from_config(alembic_config()).walk_revisions())


def revision_of_database(engine: Engine) -> str | None:
    """Return the schema's revision; ``None`` in a database that has none yet."""
    with engine.connect() as connection:
        return MigrationContext.configure(connection).get_current_revision()


def migrate(engine: Engine) -> None:
    """Bring the schema up to date."""
    if revision_of_database(engine) == known_revisions()[0]:
        return
    config = alembic_config()
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "head")


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
