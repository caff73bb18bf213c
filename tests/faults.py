"""Killed in mid-save: a process that writes is killed again and again, and what it was told is kept is looked for."""

from __future__ import annotations

import json
import os
import random
import signal
import sqlite3
import subprocess
import sys
import time
from contextlib import closing
from pathlib import Path
from uuid import uuid4

from kiteloom.store import file

ROOT = Path(__file__).parents[1]


def _writes(folder: Path, first: str) -> None:
    """Batches one after the other, each told of before it is sent and once it is acknowledged.

    What was sent last and not acknowledged is sent again first, as a page does.
    """
    from tests.conftest import Shop
    from tests.workshop.test_bench import keep

    shop = Shop(folder)
    part, key = shop.part("Left wing, upper skin"), first
    while True:
        print("sent", key, flush=True)
        keep(shop, part, id=key, another=True, masses=(300, 84))
        print("kept", key, flush=True)
        key = str(uuid4())


class Killed:
    """A shop whose program is killed in mid-save, so many times; ``kept`` is what it acknowledged."""

    def __init__(self, folder: Path, seed: int = 1) -> None:
        self.folder, self.kept, self.left = folder, [], ""
        self._chance = random.Random(seed)
        self._forks = subprocess.Popen(
            [sys.executable, "-c", "from tests.faults import forks; forks()", str(folder)],
            stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True, cwd=ROOT,
            env={**os.environ, "PYTHONPATH": str(ROOT)},
        )  # fmt: skip

    def once(self) -> None:
        """Let it write, kill it at some moment, and look into the file."""
        self.left = self.left or str(uuid4())
        said = self._ask(self.left, self._chance.uniform(0, 0.06))
        sent = [line.split()[1] for line in said if line.startswith("sent")]
        mine = [line.split()[1] for line in said if line.startswith("kept")]
        assert sent, said
        self.kept += mine
        self.left = "" if sent[-1] in mine else sent[-1]
        self.look()

    def look(self) -> None:
        """Everything acknowledged is there once, and the file is whole."""
        file.checked(self.folder / file.NAME)
        with closing(sqlite3.connect(self.folder / file.NAME)) as raw:
            rows = [row[0] for row in raw.execute("SELECT id FROM batch")]
        assert len(rows) == len(set(rows))
        assert set(self.kept) <= set(rows)

    def close(self) -> None:
        """End the process that forks."""
        self._forks.stdin.close()
        self._forks.wait()

    def _ask(self, first: str, after: float) -> list[str]:
        print(json.dumps([first, after]), file=self._forks.stdin, flush=True)
        return json.loads(self._forks.stdout.readline())


def forks() -> None:
    """For each line of standard input: fork, let the fork write, and kill it so long after it began to."""
    import tests.conftest
    import tests.workshop.test_bench  # noqa: F401  # loaded once for all forks

    folder = Path(sys.argv[1])
    for line in sys.stdin:
        first, after = json.loads(line)
        read, write = os.pipe()
        pid = os.fork()
        if pid == 0:
            os.dup2(write, 1)
            _writes(folder, first)
        os.close(write)
        with os.fdopen(read) as lines:
            said = [lines.readline(), lines.readline()]  # the first is kept, and everything warm
            time.sleep(after)
            os.kill(pid, signal.SIGKILL)
            os.waitpid(pid, 0)
            said += lines.readlines()
        print(json.dumps(said), flush=True)
