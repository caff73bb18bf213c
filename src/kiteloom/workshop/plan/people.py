"""Who works here and where: skills, hours of their own, absences; stations and the zones they are in."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date, datetime

from kiteloom.core.base.calendar import WorkingHours, local_midnight, minute_of, moment_of
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.build.recipes import STATION_KINDS
from kiteloom.core.plan.input import Member
from kiteloom.store.models import Absence, CrewMember, Station, Zone
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.shop import in_shop_zone, shifts_of, the_shop, week_typed, zone_here
from kiteloom.workshop.base.sign_in import leaves

#: The skills recipes ask for; a shop may name others.
SKILLS = ("layup", "woodwork", "bonding", "finishing")


def crew_of(uow: UnitOfWork) -> list[CrewMember]:
    """Everybody who still works here, by name."""
    return [row for row in everybody(uow) if row.hidden_at is None]


def everybody(uow: UnitOfWork) -> list[CrewMember]:
    """Everybody who ever worked here, by name."""
    return uow.once("everybody", lambda: uow.all(CrewMember, CrewMember.name))


def stations_of(uow: UnitOfWork) -> list[Station]:
    """Every station there still is, by name."""
    rows = uow.once("stations", lambda: uow.all(Station, Station.name))
    return [row for row in rows if row.hidden_at is None]


def absences(uow: UnitOfWork) -> dict[str, list[Absence]]:
    """Everybody's absences that stand, by person."""

    def read() -> dict[str, list[Absence]]:
        found: dict[str, list[Absence]] = {}
        for row in uow.all(Absence, Absence.start):
            if row.hidden_at is None:
                found.setdefault(row.crew_member_id, []).append(row)
        return found

    return uow.once("absences", read)


def members(uow: UnitOfWork) -> tuple[Member, ...]:
    """The crew as the plan takes it."""
    zone, away = zone_here(uow), absences(uow)
    closed = frozenset(date.fromisoformat(day) for day in the_shop(uow).closed)
    found = []
    for row in crew_of(uow):
        shifts = shifts_of(row.hours)
        gone = tuple((minute_of(a.start), minute_of(a.end)) for a in away.get(row.id, ()))
        own = WorkingHours(zone, shifts, closed) if shifts else None
        found.append(Member(row.id, frozenset(row.skills), own, gone, row.name))
    return tuple(found)


@dataclass(frozen=True)
class SavePerson:
    """Somebody as typed; ``version`` 0 welcomes them. ``week`` are their hours as seven lines of text, Monday first."""

    id: str
    name: str
    version: int = 0
    skills: list[str] = field(default_factory=list)
    week: list[str] | None = None


def save_person(uow: UnitOfWork, order: SavePerson, now: datetime) -> None:
    """Welcome somebody, or change what is known of them."""
    name = order.name.strip()
    if not name:
        raise Refused("name", "the name is empty; give at least a first name")
    if any(row.name == name and row.id != order.id for row in crew_of(uow)):
        raise Refused("name", f"“{name}” works here already; add a letter to tell them apart")
    rows = week_typed(order.week) if order.week is not None else []
    skills = list(dict.fromkeys(skill.strip().lower()[:60] for skill in order.skills if skill.strip()))
    if order.version == 0 and uow.session.get(CrewMember, order.id) is None:
        uow.add(CrewMember(id=order.id, name=name[:60], skills=skills, hours=rows, updated_at=now))
        uow.changed("crew", order.id)
    elif order.version:
        row = uow.get_for_edit(CrewMember, order.id, order.version)
        row.name, row.skills, row.hours = name[:60], skills, rows
        uow.edited(row, [f"{name}: skills {', '.join(skills) or 'none'}"], now, "crew")


def say_farewell(uow: UnitOfWork, key: str, version: int, now: datetime) -> None:
    """Somebody does not work here any more; what they did stays theirs."""
    row = uow.get_for_edit(CrewMember, key, version)
    leaves(uow, row)
    row.hidden_at = now
    uow.edited(row, [f"{row.name} does not work here any more"], now, "crew")


@dataclass(frozen=True)
class GoAway:
    """An absence: from a moment to a moment; without an end, until the shop's next midnight."""

    id: str
    crew_member_id: str
    start: datetime | None = None
    end: datetime | None = None
    note: str = ""


def go_away(uow: UnitOfWork, order: GoAway, now: datetime) -> None:
    """Somebody is away for a while; nothing is planned for them then."""
    if uow.session.get(Absence, order.id) is not None:
        return
    person, zone = uow.get(CrewMember, order.crew_member_id), zone_here(uow)
    start = in_shop_zone(uow, order.start, "start") or _this_minute(now)
    end = in_shop_zone(uow, order.end, "end") or moment_of(local_midnight(minute_of(start) + 1440 + 60, zone), zone)
    if end <= start:
        raise Refused("end", f"{person.name} would be back before going; the end must lie after the start")
    between("end", (end - start).days, 0, 730, unit="days", name="the absence")
    uow.add(
        Absence(
            id=order.id, crew_member_id=person.id, start=start, end=end, note=order.note.strip()[:200], recorded_at=now
        )
    )
    uow.changed("crew", person.id)


def _this_minute(now: datetime) -> datetime:
    """Who goes or comes does so from the minute it is, so all who ask within it are told the same."""
    return now.replace(second=0, microsecond=0)


def come_back(uow: UnitOfWork, key: str, now: datetime) -> None:
    """An absence is taken back, or ends now when it has begun."""
    row = uow.get(Absence, key)
    row.end = min(row.end, _this_minute(now))
    if row.end <= row.start:
        row.hidden_at = now
    uow.changed("crew", row.crew_member_id)


@dataclass(frozen=True)
class SaveStation:
    """A station as typed; ``version`` 0 adds it."""

    id: str
    name: str
    capacity: int
    version: int = 0
    zone_id: str = ""
    serves: tuple[str, ...] = ()


def put_station_away(uow: UnitOfWork, key: str, version: int, now: datetime) -> None:
    """A station is not here any more; what stood on it stays written down."""
    row = uow.get_for_edit(Station, key, version)
    row.hidden_at = now
    uow.edited(row, [f"{row.name} is not here any more"], now, "crew")


def save_station(uow: UnitOfWork, order: SaveStation, now: datetime) -> None:
    """Set a station up, or change it."""
    name = order.name.strip()
    if not name:
        raise Refused("name", "the name is empty; say what it is, like “Second bench”")
    capacity = int(between("capacity", order.capacity, 0, 100, name=f"how many “{name}” serves"))
    zone = uow.get(Zone, order.zone_id).id if order.zone_id else None
    for kind in order.serves:
        if kind not in STATION_KINDS:
            raise Refused("serves", f"“{kind[:40]}” is nothing a step asks for; they are {', '.join(STATION_KINDS)}")
    same = next((row for row in stations_of(uow) if row.name.lower() == name.lower() and row.id != order.id), None)
    if same is not None:
        raise Refused("name", f"“{same.name}” is set up already; change that one, or add a letter to tell them apart")
    serves = list(dict.fromkeys(order.serves))
    if order.version == 0 and uow.session.get(Station, order.id) is None:
        uow.add(Station(id=order.id, name=name[:60], capacity=capacity, zone_id=zone, serves=serves, updated_at=now))
        uow.changed("crew", order.id)
    elif order.version:
        row = uow.get_for_edit(Station, order.id, order.version)
        row.name, row.capacity, row.zone_id, row.serves = name[:60], capacity, zone, serves
        uow.edited(row, [f"{name} serves {capacity} as {', '.join(serves) or 'nothing'}"], now, "crew")
