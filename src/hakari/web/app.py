"""The Flask application: blueprints by station, one shape of error, security headers, the built page."""

from __future__ import annotations

import functools
import gzip
import logging
import mimetypes
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from flask import Response, current_app, g, request, send_from_directory
from flask_openapi3 import Info, OpenAPI
from pydantic import BaseModel
from werkzeug.routing import PathConverter

from hakari.formats.base import ErrorDocument
from hakari.service.brews.desk import BrewDesk
from hakari.service.devices.known_tokens import KnownTokens
from hakari.service.devices.pairing_codes import PairingCodes
from hakari.service.drills.questions import Questions
from hakari.service.samples.measurement_queue import MeasurementQueue
from hakari.service.workspace.transaction import Workspace
from hakari.web import (
    archives,
    bench,
    brew,
    counters,
    cup,
    devices,
    drafts,
    drills,
    experiments,
    failures,
    grinders,
    measure,
    passes,
    plan,
    slips,
    system,
)
from hakari.web.addresses import Serving, name_of
from hakari.web.pairing import DISPLAY, PAGE, display_page, is_this_computer, only_let_in, pairing_page
from hakari.web.shared import Station

STATIC = Path(__file__).parent / "static"
mimetypes.add_type("application/manifest+json", ".webmanifest")
MAX_UPLOAD_BYTES = 400 * 1024 * 1024
PACKED_FROM_BYTES, PACKING_LEVEL = 20_000, 4
# What a request says that it rests on: refused when that is no longer so, also at a second try.
SEEN = ("version", "seen_plan_id")
SECURITY = {
    "Content-Security-Policy": "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; "
    "font-src 'self' data:; frame-ancestors 'none'; base-uri 'self'; form-action 'self'",
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
    "X-Frame-Options": "DENY",
    "Cross-Origin-Opener-Policy": "same-origin",
}
STATIONS = (
    system, archives, devices, bench, counters, drafts, measure, grinders, passes, plan, brew, cup, slips, experiments,
    drills,
)  # fmt: skip
requests = logging.getLogger("hakari.requests")


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
        for station in self.blueprints.values():
            if isinstance(station, Station):
                station.describe()
                self.paths.update(station.paths)
                self.components_schemas.update(station.components_schemas)
        document: dict[str, Any] = super().api_doc
        components = document.get("components", {})
        if components.get("securitySchemes", 0) is None:
            del components["securitySchemes"]
        return document


class PagePath(PathConverter):
    """Any path but those of the interface, so that an unknown one of those is not answered by the page."""

    regex = r"(?!api(?:/|$)).+?"


def create_app(workspace: Workspace, serving: Serving | None = None) -> HakariApp:
    """Make the application on an opened data folder; ``serving`` says how it is reached, else from this computer alone."""
    app = make_routes()
    attach(app, workspace, serving)
    return app


def attach(app: HakariApp, workspace: Workspace, serving: Serving | None = None) -> None:
    """Put the application to work on an opened data folder."""
    app.extensions["workspace"] = workspace
    app.extensions["measuring_desk"] = MeasurementQueue(workspace)
    app.extensions["brew_desk"] = BrewDesk(workspace)
    app.extensions["pairing_codes"] = PairingCodes()
    app.extensions["drill_questions"] = Questions()
    app.extensions["known_tokens"] = KnownTokens(workspace)
    app.extensions["serving"] = serving or Serving()


def make_routes() -> HakariApp:
    """Make the application with all its addresses, but without work."""
    app = HakariApp(
        "hakari", info=Info(title="Hakari", version="1"), doc_ui=False, validate_response=True,
        validation_error_model=ErrorDocument, validation_error_callback=failures.validation_failed, static_folder=None,
    )  # fmt: skip
    app.config["MAX_CONTENT_LENGTH"] = MAX_UPLOAD_BYTES
    app.config["MAX_FORM_MEMORY_SIZE"] = 1024 * 1024
    for station in STATIONS:
        app.register_api(station.api)
    failures.register(app)
    app.before_request(_start_clock)
    app.before_request(_known_host)
    app.before_request(only_let_in)
    app.before_request(_same_origin_writes)
    app.after_request(_pack)
    app.after_request(_secure)
    app.after_request(_note)
    for name, view in app.view_functions.items():
        app.view_functions[name] = _again_when_overtaken(view)
    app.add_url_rule("/api/openapi.json", "openapi_document", lambda: app.api_doc)
    app.add_url_rule(PAGE, "pair", pairing_page, methods=["GET", "POST"])
    app.add_url_rule(DISPLAY, "display", display_page)
    app.add_url_rule("/", "page", _page, defaults={"path": ""})
    app.url_map.converters["page"] = PagePath
    app.add_url_rule("/<page:path>", "page", _page)
    return app


