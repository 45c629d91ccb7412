"""The commands that outside checks rely on: exit status, one JSON document, never a traceback."""

import json
from pathlib import Path

import pytest
from benchmarks.pictures.flat import Made

from hakari.cli.main import main
from hakari.core.photo.card import CARDS

GRINDERS = {
    "A.json": {"format": "hakari.grinder/1", "name": "A", "burrs": "conical",
               "dial": {"kind": "clicks", "clicks_per_turn": 36, "minimum": 0, "maximum": 60, "finer": "down"},
               "samples": [{"setting": "18", "d50_um": 520, "ci95_um": [505, 536]}, {"setting": "30", "d50_um": 820}]},
    "B.json": {"format": "hakari.grinder/1", "name": "B", "burrs": "flat",
               "dial": {"kind": "numbers", "minimum": 0, "maximum": 14, "parts": 4, "finer": "down"},
               "samples": [{"setting": "3", "d50_um": 480}, {"setting": "7 1/4", "d50_um": 860}]},
}  # fmt: skip
PLAN = {
    "format": "hakari.plan/1", "grind": {"edges_um": [20, 80, 320, 640, 1280], "mass_fraction": [0.06, 0.05, 0.39, 0.5]},
    "brewer": "ribbed-cone", "filter": "paper", "dose_g": 17, "water_c": 93, "roast": "light",
    "pours": [{"start_s": 0, "duration_s": 10, "water_g": 40}, {"start_s": 40, "duration_s": 20, "water_g": 80},
              {"start_when": "level-back", "duration_s": 20, "water_g": 80},
              {"start_when": "drained", "duration_s": 20, "water_g": 80}],
    "actions": [{"at_s": 12, "do": "swirl"}],
}  # fmt: skip


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    for name, document in {**GRINDERS, "plan.json": PLAN}.items():
        (tmp_path / name).write_text(json.dumps(document))
    slip = {"format": "hakari.slip/1", "plan": PLAN, "grinder": GRINDERS["A.json"], "setting": "24",
            "coffee": {"roast": "light", "days_off_roast": 9, "dense": True},
            "outcome": {"drawdown_s": 330, "last_drip_s": 360, "tds_percent": 1.56, "drink_g": 250,
                        "taste": {"bitter": 2, "drying": 1}, "bed": ["mud"]}, "target": "classical"}  # fmt: skip
    (tmp_path / "slip.json").write_text(json.dumps(slip))
    return tmp_path


def run(capsys: pytest.CaptureFixture[str], *words: object) -> tuple[int, dict]:
    status = main([str(w) for w in words])
    return status, json.loads(capsys.readouterr().out)


