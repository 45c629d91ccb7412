"""A local certificate authority, and a certificate by it for this computer's names: HTTPS in one's own network."""

from __future__ import annotations

import ipaddress
import os
import socket
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

from hakari.web.addresses import network_addresses

AUTHORITY_YEARS, SERVER_DAYS = 10, 397  # phones refuse server certificates of more than 398 days


@dataclass(frozen=True)
class Certificates:
    """Where the files are: the authority that devices trust, and what the server is given."""

    authority: Path
    certificate: Path
    key: Path
    names: tuple[str, ...]


def make_certificates(folder: Path, more_names: tuple[str, ...] = ()) -> Certificates:
    """Make a certificate for this computer's names and addresses; an authority that is there already signs it.

    Parameters
    ----------
    folder : Path
        Where the files go; made where it is missing.
    more_names : tuple of str
        Names or addresses beyond those that this computer knows of itself.

    Returns
    -------
    Certificates
        The files and the names in the certificate.
    """
    folder.mkdir(parents=True, exist_ok=True)
    authority_file, authority_key_file = folder / "authority.pem", folder / "authority-key.pem"
    if authority_file.is_file() and authority_key_file.is_file():
        authority = x509.load_pem_x509_certificate(authority_file.read_bytes())
        authority_key = serialization.load_pem_private_key(authority_key_file.read_bytes(), None)
        assert isinstance(authority_key, ec.EllipticCurvePrivateKey)
    else:
        authority_key = ec.generate_private_key(ec.SECP256R1())
        authority = _authority(authority_key)
        _write(authority_file, authority.public_bytes(serialization.Encoding.PEM))
        _write(authority_key_file, _pem(authority_key), secret=True)
    host = socket.gethostname().lower()
    names = tuple(dict.fromkeys(("localhost", "127.0.0.1", host, f"{host}.local", *network_addresses(), *more_names)))
    key = ec.generate_private_key(ec.SECP256R1())
    certificate = _server_certificate(names, key, authority, authority_key)
    _write(folder / "certificate.pem", certificate.public_bytes(serialization.Encoding.PEM))
    _write(folder / "key.pem", _pem(key), secret=True)
    return Certificates(authority_file, folder / "certificate.pem", folder / "key.pem", names)


def _authority(key: ec.EllipticCurvePrivateKey) -> x509.Certificate:
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, f"Hakari on {socket.gethostname()}"[:64])])
    return (
        _builder(name, name, key, timedelta(days=365 * AUTHORITY_YEARS))
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(_usage(sign_certificates=True), critical=True)
        .sign(key, hashes.SHA256())
    )


def _server_certificate(
    names: tuple[str, ...],
    key: ec.EllipticCurvePrivateKey,
    authority: x509.Certificate,
    authority_key: ec.EllipticCurvePrivateKey,
) -> x509.Certificate:
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, names[2][:64])])
    return (
        _builder(name, authority.subject, key, timedelta(days=SERVER_DAYS))
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(x509.SubjectAlternativeName([_alternative(n) for n in names]), critical=False)
        .add_extension(_usage(sign_certificates=False), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .sign(authority_key, hashes.SHA256())
    )


def _builder(
    subject: x509.Name, issuer: x509.Name, key: ec.EllipticCurvePrivateKey, lasts: timedelta
) -> x509.CertificateBuilder:
    now = datetime.now(UTC)
    return (
        x509.CertificateBuilder()
        .subject_name(subject)
        .issuer_name(issuer)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(hours=1))
        .not_valid_after(now + lasts)
    )


def _usage(sign_certificates: bool) -> x509.KeyUsage:
    return x509.KeyUsage(
        digital_signature=not sign_certificates, content_commitment=False, key_encipherment=False,
        data_encipherment=False, key_agreement=False, key_cert_sign=sign_certificates, crl_sign=sign_certificates,
        encipher_only=False, decipher_only=False,
    )  # fmt: skip


def _alternative(name: str) -> x509.GeneralName:
    try:
        return x509.IPAddress(ipaddress.ip_address(name))
    except ValueError:
        return x509.DNSName(name)


def _pem(key: ec.EllipticCurvePrivateKey) -> bytes:
    return key.private_bytes(
        serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
    )


def _write(file: Path, data: bytes, secret: bool = False) -> None:
    """Write a file; a key only for its owner's eyes, from the first byte."""
    with os.fdopen(os.open(file, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600 if secret else 0o644), "wb") as out:
        out.write(data)
