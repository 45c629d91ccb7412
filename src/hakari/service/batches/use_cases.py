"""Measure a batch: what is done is not done again, and nothing that fails stops it."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import closing
from dataclasses import dataclass, field
from pathlib import Path

from hakari.formats.batch import OK, PhotoRow, SampleRow
from hakari.service.batches.engines import Engine, Work
from hakari.service.batches.journal import Journal
from hakari.service.batches.listing import BatchSample, read_photo
from hakari.service.batches.measuring import SampleResult, content_of, key_of, unreadable
from hakari.service.batches.tables import check_ending, write_table


@dataclass
class BatchProgress:
    """How far a batch is: photos in all, done, done earlier, and failures by reason."""

    photos: int
    done: int = 0
    earlier: int = 0
    failed: Counter[str] = field(default_factory=Counter)


Tell = Callable[[BatchProgress], None]


def run_batch(
    samples: list[BatchSample], output: Path, engine: Engine, tell: Tell = lambda _: None, particles: Path | None = None
) -> BatchProgress:
    """Measure all samples and write a row a photo to ``output``, and a row a sample beside it.

    Finished samples are kept in a journal beside the output; the same command goes on from there. ``particles`` is a folder
    for each photo's grounds as CSV.
    """
    check_ending(output)
    journal = Journal(output.with_name(f"{output.name}.journal"))
    done, order = journal.read(), []
    progress = BatchProgress(sum(len(s.photos) for s in samples))

    def to_do() -> Iterator[Work]:
        for sample in samples:
            contents, data = [], []
            for address in sample.photos:
                try:
                    data.append(read_photo(address))
                except OSError as error:
                    _note(unreadable(sample, address, str(error.strerror or error)))
                    break
                contents.append(content_of(data[-1]))
            else:
                key = key_of(sample, contents)
                if key in done and (particles is None or _has_particles(particles, done[key])):
                    progress.earlier += len(sample.photos)
                    _note(done[key])
                else:
                    yield Work(sample, tuple(data), tuple(contents), key, particles is not None)

    def _note(result: SampleResult) -> None:
        order.append(result)
        progress.done += len(result.photos)
        progress.failed.update(p.status for p in result.photos if p.status != OK)
        tell(progress)

    tell(progress)
    with closing(journal):
        for result in engine.run(to_do()):
            journal.add(result)
            if particles is not None:
                _write_particles(particles, result)
            _note(result)
    _write(output, samples, order)
    return progress


def samples_path(output: Path) -> Path:
    """Return where the rows of samples stand, beside those of photos."""
    return output.with_name(f"{output.stem}.samples{output.suffix}")


def _write(output: Path, samples: list[BatchSample], results: list[SampleResult]) -> None:
    """Write the tables in the order of the list."""
    places = {address: k for k, s in enumerate(samples) for address in s.photos}
    results = sorted(results, key=lambda r: places.get(r.photos[0].photo, len(places)))
    write_table(output, PhotoRow, [p for r in results for p in r.photos])
    write_table(samples_path(output), SampleRow, [r.sample for r in results])


def _has_particles(folder: Path, result: SampleResult) -> bool:
    return all((folder / f"{p.sha256}.csv").exists() for p in result.photos if p.status == OK)


def _write_particles(folder: Path, result: SampleResult) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    for content, table in result.particles:
        (folder / f"{content}.csv").write_text(table, encoding="utf-8")
