"""A name for this computer in its own network, by multicast DNS: phones open ``http://bar.local:8720``."""

from __future__ import annotations

import ipaddress
import logging
import threading
from collections.abc import Sequence

from zeroconf import IPVersion, NonUniqueNameException, ServiceInfo, Zeroconf

from hakari.web.addresses import Serving

log = logging.getLogger(__name__)
SERVICE = "_http._tcp.local."


class LocalName:
    """Announces a name and the service behind it until it is closed.

    Parameters
    ----------
    name : str
        The name, such as ``bar.local``.
    addresses : sequence of str
        IPv4 addresses that it resolves to; multicast goes to their networks alone.
    port : int
        Where the service listens.
    https : bool
        Whether it is to be opened by HTTPS.
    """

    def __init__(self, name: str, addresses: Sequence[str], port: int, https: bool) -> None:
        host = name.removesuffix(".local")
        self.info = ServiceInfo(
            SERVICE, f"Hakari on {host}.{SERVICE}", port=port, server=f"{host}.local.",
            addresses=[ipaddress.ip_address(a).packed for a in addresses],
            properties={"path": "/", "scheme": "https" if https else "http"},
        )  # fmt: skip
        self._addresses = list(addresses)
        self._network: Zeroconf | None = None
        self._closed = threading.Lock()
        self.announced = threading.Event()
        # Asking whether the name is free takes a second or two, which nobody waits for.
        threading.Thread(target=self._announce, name="local-name", daemon=True).start()

    @classmethod
    def of(cls, serving: Serving) -> LocalName | None:
        """Return the name of a server; ``None`` where it has no IPv4 address for other devices."""
        if serving.local_name is None or not serving.addresses:
            return None
        return cls(serving.local_name, serving.addresses, serving.port, serving.https)

    def _announce(self) -> None:
        try:
            self._network = Zeroconf(interfaces=self._addresses, ip_version=IPVersion.V4Only)
            self._network.register_service(self.info, allow_name_change=True)
            self.announced.set()
        except (OSError, NonUniqueNameException) as error:
            # A network without multicast still has its addresses.
            log.warning("no name in the network: %s", error)
            self.close()

    def close(self) -> None:
        """Take the name back, so that the network forgets it at once."""
        with self._closed:
            network, self._network = self._network, None
        if network is not None:
            network.close()
        self.announced.clear()
