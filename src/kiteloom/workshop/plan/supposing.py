"""What is supposed of the shop: changes it could make, or that could befall it. The shop's own orders make them.

So a change that is only looked at and one that is made are the same: a copy of the shop takes the order, or the shop.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import date, datetime, time, timedelta
from typing import Literal

from kiteloom.core.air.building import Day, with_mean_days
from kiteloom.core.base.calendar import local_midnight, minute_of
from kiteloom.core.base.fields import Asked
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import Typed
from kiteloom.store.models import DataSheet, Delivery, Forecast, OrderLine, Part, Station
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.air.climate import keep_forecast
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.base.shop import units_of, zone_here
from kiteloom.workshop.build.job_edits import ChangeJob, change_job
from kiteloom.workshop.build.jobs import jobs_of
from kiteloom.workshop.log.orders import TellOrder, tell_order
from kiteloom.workshop.plan.people import GoAway, SavePerson, SaveStation, go_away, save_person, save_station
from kiteloom.workshop.plan.wanted import ExpectDelivery, expect
from kiteloom.workshop.plan.ways import TakeWay, take_way

#: So many changes are supposed together at the most.
MOST_CHANGES = 12

#: The weather may be so much colder [K], for so many days; a delivery so much later or sooner [days].
MOST_COLDER_K, MOST_COLD_DAYS, MOST_LATE = 30.0, 60, 365

#: A forecast is carried on so far before days of it are made colder.
_AHEAD_DAYS = 120


_MORE = Asked("So many more", "count", low=1, high=20)
_COLDER = Asked(
    "Colder by", dimension="temperature difference", unit=("K", "°F"), low=0, high=MOST_COLDER_K, open_low=True
)
_LATER = Asked("Days later", "count", low=-MOST_LATE, high=MOST_LATE)


@dataclass(frozen=True)
class Supposed:
    """One change; which fields count goes by its kind.

    - ``heat``: a zone held at ``value`` round the clock.
    - ``person``: one more on the crew, with ``skills``, in the hours of ``week`` (seven lines, Monday first; the
      shop's where there are none), called ``name``.
    - ``away``: a person, from one day to another.
    - ``station``: ``count`` more served by a station, one where nothing is typed.
    - ``late``: a delivery or an order, ``count`` days later, a week where nothing is typed; sooner below 0.
    - ``product``: one product in place of another, in every job that takes it.
    - ``colder``: the weather outside, by ``value``, from one day to another.
    """

    kind: Literal["heat", "person", "away", "station", "late", "product", "colder"]
    of: str = ""
    value: Typed | None = None
    name: str = ""
    skills: list[str] = field(default_factory=list)
    week: list[str] | None = None
    first: date | None = None
    last: date | None = None
    count: str = ""
    to: str = ""

    @property
    def does(self) -> Literal["eases", "binds", ""]:
        """What it can do to the end of a plan and no other, where there is one."""
        if self.kind == "late":
            return "binds" if self.whole() >= 0 else "eases"
        return "eases" if self.kind in ("heat", "person", "station") else "binds" if self.kind == "away" else ""

    def whole(self) -> int:
        """How many, or how many days, as typed; `Refused` for what is no whole number within its limits."""
        asked, usual = (_LATER, "7") if self.kind == "late" else (_MORE, "1")
        return int(asked.value("count", self.count.strip() or usual))


#: What befalls a shop: it can be supposed, and nobody can make it so.
BEFALLS = ("colder",)


def suppose(uow: UnitOfWork, study_id: str, changes: Sequence[Supposed], now: datetime) -> None:
    """Make changes, one after the other: in a copy of the shop, or in the shop.

    Raises
    ------
    Refused
        For a change the shop can't make, as it would if it were made.
    """
    between("changes", len(changes), 0, MOST_CHANGES, name="the number of changes supposed together")
    for n, one in enumerate(changes):
        make(uow, stable_id(study_id, str(n), one.kind), one, now)
        uow.session.flush()


def make(uow: UnitOfWork, key: str, one: Supposed, now: datetime) -> None:
    """Make one change."""
    if one.kind == "heat":
        if one.value is None or not one.value.text.strip():
            raise Refused("value", "say how warm it is to be held")
        take_way(uow, TakeWay(key, "heat", one.of, heat=one.value), now)
    elif one.kind == "person":
        save_person(uow, SavePerson(key, one.name.strip() or "One more", skills=one.skills, week=one.week), now)
    elif one.kind == "away":
        first, last = days_said(one)
        start, back = (datetime.combine(day, time()) for day in (first, last + timedelta(days=1)))
        go_away(uow, GoAway(key, one.of, start, back), now)
    elif one.kind == "station":
        row = uow.get(Station, one.of)
        zone, serves = row.zone_id or "", tuple(row.serves)
        save_station(uow, SaveStation(row.id, row.name, row.capacity + one.whole(), row.version, zone, serves), now)
    elif one.kind == "late":
        _later(uow, key, one, now)
    elif one.kind == "product":
        _other_product(uow, one, now)
    else:
        _colder(uow, key, one, now)


def days_said(one: Supposed) -> tuple[date, date]:
    """From which day to which; `Refused` where it was not said."""
    if one.first is None or one.last is None:
        raise Refused("first" if one.first is None else "last", "say from which day to which")
    return one.first, one.last


def _later(uow: UnitOfWork, key: str, one: Supposed, now: datetime) -> None:
    today = now.astimezone(zone_here(uow)).date()
    delivery = uow.session.get(Delivery, one.of)
    if delivery is not None:
        day = max(max(delivery.expected_on, today) + timedelta(days=one.whole()), today)
        for row in together(uow, delivery):
            expect(uow, ExpectDelivery(row.id, row.part_id, row.step_key, row.what, day, row.version), now)
        return
    line = uow.get(OrderLine, one.of)
    day = max(line.expected_on or today, today) + timedelta(days=one.whole())
    tell_order(uow, line.id, TellOrder(key, "ordered", expected_on=max(day, today)), (), now)


def together(uow: UnitOfWork, delivery: Delivery) -> list[Delivery]:
    """What comes with a delivery: what other steps await under the same name and for the same day."""
    return [
        row
        for row in uow.all(Delivery, Delivery.id)
        if (row.what, row.expected_on) == (delivery.what, delivery.expected_on)
        and row.arrived_at is None
        and row.hidden_at is None
    ]


def _other_product(uow: UnitOfWork, one: Supposed, now: datetime) -> None:
    """Take another product in every job that takes one."""
    old, new = uow.get(DataSheet, one.of), uow.get(DataSheet, one.to)
    seen: set[str] = set()
    for part in uow.all(Part, Part.rank, Part.name):
        for job in jobs_of(part) if not part.hidden_at else ():
            roles = [row.role for row in job.products if row.data_sheet_id == old.id]
            if roles and job.id not in seen:
                seen.add(job.id)
                order = ChangeJob(job.key, job.version, products=dict.fromkeys(roles, new.id))
                change_job(uow, part.id, order, now)
    if not seen:
        raise Refused("of", f"no job takes {old.name}")


def _colder(uow: UnitOfWork, key: str, one: Supposed, now: datetime) -> None:
    """A forecast whose days between two are colder: the zones and their heaters follow it."""
    first, last = days_said(one)
    if last < first:
        raise Refused("last", f"{last} is before {first}; the last day can't be before the first")
    between("last", (last - first).days + 1, 1, MOST_COLD_DAYS, unit="days", name="so long it is colder")
    if one.value is None:
        raise Refused("value", "say by how much it is colder")
    kelvin = _COLDER.meant("value", one.value, units_of(uow))
    said = uow.all(Forecast, Forecast.happened_at.desc())
    if not said:
        raise Refused("kind", "no forecast was ever loaded: there is no weather that could be colder")
    zone = zone_here(uow)
    rows = said[0].days
    days = [Day(row["midnight"], row["low_c"], row["high_c"], row.get("dew_c")) for row in rows]
    spell = [local_midnight(minute_of(datetime.combine(day, time(12), zone)), zone) for day in (first, last)]

    def changed(day: Day) -> Day:
        if not spell[0] - 1 <= day.midnight <= spell[1] + 1:
            return day
        low = day.low_c - kelvin
        return replace(day, low_c=low, high_c=day.high_c - kelvin,
                       dew_c=None if day.dew_c is None else min(day.dew_c, low))  # fmt: skip

    keep_forecast(uow, key, [changed(day) for day in with_mean_days(days, _AHEAD_DAYS)], now)
