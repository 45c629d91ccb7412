"""What is answered when a request fails: one shape of error, with a remedy, and no words about the inside."""

from __future__ import annotations

import errno
import logging

from flask import Flask, Response, current_app, request
from pydantic import ValidationError
from sqlalchemy.exc import DataError, OperationalError
from werkzeug.exceptions import HTTPException

from hakari.core.errors import InputError
from hakari.formats.base import ErrorDocument, first_wrong
from hakari.service.workspace.transaction import (
    NotAllowedError,
    NotFoundError,
    StaleError,
    is_overtaken,
    trouble_of_storage,
)

log = logging.getLogger("hakari.web")
STATUS: dict[type[InputError], int] = {NotFoundError: 404, StaleError: 409, NotAllowedError: 403}


def register(app: Flask) -> None:
    """Answer every kind of failure in the application's one shape."""
    app.register_error_handler(InputError, _input_failed)
    app.register_error_handler(HTTPException, _http_failed)
    app.register_error_handler(OperationalError, _database_failed)
    app.register_error_handler(DataError, _not_storable)
    app.register_error_handler(RecursionError, _too_deep)
    app.register_error_handler(OSError, _file_failed)
    app.register_error_handler(Exception, _crashed)


def answer(document: ErrorDocument, status: int) -> Response:
    """Return an error as the one shape that all have."""
    return Response(document.model_dump_json(), status=status, mimetype="application/json")


def _input_failed(error: InputError) -> Response:
    status = next((status for kind, status in STATUS.items() if isinstance(error, kind)), 422)
    return answer(ErrorDocument.from_input_error(error), status)


def validation_failed(error: ValidationError) -> Response:
    """Answer a request that does not fit its schema, with the field that is wrong."""
    place, wrong = first_wrong(error)
    message = wrong.removeprefix("Value error, ")
    return answer(
        ErrorDocument(code="not-valid", message=message, remedy="Check this field.", field=place or None), 422
    )


def _http_failed(error: HTTPException) -> Response:
    status = error.code or 500
    words = {404: "There is nothing at this address.", 405: "This address does not take that.",
             413: "The upload is too large.", 400: "The request could not be read."}  # fmt: skip
    response = answer(
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


def _file_failed(error: OSError) -> Response:
    if isinstance(error, TimeoutError):
        return answer(
            ErrorDocument(code="too-slow", message="What was sent did not come in time.", remedy="Send it again."), 408
        )
    if isinstance(error, FileNotFoundError):
        log.error("files: %s", error)
        return answer(
            ErrorDocument(code="file-missing", message="A file that belongs here is missing from the data folder.",
                          remedy="Put it back from a back-up; hakari doctor names it."), 404
        )  # fmt: skip
    if error.errno not in (errno.ENOSPC, errno.EDQUOT, errno.EROFS, errno.EACCES):
        return _crashed(error)
    log.error("files: %s", error)
    return _not_saved(full=error.errno in (errno.ENOSPC, errno.EDQUOT))


def _database_failed(error: OperationalError) -> Response:
    log.error("database: %s", error)
    if current_app.extensions["workspace"].shared:
        code, message = (
            ("database-busy", "Others were saving at the same moment, so this was not saved.")
            if is_overtaken(error)
            else ("database-away", "The shared database does not answer, so this was not saved.")
        )
        remedy = "Try again in a moment. What was saved before is safe."
        return answer(ErrorDocument(code=code, message=message, remedy=remedy), 503)
    trouble = trouble_of_storage(error)
    if trouble == "held":
        return answer(
            ErrorDocument(code="database-held", message="Another program holds the database, so this was not saved.",
                          remedy="Close that program, such as a database browser. What was saved before is safe."), 503
        )  # fmt: skip
    return _not_saved(full=trouble == "full")


def _not_storable(error: DataError) -> Response:
    """Answer what a column does not take: characters or numbers that no field of the page can send."""
    log.error("database: %s", error)
    return answer(
        ErrorDocument(code="not-storable", message="This holds a character or a number that cannot be kept.",
                      remedy="Type it again, in plain characters."), 422
    )  # fmt: skip


def _not_saved(full: bool) -> Response:
    """Return what is said when the disk takes no more, or none at all."""
    code, message, remedy = (
        ("disk-full", "The disk is full, so this was not saved.", "Free some space, then try again.")
        if full
        else ("storage-failed", "The data folder cannot be written, so this was not saved.",
              "Check its owner and permissions, then try again.")
    )  # fmt: skip
    return answer(ErrorDocument(code=code, message=message, remedy=f"{remedy} What was saved before is safe."), 503)


def _too_deep(_: RecursionError) -> Response:
    return answer(
        ErrorDocument(code="not-json", message="That is nested far too deep to be read.", remedy="Check the file."), 400
    )


def _crashed(error: Exception) -> Response:
    log.exception("unexpected: %s %s", request.method, request.path)
    return answer(
        ErrorDocument(code="unexpected", message="Something went wrong that should not have.",
                      remedy="Try again; the server's log says more."), 500
    )  # fmt: skip
