"""Grinders kept: equivalences, eras, switched-off samples, files, the guide and the card."""

import csv
import io

import pytest
from PIL import Image

from hakari.core.errors import InputError
from hakari.formats.grinder import (
    ClickDialDocument,
    GrinderCollection,
    NumberDialDocument,
    RingDialDocument,
    SteplessDialDocument,
    TurnDialDocument,
)
from hakari.service.grinders import grind_guide as guide
from hakari.service.grinders import points, setting_card
from hakari.service.grinders import translation as translating
from hakari.service.grinders import use_cases as grinders
from hakari.service.workbench import use_cases as bench
from hakari.service.workspace.transaction import StaleError, Workspace


def add(ws: Workspace, name: str, dial, sizes=(), **known) -> grinders.GrinderView:
    view = grinders.add_grinder(ws, grinders.NewGrinder(name=name, dial=dial, **known))
    for setting, size in sizes:
        view = points.add_point(
            ws, view.id, points.NewPoint(setting=setting, d50_um=size, ci95_um=(0.98 * size, 1.02 * size))
        ).grinder
    return view  # fmt: skip


@pytest.fixture
def shelf(workspace: Workspace) -> Workspace:
    """All five kinds of dial; three with curves."""
    add(workspace, "Arlsmoor", ClickDialDocument(kind="clicks", maximum=60), [("14", 520.0), ("40", 1180.0)])
    add(workspace, "Brackwell", NumberDialDocument(kind="numbers", minimum=0, maximum=14),
        [("3", 500.0), ("6", 760.0), ("9", 1050.0), ("11", 1300.0)])  # fmt: skip
    add(workspace, "Corriven", TurnDialDocument(kind="turns", numbers_per_turn=10, clicks_per_number=4))
    rings = RingDialDocument(kind="rings", coarse=list("ABCDEFGHIJK"), fine=list("123456789"))
    add(workspace, "Dunmarrow", rings, [("C4", 560.0), ("f1", 900.0)])
    add(
        workspace, "Eskholme", SteplessDialDocument(kind="stepless", minimum=0, maximum=8, readable=0.05), burrs="blade"
    )
    return workspace


def named(ws: Workspace, name: str) -> grinders.GrinderView:
    return next(g for g in grinders.list_grinders(ws).grinders if g.name == name)


def d50(view: grinders.GrinderView, setting: str) -> tuple[float, float]:
    mark = next(m for m in view.marks if m.setting == setting)
    return mark.d50_um, mark.high_um / mark.low_um


def test_a_setting_on_all_dials_at_once_and_who_cannot_say(shelf: Workspace) -> None:
    found = translating.translate_ask(
        shelf, translating.Ask(grinder_id=named(shelf, "Arlsmoor").id, setting="24 clicks")
    )
    assert found.source == "Arlsmoor 24"
    assert {a.grinder_name for a in found.answers} == {"Brackwell", "Dunmarrow"}
    assert {s.grinder_name: bool(s.remedy) for s in found.silent} == {"Corriven": True, "Eskholme": True}
    assert "no curve" in next(s.message for s in found.silent if s.grinder_name == "Eskholme")
    words = translating.translate_ask(shelf, translating.Ask(words="between cone and thick paper"))
    assert len(words.answers) == 3 and 750 < words.target_um < 850
    with pytest.raises(InputError) as refusal:
        translating.translate_ask(shelf, translating.Ask(words="xyzzy"))
    assert refusal.value.code == "words-unreadable"


def test_numbers_and_steps_mean_the_grinder_in_use(shelf: Workspace) -> None:
    own = named(shelf, "Brackwell")
    bench.change_bench(shelf, bench.WorkbenchChange(grinder_id=own.id, setting="6"))

    def found(words: str) -> translating.Translations:
        return translating.translate_ask(shelf, translating.Ask(words=words))

    at = found("6")
    assert (at.source, at.grinder_id, at.setting) == ("Brackwell 6", own.id, "6")
    assert at.target_um == pytest.approx(d50(own, "6")[0], rel=0.01)
    half = found("half a number finer")
    assert half.setting == "5 1/2" and half.target_um < at.target_um and "finer than 6" in half.source
    assert found("a touch coarser than last time").target_um > at.target_um
    between = found("5-7")
    low, high = between.target_interval95_um
    assert between.setting == "6" and low < d50(own, "6")[0] < high and high / low > 1.2
    with pytest.raises(InputError) as refusal:
        found("700")
    assert "off the dial" in refusal.value.message and "700 µm" in refusal.value.remedy


