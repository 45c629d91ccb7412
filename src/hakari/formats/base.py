"""Shared parts of the open formats."""

from __future__ import annotations

import json
import re
import unicodedata
from collections.abc import Callable
from typing import Annotated, Any, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, ValidationError, WithJsonSchema

from hakari.core.brew.units import parse_celsius, parse_grams, parse_number, parse_ratio, parse_seconds
from hakari.core.errors import InputError


class Document(BaseModel):
    """Base of all formats: unknown fields are ignored, so that newer files can be read."""

    model_config = ConfigDict(extra="ignore", allow_inf_nan=False, ser_json_inf_nan="null")


def safe_cell(text: str) -> str:
    """Return a text for a table's cell that no spreadsheet takes for a formula."""
    return f"'{text}" if text[:1] in ("=", "+", "-", "@", "\t", "\r") else text


def parse_json(data: bytes, wrong: str, remedy: str) -> Any:
    """Return parsed JSON of a file that a person chose; ``wrong`` and ``remedy`` are what is said of one that is none.

    Raises
    ------
    InputError
        ``not-json``: not JSON, not text, nested too deep, or with a number too long to be one.
    """
    try:
        return json.loads(data)
    except (ValueError, RecursionError) as error:
        raise InputError("not-json", wrong, remedy) from error


def first_wrong(error: ValidationError) -> tuple[str, str]:
    """Return the first place of a document that is wrong, dotted and empty for the whole of it, and what is wrong there."""
    first = error.errors()[0]
    return ".".join(str(part) for part in first["loc"]), first["msg"]


class UnlikelyDocument(Document):
    """A value worth a question, with the range that it usually lies in, in the unit of its field's name, and why."""

    field: str
    value: float
    low: float
    high: float
    why: Literal["unusual", "before-last-pour"] = "unusual"


class ErrorDocument(Document):
    """What went wrong, in a person's words, with what to do about it."""

    format: str = "hakari.error/1"
    code: str
    message: str
    remedy: str
    field: str | None = None

    @classmethod
    def from_input_error(cls, error: InputError) -> ErrorDocument:
        """Wrap the core's error."""
        return cls(code=error.code, message=error.message, remedy=error.remedy, field=error.field)


def _typed(read: Callable[[str], float]) -> Callable[[Any], Any]:
    def validate(value: Any) -> Any:
        if not isinstance(value, str):
            return value
        try:
            return read(value)
        except InputError as error:
            raise ValueError(f"{error.message} {error.remedy}") from error

    return validate


def _clean(value: Any) -> Any:
    """One line of text in composed form, without what cannot be seen: controls, zero-width and direction marks."""
    if not isinstance(value, str):
        return value
    seen = "".join(" " if c.isspace() else c for c in unicodedata.normalize("NFC", value))
    return " ".join("".join(c for c in seen if unicodedata.category(c)[0] != "C").split())


# What a file is known by: the SHA-256 of its content.
CONTENT_HASH = re.compile("[0-9a-f]{64}")
ContentHash = Annotated[str, Field(pattern=f"^{CONTENT_HASH.pattern}$")]

# A name that a person gives, trimmed to what can be seen of it.
Name = Annotated[str, BeforeValidator(_clean), Field(min_length=1, max_length=80)]
Note = Annotated[str, BeforeValidator(_clean), Field(max_length=120)]

# Numbers as people type them: "18,5", "18.5 g", "203F", "2:45".
Grams = Annotated[float, BeforeValidator(_typed(lambda t: parse_grams(t, "")))]
Celsius = Annotated[float, BeforeValidator(_typed(lambda t: parse_celsius(t, "")))]
Seconds = Annotated[float, BeforeValidator(_typed(lambda t: parse_seconds(t, "")))]
Percent = Annotated[float, BeforeValidator(_typed(lambda t: parse_number(t, "", ("%",))))]
Millimetres = Annotated[float, BeforeValidator(_typed(lambda t: parse_number(t, "", ("mm",))))]
Ratio = Annotated[float, BeforeValidator(_typed(lambda t: parse_ratio(t, "")))]


def _numbers(count: int) -> WithJsonSchema:
    """Return a fixed number of numbers, told as a plain array, which every generator of types understands alike."""
    return WithJsonSchema({"type": "array", "items": {"type": "number"}, "minItems": count, "maxItems": count})


Pair = Annotated[tuple[float, float], _numbers(2)]
Triple = Annotated[tuple[float, float, float], _numbers(3)]
