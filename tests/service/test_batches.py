"""Many photos: the page's figures to the last digit, resuming after a kill, a crashed worker, a cluster that goes."""

from __future__ import annotations

import os
import signal
import time
from collections.abc import Sequence
from contextlib import closing
from dataclasses import replace
from datetime import datetime, timedelta
from pathlib import Path

import numpy as np
import pytest
from benchmarks.pictures.flat import make_picture
from benchmarks.pictures.flat_camera import Scene
from hypothesis import given
from hypothesis import strategies as st

from hakari.core.errors import InputError
from hakari.core.photo.pipeline import CardScale
from hakari.formats.batch import PhotoRow, SampleRow
from hakari.service.batches import engines
from hakari.service.batches.engines import ClusterEngine, LocalEngine
from hakari.service.batches.listing import BatchSample, list_samples
from hakari.service.batches.measuring import SampleResult, measure_sample
from hakari.service.batches.report import write_report
from hakari.service.batches.tables import read_table, write_table
from hakari.service.batches.tracking import change_words, follow
from hakari.service.batches.use_cases import BatchProgress, run_batch, samples_path
from hakari.service.samples.measuring import measure_files
from hakari.service.workspace.cluster import ClusterProcesses
from hakari.service.workspace.processes import Processes
from processes import done, started

POISON = b"poison"


@pytest.fixture(scope="module")
def pictures(small_scene: Scene) -> list[bytes]:
    scene = replace(small_scene, width_px=1200, height_px=900, um_per_px=72, grounds_limit=600)
    return [make_picture(replace(scene, seed=s)).jpeg for s in (41, 42, 43, 44)]


@pytest.fixture
def folder(tmp_path: Path, pictures: list[bytes]) -> Path:
    """Two samples of two photos each in a list, one of them no picture."""
    for k, data in enumerate((*pictures[:3], b"no picture")):
        (tmp_path / f"{k}.jpg").write_bytes(data)
    rows = ["photo;sample;grinder;setting;place;date", "0.jpg;one;Mill;22;bar;2026-03-02", "1.jpg;one;Mill;22;bar;2026-03-02",
            "2.jpg;two;Mill;22;bar;2026-03-03", "3.jpg;two;Mill;22;bar;2026-03-03"]  # fmt: skip
    (tmp_path / "list.csv").write_text("\n".join(rows))
    return tmp_path


def test_a_batch_has_the_figures_of_the_page_and_a_bad_photo_stops_nothing(folder: Path, pictures: list[bytes]) -> None:
    output = folder / "results.parquet"
    with closing(LocalEngine(2)) as engine:
        progress = run_batch(list_samples(str(folder / "list.csv")), output, engine, particles=folder / "grounds")
    assert progress.done == 4 and dict(progress.failed) == {"not-a-picture": 1}
    photos, samples = read_table(output, PhotoRow), read_table(samples_path(output), SampleRow)
    for row, data in zip(photos[:3], pictures, strict=False):
        m = measure_files([data], CardScale()).document
        assert (row.d10_um, row.d50_um, row.d90_um, row.grounds) == (m.d10_um, m.d50_um, m.d90_um, m.particles)
        assert (
            row.d50_low_um,
            row.d50_high_um,
        ) == m.ci95.d50_um and row.fines_below_100 == m.extrapolated.mass_below_um["100"]
        assert (folder / "grounds" / f"{row.sha256}.csv").read_text().startswith("photo,x_mm")
    together = measure_files(pictures[:2], CardScale()).document
    assert samples[0].d50_um == together.d50_um and samples[0].photos == 2 and samples[0].grinder == "Mill"
    assert samples[1].failed == 1 and samples[1].d50_um == photos[2].d50_um
    assert photos[3].status == "not-a-picture" and photos[3].message and photos[3].d50_um is None
    with closing(LocalEngine(1)) as engine:
        again = run_batch(list_samples(str(folder / "list.csv")), folder / "results.parquet", engine)
    assert again.earlier == 4 and read_table(output, PhotoRow) == photos
    # A photo whose content changed is measured again, the others are not.
    (folder / "3.jpg").write_bytes(pictures[3])
    with closing(LocalEngine(1)) as engine:
        mended = run_batch(list_samples(str(folder / "list.csv")), output, engine)
    assert mended.earlier == 2 and not mended.failed


