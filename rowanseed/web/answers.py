"""Where the server answers and to whom: its addresses, whether a passphrase is asked for, its certificate."""

import re
import socket
from collections.abc import Iterable
from contextlib import suppress
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from ipaddress import ip_address
from pathlib import Path
from typing import TYPE_CHECKING

from rowanseed.lazily import lazily
from rowanseed.starting import is_here

if TYPE_CHECKING:
    from cryptography import x509
    from cryptography.hazmat.primitives import hashes, serialization
    from cryptography.hazmat.primitives.asymmetric import ec
    from cryptography.x509.oid import NameOID
else:
    x509, ec = lazily("cryptography.x509"), lazily("cryptography.hazmat.primitives.asymmetric.ec")
    hashes = lazily("cryptography.hazmat.primitives.hashes")
    serialization = lazily("cryptography.hazmat.primitives.serialization")
    NameOID = lazily("cryptography.x509.oid", "NameOID")

LOOPBACK = frozenset({"127.0.0.1", "localhost", "::1"})
HOST = re.compile(
    r"^(?:\[(?P<six>[0-9a-f:.]+)\]|(?P<name>[a-z0-9](?:[a-z0-9.-]*[a-z0-9])?\.?))(?::(?P<port>[0-9]{1,5}))?$"
)
NOWHERE = (
    "192.0.2.1"  # an address for documentation: nothing is sent to it, the machine only says by which way it would go
)
YEARS, RENEW_DAYS = 2, 30


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


def own_certificate(folder: Path, names: Iterable[str], now: datetime | None = None) -> tuple[Path, Path, str]:
    """A certificate of the household's own for these names: made where there is none, or it lacks a name, or ends soon.

    Returns:
        The certificate's file, its key's, and its SHA-256 fingerprint, to be compared on the tablet.
    """
    certificate, key = folder / "certificate.pem", folder / "key.pem"
    wanted, at = sorted(set(names)), now or datetime.now(UTC)
    if not (certificate.exists() and key.exists() and _serves(certificate, wanted, at)):
        folder.mkdir(parents=True, exist_ok=True)
        _make_certificate(certificate, key, wanted, at)
    digest = x509.load_pem_x509_certificate(certificate.read_bytes()).fingerprint(hashes.SHA256())
    return certificate, key, digest.hex(":").upper()


def _serves(certificate: Path, names: list[str], at: datetime) -> bool:
    try:
        known = x509.load_pem_x509_certificate(certificate.read_bytes())
        own = known.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    except (ValueError, x509.ExtensionNotFound):
        return False
    there = {*own.get_values_for_type(x509.DNSName), *(str(a) for a in own.get_values_for_type(x509.IPAddress))}
    return set(names) <= there and known.not_valid_after_utc - at > timedelta(days=RENEW_DAYS)


def _make_certificate(certificate: Path, key: Path, names: list[str], at: datetime) -> None:
    secret = ec.generate_private_key(ec.SECP256R1())
    who = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Rowanseed household")])
    made = (
        x509.CertificateBuilder()
        .subject_name(who)
        .issuer_name(who)
        .public_key(secret.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(at - timedelta(days=1))
        .not_valid_after(at + timedelta(days=365 * YEARS))
        .add_extension(x509.SubjectAlternativeName([_general(name) for name in names]), critical=False)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .sign(secret, hashes.SHA256())
    )
    key.touch(mode=0o600)
    key.write_bytes(
        secret.private_bytes(
            serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
        )
    )
    certificate.write_bytes(made.public_bytes(serialization.Encoding.PEM))


def _general(name: str) -> "x509.GeneralName":
    try:
        return x509.IPAddress(ip_address(name))
    except ValueError:
        return x509.DNSName(name)
