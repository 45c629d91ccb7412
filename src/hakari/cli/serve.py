"""Serve the application, or its demo: ``hakari serve`` and ``hakari demo``."""

from __future__ import annotations

import argparse

from hakari.web.serving import serve


def run(a: argparse.Namespace) -> int:
    """Serve until stopped."""
    return serve(a.data, a.port, with_demo=a.command == "demo")
