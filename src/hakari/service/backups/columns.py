"""What a column takes from a back-up: checked as closely as what is typed, so that no row can break a page later."""

from __future__ import annotations

import math
from collections.abc import Callable
from datetime import datetime
from typing import Any, get_args

from pydantic_core import to_jsonable_python
from sqlalchemy import Boolean, Column, DateTime, Float, Integer, String, Table
from sqlalchemy.types import TypeEngine

from hakari.core.advice.evidence import TARGETS, LeverOrder
from hakari.core.brew.rest import REST_GUIDELINES
from hakari.core.photo.review import EditKind
from hakari.formats.base import CONTENT_HASH
from hakari.formats.brew_log import BareBedBy
from hakari.service.coffees.views import RoastName
from hakari.service.drills.questions import Drill
from hakari.service.workspace.transaction import LARGEST_ID
from hakari.store.base import UtcDateTime
from hakari.store.json_column import TypedJson
from hakari.store.packed_json import PackedJson
from hakari.store.snapshots import PhotoSetting

Row = dict[str, Any]
Check = Callable[[Any], bool]


def _one_of(*names: str) -> Check:
    return lambda value: value in names


def _between(low: float, high: float) -> Check:
    return lambda value: low <= value <= high


def _is_hash(value: str) -> bool:
    return CONTENT_HASH.fullmatch(value) is not None


ROAST, SIZE, SHARE = _one_of(*get_args(RoastName)), _between(1e-3, 20_000.0), _between(0.0, 1.0)
BASIS = _one_of("photo", "sieve", "table", "typed")
ERAS = _one_of("", "cleaned", "moved", "worn", "new burrs")
SECONDS = _between(-3600.0, 1e7)
# What a value must be, where its column's type does not say it.
RULES: dict[tuple[str, str], Check] = {
    ("coffee", "roast"): ROAST, ("coffee", "rest_school"): _one_of(*REST_GUIDELINES),
    ("coffee", "bag_g"): _between(1, 60_000),
    ("grinder", "step_travel_um"): _between(1e-6, 1e4), ("era", "reason"): ERAS,
    ("curve_point", "roast"): ROAST, ("curve_point", "basis"): BASIS, ("curve_point", "d50_um"): SIZE,
    ("curve_point", "ci95_low_um"): SIZE, ("curve_point", "ci95_high_um"): SIZE,
    ("curve_point", "fines_below_100"): SHARE, ("curve_point", "span"): _between(1e-6, 100.0),
    ("own_window", "low_um"): SIZE, ("own_window", "high_um"): SIZE,
    ("sample", "d50_um"): SIZE, ("sample", "source"): _one_of("photo", "sieve", "table"),
    ("sample", "grounds_hash"): _is_hash,
    ("photo", "content_hash"): _is_hash, ("photo", "width_px"): _between(1, 100_000),
    ("photo", "height_px"): _between(1, 100_000), ("photo", "um_per_px"): _between(1e-6, 1e5),
    ("edit", "kind"): _one_of(*get_args(EditKind)), ("edit", "photo"): _between(0, 1000),
    ("recipe", "median_um"): SIZE,
    ("brew", "speed"): _between(1e-3, 1000.0), ("brew", "dose_g"): _between(1e-3, 60_000.0),
    ("brew", "weighed_after"): _between(0, 10_000), ("brew", "bare_bed_by"): _one_of(*get_args(BareBedBy)),
    ("brew", "bare_bed_s"): SECONDS, ("brew", "last_drip_s"): SECONDS, ("brew", "bed_photo"): _is_hash,
    ("log_part", "standing"): _one_of("brewer", "cup"), ("slip", "number"): _between(1, LARGEST_ID),
    ("drill_answer", "drill"): _one_of(*get_args(Drill)),
    ("pass", "photo_setting"): _one_of(*get_args(PhotoSetting)),
    ("bench", "target"): _one_of(*TARGETS, "own"), ("bench", "school"): _one_of(*get_args(LeverOrder)),
    ("bench", "scale"): _one_of("none", "practice-brewer", "practice-cup", "replay"),
    ("bench", "mass_unit"): _one_of("g", "oz"), ("bench", "temperature_unit"): _one_of("C", "F"),
    ("bench", "learns_after"): _between(0, LARGEST_ID),
}  # fmt: skip
# Of which a second is never after the first.
ORDERED = {
    "curve_point": ("ci95_low_um", "d50_um", "ci95_high_um"), "own_window": ("low_um", "high_um"),
}  # fmt: skip
EARLIEST, LATEST = datetime(1900, 1, 1), datetime(2200, 1, 1)


def read_row(kept: Table, row: Row) -> Row:
    """Return a row of a back-up as its table's columns take it; what the back-up lacks gets the column's own default.

    Raises
    ------
    ValueError
        Which names the column.
    """
    values = {}
    for column in kept.columns:
        if column.info.get("derived"):
            continue
        if column.name not in row:
            if column.default is not None:
                values[column.name] = _default(column)
            continue
        try:
            values[column.name] = _read(kept.name, column, row[column.name])
        except (ValueError, TypeError, AttributeError, OverflowError, RecursionError) as error:
            raise ValueError(f"{kept.name}.{column.name} of row {row.get('id')}") from error
    names = ORDERED.get(kept.name, ())
    sizes = [values[name] for name in names if values.get(name) is not None]
    if sizes != sorted(sizes):
        raise ValueError(f"{kept.name}.{names[0]} of row {row.get('id')}")
    return values


def _default(column: Column[Any]) -> Any:
    default: Any = column.default
    return to_jsonable_python(default.arg(None) if default.is_callable else default.arg)


def _read(table: str, column: Column[Any], value: Any) -> Any:
    if value is None:
        if not column.nullable:
            raise ValueError("empty")
        return None
    read = _typed(column.type, value)
    rule = RULES.get((table, column.name))
    if rule is not None and not rule(read):
        raise ValueError(value)
    if column.name in ("id", "version") and read < 1:
        raise ValueError(value)
    return read


def _typed(kind: TypeEngine[Any], value: Any) -> Any:
    """Return a value of a column's type; ``ValueError`` or ``TypeError`` where it is none."""
    if isinstance(kind, TypedJson | PackedJson):
        kind.check(value)
        return value
    if isinstance(kind, UtcDateTime | DateTime):
        read = datetime.fromisoformat(value)
        if read.tzinfo is not None or not EARLIEST <= read <= LATEST:
            raise ValueError(value)
        return read
    if isinstance(kind, Boolean):
        # Back-ups of a folder's own database have them as 0 and 1.
        if value not in (0, 1) or isinstance(value, float):
            raise ValueError(value)
        return bool(value)
    if isinstance(kind, Integer):
        if type(value) is not int or abs(value) > LARGEST_ID:
            raise ValueError(value)
        return value
    if isinstance(kind, Float):
        if type(value) not in (int, float) or not math.isfinite(value):
            raise ValueError(value)
        return float(value)
    if isinstance(kind, String):
        # Half a character, or none at all, cannot be kept or sent.
        if type(value) is not str or "\0" in value or (kind.length and len(value) > kind.length):
            raise ValueError(value)
        value.encode()
        return value
    raise TypeError(f"no column of {kind} is read from a back-up")
