"""Serve the application, or its demo: ``hakari serve`` and ``hakari demo``."""

from __future__ import annotations

import argparse
import re

from hakari.cli.storage import shared_of
from hakari.core.errors import InputError
from hakari.web.addresses import ANY
from hakari.web.serving import Beyond, serve


def run(a: argparse.Namespace) -> int:
    """Serve until stopped."""
    if (a.certificate is None) != (a.key is None):
        raise InputError(
            "certificate-and-key", "HTTPS needs a certificate and its key.", "Give --certificate and --key."
        )
    if a.name is not None and not re.fullmatch(r"[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?(\.local)?", a.name.lower()):
        raise InputError(
            "name-malformed", f"“{a.name}” is no name for a computer.", "Use letters, digits and hyphens: --name bar."
        )
    for file in (a.certificate, a.key):
        if file is not None and not file.is_file():
            raise InputError("no-such-file", f"There is no file {file}.", "Make one with hakari certificate.")
    host = ANY if a.lan else a.host
    beyond = Beyond(host, a.certificate, a.key, a.name)
    return serve(a.data, a.port, a.command == "demo", beyond, shared_of(a), a.scheduler)
