"""Uploaded files that wait to be taken, and how far the long ones are that are being taken."""

from __future__ import annotations

import time
from dataclasses import dataclass
from pathlib import Path
from threading import Lock

from kiteloom.core.base.problems import Refused
from kiteloom.store.unit_of_work import Missing

#: A file that was looked at and never taken is kept so long [s].
KEPT_S = 24 * 3600
#: And so many at once.
MOST_STAGED = 5


@dataclass(frozen=True)
class Far:
    """How far a long file is, 0 to 1, in words; ``running`` until it is over."""

    running: bool
    share: float
    words: str


class Stopped(Refused):
    """A builder stopped a long import: nothing was taken."""


class Tally:
    """How far the imports under way are, for pages that ask; kept in memory only."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._far: dict[str, Far] = {}
        self._stop: set[str] = set()

    def tell(self, key: str, share: float, words: str) -> None:
        """Say how far it is; raises `Stopped` when somebody asked to stop."""
        with self._lock:
            if key in self._stop:
                raise Stopped("file", "The import was stopped; nothing of the file was taken.")
            self._far[key] = Far(True, share, words)

    def stop(self, key: str) -> None:
        """Ask a running import to stop."""
        with self._lock:
            if key in self._far:
                self._stop.add(key)

    def over(self, key: str) -> None:
        """It has ended, this way or that."""
        with self._lock:
            self._far.pop(key, None)
            self._stop.discard(key)

    def far(self, key: str) -> Far:
        """How far it is."""
        with self._lock:
            return self._far.get(key, Far(False, 0.0, ""))


TALLY = Tally()


def stage(folder: Path, key: str, content: str) -> None:
    """Keep an uploaded file until it is taken; old ones go."""
    folder.mkdir(exist_ok=True)
    for old in folder.glob("*.csv"):
        if time.time() - old.stat().st_mtime > KEPT_S:
            old.unlink(missing_ok=True)
    kept = sorted(folder.glob("*.csv"), key=lambda old: old.stat().st_mtime)
    for old in kept[: max(len(kept) - MOST_STAGED + 1, 0)]:
        old.unlink(missing_ok=True)
    path = _staged(folder, key)
    half = path.with_suffix(".half")
    try:
        half.write_text(content, encoding="utf-8")
        half.replace(path)
    finally:
        half.unlink(missing_ok=True)


def unstage(folder: Path, key: str) -> None:
    """Let go of an uploaded file that was taken in."""
    _staged(folder, key).unlink(missing_ok=True)


def _staged(folder: Path, key: str) -> Path:
    if not key or len(key) > 36 or not all(ch.isascii() and (ch.isalnum() or ch == "-") for ch in key):
        raise Refused("id", f"“{key[:40]}” is not an id; it may have letters, figures and dashes")
    return folder / f"{key}.csv"


def staged(folder: Path, key: str) -> str:
    """An uploaded file's text."""
    path = _staged(folder, key)
    if not path.is_file():
        raise Missing("uploaded file", key)
    return path.read_text(encoding="utf-8")
