"""What the stations' blueprints share."""

from __future__ import annotations

from typing import Any

from flask import current_app
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field

from hakari.formats.base import ErrorDocument
from hakari.service.workspace.transaction import Workspace

ERRORS = (400, 401, 403, 404, 405, 409, 413, 414, 422, 500, 503)
NO_CONTENT = ("", 204)


def workspace() -> Workspace:
    """Return the workspace of the running application."""
    found: Workspace = current_app.extensions["workspace"]
    return found


def blueprint(name: str, prefix: str) -> APIBlueprint:
    """Return a station's blueprint with the one shape of error."""
    return APIBlueprint(name, __name__, url_prefix=prefix, abp_responses=dict.fromkeys(ERRORS, ErrorDocument))


def file_response(*mimetypes: str) -> dict[Any, Any]:
    """How a view that sends a file is documented."""
    content = {m: {"schema": {"type": "string", "format": "binary"}} for m in mimetypes}
    return {200: {"description": "The file", "content": content}}


class ById(BaseModel):
    """A row's identity in an address."""

    id: int = Field(ge=1, le=2**53)


class EmptyBody(BaseModel):
    """A request body with nothing in it."""
