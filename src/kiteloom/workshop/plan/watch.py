"""The watch: takes in what probes log and what is forecast, raises alerts, copies the shop; once a second."""

from __future__ import annotations

import gc
import logging
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from threading import Event, Thread
from typing import Protocol

from sqlalchemy import select

from kiteloom.core.air.building import Day
from kiteloom.core.air.moisture import Air
from kiteloom.core.air.profile import DAY_MIN
from kiteloom.core.base.calendar import minute_of
from kiteloom.store.models import Forecast, PartTemperature
from kiteloom.store.unit_of_work import Store
from kiteloom.workshop.air.climate import keep_forecast
from kiteloom.workshop.air.parts import record_part
from kiteloom.workshop.air.readings import last_reading, record_readings
from kiteloom.workshop.base.clock import Clock
from kiteloom.workshop.base.copies import CopyTo, keep_copy
from kiteloom.workshop.plan.alerts import raise_alerts
from kiteloom.workshop.plan.late import keep_evening
from kiteloom.workshop.plan.standing import keep_standing

log = logging.getLogger(__name__)


#: A probe's memory goes back so far; what is older is lost [min].
MEMORY_MIN = 7 * DAY_MIN


#: A forecast is asked for again after so long [min].
FORECAST_MIN = 6 * 60.0


#: What plans left behind is gathered up so often [s].
COLLECT_S = 600
#: From this second of a minute on, what is shown is made for the next one.
AHEAD_S = 40


class Probe(Protocol):
    """Logs the air of a zone."""

    def readings(self, after: float, until: float) -> list[tuple[float, Air]]:
        """What was logged after one moment, up to another [min], oldest first; it may be nothing."""


class Forecaster(Protocol):
    """Says the weather outside."""

    def days(self, now: float) -> Sequence[Day]:
        """Today and the days after it."""


@dataclass(frozen=True)
class Instruments:
    """What a shop has to read from: a probe for each zone, probes on parts by part, and a forecast."""

    probes: Mapping[str, Probe] = field(default_factory=dict)
    on_parts: Mapping[str, Probe] = field(default_factory=dict)
    forecaster: Forecaster | None = None


class Watch:
    """Keeps the shop's air and alerts up to date."""

    def __init__(
        self,
        store: Store,
        clock: Clock,
        instruments: Instruments,
        copies: CopyTo | None = None,
        ahead: Callable[[Store, datetime], None] | None = None,
    ) -> None:
        self._store, self._clock, self._instruments, self._copies = store, clock, instruments, copies
        self._looked: tuple[int, int] | None = None
        self._ahead, self._made_in = ahead, -1
        self._end = Event()
        self._thread: Thread | None = None

    def tick(self) -> None:
        """Take in what is new, and raise what must be heard."""
        now = self._clock.now()
        for zone, probe in self._instruments.probes.items():
            self._read(zone, probe, now)
        for part, probe in self._instruments.on_parts.items():
            self._read_part(part, probe, now)
        self._forecast(now)
        with self._store.reading() as uow:
            look = (uow.last_change(), int(minute_of(now)))
        if look != self._looked:
            raise_alerts(self._store, now)
            keep_evening(self._store, now)
            if self._looked is not None and look[1] != self._looked[1]:
                keep_standing(self._store, now)  # once a minute: it makes several plans
                if self._copies is not None:
                    keep_copy(self._store, self._copies, now)
            self._looked = look
        if self._ahead is not None and now.second >= AHEAD_S and look[1] != self._made_in:
            self._ahead(self._store, now)
            self._made_in = look[1]

    def _read(self, zone: str, probe: Probe, now: datetime) -> None:
        minute = minute_of(now)
        with self._store.reading() as uow:
            last = last_reading(uow, zone, "probe")
        after = max(minute_of(last) if last else 0.0, minute - MEMORY_MIN)
        readings = probe.readings(after, minute)
        if readings:
            with self._store.writing() as uow:
                record_readings(uow, zone, readings, now)

    def _read_part(self, part: str, probe: Probe, now: datetime) -> None:
        minute = minute_of(now)
        with self._store.reading() as uow:
            query = select(PartTemperature.happened_at).where(PartTemperature.part_id == part)
            last = uow.session.scalar(query.order_by(PartTemperature.happened_at.desc()).limit(1))
        after = max(minute_of(last) if last else 0.0, minute - MEMORY_MIN)
        # A reading a quarter of an hour is enough for a part: it is slower than the air.
        readings = [(at, air.temp_c) for at, air in probe.readings(after, minute) if round(at) % 15 == 0]
        if readings:
            with self._store.writing() as uow:
                record_part(uow, part, readings, now)

    def _forecast(self, now: datetime) -> None:
        forecaster = self._instruments.forecaster
        if forecaster is None:
            return
        minute = minute_of(now)
        with self._store.reading() as uow:
            said = uow.session.scalar(select(Forecast.happened_at).order_by(Forecast.happened_at.desc()).limit(1))
        if said is None or minute - minute_of(said) >= FORECAST_MIN:
            with self._store.writing() as uow:
                keep_forecast(uow, f"forecast {int(minute)}", forecaster.days(minute), now)

    def start(self) -> None:
        """Tick every second in a thread of its own, until it is stopped."""
        self._end.clear()
        self._thread = Thread(target=self._run, name="watch", daemon=True)
        self._thread.start()

    def stop(self) -> None:
        """Tick no more; what is under way is finished first."""
        self._end.set()
        if self._thread is not None:
            self._thread.join()

    def _run(self) -> None:
        seconds = 0
        while not self._end.wait(1.0):
            seconds += 1
            if seconds % COLLECT_S == 0:
                gc.collect()  # plans leave rings behind, and in a quiet shop nothing else finds them
            try:
                self.tick()
            except Exception:
                # One bad second must not end the watch over a night's cure.
                log.exception("the watch missed a second")
