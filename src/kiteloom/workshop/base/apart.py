"""The program that a worker runs apart: takes a search, sends what it finds, until nobody is there any more."""

from __future__ import annotations

import contextlib
import os
import signal
import sys
import time
from multiprocessing.connection import Connection

from kiteloom.core.base.problems import Refused


def serve(line: Connection) -> None:
    """Search after search, over a line to whoever asks."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    with contextlib.suppress(OSError):
        os.nice(5)
    while True:
        try:
            look, given, seconds = line.recv()
        except (EOFError, OSError):
            return
        try:
            last, until = None, time.monotonic() + seconds
            for found in look(*given):
                if found is not last:
                    line.send(("better", found))
                    last = found
                if time.monotonic() >= until:
                    break
            line.send(("end", ""))
        except Refused as refused:
            line.send(("refused", refused.sentence))
        except BrokenPipeError:
            return
        except Exception as error:  # the caller is told, and the next search has its turn
            line.send(("failed", f"it could not be looked for ({str(error)[:120] or type(error).__name__})"))


if __name__ == "__main__":
    serve(Connection(int(sys.argv[1])))
