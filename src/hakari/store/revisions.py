"""The revisions of the schema, and how Alembic is run on a connection."""

from __future__ import annotations

from functools import cache
from pathlib import Path

from alembic import command
from alembic.config import Config
from alembic.script import ScriptDirectory
from sqlalchemy import Connection


def alembic_config() -> Config:
    """Where the migrations are."""
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    return config


@cache
def known_revisions() -> tuple[str, ...]:
    """Return the revisions of the schema that this program knows, newest first."""
    return tuple(s.revision for s in ScriptDirectory.from_config(alembic_config()).walk_revisions())


def upgrade(connection: Connection, to: str = "head") -> None:
    """Bring the tables of a connection's database to a revision, as part of its transaction."""
    config = alembic_config()
    config.attributes["connection"] = connection
    command.upgrade(config, to)
