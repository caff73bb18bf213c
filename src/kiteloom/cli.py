"""``kiteloom serve | demo | pin | backup | restore | archive | unpack | export | import | openapi | compile``."""

from __future__ import annotations

import argparse
import gc
import getpass
import json
import os
import shutil
import signal
import socket
import sys
import tempfile
from datetime import datetime
from pathlib import Path
from types import FrameType
from zoneinfo import ZoneInfo

from apiflask import APIFlask

from kiteloom import compiled
from kiteloom.api import create_app
from kiteloom.core.base.problems import Refused
from kiteloom.demo import reedling, week
from kiteloom.https import ROOT, Front, certificate
from kiteloom.server import CONNECTIONS, server_of
from kiteloom.standins.scale import SimulatedScale
from kiteloom.store import archive, file
from kiteloom.store.file import CantOpen
from kiteloom.store.models import Project
from kiteloom.store.unit_of_work import Store
from kiteloom.views.ahead import made_ahead
from kiteloom.views.logbook.archive import archived
from kiteloom.workshop.base.clock import Clock, SetClock, SystemClock
from kiteloom.workshop.base.copies import CopyTo
from kiteloom.workshop.base.sign_in import give_pin_here, needed
from kiteloom.workshop.build.airframe_in import TakeAirframe, take_airframe
from kiteloom.workshop.build.airframe_out import export_airframe
from kiteloom.workshop.log.newest import clock_doubt
from kiteloom.workshop.plan.watch import Instruments, Watch

HERE = "127.0.0.1"
#: Lies in the demo's folder while it is being seeded: a demo that was cut short is begun again.
SEEDING = "seeding"
#: A turn of one thread while others want theirs [s].
SWITCH_S = 0.0005


def main(argv: list[str] | None = None) -> int:
    """Run the command; the exit code."""
    parser = argparse.ArgumentParser(prog="kiteloom", description="Plan and compute the building of airframes.")
    commands = parser.add_subparsers(dest="command", required=True)
    for name, words in (("serve", "serve a data folder"), ("demo", "serve the demo, seeding it when empty")):
        command = commands.add_parser(name, help=words)
        command.add_argument("--data", type=Path, default=Path("data/demo" if name == "demo" else "data/shop"))
        command.add_argument("--port", type=int, default=8127)
        command.add_argument("--listen", default=HERE, help="the address to listen at; only this machine by default")
        command.add_argument("--host", action="append", default=[], help="another name or address it is served under")
        command.add_argument(
            "--https", action="store_true", help="serve by https, with a certificate of the shop's own"
        )
        command.add_argument("--copies", help="a folder the shop is copied to every night; “none” for none")
        command.add_argument("--clock", help="set the shop clock to this local time and let it run on")
        if name == "demo":
            command.add_argument("--reset", action="store_true", help="start over")
            command.add_argument("--reload", action="store_true", help="start again whenever the source changes")
    command = commands.add_parser("pin", help="give somebody a PIN or passphrase at this keyboard, as a lead")
    command.add_argument("data", type=Path)
    command.add_argument("name", help="who; the first of a crew is welcomed so")
    command = commands.add_parser("backup", help="write a data folder's shop into one file, also while it runs")
    command.add_argument("data", type=Path)
    command.add_argument("target", type=Path)
    command = commands.add_parser("restore", help="put a backup in the place of a data folder's shop")
    command.add_argument("backup", type=Path)
    command.add_argument("data", type=Path)
    command.add_argument("--look", action="store_true", help="only say what is in it, and what it has not")
    command = commands.add_parser("archive", help="write everything as open files (CSV, JSON, photographs) into a ZIP")
    command.add_argument("data", type=Path)
    command.add_argument("target", type=Path)
    command = commands.add_parser("unpack", help="take such an archive into a folder that holds no shop yet")
    command.add_argument("archive", type=Path)
    command.add_argument("data", type=Path)
    command = commands.add_parser("export", help="write an airframe of a data folder into one file")
    command.add_argument("data", type=Path)
    command.add_argument("file", type=Path)
    command.add_argument("--airframe", default="", help="its name, where the shop has several")
    command = commands.add_parser("import", help="look at an airframe's file, and take it into a data folder")
    command.add_argument("file", type=Path)
    command.add_argument("data", type=Path)
    command.add_argument("--look", action="store_true", help="only say what is new, what differs, what can't be taken")
    command.add_argument("--replace", action="store_true", help="also take what differs from what is there")
    commands.add_parser("openapi", help="print the API's description")
    commands.add_parser(
        "compile", help="compile the placer, where a C compiler is at hand: it then takes half the time"
    )
    given = parser.parse_args(argv)
    try:
        done = {"backup": _backup, "restore": _restore, "openapi": _print_openapi, "export": _export,
                "import": _import, "compile": _compile, "archive": _archive, "unpack": _unpack,
                "pin": _pin}  # fmt: skip
        return done.get(given.command, _serve)(given)
    except (CantOpen, Refused) as cant:
        print(cant, file=sys.stderr)
        return 1


