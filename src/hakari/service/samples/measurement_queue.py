"""Measuring in the background, photo by photo; what was sent is on disk before it is acknowledged and survives a restart.

An order that met a full disk, or a database that was away, waits and goes on by itself. Of several servers on one database,
the one that holds an order's lease measures it; another does when the lease runs out.
"""

from __future__ import annotations

import logging
import threading
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from typing import IO

from sqlalchemy import delete, select
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from hakari.core.errors import InputError
from hakari.core.photo.pipeline import ScaleChoice
from hakari.core.photo.result import PhotoResult
from hakari.formats.base import Document, ErrorDocument
from hakari.service.samples.measuring import measure_one, parse_scale
from hakari.service.samples.use_cases import add_photos, check_place, keep_sample
from hakari.service.workspace.transaction import Workspace, find
from hakari.store import models
from hakari.store.snapshots import MeasurementOrder, OrderedPhoto, PhotoProgress

__all__ = ["MeasurementOrder", "MeasurementQueue", "MeasuringJob"]

log = logging.getLogger(__name__)
MOST_PHOTOS = 24
KEPT_JOBS = 400
AT_ONCE = 2
LEASE_S = 120.0  # prolonged at each photo
LOOK_EVERY_S = 10.0


class MeasuringJob(Document):
    """Photos being measured as one sample; ``sample_id`` is there when it is finished and one photo at least was good."""

    id: int
    finished: bool
    sample_id: int | None
    error: ErrorDocument | None
    photos: list[PhotoProgress]


