"""What Today says is worked out as soon as something was written, before any page asks for it."""

from __future__ import annotations

import logging
from threading import Event, Thread

from kiteloom.store.unit_of_work import Store
from kiteloom.views.today.today import today_view
from kiteloom.workshop.base.clock import Clock

log = logging.getLogger(__name__)


class Ahead:
    """Looks ahead after each write, in a thread of its own: who asks meanwhile waits for the rest of it."""

    def __init__(self, store: Store, clock: Clock) -> None:
        self._store, self._clock = store, clock
        self._wanted, self._over = Event(), False
        self._thread = Thread(target=self._run, name="ahead", daemon=True)

    def start(self) -> None:
        """Look ahead from now on."""
        self._store.written = self._wanted.set
        self._thread.start()

    def stop(self) -> None:
        """Look ahead no more; what is under way is finished first."""
        self._store.written = lambda: None
        self._over = True
        self._wanted.set()
        self._thread.join()

    def _run(self) -> None:
        while True:
            self._wanted.wait()
            self._wanted.clear()
            if self._over:
                return
            try:
                with self._store.reading() as uow:
                    today_view(uow, self._clock.now())
            except Exception:
                log.exception("nothing was seen ahead")
