"""Back-ups: one moment, checked, read row for row, and harmless whatever they hold."""

from __future__ import annotations

import hashlib
import io
import json
import random
import shutil
import sqlite3
import threading
import zipfile
from collections.abc import Callable, Iterator
from contextlib import closing
from pathlib import Path

import pytest
from sqlalchemy import text

from hakari.core.errors import InputError
from hakari.core.photo.result import no_grounds
from hakari.formats.recipe import Recipe
from hakari.formats.slip import OutcomeDocument
from hakari.service.backups import archive as archives
from hakari.service.backups import unpacking
from hakari.service.backups.archive import export_workspace
from hakari.service.backups.importing import import_workspace
from hakari.service.brews import logs
from hakari.service.coffees import use_cases as coffees
from hakari.service.plans import use_cases as plans
from hakari.service.samples import use_cases as samples
from hakari.service.samples.grounds import pack
from hakari.service.slips import use_cases as slips
from hakari.service.workbench import use_cases as bench
from hakari.service.workspace.folder import DATABASE
from hakari.service.workspace.transaction import Workspace
from hakari.store import models
from hakari.store.packed_json import unpack
from processes import done
from thorough import tries

FIXTURE = Path(__file__).parents[1] / "data" / "databases" / "0012.sql"
PACKED = b"\x78"  # how zlib begins
Rows = dict[str, list[tuple]]


