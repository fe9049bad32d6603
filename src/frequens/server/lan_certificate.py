"""The certificate with which the local network is served: made here, by an authority of this
installation's own.

A phone can be told to trust the authority once; the server's certificate below it is made anew when
the address changes or it is about to run out. The authority is bound to private addresses and
``.local`` names, so that nobody who stole its key could pretend to be any other place.
"""

from __future__ import annotations

import datetime as dt
import ipaddress
import os
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

#: The authority is trusted once on a phone, and should not have to be again.
AUTHORITY_DAYS, SERVER_DAYS = 3650, 397
#: A certificate that has fewer days left is made anew.
RENEW_DAYS = 30
PRIVATE = ("10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "169.254.0.0/16", "127.0.0.0/8",
           "100.64.0.0/10", "fc00::/7", "fe80::/10", "::1/128")  # fmt: skip


@dataclass(frozen=True)
class LanCertificate:
    """Files of the server's certificate and key, and the authority's certificate to install."""

    certificate: Path
    key: Path
    authority: Path


def lan_certificate(folder: Path, addresses: Sequence[str], now: dt.datetime) -> LanCertificate:
    """The certificate for these addresses, made where there is none that holds.

    Keys are readable by their owner only. Raises ValueError for an address outside the private
    networks: only those are served this way.
    """
    wanted = [_private(address) for address in addresses]
    folder.mkdir(mode=0o700, exist_ok=True)
    folder.chmod(0o700)
    files = LanCertificate(folder / "server.crt", folder / "server.key", folder / "authority.crt")
    authority_key = folder / "authority.key"
    if not _holds(files.authority, authority_key, now):
        _make_authority(files.authority, authority_key, now)
        files.certificate.unlink(missing_ok=True)
    if not _holds(files.certificate, files.key, now) or _addresses(files.certificate) != set(
        wanted
    ):
        _make_server(files, authority_key, wanted, now)
    return files


def _private(address: str) -> ipaddress.IPv4Address | ipaddress.IPv6Address:
    found = ipaddress.ip_address(address)
    if not any(found in ipaddress.ip_network(one) for one in PRIVATE if _same_kind(found, one)):
        raise ValueError(f"{address} is no address of a local network")
    return found


def _same_kind(address: ipaddress.IPv4Address | ipaddress.IPv6Address, network: str) -> bool:
    return ipaddress.ip_network(network).version == address.version


def _holds(certificate: Path, key: Path, now: dt.datetime) -> bool:
    if not (certificate.exists() and key.exists()):
        return False
    until = _read(certificate).not_valid_after_utc
    return until - now > dt.timedelta(days=RENEW_DAYS)


def _read(path: Path) -> x509.Certificate:
    return x509.load_pem_x509_certificate(path.read_bytes())


def _addresses(path: Path) -> set[ipaddress.IPv4Address | ipaddress.IPv6Address]:
    names = _read(path).extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    return set(names.get_values_for_type(x509.IPAddress))  # type: ignore[arg-type]


def _make_authority(path: Path, key_path: Path, now: dt.datetime) -> None:
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Frequens on this computer")])
    only = [x509.IPAddress(ipaddress.ip_network(network)) for network in PRIVATE]
    made = (
        _begun(name, name, key, now, AUTHORITY_DAYS)
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(_key_usage(signs_certificates=True), critical=True)
        .add_extension(
            x509.NameConstraints([*only, x509.DNSName("local")], excluded_subtrees=None),
            critical=True,
        )
        .sign(key, hashes.SHA256())
    )
    _write(key_path, _key_bytes(key))
    _write(path, made.public_bytes(serialization.Encoding.PEM))


def _make_server(
    files: LanCertificate,
    authority_key: Path,
    addresses: Sequence[ipaddress.IPv4Address | ipaddress.IPv6Address],
    now: dt.datetime,
) -> None:
    authority = _read(files.authority)
    signing = serialization.load_pem_private_key(authority_key.read_bytes(), password=None)
    assert isinstance(signing, ec.EllipticCurvePrivateKey)
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Frequens")])
    made = (
        _begun(name, authority.subject, key, now, SERVER_DAYS)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(_key_usage(signs_certificates=False), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .add_extension(
            x509.SubjectAlternativeName([x509.IPAddress(address) for address in addresses]),
            critical=False,
        )
        .add_extension(
            x509.AuthorityKeyIdentifier.from_issuer_public_key(signing.public_key()),
            critical=False,
        )
        .sign(signing, hashes.SHA256())
    )
    _write(files.key, _key_bytes(key))
    _write(files.certificate, made.public_bytes(serialization.Encoding.PEM))


def _begun(
    subject: x509.Name,
    issuer: x509.Name,
    key: ec.EllipticCurvePrivateKey,
    now: dt.datetime,
    days: int,
) -> x509.CertificateBuilder:
    return (
        x509.CertificateBuilder()
        .subject_name(subject)
        .issuer_name(issuer)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        # Clocks of phones differ from ours.
        .not_valid_before(now - dt.timedelta(days=1))
        .not_valid_after(now + dt.timedelta(days=days))
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(key.public_key()), critical=False)
    )


def _key_usage(signs_certificates: bool) -> x509.KeyUsage:
    return x509.KeyUsage(
        digital_signature=not signs_certificates,
        key_cert_sign=signs_certificates,
        crl_sign=signs_certificates,
        content_commitment=False,
        key_encipherment=False,
        data_encipherment=False,
        key_agreement=False,
        encipher_only=False,
        decipher_only=False,
    )


def _key_bytes(key: ec.EllipticCurvePrivateKey) -> bytes:
    return key.private_bytes(
        serialization.Encoding.PEM,
        serialization.PrivateFormat.PKCS8,
        serialization.NoEncryption(),
    )


def _write(path: Path, content: bytes) -> None:
    """Whole or not at all, and never readable by others for a moment."""
    part = path.with_suffix(".part")
    part.unlink(missing_ok=True)
    descriptor = os.open(part, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600)
    with os.fdopen(descriptor, "wb") as file:
        file.write(content)
    part.replace(path)
