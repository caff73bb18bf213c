"""HTTPS by a certificate of the shop's own: what it vouches for, when it is renewed, and who can't hold it up."""

from __future__ import annotations

import json
import socket
import ssl
from datetime import UTC, datetime, timedelta
from threading import Thread
from urllib.error import URLError
from urllib.request import HTTPSHandler, build_opener

import pytest
from cryptography import x509
from tests.conftest import Shop

from kiteloom import https
from kiteloom.api import HERE
from kiteloom.https import LASTS, RENEWED, ROOT, Front, certificate
from kiteloom.server import server_of

NAMES = ("boathouse.test", "127.0.0.1", "localhost")
NOW = datetime.now(UTC)


def asks(kept, url):
    trusts = ssl.create_default_context(cafile=str(kept / ROOT))
    with build_opener(HTTPSHandler(context=trusts)).open(url, timeout=60) as answer:
        return json.load(answer), answer.headers


@pytest.fixture
def served(empty_shop, tmp_path, monkeypatch):
    """A shop behind HTTPS: where its certificate lies, and its port. Who says nothing is never sent away."""
    monkeypatch.setattr(https, "HANDSHAKE_S", 3600)
    # The application may have been another test's, under another name.
    monkeypatch.setitem(empty_shop.app.config, "HOSTS", frozenset(HERE))
    kept, _ = certificate(empty_shop.folder, NAMES, NOW)
    empty_shop.app.config["ROOT"] = kept / ROOT
    server = server_of(empty_shop.app, "127.0.0.1", 0, behind=tmp_path / "s")
    thread = Thread(target=server.run, daemon=True)
    thread.start()
    front = Front(kept, "127.0.0.1", 0, tmp_path / "s", 100)
    front.start()
    yield kept, front.port
    front.stop()
    server.close()
    del empty_shop.app.config["ROOT"]


def test_a_shop_answers_who_trusts_its_certificate_and_nobody_is_held_up(served, empty_shop: Shop):
    kept, port = served
    # Some connect and say nothing, or no HTTPS.
    silent = [socket.create_connection(("127.0.0.1", port)) for _ in range(30)]
    silent[0].sendall(b"GET / HTTP/1.1\r\n\r\n")
    found, headers = asks(kept, f"https://127.0.0.1:{port}/api/v1/shop")
    assert found["units"] == "metric"
    assert headers["X-Content-Type-Options"] == "nosniff"
    # By a name it is not for, and by who was not told to trust it, it is not taken.
    with pytest.raises(URLError, match="CERTIFICATE_VERIFY_FAILED"):
        build_opener(HTTPSHandler(context=ssl.create_default_context())).open(f"https://127.0.0.1:{port}/", timeout=60)
    trusts = ssl.create_default_context(cafile=str(kept / ROOT))
    with socket.create_connection(("127.0.0.1", port)) as raw, pytest.raises(ssl.SSLCertVerificationError):
        trusts.wrap_socket(raw, server_hostname="bank.test")
    # A cookie of a sign-in goes over HTTPS only.
    pin = json.dumps({"person_id": "i", "secret": "2580"}).encode()
    empty_shop.ask("POST", "/people", {"id": "i", "name": "Imre"})
    with (
        socket.create_connection(("127.0.0.1", port)) as raw,
        trusts.wrap_socket(raw, server_hostname="localhost") as told,
    ):
        head = f"POST /api/v1/people/i/pin HTTP/1.1\r\nHost: localhost:{port}\r\nOrigin: https://localhost:{port}\r\n"
        told.sendall(f"{head}Content-Type: application/json\r\nContent-Length: {len(pin)}\r\n\r\n".encode() + pin)
        said = told.recv(65536).decode()
    assert said.startswith("HTTP/1.1 200")
    assert "; Secure; HttpOnly; Path=/api/; SameSite=Strict" in said
    # What devices are given is there before anybody is signed in.
    opened = build_opener(HTTPSHandler(context=trusts)).open(f"https://127.0.0.1:{port}/{ROOT}", timeout=60)
    assert opened.read() == (kept / ROOT).read_bytes()
    for one in silent:
        one.close()


def test_devices_are_told_once_and_again_only_when_the_shop_has_another_name(tmp_path):
    kept, anew = certificate(tmp_path, NAMES, NOW)
    assert anew
    files = {path.name: path.read_bytes() for path in kept.iterdir()}
    assert {oct(path.stat().st_mode & 0o777) for path in kept.iterdir()} == {"0o600"}
    assert oct(kept.stat().st_mode & 0o777) == "0o700"
    assert certificate(tmp_path, reversed(NAMES), NOW + LASTS - RENEWED - timedelta(days=1)) == (kept, False)
    assert {path.name: path.read_bytes() for path in kept.iterdir()} == files
    # Renewed before it ends, by the root that devices trust already.
    assert certificate(tmp_path, NAMES, NOW + LASTS - RENEWED + timedelta(days=1)) == (kept, False)
    assert (kept / "shop.crt").read_bytes() != files["shop.crt"]
    assert (kept / ROOT).read_bytes() == files[ROOT]
    root = x509.load_pem_x509_certificate(files[ROOT])
    only = root.extensions.get_extension_for_class(x509.NameConstraints).value.permitted_subtrees
    assert {str(name.value) for name in only} == {"127.0.0.1/32", "boathouse.test", "localhost"}
    made = x509.load_pem_x509_certificate((kept / "shop.crt").read_bytes())
    made.verify_directly_issued_by(root)
    assert made.not_valid_after_utc - made.not_valid_before_utc < timedelta(days=398)
    assert certificate(tmp_path, ("new.test",), NOW)[1]
    assert certificate(tmp_path, ("new.test",), NOW + timedelta(days=3650 + 30))[1]
