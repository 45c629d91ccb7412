"""Open formats: round trips, malformed input, the card's drawings."""

import io
import re

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image
from pydantic import ValidationError

from hakari.core.brew.units import clock, parse_celsius, parse_number, parse_seconds
from hakari.core.errors import InputError
from hakari.core.photo.card import CARDS, ink
from hakari.core.photo.find_card import find_card
from hakari.formats import card_drawing
from hakari.formats.experiment import ExperimentDocument
from hakari.formats.experiment_result import judge
from hakari.formats.grinder import GrinderDocument
from hakari.formats.plan import GrindClasses, PlanDocument
from hakari.formats.slip import SlipDocument

GRINDER = {
    "format": "hakari.grinder/1", "name": "Arlsmoor", "burrs": "conical",
    "dial": {"kind": "clicks", "clicks_per_turn": 36, "minimum": 0, "maximum": 144, "finer": "down"},
    "samples": [{"setting": "18", "d50_um": 520, "ci95_um": [505, 536], "fines_below_100": 0.09, "span": 1.2}],
    "a newer field": 1,
}  # fmt: skip
PLAN = {
    "format": "hakari.plan/1", "grind": {"median_um": 700, "span": 1.1, "fines_below_100": 0.08},
    "brewer": {"shape": "flat", "diameter_mm": 70}, "dose_g": "17,0 g", "water_c": "200F", "roast": "light",
    "pours": [{"start_s": "0:00", "duration_s": 10, "water_g": 40}, {"start_s": "0:40", "duration_s": 20, "water_g": 240}],
}  # fmt: skip


def test_what_is_written_is_read_back() -> None:
    for kind, raw in ((GrinderDocument, GRINDER), (PlanDocument, PLAN)):
        first = kind.model_validate(raw)
        assert kind.model_validate_json(first.model_dump_json()) == first


EXPERIMENTS = {
    "triangle": {"a": "x", "b": "y", "answers": [{"order": "AAB", "named": 2}, {"right": False, "round": 1}]},
    "three-grinds": {
        "grinds": [{"setting": "18", "d50_um": 520, "time_s": "3:40"}, {"setting": "22", "d50_um": 600, "time_s": 190}],
    },
    "thirds": {"dose_g": "17 g", "cups": [{"drink_g": 80, "tds_percent": "2,1 %"}, {"drink_g": 80, "tds_percent": 0.9}]},
    "two-ways": {"a": "x", "b": "y", "pairs": [{"a": 180, "b": 190}, {"a": 182, "b": 195}]},
    "hand": {"brews": [{"time_s": "3:40"}, {"time_s": 230, "drink_g": 240}]},
    "ladder": {
        "variable": "heat", "values": [88, 91, 94],
        "cups": [{"value": v, "liked": k} for v, k in ((88, 2), (91, 4), (94, 3), (91, 5), (88, 1), (94, 3))],
    },
    "sieve": {"before_g": 20, "kept_g": 17.5, "removed_g": 2.3},
}  # fmt: skip


@pytest.mark.parametrize("kind", EXPERIMENTS)
def test_an_experiment_is_read_flat_or_nested_and_judged(kind: str) -> None:
    flat = ExperimentDocument.model_validate({"format": "hakari.experiment/1", "kind": kind, **EXPERIMENTS[kind]})
    assert ExperimentDocument.model_validate_json(flat.model_dump_json()) == flat
    result = judge(flat.experiment)
    found = [v for k, v in result if k not in ("format", "kind", "power") and v is not None]
    assert result.kind == kind and len(found) == 1


@pytest.mark.parametrize(
    "wrong",
    [
        {"kind": "triangle", "a": "x", "b": "y", "answers": [{"named": 1}]}, {"kind": "triangle", "a": "x"},
        {"kind": "ladder", "variable": "heat", "values": [88, 88, 91]},
        {"kind": "ladder", "variable": "mood", "values": [1, 2, 3]},
        {"kind": "thirds", "dose_g": 0}, {"kind": "hand", "brews": [{"time_s": -4}]}, {"kind": "other"},
    ],
)  # fmt: skip
def test_an_experiment_that_cannot_be_is_refused(wrong: dict) -> None:
    with pytest.raises(ValidationError):
        ExperimentDocument.model_validate(wrong)


