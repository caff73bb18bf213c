"""A process apart for what takes long, so that every page answers meanwhile: one search at a time, few waiting.

What it finds comes back better and better. It may be stopped at any moment: the best so far is kept.
"""

from __future__ import annotations

import contextlib
import sys
import time
from collections import deque
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from multiprocessing import Pipe
from multiprocessing.connection import Connection
from subprocess import DEVNULL, Popen
from threading import Condition, Thread
from typing import Any, Literal

from kiteloom.core.base.problems import Refused

#: So many may wait for their turn.
WAITING = 6
#: What is better is handed on no more often [s].
_OFTEN_S = 0.8
#: A stop is heeded so soon [s].
_HEED_S = 0.1

End = Literal["done", "stopped", "failed"]


@dataclass(frozen=True)
class Search:
    """Something to look for.

    Parameters
    ----------
    key : str
        What it is stopped by; one search of a key at a time.
    look : function
        A generator of better and better answers, importable by its name, and what it is given; both are pickled.
    seconds : float
        How long it is asked for better ones [s].
    began, better, ended : functions
        Told when its turn has come, of each better answer, and how it ended with why in words.
    """

    key: str
    look: Callable[..., Iterator[Any]]
    given: tuple[Any, ...]
    seconds: float
    began: Callable[[], None]
    better: Callable[[Any], None]
    ended: Callable[[End, str], None]


class Worker:
    """The process, and those who wait for it. Nothing is started before it is asked."""

    def __init__(self) -> None:
        self._turn = Condition()  # entered again by who is in it
        self._waiting: deque[Search] = deque()
        self._now: Search | None = None
        self._stopped = False
        self._closed = False
        self._thread: Thread | None = None
        self._process: Popen[bytes] | None = None
        self._line: Connection | None = None

    def ask(self, search: Search) -> None:
        """Look for something in its turn; `Refused` where too many wait, it is looked for, or the program ends."""
        with self._turn:
            if self._closed:
                raise Refused("", "the program is being ended; try again when it has started")
            if search.key in self.known():
                raise Refused("", "it is being looked for already; stop that first")
            if len(self._waiting) >= WAITING:
                raise Refused("", f"{WAITING} wait for their turn already; try again when one is through, or stop one")
            self._waiting.append(search)
            if self._thread is None:
                self._thread = Thread(target=self._run, name="worker", daemon=True)
                self._thread.start()
            self._turn.notify_all()

    def stop(self, key: str, patience_s: float = 0.0) -> bool:
        """Stop a search, or take it out of the queue, and wait so long until it is; False where there is none of that
        key."""
        with self._turn:
            for one in self._waiting:
                if one.key == key:
                    self._waiting.remove(one)
                    Thread(target=one.ended, args=("stopped", ""), daemon=True).start()
                    return True
            if self._now is None or self._now.key != key:
                return False
            self._stopped = True
            self._turn.wait_for(lambda: self._now is None or self._now.key != key, patience_s)
            return True

    def known(self) -> frozenset[str]:
        """What is looked for, or waits, by its keys."""
        with self._turn:
            return frozenset(one.key for one in (*self._waiting, *([self._now] if self._now else [])))

    def close(self) -> None:
        """Stop everything and wait until it is over; nothing can be asked any more."""
        with self._turn:
            self._closed = self._stopped = True
            self._waiting.clear()
            self._turn.notify_all()
        if self._thread is not None:
            self._thread.join(10)

    def _run(self) -> None:
        while True:
            with self._turn:
                while not self._waiting and not self._closed:
                    self._turn.wait()
                if self._closed:
                    self._end_process()
                    return
                search = self._now = self._waiting.popleft()
                self._stopped = False
            try:
                search.began()
                how, why = self._look(search)
            except Exception as error:  # whatever went wrong, the next one has its turn
                how, why = "failed", f"it could not be looked for ({str(error)[:120] or type(error).__name__})"
                self._end_process()
            with contextlib.suppress(Exception):
                search.ended(how, why)
            with self._turn:
                self._now = None
                self._turn.notify_all()

    def _look(self, search: Search) -> tuple[End, str]:
        line = self._line_to_process()
        line.send((search.look, search.given, search.seconds))
        newest, told = None, 0.0
        while True:
            with self._turn:
                stopped = self._stopped
            if stopped:
                self._end_process()
                if newest is not None:
                    search.better(newest)
                return "stopped", ""
            if line.poll(_HEED_S):
                kind, what = line.recv()
                if kind == "better":
                    newest = what
                else:
                    if newest is not None:
                        search.better(newest)
                    return ("done", "") if kind == "end" else ("failed", what)
            if newest is not None and time.monotonic() - told >= _OFTEN_S:
                search.better(newest)
                newest, told = None, time.monotonic()

    def _line_to_process(self) -> Connection:
        if self._line is None or self._process is None or self._process.poll() is not None:
            self._line, there = Pipe()
            # A program of its own: what is searched for needs little of this one, and is there the sooner.
            apart = [sys.executable, "-m", "kiteloom.workshop.base.apart", str(there.fileno())]
            self._process = Popen(apart, pass_fds=(there.fileno(),), stdin=DEVNULL)
            there.close()
        return self._line

    def _end_process(self) -> None:
        if self._process is not None:
            self._process.kill()
            self._process.wait()
        if self._line is not None:
            self._line.close()
        self._process = self._line = None
