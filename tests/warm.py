"""What a server does first, done once in the process that servers are forked from (``processes.py``)."""

from __future__ import annotations

import gc
import tempfile
from pathlib import Path

from sqlalchemy.orm import configure_mappers

from hakari.store.database import migrate, open_engine, sqlite_address

configure_mappers()
with tempfile.TemporaryDirectory(prefix="hakari-warm-") as folder:
    engine = open_engine(sqlite_address(Path(folder) / "any.sqlite"))
    migrate(engine)
    engine.dispose()
gc.collect()
gc.freeze()
