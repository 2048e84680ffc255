"""Where the server answers and to whom: its addresses, whether a passphrase is asked for."""

import re
import socket
from contextlib import suppress
from dataclasses import dataclass, field
from ipaddress import ip_address

from rowanseed.starting import is_here

LOOPBACK = frozenset({"127.0.0.1", "localhost", "::1"})
HOST = re.compile(
    r"^(?:\[(?P<six>[0-9a-f:.]+)\]|(?P<name>[a-z0-9](?:[a-z0-9.-]*[a-z0-9])?\.?))(?::(?P<port>[0-9]{1,5}))?$"
)
NOWHERE = (
    "192.0.2.1"  # an address for documentation: nothing is sent to it, the machine only says by which way it would go
)


@dataclass(frozen=True)
class Answers:
    """The addresses that a server answers to.

    Args:
        names: host names and addresses that a request may name.
        port: the port it listens on; None where any is taken.
        locked: whether the passphrase is asked for.
        secure: whether it is served over TLS.
    """

    names: frozenset[str] = LOOPBACK
    port: int | None = None
    locked: bool = False
    secure: bool = False
    shown: tuple[str, ...] = field(default=())

    def takes(self, host: str) -> bool:
        """Whether a Host header names this server, and nothing else stands in it.

        >>> Answers(port=8765).takes("127.0.0.1:8765"), Answers(port=8765).takes("127.0.0.1:8765@evil.example")
        (True, False)
        """
        found = HOST.match(host.lower())
        if found is None or (found["six"] or found["name"].removesuffix(".")) not in self.names:
            return False
        usual = 443 if self.secure else 80
        return self.port is None or int(found["port"] or usual) == self.port

    @property
    def scheme(self) -> str:
        """`http`, or `https` over TLS."""
        return "https" if self.secure else "http"


def answers_at(host: str, port: int, secure: bool = False) -> Answers:
    """What a server answers to that listens on a host (`0.0.0.0` and `::` are every address of this machine) and port."""
    if is_here(host):
        return Answers(LOOPBACK | {host}, port, False, secure, (_url(host, port, secure),))
    if host in ("0.0.0.0", "::"):
        addresses = own_addresses()
    else:
        addresses = [host.lower()]
    known = socket.gethostname().lower().split(".")[0]
    names = frozenset(addresses) | LOOPBACK | {known, f"{known}.local"}
    shown = tuple(_url(address, port, secure) for address in addresses)
    return Answers(names, port, True, secure, shown)


def _url(address: str, port: int, secure: bool) -> str:
    inside = f"[{address}]" if ":" in address else address
    return f"{'https' if secure else 'http'}://{inside}:{port}/"


def own_addresses() -> list[str]:
    """This machine's addresses on its networks, the one it would go out by first; without loopback and link-local ones."""
    found: dict[str, None] = {}
    with suppress(OSError), socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
        probe.connect((NOWHERE, 9))
        found[probe.getsockname()[0]] = None
    with suppress(OSError):
        found.update(dict.fromkeys(str(info[4][0]) for info in socket.getaddrinfo(socket.gethostname(), None)))
    return [
        a
        for a in found
        if not ip_address(a.split("%")[0]).is_loopback and not ip_address(a.split("%")[0]).is_link_local
    ]
