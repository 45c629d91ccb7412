"""Everything in one file, out and in."""

from __future__ import annotations

import tempfile
from datetime import date

from flask import Response, send_file
from flask_openapi3 import FileStorage
from pydantic import BaseModel

from hakari.service.backups import archive as service
from hakari.service.backups import importing
from hakari.web.shared import Station, file_response, workspace

api = Station("archives", "/api")
IN_MEMORY_BYTES = 32 * 2**20


class ArchiveUpload(BaseModel):
    """A file that ``hakari export`` or this page wrote, and what becomes of rows that differ here."""

    archive: FileStorage
    existing: importing.Existing = "keep"


@api.get("/archives/latest.zip", responses=file_response("application/zip"))
def download_archive() -> Response:
    """Everything as it is now."""
    # Closed, and so deleted, by the server when it is sent.
    file = tempfile.SpooledTemporaryFile(IN_MEMORY_BYTES)  # noqa: SIM115
    service.export_workspace(workspace(), file)
    file.seek(0)
    name = f"hakari-{date.today():%Y-%m-%d}.zip"
    return send_file(file, mimetype="application/zip", as_attachment=True, download_name=name)


@api.post("/archives", responses={201: importing.Imported})
def import_archive(form: ArchiveUpload) -> tuple[importing.Imported, int]:
    """Add what an archive holds; nothing comes twice."""
    return importing.import_workspace(workspace(), form.archive.stream, existing=form.existing), 201
