"""Counters: two devices with their own bench, a photo that comes to the bench it was sent from, and a counter that goes."""

from __future__ import annotations

import io
import time

from benchmarks.pictures.flat import Made
from flask.testing import FlaskClient

from hakari.web.app import HakariApp


def bench(device: FlaskClient) -> dict:
    return device.get("/api/workbenches/current").json


def names(device: FlaskClient) -> list[tuple[str, bool]]:
    return [(c["name"], c["here"]) for c in device.get("/api/counters").json["counters"]]


def test_two_counters_do_not_change_each_others_bench(app: HakariApp, small_picture: Made) -> None:
    bar, hatch = app.test_client(), app.test_client()
    assert names(bar) == names(hatch) == [("bar", True)]
    bar.patch("/api/workbenches/current", json={"units": {"mass": "oz", "temperature": "F"}})
    made = bar.post("/api/counters", json={"name": "hatch"})
    assert made.status_code == 201 and made.json["here"] is False
    chosen = hatch.put("/api/counters/current", json={"id": made.json["id"]})
    assert [c["here"] for c in chosen.json["counters"]] == [False, True]
    assert "HttpOnly" in chosen.headers["Set-Cookie"] and "SameSite=Strict" in chosen.headers["Set-Cookie"]
    assert bench(hatch)["units"] == {"mass": "oz", "temperature": "F"}  # as where it was made

    for device, coffee, dose in ((bar, "Lot 12", 17), (hatch, "Lot 30", 20)):
        assert device.post("/api/coffees", json={"name": coffee, "roast": "light"}).status_code == 201
        assert device.post("/api/plans", json={"dose_g": dose}).status_code == 201
        assert device.post("/api/brews", json={"scale": "none"}).status_code == 201
    assert [(bench(d)["coffee"]["name"], bench(d)["plan"]["dose_g"]) for d in (bar, hatch)] == [
        ("Lot 12", 17),
        ("Lot 30", 20),
    ]
    assert len({bench(d)["brew"]["id"] for d in (bar, hatch)}) == 2 and all(
        bench(d)["brew"]["running"] for d in (bar, hatch)
    )

    # A photo is measured in the background, and still comes to the bench it was sent from.
    photo = {"photos": [(io.BytesIO(small_picture.jpeg), "a.jpg")], "scale": "card"}
    job = hatch.post("/api/measurements", data=photo).json["id"]
    ends = time.monotonic() + 60
    while not hatch.get(f"/api/measurements/{job}").json["finished"]:
        assert time.monotonic() < ends
        time.sleep(0.1)
    assert bench(bar)["sample"] is None and bench(hatch)["sample"] is not None
    assert len(bar.get("/api/samples").json["samples"]) == 1  # measurements are shared


def test_a_deleted_counter_sends_its_devices_to_the_first_one(app: HakariApp) -> None:
    bar, hatch = app.test_client(), app.test_client()
    refused = bar.delete("/api/counters/1")
    assert refused.status_code == 422 and refused.json["code"] == "last-counter"
    made = bar.post("/api/counters", json={"name": " the   hatch "}).json
    hatch.put("/api/counters/current", json={"id": made["id"]})
    hatch.post("/api/plans", json={"dose_g": 20})
    for name in ("The hatch", "  "):
        taken = bar.post("/api/counters", json={"name": name})
        assert taken.status_code == 422 and taken.json["remedy"]
    now = {c["id"]: c["version"] for c in bar.get("/api/counters").json["counters"]}[made["id"]]
    change = {"name": "terrace", "version": now}
    assert [bar.patch(f"/api/counters/{made['id']}", json=change).status_code for _ in range(2)] == [200, 409]
    assert bar.delete(f"/api/counters/{made['id']}").status_code == 204
    assert names(hatch) == [("bar", True)] and bench(hatch)["plan"] is None
    assert bar.post(f"/api/counters/{made['id']}/restore", json={}).status_code == 200
    assert names(hatch) == [("bar", False), ("terrace", True)] and bench(hatch)["plan"]["dose_g"] == 20
    # Whatever a cookie says, there is a bench.
    for odd in ("99", "-1", "x", "9" * 40):
        stranger = app.test_client()
        stranger.set_cookie("hakari_counter", odd)
        assert names(stranger) == [("bar", True), ("terrace", False)]
