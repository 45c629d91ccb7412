"""Opening the database: SQLite in WAL mode with foreign keys on, brought up to date by its migrations."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine, event
from sqlalchemy.orm import Session, sessionmaker


def open_engine(path: Path) -> Engine:
    """Return an engine on one database file, shared by all threads."""
    engine = create_engine(f"sqlite:///{path}", connect_args={"timeout": 15}, pool_size=40, max_overflow=8)

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


def migrate(engine: Engine) -> None:
    """Bring the schema up to date."""
    config = alembic_config()
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "head")


def session_factory(engine: Engine) -> sessionmaker[Session]:
    """Sessions whose objects stay readable after commit."""
    return sessionmaker(engine, expire_on_commit=False)
