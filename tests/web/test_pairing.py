"""Devices beyond the serving computer: let in by a code, over real HTTP on a second address of this machine."""

from __future__ import annotations

import gzip
import http.client
import io
import json
import re
import ssl
import threading
import time
import urllib.parse
import zipfile
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path

import pytest
from werkzeug.serving import make_server
from zeroconf import AddressResolverIPv4, IPVersion, Zeroconf

from hakari.core.errors import InputError
from hakari.service.devices.pairing_codes import (
    MOST_TRIES,
    PAUSE_S,
    SYMBOLS,
    VALID_S,
    GuessedTooOftenError,
    PairingCodes,
)
from hakari.service.workspace.shared import Shared
from hakari.service.workspace.transaction import Workspace
from hakari.web.addresses import serving_at
from hakari.web.app import create_app
from hakari.web.local_name import SERVICE, LocalName
from processes import done, free_port, started

OTHER = "127.0.0.2"  # an address of this machine that is not its own loopback name


@dataclass
class Answer:
    status: int
    headers: http.client.HTTPMessage
    data: bytes

    @property
    def text(self) -> str:
        return self.data.decode()

    def json(self) -> dict:
        return dict(json.loads(self.text))


@dataclass
class Client:
    """Speaks HTTP to one address and keeps a device's cookie."""

    port: int
    address: str = OTHER
    cookies: dict[str, str] = field(default_factory=dict)

    def __call__(self, method: str, path: str, body: str | None = None, **headers: str) -> Answer:
        connection = http.client.HTTPConnection(self.address, self.port, timeout=20)
        if self.cookies:
            headers["Cookie"] = "; ".join(f"{k}={v}" for k, v in self.cookies.items())
        connection.request(method, path, body, {k.replace("_", "-"): v for k, v in headers.items()})
        answer = connection.getresponse()
        for cookie in answer.headers.get_all("Set-Cookie") or []:
            name, value = cookie.split(";")[0].split("=", 1)
            self.cookies[name] = value
        return Answer(answer.status, answer.headers, answer.read())

    def post(self, path: str, data: dict) -> Answer:
        return self("POST", path, json.dumps(data), Content_Type="application/json")

    def pair(self, code: str) -> Answer:
        form = urllib.parse.urlencode({"code": code, "name": "Counter phone"})
        return self("POST", "/pair", form, Content_Type="application/x-www-form-urlencoded")


@pytest.fixture
def port(tmp_path: Path, shared: Shared) -> Iterator[int]:
    free = free_port()
    words = ("serve", "--port", str(free), "--data", str(tmp_path / "data"), "--host", OTHER)
    with started(*words, HAKARI_DATABASE=shared.database or "") as server:
        said = server.lines(2)
        assert said[0] == f"Hakari serves at http://127.0.0.1:{free}"
        assert said[1] == f"Other devices: http://{OTHER}:{free}"
        server.wait_for(f"http://127.0.0.1:{free}")
        yield free


def code_of(port: int, role: str = "barista") -> str:
    made = Client(port, "127.0.0.1").post("/api/pairing-codes", {"role": role})
    assert made.status == 201 and made.json()["url"].startswith(f"http://{OTHER}:{port}/pair?code=")
    assert made.json()["qr_svg"].lstrip().startswith("<?xml") and made.json()["valid_s"] == 120
    return str(made.json()["code"])


