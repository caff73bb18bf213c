"""Other sites, other names, silent and dripping connections: tried with a real browser and on a socket."""

from __future__ import annotations

import socket
import threading
import time
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import open_page
from tests.browser.running import NearShop


class Page(BaseHTTPRequestHandler):
    """A page of another site."""

    def do_GET(self):
        self.send_response(200)
        self.send_header("Content-Type", "text/html")
        self.end_headers()
        self.wfile.write(b"<!doctype html><title>elsewhere</title><p>elsewhere</p>")

    def log_message(self, *_):
        pass


@pytest.fixture
def elsewhere():
    server = ThreadingHTTPServer(("127.0.0.1", 0), Page)
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    yield f"http://evil.test:{server.server_address[1]}/"
    server.shutdown()


def test_a_page_of_another_site_writes_nothing(shop, browser, elsewhere):
    seq = shop.get("/api/v1/now")["seq"]
    page = open_page(browser)
    page.goto(elsewhere)
    outlook = '{"id":"evil","low":{"text":"-20","unit":"°C"},"high":{"text":"-10","unit":"°C"}}'
    page.evaluate(
        """async ([url, body]) => {
            for (const type of ['text/plain', 'application/x-www-form-urlencoded'])
                await fetch(url + '/api/v1/climate/outlooks', {method: 'POST', mode: 'no-cors', body,
                    headers: {'Content-Type': type}}).catch(() => 0)
            await fetch(url + '/api/v1/alerts/1/silence', {method: 'POST', mode: 'no-cors'}).catch(() => 0)
            const form = Object.assign(document.createElement('form'),
                {method: 'post', enctype: 'text/plain', action: url + '/api/v1/plan/accept', target: 'frame'})
            const frame = Object.assign(document.createElement('iframe'), {name: 'frame'})
            form.append(Object.assign(document.createElement('input'), {name: '{"id":"', value: '"}'}))
            document.body.append(frame, form)
            form.submit()
            await new Promise((done) => setTimeout(done, 500))
        }""",
        [shop.url, outlook],
    )
    # The shop's own watch may have noted something meanwhile; nothing of the other page's is among it.
    since = shop.get(f"/api/v1/now?since={seq}")["changes"]
    assert not [change for change in since if change["ref"] == "evil" or change["topic"] == "plan"]
    page.close()


def test_a_name_that_is_led_to_this_machine_reads_nothing(shop, browser):
    page = open_page(browser)
    answer = page.goto(shop.url.replace("127.0.0.1", "rebind.test") + "/api/v1/people")
    assert answer.status == 421
    assert "Sanna" not in page.content()
    page.close()


def test_by_its_name_on_plain_http_everything_can_be_noted(seeded, tmp_path, browser):
    shop = NearShop(tmp_path / "named", seeded, ("shop.test",))
    page = open_page(browser)
    page.goto(shop.url.replace("127.0.0.1", "shop.test") + "/today")
    assert page.evaluate("isSecureContext") is False
    page.get_by_role("button", name="Go on: Dry fit").click()
    expect(page.get_by_text("Started “Dry fit in the jig, check square”")).to_be_visible()
    page.goto(shop.url.replace("127.0.0.1", "shop.test") + "/mix")
    page.get_by_role("button", name="Tarn 210 with 214 slow").click()
    expect(page.get_by_text("100 : 28 by weight").first).to_be_visible()
    page.close()
    shop.stop()


def opened(port, sent=b""):
    connection = socket.create_connection(("127.0.0.1", port))
    connection.sendall(sent)
    return connection


HALF = (b"", b"GET /api/v1/now HTTP/1.1\r\n", b"POST /api/v1/work HTTP/1.1\r\nContent-Length: 9\r\n\r\n{")


@pytest.mark.parametrize("sent", HALF, ids=["nothing", "half a header", "half a body"])
def test_a_hundred_and_fifty_silent_connections_stop_nobody(shop, sent):
    port = int(shop.url.rpartition(":")[2])
    silent = [opened(port, sent) for _ in range(150)]
    began = time.monotonic()
    assert shop.get("/api/v1/now")["seq"] > 0
    assert time.monotonic() - began < 5  # they once stopped it for two minutes
    for connection in silent:
        connection.close()


def test_a_request_that_drips_for_too_long_is_cut_off(shop, monkeypatch):
    monkeypatch.setattr("kiteloom.server.REQUEST_S", 1)
    connection = opened(int(shop.url.rpartition(":")[2]), b"GET /api/v1/now HTTP/1.1\r\n")
    connection.settimeout(20)
    cut = False
    for n in range(60):
        try:
            connection.sendall(f"X-{n}: drip\r\n".encode())
        except OSError:
            cut = True
            break
        time.sleep(0.25)
    connection.close()
    assert cut
