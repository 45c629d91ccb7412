"""Files named by their content: photos as they came, and the grounds measured on them."""

from __future__ import annotations

import hashlib
import os
import tempfile
from pathlib import Path


class FileStore:
    """A folder of files under the SHA-256 of their content."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        folder.mkdir(parents=True, exist_ok=True)

    def path(self, content_hash: str) -> Path:
        """Where a file lies."""
        return self.folder / content_hash[:2] / content_hash

    def put(self, data: bytes) -> str:
        """Keep a file and return its hash; written aside, synced and renamed, so that a crash leaves none half-written."""
        content_hash = hashlib.sha256(data).hexdigest()
        path = self.path(content_hash)
        if path.exists():
            return content_hash
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
        return content_hash

    def has(self, content_hash: str) -> bool:
        """Whether a file is kept."""
        return self.path(content_hash).exists()

    def hashes(self) -> list[str]:
        """All files that are kept, by their hash; what was left half-written is none of them."""
        return [p.name for p in self.folder.glob("??/*") if not p.name.startswith(".")]

    def get(self, content_hash: str) -> bytes:
        """Read a file."""
        return self.path(content_hash).read_bytes()
