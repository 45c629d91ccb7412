"""Measured settings and the samples behind them: corrected, deleted, restored and typed again, each in its own era."""

from __future__ import annotations

import pytest
from benchmarks.pictures.flat import Made

from hakari.core.photo.pipeline import CardScale
from hakari.formats.grinder import ClickDialDocument
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
    grinders.change_point(ws, point.id, grinders.PointChange(used=False))
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
    grinders.set_point_deleted(ws, point.id, True)
    samples.set_sample_deleted(ws, sample_id, True)
    samples.set_sample_deleted(ws, sample_id, False)
    assert grinder(ws, grinder_id).points == []


def test_the_same_setting_typed_twice_is_one_point(workspace: Workspace) -> None:
    made = grinders.add_grinder(workspace, grinders.NewGrinder(name="Arl", dial=DIAL))
    first = grinders.add_point(workspace, made.id, grinders.NewPoint(setting="8", d50_um=600))
    again = grinders.add_point(workspace, made.id, grinders.NewPoint(setting=" 8", d50_um=640))
    dark = grinders.add_point(workspace, made.id, grinders.NewPoint(setting="8", d50_um=660, roast="dark"))
    assert first.id == again.id != dark.id
    assert [(p.setting, p.d50_um) for p in dark.grinder.points] == [("8", 640), ("8", 660)]
