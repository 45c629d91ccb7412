"""What all rows have in common: an identity, a version, times in UTC, named constraints."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from sqlalchemy import DateTime, Dialect, MetaData, TypeDecorator
from sqlalchemy.orm import DeclarativeBase, Mapped, MappedColumn, declared_attr, mapped_column


class UtcDateTime(TypeDecorator[datetime]):
    """Stores an aware time as UTC and gives it back aware; refuses a naive one."""

    impl = DateTime
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        """Turn to UTC."""
        if value is None:
            return None
        if value.tzinfo is None:
            raise ValueError("a stored time needs a time zone")
        return value.astimezone(UTC).replace(tzinfo=None)

    def process_result_value(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        """Give back as UTC."""
        return None if value is None else value.replace(tzinfo=UTC)


class Base(DeclarativeBase):
    """Base of all rows: UTC times, named constraints."""

    metadata = MetaData(
        naming_convention={
            "ix": "ix_%(column_0_label)s",
            "uq": "uq_%(table_name)s_%(column_0_name)s",
            "fk": "fk_%(table_name)s_%(column_0_name)s_%(referred_table_name)s",
            "pk": "pk_%(table_name)s",
        }
    )
    type_annotation_map = {datetime: UtcDateTime}


def derived(kind: Any = None, index: bool = False) -> MappedColumn[Any]:
    """Return a column that is filled from the row's documents; ``NULL`` until that is done."""
    return mapped_column(*([kind] if kind is not None else []), nullable=True, index=index, info={"derived": True})


class RecordMixin:
    """What every row has: an identity, a version against stale writes, when it was made and deleted, and by which device.

    ``made_by_id`` is empty for what the computer itself made, and for what a back-up brought.
    """

    id: Mapped[int] = mapped_column(primary_key=True)
    version: Mapped[int] = mapped_column(default=1)
    created_at: Mapped[datetime] = mapped_column(default=lambda: datetime.now(UTC))
    deleted_at: Mapped[datetime | None]
    made_by_id: Mapped[int | None]

    @declared_attr.directive
    def __mapper_args__(self) -> dict[str, Any]:
        return {"version_id_col": self.version}
