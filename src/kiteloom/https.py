"""HTTPS by a certificate of the shop's own: made once, renewed by itself, trusted by each device that was told to.

The shop's root may sign for the shop's names only, so a device that trusts it trusts it for nothing else.
"""

from __future__ import annotations

import asyncio
import contextlib
import ipaddress
import os
import ssl
from collections.abc import Iterable
from datetime import UTC, datetime, timedelta
from pathlib import Path
from threading import Event, Thread

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

FOLDER = "https"
#: What devices are given, and where the shop offers it.
ROOT = "shop-root.crt"
_ROOT_KEY, _KEY, _CERTIFICATE = "shop-root.key", "shop.key", "shop.crt"
#: Devices take no certificate of a shop's own that lasts longer than 825 days; one is renewed before it ends.
ROOT_LASTS, LASTS, RENEWED = timedelta(days=3650), timedelta(days=390), timedelta(days=45)
#: A device's clock may be a little behind.
_BEFORE = timedelta(days=1)
#: A handshake that takes longer is given up [s].
HANDSHAKE_S = 10.0
_PIECE = 64 * 1024


def certificate(folder: Path, names: Iterable[str], now: datetime) -> tuple[Path, bool]:
    """See that a data folder has a certificate for these names; its folder, and whether devices must be told anew.

    Parameters
    ----------
    names : iterable of str
        Names and addresses the shop is served under.
    now : datetime
        The machine's own time, with an offset: devices compare with theirs.
    """
    kept, wanted = folder / FOLDER, sorted(set(names))
    kept.mkdir(mode=0o700, exist_ok=True)
    anew = not _still_good(kept / ROOT, wanted, now + LASTS)
    if anew:
        key = ec.generate_private_key(ec.SECP256R1())
        _write(kept / _ROOT_KEY, _private(key))
        _write(kept / ROOT, _root(key, wanted, now).public_bytes(serialization.Encoding.PEM))
    if anew or not _still_good(kept / _CERTIFICATE, wanted, now + RENEWED):
        root = x509.load_pem_x509_certificate((kept / ROOT).read_bytes())
        signs = serialization.load_pem_private_key((kept / _ROOT_KEY).read_bytes(), None)
        assert isinstance(signs, ec.EllipticCurvePrivateKey)
        key = ec.generate_private_key(ec.SECP256R1())
        _write(kept / _KEY, _private(key))
        made = _of_the_shop(key, wanted, now, root, signs)
        _write(kept / _CERTIFICATE, made.public_bytes(serialization.Encoding.PEM))
    return kept, anew


def _still_good(path: Path, names: list[str], until: datetime) -> bool:
    """Whether a certificate is there, for these names, and lasts so long."""
    if not path.exists():
        return False
    found = x509.load_pem_x509_certificate(path.read_bytes())
    said = found.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    return sorted(map(str, _said(said))) == names and found.not_valid_after_utc >= until


def _said(names: Iterable[x509.GeneralName]) -> Iterable[object]:
    return (name.value for name in names)


def _general(name: str) -> x509.GeneralName:
    try:
        return x509.IPAddress(ipaddress.ip_address(name))
    except ValueError:
        return x509.DNSName(name)


def _only(name: str) -> x509.GeneralName:
    """A name as a limit: of an address the network that is that address alone."""
    found = _general(name)
    return x509.IPAddress(ipaddress.ip_network(name)) if isinstance(found, x509.IPAddress) else found


def _begun(subject: str, issuer: x509.Name | None, key: ec.EllipticCurvePrivateKey, names: list[str], now: datetime,
           lasts: timedelta) -> x509.CertificateBuilder:  # fmt: skip
    called = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, subject[:64])])
    return (
        x509.CertificateBuilder()
        .subject_name(called)
        .issuer_name(issuer or called)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now.astimezone(UTC) - _BEFORE)
        .not_valid_after(now.astimezone(UTC) + lasts)
        .add_extension(x509.SubjectAlternativeName([_general(name) for name in names]), critical=False)
    )


