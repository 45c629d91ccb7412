"""An experiment to print: what was planned, a table to write into, and the result so far."""

from __future__ import annotations

from hakari.formats.experiment import Body, Hand, Ladder, Sieve, Thirds, ThreeGrinds, Triangle, TwoWays
from hakari.formats.page import FAINT, INK, RULE, Item, Words, fitting, page_pdf, rule
from hakari.service.experiments.use_cases import read_experiment
from hakari.service.experiments.views import ExperimentDetail
from hakari.service.workspace.transaction import Workspace

WIDTH_MM, HEIGHT_MM, MARGIN_MM, ROW_MM = 148.0, 210.0, 12.0, 8.5
MOST_ROWS = 18
FOOT = "Hakari. Hot cups scald; much coffee is much caffeine: sip and spit where there are many cups."
Row = tuple[str, ...]


def experiment_pdf(ws: Workspace, identity: int) -> bytes:
    """Return an A5 page; nothing of it shows what is hidden."""
    e = read_experiment(ws, identity)
    right = WIDTH_MM - MARGIN_MM
    drawn: list[Item] = [
        Words(MARGIN_MM, 20, fitting(18, e.name, 0.75 * (right - MARGIN_MM)), e.name, True),
        Words(right, 20, 9, e.created_at[:10], colour=FAINT, align="r"),
    ]
    about = ", ".join(x for x in (e.coffee, e.grinder) if x)
    drawn.append(Words(MARGIN_MM, 27, fitting(10, about or " ", right - MARGIN_MM), about, colour=FAINT))
    head, rows = _table(e)
    y = 36.0
    for k, row in enumerate([head, *rows[:MOST_ROWS]]):
        width = (right - MARGIN_MM) / len(head)
        for column, text in enumerate(row):
            size = fitting(10, text or " ", width - 2)
            drawn.append(Words(MARGIN_MM + column * width, y, size, text, k == 0, FAINT if k == 0 else INK))
        drawn.append(rule(MARGIN_MM, right, y + 2.4, RULE))
        y += ROW_MM
    if len(rows) > MOST_ROWS:
        drawn.append(Words(MARGIN_MM, y, 9, f"and {len(rows) - MOST_ROWS} more", colour=FAINT))
    drawn.append(Words(MARGIN_MM, HEIGHT_MM - 12, fitting(8, FOOT, right - MARGIN_MM), FOOT, colour=FAINT))
    return page_pdf(drawn, WIDTH_MM, HEIGHT_MM, f"Hakari {e.name}")


def _table(e: ExperimentDetail) -> tuple[Row, list[Row]]:
    """Return the head of the table and its rows, empty where there is something to write."""
    body: Body = e.experiment
    rows: list[Row]
    match body:
        case Triangle() | Sieve():
            rows = [
                (str(a.round + 1), a.taster, a.order or "shuffled", _place(a.named), "yes" if a.was_right else "no")
                for a in body.answers
            ]
            done = max((a.round for a in body.answers), default=-1) + 1
            rows += [(str(k + 1), "", "hidden", "", "") for k in range(done, body.rounds)]
            return ("Round", "Taster", "Cups", "Named", "Right"), rows
        case ThreeGrinds():
            rows = [
                (g.setting, f"{g.d50_um:.0f} µm", _figure(g.predicted_s, "s"), _figure(g.time_s, "s"),
                 _figure(g.tds_percent, "%", 2)) for g in body.grinds
            ]  # fmt: skip
            return ("Setting", "Size", "Predicted", "Time", "Strength"), rows
        case Thirds():
            rows = [(str(k + 1), f"{c.drink_g:.1f} g", f"{c.tds_percent:.2f} %") for k, c in enumerate(body.cups)]
            return ("Cup", "Mass", "Strength"), rows or [(str(k), "", "") for k in (1, 2, 3)]
        case TwoWays():
            rows = [(str(k + 1), p.order, f"{p.a:g}", f"{p.b:g}") for k, p in enumerate(body.pairs)]
            return ("Pair", "Order", body.a, body.b), [*rows, (str(len(rows) + 1), e.next_order or "", "", "")]
        case Hand():
            rows = [
                (str(k + 1), _figure(b.time_s, "s"), _figure(b.drink_g, "g"), _figure(b.tds_percent, "%", 2))
                for k, b in enumerate(body.brews)
            ]
            rows += [(str(k + 1), "", "", "") for k in range(len(body.brews), body.wanted)]
            return ("Brew", "Time", "Drink", "Strength"), rows
        case Ladder():
            rows = [(f"{c.value:g}", str(c.liked)) for c in body.cups]
            codes = e.round.codes if e.round else []
            return ("Cup", "Liked, 1 to 5"), [*rows, *((code, "") for code in codes)]


def _place(named: int | None) -> str:
    return "" if named is None else str(named + 1)


def _figure(value: float | None, unit: str, digits: int = 0) -> str:
    return "" if value is None else f"{value:.{digits}f} {unit}"
