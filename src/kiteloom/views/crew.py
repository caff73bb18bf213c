"""Who works here and where, as the Crew page shows it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from kiteloom.core.base.calendar import minute_of, moment_of, when
from kiteloom.core.build.recipes import STATION_KINDS
from kiteloom.store.models import Zone
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.sign_in import ROLES, GuestView, guests_view
from kiteloom.workshop.base.saying import Choice, joined
from kiteloom.workshop.base.shop import the_shop, week_of, zone_here
from kiteloom.workshop.base.sign_in import have_secrets
from kiteloom.workshop.build.parts import built_parts
from kiteloom.workshop.log.hours import hours_so_far, hours_words
from kiteloom.workshop.plan.people import SKILLS, absences, crew_of, stations_of


@dataclass(frozen=True)
class AwayView:
    """When somebody is away."""

    id: str
    start: datetime
    end: datetime
    words: str


@dataclass(frozen=True)
class PersonView:
    """Somebody who works here. ``week`` are their own hours as seven lines of text, Monday first.

    All empty they keep the shop's. ``hours_words`` says what was noted of their work so far. ``has_pin`` says whether
    they can sign in, ``may`` what as.
    """

    id: str
    name: str
    skills: list[str]
    week: list[str]
    hours_words: str
    away: list[AwayView]
    here: bool
    version: int
    role: str
    may: str
    has_pin: bool


@dataclass(frozen=True)
class StationView:
    """A place or device."""

    id: str
    name: str
    capacity: int
    zone_id: str
    version: int
    serves: list[str]


@dataclass(frozen=True)
class Unserved:
    """A kind of station that steps of this shop ask for and nothing serves as."""

    kind: str
    words: str


@dataclass(frozen=True)
class PeopleView:
    """Everybody and every place, the skills there are, what stations may serve as, and what nothing does."""

    people: list[PersonView]
    stations: list[StationView]
    skills: list[str]
    zones: list[Choice]
    kinds: list[str]
    unserved: list[Unserved]
    roles: list[Choice]
    guests: list[GuestView]


def people_view(uow: UnitOfWork, now: datetime) -> PeopleView:
    """Read who and where."""
    zone, minute, away = zone_here(uow), minute_of(now), absences(uow)
    worked, can, found = hours_so_far(uow, now), have_secrets(uow), []
    for row in crew_of(uow):
        mine = [a for a in away.get(row.id, ()) if minute_of(a.end) > minute]
        views = [
            AwayView(
                a.id,
                moment_of(minute_of(a.start), zone),
                moment_of(minute_of(a.end), zone),
                f"{when(minute_of(a.start), zone, minute)} to {when(minute_of(a.end), zone, minute)}"
                + (f": {a.note}" if a.note else ""),
            )
            for a in mine
        ]
        here = not any(minute_of(a.start) <= minute for a in mine)
        found.append(
            PersonView(
                row.id,
                row.name,
                list(row.skills),
                week_of(row.hours, the_shop(uow).clock),
                hours_words(worked.by_person.get(row.id, 0.0)),
                views,
                here,
                row.version,
                row.role,
                ROLES[row.role],
                row.id in can,
            )
        )
    known = dict.fromkeys([*SKILLS, *(skill for person in found for skill in person.skills)])
    stations = [
        StationView(s.id, s.name, s.capacity, s.zone_id or "", s.version, list(s.serves)) for s in stations_of(uow)
    ]
    zones = [Choice(row.id, row.name) for row in uow.all(Zone, Zone.rank)]
    return PeopleView(
        found,
        stations,
        list(known),
        zones,
        list(STATION_KINDS),
        _unserved(uow),
        [Choice(role, words) for role, words in ROLES.items()],
        guests_view(uow, now),
    )


def _unserved(uow: UnitOfWork) -> list[Unserved]:
    """Kinds that steps ask for and no station serves as, with the parts that ask."""
    served = {kind for row in stations_of(uow) for kind in row.serves}
    asking: dict[str, list[str]] = {}
    for part in built_parts(uow):
        for kind in dict.fromkeys(kind for step in part.steps for kind in step.stations):
            if kind not in served:
                asking.setdefault(kind, []).append(part.name)
    return [
        Unserved(kind, f"Asked for by {joined(names[:3])}{' and more' if len(names) > 3 else ''}")
        for kind, names in asking.items()
    ]
