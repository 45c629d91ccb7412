"""Print the OpenAPI document: ``python -m hakari.web.openapi``."""

from __future__ import annotations

import json
import tempfile
from pathlib import Path

from hakari.service.workspace.transaction import Workspace
from hakari.web.app import create_app


def document_text() -> str:
    """Return the document as it is committed."""
    with tempfile.TemporaryDirectory() as folder:
        workspace = Workspace(Path(folder), measuring_processes=0)
        try:
            return json.dumps(create_app(workspace).api_doc, indent=1, sort_keys=True, ensure_ascii=False) + "\n"
        finally:
            workspace.close()


if __name__ == "__main__":
    print(document_text(), end="")