def tables(folder: Path) -> Rows:
    """Everything in a database, read past the program, with JSON opened; without hidden orders, which leave no folder."""

    def cell(name: str, value: object) -> object:
        if isinstance(value, bytes):
            return unpack(value)
        if name == "blind_seed":
            return None
        return json.loads(value) if isinstance(value, str) and value[:1] in ("[", "{") else value

    with closing(sqlite3.connect(f"file:{folder / DATABASE}?mode=ro", uri=True)) as connection:
        names = [n for (n,) in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")]
        read: Rows = {}
        for name in names:
            rows = connection.execute(f'SELECT * FROM "{name}"')
            columns = [c[0] for c in rows.description]
            read[name] = [tuple(cell(c, v) for c, v in zip(columns, row, strict=True)) for row in rows]
        return read


def files(folder: Path) -> dict[str, bytes]:
    return {p.name: p.read_bytes() for p in (folder / "files").glob("*/*")}


def archive_bytes(ws: Workspace) -> bytes:
    out = io.BytesIO()
    export_workspace(ws, out)
    return out.getvalue()


@pytest.fixture
def demo(filled_demo: Path, tmp_path: Path) -> Path:
    return Path(shutil.copytree(filled_demo, tmp_path / "demo"))


@pytest.fixture
def opened(demo: Path) -> Iterator[Workspace]:
    ws = Workspace(demo, measuring_processes=0)
    yield ws
    ws.close()


def test_what_is_exported_comes_back_the_same(demo: Path, tmp_path: Path) -> None:
    file = tmp_path / "everything.zip"
    assert done("export", "-o", str(file), "--data", str(demo))[0] == 0
    again = tmp_path / "again"
    assert done("import", str(file), "--data", str(again))[0] == 0
    assert tables(again) == tables(demo) and files(again) == files(demo)
    with zipfile.ZipFile(file) as archive:
        contents = json.loads(archive.read("contents.json"))
        # The size and the hash of every entry stand inside.
        assert set(contents["entries"]) == {*archive.namelist()} - {"contents.json"}
        for name, entry in contents["entries"].items():
            data = archive.read(name)
            assert (len(data), hashlib.sha256(data).hexdigest()) == (entry["bytes"], entry["sha256"])
        assert any(n.startswith("brews/") for n in contents["entries"]) and contents["rows"]["slip"] == 3
    # A second time brings nothing.
    assert done("import", str(file), "--data", str(again))[0] == 0
    assert tables(again) == tables(demo)


def test_an_archive_that_cannot_be_read_back_is_not_called_done(
    opened: Workspace, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    class Failing(io.BytesIO):
        """A disk that loses a block once all is written."""

        def seek(self, offset: int, origin: int = 0) -> int:
            if offset == 0 and origin == 0 and len(self.getbuffer()) > 10_000:
                with self.getbuffer() as held:
                    held[5000:5100] = bytes(100)
            return super().seek(offset, origin)

    with pytest.raises(InputError) as refusal:
        export_workspace(opened, Failing())
    assert refusal.value.code == "archive-unreadable"


def _write(ws: Workspace, stop: threading.Event, log_csv: str, seed: int) -> None:
    """Make coffees, plans, brews with logs and slips at one counter, one after the other, and delete some."""
    rng = random.Random(seed)
    while not stop.is_set():
        plans.save_plan(ws, Recipe(dose_g=rng.choice((15, 17, 18)), water_g=280))
        logs.import_log(ws, log_csv)
        kept = ws.again_when_overtaken(
            lambda: slips.save_slip(ws, slips.NewSlip(outcome=OutcomeDocument(drawdown_s=200, taste={"sweet": 1})))
        )
        if rng.random() < 0.3:
            slips.set_slip_deleted(ws, kept.id, True)
        bench.add_coffee(ws, coffees.NewCoffee(name=f"Lot {rng.random()}"))


def test_archives_made_while_others_write_all_restore_row_for_row(opened: Workspace, tmp_path: Path) -> None:
    csv = "time_s,poured_g,drink_g,event\n" + "".join(f"{t / 2},{t},,\n" for t in range(60))
    stop = threading.Event()
    at = []
    with opened.transaction() as session:
        for k in range(4):
            row = models.Workbench(name=f"counter {k}")
            session.add(row)
            session.flush()
            at.append(opened.at(row.id))
    writers = [threading.Thread(target=_write, args=(ws, stop, csv, k)) for k, ws in enumerate(at)]
    for writer in writers:
        writer.start()
    try:
        made = [archive_bytes(opened) for _ in range(tries(5, 25))]
    finally:
        stop.set()
        for writer in writers:
            writer.join()
    counts = []
    for k, data in enumerate(made):
        there = Workspace(tmp_path / f"again-{k}", measuring_processes=0)
        import_workspace(there, io.BytesIO(data))
        with there.engine.connect() as connection:
            assert connection.execute(text("PRAGMA foreign_key_check")).all() == []
        back = io.BytesIO()
        export_workspace(there, back)
        there.close()
        with zipfile.ZipFile(io.BytesIO(data)) as first, zipfile.ZipFile(back) as second:
            rows = [n for n in first.namelist() if n.startswith("rows/")]
            assert {n: first.read(n) for n in rows} == {n: second.read(n) for n in rows}
            counts.append(json.loads(first.read("contents.json"))["rows"]["slip"])
    assert counts[-1] > counts[0], "nothing was written meanwhile"


def test_two_folders_are_merged_and_nothing_comes_twice(opened: Workspace, workspace: Workspace) -> None:
    bench.add_coffee(workspace, coffees.NewCoffee(name="Already here"))
    data = archive_bytes(opened)
    for _ in range(2):
        brought = import_workspace(workspace, io.BytesIO(data))
    assert brought.rows == 0
    ours, original = slips.list_slips(workspace).slips, slips.list_slips(opened).slips
    assert [s.number for s in ours] == [1, 2, 3]
    assert [s.curve_density for s in ours] == [s.curve_density for s in original]
    assert [s.parent_id for s in ours][1:] == [ours[0].id, ours[1].id]
    assert coffees.list_coffees(workspace).coffees[0].name == "Already here"
    sizes = [s.d50_um for s in samples.list_samples(opened).samples]
    assert [s.d50_um for s in samples.list_samples(workspace).samples] == sizes


@pytest.mark.parametrize("existing", ["keep", "replace"])
def test_rows_changed_or_deleted_since_are_told_of_and_it_can_be_chosen(opened: Workspace, existing: str) -> None:
    data = archive_bytes(opened)
    first, *_ = coffees.list_coffees(opened).coffees
    bench.change_coffee(opened, first.id, coffees.CoffeeChange(bag_g=123))
    gone = slips.list_slips(opened).slips[-1]
    slips.set_slip_deleted(opened, gone.id, True)
    brought = import_workspace(opened, io.BytesIO(data), existing=existing)
    # A slip goes with the pass that it was made of.
    assert (brought.rows, brought.changed, brought.deleted) == (0, 1, 2)
    now = next(c for c in coffees.list_coffees(opened).coffees if c.id == first.id)
    there = [s.id for s in slips.list_slips(opened).slips]
    if existing == "keep":
        assert brought.replaced == 0 and now.bag_g == 123 and gone.id not in there
    else:
        # Whoever has seen it as it was is refused, and the slip can be found again.
        assert brought.replaced == 3 and now.bag_g == first.bag_g and now.version > first.version + 1
        assert gone.id in there and slips.list_slips(opened, slips.SlipSearch(search=f"slip {gone.number}")).total >= 1


def test_a_back_up_of_the_first_version_is_read(tmp_path: Path) -> None:
    with closing(sqlite3.connect(":memory:")) as old:
        old.executescript(FIXTURE.read_text())
        old.row_factory = sqlite3.Row
        names = [n for (n,) in old.execute("SELECT name FROM sqlite_master WHERE type = 'table'")]
        opened = {
            name: [
                {k: json.loads(v) if isinstance(v, str) and v[:1] in ("[", "{") else v for k, v in dict(row).items()}
                for row in old.execute(f'SELECT * FROM "{name}" ORDER BY 1')
            ]
            for name in names if name not in ("alembic_version", "device", "lease")
        }  # fmt: skip
    for row in opened["experiment"]:
        del row["blind_seed"]
    sample = opened["sample"][0]
    grounds = io.BytesIO()
    ws = Workspace(tmp_path / "new", measuring_processes=0)
    grounds.write(pack(no_grounds()))
    sample["grounds_hash"] = hashlib.sha256(grounds.getvalue()).hexdigest()
    photo = b"\xff\xd8\xff a photo"
    opened["photo"][0]["content_hash"] = hashlib.sha256(photo).hexdigest()
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        document = {"format": "hakari.workspace/1", "revision": "0012", "tables": opened}
        archive.writestr("workspace.json", json.dumps(document))
        for data in (grounds.getvalue(), photo):
            archive.writestr(f"files/{hashlib.sha256(data).hexdigest()}", data)
    brought = import_workspace(ws, out)
    assert brought.files == 2 and brought.rows == sum(len(rows) for rows in opened.values())
    assert [s.number for s in slips.list_slips(ws).slips] == [row["number"] for row in opened["slip"]]
    # The log, which the slip's document held and which is kept once now, is in what leaves the house.
    document = opened["slip"][1]["document"]
    assert slips.slip_detail(ws, 2).document.model_dump()["brew"]["log"] == document["brew"]["log"]
    ws.close()


def changed(data: bytes, table: str, harm: Callable[[dict], object]) -> bytes:
    """A back-up whose first row of a table was changed, and made at another time, so that it is new."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(out, "w") as new:
        contents = json.loads(old.read("contents.json"))
        name = f"rows/{table}.jsonl"
        first, *rest = old.read(name).decode().splitlines()
        row = json.loads(first)
        row["created_at"] = "2020-01-01 00:00:00.000000"
        harm(row)
        text_ = "\n".join([json.dumps(row), *rest]).encode()
        contents["entries"][name] = {"bytes": len(text_), "sha256": hashlib.sha256(text_).hexdigest()}
        for entry in old.namelist():
            if entry not in (name, "contents.json"):
                new.writestr(entry, old.read(entry))
        new.writestr(name, text_)
        new.writestr("contents.json", json.dumps(contents))
    return out.getvalue()


def put(column: str, value: object) -> Callable[[dict], object]:
    return lambda row: row.__setitem__(column, value)


def inside(column: str, *path: str | int, value: object) -> Callable[[dict], object]:
    def harm(row: dict) -> None:
        place = row[column]
        for key in path[:-1]:
            place = place[key]
        place[path[-1]] = value

    return harm


HARM: dict[str, tuple[str, Callable[[dict], object]]] = {
    "no name": ("coffee", lambda row: row.pop("name")),
    "a purple roast": ("coffee", put("roast", "purple")),
    "an unknown rest": ("coffee", put("rest_school", "never")),
    "a version in words": ("coffee", put("version", "first")),
    "a version below one": ("coffee", put("version", 0)),
    "a number in place of a name": ("coffee", put("name", 7)),
    "a name too long": ("coffee", put("name", "x" * 81)),
    "half a character": ("coffee", put("name", "\ud800")),
    "no time": ("coffee", put("created_at", "yesterday")),
    "a bag of nothing": ("coffee", put("bag_g", -5)),
    "an infinite median": ("sample", put("d50_um", float("inf"))),
    "a median of no number": ("sample", put("d50_um", float("nan"))),
    "a negative median": ("curve_point", put("d50_um", -3.0)),
    "an interval upside down": ("curve_point", put("ci95_low_um", 19_000.0)),
    "grounds elsewhere": ("sample", put("grounds_hash", "../../hakari.sqlite3")),
    "grounds that are not there": ("sample", put("grounds_hash", "0" * 64)),
    "lists of different lengths": ("sample", inside("curve", "low", value=[1.0])),
    "a photo of another folder": ("photo", put("content_hash", "/etc/passwd")),
    "a bed photo of another folder": ("brew", put("bed_photo", "/etc/passwd")),
    "a log of another folder": ("brew", put("scale", {"key": "file", "label": "a", "standing": "cup", "simulated": False,
                                                      "connected": True, "file": "/etc/passwd"})),
    "a dial without steps": ("grinder", inside("dial", "clicks_per_turn", value=0)),
    "a plan of nothing": ("plan", inside("document", "pours", value=[{"water_g": "much"}])),
    "a brew of no plan": ("brew", put("plan_id", 4711)),
    "a slip of no slip": ("slip", put("parent_id", 4711)),
    "a number that is none": ("slip", put("number", True)),
    "a target of nobody's": ("slip", inside("document", "target", value="sour")),
    "a point of a grind by magic": ("curve_point", put("basis", "magic")),
    "a point of no era": ("curve_point", put("era_id", 4711)),
}  # fmt: skip


@pytest.mark.parametrize("wrong", HARM)
def test_a_back_up_with_a_row_that_is_not_as_it_should_be_changes_nothing(opened: Workspace, wrong: str) -> None:
    table, harm = HARM[wrong]
    data = changed(archive_bytes(opened), table, harm)
    folder = opened.folder
    before, kept = tables(folder), files(folder)
    # Into a filled folder, and into a new one, where every row keeps its identity.
    empty = Workspace(folder.parent / "empty", measuring_processes=0)
    for ws in (opened, empty):
        with pytest.raises(InputError) as refusal:
            import_workspace(ws, io.BytesIO(data))
        assert refusal.value.code == "archive-malformed" and "/etc" not in refusal.value.message
    assert tables(folder) == before and files(folder) == kept
    assert files(empty.folder) == {} and [p.name for p in empty.folder.glob(".import-*")] == []
    empty.close()


def _zipped(**entries: bytes) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in entries.items():
            archive.writestr(name.replace("__", "/"), data)
    return out.getvalue()


def test_a_file_that_is_no_back_up_changes_nothing(opened: Workspace, monkeypatch: pytest.MonkeyPatch) -> None:
    folder, whole = opened.folder, archive_bytes(opened)
    before, kept = tables(folder), files(folder)
    with zipfile.ZipFile(io.BytesIO(whole)) as archive:
        contents = archive.read("contents.json")
    first = b'{"format": "hakari.workspace/1", "revision": "0012", "tables": '
    wrong = [
        b"", b"PK\x03\x04 cut short", b"not a zip", whole[:5000],
        _zipped(**{"contents.json": b"[" * 100_000}), _zipped(**{"contents.json": contents}),
        _zipped(**{"workspace.json": first + b'{"coffee": [{"id": 1}]}}'}), _zipped(**{"workspace.json": first}),
        _zipped(**{"workspace.json": first + b'{"coffee": [{"id": 1, "bag_g": Infinity}]}}'}),
        _zipped(**{"workspace.json": first + b"{}}", "files__..__..__etc__passwd": b"x"}),
        _zipped(**{"workspace.json": first + b"{}}", "files__" + "0" * 64: b"another content"}),
    ]  # fmt: skip
    for data in wrong:
        with pytest.raises(InputError) as refusal:
            import_workspace(opened, io.BytesIO(data))
        assert refusal.value.code == "archive-malformed", data[:60]
    # One that would fill the disk, or has more entries than any folder, is refused before anything is written.
    for name, most in (("LARGEST_BYTES", 1000), ("MOST_ENTRIES", 3)):
        with monkeypatch.context() as limits:
            limits.setattr(unpacking, name, most)
            with pytest.raises(InputError) as refusal:
                import_workspace(opened, io.BytesIO(whole))
            assert refusal.value.code == "archive-malformed"
    assert tables(folder) == before and files(folder) == kept and not list(folder.glob(".import-*"))


def test_a_file_that_was_missing_already_is_said_and_the_rest_comes(opened: Workspace, tmp_path: Path) -> None:
    with opened.transaction() as session:
        lost = session.execute(text("SELECT content_hash FROM photo")).scalars().first()
    opened.files.delete(lost)
    out = io.BytesIO()
    assert archives.export_workspace(opened, out).missing == [lost]
    there = Workspace(tmp_path / "there", measuring_processes=0)
    assert import_workspace(there, out).rows > 0
    assert set(there.files.hashes()) == set(opened.files.hashes())
    there.close()