def _root(key: ec.EllipticCurvePrivateKey, names: list[str], now: datetime) -> x509.Certificate:
    usage = x509.KeyUsage(False, False, False, False, False, True, True, False, False)
    begun = _begun(f"Kite Loom at {names[0]}", None, key, names, now, ROOT_LASTS + LASTS)
    return (
        begun.add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(usage, critical=True)
        .add_extension(x509.NameConstraints([_only(name) for name in names], None), critical=True)
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(key.public_key()), critical=False)
        .sign(key, hashes.SHA256())
    )


def _of_the_shop(
    key: ec.EllipticCurvePrivateKey, names: list[str], now: datetime, root: x509.Certificate,
    signs: ec.EllipticCurvePrivateKey,
) -> x509.Certificate:  # fmt: skip
    begun = _begun(names[0], root.subject, key, names, now, LASTS)
    return (
        begun.add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .add_extension(x509.AuthorityKeyIdentifier.from_issuer_public_key(signs.public_key()), critical=False)
        .sign(signs, hashes.SHA256())
    )


def _private(key: ec.EllipticCurvePrivateKey) -> bytes:
    return key.private_bytes(
        serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
    )


def _write(path: Path, data: bytes) -> None:
    """Whole or not at all, and for nobody else of this machine."""
    half = path.with_name(f"{path.name}.half")
    half.unlink(missing_ok=True)
    with os.fdopen(os.open(half, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "wb") as file:
        file.write(data)
    half.rename(path)


class Front:
    """What speaks HTTPS to the tablets, and hands every byte to the server behind it and back."""

    def __init__(self, kept: Path, listen: str, port: int, behind: Path, most: int) -> None:
        self._context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
        self._context.minimum_version = ssl.TLSVersion.TLSv1_2
        self._context.load_cert_chain(kept / _CERTIFICATE, kept / _KEY)
        self._listen, self._port, self._behind, self._most = listen, port, behind, most
        self._loop = asyncio.new_event_loop()
        self._ready, self._against = Event(), OSError()
        self._there: asyncio.Server | None = None
        self._count = 0
        self._thread = Thread(target=self._run, daemon=True)

    @property
    def port(self) -> int:
        """Where it listens."""
        assert self._there is not None
        return int(self._there.sockets[0].getsockname()[1])

    def start(self) -> None:
        """Listen; `OSError` when it can't."""
        self._thread.start()
        self._ready.wait()
        if self._there is None:
            raise self._against

    def stop(self) -> None:
        """Listen no more, and let go of who is there."""
        self._loop.call_soon_threadsafe(self._loop.stop)
        self._thread.join()

    def _run(self) -> None:
        asyncio.set_event_loop(self._loop)
        listening = asyncio.start_server(
            self._joined, self._listen, self._port, ssl=self._context, ssl_handshake_timeout=HANDSHAKE_S
        )
        try:
            self._there = self._loop.run_until_complete(listening)
        except OSError as error:
            self._against = error
            return
        finally:
            self._ready.set()
        self._loop.run_forever()
        self._there.close()
        for task in asyncio.all_tasks(self._loop):
            task.cancel()
        self._loop.run_until_complete(asyncio.sleep(0))
        self._loop.close()

    async def _joined(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        """One connection, until either side ends it."""
        if self._count >= self._most:
            writer.close()
            return
        self._count += 1
        ends = [writer]
        try:
            back, there = await asyncio.open_unix_connection(self._behind)
            ends.append(there)
            ways = [asyncio.ensure_future(_handed_on(*way)) for way in ((reader, there), (back, writer))]
            await asyncio.wait(ways, return_when=asyncio.FIRST_COMPLETED)
            for way in ways:
                way.cancel()
        except OSError:
            pass
        finally:
            self._count -= 1
            for end in ends:
                with contextlib.suppress(OSError, RuntimeError):
                    end.close()


async def _handed_on(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
    """Bytes from one side to the other, as fast as that takes them."""
    with contextlib.suppress(OSError):
        while piece := await reader.read(_PIECE):
            writer.write(piece)
            await writer.drain()