def test_a_device_comes_in_by_a_code_and_goes_out_when_revoked(port: int, tmp_path: Path) -> None:
    phone, here = Client(port), Client(port, "127.0.0.1")
    # Without a token: the pairing page and nothing else.
    assert (phone("GET", "/").status, phone("GET", "/").headers["Location"]) == (303, "/pair")
    assert phone("GET", "/assets/anything.js").status == 303
    for path in ("/api/devices", "/api/samples", "/api/openapi.json", "/api/archives/latest.zip"):
        refused = phone("GET", path)
        assert refused.status == 401 and refused.json()["code"] == "not-let-in"
    assert phone.post("/api/pairing-codes", {}).status == 401
    form = phone("GET", "/pair?code=%22%3E%3Cscript%3E")
    assert form.status == 200 and "<script" not in form.text and "Let this device in" in form.text
    # A wrong code is refused beside its field; a right one is used up, whatever its spaces and case.
    assert phone.pair("AAAA BBBB").status == 403 and not phone.cookies
    code = code_of(port, role="manager")
    came_in = phone.pair(f" {code.lower()} ")
    cookie = came_in.headers["Set-Cookie"]
    assert came_in.status == 303 and "HttpOnly" in cookie and "SameSite=Strict" in cookie and "Max-Age=" in cookie
    assert phone("GET", "/api/devices").status == 200 and phone("GET", "/").status == 200
    assert Client(port).pair(code).status == 403
    # What is large goes packed over the network, and as it is on this computer.
    packed = phone("GET", "/api/openapi.json", Accept_Encoding="gzip")
    plain = here("GET", "/api/openapi.json", Accept_Encoding="gzip")
    assert packed.headers["Content-Encoding"] == "gzip" and plain.headers["Content-Encoding"] is None
    assert gzip.decompress(packed.data) == plain.data and len(packed.data) < len(plain.data) / 4
    # A manager's device may let others in; what is kept is not the token.
    other = Client(port)
    assert other.pair(str(phone.post("/api/pairing-codes", {}).json()["code"])).status == 303
    listed = here("GET", "/api/devices").json()
    assert [d["name"] for d in listed["devices"]] == ["Counter phone"] * 2 and listed["this_computer"]
    assert all(d["last_used_at"] for d in listed["devices"][:1]) and listed["urls"] == [f"http://{OTHER}:{port}"]
    token = phone.cookies["hakari_device"]
    kept = b"".join(p.read_bytes() for p in (tmp_path / "data").rglob("*") if p.is_file())
    assert token.encode() not in kept
    # Revoked, it is outside again, and the other one stays.
    assert here("DELETE", f"/api/devices/{listed['devices'][0]['id']}").status == 204
    assert phone("GET", "/api/devices").status == 401 and other("GET", "/api/devices").status == 200
    assert len(here("GET", "/api/devices").json()["devices"]) == 1


@pytest.mark.same_on_any_database
def test_foreign_names_pages_and_guesses_are_refused(port: int) -> None:
    phone, here = Client(port), Client(port, "127.0.0.1")
    assert phone("GET", "/pair", Host="evil.example").status == 400
    # The loopback name does not help whoever is not on this computer, nor does a proxy on it.
    assert here("GET", "/api/devices", Host=f"{OTHER}:{port}").status == 401
    for sign in ("X-Forwarded-For", "X-Forwarded-Host", "X-Forwarded-Proto", "Forwarded", "Via", "X-Real-IP"):
        assert here("GET", "/api/devices", **{sign: "203.0.113.9"}).status == 401, sign
    form = "code=AAAABBBB&name=x"
    cross = phone("POST", "/pair", form, Content_Type="application/x-www-form-urlencoded", Origin="http://evil.example")
    assert cross.status == 403 and cross.json()["code"] == "foreign-origin"
    code = code_of(port)
    statuses = [phone.pair("AAAA BBBB").status for _ in range(MOST_TRIES)]
    assert statuses == [403] * MOST_TRIES
    assert phone.pair(code).status == 429  # even the right one has to wait
    # A back-up does not carry who is let in.
    with zipfile.ZipFile(io.BytesIO(here("GET", "/api/archives/latest.zip").data)) as archive:
        assert "rows/bench.jsonl" in archive.namelist() and "rows/device.jsonl" not in archive.namelist()
        assert all(b"token_hash" not in archive.read(n) for n in archive.namelist())


