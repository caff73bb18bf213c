"""The real program in a process of its own, and a real browser to use it with."""

from __future__ import annotations

import json
import shutil
import socket
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from playwright.sync_api import Browser, sync_playwright

CHROMIUM = "/usr/bin/chromium"
#: Several pages of one browser stand for several tablets: none of them is put to sleep.
AWAKE = ["--disable-background-timer-throttling", "--disable-renderer-backgrounding"]
FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-component-update"]
MORNING = "2026-05-14T09:20"


class RunningShop:
    """The demo on a data folder, its clock set to a May morning; it can be stopped and started again."""

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

    def get(self, path: str) -> dict:
        with urllib.request.urlopen(self.url + path, timeout=10) as answer:
            return json.load(answer)

    def post(self, path: str, body: dict, method: str = "POST") -> dict:
        asked = urllib.request.Request(self.url + path, json.dumps(body).encode(), method=method)
        asked.add_header("Content-Type", "application/json")
        with urllib.request.urlopen(asked, timeout=10) as answer:
            return json.load(answer)

    def patch(self, path: str, body: dict) -> dict:
        return self.post(path, body, "PATCH")

    def release(self, part: str, step: str = "skin-1/layup") -> None:
        """Somebody signs for every witness of a step."""
        who = self.get("/api/v1/bench")["crew"][0]["id"]
        signed = {"how": "decision", "passes": True, "crew_member_id": who, "note": "all pressed, all hard"}
        body = {"id": f"release {part} {step}", "part_id": part, "step_key": step, **signed}
        self.post("/api/v1/witness", body)

    def part_id(self, name: str) -> str:
        parts = [s for a in self.get("/api/v1/airframe")["assemblies"] for s in a["parts"]]
        return next(s["id"] for s in parts if s["name"] == name)


def _free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return probe.getsockname()[1]


@contextmanager
def chromium() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=[*FLAGS, *AWAKE])
        yield browser
        browser.close()
