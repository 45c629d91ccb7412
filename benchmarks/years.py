"""Years of use: 5,000 slips and 2,000 samples; how large the database is, and how long lists take beside the demo's.

Run with ``python -m benchmarks.years``. The work is the demo's, again and again with other numbers and times, so that each
slip, log and sample is as large as a real one. Processor time of a list is printed in milliseconds and as a ratio to the
same list of the demo in the same run.
"""

from __future__ import annotations

import random
import shutil
import sys
import tempfile
import time
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

from flask.testing import FlaskClient
from sqlalchemy import LargeBinary, TableClause, column, insert, select, table, update

from hakari.demo.stories import fill
from hakari.service.backups.archive import plain
from hakari.service.workspace.folder import DATABASE
from hakari.service.workspace.transaction import Workspace
from hakari.store import models
from hakari.store.completing import complete
from hakari.store.packed_json import PackedJson, pack, unpack
from hakari.web.app import create_app

SLIPS, SAMPLES, COFFEES, VARIANTS, SEED = 5_000, 2_000, 60, 40, 41
FIRST = datetime(2023, 1, 1, 7, tzinfo=UTC).replace(tzinfo=None)
LISTS = {
    "slips": "/api/slips", "slips before": "/api/slips?before=2500", "slips found": "/api/slips?search=hollow%20bitter",
    "samples": "/api/samples", "coffees": "/api/coffees", "grinders": "/api/grinders", "recipes": "/api/recipes",
    "experiments": "/api/experiments", "devices": "/api/devices", "counters": "/api/counters",
    "workbench": "/api/workbenches/current", "fit": "/api/fits/current", "learning": "/api/cups/learning",
    "drills": "/api/drills", "methods": "/api/methods", "windows": "/api/windows", "setting cards": "/api/setting-cards",
    "translations": "/api/translations?to=2", "proposals": "/api/experiment-proposals",
}  # fmt: skip
REPEATS = 5


def grow(ws: Workspace, slips: int = SLIPS, samples: int = SAMPLES) -> None:
    """Add the demo's slips and samples to it, again and again."""
    rng = random.Random(SEED)
    tables = models.Base.metadata.tables

    def raw(name: str) -> TableClause:
        """Return a table whose packed columns are copied as they are."""
        columns = (
            column(c.name, LargeBinary() if isinstance(c.type, PackedJson) else c.type) for c in plain(tables[name]).c
        )
        return table(name, *columns)

    with ws.engine.begin() as connection:

        def rows(name: str) -> list[dict[str, Any]]:
            return [dict(r) for r in connection.execute(select(raw(name))).mappings()]

        def add(into: str, row: dict[str, Any], **changed: Any) -> int:
            # Without what is derived, which is filled in afterwards.
            kept = {c.name: row[c.name] for c in tables[into].columns if not c.info.get("derived") and c.name != "id"}
            of = raw(into)
            return int(connection.execute(insert(of).values(kept | changed).returning(of.c.id)).scalar_one())

        def noisy(readings: bytes) -> bytes:
            return pack([[t, round(w + rng.uniform(-0.2, 0.2), 2)] for t, w in unpack(readings)])

        def liked(document: bytes, stars: int | None) -> bytes:
            plainly = unpack(document)
            return pack({**plainly, "outcome": {**plainly["outcome"], "liked": stars}})

        first_coffee, *_ = rows("coffee")
        coffees = [add("coffee", first_coffee, name=f"Lot {k} Hollow Ridge") for k in range(COFFEES)]
        plans, brews = {r["id"]: r for r in rows("plan")}, {r["id"]: r for r in rows("brew")}
        kept = rows("slip")
        parts = {p["brew_id"]: (p, [noisy(p["readings"]) for _ in range(VARIANTS)]) for p in rows("log_part")}
        documents = {s["id"]: [liked(s["document"], n) for n in (None, 3, 4, 5)] for s in kept}
        figures = {s["id"]: unpack(s["view"]) for s in kept}
        number, parent = len(kept), None
        for k in range(slips - len(kept)):
            slip, at = kept[k % len(kept)], FIRST + timedelta(hours=6 * k)
            brew = brews[slip["brew_id"]]
            coffee = k // (slips // COFFEES + 1)
            plan_id = add("plan", plans[brew["plan_id"]], coffee_id=coffees[coffee], created_at=at)
            brew_id = add("brew", brew, plan_id=plan_id, created_at=at, started_at=at, closed_at=at)
            part, logs = parts[brew["id"]]
            add("log_part", part, brew_id=brew_id, readings=rng.choice(logs), created_at=at)
            number += 1
            view = pack({**figures[slip["id"]], "coffee": f"Lot {coffee} Hollow Ridge"})
            parent = add(
                "slip", slip, brew_id=brew_id, number=number, parent_id=parent, created_at=at, view=view,
                document=rng.choice(documents[slip["id"]]),
            )  # fmt: skip
        photos, measured = {p["sample_id"]: p for p in rows("photo")}, rows("sample")
        for k in range(samples - len(measured)):
            sample, at = measured[k % len(measured)], FIRST + timedelta(hours=12 * k)
            # One in ten is placed on a curve, as people do while they dial in.
            placed = {} if k % 10 == 0 else {"era_id": None, "setting": None}
            sample_id = add("sample", sample, created_at=at, coffee_id=rng.choice(coffees), **placed)
            add("photo", photos[sample["id"]], sample_id=sample_id, created_at=at)
    with ws.transaction() as session:
        complete(session)
        session.execute(update(models.Pass).values(coffee_id=coffees[-1]))
    with ws.engine.connect().execution_options(isolation_level="AUTOCOMMIT") as connection:
        connection.exec_driver_sql("PRAGMA wal_checkpoint(TRUNCATE)")


