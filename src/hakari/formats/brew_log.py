"""The log of a brew: CSV in and out, and ``hakari.brew/1``, what was seen and found of one brew."""

from __future__ import annotations

import csv
import io
import math
from collections.abc import Iterator
from typing import Literal

import numpy as np

from hakari.core.errors import InputError
from hakari.core.flow.capture import BrewLog, Captured, FoundPour, find_pours
from hakari.formats.base import Document, safe_cell

COLUMNS = ("time_s", "poured_g", "drink_g", "event")
MOST_ROWS = 200_000
NOTES = (
    "lively-bloom", "dead-bloom", "stalled", "channelled", "overflowed", "spilt", "stranded", "mud", "flat", "mound",
)  # fmt: skip
NoteName = Literal[
    "lively-bloom", "dead-bloom", "stalled", "channelled", "overflowed", "spilt", "stranded", "mud", "flat", "mound"
]


class LogDocument(Document):
    """Weights over time; equal lengths, null where nothing was read."""

    t_s: list[float] = []
    poured_g: list[float | None] = []
    drink_g: list[float | None] = []

    @property
    def standing(self) -> Literal["brewer", "cup"]:
        """What the scale stood under; the cup where both were weighed."""
        return "cup" if any(v is not None for v in self.drink_g) else "brewer"

    def core(self) -> BrewLog:
        """Return the core's log."""
        t = np.array(self.t_s, float)

        def column(values: list[float | None]) -> np.ndarray[tuple[int], np.dtype[np.float64]] | None:
            if not any(v is not None for v in values):
                return None
            return np.array([np.nan if v is None else v for v in values], float)

        return BrewLog(t, column(self.poured_g), column(self.drink_g))


class PourFound(Document):
    """A pour as it was."""

    start_s: float
    end_s: float
    water_g: float


class BrewNote(Document):
    """Something seen during or after the brew."""

    what: NoteName
    at_s: float | None = None


# Whose a time of the bare bed is: the hand's, a scale's, or estimated from the last drip.
BareBedBy = Literal["tap", "scale", "drip"]


class StepMark(Document):
    """A step that was over, who said so, and how much was added, for water into a concentrate."""

    step: int
    at_s: float
    by: Literal["tap", "scale"] = "tap"
    amount_g: float | None = None


class CapturedDocument(Document):
    """What a log or taps tell of a brew."""

    pours: list[PourFound]
    pours_from: Literal["scale", "taps", "plan"]
    bare_bed_s: float | None
    bare_sd_s: float | None
    last_drip_s: float | None
    stalled_at_s: float | None
    drink_g: float | None
    rate_t_s: list[float] = []
    rate_g_s: list[float] = []
    level_t_s: list[float] = []
    level_mm: list[float] = []

    @classmethod
    def of(cls, c: Captured) -> CapturedDocument:
        """Write down what was found; curves by the second."""
        every = slice(None, None, 5)

        def short(values: np.ndarray[tuple[int], np.dtype[np.float64]]) -> list[float]:
            return [round(float(v), 2) for v in values[every]]

        def one(value: float | None) -> float | None:
            return None if value is None else round(value, 1)

        return cls(
            pours=[
                PourFound(start_s=round(p.start_s, 1), end_s=round(p.end_s, 1), water_g=round(p.water_g, 1)) for p in c.pours
            ],
            pours_from=c.pours_from, bare_bed_s=one(c.bare_bed_s), bare_sd_s=one(c.bare_sd_s),
            last_drip_s=one(c.last_drip_s), stalled_at_s=one(c.stalled_at_s), drink_g=one(c.drink_g),
            rate_t_s=short(c.rate_t_s), rate_g_s=short(c.rate_g_s), level_t_s=short(c.level_t_s), level_mm=short(c.level_mm),
        )  # fmt: skip

    def found_pours(self) -> tuple[FoundPour, ...]:
        """Return the core's pours."""
        return tuple(FoundPour(p.start_s, p.end_s, p.water_g) for p in self.pours)


class BrewDocument(Document):
    """``hakari.brew/1``: one brew with its log; times in seconds since the first pour."""

    format: Literal["hakari.brew/1"] = "hakari.brew/1"
    dose_g: float
    scale: str | None = None
    simulated: bool = False
    bare_bed_by: BareBedBy | None = None
    marks: list[StepMark] = []
    notes: list[BrewNote] = []
    found: CapturedDocument | None = None
    log: LogDocument = LogDocument()


