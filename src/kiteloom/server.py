"""The server: many tablets, slow ones and silent ones, without one of them stopping the others."""

from __future__ import annotations

import contextlib
import resource
import time
from pathlib import Path
from typing import Any

from apiflask import APIFlask
from waitress.channel import HTTPChannel
from waitress.server import create_server

from kiteloom.api.guard import LARGER

#: So many connections at once: a browser opens six.
CONNECTIONS = 1000
#: A connection that says nothing for so long is closed [s].
IDLE_S = 20
#: A request must have come whole within this, however it drips [s]: a photograph over a slow radio has.
REQUEST_S = 60
THREADS = 8


class Channel(HTTPChannel):
    """A connection that remembers since when a request has been coming in."""

    began: float | None = None

    def received(self, data: bytes) -> bool:
        """Take in what came."""
        if data and self.began is None:
            self.began = time.time()
        done: bool = super().received(data)
        if self.request is None:
            self.began = None
        return done

    def dripping(self, now: float) -> bool:
        """Whether a request has been coming in for too long."""
        return self.began is not None and self.request is not None and now - self.began > REQUEST_S


def server_of(app: APIFlask, listen: str, port: int, *, behind: Path | None = None) -> Any:
    """A server for an application, bound but not running yet; `OSError` when it can't be bound.

    With ``behind`` it listens at that socket in the file system only, for what speaks HTTPS before it.
    """
    _more_files()
    where: dict[str, Any] = {"host": listen, "port": port}
    if behind is not None:
        where = {"unix_socket": str(behind), "unix_socket_perms": "600", "url_scheme": "https"}
    found: Any = create_server(
        app,
        **where,
        threads=THREADS,
        connection_limit=CONNECTIONS,
        channel_timeout=IDLE_S,
        cleanup_interval=5,
        asyncore_use_poll=True,
        max_request_body_size=max(LARGER.values()),
        clear_untrusted_proxy_headers=True,
        ident=None,
    )
    found.channel_class = Channel
    silent = found.maintenance

    def maintenance(now: float) -> None:
        silent(now)
        for channel in list(found.active_channels.values()):
            if channel.dripping(now):
                channel.will_close = True

    found.maintenance = maintenance
    return found


def _more_files() -> None:
    """Let the process hold as many connections as it takes."""
    has, most = resource.getrlimit(resource.RLIMIT_NOFILE)
    wanted = max(CONNECTIONS + 200, has)
    if most == resource.RLIM_INFINITY or most >= wanted:
        with contextlib.suppress(OSError, ValueError):
            resource.setrlimit(resource.RLIMIT_NOFILE, (wanted, most))