def _print_openapi(_: argparse.Namespace) -> int:
    with tempfile.TemporaryDirectory() as folder:
        app = create_app(folder)
        json.dump(app.spec, sys.stdout, indent=1, ensure_ascii=False)
        app.extensions["kiteloom.store"].close()
    print()
    return 0


def _compile(_: argparse.Namespace) -> int:
    print("Compiling what places plans; it takes about a minute, once …", flush=True)
    try:
        compiled.compile_all()
    except compiled.CantCompile as cant:
        print(f"{cant}\nThe placer could not be compiled: it runs as it is, in about twice the time.", file=sys.stderr)
    return 0


def _backup(given: argparse.Namespace) -> int:
    size = file.backup(given.data, given.target)
    print(f"Everything in {given.data} is in {given.target} now ({size / 1e6:.1f} MB); it was read back and is whole.")
    return 0


def _restore(given: argparse.Namespace) -> int:
    print(file.compared(given.backup, given.data))
    if given.look:
        return 0
    aside = file.restore(given.backup, given.data)
    kept = f" What was there lies in {aside}." if aside else ""
    print(f"{given.data} is as it was in {given.backup}.{kept}")
    return 0


def _pin(given: argparse.Namespace) -> int:
    """Whoever is at this keyboard has the shop's file anyhow: for who forgot theirs, and for the first."""
    if not (given.data / file.NAME).exists():
        raise CantOpen(f"There is no shop in {given.data}.")
    if sys.stdin.isatty():
        secret = getpass.getpass(f"A PIN or passphrase for {given.name}: ")
        if getpass.getpass("Once more: ") != secret:
            raise CantOpen("They differ; nothing was changed.")
    else:
        secret = sys.stdin.readline().rstrip("\n")
    store, now = Store(given.data), datetime.now().astimezone()
    try:
        name = give_pin_here(store, given.name, secret, now)
    finally:
        store.close()
    print(f"{name} is a lead and signs in with it from now on; tablets they were signed in at are out.")
    return 0


def _archive(given: argparse.Namespace) -> int:
    if not (given.data / file.NAME).exists():
        raise CantOpen(f"There is no shop in {given.data}.")
    store = Store(given.data)
    try:
        size = archived(store, given.target, datetime.now().astimezone())
    finally:
        store.close()
    print(f"Everything in {given.data} is in {given.target} now, as open files ({size / 1e6:.1f} MB).")
    return 0


def _unpack(given: argparse.Namespace) -> int:
    says = archive.unpack(given.archive, given.data)
    Store(given.data).close()  # brought up to this program
    count = sum(says["rows"].values())
    print(f"{given.data} is as it was when {given.archive} was written, {says['written'][:16]}: {count:,} rows.")
    return 0


def _export(given: argparse.Namespace) -> int:
    if not (given.data / file.NAME).exists():
        raise CantOpen(f"There is no shop in {given.data}.")
    if given.file.exists():
        raise CantOpen(f"{given.file} is there already; an export overwrites nothing. Choose another name.")
    store = Store(given.data)
    try:
        with store.reading() as uow:
            found = uow.all(Project, Project.rank, Project.name)
            names = ", ".join(row.name for row in found)
            wanted = [row for row in found if not given.airframe or row.name.lower() == given.airframe.lower()]
            if len(wanted) != 1:
                which = f"“{given.airframe}” is not one of them" if given.airframe else "say which with --airframe"
                raise CantOpen(f"{given.data} has {names or 'no airframe'}; {which}.")
            given.file.write_text(export_airframe(uow, wanted[0].id), encoding="utf-8")
            print(f"{wanted[0].name} is in {given.file} now.")
    finally:
        store.close()
    return 0


def _import(given: argparse.Namespace) -> int:
    try:
        text = given.file.read_text(encoding="utf-8")
    except (OSError, UnicodeDecodeError) as error:
        raise CantOpen(f"{given.file} can't be read ({error}).") from None
    app = create_app(given.data)
    store = app.extensions["kiteloom.store"]
    try:
        with store.writing() as uow:
            order = TakeAirframe(text, take=not given.look, replace=given.replace)
            looked = take_airframe(uow, order, SystemClock().now())
        for row in looked.rows:
            if row.what != "same":
                print(f"{row.what}: {row.kind} {row.name}{': ' if row.words else ''}{'; '.join(row.words)}")
        print(looked.sentence)
        return 0 if looked.taken or given.look else 1
    finally:
        store.close()


def _clock(text: str | None) -> Clock:
    if text is None:
        return SystemClock()
    moment = datetime.fromisoformat(text)
    return SetClock(moment if moment.tzinfo else moment.replace(tzinfo=ZoneInfo(week.ZONE)))


def _copies(given: argparse.Namespace) -> CopyTo | None:
    """Where copies go: beside the data folder where nobody said, which guards against little but a damaged file."""
    if given.copies is None:
        return CopyTo(given.data.absolute().with_name(f"{given.data.name}-copies"), own=True)
    return None if given.copies == "none" else CopyTo(Path(given.copies).absolute())