def test_typed_figures_are_read() -> None:
    plan = PlanDocument.model_validate(PLAN).core()
    assert plan.dose_g == 17 and plan.water_c == pytest.approx(93.33, abs=0.01)
    assert plan.pours[1].start_s == 40 and plan.water_g == 280


def test_a_whole_grind_survives_its_document() -> None:
    grind = PlanDocument.model_validate(PLAN).grind.core()
    again = GrindClasses.of(grind).core()
    assert again.d50_um == pytest.approx(grind.d50_um, rel=1e-4)


@pytest.mark.parametrize(
    ("kind", "changes"),
    [
        (PlanDocument, {"dose_g": "some"}), (PlanDocument, {"format": "hakari.plan/2"}), (PlanDocument, {"roast": "blue"}),
        (PlanDocument, {"dose_g": float("nan")}), (GrinderDocument, {"dial": {"kind": "sundial"}}),
        (GrinderDocument, {"name": ""}),
        (PlanDocument, {"grind": {"edges_um": [1]}}),
    ],
)  # fmt: skip
def test_malformed_documents_are_refused(kind, changes) -> None:
    raw = {**(PLAN if kind is PlanDocument else GRINDER), **changes}
    with pytest.raises(ValidationError):
        kind.model_validate(raw)


def test_faults_of_meaning_name_their_field() -> None:
    with pytest.raises(InputError) as refusal:
        GrinderDocument.model_validate({**GRINDER, "samples": [{"setting": "999", "d50_um": 500}]}).core()
    assert refusal.value.field == "samples.0"
    with pytest.raises(InputError) as target:
        SlipDocument.model_validate({"plan": PLAN, "target": "perfect"}).case()
    assert target.value.code == "unknown-target"


@given(st.text(max_size=15))
def test_readers_read_or_refuse(text: str) -> None:
    for read in (parse_number, parse_celsius, parse_seconds):
        try:
            assert np.isfinite(read(text, "x"))
        except InputError as refusal:
            assert refusal.remedy and refusal.field == "x"


@given(st.integers(0, 5999))
def test_clock_round_trips(seconds: int) -> None:
    assert parse_seconds(clock(seconds), "t") == seconds


@pytest.mark.parametrize("text", ["3 1/4", "18,5", "18.5 g", "203F"])
def test_examples_people_type(text: str) -> None:
    expected = {"3 1/4": 3.25, "18,5": 18.5, "18.5 g": 18.5}
    if text.endswith("F"):
        assert parse_celsius(text, "x") == pytest.approx(95.0)
    else:
        assert parse_number(text, "x", ("g",)) == expected[text]


@pytest.mark.parametrize("paper", CARDS)
def test_the_drawn_card_is_found_as_itself(paper: str) -> None:
    picture = np.asarray(Image.open(io.BytesIO(card_drawing.png(CARDS[paper], 200))))
    found = find_card(np.repeat(np.pad(picture, 60, constant_values=255)[:, :, None], 3, axis=2))
    assert found.card.paper == paper
    assert found.scale.um_per_px == pytest.approx(127.0, rel=0.004)


def test_svg_and_pdf_hold_all_ink_at_true_size() -> None:
    card = CARDS["pocket"]
    drawn = card_drawing.svg(card).decode()
    assert drawn.count("<rect") == len(ink(card)) + 1 and 'width="85.0mm"' in drawn
    bar = next(r for r in ink(card) if r.width == 40.0)
    assert bar.y > card.well.y + card.well.height
    page = re.search(rb"/MediaBox \[ *0 0 ([\d.]+) ([\d.]+)", card_drawing.pdf(card))
    assert page and float(page[1]) == pytest.approx(85 * 72 / 25.4, abs=0.01)
    assert card_drawing.pdf(card, "a4").startswith(b"%PDF")
    with pytest.raises(InputError):
        card_drawing.pdf(card, "a9")
