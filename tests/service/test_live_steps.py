"""Steps of a followed brew go on without a tap: by weight, by time; on a clock of the test's own, in every drip style."""

from __future__ import annotations

import threading
from datetime import UTC, datetime, timedelta

import numpy as np
import pytest

from hakari.core.brew.styles import STYLES
from hakari.device.practice_scale import PracticeScale
from hakari.device.source import Reading
from hakari.formats.recipe import Recipe
from hakari.service.brews import live as following
from hakari.service.brews import use_cases as brews
from hakari.service.brews.logs import import_log
from hakari.service.coffees import use_cases as coffees
from hakari.service.fits import use_cases as fits
from hakari.service.plans import use_cases as plans
from hakari.service.workbench import use_cases as bench
from hakari.service.workspace.transaction import Workspace, find
from hakari.store import models

DRIPS = [s.name for s in STYLES.values() if "ribbed-cone" in s.brewers]


class _Followed(following.LiveBrew):
    """A brew whose clock the test turns."""

    now_s = 0.0

    @property
    def elapsed(self) -> float:
        return self.now_s

    def run(self, until_s: float, step_s: float = 0.4) -> None:
        kept = drained = self.now_s
        for t in np.arange(self.now_s, until_s, step_s):
            self.now_s = float(t)
            # What is done now and then by the machine's clock is done by this one.
            if t >= kept + following.KEEP_EVERY_S:
                self._keep_at, kept = 0.0, t
            if t >= drained + following.DRAIN_EVERY_S:
                self._drain_at, drained = 0.0, t
            if self.over or not self._look():
                return


@pytest.fixture
def still(monkeypatch: pytest.MonkeyPatch) -> None:
    """Nothing follows by itself: the test does."""
    monkeypatch.setattr(threading.Thread, "start", lambda self: None)


def followed(ws: Workspace, style: str, scale: str = "practice-brewer") -> _Followed:
    plans.save_plan(ws, Recipe(dose_g=17, ratio=16, school=style))
    view = brews.start_brew(ws, brews.StartBrew(scale=scale))
    return _Followed(ws, view.id)


@pytest.mark.parametrize("scale", ["practice-brewer", "practice-cup"])
@pytest.mark.parametrize("style", DRIPS)
def test_every_style_comes_to_its_end_without_a_tap(workspace: Workspace, still: None, style: str, scale: str) -> None:
    live = followed(workspace, style, scale)
    assert live._source is not None
    live.run(1800)
    view = brews.brew_view(workspace, live.id)
    assert view.state == "done"
    truth = live._source.truth  # type: ignore[attr-defined]
    if scale == "practice-brewer":
        poured = [p for p in live._standing(live.now_s).places if p.step.kind == "pour"]
        # Each pour was seen to end within a few seconds of when the hand really set the kettle down.
        ends = [s + p.duration_s for s, p in zip(truth.pour_starts_s, live._source.poured_plan.pours, strict=True)]  # type: ignore[attr-defined]
        seen = [p.done_s for p in poured if p.done_s is not None]
        assert np.median(np.abs(np.array(seen) - ends)) < 6
    else:
        assert view.bare_bed_s == pytest.approx(truth.bare_bed_s, abs=8) and view.bare_bed_by == "scale"


def test_a_scale_that_sees_less_than_was_planned_does_not_stop_the_brew(workspace: Workspace, still: None) -> None:
    live = followed(workspace, "split")
    source = live._source
    assert isinstance(source, PracticeScale)
    read = source.until
    # A tenth of the water goes beside the scale, and it drifts downwards.
    source.until = lambda t: [Reading(r.t_s, 0.9 * r.weight_g - 0.004 * r.t_s) for r in read(t)]  # type: ignore[method-assign]
    live.run(1800)
    view = brews.brew_view(workspace, live.id)
    assert view.state == "done"
    assert sum(s.by == "scale" for s in view.steps if s.kind == "pour") >= 2


def test_a_failed_write_does_not_end_the_following(
    workspace: Workspace, still: None, caplog: pytest.LogCaptureFixture
) -> None:
    live = followed(workspace, "staged")
    keep, failures = live.keep, []

    def full_disk() -> None:
        failures.append(1)
        if len(failures) < 3:
            raise OSError(28, "No space left on device")
        live.over = True
        keep()

    live.keep = full_disk  # type: ignore[method-assign]
    following.AGAIN_S, before = 0.01, following.AGAIN_S
    live.now_s = 30.0
    live._run()
    following.AGAIN_S = before
    assert len(failures) >= 3 and "following brew" in caplog.text and live._log._kept > 100


def test_practice_forgotten_and_impossible_brews_teach_nothing(workspace: Workspace, still: None) -> None:
    coffee = bench.add_coffee(workspace, coffees.NewCoffee(name="Lot", bag_g=250))
    bench.change_bench(workspace, bench.WorkbenchChange(coffee_id=coffee.id))
    practised = followed(workspace, "staged", "practice-cup")
    practised.run(1800)

    def by_taps(bare_s: float, pour_s: float) -> int:
        view = brews.start_brew(workspace, brews.StartBrew())

        def at(seconds: float) -> None:
            with workspace.transaction() as session:
                find(session, models.Brew, view.id, "brew").started_at = datetime.now(UTC) - timedelta(seconds=seconds)

        at(pour_s)
        brews.tap_brew(workspace, view.id, brews.BrewTap(what="done", step=0))
        at(bare_s)
        brews.tap_brew(workspace, view.id, brews.BrewTap(what="bare-bed"))
        at(bare_s + 20)
        brews.tap_brew(workspace, view.id, brews.BrewTap(what="last-drip"))
        return view.id

    good, forgotten, quick = by_taps(200, 10), by_taps(900, 10), by_taps(205, 1.0)
    views = {k: brews.brew_view(workspace, k) for k in (practised.id, good, forgotten, quick)}
    assert views[good].doubts == []
    assert "practice" in views[practised.id].doubts[0] and "long after" in views[forgotten].doubts[0]
    assert "g/s" in views[quick].doubts[0]
    counted = {b.brew_id: b.why_not for b in fits.fit_view(workspace).brews}
    assert [counted[k] is None for k in (practised.id, good, forgotten, quick)] == [False, True, False, False]
    left = coffees.list_coffees(workspace).coffees[0].grams_left
    assert left == pytest.approx(250 - 3 * 17)  # practice uses no coffee


def test_a_log_counts_from_its_first_pour(workspace: Workspace) -> None:
    plans.save_plan(workspace, Recipe(dose_g=17, ratio=16))
    t = np.round(np.arange(0, 260, 0.5), 2)

    def log(lead_s: float) -> str:
        poured = np.interp(t - lead_s, [0, 10, 45, 65, 95, 115], [0, 50, 50, 160, 160, 272])
        drink = np.interp(t - lead_s, [20, 60, 120, 190, 200], [0, 40, 150, 232, 236])
        return "time_s,poured_g,drink_g\n" + "\n".join(
            f"{a},{b:.1f},{c:.1f}" for a, b, c in zip(t, poured, drink, strict=True)
        )

    at_once, late = import_log(workspace, log(0)), import_log(workspace, log(15))
    assert at_once.bare_bed_s is not None and late.bare_bed_s == pytest.approx(at_once.bare_bed_s, abs=1)
    assert late.last_drip_s == pytest.approx(at_once.last_drip_s, abs=1)
    assert late.found is not None and late.found.pours[0].start_s == pytest.approx(0, abs=0.6)
