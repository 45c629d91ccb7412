"""Files named by their content: photos as they came, and the grounds measured on them."""

from __future__ import annotations

import errno
import hashlib
import os
import tempfile
from abc import ABC, abstractmethod
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

from hakari.formats.base import CONTENT_HASH
from hakari.store.sqlite_files import sync

# A file is kept before the row that refers to it is written: so long it may wait.
YOUNG = timedelta(hours=1)


class FileStore(ABC):
    """Files under the SHA-256 of their content: each is there once, and whole."""

    def put(self, data: bytes) -> str:
        """Keep a file and return its hash."""
        content_hash = hashlib.sha256(data).hexdigest()
        if not self.has(content_hash):
            self._write(content_hash, data)
        return content_hash

    @abstractmethod
    def _write(self, content_hash: str, data: bytes) -> None:
        """Keep a file that is not there yet; half of it is never seen."""

    @abstractmethod
    def take(self, path: Path, content_hash: str) -> None:
        """Keep a file that lies on this disk, whose hash is known; where it can be, it is moved."""

    @abstractmethod
    def has(self, content_hash: str) -> bool:
        """Whether a file is kept."""

    @abstractmethod
    def get(self, content_hash: str) -> bytes:
        """Read a file; ``OSError`` when it is not there."""

    @abstractmethod
    def hashes(self, kept_before: datetime | None = None) -> list[str]:
        """All files that are kept, by their hash, or those that were there by a time."""

    @abstractmethod
    def delete(self, content_hash: str) -> None:
        """Let go of a file, if it is there."""


class FolderStore(FileStore):
    """A folder of files, with a folder for each first byte of the hash."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        folder.mkdir(parents=True, exist_ok=True)

    def _path(self, content_hash: str) -> Path:
        # Whatever a row says, nothing outside the folder is reached.
        if not CONTENT_HASH.fullmatch(content_hash):
            raise FileNotFoundError(f"{content_hash[:20]!r} is no name of a file")
        return self.folder / content_hash[:2] / content_hash

    def _write(self, content_hash: str, data: bytes) -> None:
        """Write aside, sync and rename, so that a crash leaves none half-written."""
        path = self._path(content_hash)
        path.parent.mkdir(exist_ok=True)
        handle, temporary = tempfile.mkstemp(dir=path.parent, prefix=".part-")
        try:
            with os.fdopen(handle, "wb") as file:
                file.write(data)
                file.flush()
                os.fsync(file.fileno())
            Path(temporary).replace(path)
        except BaseException:
            Path(temporary).unlink(missing_ok=True)
            raise

    def take(self, path: Path, content_hash: str) -> None:
        """Move a file in, or copy it from another disk."""
        kept = self._path(content_hash)
        kept.parent.mkdir(exist_ok=True)
        sync(path)
        try:
            path.replace(kept)
        except OSError as error:
            if error.errno != errno.EXDEV:
                raise
            self._write(content_hash, path.read_bytes())

    def has(self, content_hash: str) -> bool:
        """Whether a file is kept."""
        return bool(CONTENT_HASH.fullmatch(content_hash)) and self._path(content_hash).exists()

    def get(self, content_hash: str) -> bytes:
        """Read a file."""
        return self._path(content_hash).read_bytes()

    def hashes(self, kept_before: datetime | None = None) -> list[str]:
        """All files; what was left half-written is none of them."""
        kept = (p for p in self.folder.glob("??/*") if CONTENT_HASH.fullmatch(p.name))
        return [p.name for p in kept if kept_before is None or p.stat().st_mtime <= kept_before.timestamp()]

    def delete(self, content_hash: str) -> None:
        """Let go of a file."""
        self._path(content_hash).unlink(missing_ok=True)

    def left_half_written(self) -> list[Path]:
        """Return what a crash left behind."""
        return list(self.folder.glob("*/.part-*"))


class ObjectStore(FileStore):
    """Files in an object store that fsspec reaches by a URL; an object is there at once or not at all."""

    def __init__(self, address: str) -> None:
        from fsspec.core import url_to_fs

        self._files: Any
        self._files, self._root = url_to_fs(address)

    def _path(self, content_hash: str) -> str:
        if not CONTENT_HASH.fullmatch(content_hash):
            raise FileNotFoundError(f"{content_hash[:20]!r} is no name of a file")
        return f"{self._root.rstrip('/')}/{content_hash[:2]}/{content_hash}"

    def _write(self, content_hash: str, data: bytes) -> None:
        self._files.pipe_file(self._path(content_hash), data)

    def take(self, path: Path, content_hash: str) -> None:
        """Send a file there."""
        self._files.put_file(str(path), self._path(content_hash))

    def has(self, content_hash: str) -> bool:
        """Whether a file is kept."""
        return bool(CONTENT_HASH.fullmatch(content_hash)) and bool(self._files.exists(self._path(content_hash)))

    def get(self, content_hash: str) -> bytes:
        """Read a file."""
        data: bytes = self._files.cat_file(self._path(content_hash))
        return data

    def hashes(self, kept_before: datetime | None = None) -> list[str]:
        """All files."""
        self._files.invalidate_cache()
        paths = [p for p in self._files.find(self._root) if len(p.rpartition("/")[2]) == 64]
        return [p.rpartition("/")[2] for p in paths if kept_before is None or self._files.modified(p) <= kept_before]

    def delete(self, content_hash: str) -> None:
        """Let go of a file."""
        if self.has(content_hash):
            self._files.rm_file(self._path(content_hash))
