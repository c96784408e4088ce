"""This computer's own certificate, made when something is shared for the first time and for its address alone."""

import ipaddress
import os
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

_LASTS, _RENEWED = (
    timedelta(days=397),
    timedelta(days=14),
)  # browsers take no longer one; made anew so long before its end


@dataclass(frozen=True, slots=True)
class Certificate:
    """Where it lies, and how it is told from others."""

    certificate: Path
    key: Path
    fingerprint: str


def certificate_for(folder: Path, address: str) -> Certificate:
    """Return the certificate of this computer for an address; made if there is none that is valid.

    Args:
        folder: that it is kept in.
        address: IP address of this computer in the network.
    """
    folder.mkdir(parents=True, exist_ok=True)
    name = address.replace(":", "-")
    certificate, key = folder / f"{name}.pem", folder / f"{name}.key"
    known = _read(certificate) if key.is_file() else None
    if known is None or known.not_valid_after_utc - datetime.now(UTC) < _RENEWED:
        known = _make(certificate, key, address)
    digest = known.fingerprint(hashes.SHA256()).hex().upper()
    return Certificate(certificate, key, ":".join(digest[i : i + 2] for i in range(0, len(digest), 2)))


def _read(path: Path) -> x509.Certificate | None:
    try:
        return x509.load_pem_x509_certificate(path.read_bytes())
    except (OSError, ValueError):
        return None


def _make(certificate: Path, key: Path, address: str) -> x509.Certificate:
    secret = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Pathway on this computer")])
    now = datetime.now(UTC)
    made = (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(secret.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now + _LASTS)
        .add_extension(x509.SubjectAlternativeName([x509.IPAddress(ipaddress.ip_address(address))]), critical=False)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .sign(secret, hashes.SHA256())
    )
    with os.fdopen(os.open(key, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "wb") as out:
        out.write(
            secret.private_bytes(
                serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
            )
        )
    certificate.write_bytes(made.public_bytes(serialization.Encoding.PEM))
    return made