@pytest.mark.same_on_any_database
def test_a_link_opens_a_station_for_who_is_in_and_the_running_brew_alone_for_a_display(port: int) -> None:
    phone, here = Client(port), Client(port, "127.0.0.1")
    # Who is not in yet comes to the station after the code; nobody is sent elsewhere.
    link = here("GET", "/api/stations/brew/link").json()
    assert link["url"] == f"http://{OTHER}:{port}/brew" and "<svg" in link["qr_svg"]
    assert phone("GET", "/brew").headers["Location"] == "/pair?next=%2Fbrew"
    form = urllib.parse.urlencode({"code": code_of(port, "manager"), "name": "Phone", "next": "//evil.example"})
    assert phone("POST", "/pair", form, Content_Type="application/x-www-form-urlencoded").headers["Location"] == "/"
    assert phone("GET", "/pair?code=AAAA&next=/brew").headers["Location"] == "/brew"
    assert phone("GET", "/api/devices/current").json() == {"name": "Phone", "role": "manager"}

    made = phone.post("/api/guest-links", {})
    address = urllib.parse.urlsplit(made.json()["url"])
    tablet = Client(port)
    assert tablet("GET", f"{address.path}?key=guessed").status == 403 and not tablet.cookies
    opened = tablet("GET", f"{address.path}?{address.query}")
    assert opened.status == 200 and "url=/brew" in opened.text and "HttpOnly" in opened.headers["Set-Cookie"]
    assert tablet("GET", "/api/devices/current").json() == {"name": "Brew display", "role": "display"}
    nothing = tablet("GET", "/api/brews/displayed").json()
    assert (nothing["brew_id"], nothing["plan_id"]) == (None, None) and tablet("GET", "/brew").status == 200
    # It sees the brew that runs at its counter, and its plan; no other, nor the same when it is over.
    here.post("/api/plans", {})
    earlier = here.post("/api/brews", {}).json()["id"]
    assert here.post(f"/api/brews/{earlier}/close", {}).status == 200
    begun = here.post("/api/brews", {}).json()
    brew, plan = begun["id"], begun["plan_id"]
    assert tablet("GET", "/api/brews/displayed").json()["brew_id"] == brew
    assert tablet("GET", f"/api/brews/{brew}").status == 200 and tablet("GET", f"/api/plans/{plan}").status == 200
    assert tablet("GET", f"/api/brews/{earlier}").status == 403
    assert here.post(f"/api/brews/{brew}/close", {}).status == 200
    assert tablet("GET", f"/api/brews/{brew}").status == 403 and tablet("GET", f"/api/plans/{plan}").status == 403
    for method, path in (
        ("GET", "/api/devices"), ("GET", "/api/samples"), ("GET", "/api/archives/latest.zip"), ("GET", "/api/slips"),
        ("POST", "/api/brews"), ("PATCH", "/api/workbenches/current"), ("POST", "/api/pairing-codes"),
        ("POST", "/api/brews/1/taps"), ("GET", "/api/brews/1/log.csv"), ("GET", "/api/workbenches/current"),
        ("GET", "/api/fits/current"), ("GET", "/api/openapi.json"),
    ):  # fmt: skip
        refused = tablet(method, path, "{}", Content_Type="application/json")
        assert (refused.status, refused.json()["code"]) == (403, "only-watching"), path
    # A phone that is in is no guest for having opened the link; withdrawn, the link is worth nothing.
    assert "Set-Cookie" not in phone("GET", f"{address.path}?{address.query}").headers
    display = next(d for d in here("GET", "/api/devices").json()["devices"] if d["role"] == "display")
    assert here("DELETE", f"/api/devices/{display['id']}").status == 204
    assert tablet("GET", "/api/brews/displayed").status == 401
    assert Client(port)("GET", f"{address.path}?{address.query}").status == 403


def test_who_is_shut_out_hears_no_more_of_a_running_brew(port: int) -> None:
    phone, here = Client(port), Client(port, "127.0.0.1")
    phone.pair(code_of(port))
    assert here.post("/api/plans", {}).status == 201
    brew = here.post("/api/brews", {}).json()
    listening = http.client.HTTPConnection(OTHER, port, timeout=20)
    cookie = {"Cookie": "; ".join(f"{k}={v}" for k, v in phone.cookies.items())}
    listening.request("GET", f"/api/brews/{brew['id']}/stream", headers=cookie)
    stream = listening.getresponse()
    assert stream.readline().startswith(b"event: brew")
    device = here("GET", "/api/devices").json()["devices"][0]["id"]
    assert here("DELETE", f"/api/devices/{device}").status == 204
    heard = stream.read().decode()  # returns when the server ends it
    assert "event: over" not in heard
    assert here("GET", f"/api/brews/{brew['id']}").json()["state"] == "running"


