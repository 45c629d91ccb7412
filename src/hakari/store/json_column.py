"""JSON columns that hold typed documents."""

from __future__ import annotations

from typing import Any

from pydantic import TypeAdapter
from sqlalchemy import JSON, Dialect, TypeDecorator


class TypedJson(TypeDecorator[Any]):
    """Writes a pydantic type as JSON, and reads it back checked.

    A value is replaced, never changed in place: what is changed inside is not noticed.
    """

    impl = JSON(none_as_null=True)
    cache_ok = True

    def __init__(self, kind: Any) -> None:
        super().__init__()
        self.kind = kind
        self.adapter: TypeAdapter[Any] = TypeAdapter(kind)

    def check(self, value: Any) -> None:
        """Refuse plain JSON that could not be read back; ``ValueError``."""
        self.adapter.validate_python(value)

    def process_bind_param(self, value: Any, dialect: Dialect) -> Any:
        """Plain JSON of a document."""
        return None if value is None else self.adapter.dump_python(value, mode="json", by_alias=True)

    def process_result_value(self, value: Any, dialect: Dialect) -> Any:
        """Return the document of what is stored."""
        return None if value is None else self.adapter.validate_python(value)