def processor_ms(do: Callable[[], object]) -> float:
    """Return the least processor time of a few goes, ms; the first is not counted."""
    do()
    least = float("inf")
    for _ in range(REPEATS):
        began = time.process_time()
        do()
        least = min(least, time.process_time() - began)
    return 1000 * least


def first_ms(do: Callable[[], object]) -> float:
    """Return the processor time of the first go, ms."""
    began = time.process_time()
    do()
    return 1000 * (time.process_time() - began)


def main() -> None:
    """Print size and times."""
    with tempfile.TemporaryDirectory(prefix="hakari-years-") as home:
        demo = Workspace(Path(home) / "demo", measuring_processes=0)
        fill(demo, lambda words: print(words, file=sys.stderr))
        demo.close()
        folder = Path(shutil.copytree(Path(home) / "demo", Path(home) / "years"))
        ws = Workspace(folder, measuring_processes=0)
        grow(ws)
        size = (folder / DATABASE).stat().st_size
        print(
            f"{SLIPS} slips and {SAMPLES} samples: database {size / 2**20:.0f} MB, {size / SLIPS / 1024:.1f} kB a slip"
        )
        demo = Workspace(Path(home) / "demo", measuring_processes=0)
        here, there = create_app(ws).test_client(), create_app(demo).test_client()
        print(f"{'list':14} {'years, ms':>10} {'demo, ms':>9} {'ratio':>6} {'first, ms':>10}")
        for name, path in LISTS.items():

            def ask(client: FlaskClient, path: str = path) -> None:
                answer = client.get(path)
                assert answer.status_code == 200, answer.text

            first = first_ms(lambda: ask(here))
            grown, small = processor_ms(lambda: ask(here)), processor_ms(lambda: ask(there))
            print(f"{name:14} {grown:10.1f} {small:9.1f} {grown / max(small, 1e-6):6.1f} {first:10.1f}")
        ws.close()
        demo.close()


if __name__ == "__main__":
    main()
