"""What can keep the server from starting, asked before anything that it will need is imported: answers within half a second.

The host as it was written, the port, the household's file, the passphrase that is asked for beyond this machine.
"""

import socket
import sqlite3
from contextlib import closing
from ipaddress import ip_address
from pathlib import Path

from rowanseed.store.opening import version_of

PASSPHRASE = "select 1 from setting where key = 'passphrase' and value <> ''"


class CannotStart(Exception):
    """The server cannot start; its text says why and what to do, `status` is the command's exit status."""

    def __init__(self, text: str, status: int) -> None:
        super().__init__(text)
        self.status = status


def host_of(written: str) -> str:
    """Return an address or a name to listen on, as browsers will name it.

    Short and odd ways of writing an address are read as the system reads them; a name has to be one of this machine's.

    Raises:
        CannotStart: it is no address and no name that is known here.

    >>> host_of("127.1"), host_of("localhost."), host_of("[::1]"), host_of("0")
    ('127.0.0.1', 'localhost', '::1', '0.0.0.0')
    """
    name = written.strip().lower().removeprefix("[").removesuffix("]").removesuffix(".")
    if not name:
        raise CannotStart(
            "Name a host to listen on: 127.0.0.1 for this machine alone, 0.0.0.0 for the home network.", 2
        )
    try:
        address = ip_address(name)
    except ValueError:
        try:
            return socket.inet_ntoa(socket.inet_aton(name))
        except OSError:
            return _known_name(name, written)
    mapped = getattr(address, "ipv4_mapped", None)
    return str(mapped or address)


def _known_name(name: str, written: str) -> str:
    if name == "localhost":
        return name
    try:
        socket.getaddrinfo(name, None)
    except (OSError, UnicodeError) as error:
        raise CannotStart(
            f"“{written}” is no address, and no name that is known here. Use 127.0.0.1, or 0.0.0.0 for the home network.",
            2,
        ) from error
    return name


def is_here(host: str) -> bool:
    """Return whether a host is this machine's own, reached from nowhere else."""
    try:
        return ip_address(host).is_loopback
    except ValueError:
        return host == "localhost"


def refuse_taken(host: str, port: int) -> None:
    """Raise CannotStart where the port is no port, another program listens on it, or the host is not this machine's."""
    if not 0 <= port <= 65_535:
        raise CannotStart(f"{port} is no port. Choose one from 1024 to 65535 with --port.", 1)
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    with socket.socket(family) as probe:
        probe.setsockopt(
            socket.SOL_SOCKET, socket.SO_REUSEADDR, 1
        )  # as the server does: one that just ended is no hindrance
        try:
            probe.bind((host, port))
        except PermissionError as error:
            raise CannotStart(
                f"Port {port} may not be used without further rights. Choose one over 1023.", 1
            ) from error
        except OSError as error:
            if _answers(host, port):
                raise CannotStart(f"Port {port} is taken. Choose another one with --port.", 1) from error
            raise CannotStart(f"“{host}” is no address of this machine ({error.strerror}).", 2) from error


def _answers(host: str, port: int) -> bool:
    reached = {"0.0.0.0": "127.0.0.1", "::": "::1"}.get(host, host)
    with socket.socket(socket.AF_INET6 if ":" in reached else socket.AF_INET) as probe:
        probe.settimeout(0.3)
        return probe.connect_ex((reached, port)) == 0


def has_passphrase(database: Path) -> bool:
    """Return whether a household has a passphrase. Raises HouseholdFileError where it is none."""
    if version_of(database) == 0:
        return False
    with closing(sqlite3.connect(database)) as conn:
        return conn.execute(PASSPHRASE).fetchone() is not None
