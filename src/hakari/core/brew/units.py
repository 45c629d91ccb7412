"""Forgiving reading of what people type, and the printing of it back."""

from __future__ import annotations

import math
import re

from hakari.core.errors import InputError

# A lidless kettle of a litre off its stand: it loses about 0.6 K a minute near the boil, less as it cools.
BOIL_C, KETTLE_ROOM_C, KETTLE_MINUTES = 99.0, 22.0, 118.0


def parse_number(text: str, field: str, unit_words: tuple[str, ...] = ()) -> float:
    """Read "18,5", "18.5 g", "3 1/4" as a number; "2 x 250" as what two cups come to.

    Raises
    ------
    InputError
        ``not-a-number``.
    """
    plain = text.strip().lower().replace(",", ".")
    for word in unit_words:
        plain = plain.removesuffix(word).strip()
    mixed = re.fullmatch(r"(\d+)\s+(\d+)\s*/\s*(\d+)", plain)
    if mixed and int(mixed[3]) > 0:
        return int(mixed[1]) + int(mixed[2]) / int(mixed[3])
    times = re.fullmatch(r"(\d{1,2})\s*[x×*]\s*(\d+(?:\.\d+)?)", plain)
    if times:
        return int(times[1]) * float(times[2])
    if re.fullmatch(r"[+-]?(\d+(\.\d*)?|\.\d+)", plain):
        return float(plain)
    raise InputError("not-a-number", f"“{text}” is not a number.", "Type it like 18.5 or 18,5.", field=field)


def parse_celsius(text: str, field: str) -> float:
    """Read "93", "93 °C", "203F" as °C; "5 min" as a kettle that has stood so long off the boil."""
    plain = text.strip().lower().replace("°", "").replace(" ", "")
    off = re.fullmatch(r"(\d+(?:[.,]\d+)?)min(?:ute)?s?(?:off)?(?:theboil)?", plain)
    if off:
        minutes = float(off[1].replace(",", "."))
        return round(KETTLE_ROOM_C + (BOIL_C - KETTLE_ROOM_C) * math.exp(-minutes / KETTLE_MINUTES), 1)
    if plain.endswith("f"):
        return (parse_number(plain[:-1], field) - 32) * 5 / 9
    return parse_number(plain.removesuffix("c"), field)


def parse_seconds(text: str, field: str) -> float:
    """Read "2:45", "165", "165 s" as seconds."""
    clock = re.fullmatch(r"(\d+):([0-5]\d)", text.strip())
    if clock:
        return int(clock[1]) * 60.0 + int(clock[2])
    try:
        return parse_number(text, field, ("s", "sec"))
    except InputError as error:
        raise InputError("not-a-time", f"“{text}” is not a time.", "Type it like 2:45 or 165.", field=field) from error


def clock(seconds: float) -> str:
    """Print seconds as m:ss."""
    whole = round(seconds)
    return f"{whole // 60}:{whole % 60:02d}"
