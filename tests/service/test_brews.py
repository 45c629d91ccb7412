"""A brew on the server's clock: taps, the weighed dose, the scale's stream, drop-outs, logs, and the fit from it."""

import threading
import time
from datetime import UTC, datetime, timedelta

import pytest

from hakari.core.errors import InputError
from hakari.core.flow.simulate import simulate_flow
from hakari.device.practice_scale import PRACTICE_KITCHEN, PracticeScale
from hakari.formats.brew_log import read_log
from hakari.formats.recipe import Recipe
from hakari.formats.slip import OutcomeDocument
from hakari.service.backups.housekeeping import merge_logs
from hakari.service.brews import logs as brew_logs
from hakari.service.brews import use_cases as brews
from hakari.service.brews.desk import BrewDesk
from hakari.service.brews.live_reading import LiveReading
from hakari.service.brews.views import BrewView
from hakari.service.fits import use_cases as fits
from hakari.service.plans import use_cases as plans
from hakari.service.slips import use_cases as slips
from hakari.service.workbench import use_cases as bench
from hakari.service.workspace.transaction import Workspace, find
from hakari.store import models


@pytest.fixture
def ready(workspace: Workspace) -> Workspace:
    """A plan on the bench: the usual grind, a cone, staged pours."""
    plans.save_plan(workspace, Recipe(dose_g=17, ratio=16.5))
    return workspace


def go_on(ws: Workspace, brew_id: int, seconds: float) -> BrewView:
    """Let the brew's clock have run on."""
    with ws.transaction() as session:
        row = find(session, models.Brew, brew_id, "brew")
        assert row.started_at is not None
        row.started_at -= timedelta(seconds=seconds)
    return brews.brew_view(ws, brew_id)


def tap(ws: Workspace, view: BrewView, what: str = "done", step: int | None = None) -> BrewView:
    return brews.tap_brew(ws, view.id, brews.BrewTap(what=what, step=step))


def by_hand(ws: Workspace, bare_s: float) -> BrewView:
    """A whole brew by taps, its bed bare at a time."""
    view = brews.start_brew(ws, brews.StartBrew())
    go_on(ws, view.id, bare_s)
    tap(ws, view, "bare-bed")
    go_on(ws, view.id, 30)
    return tap(ws, view, "last-drip")


def test_the_clock_is_the_servers_and_steps_follow_it(ready: Workspace) -> None:
    view = brews.start_brew(ready, brews.StartBrew())
    assert view.state == "running" and view.now == 0 and view.elapsed_s is not None and view.elapsed_s < 1
    view = go_on(ready, view.id, 9)
    view = tap(ready, view, step=0)
    assert view.steps[0].done_s == pytest.approx(9, abs=1) and view.steps[0].by == "tap"
    assert tap(ready, view, step=0).steps[0].done_s == view.steps[0].done_s  # a second tap changes nothing
    ahead = next(i for i, s in enumerate(view.steps) if s.kind == "pour" and i > 0)
    # A pour may begin half a minute early: it lasts as long as planned, and the pours after it keep their time.
    planned = view.steps[ahead]
    begun = tap(ready, view, "begin", step=ahead)
    assert begun.now == ahead and begun.steps[ahead].at_s == pytest.approx(9, abs=1) and planned.at_s > 30
    assert begun.steps[ahead].ends_s - begun.steps[ahead].at_s == pytest.approx(planned.ends_s - planned.at_s)
    assert [s.at_s for s in begun.steps[ahead + 1 :]] == [s.at_s for s in view.steps[ahead + 1 :]]
    assert tap(ready, view, "undo").steps[ahead].at_s == planned.at_s
    bare = tap(ready, go_on(ready, view.id, 180), "bare-bed")
    assert bare.bare_bed_s == pytest.approx(189, abs=1) and bare.bare_bed_by == "tap"
    assert tap(ready, bare, "undo").bare_bed_s is None
    end = tap(ready, go_on(ready, view.id, 30), "last-drip")
    # Of the two ends only the last drip was seen: the bare bed divides the drain as it does by the prediction.
    p = plans.plan_view(ready, end.plan_id).prediction
    poured_by = max(s.ends_s for s in end.steps if s.kind == "pour")
    share = (p.drawdown_s - poured_by) / (p.last_drip_s - poured_by)
    assert end.state == "done" and end.bare_bed_by == "drip" and end.last_drip_s is not None and end.found is not None
    assert end.bare_bed_s == pytest.approx(poured_by + share * (end.last_drip_s - poured_by), abs=2)
    assert end.found.pours_from == "taps" and end.flows_like is not None and end.flows_like.median_um is not None
    with pytest.raises(InputError):
        tap(ready, end)
    assert tap(ready, end, "undo").state == "running"


