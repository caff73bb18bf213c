"""The real program, near by in threads or in a process of its own, and a real browser to use it with."""

from __future__ import annotations

import json
import shutil
import socket
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from datetime import datetime
from pathlib import Path
from threading import Thread
from zoneinfo import ZoneInfo

from playwright.sync_api import Browser, sync_playwright
from waitress import wasyncore

from kiteloom.cli import opened
from kiteloom.demo import week
from kiteloom.server import server_of
from kiteloom.workshop.base.clock import SetClock
from tests.conftest import key_of

CHROMIUM = "/usr/bin/chromium"
#: Several pages of one browser stand for several tablets: none of them is put to sleep.
AWAKE = ["--disable-background-timer-throttling", "--disable-renderer-backgrounding"]
#: A microphone that hums, for who may listen.
HEARS = ["--use-fake-device-for-media-stream"]
#: Names that lead to this machine, as names of a shop, and of pages that are not its own, do.
NAMES = "--host-resolver-rules=MAP *.test 127.0.0.1"
FLAGS = [NAMES, "--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-component-update"]
MORNING = "2026-05-14T09:20"
#: How long an answer may take before it is missed: machines are noisy, and speeds are for `make bench` [s].
PATIENCE_S = 60


class Reached:
    """A shop that answers at ``url``, with short words for what tests ask of it."""

    url: str

    def get(self, path: str) -> dict:
        with urllib.request.urlopen(self.url + path, timeout=PATIENCE_S) as answer:
            return json.load(answer)

    def post(self, path: str, body: dict, method: str = "POST") -> dict:
        asked = urllib.request.Request(self.url + path, json.dumps(body).encode(), method=method)
        asked.add_header("Content-Type", "application/json")
        with urllib.request.urlopen(asked, timeout=PATIENCE_S) as answer:
            return json.load(answer)

    def patch(self, path: str, body: dict) -> dict:
        return self.post(path, body, "PATCH")

    def release(self, part: str, step: str = "skin-1/layup") -> None:
        """Somebody signs for every witness of a step."""
        who = self.get("/api/v1/bench")["crew"][0]["id"]
        signed = {"how": "decision", "passes": True, "crew_member_id": who, "note": "all pressed, all hard"}
        body = {"id": key_of("release", part, step), "part_id": part, "step_key": step, **signed}
        self.post("/api/v1/witness", body)

    def part_id(self, name: str) -> str:
        parts = [s for a in self.get("/api/v1/airframe")["assemblies"] for s in a["parts"]]
        return next(s["id"] for s in parts if s["name"] == name)


class NearShop(Reached):
    """The demo on a copy of a folder, served by threads of this process: there at once, gone at once."""

    def __init__(self, data: Path, like: Path, hosts: tuple[str, ...] = ()) -> None:
        shutil.copytree(like, data)
        clock = SetClock(datetime.fromisoformat(MORNING).replace(tzinfo=ZoneInfo(week.ZONE)))
        self._app, self._watch = opened("demo", data, clock, hosts)
        self._server = server_of(self._app, "127.0.0.1", 0)
        self.url = f"http://127.0.0.1:{self._server.effective_port}"
        self._thread = Thread(target=self._server.run, daemon=True)
        self._watch.start()
        self._thread.start()

    def stop(self) -> None:
        self._watch.stop()
        # First who answers: one that ended its answer afterwards would wake what is closed by then.
        self._server.task_dispatcher.shutdown()
        # In its own thread, or it would wait for what browsers still hold open; awake already, it has closed
        # what it is woken by.
        with suppress(OSError):
            self._server.trigger.pull_trigger(lambda: wasyncore.close_all(self._server._map))
        self._thread.join()
        self._app.extensions["kiteloom.worker"].close()
        self._app.extensions["kiteloom.store"].close()


class RunningShop(Reached):
    """The program in a process of its own on a data folder, its clock set to a May morning; it can be killed."""

    def __init__(self, data: Path, command: str = "demo", like: Path | None = None) -> None:
        self.data, self.command = data, command
        if like is not None:
            shutil.copytree(like, data)
        self.port = _free_port()
        self.url = f"http://127.0.0.1:{self.port}"
        self.clock = MORNING
        self._process: subprocess.Popen[bytes] | None = None
        self._log = data.with_name(f"{data.name}.log")

    def start(self) -> float:
        """Seconds until it answers; what it said stands with the failure when it does not."""
        began = time.monotonic()
        command = [sys.executable, "-m", "kiteloom.cli", self.command, "--data", str(self.data)]
        command += ["--port", str(self.port), "--clock", self.clock]
        self._log.parent.mkdir(parents=True, exist_ok=True)
        with self._log.open("ab") as log:
            self._process = subprocess.Popen(command, stdout=log, stderr=log)
        while self._process.poll() is None and time.monotonic() - began < 120:
            try:
                self.get("/api/v1/now")
                return time.monotonic() - began
            except OSError:
                time.sleep(0.05)
        self.stop(kill=True)
        raise TimeoutError(f"the shop did not start; it said:\n{self.said()}")

    def said(self) -> str:
        """The end of the program's log."""
        return self._log.read_text()[-5000:] if self._log.exists() else ""

    def stop(self, *, kill: bool = False) -> None:
        if self._process:
            (self._process.kill if kill else self._process.terminate)()
            self._process.wait()
            self._process = None


def _free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return probe.getsockname()[1]


def read_lids(page, who: str = "Imre", instead: bool = False) -> None:
    """Both lids read, who mixes, and of which lots where there are several; on to the scale."""
    for lid in ("Resin lid", "Hardener lid"):
        page.get_by_role("checkbox", name=lid).click()
    page.get_by_role("combobox", name="Mixed by").click()
    page.get_by_role("option", name=who).click()
    if instead:
        page.get_by_role("radio", name="Yes, on purpose").click()
    for lot in ("Lot", "Lot of the hardener"):
        asked = page.get_by_role("combobox", name=lot, exact=True)
        if asked.count() and "Choose" in asked.inner_text():
            asked.click()
            page.get_by_role("option").first.click()
    page.get_by_role("button", name="To the scale").click()


@contextmanager
def chromium() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=[*FLAGS, *AWAKE, *HEARS])
        yield browser
        browser.close()
