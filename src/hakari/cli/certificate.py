"""Make a certificate for HTTPS in one's own network: ``hakari certificate``."""

from __future__ import annotations

import argparse

from hakari.core.errors import InputError
from hakari.web.certificates import make_certificates


def run(a: argparse.Namespace) -> int:
    """Make the files and say what to do with them."""
    try:
        made = make_certificates(a.output, tuple(n.lower() for n in a.name))
    except OSError as error:
        raise InputError(
            "not-written", f"The certificate could not be written: {error}.", "Choose another folder with -o."
        ) from error
    print(f"A certificate for {', '.join(made.names)}.")
    print(f"Serve with it:   hakari serve --lan --certificate {made.certificate} --key {made.key}")
    print(f"Trust on phones: {made.authority}, once; docs/operations.md says how. Keep the keys beside it to yourself.")
    return 0