def write_log(log: LogDocument, events: list[tuple[float, str]]) -> str:
    """Return the log as CSV: ``time_s,poured_g,drink_g,event``; an event stands in a row of its own time."""
    rows: list[tuple[float, str, str, str]] = []
    for i, t in enumerate(log.t_s):
        poured = log.poured_g[i] if i < len(log.poured_g) else None
        drink = log.drink_g[i] if i < len(log.drink_g) else None
        rows.append((t, _cell(poured), _cell(drink), ""))
    rows.extend((t, "", "", safe_cell(what)) for t, what in events)
    rows.sort(key=lambda r: r[0])
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for row in rows:
        writer.writerow((f"{row[0]:.10g}", *row[1:]))
    return out.getvalue()


def _cell(value: float | None) -> str:
    return "" if value is None else f"{value:.10g}"


def read_log(text: str) -> tuple[LogDocument, list[tuple[float, str]]]:
    """Read a log's CSV: a header with ``time_s`` and at least one of ``poured_g``, ``drink_g``; other columns are left.

    Commas, semicolons or tabs part the columns; "18,5" is a number where semicolons or tabs do. Times must not fall.

    Raises
    ------
    InputError
        ``log-malformed`` with the row that is wrong.
    """
    lines = text.removeprefix("\ufeff").splitlines()
    head = lines[0] if lines else ""
    part = max(",;\t", key=head.count)
    names = [n.strip().strip('"').lower() for n in head.split(part)]
    if "time_s" not in names or not {"poured_g", "drink_g"} & set(names):
        raise _malformed("The first row must name its columns: time_s, and poured_g or drink_g or both.")
    log, events = LogDocument(), []
    last = -math.inf
    for number, cells in enumerate(_cells(lines[1:], part), start=2):
        if not any(c.strip() for c in cells):
            continue
        if number > MOST_ROWS:
            raise _malformed(f"More than {MOST_ROWS} rows are no brew.")
        row = dict(zip(names, cells, strict=False))
        t = _number(row.get("time_s", ""), number, part)
        if t is None or t < last:
            raise _malformed(f"Row {number}: the time is missing, or before the one above it.")
        last = t
        poured, drink = (_number(row.get(n, ""), number, part) for n in ("poured_g", "drink_g"))
        if row.get("event", "").strip():
            events.append((t, row["event"].strip()[:60]))
        if poured is None and drink is None:
            continue
        log.t_s.append(t)
        log.poured_g.append(poured)
        log.drink_g.append(drink)
    if len(log.t_s) < 5:
        raise _malformed("There are fewer than five readings in it.")
    return log, events


def from_first_pour(log: LogDocument) -> LogDocument:
    """Return a log whose times count from its first pour, as all times of a brew do; what came before is left out.

    A log of the cup alone does not show the pour and keeps its times.
    """
    core = log.core()
    t, poured = core.column(core.poured_g)
    pours = find_pours(t, poured)
    start = round(pours[0].start_s, 2) if pours else 0.0
    if abs(start) < 0.5:
        return log
    keep = [i for i, at in enumerate(log.t_s) if at >= start]
    return LogDocument(
        t_s=[round(log.t_s[i] - start, 3) for i in keep], poured_g=[log.poured_g[i] for i in keep],
        drink_g=[log.drink_g[i] for i in keep],
    )  # fmt: skip


def _cells(lines: list[str], part: str) -> Iterator[list[str]]:
    try:
        yield from csv.reader(lines, delimiter=part)
    except csv.Error as error:
        raise _malformed("A cell of it is far too long.") from error


def _number(cell: str, row: int, part: str) -> float | None:
    text = cell.strip().replace(",", ".") if part != "," else cell.strip()
    if not text:
        return None
    try:
        value = float(text)
    except ValueError as error:
        raise _malformed(f"Row {row}: “{cell.strip()[:20]}” is not a number.") from error
    if not math.isfinite(value) or abs(value) > 1e6:
        raise _malformed(f"Row {row}: “{cell.strip()[:20]}” is out of reach.")
    return value


def _malformed(message: str) -> InputError:
    return InputError(
        "log-malformed", message, "Use a CSV with time_s,poured_g,drink_g, one reading a row.", field="log"
    )
