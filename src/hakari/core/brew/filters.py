"""Filters: how hard they are to get through clean, and how much fines close them."""

from __future__ import annotations

from dataclasses import dataclass

from hakari.core.errors import InputError


@dataclass(frozen=True)
class Filter:
    """A filter against the usual paper.

    ``resistance`` and ``fouling`` are factors on the clean paper's resistance and on what fines add to it.
    ``held`` is a factor on the liquid that a press leaves in the grounds. Starting points; papers of one name differ by
    their lot.
    """

    name: str
    label: str
    resistance: float
    fouling: float
    held: float = 1.0


PAPERS = ("paper", "thick-paper")
FILTERS = {
    f.name: f
    for f in (
        Filter("paper", "paper", 1.0, 1.0),
        Filter("thick-paper", "thick paper", 2.6, 1.15),
        Filter("cloth", "cloth", 0.8, 0.6),
        Filter("metal", "metal mesh", 0.25, 0.12),
        Filter("double-mesh", "double mesh", 0.4, 0.3, 1.1),
        Filter("mesh-and-paper", "paper under the mesh", 1.2, 1.0),
        Filter("none", "no filter", 0.05, 0.02),
    )
}


def filter_of(name: str) -> Filter:
    """Return a filter by its name; ``InputError`` ``unknown-filter``.

    Parameters
    ----------
    name : str
        Its name.

    Returns
    -------
    Filter
        A filter by its name.
    """
    if name not in FILTERS:
        raise InputError(
            "unknown-filter", f"There is no filter “{name}”.", f"Use {', '.join(FILTERS)}.", field="filter"
        )
    return FILTERS[name]