def test_an_equal_gives_a_grinder_its_first_curve_and_can_be_taken_back(shelf: Workspace) -> None:
    here, there = named(shelf, "Corriven"), named(shelf, "Brackwell")
    assert here.no_curve and not here.marks
    with_equivalence = points.add_equivalence(
        shelf, here.id, points.NewSettingEquivalence(setting="1.2.0", other_id=there.id, other_setting="6")
    ).grinder
    size, width = d50(with_equivalence, "1.2.0")
    assert size == pytest.approx(d50(there, "6")[0], rel=0.03) and width > d50(there, "6")[1]
    assert named(shelf, "Brackwell").equivalences[0].other_setting == "1.2.0"
    assert d50(named(shelf, "Brackwell"), "6")[0] == pytest.approx(d50(there, "6")[0], rel=1e-6)
    points.set_equivalence_deleted(shelf, with_equivalence.equivalences[0].id, True)
    assert named(shelf, "Corriven").no_curve
    with pytest.raises(InputError) as refusal:
        points.add_equivalence(
            shelf, here.id, points.NewSettingEquivalence(setting="1.2.0", other_id=there.id, other_setting="99")
        )
    assert refusal.value.field == "other_setting"


def test_a_cleaning_keeps_the_old_curve_and_one_sample_places_the_new(shelf: Workspace) -> None:
    before = named(shelf, "Brackwell")
    logged = grinders.begin_era(shelf, before.id, grinders.NewEra(reason="cleaned"))
    assert logged.shifted and len(logged.earlier) == 1 and logged.points == [] and logged.earlier[0].points == 4
    assert d50(logged, "6")[1] > 1.3 * d50(before, "6")[1]
    moved = points.add_point(shelf, before.id, points.NewPoint(setting="6", d50_um=690.0, ci95_um=(680, 700))).grinder
    assert d50(moved, "6")[0] == pytest.approx(690, rel=0.02)
    assert d50(moved, "9")[0] == pytest.approx(975, rel=0.03)  # the whole curve went down by three quarters
    assert d50(moved, "9")[1] < d50(logged, "9")[1]
    assert next(m for m in moved.earlier[0].marks if m.setting == "6").d50_um == pytest.approx(d50(before, "6")[0])


def test_an_event_is_taken_back_only_while_nothing_was_measured_after_it(shelf: Workspace) -> None:
    grinder = named(shelf, "Arlsmoor")
    grinders.begin_era(shelf, grinder.id, grinders.NewEra(reason="new burrs"))
    exported = grinders.export_grinders(shelf, grinder.id).model_dump()
    assert exported["earlier"][0]["ended_by"] == "new burrs" and len(exported["earlier"][0]["samples"]) == 2
    with shelf.transaction() as session:
        era_id = session.get(grinders.models.Grinder, grinder.id).eras[-1].id  # type: ignore[union-attr]
    again = grinders.end_era(shelf, era_id)
    assert again.earlier == [] and len(again.points) == 2
    with pytest.raises(InputError) as refusal:
        grinders.end_era(shelf, named(shelf, "Arlsmoor").id)
    assert refusal.value.code == "era-in-use"


def test_an_odd_sample_is_flagged_and_can_be_switched_off(shelf: Workspace) -> None:
    before = named(shelf, "Brackwell")
    odd = points.add_point(shelf, before.id, points.NewPoint(setting="7 1/2", d50_um=700, ci95_um=(693, 707))).grinder
    flagged = [p for p in odd.points if p.odd]
    assert [p.setting for p in flagged] == ["7 1/2"]
    off = points.change_point(shelf, flagged[0].id, points.PointChange(used=False))
    assert d50(off, "6")[0] == pytest.approx(d50(before, "6")[0], rel=1e-6)
    assert len(off.points) == 5 and not any(p.odd for p in off.points)


