"""What the stations' blueprints share."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from flask import current_app, g, request
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field

from hakari.formats.base import ErrorDocument
from hakari.service.devices.use_cases import KnownDevice
from hakari.service.workspace.transaction import Workspace

ERRORS = (400, 401, 403, 404, 405, 409, 413, 414, 422, 500, 503)
NO_CONTENT = ("", 204)
COUNTER_COOKIE, MOST_DIGITS = "hakari_counter", 16


class OfPass(BaseModel):
    """Which pass a request is about; the one at hand where it is left out."""

    pass_id: int | None = Field(default=None, ge=1, le=2**53)


def workspace(of: OfPass | None = None) -> Workspace:
    """Return the workspace of the running application as the device that asks uses it, seen from its counter."""
    found: Workspace = current_app.extensions["workspace"]
    if of is not None:
        found = found.about(of.pass_id)
    device: KnownDevice | None = g.get("device")
    if device is not None and device.role == "display":
        return found.at(device.counter_id).used_by(device.id, may_delete_all=False)
    chosen = request.cookies.get(COUNTER_COOKIE, "")
    there = found.at(int(chosen) if chosen.isdecimal() and len(chosen) < MOST_DIGITS else None)
    return there if device is None else there.used_by(device.id, device.role == "manager")


class Station(APIBlueprint):
    """A station's routes, described only when the OpenAPI document is asked for: it takes a third of the time to start."""

    def __init__(self, name: str, prefix: str) -> None:
        """Make a blueprint with the one shape of error."""
        super().__init__(name, __name__, url_prefix=prefix, abp_responses=_refusals())
        self._undescribed: list[tuple[str, Callable[..., Any], dict[str, Any]]] = []

    def _collect_openapi_info(self, rule: str, func: Callable[..., Any], **said: Any) -> Any:
        self._undescribed.append((rule, func, said))
        return super()._collect_openapi_info(rule, func, **{**said, "doc_ui": False})

    def describe(self) -> None:
        """Write what the routes take and answer into ``paths`` and ``components_schemas``."""
        while self._undescribed:
            rule, func, said = self._undescribed.pop(0)
            super()._collect_openapi_info(rule, func, **said)


def _refusals() -> dict[Any, Any]:
    """Return how errors are documented: the first names the model and the others refer to it, as naming it takes a while."""
    first, *others = ERRORS
    schema = {"$ref": f"#/components/schemas/{ErrorDocument.__name__}"}
    return {first: ErrorDocument, **{code: {"content": {"application/json": {"schema": schema}}} for code in others}}


def file_response(*mimetypes: str) -> dict[Any, Any]:
    """How a view that sends a file is documented."""
    content = {m: {"schema": {"type": "string", "format": "binary"}} for m in mimetypes}
    return {200: {"description": "The file", "content": content}}


class ById(BaseModel):
    """A row's identity in an address."""

    id: int = Field(ge=1, le=2**53)


class EmptyBody(BaseModel):
    """A request body with nothing in it."""