def _page(path: str) -> Response:
    """Return a built file, or the page itself for any address of the application."""
    if path and (STATIC / path).is_file():
        packed = _takes_packed() and (STATIC / f"{path}.gz").is_file()
        response = send_from_directory(STATIC, f"{path}.gz" if packed else path)
        if packed:
            response.headers["Content-Encoding"] = "gzip"
            response.mimetype = mimetypes.guess_type(path)[0] or "application/octet-stream"
        response.headers["Vary"] = "Accept-Encoding"
        if path.startswith("assets/"):
            response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
        else:
            response.headers["Cache-Control"] = "no-cache"
        return response
    if not (STATIC / "index.html").exists():
        return Response("The page has not been built: run make setup.", status=503, mimetype="text/plain")
    response = send_from_directory(STATIC, "index.html")
    response.headers["Cache-Control"] = "no-cache"
    return response


def _again_when_overtaken(view: Callable[..., Any]) -> Callable[..., Any]:
    """Repeat a write that another device's write overtook, where repeating it is safe."""

    @functools.wraps(view)
    def again(*args: Any, **kwargs: Any) -> Any:
        if not _repeatable():
            return view(*args, **kwargs)
        workspace: Workspace = current_app.extensions["workspace"]
        return workspace.again_when_overtaken(lambda: view(*args, **kwargs))

    return again


def _repeatable() -> bool:
    """Whether a request may be done again: not one that says what was seen, nor an upload, whose file is read already."""
    if request.files:
        return False
    body = request.get_json(silent=True) if request.is_json else None
    return not (isinstance(body, dict) and any(body.get(k) is not None for k in SEEN))


def _start_clock() -> None:
    g.started = time.perf_counter()


def _known_host() -> Response | None:
    """Refuse names that are not this server's: a foreign page may point a name of its own at it."""
    if name_of(request.host) in current_app.extensions["serving"].hosts:
        return None
    return failures.answer(
        ErrorDocument(code="foreign-host", message="Hakari does not answer to this name.",
                      remedy="Open it by the address that it printed when it started."), 400
    )  # fmt: skip


def _note(response: Response) -> Response:
    """One line a request in the log."""
    took_ms = round(1000 * (time.perf_counter() - g.started), 1)
    cause = None
    if response.status_code >= 400 and response.is_json and not response.is_streamed:
        cause = (response.get_json(silent=True) or {}).get("code")
    requests.info("request", extra={"fields": {
        "method": request.method, "path": request.path, "status": response.status_code, "ms": took_ms, "cause": cause,
        "by": _who(),
    }})  # fmt: skip
    return response


def _who() -> dict[str, Any] | str:
    """Return which device asked, for the log."""
    device = g.get("device")
    if device is not None:
        return {"device": device.id, "name": device.name, "role": device.role}
    return "this computer" if is_this_computer() else f"a stranger at {request.remote_addr}"


def _takes_packed() -> bool:
    return "gzip" in request.headers.get("Accept-Encoding", "")


def _pack(response: Response) -> Response:
    """Send large answers packed to other devices; on this computer packing would take longer than sending."""
    if (
        response.is_streamed or not response.is_json or (response.content_length or 0) < PACKED_FROM_BYTES
        or not _takes_packed() or is_this_computer()
    ):  # fmt: skip
        return response
    response.set_data(gzip.compress(response.get_data(), PACKING_LEVEL))
    response.headers["Content-Encoding"] = "gzip"
    response.vary.add("Accept-Encoding")
    return response


def _same_origin_writes() -> Response | None:
    """Refuse writes that another site's page sends."""
    if request.method in ("GET", "HEAD", "OPTIONS"):
        return None
    origin = request.headers.get("Origin")
    foreign = request.headers.get("Sec-Fetch-Site", "same-origin") not in ("same-origin", "none")
    if foreign or (origin is not None and origin.split("://")[-1] != request.host):
        return failures.answer(
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