class MeasurementQueue:
    """Takes orders and tells how far they are; safe to share between threads."""

    def __init__(self, ws: Workspace) -> None:
        self._ws = ws
        self._threads = ThreadPoolExecutor(AT_ONCE, thread_name_prefix="measuring")
        self._waiting: set[int] = set()
        self._take_over_what_is_left()
        threading.Thread(target=self._look_for_more, name="measuring-desk", daemon=True).start()

    def _look_for_more(self) -> None:
        while not self._ws.closing.wait(LOOK_EVERY_S):
            try:
                self._take_over_what_is_left()
            except Exception:
                log.exception("looking for orders that were left")

    def _take_over_what_is_left(self) -> None:
        for job_id in self._unfinished():
            self._submit(job_id)

    def _submit(self, job_id: int) -> None:
        if job_id not in self._waiting:
            self._waiting.add(job_id)
            self._threads.submit(self._run, job_id)

    def start(
        self, photos: Sequence[tuple[str, IO[bytes]]], order: MeasurementOrder, device_id: int | None = None
    ) -> MeasuringJob:
        """Keep photos that a device sent and start measuring them; ``order`` is without photos yet.

        Raises
        ------
        InputError
            ``no-photo``, ``too-many-photos``, ``scale-unreadable``, or when the setting is not on the grinder's dial.
        """
        if not photos:
            raise InputError("no-photo", "No photo came with this.", "Choose one or more photos.", field="photos")
        if len(photos) > MOST_PHOTOS:
            raise InputError(
                "too-many-photos", f"{len(photos)} photos at once are too many.", f"Send up to {MOST_PHOTOS}.", "photos"
            )
        parse_scale(order.scale, order.bar_mm)
        check_place(self._ws, order.grinder_id, order.setting)
        # One photo at a time is in memory.
        kept = [OrderedPhoto(file_name=n[:200], content_hash=self._ws.files.put(data.read())) for n, data in photos]
        with self._ws.transaction() as session:
            row = models.MeasurementJob(
                order=order.model_copy(update={"photos": kept}), finished=False,
                photos=[PhotoProgress(file_name=p.file_name, state="waiting") for p in kept], made_by_id=device_id,
            )  # fmt: skip
            session.add(row)
            session.flush()
            _forget_old(session)
            view = _view(row)
        self._submit(view.id)
        return view

    def look(self, job_id: int) -> MeasuringJob:
        """How far an order is; ``NotFoundError`` when there is none."""
        with self._ws.transaction() as session:
            return _view(find(session, models.MeasurementJob, job_id, "measurement"))

    def close(self) -> None:
        """Take no more; what is not measured yet waits for the next start."""
        self._threads.shutdown(wait=True, cancel_futures=True)

    def _unfinished(self) -> list[int]:
        """Orders that a stop cut short; one whose sample was kept already is over."""
        with self._ws.transaction() as session:
            rows = session.scalars(select(models.MeasurementJob).where(models.MeasurementJob.finished.is_(False))).all()
            rows = [
                row for row in rows
                if row.id not in self._waiting and not self._ws.leases.is_held(session, _lease_of(row.id))
            ]  # fmt: skip
            for row in rows:
                made = _already_kept(session, row)
                if made is not None:
                    row.finished, row.sample_id = True, made
            return [row.id for row in rows if not row.finished]

    def _run(self, job_id: int) -> None:
        try:
            if self._ws.leases.take(_lease_of(job_id), LEASE_S):
                self._measure_all(job_id)
                self._ws.leases.release(_lease_of(job_id))
        except Exception:
            log.exception("measuring job %d", job_id)
        finally:
            self._waiting.discard(job_id)

    def _measure_all(self, job_id: int) -> None:
        with self._ws.transaction() as session:
            row = find(session, models.MeasurementJob, job_id, "measurement")
            order, finished, made_by_id = row.order, row.finished, row.made_by_id
        if finished:
            return
        sample_id, error = None, None
        try:
            scale = parse_scale(order.scale, order.bar_mm)
            results = [self._measure(job_id, k, p, scale) for k, p in enumerate(order.photos)]
            if not self._ws.leases.take(_lease_of(job_id), LEASE_S):
                return  # it took so long that another server measures it
            sample_id = self._ws.again_when_overtaken(lambda: self._keep(order, results, made_by_id))
        except InputError as refusal:
            error = ErrorDocument.from_input_error(refusal)
        except (OSError, DBAPIError) as trouble:
            # A full disk, a database that is away: it is looked at again when there may be room.
            log.error("measuring job %d waits: %s", job_id, trouble)
            return
        except Exception:
            log.exception("measuring job %d", job_id)
            error = ErrorDocument(
                code="measuring-failed", message="Measuring stopped unexpectedly.",
                remedy="Try again; nothing was changed.",
            )  # fmt: skip

        def finish(session: Session) -> None:
            row = find(session, models.MeasurementJob, job_id, "measurement")
            row.finished, row.sample_id = True, sample_id
            refused = [p.error for p in row.photos if p.error is not None]
            row.error = error or (refused[0] if sample_id is None and refused else None)

        self._ws.write(finish)

    def _measure(self, job_id: int, k: int, photo: OrderedPhoto, scale: ScaleChoice) -> PhotoResult | None:
        name = photo.file_name
        self._tell(job_id, k, PhotoProgress(file_name=name, state="measuring"))
        try:
            result = self._ws.processes.run(measure_one, self._ws.files.get(photo.content_hash), scale)
        except InputError as error:
            refusal = ErrorDocument.from_input_error(error)
        except FileNotFoundError:
            refusal = ErrorDocument(
                code="photo-missing", message="The file of this photo is missing.", remedy="Send the photo again."
            )
        except OSError:
            raise  # the disk's trouble, not the photo's
        except Exception:
            # A fault of ours over one photo takes none of the others with it.
            log.exception("measuring %s of job %d", name, job_id)
            refusal = ErrorDocument(
                code="measuring-failed", message="Measuring stopped unexpectedly over this photo.",
                remedy="Take it again, or save it again as a JPEG.",
            )  # fmt: skip
        else:
            return self._tell_done(job_id, k, name, result)
        self._tell(job_id, k, PhotoProgress(file_name=name, state="refused", error=refusal))
        return None

    def _tell_done(self, job_id: int, k: int, name: str, result: PhotoResult) -> PhotoResult:
        grounds, seconds = len(result.particles.counted), round(result.seconds["total"], 2)
        self._tell(job_id, k, PhotoProgress(file_name=name, state="done", grounds=grounds, seconds=seconds))
        return result

    def _tell(self, job_id: int, k: int, progress: PhotoProgress) -> None:
        def tell(session: Session) -> None:
            row = find(session, models.MeasurementJob, job_id, "measurement")
            row.photos = [progress if i == k else p for i, p in enumerate(row.photos)]

        self._ws.write(tell)
        self._ws.leases.take(_lease_of(job_id), LEASE_S)

    def _keep(self, order: MeasurementOrder, results: list[PhotoResult | None], made_by_id: int | None) -> int | None:
        pairs = [(p, r) for p, r in zip(order.photos, results, strict=True) if r is not None]
        if not pairs:
            return None
        photos, good = [(p.file_name, p.content_hash) for p, _ in pairs], [r for _, r in pairs]
        if order.sample_id is not None:
            return add_photos(self._ws, order.sample_id, photos, good).id
        at = self._ws.at(order.counter_id).used_by(made_by_id, may_delete_all=False)
        return keep_sample(
            at, photos, good, coffee_id=order.coffee_id, grinder_id=order.grinder_id, setting=order.setting,
        ).id  # fmt: skip


def _lease_of(job_id: int) -> str:
    return f"measurement-{job_id}"


def _already_kept(session: Session, row: models.MeasurementJob) -> int | None:
    """Return the sample that a job's photos are part of, made after the job."""
    hashes = [p.content_hash for p in row.order.photos]
    found = select(models.Photo.sample_id).where(
        models.Photo.content_hash.in_(hashes), models.Photo.created_at >= row.created_at
    )
    return session.scalar(found.limit(1))


def _forget_old(session: Session) -> None:
    over = select(models.MeasurementJob.id).where(models.MeasurementJob.finished.is_(True))
    old = session.scalars(over.order_by(models.MeasurementJob.id.desc()).offset(KEPT_JOBS)).all()
    session.execute(delete(models.MeasurementJob).where(models.MeasurementJob.id.in_(old)))


def _view(row: models.MeasurementJob) -> MeasuringJob:
    return MeasuringJob(
        id=row.id, finished=row.finished, sample_id=row.sample_id, error=row.error, photos=list(row.photos)
    )
