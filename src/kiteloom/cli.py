"""``kiteloom serve | demo | openapi``."""

from __future__ import annotations

import argparse
import gc
import json
import os
import shutil
import socket
import sys
import tempfile
from datetime import datetime
from pathlib import Path
from zoneinfo import ZoneInfo

import waitress
from apiflask import APIFlask

from kiteloom.api import create_app
from kiteloom.demo import reedling
from kiteloom.standins.scale import SimulatedScale
from kiteloom.workshop.base.clock import Clock, SetClock, SystemClock
from kiteloom.workshop.plan.watch import Instruments, Watch

HOST = "127.0.0.1"


def main(argv: list[str] | None = None) -> int:
    """Run the command; the exit code."""
    parser = argparse.ArgumentParser(prog="kiteloom", description="Plan and compute the building of airframes.")
    commands = parser.add_subparsers(dest="command", required=True)
    for name, words in (("serve", "serve a data folder"), ("demo", "serve the demo, seeding it when empty")):
        command = commands.add_parser(name, help=words)
        command.add_argument("--data", type=Path, default=Path("data/demo" if name == "demo" else "data/shop"))
        command.add_argument("--port", type=int, default=8127)
        command.add_argument("--clock", help="set the shop clock to this local time and let it run on")
        if name == "demo":
            command.add_argument("--reset", action="store_true", help="start over")
            command.add_argument("--reload", action="store_true", help="start again whenever the source changes")
    commands.add_parser("openapi", help="print the API's description")
    given = parser.parse_args(argv)
    if given.command == "openapi":
        return _print_openapi()
    return _serve(given)


def _print_openapi() -> int:
    with tempfile.TemporaryDirectory() as folder:
        app = create_app(folder)
        json.dump(app.spec, sys.stdout, indent=1, ensure_ascii=False)
    print()
    return 0


def _clock(text: str | None) -> Clock:
    if text is None:
        return SystemClock()
    moment = datetime.fromisoformat(text)
    return SetClock(moment if moment.tzinfo else moment.replace(tzinfo=ZoneInfo(reedling.ZONE)))


def opened(command: str, data: Path, clock: Clock) -> tuple[APIFlask, Watch]:
    """A data folder with its application and its watch, not started yet; the demo is seeded where it is empty."""
    app = create_app(data, clock, SimulatedScale() if command == "demo" else None)
    store, instruments = app.extensions["kiteloom.store"], Instruments()
    if command == "demo":
        if reedling.seed(store, clock.now()):
            print(f"Seeded the Reedling in {data}.")
        instruments = reedling.boathouse(store)
    return app, Watch(store, clock, instruments)


def _serve(given: argparse.Namespace) -> int:
    if "WERKZEUG_RUN_MAIN" not in os.environ and _busy(given.port):
        again = f"PORT={given.port + 1} make {given.command}"
        print(f"Port {given.port} is busy. Stop what uses it, or choose another: {again}", file=sys.stderr)
        return 1
    clock = _clock(given.clock)
    if given.command == "demo" and given.reset and given.data.exists():
        shutil.rmtree(given.data)
    app, watch = opened(given.command, given.data, clock)
    reloads = given.command == "demo" and given.reload
    if not reloads or "WERKZEUG_RUN_MAIN" in os.environ:  # the process that only watches the source does not
        watch.start()
    print(f"Kite Loom is at http://{HOST}:{given.port} (stop with Ctrl+C)", flush=True)
    if given.command == "demo" and given.reload:
        app.run(HOST, given.port, use_reloader=True, threaded=True)
        return 0
    # A plan makes some hundred thousand small objects that all go at once: looking for rings among
    # them as often as Python does by itself takes a fifth of its time.
    gc.freeze()
    gc.set_threshold(50_000, 20, 100)
    waitress.serve(app, host=HOST, port=given.port, threads=8, clear_untrusted_proxy_headers=True)
    return 0


def _busy(port: int) -> bool:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((HOST, port))
        except OSError:
            return True
    return False


if __name__ == "__main__":
    sys.exit(main())