def test_the_next_setting_to_measure_is_named(shelf: Workspace) -> None:
    corriven = named(shelf, "Corriven")
    told = points.add_point(
        shelf, corriven.id, points.NewPoint(setting="1.1", d50_um=600, ci95_um=(590, 610))
    ).grinder.next
    assert told is not None and told.after_percent < told.before_percent and "±" in told.words


def test_grinders_leave_and_come_back_with_everything(shelf: Workspace) -> None:
    grinder = named(shelf, "Brackwell")
    grinders.begin_era(shelf, grinder.id, grinders.NewEra(reason="moved"))
    points.add_point(shelf, grinder.id, points.NewPoint(setting="5", d50_um=690, roast="dark"))
    file = grinders.export_grinders(shelf)
    assert isinstance(file, GrinderCollection) and len(file.grinders) == 5
    brought = grinders.import_grinders(shelf, file.model_dump()).grinders
    back = grinders.list_grinders(shelf)
    twin = next(g for g in back.grinders if g.name == "Brackwell 2")
    assert twin.id in [g.id for g in brought]
    now = named(shelf, "Brackwell")
    assert d50(twin, "6") == pytest.approx(d50(now, "6")) and twin.earlier[0].points == 4
    assert {g.dial.kind for g in back.grinders} == {"clicks", "numbers", "stepless", "turns", "rings"}
    with pytest.raises(InputError) as refusal:
        grinders.import_grinders(shelf, {"name": "x", "dial": {"kind": "knob"}})
    assert refusal.value.code == "grinder-malformed" and "dial" in (refusal.value.field or "")


def test_a_dial_is_changed_only_where_its_measured_settings_stay(shelf: Workspace) -> None:
    grinder = named(shelf, "Brackwell")

    def change(maximum: int, version: int = grinder.version) -> grinders.GrinderView:
        dial = NumberDialDocument(kind="numbers", minimum=0, maximum=maximum)
        new = grinders.GrinderChange(name="Brackwell", dial=dial, version=version)
        return grinders.change_grinder(shelf, grinder.id, new)

    with pytest.raises(InputError) as refusal:
        change(8)
    assert refusal.value.code == "settings-left-off" and "9" in refusal.value.message
    assert change(20).settings[-1] == "20"
    with pytest.raises(StaleError):
        change(21)


def test_own_windows_override_the_guide_and_the_card_follows(shelf: Workspace) -> None:
    label = "flat-bottomed dripper"
    before = setting_card.read_card(shelf, [label])
    assert before.grinders == ["Arlsmoor", "Brackwell", "Dunmarrow"] and len(before.rows[0].cells) == 3
    told = guide.set_window(shelf, guide.OwnWindowEntry(label=label, low_um=900, high_um=1100))
    assert next(w for w in told.windows if w.label == label).own
    after = setting_card.read_card(shelf, [label])
    assert after.rows[0].window == "900–1100 µm" and after.rows[0].cells[1] != before.rows[0].cells[1]
    reset = guide.reset_window(shelf, label)
    assert not any(w.own for w in reset.windows)
    with pytest.raises(InputError):
        guide.set_window(shelf, guide.OwnWindowEntry(label=label, low_um=900, high_um=500))


def test_the_card_as_files(shelf: Workspace) -> None:
    rows = list(csv.DictReader(io.StringIO(setting_card.card_file(shelf, "csv").decode())))
    view = setting_card.read_card(shelf)
    assert len(rows) == len(view.rows) * 3 and rows[0]["made_on"] == view.made_on
    cells = [c.setting or "" for r in view.rows for c in r.cells]
    assert [r["setting"] for r in rows] == cells
    assert setting_card.card_file(shelf, "pdf")[:5] == b"%PDF-"
    picture = Image.open(io.BytesIO(setting_card.card_file(shelf, "png")))
    assert picture.size[0] > 2000 and len(picture.getcolors(100_000) or []) > 10