def test_a_brew_that_was_left_can_go_on_or_be_closed(ready: Workspace) -> None:
    view = go_on(ready, brews.start_brew(ready, brews.StartBrew()).id, 3000)
    assert view.left_running and view.state == "running"
    closed = brews.close_brew(ready, view.id)
    assert closed.state == "done" and closed.bare_bed_s is None and not closed.left_running
    assert bench.read_bench(ready).brew is not None


def test_the_weighed_dose_rescales_what_follows(ready: Workspace) -> None:
    view = brews.start_brew(ready, brews.StartBrew())
    view = tap(ready, go_on(ready, view.id, 10), step=0)
    bloom = view.steps[0].total_g
    weighed = brews.weigh_dose(ready, view.id, brews.WeighedDose(dose_g="17,6 g"))
    assert weighed.dose_g == 17.6 and weighed.steps[0].total_g == bloom
    assert weighed.water_g == pytest.approx(280 * 17.6 / 17, abs=1)
    with pytest.raises(InputError):
        brews.weigh_dose(ready, view.id, brews.WeighedDose(dose_g=40))
    go_on(ready, view.id, 190)
    tap(ready, view, "last-drip")
    slip = slips.save_slip(ready, slips.NewSlip(outcome=OutcomeDocument(tds_percent=1.4, drink_g=245, drawdown_s=200)))
    assert slip.document.plan.dose_g == 17.6 and slip.ey_percent == pytest.approx(1.4 * 245 / 17.6)


def test_notes_are_taken_back_and_become_signs_of_the_bed(ready: Workspace) -> None:
    view = brews.start_brew(ready, brews.StartBrew())
    for what in ("lively-bloom", "mud", "channelled"):
        view = brews.note_brew(ready, view.id, brews.BrewNoteChange(what=what))
    view = brews.note_brew(ready, view.id, brews.BrewNoteChange(what="channelled", on=False))
    assert [n.what for n in view.notes] == ["lively-bloom", "mud"]
    shown = bench.read_bench(ready).brew
    assert shown is not None and shown.bed == ["mud"]
    assert tap(ready, view, "stalled").stalled
    assert not tap(ready, view, "undo").stalled


def listened(ready: Workspace, desk: BrewDesk, brew_id: int, index: int = 0) -> tuple[list[float], list[BrewView]]:
    """What a page hears until the brew is over."""
    times: list[float] = []
    views: list[BrewView] = []
    for told in desk.listen(brew_id, index):
        if isinstance(told.body, LiveReading):
            assert told.body.index == index + len(times)
            times += told.body.t_s
        else:
            views.append(told.body)
    return times, views


def test_a_page_that_opens_late_hears_the_clock_of_that_moment(ready: Workspace) -> None:
    desk = BrewDesk(ready)
    view = desk.changed(brews.start_brew(ready, brews.StartBrew()))
    first = next(iter(desk.listen(view.id, 0))).body
    time.sleep(0.5)
    late = next(iter(desk.listen(view.id, 0))).body
    assert isinstance(first, BrewView) and isinstance(late, BrewView) and first.version == late.version
    assert first.elapsed_s is not None and late.elapsed_s is not None and late.elapsed_s - first.elapsed_s >= 0.5
    brews.close_brew(ready, view.id)


def test_a_whole_brew_on_the_practice_scale_is_heard_whole_by_all_pages(ready: Workspace) -> None:
    desk = BrewDesk(ready)
    view = desk.changed(brews.start_brew(ready, brews.StartBrew(scale="practice-cup", speed=20)))
    heard: dict[int, tuple[list[float], list[BrewView]]] = {}

    def page(k: int) -> None:
        heard[k] = listened(ready, desk, view.id)

    pages = [threading.Thread(target=page, args=(k,)) for k in range(5)]
    for p in pages:
        p.start()
    for p in pages:
        p.join(40)
    times, views = heard[0]
    assert len(times) > 1500 and times == sorted(times) and all(h[0] == times for h in heard.values())
    end = views[-1]
    assert end.state == "done" and end.bare_bed_by == "scale"
    with ready.transaction() as session:
        plan = plans.PlanDocument.model_validate(find(session, models.Plan, end.plan_id, "plan").document)
    truth = PracticeScale(plan.core(), plan.grind.core(), "cup", end.id).truth
    assert end.bare_bed_s == pytest.approx(truth.bare_bed_s, abs=2)
    log, events = read_log(brew_logs.log_csv(ready, end.id))
    assert log.t_s == times and {what for _, what in events} >= {"drain over, by scale", "last-drip over, by scale"}
    slip = slips.save_slip(ready, slips.NewSlip(outcome=OutcomeDocument(drawdown_s=end.bare_bed_s)))
    assert slip.document.brew is not None and slip.document.brew.log.t_s == times and slip.document.brew.simulated
    # It is kept once, with the brew.
    with ready.transaction() as session:
        kept = find(session, models.Slip, slip.id, "slip").document.brew
        assert kept is not None and kept.log.t_s == []
    # Once the brew is over its seconds become one row, and nothing of them is lost.
    before = brew_logs.log_csv(ready, end.id)
    assert merge_logs(ready) == 0 and merge_logs(ready, datetime.now(UTC) + timedelta(hours=3)) == 1
    assert brew_logs.log_csv(ready, end.id) == before
    with ready.transaction() as session:
        assert len(find(session, models.Brew, end.id, "brew").parts) == 1


