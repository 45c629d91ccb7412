"""Practice over HTTP: hidden orders that nothing gives away, what was noted, winners on the bench, drills and pours."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import pytest
from flask.testing import FlaskClient

from hakari.core.experiment.blind import odd_cup
from hakari.formats.experiment import Triangle
from hakari.service.backups.archive import export_workspace
from hakari.service.backups.importing import import_workspace
from hakari.service.experiments.blind_rounds import hidden_round
from hakari.service.workspace.transaction import Workspace
from hakari.store import models
from hakari.web.app import HakariApp, attach, create_app


@pytest.fixture
def client(routes: HakariApp, shop: Workspace) -> Iterator[FlaskClient]:
    attach(routes, shop)
    routes.extensions["drill_questions"].rng = np.random.default_rng(4)
    with routes.test_client() as c:
        yield c


def begin(client: FlaskClient, experiment: dict[str, Any], **more: Any) -> dict[str, Any]:
    answer = client.post("/api/experiments", json={"name": "Trial", "experiment": experiment, **more})
    assert answer.status_code == 201, answer.text
    return dict(answer.json)


def secrets_of(ws: Workspace, identity: int) -> tuple[str, str]:
    """The seed and the order of the next round, from the row itself."""
    with ws.transaction() as session:
        row = session.get(models.Experiment, identity)
        assert row is not None and row.blind_seed is not None
        hidden = hidden_round(row)
        assert hidden is not None
        return row.blind_seed, hidden.order


def everything_said(client: FlaskClient, ws: Workspace, identity: int) -> str:
    """All that can be read of an experiment without opening its pouring sheet."""
    address = f"/api/experiments/{identity}"
    said = [
        client.get(p).text for p in ("/api/experiments", address, f"{address}/paper/json", "/api/experiment-proposals")
    ]
    out = io.BytesIO()
    export_workspace(ws, out)
    with zipfile.ZipFile(out) as archive:
        said += [archive.read(n).decode() for n in archive.namelist() if n.endswith((".json", ".csv"))]
    return "\n".join(said)


def test_a_hidden_order_is_read_nowhere_before_it_is_answered(client: FlaskClient, shop: Workspace) -> None:
    e = begin(client, {"kind": "triangle", "a": "cone", "b": "flat", "rounds": 6})
    for number in range(6):
        seed, order = secrets_of(shop, e["id"])
        said = everything_said(client, shop, e["id"])
        answered = [a["order"] for a in client.get(f"/api/experiments/{e['id']}").json["experiment"]["answers"]]
        assert len(answered) == 2 * number
        assert seed not in said and (order not in said or order in answered)
        assert "blind_seed" not in said
        named = [{"taster": t, "named": k} for t, k in (("one", number % 3), ("two", 0))]
        e = client.post(f"/api/experiments/{e['id']}/rounds", json={"number": number, "named": named}).json
        assert e["experiment"]["answers"][-1]["order"] == order
    assert e["round"] is None and e["result"]["triangle"]["rounds"] == 12
    again = client.post(f"/api/experiments/{e['id']}/rounds", json={"number": 6, "named": [{"named": 1}]})
    assert again.status_code == 422 and again.json["code"] == "nothing-to-pour"
    # More rounds can be added, and none that was tasted goes.
    fewer = {**e["experiment"], "rounds": 2}
    assert client.patch(f"/api/experiments/{e['id']}", json={"experiment": fewer}).json["experiment"]["rounds"] == 6
    more = {**e["experiment"], "rounds": 9}
    assert client.patch(f"/api/experiments/{e['id']}", json={"experiment": more}).json["round"]["number"] == 6


def test_codes_say_nothing_of_what_is_in_the_cups() -> None:
    """Over many rounds the odd cup has the smallest, the middle and the largest code equally often."""
    places = []
    for seed in range(600):
        row = models.Experiment(document=Triangle(a="A", b="B"), blind_seed=f"{seed:x}", alone=False)
        hidden = hidden_round(row)
        assert hidden is not None
        places.append(sorted(hidden.codes).index(hidden.codes[odd_cup(hidden.order)]))
    assert all(160 < places.count(k) < 240 for k in range(3))  # 200 ± 3.5 standard deviations


def test_the_pouring_sheet_is_for_the_one_who_pours_and_is_noted(client: FlaskClient, shop: Workspace) -> None:
    e = begin(client, {"kind": "sieve", "rounds": 3, "before_g": 20, "kept_g": 17.5, "removed_g": 2.2})
    assert e["sheets_opened"] == 0 and e["result"]["sieve"]["removed_share"] == pytest.approx(0.11)
    sheet = client.post(f"/api/experiments/{e['id']}/pouring-sheets", json={})
    assert sheet.status_code == 201
    _, order = secrets_of(shop, e["id"])
    names = {"A": "sieved", "B": "not sieved"}
    assert [c["holds"] for c in sheet.json["cups"]] == [names[k] for k in order]
    assert [c["code"] for c in sheet.json["cups"]] == e["round"]["codes"]
    after = client.get(f"/api/experiments/{e['id']}").json
    assert after["sheets_opened"] == 1 and after["round"]["sheet_opened"]
    assert client.post(f"/api/experiments/{e['id']}/rounds", json={"number": 0, "named": [{}]}).status_code == 422
    twice = {"number": 0, "named": [{"taster": "x", "named": 1}, {"taster": "x", "named": 2}]}
    assert client.post(f"/api/experiments/{e['id']}/rounds", json=twice).json["code"] == "taster-twice"
    assert (
        client.post(f"/api/experiments/{e['id']}/rounds", json={"number": 2, "named": [{"named": 1}]}).status_code
        == 422
    )


def test_a_back_up_brings_answers_but_no_hidden_order(client: FlaskClient, shop: Workspace, tmp_path: Path) -> None:
    e = begin(client, {"kind": "triangle", "a": "cone", "b": "flat", "rounds": 4})
    client.post(f"/api/experiments/{e['id']}/rounds", json={"number": 0, "named": [{"named": 1}]})
    seed, _ = secrets_of(shop, e["id"])
    out = io.BytesIO()
    export_workspace(shop, out)
    other = Workspace(tmp_path / "other", measuring_processes=0)
    import_workspace(other, io.BytesIO(out.getvalue()))
    with create_app(other).test_client() as there:
        found = there.get("/api/experiments").json["experiments"]
        detail = there.get(f"/api/experiments/{found[0]['id']}").json
        assert len(detail["experiment"]["answers"]) == 1 and detail["round"]["number"] == 1
        assert secrets_of(other, found[0]["id"])[0] != seed
    other.close()


@pytest.mark.same_on_any_database
def test_alone_the_cups_are_shuffled_by_hand(client: FlaskClient) -> None:
    e = begin(client, {"kind": "triangle", "a": "cone", "b": "flat", "rounds": 3}, alone=True)
    assert e["round"] is None
    address = f"/api/experiments/{e['id']}/rounds"
    assert client.post(address, json={"number": 0, "named": [{"named": 1}]}).json["code"] == "answers-missing"
    done = client.post(address, json={"number": 0, "named": [{"right": True}]}).json
    assert done["result"]["triangle"]["rights"] == 1
    assert client.post(f"/api/experiments/{e['id']}/pouring-sheets", json={}).json["code"] == "nothing-to-pour"


def test_three_grinds_go_from_the_proposal_to_the_bench(client: FlaskClient) -> None:
    proposed = client.get("/api/experiment-proposals").json
    three = proposed["three_grinds"]
    sizes = [g["d50_um"] for g in three["grinds"]]
    assert sizes == sorted(sizes) and np.diff(np.log(sizes)) == pytest.approx([0.13, 0.13], abs=0.05)
    times = [g["predicted_s"] for g in three["grinds"]]
    assert times == sorted(times, reverse=True)  # finer runs slower
    e = begin(client, three)
    # Times that a law of −2 gives: found must be −2, whatever was predicted.
    for g in three["grinds"]:
        g |= {"time_s": 200 * (sizes[1] / g["d50_um"]) ** 2, "taste": {"sweet": 1}}
    three["liked"] = three["grinds"][0]["setting"]
    noted = client.patch(f"/api/experiments/{e['id']}", json={"version": e["version"], "experiment": three})
    result = noted.json["result"]["three_grinds"]
    assert result["time_per_size_found"] == pytest.approx(-2, abs=0.01) and result["liked"] == three["liked"]
    stale = client.patch(f"/api/experiments/{e['id']}", json={"version": e["version"], "finished": True})
    assert stale.status_code == 409
    assert client.patch(f"/api/experiments/{e['id']}", json={"finished": True}).json["finished"]
    bench = client.post(f"/api/experiments/{e['id']}/winner", json={"choice": three["liked"]}).json
    assert bench["grinder"]["setting"] == three["liked"]
    plan = client.get(f"/api/plans/{bench['plan']['id']}").json
    assert plan["grind"]["setting"] == three["liked"]
    assert client.post(f"/api/experiments/{e['id']}/winner", json={"choice": "99"}).json["code"] == "no-such-choice"
    kind = client.patch(f"/api/experiments/{e['id']}", json={"experiment": {"kind": "hand"}})
    assert kind.json["code"] == "other-kind"
    assert client.delete(f"/api/experiments/{e['id']}").status_code == 204
    assert client.get(f"/api/experiments/{e['id']}").status_code == 404
    assert client.post(f"/api/experiments/{e['id']}/restore").status_code == 200


def test_a_ladder_is_tasted_by_codes_and_its_step_goes_into_the_plan(client: FlaskClient, shop: Workspace) -> None:
    ladder = next(x for x in client.get("/api/experiment-proposals").json["ladders"] if x["variable"] == "heat")
    ladder["rounds"] = 2
    e = begin(client, ladder)
    best = sorted(ladder["values"])[len(ladder["values"]) // 2]
    for number in range(2):
        with shop.transaction() as session:
            row = session.get(models.Experiment, e["id"])
            assert row is not None
            hidden = hidden_round(row)
            assert hidden is not None
        assert len(e["round"]["codes"]) == len(ladder["values"])
        liked = [5 - min(4, round(abs(float(v) - best) / 3)) for v in hidden.holds]
        e = client.post(f"/api/experiments/{e['id']}/rounds", json={"number": number, "liked": liked}).json
    result = e["result"]["ladder"]
    assert result["best"] == best and result["decided"]
    bench = client.post(f"/api/experiments/{e['id']}/winner", json={"choice": f"{best:g}"}).json
    assert bench["plan"]["recipe"]["water_c"] == best


@pytest.mark.same_on_any_database
@pytest.mark.parametrize(
    ("brewer", "school", "dose_g", "ladders"),
    [
        ("press-pot", "long-steep", 31, {"heat", "dilution", "time", "stir"}),
        ("cold-jar", "cold-steep", 60, {"dilution", "time", "stir"}),
        ("drip-tower", "cold-drip", 60, {"dilution"}), ("flat-bottom", "staged", 17, {"heat", "dilution"}),
    ],
)  # fmt: skip
def test_every_kind_of_plan_can_be_tried(
    client: FlaskClient, brewer: str, school: str, dose_g: float, ladders: set[str]
) -> None:
    made = client.post("/api/plans", json={"dose_g": dose_g, "brewer": brewer, "school": school})
    assert made.status_code == 201, made.text
    proposed = client.get("/api/experiment-proposals").json
    assert {x["variable"] for x in proposed["ladders"]} >= ladders
    assert (proposed["thirds"] is None) == any(n["kind"] == "thirds" for n in proposed["not_possible"])
    for ladder in proposed["ladders"]:
        e = begin(client, ladder)
        choice = e["can_go_to_bench"][-1]
        assert client.post(f"/api/experiments/{e['id']}/winner", json={"choice": choice}).status_code == 200


@pytest.mark.same_on_any_database
def test_thirds_two_ways_and_the_hand_are_noted_and_printed(client: FlaskClient) -> None:
    thirds = client.get("/api/experiment-proposals").json["thirds"]
    cups = [{"drink_g": 80, "tds_percent": t} for t in ("2,6", 0.9, 0.4)]
    e = begin(client, {**thirds, "cups": cups})
    found = e["result"]["thirds"]["found"]
    assert [round(p["share_percent"], 1) for p in found] == [66.7, 23.1, 10.3]  # 2.08, 0.72 and 0.32 g
    assert found[-1]["mixed_tds_percent"] == pytest.approx(1.3) and len(e["result"]["thirds"]["predicted"]) == 3
    ways = begin(client, {"kind": "two-ways", "a": "cone", "b": "flat", "quantity": "time", "worth": 10})
    assert ways["next_order"] in ("AB", "BA")
    pairs = [{"order": "AB", "a": 180 + k, "b": 200 + k % 2} for k in range(5)]
    done = client.patch(
        f"/api/experiments/{ways['id']}", json={"experiment": {**ways["experiment"], "pairs": pairs}}
    ).json
    assert done["result"]["two_ways"]["verdict"] == "different"
    hand = begin(client, {"kind": "hand", "brews": [{"time_s": "3:00"}, {"time_s": 190}, {"time_s": 185}]})
    assert hand["result"]["hand"]["time_s"]["sd"] == pytest.approx(5)
    for identity in (e["id"], ways["id"], hand["id"]):
        assert client.get(f"/api/experiments/{identity}/paper/pdf").data.startswith(b"%PDF")
        document = json.loads(client.get(f"/api/experiments/{identity}/paper/json").data)
        assert document["format"] == "hakari.experiment/1"


@pytest.mark.same_on_any_database
def test_the_spread_of_ones_own_hand_reaches_the_cup(client: FlaskClient) -> None:
    """What a change is expected to do is as uncertain as the newest repeats of the user say."""

    def half_width_s() -> float:
        cup = client.post("/api/cups/preview", json={"outcome": {"drawdown_s": 300, "taste": {"bitter": 2}}})
        assert cup.status_code == 200, cup.text
        return float(next(m for m in cup.json["advice"]["moves"] if m["kind"] == "grind")["half_width95"]["drawdown_s"])

    with_the_demos_hand = half_width_s()
    begin(client, {"kind": "hand", "brews": [{"time_s": t} for t in (150, 230, 310, 390)]})
    begin(client, {"kind": "hand", "brews": [{"time_s": 200}]})  # too few to say anything
    assert half_width_s() > 3 * with_the_demos_hand


def ask(client: FlaskClient, drill: str) -> dict[str, Any]:
    answer = client.post("/api/drill-questions", json={"drill": drill})
    assert answer.status_code == 201, answer.text
    return dict(answer.json)


@pytest.mark.same_on_any_database
def test_of_two_pictures_the_larger_grounds_are_the_coarser_ones(client: FlaskClient) -> None:
    """The picture itself is asked: dark areas of the two, by their mean chord, an independent measure of size."""
    agreed = 0
    for _ in range(8):
        q = ask(client, "finer")
        chords = []
        for side in (0, 1):
            data = client.get(f"/api/drill-questions/{q['id']}/pictures/{side}").data
            grey = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_GRAYSCALE)
            _, dark = cv2.threshold(grey, 0, 1, cv2.THRESH_BINARY_INV | cv2.THRESH_OTSU)
            chords.append(dark.sum() / max(1, (np.diff(dark.astype(int), axis=1) == 1).sum()))
        guess = "left" if chords[0] < chords[1] else "right"
        verdict = client.post(f"/api/drill-questions/{q['id']}/answers", json={"answer": guess}).json
        agreed += verdict["well"]
        assert verdict["off_percent"] > 0
        assert client.post(f"/api/drill-questions/{q['id']}/answers", json={"answer": guess}).status_code == 404
        client.delete("/api/drills/finer")  # so that the pairs stay as far apart as the first
    assert agreed >= 6
    assert "right" not in json.dumps({**q, "options": []})


def test_a_threshold_is_said_after_enough_pairs(client: FlaskClient, shop: Workspace) -> None:
    with shop.transaction() as session:
        for k in range(30):
            session.add(
                models.DrillAnswer(drill="finer", item="pair", value=1, truth=[0.05, 0.2][k % 2], well=bool(k % 2))
            )
    found = next(d for d in client.get("/api/drills").json["drills"] if d["drill"] == "finer")["threshold"]
    assert 8 < found["percent"] < 25 and found["ci95_percent"][0] < found["percent"] < found["ci95_percent"][1]


def test_words_dials_sizes_and_pours_are_asked_when_due(client: FlaskClient) -> None:
    rights = {"sour": "extract-more", "bitter": "extract-less", "weak": "stronger", "strong": "weaker",
              "papery": "rinse-paper"}  # fmt: skip
    seen: set[str] = set()
    for _ in range(14):
        q = ask(client, "words")
        assert q["word"] not in seen and len(set(q["options"])) == 4  # nothing comes twice before all were asked
        seen.add(q["word"])
        choice = rights.get(q["word"], q["options"][0])
        verdict = client.post(f"/api/drill-questions/{q['id']}/answers", json={"answer": choice}).json
        assert verdict["well"] == (verdict["right"] == choice) and (q["word"] not in rights or verdict["well"])
    dial = ask(client, "dial")["dial"]
    assert dial["task"] in ("read", "set", "step", "finer") and len(dial["settings"]) > 2
    size = ask(client, "size")
    while size["sample_id"] is None:  # a shipped picture
        assert client.get(f"/api/drill-questions/{size['id']}/pictures/0").data.startswith(b"\xff\xd8")
        assert (
            client.post(f"/api/drill-questions/{size['id']}/answers", json={"answer": "650"}).json["off_percent"]
            is not None
        )
        size = ask(client, "size")
    truth = client.get(f"/api/samples/{size['sample_id']}").json["d50_um"]
    wrong = client.post(f"/api/drill-questions/{size['id']}/answers", json={"answer": "big"})
    assert wrong.status_code == 422 and wrong.json["field"] == "answer"
    said = client.post(f"/api/drill-questions/{size['id']}/answers", json={"answer": f"{1.3 * truth:.1f} µm"}).json
    assert said["off_percent"] == pytest.approx(30, abs=0.2) and not said["well"]


@pytest.mark.same_on_any_database
def test_a_pour_is_scored_from_the_kettle_and_from_a_log(client: FlaskClient) -> None:
    curves = {c["name"]: c for c in client.get("/api/pour-curves").json["curves"]}
    assert {"steady", "plan"} <= set(curves)
    assert curves["plan"]["points"][-1][1] == pytest.approx(
        client.get("/api/workbenches/current").json["plan"]["water_g"], abs=1
    )
    t = np.arange(0, 30.1, 0.2)
    even = {"curve": "steady", "readings": np.column_stack([t, 5 * t]).tolist()}
    scored = client.post("/api/pours", json=even).json
    assert scored["score"] == 100
    one = scored["accuracy"]["pours"][0]  # judged as the pours of a brew are
    assert one["rate_g_s"] == pytest.approx(5, abs=0.3) and one["over_g"] == pytest.approx(0, abs=3)
    log = "time_s,poured_g\n" + "\n".join(f"{7 + s:.1f},{40 + 5 * s:.1f}" for s in t)
    from_log = client.post("/api/pours", json={"curve": "steady", "log": log})
    assert from_log.status_code == 201 and from_log.json["score"] >= 97, from_log.text
    nothing = client.post("/api/pours", json={"curve": "steady", "readings": [[0, 0]]})
    assert nothing.status_code == 422 and nothing.json["code"] == "too-few-readings"
    pour = next(d for d in client.get("/api/drills").json["drills"] if d["drill"] == "pour")
    assert pour["answers"] == 2 and client.delete("/api/drills/pour").json["answers"] == 0
