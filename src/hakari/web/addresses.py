"""The addresses that a server is reached at, and their QR codes."""

from __future__ import annotations

import io
import ipaddress
import socket
from contextlib import suppress
from dataclasses import dataclass

import qrcode
import qrcode.image.svg

LOOPBACK = ("127.0.0.1", "localhost", "[::1]")
ANY = "0.0.0.0"


@dataclass(frozen=True)
class Serving:
    """How the application is served: the names it answers to, its addresses for other devices, and whether by HTTPS.

    ``local_name`` is what this computer may be called in its network, ``addresses`` what that name resolves to.
    """

    hosts: tuple[str, ...] = LOOPBACK
    urls: tuple[str, ...] = ()
    https: bool = False
    local_name: str | None = None
    addresses: tuple[str, ...] = ()
    port: int = 0

    @property
    def named_url(self) -> str:
        """The address by name."""
        return f"{'https' if self.https else 'http'}://{self.local_name}:{self.port}"


def serving_at(host: str | None, port: int, https: bool, name: str | None = None) -> Serving:
    """Return how a server on an address is reached; ``None`` is this computer alone, ``ANY`` all of its networks.

    ``name`` is what it is called in its networks, else the computer's own name.
    """
    if host is None:
        return Serving(https=https)
    own = socket.gethostname().lower()
    local = f"{(name or own).lower().removesuffix('.local')}.local"
    addresses = network_addresses() if host == ANY else (host,)
    scheme = "https" if https else "http"
    names = tuple(dict.fromkeys((*LOOPBACK, *(a.lower() for a in addresses), own, f"{own}.local", local)))
    urls = tuple(f"{scheme}://{_in_url(a)}:{port}" for a in addresses)
    return Serving(names, urls, https, local, tuple(a for a in addresses if ":" not in a), port)


def network_addresses() -> tuple[str, ...]:
    """Return the IPv4 addresses of this computer in its networks, the one that leads outside first."""
    found: list[str] = []
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe, suppress(OSError):
        probe.connect(("192.0.2.1", 9))  # nothing is sent: this only asks which address would be used
        found.append(probe.getsockname()[0])
    with suppress(OSError):
        found += [str(a[4][0]) for a in socket.getaddrinfo(socket.gethostname(), None, socket.AF_INET)]
    return tuple(dict.fromkeys(a for a in found if not ipaddress.ip_address(a).is_loopback))


def is_loopback(address: str | None) -> bool:
    """Whether a peer is this computer itself."""
    try:
        return address is not None and ipaddress.ip_address(address).is_loopback
    except ValueError:
        return False


def name_of(host: str) -> str:
    """Return the name or address of a Host header, without its port."""
    return (host if host.endswith("]") else host.rsplit(":", 1)[0]).lower()


def qr_svg(text: str) -> str:
    """Return a QR code as an SVG picture, dark on white so that any camera reads it."""
    code = qrcode.QRCode(border=2, image_factory=qrcode.image.svg.SvgPathFillImage)
    code.add_data(text)
    out = io.BytesIO()
    code.make_image().save(out)
    return out.getvalue().decode()


def qr_terminal(text: str) -> str:
    """Return a QR code in block characters."""
    code = qrcode.QRCode(border=1)
    code.add_data(text)
    out = io.StringIO()
    code.print_ascii(out, invert=True)
    return out.getvalue()


def _in_url(address: str) -> str:
    return f"[{address}]" if ":" in address else address
