"""The household's own certificate: an authority that a phone or tablet is told to trust once, and what the server shows it by.

A browser keeps pages for the time without a connection only where it trusts the certificate, so that clicking a warning away is not
enough. The authority's key signs for this household's addresses and private ones alone, whatever becomes of it.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from ipaddress import ip_address, ip_network
from pathlib import Path
from typing import TYPE_CHECKING

from rowanseed.lazily import lazily

if TYPE_CHECKING:
    from cryptography import x509
    from cryptography.hazmat.primitives import hashes, serialization
    from cryptography.hazmat.primitives.asymmetric import ec
    from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID
else:
    x509, ec = lazily("cryptography.x509"), lazily("cryptography.hazmat.primitives.asymmetric.ec")
    hashes = lazily("cryptography.hazmat.primitives.hashes")
    serialization = lazily("cryptography.hazmat.primitives.serialization")
    NameOID = lazily("cryptography.x509.oid", "NameOID")
    ExtendedKeyUsageOID = lazily("cryptography.x509.oid", "ExtendedKeyUsageOID")

DAYS, RENEW_DAYS = 730, 30  # devices take no server's certificate that lives longer than 825 days
AUTHORITY_DAYS = 3650
PRIVATE = ("127.0.0.0/8", "10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "::1/128", "fc00::/7", "fe80::/10")


@dataclass(frozen=True)
class Certificate:
    """What a server shows: its certificate with the authority's behind it, its key; the authority, and by what it is known.

    `fingerprint`: SHA-256 of the authority, to be compared on the device that is told to trust it.
    """

    chain: Path
    key: Path
    authority: Path
    fingerprint: str


def own_certificate(folder: Path, names: Iterable[str], now: datetime | None = None) -> Certificate:
    """The household's certificate for these names: made where there is none, or it lacks a name, or ends soon.

    The authority stays as long as it may sign for the names, so that devices that trust it need not be told again.
    """
    wanted, at = sorted(set(names)), now or datetime.now(UTC)
    folder.mkdir(parents=True, exist_ok=True)
    authority, authority_key = folder / "authority.pem", folder / "authority-key.pem"
    chain, key = folder / "certificate.pem", folder / "key.pem"
    if not (authority_key.exists() and _may_sign(authority, wanted, at)):
        _make_authority(authority, authority_key, wanted, at)
        chain.unlink(missing_ok=True)
    if not (key.exists() and _serves(chain, wanted, at)):
        _make_certificate(chain, key, authority, authority_key, wanted, at)
    digest = _read(authority).fingerprint(hashes.SHA256())
    return Certificate(chain, key, authority, digest.hex(":").upper())


def _read(path: Path) -> "x509.Certificate":
    return x509.load_pem_x509_certificate(path.read_bytes())


def _lasts(known: "x509.Certificate", at: datetime) -> bool:
    return known.not_valid_after_utc - at > timedelta(days=RENEW_DAYS)


def _serves(chain: Path, names: list[str], at: datetime) -> bool:
    """Whether a certificate names all of these and does not end soon."""
    try:
        known = _read(chain)
        own = known.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    except (OSError, ValueError, x509.ExtensionNotFound):
        return False
    there = {*own.get_values_for_type(x509.DNSName), *(str(a) for a in own.get_values_for_type(x509.IPAddress))}
    return set(names) <= there and _lasts(known, at)


def _may_sign(authority: Path, names: list[str], at: datetime) -> bool:
    """Whether an authority's limits hold all of these names, for as long as a certificate lives."""
    try:
        known = _read(authority)
        limits = known.extensions.get_extension_for_class(x509.NameConstraints).value.permitted_subtrees or []
    except (OSError, ValueError, x509.ExtensionNotFound):
        return False
    nets = [one.value for one in limits if isinstance(one, x509.IPAddress)]
    zones = [one.value for one in limits if isinstance(one, x509.DNSName)]
    return _lasts(known, at + timedelta(days=DAYS)) and all(_within(name, nets, zones) for name in names)


def _within(name: str, nets: Iterable[object], zones: Iterable[str]) -> bool:
    try:
        address = ip_address(name)
    except ValueError:
        return any(name == zone or name.endswith("." + zone) for zone in zones)
    return any(address in net for net in nets)  # type: ignore[operator]


def _limits(names: list[str]) -> "list[x509.GeneralName]":
    """The private networks and the local zone, and of these names what lies outside of them."""
    nets, zones = [ip_network(net) for net in PRIVATE], ["local", "localhost"]
    for name in names:
        if not _within(name, nets, zones):
            try:
                nets.append(ip_network(name))
            except ValueError:
                zones.append(name)
    return [*(x509.IPAddress(net) for net in nets), *(x509.DNSName(zone) for zone in zones)]


def _make_authority(authority: Path, key: Path, names: list[str], at: datetime) -> None:
    secret = ec.generate_private_key(ec.SECP256R1())
    who = _named("Rowanseed household authority")
    usage = x509.KeyUsage(False, False, False, False, False, True, True, False, False)
    made = (
        _begun(who, who, secret.public_key(), at, AUTHORITY_DAYS)
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(x509.NameConstraints(_limits(names), None), critical=True)
        .add_extension(usage, critical=True)
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(secret.public_key()), critical=False)
        .sign(secret, hashes.SHA256())
    )
    _keep_key(key, secret)
    authority.write_bytes(made.public_bytes(serialization.Encoding.PEM))


def _make_certificate(
    chain: Path, key: Path, authority: Path, authority_key: Path, names: list[str], at: datetime
) -> None:
    signer = _read(authority)
    signing = serialization.load_pem_private_key(authority_key.read_bytes(), None)
    assert isinstance(signing, ec.EllipticCurvePrivateKey)  # as this module made it
    secret = ec.generate_private_key(ec.SECP256R1())
    made = (
        _begun(_named("Rowanseed household"), signer.subject, secret.public_key(), at, DAYS)
        .add_extension(x509.SubjectAlternativeName([_general(name) for name in names]), critical=False)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .add_extension(x509.AuthorityKeyIdentifier.from_issuer_public_key(signing.public_key()), critical=False)
        .sign(signing, hashes.SHA256())
    )
    _keep_key(key, secret)
    chain.write_bytes(made.public_bytes(serialization.Encoding.PEM) + authority.read_bytes())


def _named(words: str) -> "x509.Name":
    return x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, words)])


def _begun(
    who: "x509.Name", by: "x509.Name", public: "ec.EllipticCurvePublicKey", at: datetime, days: int
) -> "x509.CertificateBuilder":
    return (
        x509.CertificateBuilder().subject_name(who).issuer_name(by).public_key(public).serial_number(x509.random_serial_number())
        .not_valid_before(at - timedelta(days=1)).not_valid_after(at + timedelta(days=days))
    )  # fmt: skip


def _keep_key(path: Path, secret: "ec.EllipticCurvePrivateKey") -> None:
    path.touch(mode=0o600)
    path.chmod(0o600)
    path.write_bytes(
        secret.private_bytes(
            serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
        )
    )


def _general(name: str) -> "x509.GeneralName":
    try:
        return x509.IPAddress(ip_address(name))
    except ValueError:
        return x509.DNSName(name)
