"""``hakari doctor``"""

from __future__ import annotations

import argparse

from hakari.service.workspace.doctor import examine


def run(a: argparse.Namespace) -> int:
    """Say what is wrong with a data folder."""
    troubles = examine(a.data)
    for line in troubles:
        print(line)
    if not troubles:
        print("nothing wrong found")
    return 3 if troubles else 0
