"""Devices: addresses, codes to let one in, and who is let in."""

from __future__ import annotations

from pydantic import BaseModel

from hakari.core.errors import InputError
from hakari.service.devices import use_cases as devices
from hakari.service.devices.pairing_codes import VALID_S, spaced
from hakari.web.addresses import qr_svg
from hakari.web.pairing import PAGE, codes, is_this_computer, serving
from hakari.web.shared import NO_CONTENT, ById, EmptyBody, Station, workspace

api = Station("devices", "/api")


class Devices(BaseModel):
    """Where other devices reach this server (nowhere while it serves this computer alone), and which are let in."""

    urls: list[str]
    https: bool
    this_computer: bool
    devices: list[devices.DeviceView]


class PairingCode(BaseModel):
    """A code for one device, and the address to scan."""

    code: str
    url: str
    qr_svg: str
    valid_s: float


@api.get("/devices", responses={200: Devices})
def list_devices() -> Devices:
    """Return addresses and devices."""
    return Devices(
        urls=list(serving().urls), https=serving().https, this_computer=is_this_computer(),
        devices=devices.list_devices(workspace()),
    )  # fmt: skip


@api.post("/pairing-codes", responses={201: PairingCode})
def make_code(body: EmptyBody) -> tuple[PairingCode, int]:
    """Make a code that lets one device in within two minutes."""
    if not serving().urls:
        raise InputError(
            "this-computer-alone", "Hakari serves this computer alone, so no other device can reach it.",
            "Start it with hakari serve --lan.",
        )  # fmt: skip
    code = codes().issue()
    url = f"{serving().urls[0]}{PAGE}?code={code}"
    return PairingCode(code=spaced(code), url=url, qr_svg=qr_svg(url), valid_s=VALID_S), 201


@api.delete("/devices/<int:id>", responses={204: None})
def revoke(path: ById) -> tuple[str, int]:
    """Shut a device out."""
    devices.revoke(workspace(), path.id)
    return NO_CONTENT
