"""Devices: addresses, codes to let one in, and who is let in."""

from __future__ import annotations

from pydantic import BaseModel, Field

from hakari.core.errors import InputError
from hakari.service.devices import use_cases as devices
from hakari.service.devices.pairing_codes import VALID_S, spaced
from hakari.web.addresses import qr_svg
from hakari.web.pairing import DISPLAY, PAGE, codes, is_this_computer, serving, this_device
from hakari.web.shared import NO_CONTENT, ById, EmptyBody, Station, workspace

api = Station("devices", "/api")


class Devices(BaseModel):
    """Where other devices reach this server (nowhere while it serves this computer alone), and which are let in.

    ``named_url`` is its address by name, where such names work.
    """

    urls: list[str]
    named_url: str | None
    https: bool
    this_computer: bool
    devices: list[devices.DeviceView]


class ThisDevice(BaseModel):
    """What the asking device may do: a ``guest`` only watches the brew."""

    name: str
    guest: bool


class Link(BaseModel):
    """An address to be opened on another device, and its QR code."""

    url: str
    qr_svg: str


class StationOf(BaseModel):
    """A station of the page."""

    station: str = Field(pattern="^[a-z]{1,20}$")


class PairingCode(BaseModel):
    """A code for one device, and the address to scan."""

    code: str
    url: str
    qr_svg: str
    valid_s: float


@api.get("/devices", responses={200: Devices})
def list_devices() -> Devices:
    """Return addresses and devices."""
    urls = serving().urls
    return Devices(
        urls=list(urls), named_url=serving().named_url if urls else None, https=serving().https,
        this_computer=is_this_computer(), devices=devices.list_devices(workspace()),
    )  # fmt: skip


@api.get("/devices/current", responses={200: ThisDevice})
def get_this_device() -> ThisDevice:
    """Return who asks."""
    device = this_device()
    return ThisDevice(name=device.name if device else "this computer", guest=device is not None and device.guest)


@api.get("/stations/<string:station>/link", responses={200: Link})
def get_station_link(path: StationOf) -> Link:
    """Return the address of a station for a device that is let in; any other is asked for a code first."""
    return _link(f"/{path.station}")


@api.post("/guest-links", responses={201: Link})
def make_guest_link(body: EmptyBody) -> tuple[Link, int]:
    """Make a link that shows the brew and does nothing else, until it is withdrawn among the devices."""
    _base()
    return _link(f"{DISPLAY}?key={devices.let_in(workspace(), 'Brew display', guest=True)}"), 201


def _base() -> str:
    """Return the address that other devices begin with; ``InputError`` ``this-computer-alone`` where there is none."""
    if not serving().urls:
        raise InputError(
            "this-computer-alone", "Hakari serves this computer alone, so no other device can reach it.",
            "Start it with hakari serve --lan.",
        )  # fmt: skip
    return serving().urls[0]


def _link(path: str) -> Link:
    url = f"{_base()}{path}"
    return Link(url=url, qr_svg=qr_svg(url))


@api.post("/pairing-codes", responses={201: PairingCode})
def make_code(body: EmptyBody) -> tuple[PairingCode, int]:
    """Make a code that lets one device in within two minutes."""
    base = _base()
    code = codes().issue()
    url = f"{base}{PAGE}?code={code}"
    return PairingCode(code=spaced(code), url=url, qr_svg=qr_svg(url), valid_s=VALID_S), 201


@api.delete("/devices/<int:id>", responses={204: None})
def revoke(path: ById) -> tuple[str, int]:
    """Shut a device out."""
    devices.revoke(workspace(), path.id)
    return NO_CONTENT
