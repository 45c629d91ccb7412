"""What is done of a batch, written line by line as it is done, so that a run that is killed goes on where it was."""

from __future__ import annotations

import json
import os
from collections.abc import Iterator
from pathlib import Path
from typing import IO

from pydantic import ValidationError

from hakari.formats.batch import PhotoRow, SampleRow
from hakari.service.batches.measuring import CRASHED, SampleResult


class Journal:
    """A file of finished samples beside the results; each line is whole or not there."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self._file: IO[str] | None = None

    def read(self) -> dict[str, SampleResult]:
        """Return the finished samples by their keys; a line that was cut off by a kill is skipped."""
        if not self.path.exists():
            return {}
        return dict(self._results())

    def _results(self) -> Iterator[tuple[str, SampleResult]]:
        for line in self.path.read_text(encoding="utf-8").splitlines():
            try:
                raw = json.loads(line)
                photos = tuple(PhotoRow.model_validate(p) for p in raw["photos"])
                sample = SampleRow.model_validate(raw["sample"])
            except (ValueError, KeyError, TypeError, ValidationError):
                continue
            # What stopped a worker may not do so again: it is not done.
            if sample.key and not any(p.status == CRASHED for p in photos):
                yield sample.key, SampleResult(photos, sample)

    def add(self, result: SampleResult) -> None:
        """Write a finished sample, and see to it that it is on the disk."""
        if self._file is None:
            self.path.parent.mkdir(parents=True, exist_ok=True)
            broken = self.path.exists() and not self.path.read_bytes().endswith(b"\n") and self.path.stat().st_size > 0
            self._file = self.path.open("a", encoding="utf-8")
            if broken:
                self._file.write("\n")
        line = {"photos": [p.model_dump() for p in result.photos], "sample": result.sample.model_dump()}
        self._file.write(json.dumps(line, ensure_ascii=False) + "\n")
        self._file.flush()
        os.fsync(self._file.fileno())

    def close(self) -> None:
        """Close the file; it stays, so that the same command only does what is new."""
        if self._file is not None:
            self._file.close()
            self._file = None