def test_card(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    status, card = run(capsys, "card", "--describe")
    well = CARDS["pocket"].well
    assert status == 0 and (card["width_mm"], card["height_mm"], card["check_bar_mm"]) == (85.0, 55.0, 40.0)
    assert card["well_mm"] == {"x": well.x, "y": well.y, "width": well.width, "height": well.height}
    for form in ("pdf", "svg", "png"):
        assert main(["card", "--format", form, "-o", str(tmp_path / f"card.{form}")]) == 0
        assert (tmp_path / f"card.{form}").stat().st_size > 1000


def test_measure(capsys: pytest.CaptureFixture[str], tmp_path: Path, small_picture: Made) -> None:
    photo, rows, overlay = tmp_path / "a.jpg", tmp_path / "p.csv", tmp_path / "o.png"
    photo.write_bytes(small_picture.jpeg)
    status, m = run(capsys, "measure", photo, photo, "--json", "--particles", rows, "--overlay", overlay)
    assert status == 0 and m["format"] == "hakari.measurement/1" and m["photos"] == 2
    assert m["d10_um"] < m["ci95"]["d50_um"][0] < m["d50_um"] < m["ci95"]["d50_um"][1] < m["d90_um"]
    assert m["mass_below_um"]["100"] is None and m["extrapolated"]["mass_below_um"]["100"] >= 0
    assert {f["code"] for f in m["findings"]} >= {"cut-raised"}
    assert len(rows.read_text().splitlines()) > m["particles"] and overlay.read_bytes()[:4] == b"\x89PNG"


def test_translate_predict_advise(capsys: pytest.CaptureFixture[str], folder: Path) -> None:
    status, t = run(
        capsys, "translate", "--from", folder / "A.json", "--setting", "22", "--to", folder / "B.json", "--json"
    )
    assert status == 0 and t["reachable"] and t["match"] == "median" and t["plan"] is None
    assert t["interval95_um"][0] < t["d50_um"] < t["interval95_um"][1] and len(t["neighbours"]) == 2
    both = folder / "both.json"
    both.write_text(json.dumps([GRINDERS["A.json"], GRINDERS["B.json"]]))
    names = ("--from-name", GRINDERS["A.json"]["name"], "--to-name", GRINDERS["B.json"]["name"])
    words = ("translate", "--from", both, "--setting", "22", "--to", both, *names, "--json")
    assert run(capsys, *words)[1] == t
    status, by_flow = run(capsys, *words, "--match", "flow", "--plan", folder / "plan.json")
    assert status == 0 and by_flow["match"] == "flow" and by_flow["plan"] == "the given plan"
    status, p = run(capsys, "predict", folder / "plan.json", "--json")
    assert status == 0 and not p["stalled"] and p["drawdown_s"] < p["last_drip_s"]
    assert p["ey_percent"] == pytest.approx(p["tds_percent"] * p["drink_g"] / 17)
    assert len({len(v) for k, v in p["series"].items()}) == 1
    status, a = run(capsys, "advise", folder / "slip.json", "--json")
    first = a["moves"][0]
    assert status == 0 and (first["kind"], first["direction"], first["from"]) == ("grind", "coarser", "24")
    assert int(first["to"]) > 24 and first["before"]["drawdown_s"] == 330


@pytest.mark.parametrize(
    ("words", "code"),
    [
        (["measure", "text.jpg", "--json"], "not-a-picture"), (["measure", "gone.jpg", "--json"], "file-unreadable"),
        (["measure", "text.jpg", "--scale", "banana", "--json"], "scale-unreadable"),
        (["translate", "--from", "A.json", "--setting", "900", "--to", "B.json", "--json"], "setting-off-dial"),
        (["translate", "--from", "both.json", "--setting", "2", "--to", "B.json", "--json"], "file-unreadable"),
        (["translate", "--from", "text.jpg", "--setting", "2", "--to", "B.json", "--json"], "not-json"),
        (["predict", "negative.json", "--json"], "dose-not-positive"), (["predict", "A.json", "--json"], "format-mismatch"),
        (["advise", "plan.json", "--json"], "format-mismatch"),
    ],
)  # fmt: skip
def test_refusals(capsys, monkeypatch, folder: Path, words: list[str], code: str) -> None:
    (folder / "text.jpg").write_text("this is no picture")
    (folder / "negative.json").write_text(json.dumps({**PLAN, "dose_g": -3}))
    monkeypatch.chdir(folder)
    before = sorted(folder.iterdir())
    status, error = run(capsys, *words)
    assert (status, error["code"]) == (3, code) and error["message"] and error["remedy"]
    assert sorted(folder.iterdir()) == before


def test_wrong_usage_is_two() -> None:
    with pytest.raises(SystemExit) as leaving:
        main(["measure"])
    assert leaving.value.code == 2


def test_experiment(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    path = tmp_path / "triangle.json"
    answers = [{"order": "ABA", "named": 1}] * 8 + [{"order": "BBA", "named": 0}] * 4
    triangle = {"format": "hakari.experiment/1", "kind": "triangle", "a": "cone", "b": "flat", "rounds": 12}
    path.write_text(json.dumps(triangle | {"name": "Cone against flat", "answers": answers}))
    status, result = run(capsys, "experiment", path, "--json")
    assert status == 0 and result["format"] == "hakari.experiment-result/1" and result["kind"] == "triangle"
    assert result["triangle"]["rights"] == 8 and result["triangle"]["told_apart"]
    assert result["triangle"]["p_value"] == pytest.approx(0.0188, abs=5e-5)  # the table's figure for 8 of 12
    assert result["power"]["rights_needed"] == 8
    assert main(["experiment", str(path)]) == 0
    assert "8 of 12 right; by guessing alone this or more comes 1.9 % of the time" in capsys.readouterr().out
    path.write_text(json.dumps(triangle | {"kind": "seance"}))
    status, refused = run(capsys, "experiment", path, "--json")
    assert status == 3 and refused["code"] == "format-mismatch"
