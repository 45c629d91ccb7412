"""Devices: addresses, codes to let one in, and who is let in."""

from __future__ import annotations

from pydantic import BaseModel, Field

from hakari.core.errors import InputError
from hakari.service.devices import use_cases as devices
from hakari.service.devices.pairing_codes import VALID_S, CodeView, spaced
from hakari.web.addresses import qr_svg
from hakari.web.pairing import DISPLAY, PAGE, codes, is_this_computer, serving, this_device
from hakari.web.shared import NO_CONTENT, ById, EmptyBody, Station, workspace

api = Station("devices", "/api")
HERE = "this computer"


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
    """Who asks and what it may do; the computer itself is a manager."""

    name: str
    role: devices.Role


class Link(BaseModel):
    """An address to be opened on another device, and its QR code."""

    url: str
    qr_svg: str


class StationOf(BaseModel):
    """A station of the page."""

    station: str = Field(pattern="^[a-z]{1,20}$")


class NewCode(BaseModel):
    """What the device that a code lets in may do."""

    role: devices.LetIn = "barista"


class PairingCodeList(BaseModel):
    """Codes that are valid now, without what they are."""

    codes: list[CodeView]


class PairingCode(BaseModel):
    """A code for one device, and the address to scan."""

    id: int
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
    return ThisDevice(name=device.name, role=device.role) if device else ThisDevice(name=HERE, role="manager")


@api.get("/stations/<string:station>/link", responses={200: Link})
def get_station_link(path: StationOf) -> Link:
    """Return the address of a station for a device that is let in; any other is asked for a code first."""
    return _link(f"/{path.station}")


@api.post("/guest-links", responses={201: Link})
def make_guest_link(body: EmptyBody) -> tuple[Link, int]:
    """Make a link that shows the brew at this counter and does nothing else, until it is withdrawn among the devices."""
    _base()
    return _link(f"{DISPLAY}?key={devices.let_in(workspace(), 'Brew display', 'display')}"), 201


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
def make_code(body: NewCode) -> tuple[PairingCode, int]:
    """Make a code that lets one device in within two minutes."""
    base, device = _base(), this_device()
    made = codes().issue(body.role, device.name if device else HERE)
    url = f"{base}{PAGE}?code={made.code}"
    return PairingCode(id=made.id, code=spaced(made.code), url=url, qr_svg=qr_svg(url), valid_s=VALID_S), 201


@api.get("/pairing-codes", responses={200: PairingCodeList})
def list_codes() -> PairingCodeList:
    """Return the codes that are valid now."""
    return PairingCodeList(codes=codes().list())


@api.delete("/pairing-codes/<int:id>", responses={204: None})
def withdraw_code(path: ById) -> tuple[str, int]:
    """Withdraw a code before it is used."""
    codes().withdraw(path.id)
    return NO_CONTENT


@api.patch("/devices/<int:id>", responses={200: devices.DeviceView})
def change_device(path: ById, body: devices.DeviceChange) -> devices.DeviceView:
    """Give a device another role."""
    return devices.change_device(workspace(), path.id, body)


@api.delete("/devices/<int:id>", responses={204: None})
def revoke(path: ById) -> tuple[str, int]:
    """Shut a device out."""
    devices.revoke(workspace(), path.id)
    return NO_CONTENT
