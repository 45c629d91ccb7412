"""All running brews, and the stream that each open page hears of one."""

from __future__ import annotations

import logging
import threading
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from sqlalchemy import select

from hakari.service.brews.live import FORGOTTEN_S, LiveBrew
from hakari.service.brews.live_reading import LiveReading
from hakari.service.brews.scale_log import lease_of
from hakari.service.brews.views import BrewView
from hakari.service.workspace.transaction import NotFoundError, Workspace, find
from hakari.store import models

log = logging.getLogger(__name__)
TAKE_OVER_EVERY_S = 2.0


@dataclass(frozen=True)
class StreamEvent:
    """One message of the stream: its name, and what it says."""

    event: str
    body: BrewView | LiveReading


class BrewDesk:
    """All running brews, each once, however many pages look at it."""

    def __init__(self, ws: Workspace) -> None:
        self._ws = ws
        self._live: dict[int, LiveBrew] = {}
        self._lock = threading.Lock()
        if ws.shared:
            threading.Thread(target=self._take_over_what_is_left, name="brew-desk", daemon=True).start()

    def _take_over_what_is_left(self) -> None:
        """Follow brews whose server is gone, also where no page asks for them."""
        while not self._ws.closing.wait(TAKE_OVER_EVERY_S):
            try:
                for brew_id in self._left_alone():
                    self.follow(brew_id)
            except Exception:
                log.exception("looking for brews that were left")

    def _left_alone(self) -> list[int]:
        """Return running brews of this hour that no server has a lease of."""
        since = datetime.now(UTC) - timedelta(seconds=FORGOTTEN_S)
        running = select(models.Brew.id).where(
            models.Brew.closed_at.is_(None), models.Brew.deleted_at.is_(None), models.Brew.started_at > since
        )
        with self._ws.transaction() as session:
            ids = session.scalars(running).all()
            return [i for i in ids if not self._ws.leases.is_held(session, lease_of(i))]

    def close(self) -> None:
        """Leave all brews, so that another server takes them over at once."""
        with self._lock:
            for live in self._live.values():
                live.leave()

    def follow(self, brew_id: int) -> LiveBrew:
        """Return the running brew; set going again when the server was restarted. ``NotFoundError`` when there is none."""
        with self._lock:
            live = self._live.get(brew_id)
            if live is None or (live.over and self._runs(brew_id)):
                live = self._live[brew_id] = LiveBrew(self._ws, brew_id)
                for old in [k for k, b in self._live.items() if b.over and k != brew_id]:
                    del self._live[old]
            return live

    def _runs(self, brew_id: int) -> bool:
        with self._ws.transaction() as session:
            return find(session, models.Brew, brew_id, "brew").closed_at is None

    def changed(self, view: BrewView) -> BrewView:
        """Tell whoever follows a brew that it was changed; a running one is followed from its start."""
        with self._lock:
            live = self._live.get(view.id)
        if live is not None and not (live.over and view.state == "running"):
            live.look_again()
        elif view.state == "running":
            self.follow(view.id)
        return view

    def let_go(self, brew_id: int) -> None:
        """Follow a brew no longer that was discarded; its pages hear that it is over."""
        with self._lock:
            live = self._live.pop(brew_id, None)
        if live is not None:
            live.leave()
            live.wake()

    def keep_log(self, brew_id: int | None) -> None:
        """Have everything that was read of a brew written down."""
        with self._lock:
            live = self._live.get(brew_id) if brew_id is not None else None
        if live is not None:
            live.keep()

    def listen(self, brew_id: int, index: int) -> Iterator[StreamEvent]:
        """Return the stream of one page: the brew whenever it changed, and every reading from ``index`` on, in order.

        Ends when the brew is over and all was told.
        """
        live = self.follow(brew_id)
        version = -1
        while True:
            before, (version, over) = version, live.wait(version, index)
            if version != before:
                try:
                    view = live.view(version)
                except NotFoundError:
                    return
                yield StreamEvent("brew", view)
            reading = live.reading(index)
            index += len(reading.t_s)
            yield StreamEvent("reading", reading)
            if over and len(live.readings) <= index:
                return