def test_the_network_knows_the_server_by_name_until_it_stops() -> None:
    name = LocalName("bar.local", ["127.0.0.1"], 8720, https=False)
    assert name.announced.wait(20), "this machine's loopback has no multicast"

    def asked() -> tuple[str | None, int | None, list[str]]:
        network = Zeroconf(interfaces=["127.0.0.1"], ip_version=IPVersion.V4Only)
        found = network.get_service_info(SERVICE, name.info.name, timeout=10_000)
        address = AddressResolverIPv4("bar.local.")
        address.request(network, 10_000)
        network.close()
        return (found.server, found.port, address.parsed_addresses()) if found else (None, None, [])

    # In a thread of its own: an event loop of the browser tests may run in this one, and would be taken for the network's.
    with ThreadPoolExecutor(1) as aside:
        assert aside.submit(asked).result() == ("bar.local.", 8720, ["127.0.0.1"])
        aside.submit(name.close).result()
    assert not name.announced.is_set()
    assert serving_at("192.168.7.5", 8720, False, "Bar").named_url == "http://bar.local:8720"
    assert "bar.local" in serving_at("192.168.7.5", 8720, False, "bar.local").hosts


def test_a_certificate_serves_https_to_whoever_trusts_its_authority(tmp_path: Path) -> None:
    words = ("certificate", "-o", str(tmp_path / "tls"), "--name", OTHER)
    assert done(*words)[0] == 0
    tls = {name: tmp_path / "tls" / f"{name}.pem" for name in ("authority", "authority-key", "certificate", "key")}
    assert [oct(tls[k].stat().st_mode & 0o077) for k in ("key", "authority-key")] == ["0o0", "0o0"]
    before = tls["authority"].read_bytes()
    assert done(*words)[0] == 0
    assert tls["authority"].read_bytes() == before  # phones that trust it need not be told again
    free = free_port()
    https = ("--certificate", str(tls["certificate"]), "--key", str(tls["key"]))
    with started("serve", "--port", str(free), "--data", str(tmp_path / "data"), "--host", OTHER, *https) as server:
        assert server.lines(1) == [f"Hakari serves at https://127.0.0.1:{free}"]
        trusting = ssl.create_default_context(cafile=str(tls["authority"]))
        deadline = time.monotonic() + 20
        while True:
            connection = http.client.HTTPSConnection(OTHER, free, timeout=20, context=trusting)
            try:
                connection.request("GET", "/pair")
                break
            except ConnectionRefusedError:
                assert time.monotonic() < deadline
                time.sleep(0.05)
        assert connection.getresponse().status == 200
        with pytest.raises(ssl.SSLCertVerificationError):
            http.client.HTTPSConnection(OTHER, free, context=ssl.create_default_context()).request("GET", "/pair")


@pytest.mark.same_on_any_database
def test_a_code_that_is_too_old_is_refused_over_http(workspace: Workspace) -> None:
    now = [0.0]
    app = create_app(workspace, serving_at(OTHER, 0, https=False))
    codes = app.extensions["pairing_codes"] = PairingCodes(lambda: now[0])
    server = make_server(OTHER, 0, app, threaded=True)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    phone, code = Client(server.port), codes.issue().code
    now[0] = VALID_S + 1
    refused = phone.pair(code)
    assert refused.status == 403 and "older than two minutes" in refused.text and not phone.cookies
    assert phone.pair(codes.issue().code).status == 303 and phone("GET", "/api/devices/current").status == 200
    server.shutdown()


def test_codes_end_by_time_and_by_use() -> None:
    now = [0.0]
    codes = PairingCodes(lambda: now[0])
    code = codes.issue().code
    assert re.fullmatch(f"[{SYMBOLS}]{{8}}", code) and codes.issue().code != code
    now[0] = VALID_S + 1
    with pytest.raises(InputError) as refusal:
        codes.redeem(code, "a")
    assert refusal.value.code == "code-unknown" and refusal.value.field == "code"
    for _ in range(MOST_TRIES - 1):
        with pytest.raises(InputError):
            codes.redeem("x", "a")
    fresh = codes.issue().code
    with pytest.raises(GuessedTooOftenError):
        codes.redeem(fresh, "a")
    codes.redeem(fresh, "b")  # whoever did not guess does not wait
    fresh = codes.issue().code
    now[0] += PAUSE_S + 1
    assert codes.redeem(fresh, "a") == "barista"
    # They are listed without what they are, and can be withdrawn.
    made = codes.issue("manager", by="this computer")
    listed = codes.list()
    assert [(c.id, c.role, c.by, c.valid_s) for c in listed if c.id == made.id] == [
        (made.id, "manager", "this computer", VALID_S)
    ]
    assert made.code not in str(listed)
    codes.withdraw(made.id)
    with pytest.raises(InputError):
        codes.redeem(made.code, "c")