def test_a_run_that_is_killed_goes_on_where_it_was(tmp_path: Path, pictures: list[bytes]) -> None:
    photos = tmp_path / "photos"
    photos.mkdir()
    for k in range(12):  # each a content of its own
        (photos / f"{k:02}.jpg").write_bytes(pictures[k % 4] + bytes([k]))
    output, journal = tmp_path / "r.jsonl", tmp_path / "r.jsonl.journal"
    words = ("batch", str(photos), "-o", str(output), "--jobs", "1", "--quiet")
    with started(*words) as running:
        ends = time.monotonic() + 60
        while not (journal.exists() and journal.read_bytes().count(b"\n") >= 2):
            assert time.monotonic() < ends and running.process.is_alive()
            time.sleep(0.02)
        running.kill()
    assert not output.exists()
    with journal.open("a") as file:
        file.write('{"photos": [{"cut off')  # as a kill may leave it
    earlier = journal.read_bytes().count(b"\n")
    status, _, errors = done(*words)
    assert status == 0 and f"12 photos ({earlier} measured earlier), 0 failed" in errors
    rows = read_table(output, PhotoRow)
    assert [Path(r.photo).name for r in rows] == [f"{k:02}.jpg" for k in range(12)]
    assert len({r.sha256 for r in rows}) == 12 and rows[0].d50_um == rows[4].d50_um


def dies_of_poison(sample: BatchSample, data: Sequence[bytes], key: str, particles: bool = False) -> SampleResult:
    if any(d == POISON for d in data):
        os.kill(os.getpid(), signal.SIGKILL)
    return measure_sample(sample, data, key, particles)


