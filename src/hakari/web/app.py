"""The Flask application: blueprints by station, one shape of error, security headers, the built page."""

from __future__ import annotations

import logging
from pathlib import Path
from typing import Any

from flask import Response, request, send_from_directory
from flask_openapi3 import Info, OpenAPI
from pydantic import BaseModel, ValidationError
from sqlalchemy.exc import OperationalError
from werkzeug.exceptions import HTTPException
from werkzeug.routing import PathConverter

from hakari.core.errors import InputError
from hakari.formats.base import ErrorDocument, first_wrong
from hakari.service.brews.live import BrewDesk
from hakari.service.samples.measurement_queue import MeasurementQueue
from hakari.service.workspace.transaction import NotFoundError, StaleError, Workspace
from hakari.web import bench, brew, cup, drafts, grinders, measure, plan, slips, system

STATIC = Path(__file__).parent / "static"
MAX_UPLOAD_BYTES = 400 * 1024 * 1024
SECURITY = {
    "Content-Security-Policy": "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; "
    "font-src 'self' data:; frame-ancestors 'none'; base-uri 'self'; form-action 'self'",
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
    "X-Frame-Options": "DENY",
    "Cross-Origin-Opener-Policy": "same-origin",
}
log = logging.getLogger("hakari.web")


class HakariApp(OpenAPI):
    """Lets a view return a pydantic model, alone or with a status."""

    def make_response(self, rv: Any) -> Response:
        """Write a model as JSON by its own names."""
        status = None
        if isinstance(rv, tuple) and len(rv) == 2 and isinstance(rv[0], BaseModel):
            rv, status = rv
        if isinstance(rv, BaseModel):
            rv = Response(rv.model_dump_json(by_alias=True), mimetype="application/json", status=status or 200)
        return super().make_response(rv)

    @property
    def api_doc(self) -> dict[str, Any]:
        """The OpenAPI document, without the empty parts that the generator leaves."""
        document: dict[str, Any] = super().api_doc
        components = document.get("components", {})
        if components.get("securitySchemes", 0) is None:
            del components["securitySchemes"]
        return document


class PagePath(PathConverter):
    """Any path but those of the interface, so that an unknown one of those is not answered by the page."""

    regex = r"(?!api(?:/|$)).+?"


def create_app(workspace: Workspace) -> HakariApp:
    """Make the application on an opened data folder."""
    app = HakariApp(
        "hakari", info=Info(title="Hakari", version="1"), doc_ui=False, validate_response=True,
        validation_error_model=ErrorDocument, validation_error_callback=_validation_failed, static_folder=None,
    )  # fmt: skip
    app.config["MAX_CONTENT_LENGTH"] = MAX_UPLOAD_BYTES
    app.config["MAX_FORM_MEMORY_SIZE"] = 1024 * 1024
    app.extensions["workspace"] = workspace
    app.extensions["measuring_desk"] = MeasurementQueue(workspace)
    app.extensions["brew_desk"] = BrewDesk(workspace)
    for station in (system, bench, drafts, measure, grinders, plan, brew, cup, slips):
        app.register_api(station.api)
    app.register_error_handler(InputError, _input_failed)
    app.register_error_handler(HTTPException, _http_failed)
    app.register_error_handler(OperationalError, _database_failed)
    app.register_error_handler(RecursionError, _too_deep)
    app.register_error_handler(Exception, _crashed)
    app.before_request(_same_origin_writes)
    app.after_request(_secure)
    app.add_url_rule("/api/openapi.json", "openapi_document", lambda: app.api_doc)
    app.add_url_rule("/", "page", _page, defaults={"path": ""})
    app.url_map.converters["page"] = PagePath
    app.add_url_rule("/<page:path>", "page", _page)
    return app


def _page(path: str) -> Response:
    """A built file, or the page itself for any address of the application."""
    if path and (STATIC / path).is_file():
        response = send_from_directory(STATIC, path)
        if path.startswith("assets/"):
            response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
        return response
    if not (STATIC / "index.html").exists():
        return Response("The page has not been built: run make setup.", status=503, mimetype="text/plain")
    response = send_from_directory(STATIC, "index.html")
    response.headers["Cache-Control"] = "no-cache"
    return response


def _error(document: ErrorDocument, status: int) -> Response:
    return Response(document.model_dump_json(), status=status, mimetype="application/json")


def _input_failed(error: InputError) -> Response:
    status = 404 if isinstance(error, NotFoundError) else 409 if isinstance(error, StaleError) else 422
    return _error(ErrorDocument.from_input_error(error), status)


def _validation_failed(error: ValidationError) -> Response:
    place, wrong = first_wrong(error)
    message = wrong.removeprefix("Value error, ")
    return _error(
        ErrorDocument(code="not-valid", message=message, remedy="Check this field.", field=place or None), 422
    )


def _http_failed(error: HTTPException) -> Response:
    status = error.code or 500
    words = {404: "There is nothing at this address.", 405: "This address does not take that.",
             413: "The upload is too large.", 400: "The request could not be read."}  # fmt: skip
    response = _error(
        ErrorDocument(
            code=f"http-{status}", message=words.get(status, error.description or error.name),
            remedy="Send fewer or smaller photos." if status == 413 else "Go back to the page and try again.",
        ),
        status,
    )  # fmt: skip
    allowed = getattr(error, "valid_methods", None)
    if allowed:
        response.headers["Allow"] = ", ".join(sorted(allowed))
    return response


def _too_deep(_: RecursionError) -> Response:
    return _error(
        ErrorDocument(code="not-json", message="That is nested far too deep to be read.", remedy="Check the file."), 400
    )


def _database_failed(error: OperationalError) -> Response:
    log.error("database: %s", error)
    return _error(
        ErrorDocument(code="storage-failed", message="The data folder could not be written.",
                      remedy="Check the disk's space, then try again; nothing was half-written."), 503
    )  # fmt: skip


def _crashed(error: Exception) -> Response:
    log.exception("unexpected: %s %s", request.method, request.path)
    return _error(
        ErrorDocument(code="unexpected", message="Something went wrong that should not have.",
                      remedy="Try again; the server's log says more."), 500
    )  # fmt: skip


def _same_origin_writes() -> Response | None:
    """Refuse writes that another site's page sends."""
    if request.method in ("GET", "HEAD", "OPTIONS"):
        return None
    origin = request.headers.get("Origin")
    foreign = request.headers.get("Sec-Fetch-Site", "same-origin") not in ("same-origin", "none")
    if foreign or (origin is not None and origin.split("://")[-1] != request.host):
        return _error(
            ErrorDocument(code="foreign-origin", message="This came from another site's page.",
                          remedy="Open Hakari itself and try there."), 403
        )  # fmt: skip
    return None


def _secure(response: Response) -> Response:
    for name, value in SECURITY.items():
        response.headers.setdefault(name, value)
    if request.path.startswith("/api/"):
        response.headers.setdefault("Cache-Control", "no-store")
    return response
