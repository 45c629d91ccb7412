"""Lists a page at a time, newest first."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any

from pydantic import Field
from sqlalchemy import ColumnElement, func, select
from sqlalchemy.orm import InstrumentedAttribute, Session
from sqlalchemy.orm.interfaces import ORMOption

from hakari.formats.base import Document
from hakari.service.workspace.transaction import LARGEST_ID, Row

MOST, USUAL = 500, 40


class PageOf(Document):
    """Which part of a list: the newest ``limit`` before ``before``, which the page before this one named."""

    before: Annotated[int, Field(ge=0, le=LARGEST_ID)] | None = None
    limit: Annotated[int, Field(ge=1, le=MOST)] = USUAL


NEWEST = PageOf()


def page_of(
    session: Session,
    kind: type[Row],
    by: ColumnElement[int] | InstrumentedAttribute[int],
    page: PageOf,
    *wanted: ColumnElement[bool],
    options: Sequence[ORMOption] = (),
) -> tuple[list[Row], int, int | None]:
    """Return a page of the rows that are not deleted, how many there are, and where the next page begins.

    ``by`` is a column, or an expression of some, that is another one for each row: the greatest come first.
    """
    these: tuple[Any, ...] = (kind.deleted_at.is_(None), *wanted)
    total = session.scalar(select(func.count()).select_from(kind).where(*these)) or 0
    before = () if page.before is None else (by < page.before,)
    rows = list(
        session.scalars(select(kind).where(*these, *before).order_by(by.desc()).limit(page.limit + 1).options(*options))
    )
    more = len(rows) > page.limit
    last = rows[page.limit - 1].id if more else None
    return rows[: page.limit], total, session.scalar(select(by).where(kind.id == last)) if more else None
