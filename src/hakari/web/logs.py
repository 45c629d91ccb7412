"""Structured logs: a JSON line a request and a job, in the data folder; troubles on standard error as well."""

from __future__ import annotations

import json
import logging
from datetime import UTC, datetime
from logging.handlers import RotatingFileHandler
from pathlib import Path

LARGEST_BYTES, KEPT_FILES = 5_000_000, 3


class _LogFile(RotatingFileHandler):
    """Goes on without a line that cannot be written, as on a full disk."""

    def handleError(self, record: logging.LogRecord) -> None:  # noqa: N802
        """Nothing: the request itself has failed or been answered, and `/api/health` tells of the disk."""


class JsonLines(logging.Formatter):
    """A record as one line of JSON, with its cause."""

    def format(self, record: logging.LogRecord) -> str:
        """Write the line."""
        line: dict[str, object] = {
            "time": datetime.fromtimestamp(record.created, UTC).isoformat(timespec="milliseconds"),
            "level": record.levelname.lower(), "name": record.name, "message": record.getMessage(),
            **getattr(record, "fields", {}),
        }  # fmt: skip
        if record.exc_info:
            line["exception"] = self.formatException(record.exc_info)
        return json.dumps(line, ensure_ascii=False)


def log_to(folder: Path) -> None:
    """Write everything of Hakari's into ``hakari.jsonl``; three files of five megabytes are kept."""
    logger = logging.getLogger("hakari")
    logger.setLevel(logging.INFO)
    file = _LogFile(folder / "hakari.jsonl", maxBytes=LARGEST_BYTES, backupCount=KEPT_FILES, encoding="utf-8")
    file.setFormatter(JsonLines())
    troubles = logging.StreamHandler()
    troubles.setLevel(logging.WARNING)
    troubles.setFormatter(logging.Formatter("hakari: %(message)s"))
    logger.handlers[:] = [file, troubles]
