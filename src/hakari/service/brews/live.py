"""Running brews: one thread each reads the scale, keeps the log, sees when a step is over, and wakes the open pages.

Of several servers on one database, the one that holds the brew's lease does so; the others read what it keeps, for the
pages that are open with them, and one of them takes over when the lease runs out.
"""

from __future__ import annotations

import logging
import threading
import time

import numpy as np
from sqlalchemy import select

from hakari.core.brew.follow import BrewProgress, expected_water_g, follow
from hakari.core.brew.schedule import Plan
from hakari.core.brew.steps import Step
from hakari.core.flow.accuracy import pace_words
from hakari.core.flow.bed import Bed, make_bed
from hakari.device.source import Reading, WeightSource
from hakari.service.brews import use_cases as brews
from hakari.service.brews.live_reading import LiveReading, free_g, level_mm
from hakari.service.brews.scale_log import ScaleLog, lease_of
from hakari.service.brews.scales import open_scale
from hakari.service.brews.seen import ends_seen, level_is_down, pour_seen
from hakari.service.brews.views import BrewView, elapsed_s, follows_itself, steps_of_brew
from hakari.service.cache import Cache
from hakari.service.workspace.transaction import Workspace, find, is_overtaken
from hakari.store import models

log = logging.getLogger(__name__)
TICK_S = 0.1
AGAIN_S = 1.0  # after a failure, of the real clock
KEEP_EVERY_S, DRAIN_EVERY_S = 1.0, 1.0  # of the real clock
LEASE_S, RENEW_S = 5.0, 1.0
SHARED_EVERY_S = 0.4  # how often servers of one database tell each other, by it
QUIET_S = 0.5
FORGOTTEN_S = 3600.0
SILENT_S = 2.5