def opened(
    command: str,
    data: Path,
    clock: Clock,
    hosts: tuple[str, ...] = (),
    copies: CopyTo | None = None,
    *,
    here_only: bool = True,
) -> tuple[APIFlask, Watch]:
    """A data folder with its application and its watch, not started yet; the demo is seeded where it is empty."""
    if command == "demo" and (data / SEEDING).exists():
        shutil.rmtree(data)  # cut short: half a demo is none
    if command == "demo" and not (data / file.NAME).exists():
        data.mkdir(parents=True, exist_ok=True)
        (data / SEEDING).touch()
    app = create_app(data, clock, SimulatedScale() if command == "demo" else None, hosts, here_only=here_only)
    store, instruments = app.extensions["kiteloom.store"], Instruments()
    if command == "demo":
        if reedling.seed(store, clock.now(), whole=True):
            print(f"Seeded the Reedling in {data}.")
        (data / SEEDING).unlink(missing_ok=True)
        instruments = reedling.boathouse(store)
    return app, Watch(store, clock, instruments, copies, made_ahead)


def _serve(given: argparse.Namespace) -> int:
    here_only = given.listen in (HERE, "localhost", "::1")
    if not here_only and not given.host:
        print(
            f"At {given.listen} others reach it under a name or an address: say which, like --host boathouse.local",
            file=sys.stderr,
        )
        return 1
    if "WERKZEUG_RUN_MAIN" not in os.environ and _busy(given.listen, given.port):
        again = f"PORT={given.port + 1} make {given.command}"
        print(f"Port {given.port} is busy. Stop what uses it, or choose another: {again}", file=sys.stderr)
        return 1
    clock = _clock(given.clock)
    if given.command == "demo" and given.reset and given.data.exists():
        shutil.rmtree(given.data)
    app, watch = opened(given.command, given.data, clock, tuple(given.host), _copies(given), here_only=here_only)
    with app.extensions["kiteloom.store"].reading() as uow:
        doubt, nobody = clock_doubt(uow, clock.now()), not needed(uow)
    if not here_only and nobody:
        print(
            "Nobody has a PIN yet, so nobody on the network could be told from another. Give the first one on the "
            f"crew's page while it is served to this machine only, or here: kiteloom pin {given.data} NAME",
            file=sys.stderr,
        )
        _ended(app, watch)
        return 1
    if doubt:
        print(doubt, file=sys.stderr)
    reloads = given.command == "demo" and given.reload
    if not reloads or "WERKZEUG_RUN_MAIN" in os.environ:  # the process that only watches the source does not
        watch.start()
    at = f"{given.host[0] if given.host else HERE}:{given.port}"
    print(f"Kite Loom is at http{'s' if given.https else ''}://{at} (stop with Ctrl+C)", flush=True)
    if given.command == "demo" and given.reload:
        app.run(given.listen, given.port, use_reloader=True, threaded=True)
        return 0
    # A plan makes some hundred thousand small objects that all go at once: looking for rings among
    # them as often as Python does by itself takes a fifth of its time.
    gc.freeze()
    # Who answers a page waits for the next turn after each look into the file: while a plan is made, turns are short.
    sys.setswitchinterval(SWITCH_S)
    gc.set_threshold(50_000, 20, 100)
    signal.signal(signal.SIGTERM, _stopped)
    with tempfile.TemporaryDirectory() as folder:  # nobody else of this machine looks into it
        behind = Path(folder) / "server" if given.https else None
        server = server_of(app, given.listen, given.port, behind=behind)
        front = _front(app, given, behind) if behind is not None else None
        try:
            server.run()
        finally:
            if front is not None:
                front.stop()
            _ended(app, watch)
    return 0


def _front(app: APIFlask, given: argparse.Namespace, behind: Path) -> Front:
    """What speaks HTTPS, begun; it says what devices must be told."""
    names = (*given.host, HERE, "localhost")
    kept, anew = certificate(given.data, names, datetime.now().astimezone())
    app.config["ROOT"] = kept / ROOT
    if anew:
        at = f"https://{given.host[0] if given.host else HERE}:{given.port}/{ROOT}"
        print(
            f"A certificate for {', '.join(names)} was made. Each device must be told once to trust {kept / ROOT} "
            f"(also at {at}); docs/https.md says how.",
            flush=True,
        )
    front = Front(kept, given.listen, given.port, behind, CONNECTIONS)
    front.start()
    return front


def _ended(app: APIFlask, watch: Watch) -> None:
    watch.stop()
    app.extensions["kiteloom.worker"].close()
    app.extensions["kiteloom.store"].close()


def _stopped(_: int, __: FrameType | None) -> None:
    """Told to stop: end as Ctrl+C does, so that everything is written into the one file; told twice, no sooner."""
    signal.signal(signal.SIGTERM, signal.SIG_IGN)
    raise KeyboardInterrupt


def _busy(listen: str, port: int) -> bool:
    with socket.socket(socket.AF_INET6 if ":" in listen else socket.AF_INET) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((listen, port))
        except OSError:
            return True
    return False


if __name__ == "__main__":
    sys.exit(main())
