"""Print the OpenAPI document: ``python -m hakari.web.openapi``."""

from __future__ import annotations

import json

from hakari.web.app import make_routes


def document_text() -> str:
    """Return the document as it is committed."""
    return json.dumps(make_routes().api_doc, indent=1, sort_keys=True, ensure_ascii=False) + "\n"


if __name__ == "__main__":
    print(document_text(), end="")
