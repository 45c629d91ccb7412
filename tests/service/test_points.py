"""Measured settings and the samples behind them: corrected, deleted, restored and typed again, each in its own era."""

from __future__ import annotations

import pytest
from benchmarks.pictures.flat import Made

from hakari.core.photo.pipeline import CardScale
from hakari.formats.grinder import ClickDialDocument
from hakari.service.grinders import points
from hakari.service.grinders import use_cases as grinders
from hakari.service.grinders.views import GrinderView
from hakari.service.samples import corrections
from hakari.service.samples import use_cases as samples
from hakari.service.workspace.transaction import Workspace

DIAL = ClickDialDocument(kind="clicks", minimum=0, maximum=40)


@pytest.fixture
def measured(workspace: Workspace, small_picture: Made) -> tuple[Workspace, int, int]:
    """A grinder with one measured sample at 20."""
    grinder = grinders.add_grinder(workspace, grinders.NewGrinder(name="Arl", dial=DIAL))
    sample = samples.add_sample(
        workspace, [("a.jpg", small_picture.jpeg)], CardScale(), grinder_id=grinder.id, setting="20"
    )
    return workspace, grinder.id, sample.id


def grinder(ws: Workspace, grinder_id: int) -> GrinderView:
    return next(g for g in grinders.list_grinders(ws).grinders if g.id == grinder_id)


def test_correcting_an_old_sample_changes_its_point_in_its_own_era(measured: tuple[Workspace, int, int]) -> None:
    ws, grinder_id, sample_id = measured
    point = grinder(ws, grinder_id).points[0]
    points.change_point(ws, point.id, points.PointChange(used=False))
    grinders.begin_era(ws, grinder_id, grinders.NewEra(reason="cleaned"))
    coarsest = samples.outlines(ws, sample_id, 0)
    largest = sorted(range(len(coarsest.number)), key=lambda i: -coarsest.diameter_um[i])[:40]
    corrections.correct(ws, sample_id, "exclude", 0, [coarsest.number[i] for i in largest], [])
    now = grinder(ws, grinder_id)
    assert now.points == [] and now.earlier[-1].points == 1
    document = grinders.export_grinders(ws, grinder_id)
    (kept,) = document.earlier[0].samples  # type: ignore[union-attr]
    assert not kept.used and kept.d50_um < point.d50_um
    assert kept.d50_um == pytest.approx(samples.sample_detail(ws, sample_id).d50_um)


def test_a_deleted_point_stays_deleted_when_its_sample_is_restored(measured: tuple[Workspace, int, int]) -> None:
    ws, grinder_id, sample_id = measured
    samples.set_sample_deleted(ws, sample_id, True)
    assert grinder(ws, grinder_id).points == []
    samples.set_sample_deleted(ws, sample_id, False)
    (point,) = grinder(ws, grinder_id).points
    points.set_point_deleted(ws, point.id, True)
    samples.set_sample_deleted(ws, sample_id, True)
    samples.set_sample_deleted(ws, sample_id, False)
    assert grinder(ws, grinder_id).points == []


def test_the_same_setting_typed_twice_is_one_point(workspace: Workspace) -> None:
    made = grinders.add_grinder(workspace, grinders.NewGrinder(name="Arl", dial=DIAL))
    first = points.add_point(workspace, made.id, points.NewPoint(setting="8", d50_um=600))
    again = points.add_point(workspace, made.id, points.NewPoint(setting=" 8", d50_um=640))
    dark = points.add_point(workspace, made.id, points.NewPoint(setting="8", d50_um=660, roast="dark"))
    assert first.id == again.id != dark.id
    assert [(p.setting, p.d50_um) for p in dark.grinder.points] == [("8", 640), ("8", 660)]


def test_a_habit_is_a_weak_point_that_one_photo_overrules(workspace: Workspace, small_picture: Made) -> None:
    ws = workspace
    g = grinders.add_grinder(ws, grinders.NewGrinder(name="Arl", dial=DIAL))
    assert g.marks == [] and g.no_curve
    added = points.add_habit(ws, g.id, points.NewHabit(words="about 30 for the cone"))
    marks = {m.setting: m for m in added.grinder.marks}
    low, high = marks["30"].low_um, marks["30"].high_um
    assert low < 600 and high > 850 and 650 < marks["30"].d50_um < 780
    # Said again for the same setting, it is corrected.
    again = points.add_habit(ws, g.id, points.NewHabit(words="30 for the press pot, long and coarse"))
    assert again.id == added.id and len(again.grinder.points) == 1 and again.grinder.points[0].d50_um > 900
    # A photo of another size at that setting decides.
    samples.add_sample(ws, [("a.jpg", small_picture.jpeg)], CardScale(), grinder_id=g.id, setting="30")
    measured_um = next(p for p in grinder(ws, g.id).points if p.basis == "photo").d50_um
    now = next(m for m in grinder(ws, g.id).marks if m.setting == "30").d50_um
    assert abs(now / measured_um - 1) < 0.06
    kept = grinders.export_grinders(ws, g.id)
    back = grinders.import_grinders(ws, kept.model_dump(mode="json"))
    assert {p.basis for p in grinder(ws, back.grinders[0].id).points} == {p.basis for p in grinder(ws, g.id).points}