def test_a_photo_that_kills_its_worker_is_a_row_and_the_rest_goes_on(
    folder: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(engines, "measure_sample", dies_of_poison)
    (folder / "3.jpg").write_bytes(POISON)
    output = folder / "r.csv"
    with closing(LocalEngine(2)) as engine:
        progress = run_batch(list_samples(str(folder)), output, engine)
    assert dict(progress.failed) == {"work-crashed": 1} and progress.done == 4
    rows = read_table(output, PhotoRow)
    assert [r.status for r in rows] == ["ok", "ok", "ok", "work-crashed"] and rows[3].sha256


@pytest.mark.filterwarnings("ignore")
def test_a_cluster_gives_the_same_rows_and_what_it_did_is_not_done_again(folder: Path) -> None:
    distributed = pytest.importorskip("distributed")
    local, far = folder / "local.jsonl", folder / "far.jsonl"
    samples = list_samples(str(folder / "list.csv"))
    with closing(LocalEngine(1)) as engine:
        run_batch(samples, local, engine)
    cluster = distributed.LocalCluster(n_workers=2, threads_per_worker=1, dashboard_address=None, silence_logs=50)
    address = cluster.scheduler_address
    engine = ClusterEngine(address)
    there = folder / "there.jsonl"
    with closing(ClusterEngine(address, shared_photos=True)) as reads_itself:
        run_batch(samples, there, reads_itself)
    told: list[int] = []

    def kill_a_worker(progress: object) -> None:
        told.append(len(told))
        if len(told) == 2:  # a nanny starts it again
            next(iter(cluster.workers.values())).process.process.kill()

    with closing(engine):
        run_batch(samples, far, engine, kill_a_worker)
    figures = [without_time(path) for path in (local, far, there)]
    assert figures[0] == figures[1] == figures[2] and len(figures[0]) == 4
    cluster.close()
    with pytest.raises(InputError, match="does not answer"):
        ClusterEngine(address, timeout_s=0.5)


def without_time(path: Path) -> list[PhotoRow]:
    return [r.model_copy(update={"seconds": None}) for r in read_table(path, PhotoRow)]


@pytest.mark.filterwarnings("ignore")
def test_a_scheduler_that_goes_away_loses_nothing(folder: Path) -> None:
    distributed = pytest.importorskip("distributed")
    samples, output = list_samples(str(folder)), folder / "far.jsonl"
    cluster = distributed.LocalCluster(n_workers=1, threads_per_worker=1, dashboard_address=None, silence_logs=50)
    done: list[int] = []

    def stop_the_cluster(progress: BatchProgress) -> None:
        done.append(progress.done)
        if done.count(1) == 1 and progress.done == 1:
            cluster.close()

    with closing(ClusterEngine(cluster.scheduler_address)) as engine, pytest.raises(InputError) as gone:
        run_batch(samples, output, engine, stop_the_cluster)
    assert gone.value.code == "scheduler-gone" and max(done) < 4
    # This computer goes on from the same journal: nothing is lost, nothing is done twice.
    with closing(LocalEngine(1)) as engine:
        assert run_batch(samples, output, engine).earlier == max(done)
    alone = folder / "alone.jsonl"
    with closing(LocalEngine(1)) as engine:
        run_batch(samples, alone, engine)
    assert without_time(output) == without_time(alone)


def crash(_: bytes) -> int:
    os.kill(os.getpid(), signal.SIGKILL)
    return 0


def refuse(_: bytes) -> int:
    raise InputError("no-grounds", "There is nothing on it.", "Spread some.")


@pytest.mark.filterwarnings("ignore")
def test_a_server_measures_by_a_cluster_and_here_while_that_is_gone(monkeypatch: pytest.MonkeyPatch) -> None:
    distributed = pytest.importorskip("distributed")
    monkeypatch.setattr("hakari.service.workspace.cluster.TRY_AGAIN_S", 0.2)
    how = {"n_workers": 1, "threads_per_worker": 1, "dashboard_address": None, "silence_logs": 50}
    cluster = distributed.LocalCluster(**how)
    address, port = cluster.scheduler_address, int(cluster.scheduler_address.rpartition(":")[2])
    with closing(ClusterProcesses(address, Processes(0))) as processes:
        assert processes.connected and processes.run(os.getpid) != os.getpid()
        with pytest.raises(InputError) as refusal:
            processes.run(refuse, b"photo")
        assert refusal.value.code == "no-grounds"
        cluster.close()
        assert processes.run(os.getpid) == os.getpid()
        again = distributed.LocalCluster(**how, scheduler_port=port)
        try:
            for _ in range(200):
                if processes.run(os.getpid) != os.getpid():
                    break
                time.sleep(0.1)
            assert processes.connected
            # A photo that stops every worker is refused, and the server itself never tries it.
            with pytest.raises(InputError) as poison:
                processes.run(crash, b"photo")
            assert poison.value.code == "work-crashed"
        finally:
            again.close()
    # Without a cluster from the start the server starts all the same.
    with closing(ClusterProcesses("tcp://127.0.0.1:9", Processes(0), timeout_s=0.5)) as alone:
        assert not alone.connected and alone.run(os.getpid) == os.getpid()


TEXTS = st.text(st.characters(exclude_categories=["Cs", "Cc"]), max_size=12).map(str.strip)
FIGURES = st.none() | st.floats(allow_nan=False, allow_infinity=False, width=64)


@given(
    st.lists(
        st.builds(
            PhotoRow, sample=TEXTS.filter(bool), photo=TEXTS.filter(bool), sha256=st.just("ab"), message=TEXTS,
            d50_um=FIGURES, span=FIGURES, grounds=st.none() | st.integers(0, 10**9), grinder=st.none() | TEXTS.filter(bool),
        ),
        max_size=4,
    )
)  # fmt: skip
def test_tables_are_read_back_as_they_were_written(
    tmp_path_factory: pytest.TempPathFactory, rows: list[PhotoRow]
) -> None:
    folder = tmp_path_factory.mktemp("tables")
    for ending in ("parquet", "csv", "jsonl"):
        write_table(folder / f"t.{ending}", PhotoRow, rows)
        assert read_table(folder / f"t.{ending}", PhotoRow) == rows


def test_lists_folders_and_tables_that_cannot_be_are_refused(tmp_path: Path) -> None:
    (tmp_path / "list.csv").write_text("picture,setting\na.jpg,22\n")
    (tmp_path / "gap.csv").write_text("photo,setting\n,22\n")
    (tmp_path / "t.jsonl").write_text("[1]\n")
    for source, code in ((tmp_path / "list.csv", "list-malformed"), (tmp_path / "gap.csv", "list-malformed"),
                         (tmp_path, "no-photos"), (tmp_path / "*.jpg", "no-photos")):  # fmt: skip
        with pytest.raises(InputError) as refused:
            list_samples(str(source))
        assert refused.value.code == code
    for path, code in ((tmp_path / "t.jsonl", "table-malformed"), (tmp_path / "x.xls", "unknown-table"),
                       (tmp_path / "no.csv", "file-unreadable")):  # fmt: skip
        with pytest.raises(InputError) as refused:
            read_table(path, PhotoRow)
        assert refused.value.code == code
    (tmp_path / "a b.jpg").write_bytes(b"")
    assert [s.photos for s in list_samples(str(tmp_path / "*.jpg"))] == [(str(tmp_path / "a b.jpg"),)]


def followed(moved_ln: np.ndarray, place: str = "bar") -> list[SampleRow]:
    rng = np.random.default_rng(9)
    start = datetime(2026, 2, 2)
    rows = []
    for k, by in enumerate(moved_ln):
        d50 = 640 * float(np.exp(by + rng.normal(0, 0.012)))
        rows.append(
            SampleRow(
                sample=f"{place} {k}", grinder="Mill", setting="22", place=place,
                date=str((start + timedelta(days=k)).date()),
                photos=2, failed=0, d50_um=d50, d50_low_um=d50 * 0.97, d50_high_um=d50 * 1.03, fines_below_100=0.06,
                cut_um=100, span=1.1,
            )
        )  # fmt: skip
    return rows


def test_the_report_names_what_changed_and_leads_to_the_photos(tmp_path: Path) -> None:
    days = np.arange(50)
    steady = followed(np.zeros(50), "hatch")
    knocked = followed(-0.08 * (days >= 30), "bar")
    groups = follow([*steady, *knocked])
    assert [g.place for g in groups] == ["bar", "hatch"] and [g.changed for g in groups] == [True, False]
    words = change_words(groups[0].figures[0])
    assert words is not None and "jumped" in words and "down on 04 Mar 2026" in words
    table = tmp_path / "r.jsonl"
    samples = [*steady, *knocked]
    photos = [PhotoRow(sample=s.sample, photo=f"photos/{s.sample}<1>.jpg", sha256="x") for s in samples]
    write_table(
        table,
        PhotoRow,
        [*photos, PhotoRow(sample="z", photo="z.jpg", sha256="", status="card-not-found", message="No card.")],
    )
    write_table(samples_path(table), SampleRow, samples)
    write_report(table, tmp_path / "report.html", datetime(2026, 4, 1))
    page = (tmp_path / "report.html").read_text()
    assert page.count("<svg") == 2 and "jumped" in page and "No card." in page and "Side by side" in page
    assert "photos/bar 3&lt;1&gt;.jpg" in page and "<1>" not in page and page.count('href="#g0s') == 150
    assert not any(outside in page for outside in ('src="http', "@import", "<script"))
    write_table(table, PhotoRow, photos)
    write_table(samples_path(table), SampleRow, [s.model_copy(update={"date": None}) for s in samples])
    with pytest.raises(InputError, match="has a date"):
        write_report(table, tmp_path / "report.html", datetime(2026, 4, 1))