def test_an_unplugged_scale_leaves_the_brew_to_the_hand_and_a_restart_goes_on(ready: Workspace) -> None:
    desk = BrewDesk(ready)
    view = desk.changed(brews.start_brew(ready, brews.StartBrew(scale="practice-brewer", speed=20)))
    live = desk.follow(view.id)
    while live.elapsed < 30:
        live.wait(-1, len(live.readings))
    assert live.readings and brews.brew_view(ready, view.id).steps[0].by == "scale"
    desk.changed(brews.set_scale(ready, view.id, False))
    known = len(live.readings)
    while live.elapsed < 70:
        live.wait(live.version, 10**9)
    assert len(live.readings) == known and live.reading(known).silent
    tapped = desk.changed(tap(ready, view, step=brews.brew_view(ready, view.id).now))
    assert tapped.state == "running"
    desk.keep_log(view.id)
    again = BrewDesk(ready)  # as after a restart: what was kept is there, and the clock has not stopped
    taken_up = again.follow(view.id)
    assert len(taken_up.readings) == known and taken_up.elapsed >= 70
    for d in (desk, again):
        d.changed(brews.close_brew(ready, view.id))


def test_a_log_from_elsewhere_is_read_for_what_happened(ready: Workspace) -> None:
    with ready.transaction() as session:
        plan = plans.PlanDocument.model_validate(find(session, models.Plan, 1, "plan").document)
    flow = simulate_flow(plan.core(), plan.grind.core(), PRACTICE_KITCHEN, 0.1)
    rows = [f"{t:.1f};{p:.2f};{d:.2f}".replace(".", ",") for t, p, d in zip(
        flow.t_s[::5], flow.poured_g[::5], flow.drink_g[::5], strict=True)]  # fmt: skip
    view = brew_logs.import_log(ready, "time_s;poured_g;drink_g\n" + "\n".join(rows))
    assert view.bare_bed_s == pytest.approx(flow.bare_bed_s, abs=2) and view.found is not None
    assert view.found.pours_from == "scale" and view.accuracy is not None and view.accuracy.typical_over_g < 1
    with pytest.raises(InputError, match="Row 3"):
        brew_logs.import_log(ready, "time_s,drink_g\n0,0\n1,many\n")
    with pytest.raises(InputError):
        brews.start_brew(ready, brews.StartBrew(scale="replay"))
    with pytest.raises(InputError):
        brews.start_brew(ready, brews.StartBrew(speed=10))


def test_predictions_rest_on_brews_which_can_be_left_out(ready: Workspace) -> None:
    before = plans.preview_plan(ready, Recipe(dose_g=17, ratio=16.5)).prediction
    for seconds in (240, 246, 238):
        view = by_hand(ready, seconds)
    after = plans.preview_plan(ready, Recipe(dose_g=17, ratio=16.5)).prediction
    assert (before.fitted_on_brews, after.fitted_on_brews) == (0, 3)
    assert abs(after.drawdown_s - 241) < 0.4 * abs(before.drawdown_s - 241)
    assert after.half_width95["drawdown_s"] < before.half_width95["drawdown_s"]
    shown = fits.fit_view(ready)
    assert shown.counted == 3 and shown.hand is not None and shown.hand.repeats == 2
    assert 2 < shown.hand.sd_s < 8 and len(shown.rows) == 3
    brews.note_brew(ready, view.id, brews.BrewNoteChange(what="spilt"))
    assert fits.fit_view(ready).counted == 2
    reset = fits.use_brews(ready, fits.FitUse(brew_ids=[b.brew_id for b in shown.brews], counts=False))
    assert reset.counted == 0 and all(b.why_not for b in reset.brews)
    assert plans.preview_plan(ready, Recipe(dose_g=17, ratio=16.5)).prediction.drawdown_s == before.drawdown_s
    elsewhere = plans.preview_plan(ready, Recipe(dose_g=17, ratio=16.5, brewer="flat-bottom")).prediction
    assert elsewhere.fitted_on_brews == 0


def test_a_brew_ends_with_its_press_and_its_dilution(ready: Workspace) -> None:
    plans.save_plan(ready, Recipe(dose_g=18, brewer="plunger-tube", school="concentrate"))
    view = brews.start_brew(ready, brews.StartBrew(scale="practice-brewer"))
    assert [s.kind for s in view.steps][-2:] == ["press", "add"]
    press = len(view.steps) - 2
    view = tap(ready, go_on(ready, view.id, view.steps[press].ends_s), step=press)
    assert view.state == "running" and view.bare_bed_s is not None and view.now == press + 1
    assert tap(ready, view, step=press + 1).state == "done"
