"""Measuring in the background, photo by photo, so that the page can show how far each one is."""

from __future__ import annotations

import itertools
import threading
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import Literal

from hakari.core.errors import InputError
from hakari.core.photo.pipeline import ScaleChoice
from hakari.core.photo.result import PhotoResult
from hakari.formats.base import Document, ErrorDocument
from hakari.service.samples.measuring import measure_one
from hakari.service.samples.use_cases import add_photos, check_place, keep_sample
from hakari.service.workspace.transaction import NotFoundError, Workspace

MOST_PHOTOS = 24
KEPT_JOBS = 40
PhotoState = Literal["waiting", "measuring", "done", "refused"]


class PhotoProgress(Document):
    """How far one photo is; a refused one says why and what to do."""

    file_name: str
    state: PhotoState
    grounds: int | None = None
    seconds: float | None = None
    error: ErrorDocument | None = None


class MeasuringJob(Document):
    """Photos being measured as one sample; ``sample_id`` is there when it is finished and one photo at least was good."""

    id: int
    finished: bool
    sample_id: int | None
    error: ErrorDocument | None
    photos: list[PhotoProgress]


@dataclass
class _Job:
    id: int
    photos: list[PhotoProgress]
    finished: bool = False
    sample_id: int | None = None
    error: ErrorDocument | None = None

    def view(self) -> MeasuringJob:
        return MeasuringJob(
            id=self.id, finished=self.finished, sample_id=self.sample_id, error=self.error, photos=list(self.photos)
        )


@dataclass(frozen=True)
class Order:
    """What to measure and what is known of it; with ``sample_id`` the photos are added to that sample."""

    photos: list[tuple[str, bytes]]
    scale: ScaleChoice
    coffee_id: int | None = None
    grinder_id: int | None = None
    setting: str | None = None
    sample_id: int | None = None


class MeasurementQueue:
    """Takes orders and tells how far they are; safe to share between threads."""

    def __init__(self, ws: Workspace) -> None:
        self._ws = ws
        self._jobs: dict[int, _Job] = {}
        self._numbers = itertools.count(1)
        self._lock = threading.Lock()
        self._threads = ThreadPoolExecutor(2, thread_name_prefix="measuring")

    def start(self, order: Order) -> MeasuringJob:
        """Start measuring.

        Raises
        ------
        InputError
            ``no-photo``, ``too-many-photos``, or when the setting is not on the grinder's dial.
        """
        if not order.photos:
            raise InputError("no-photo", "No photo came with this.", "Choose one or more photos.", field="photos")
        if len(order.photos) > MOST_PHOTOS:
            raise InputError(
                "too-many-photos",
                f"{len(order.photos)} photos at once are too many.",
                f"Send up to {MOST_PHOTOS}.",
                "photos",
            )
        check_place(self._ws, order.grinder_id, order.setting)
        with self._lock:
            job = _Job(
                next(self._numbers), [PhotoProgress(file_name=n[:200], state="waiting") for n, _ in order.photos]
            )
            self._jobs[job.id] = job
            for old in [k for k, j in self._jobs.items() if j.finished][: max(0, len(self._jobs) - KEPT_JOBS)]:
                del self._jobs[old]
        self._threads.submit(self._run, job, order)
        return job.view()

    def look(self, job_id: int) -> MeasuringJob:
        """How far an order is; ``NotFoundError`` when there is none."""
        with self._lock:
            job = self._jobs.get(job_id)
        if job is None:
            raise NotFoundError("not-found", "There is no such measuring.", "Start it again.")
        return job.view()

    def _run(self, job: _Job, order: Order) -> None:
        try:
            results = [self._measure(job, k, data, order.scale) for k, (_, data) in enumerate(order.photos)]
            self._keep(job, order, results)
        except InputError as error:
            job.error = ErrorDocument.from_input_error(error)
        except Exception:
            job.error = ErrorDocument(
                code="measuring-failed",
                message="Measuring stopped unexpectedly.",
                remedy="Try again; nothing was changed.",
            )
            raise
        finally:
            job.finished = True

    def _measure(self, job: _Job, k: int, data: bytes, scale: ScaleChoice) -> PhotoResult | None:
        name = job.photos[k].file_name
        job.photos[k] = PhotoProgress(file_name=name, state="measuring")
        try:
            result = self._ws.processes.run(measure_one, data, scale)
        except InputError as error:
            refusal = ErrorDocument.from_input_error(error)
            job.photos[k] = PhotoProgress(file_name=name, state="refused", error=refusal)
            return None
        job.photos[k] = PhotoProgress(
            file_name=name,
            state="done",
            grounds=len(result.particles.counted),
            seconds=round(result.seconds["total"], 2),
        )
        return result

    def _keep(self, job: _Job, order: Order, results: list[PhotoResult | None]) -> None:
        pairs = [(p, r) for p, r in zip(order.photos, results, strict=True) if r is not None]
        if not pairs:
            job.error = job.photos[0].error
            return
        photos, good = [p for p, _ in pairs], [r for _, r in pairs]
        if order.sample_id is not None:
            detail = add_photos(self._ws, order.sample_id, photos, good)
        else:
            detail = keep_sample(
                self._ws, photos, good, coffee_id=order.coffee_id, grinder_id=order.grinder_id, setting=order.setting,
            )  # fmt: skip
        job.sample_id = detail.id