class LiveBrew:
    """One running brew in memory. Pages wait on ``changed``; each keeps its own place in ``readings``, so none is dropped."""

    def __init__(self, ws: Workspace, brew_id: int) -> None:
        self._ws, self.id = ws, brew_id
        self.changed = threading.Condition()
        self._log = ScaleLog(ws, brew_id)
        self.version = 0
        self.over = False
        self._views: Cache[BrewView] = Cache(4)
        self._lease = lease_of(brew_id)
        self._leads = self._left = False
        self._keep_at = self._drain_at = self._renew_at = self._ask_at = time.monotonic()
        self._now_step = -1
        self._keep_every_s = SHARED_EVERY_S if ws.shared else KEEP_EVERY_S
        self._load()
        self._thread = threading.Thread(target=self._run, name=f"brew-{brew_id}", daemon=True)
        self._thread.start()

    def _load(self) -> None:
        with self._ws.transaction() as session:
            row = find(session, models.Brew, self.id, "brew")
            plan = find(session, models.Plan, row.plan_id, "plan")
            document = plan.document
            self._plan: Plan = document.core()
            grind = document.grind.core()
            self._bed: Bed = make_bed(grind, self._plan.brewer, self._plan.dose_g)
            series = plan.prediction.series
            self._series = {k: np.array(v) for k, v in series.model_dump().items()}
            self._source: WeightSource | None = None
            if row.scale and row.scale.key != "file":
                self._source = open_scale(self._ws, row.scale, self._plan, grind)
        self._hear()
        self.look_again()

    def _hear(self) -> None:
        with self.changed:
            if self._log.hear():
                self.changed.notify_all()

    def look_again(self) -> None:
        """Reload the brew, after a tap or a note; wakes the pages."""
        with self._ws.transaction() as session:
            row = find(session, models.Brew, self.id, "brew")
            self._row = row
            self._steps: tuple[Step, ...] = steps_of_brew(session, row)
            self._marks, self._begun = ({m.step: m.at_s for m in told} for told in (row.marks, row.begun))
            self._connected = bool(row.scale and row.scale.connected)
            self._row_version = row.version
        self.over = row.closed_at is not None
        self.wake()

    def wake(self) -> None:
        """Tell the pages that the brew changed."""
        with self.changed:
            self.version += 1
            self.changed.notify_all()

    @property
    def elapsed(self) -> float:
        """Seconds of the brew since its first pour."""
        return elapsed_s(self._row) or 0.0

    def _run(self) -> None:
        """Follow until the brew is over; a failure (a full disk, a locked database) is logged and followed by another try."""
        while not (self.over or self._left or self._ws.closing.is_set()):
            try:
                if not self._look():
                    break
                time.sleep(TICK_S)
            except Exception as error:
                if not is_overtaken(error):
                    log.exception("following brew %d", self.id)
                time.sleep(TICK_S if is_overtaken(error) else AGAIN_S)
        try:
            self.keep()
            if self._leads:
                self._ws.leases.release(self._lease)
        except Exception:
            log.exception("keeping the last readings of brew %d", self.id)

    def _look(self) -> bool:
        """One look at scale and clock; false when nobody has come back to the brew."""
        clock = time.monotonic()
        if clock >= self._renew_at:
            self._lead_or_follow()
            self._renew_at = clock + RENEW_S
        if self._ws.shared and clock >= self._ask_at:
            self._ask_what_others_did()
            self._ask_at = clock + SHARED_EVERY_S
        elapsed = self.elapsed
        standing = self._standing(elapsed)
        if self._leads:
            standing = self._follow_scale(elapsed, clock)
        if standing.now != self._now_step:
            self._now_step = standing.now
            self.wake()
        return elapsed <= self._steps[-1].ends_s + FORGOTTEN_S * self._row.speed

    def _follow_scale(self, elapsed: float, clock: float) -> BrewProgress:
        """Read the scale, keep what it says, and note what it shows; where the brew stands then."""
        self._read(elapsed)
        standing = self._standing(elapsed)
        self._see(standing, elapsed)
        self._see_level(standing, elapsed)
        if clock >= self._keep_at:
            self.keep()
            self._keep_at = clock + self._keep_every_s
        if clock >= self._drain_at:
            self._see_drain(standing)
            self._drain_at = clock + DRAIN_EVERY_S
        if standing.now == len(self._steps) and not self.over:
            self._close()
        return standing

    def _lead_or_follow(self) -> None:
        """Take the brew's lease where it is free, or prolong it; whoever takes over goes on from what was kept."""
        led, self._leads = self._leads, self._ws.leases.take(self._lease, LEASE_S)
        if led and not self._leads:
            # What is not kept by now is the other server's to tell.
            with self.changed:
                self._log.drop_unkept()
        elif self._leads and not led:
            self._hear()
            if self._source and self.readings:
                self._source.until(self.readings[-1].t_s)

    def _ask_what_others_did(self) -> None:
        """Learn of taps and notes made with another server, and of readings where another reads the scale."""
        with self._ws.transaction() as session:
            version = session.scalar(select(models.Brew.version).where(models.Brew.id == self.id))
        if version != self._row_version:
            self.look_again()
        if not self._leads:
            self._hear()

    def _standing(self, elapsed: float) -> BrewProgress:
        return follow(self._steps, self._marks, elapsed, follows_itself(self._row), self._begun)

    def _read(self, elapsed: float) -> None:
        """Take what the scale says; while it is unplugged its readings are lost, as they would be."""
        if self._source is None:
            return
        new = self._source.until(elapsed)
        if not self._connected or not new:
            return
        with self.changed:
            self.readings.extend(new)
            self.changed.notify_all()

    def _see(self, standing: BrewProgress, elapsed: float) -> None:
        """Mark a pour that the scale shows to be over."""
        if self._source is None or self._source.standing != "brewer" or not self.readings or not self._connected:
            return
        seen = pour_seen(self._steps, standing, self._log, elapsed, self._source.lag_s)
        if seen is not None:
            self._mark(*seen)

    def _see_level(self, standing: BrewProgress, elapsed: float) -> None:
        """End a wait that the weighed cup shows to be over: the water is down as far as the next pour waits for."""
        source, now = self._source, standing.now
        weighed = source is not None and source.standing == "cup" and self._connected and bool(self.readings)
        waits = self._steps[now].waits if now < len(self._steps) and self._steps[now].kind == "wait" else None
        if source is None or not weighed or waits is None:
            return
        pour = [p for p in standing.places[:now] if p.step.kind == "pour"][-1]

        def free(t: float) -> float:
            held = expected_water_g(standing, t) - self._log.weight_at(t + source.lag_s)
            return free_g(self._plan, self._bed, t, held)

        if level_is_down(waits, free(elapsed - source.lag_s), free(pour.at_s), free(pour.ends_s)):
            self._mark(now, elapsed - source.lag_s)

    def _close(self) -> None:
        """Nobody said how the brew ended, and it must be over: it is closed without an end."""
        self.keep()
        brews.close_brew(self._ws, self.id)
        self.look_again()

    def _see_drain(self, standing: BrewProgress) -> None:
        """Where the cup is weighed, both ends of the brew are looked for once all is poured."""
        if self._source is None or self._source.standing != "cup":
            return
        for step, at in ends_seen(self._steps, self._marks, standing, self.readings, self._source.lag_s):
            self._mark(step, at)

    def _mark(self, step: int, at_s: float) -> None:
        self.keep()
        with self._ws.brewing, self._ws.transaction() as session:
            row = find(session, models.Brew, self.id, "brew")
            if row.closed_at is None and self._ws.leases.holds(session, self._lease):
                brews.mark(session, row, step, max(0.0, at_s), "scale")
        self.look_again()

    def keep(self) -> None:
        """Write the readings since the last time down, while the brew is this server's."""
        with self._ws.brewing:
            if self._source is not None and self._leads:
                self._log.keep(self._source.standing)

    @property
    def readings(self) -> list[Reading]:
        """What the scale said, in its order."""
        return self._log.readings

    def leave(self) -> None:
        """Leave the brew to another server, or to this one when it starts again."""
        self._left = True
        self._thread.join(timeout=AGAIN_S)

    def wait(self, version: int, index: int) -> tuple[int, bool]:
        """Wait for news after ``version`` and ``index`` readings, or a moment; the version now, and whether it is over."""
        with self.changed:
            self.changed.wait_for(lambda: self.version != version or len(self.readings) > index, QUIET_S)
            return self.version, self.over

    def view(self, version: int) -> BrewView:
        """Return the brew as it stands at a version, made once however many pages look, with the clock of this moment."""
        kept = self._views.get(version, lambda: brews.brew_view(self._ws, self.id))
        return kept.model_copy(update={"elapsed_s": self.elapsed}) if kept.state == "running" else kept

    def reading(self, index: int) -> LiveReading:
        """Return what a page that has heard ``index`` readings hears next."""
        elapsed = self.elapsed
        new = self.readings[index:]
        standing = self._standing(elapsed)
        cup = self._source is not None and self._source.standing == "cup"
        water = expected_water_g(standing, elapsed)
        now = standing.places[standing.now] if standing.now < len(self._steps) else None
        pouring = now is not None and now.step.kind == "pour" and elapsed >= now.at_s
        wanted = now.step.rate_g_s if now is not None and pouring else None
        rate = self._log.rate_g_s() if self._connected else None
        level, source = self._level(elapsed, water)
        return LiveReading(
            index=index, t_s=[round(r.t_s, 2) for r in new], weight_g=[r.weight_g for r in new], elapsed_s=elapsed,
            rate_g_s=rate, expected_g=self._by_plan("drink_g", elapsed) if cup else water, wanted_g_s=wanted,
            pace=pace_words(rate, wanted) if rate is not None and wanted and not cup else None, level_mm=level,
            level_from=source, silent=self._silent(elapsed),
        )  # fmt: skip

    def _silent(self, elapsed: float) -> bool:
        """Whether the scale has said nothing for a while."""
        if self._source is None or self._source.ended(elapsed):
            return False
        last = self.readings[-1].t_s if self.readings else 0.0
        return not self._connected or elapsed - last > SILENT_S * max(1.0, self._row.speed / 2)

    def _by_plan(self, name: str, elapsed: float) -> float:
        return float(np.interp(elapsed, self._series["t_s"], self._series[name]))

    def _level(self, elapsed: float, water_g: float) -> tuple[float, str]:
        weighed = self._source is not None and self._source.standing == "cup" and self._connected and self.readings
        if not weighed or self._plan.steep is not None:
            return self._by_plan("level_mm", elapsed), "by the plan"
        return level_mm(self._plan, self._bed, elapsed, water_g - self.readings[-1].weight_g), "estimated from the cup"
