"""Styles, brewers and filters to choose from, and which of one's settings or methods suit a plan."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from hakari.core.brew.brewers import BUILT_IN, built_in
from hakari.core.brew.filters import FILTERS
from hakari.core.brew.styles import STYLES
from hakari.formats.base import Document, Name, Pair
from hakari.formats.plan import ShapeDocument, brewer_of
from hakari.service.workspace.transaction import Workspace, find, list_active, mark_deleted
from hakari.store import models


class ChoiceView(Document):
    """A value of an option and its words."""

    value: str
    words: str


class OptionView(Document):
    """A choice that a style really has; the first value is the usual one. ``own`` shows how another value is typed.

    ``minor`` ones are seldom changed.
    """

    name: str
    label: str
    values: list[ChoiceView]
    own: str | None
    minor: bool


class RecipeStyleView(Document):
    """A style, for which brewers and doses."""

    name: str
    label: str
    reason: str
    brewers: list[str]
    options: list[OptionView]
    dose_g: Pair
    ratio: float
    water_c: float
    kettle: str


class BrewerView(Document):
    """A brewer by its shape."""

    name: str
    label: str
    way: str
    filter: str
    material: str
    dose_g: Pair
    capacity_g: float


class FilterView(Document):
    """A filter."""

    name: str
    label: str


class NewBrewer(Document):
    """A brewer of one's own: its shape, and the built-in one that it is used like."""

    name: Name
    base: Annotated[str, Field(max_length=40)]
    shape: ShapeDocument


class OwnBrewerView(NewBrewer):
    """A brewer of one's own in the list."""

    id: int
    version: int


class MethodList(Document):
    """All that a plan can be made of."""

    styles: list[RecipeStyleView]
    brewers: list[BrewerView]
    filters: list[FilterView]
    own: list[OwnBrewerView]


def list_methods(ws: Workspace) -> MethodList:
    """Styles, brewers and filters; brewers for which nothing is predicted are left to the guide."""
    with ws.transaction() as session:
        own = [_own(b) for b in list_active(session, models.OwnBrewer)]
    return MethodList(
        own=own,
        styles=[
            RecipeStyleView(
                name=s.name, label=s.label, reason=s.reason, brewers=list(s.brewers),
                options=[
                    OptionView(
                        name=o.name, label=o.label, values=[ChoiceView(value=v, words=w) for v, w in o.values],
                        own=o.own and f"{o.own.words(o.own.least)} to {o.own.words(o.own.most)}",
                        minor=o.minor,
                    )
                    for o in s.options
                ],
                dose_g=s.dose_g, ratio=s.ratio, water_c=s.water_c, kettle=s.kettle,
            )
            for s in STYLES.values()
        ],
        brewers=[
            BrewerView(name=b.name, label=b.label, way=b.way, filter=b.filter_name, material=b.material, dose_g=b.dose_g,
                       capacity_g=b.capacity_g)
            for b in BUILT_IN.values()
            if b.way != "advice"
        ],
        filters=[FilterView(name=f.name, label=f.label) for f in FILTERS.values()],
    )  # fmt: skip


def add_brewer(ws: Workspace, new: NewBrewer) -> OwnBrewerView:
    """Keep a brewer of one's own; ``InputError`` when no brewer has such a shape, or its base is not known."""
    built_in(new.base)
    brewer_of(new.shape)
    with ws.transaction() as session:
        row = models.OwnBrewer(name=new.name.strip(), base=new.base, shape=new.shape)
        session.add(row)
        session.flush()
        return _own(row)


def set_brewer_deleted(ws: Workspace, brewer_id: int, deleted: bool) -> OwnBrewerView:
    """Put a brewer of one's own away, or bring it back."""
    with ws.transaction() as session:
        row = find(session, models.OwnBrewer, brewer_id, "brewer", deleted_too=True)
        mark_deleted(row, deleted)
        return _own(row)


def _own(row: models.OwnBrewer) -> OwnBrewerView:
    return OwnBrewerView(id=row.id, version=row.version, name=row.name, base=row.base, shape=row.shape)
