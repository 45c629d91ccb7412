"""Forgiving reading of what people type, and the printing of it back."""

from __future__ import annotations

import re

from hakari.core.brew.display_units import GRAMS_PER_OUNCE
from hakari.core.brew.heat import BOIL_C, kettle_c
from hakari.core.brew.schedule import ROOM_C
from hakari.core.errors import InputError

GRAMS_IN = {"grams": 1.0, "ml": 1.0, "oz": GRAMS_PER_OUNCE, "g": 1.0, "l": 1000.0}  # of water, where a volume is given

FROM_HOURS_S = 7200


def parse_number(text: str, field: str, unit_words: tuple[str, ...] = ()) -> float:
    """Read "18,5", "18.5 g", "3 1/4" as a number; "2 x 250" as what two cups come to.

    Parameters
    ----------
    text : str
        What was typed.
    field : str
        What an error is attached to.
    unit_words : tuple[str, ...]
        Units that may stand behind the number.

    Returns
    -------
    float
        The number.

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
    message = f"“{text}” is not a number." if plain else "Enter a number."
    raise InputError("not-a-number", message, "Type it like 18.5 or 18,5.", field=field)


def parse_grams(text: str, field: str) -> float:
    """Read a mass of coffee or water.

    Parameters
    ----------
    text : str
        For example "18.5", "18,5 g", "300 ml" (of water), "0.3 l", "10 oz".
    field : str
        What an error is attached to.

    Returns
    -------
    float
        Grams.

    Raises
    ------
    InputError
        ``not-a-number``.
    """
    plain = text.strip().lower()
    for unit, grams in GRAMS_IN.items():
        if plain.endswith(unit):
            return parse_number(plain.removesuffix(unit), field) * grams
    return parse_number(plain, field)


def parse_ratio(text: str, field: str) -> float:
    """Read grams of water to a gram of coffee.

    Parameters
    ----------
    text : str
        For example "16", "1:16", "16:1", "60 g/l".
    field : str
        What an error is attached to.

    Returns
    -------
    float
        Grams of water to a gram of coffee.

    Raises
    ------
    InputError
        ``not-a-ratio``.
    """
    plain = text.strip().lower().replace(" ", "")
    try:
        per_litre = re.fullmatch(r"(.+)g/l(?:it(?:re|er))?", plain)
        if per_litre:
            return 1000 / max(parse_number(per_litre[1], field), 1e-6)
        return parse_number(re.sub(r"^1[:/]|[:/]1$", "", plain), field)
    except InputError as error:
        raise InputError(
            "not-a-ratio", f"“{text}” is not a ratio.", "Type it like 1:16 or 60 g/l.", field=field
        ) from error


def parse_celsius(text: str, field: str) -> float:
    """Read a water temperature.

    Parameters
    ----------
    text : str
        For example "93", "93 °C", "205 F", "off the boil", "5 min off the boil" (a lidless kettle that has stood).
    field : str
        What an error is attached to.

    Returns
    -------
    float
        °C.

    Raises
    ------
    InputError
        ``not-a-number``.
    """
    plain = text.strip().lower().replace("°", "").replace(" ", "")
    off = re.fullmatch(r"(?:(\d+(?:[.,]\d+)?)min(?:ute)?s?)?(?:off)?(?:the)?(?:boil(?:ing)?)?", plain)
    if off and (off[1] or "boil" in plain):
        minutes = float((off[1] or "0").replace(",", "."))
        return round(kettle_c(BOIL_C, ROOM_C, 60 * minutes), 1)
    if plain.endswith("f"):
        return (parse_number(plain[:-1], field) - 32) * 5 / 9
    return parse_number(plain.removesuffix("c"), field)


CLOCK = re.compile(r"(\d{1,4})\s*(?::|m|min|'|\s)\s*([0-5]\d)\s*(?:s|sec)?")
HOURS_CLOCK = re.compile(r"(\d{1,3})\s*(?::|h)\s*([0-5]\d)\s*(?:h|hours?|min)")
# People type a brew's time with a point or a comma too; nobody means three seconds and 45 hundredths.
POINTED_CLOCK = re.compile(r"(\d{1,3})[.,]([0-5]\d)")
SECONDS_IN = {"hours": 3600.0, "hour": 3600.0, "h": 3600.0, "min": 60.0, "m": 60.0, "sec": 1.0, "s": 1.0}


def parse_seconds(text: str, field: str) -> float:
    """Read a time of a brew.

    Parameters
    ----------
    text : str
        For example "3:45", "3.45", "3 45", "3m45" (all 225 s), "225", "225 s", "4 min", "12 h", "5:06 h".
    field : str
        What an error is attached to.

    Returns
    -------
    float
        Seconds.

    Raises
    ------
    InputError
        ``not-a-time``; ``unclear-time`` for "2.5", which may be 2:30 or 2:50.
    """
    plain = text.strip().lower()
    hours = HOURS_CLOCK.fullmatch(plain)
    if hours:
        return 3600.0 * int(hours[1]) + 60.0 * int(hours[2])
    found = CLOCK.fullmatch(plain) or POINTED_CLOCK.fullmatch(plain)
    if found:
        return int(found[1]) * 60.0 + int(found[2])
    for unit, seconds in SECONDS_IN.items():
        if plain.endswith(unit):
            plain, factor = plain.removesuffix(unit), seconds
            break
    else:
        factor = 1.0
        unclear = re.fullmatch(r"(\d+)[.,](\d)", plain)
        if unclear:
            minutes, digit = int(unclear[1]), int(unclear[2])
            tenths, tens = clock(60 * minutes + 6 * digit), clock(60 * minutes + 10 * digit)
            raise InputError(
                "unclear-time",
                f"“{text}” may be {tenths} or {tens}.",
                f"Type {tenths}, {tens} or seconds.",
                field=field,
            )
    try:
        return parse_number(plain, field) * factor
    except InputError as error:
        raise InputError("not-a-time", f"“{text}” is not a time.", "Type it like 2:45 or 165.", field=field) from error


def clock(seconds: float) -> str:
    """Return seconds as m:ss, from two hours on as h or h:mm with their unit.

    Parameters
    ----------
    seconds : float
        Time, s.

    Returns
    -------
    str
        For example "3:45", "12 h" or "13:30 h".
    """
    whole = round(seconds)
    if whole >= FROM_HOURS_S:
        minutes = whole % 3600 // 60
        return f"{whole // 3600}:{minutes:02d} h" if minutes else f"{whole // 3600} h"
    return f"{whole // 60}:{whole % 60:02d}"
