"""A back-up opened beside the workspace: checked entry by entry, nothing of it in the workspace yet.

Both versions of the format end up as the same folder: a file of JSON lines a table, and the files that the rows refer to.
"""

from __future__ import annotations

import hashlib
import json
import shutil
import tempfile
import zipfile
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import IO, Any

import ijson
from pydantic import ValidationError

from hakari.core.errors import InputError
from hakari.formats.base import CONTENT_HASH
from hakari.service.backups.archive import BLOCK, CONTENTS, FILES, FORMAT, ROWS, Contents, Progress, tables
from hakari.service.backups.columns import Row
from hakari.service.workspace.folder import STAGING
from hakari.store.revisions import known_revisions

FIRST_FORMAT, FIRST_ROWS = "hakari.workspace/1", "workspace.json"
LARGEST_BYTES, MOST_ENTRIES = 64 * 2**30, 500_000
LARGEST_CONTENTS_BYTES, LONGEST_ROW_BYTES = 256 * 2**20, 64 * 2**20
KEPT_FREE_BYTES = 200 * 2**20


def malformed(why: str) -> InputError:
    """Return the refusal of a back-up that cannot be used."""
    return InputError(
        "archive-malformed",
        f"This back-up cannot be read: {why}.",
        "Choose a file that hakari export wrote.",
        field="file",
    )


@dataclass(frozen=True)
class Unpacked:
    """A back-up in a folder of its own; ``missing`` are files that it says it has not."""

    folder: Path
    missing: frozenset[str]

    def rows(self, name: str) -> Iterator[Row]:
        """Rows of a table, in the order of their identities."""
        path = self.folder / f"{name}.jsonl"
        if not path.exists():
            return
        with path.open("rb") as lines:
            while line := lines.readline(LONGEST_ROW_BYTES):
                row = json.loads(line, parse_constant=_no_number)
                if not isinstance(row, dict) or type(row.get("id")) is not int:
                    raise ValueError(f"a row of {name}")
                yield row

    @property
    def hashes(self) -> list[str]:
        """All files that it holds."""
        return sorted(p.name for p in self.folder.iterdir() if CONTENT_HASH.fullmatch(p.name))


def _no_number(text: str) -> float:
    raise ValueError(f"{text} is no number")


@contextmanager
def unpacked(data: IO[bytes], beside: Path, progress: Progress) -> Iterator[Unpacked]:
    """Open a back-up in a folder beside the workspace, which is removed afterwards.

    Raises
    ------
    InputError
        ``archive-malformed``, ``archive-newer``, ``disk-full``.
    """
    with tempfile.TemporaryDirectory(prefix=STAGING, dir=beside) as folder:
        try:
            with zipfile.ZipFile(data) as archive:
                unpacking = _Unpacking(archive, Path(folder), progress)
                missing = unpacking.run()
        except (
            zipfile.BadZipFile, zlib.error, KeyError, EOFError, RuntimeError, NotImplementedError, ValidationError,
            ijson.JSONError, UnicodeError, json.JSONDecodeError, RecursionError,
        ) as error:  # fmt: skip
            raise malformed("it is no ZIP that Hakari wrote, or it is cut short") from error
        yield Unpacked(Path(folder), frozenset(missing))


class _Unpacking:
    """One back-up on its way into its folder."""

    def __init__(self, archive: zipfile.ZipFile, folder: Path, progress: Progress) -> None:
        self._archive, self._folder, self._progress = archive, folder, progress
        self._entries = {i.filename: i for i in archive.infolist()}

    def run(self) -> list[str]:
        """Write its rows and files down; the files that it says are missing."""
        self._check_size()
        first = FIRST_ROWS in self._entries and CONTENTS not in self._entries
        contents = None if first else self._contents()
        if contents is None:
            self._first_rows()
        else:
            for kept in tables():
                # An older Hakari did not know all tables of today; what it knew must be there.
                name = f"{ROWS}{kept.name}.jsonl"
                if kept.name in contents.rows:
                    self._extract(name, self._folder / f"{kept.name}.jsonl", contents.entries[name].sha256)
        self._files()
        return contents.missing if contents else []

    def _check_size(self) -> None:
        if len(self._entries) != len(self._archive.infolist()):
            raise malformed("it holds one name twice")
        if len(self._entries) > MOST_ENTRIES:
            raise malformed(f"it has {len(self._entries)} entries, and at most {MOST_ENTRIES} are read")
        size = sum(i.file_size for i in self._entries.values())
        if size > LARGEST_BYTES:
            raise malformed(f"it has {size / 2**30:.0f} GB, and at most {LARGEST_BYTES // 2**30} are read")
        if size + KEPT_FREE_BYTES > shutil.disk_usage(self._folder).free:
            raise InputError(
                "disk-full", f"This back-up needs {size / 2**20:.0f} MB, and there is no room for it.",
                "Make room, then import it again; nothing was changed.",
            )  # fmt: skip

    def _contents(self) -> Contents:
        if CONTENTS not in self._entries or self._entries[CONTENTS].file_size > LARGEST_CONTENTS_BYTES:
            raise malformed(f"it has no {CONTENTS}")
        plain = json.loads(self._archive.read(CONTENTS))
        if not isinstance(plain, dict) or plain.get("format") != FORMAT:
            raise malformed(f"it is not {FORMAT}")
        self._check_revision(plain.get("revision"))
        return Contents.model_validate(plain)

    def _check_revision(self, revision: Any) -> None:
        if revision not in known_revisions():
            raise InputError("archive-newer", "This back-up was written by a newer Hakari.", "Import it with that one.")

    def _first_rows(self) -> None:
        """Write the rows of a back-up of the first version down by table; its one document is read piece by piece."""
        known = {kept.name for kept in tables()}
        said: dict[str, Any] = {}
        with self._archive.open(FIRST_ROWS) as document:
            files: dict[str, IO[str]] = {}
            try:
                table, builder = "", None
                for prefix, event, value in ijson.parse(document, use_float=True):
                    if prefix in ("format", "revision"):
                        said[prefix] = value
                        continue
                    if (
                        builder is None
                        and event == "start_map"
                        and prefix.startswith("tables.")
                        and prefix.endswith(".item")
                    ):
                        table, builder = prefix.split(".")[1], ijson.ObjectBuilder()
                    if builder is None:
                        continue
                    builder.event(event, value)
                    if event == "end_map" and prefix == f"tables.{table}.item":
                        if table in known:
                            if table not in files:
                                files[table] = (self._folder / f"{table}.jsonl").open("w")
                            files[table].write(json.dumps(builder.value, allow_nan=False) + "\n")
                        builder = None
            finally:
                for file in files.values():
                    file.close()
        if said.get("format") != FIRST_FORMAT:
            raise malformed(f"it is not {FIRST_FORMAT}")
        self._check_revision(said.get("revision"))

    def _files(self) -> None:
        names = [n for n in self._entries if n.startswith(FILES)]
        for k, name in enumerate(names):
            content_hash = name.removeprefix(FILES)
            if not CONTENT_HASH.fullmatch(content_hash):
                raise malformed(f"{name[:40]}… is no name of a file in it")
            self._extract(name, self._folder / content_hash, content_hash)
            self._progress(k + 1, len(names))

    def _extract(self, name: str, to: Path, sha256: str) -> None:
        hashed, left = hashlib.sha256(), self._entries[name].file_size
        with self._archive.open(name) as entry, to.open("wb") as file:
            while block := entry.read(BLOCK):
                left -= len(block)
                hashed.update(block)
                file.write(block)
        if left != 0 or hashed.hexdigest() != sha256:
            raise malformed(f"{name[:30]}… is damaged")
