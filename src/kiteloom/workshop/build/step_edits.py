"""Changing a job's steps here: their minutes, and steps of the shop's own put in and taken out."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import datetime

from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import Typed
from kiteloom.core.build.recipes import STATION_KINDS
from kiteloom.core.build.step_id import StepId
from kiteloom.store.models import Job
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Saved
from kiteloom.workshop.build.own_steps import OWN
from kiteloom.workshop.build.parts import built_part

_KEY = re.compile(r"[\w. -]{1,60}")


@dataclass(frozen=True)
class OwnStep:
    """A step of the shop's own, as typed. The client makes the id, so a retry adds nothing."""

    version: int
    id: str
    name: str
    after: str
    minutes: Typed
    wait: Typed
    people: int = 1
    access: bool = False
    skills: tuple[str, ...] = ()
    stations: tuple[str, ...] = ()


@dataclass(frozen=True)
class NameStep:
    """What a step is called here; an empty name is the recipe's own again."""

    version: int
    step_key: str
    name: str


@dataclass(frozen=True)
class PlaceStep:
    """The stations a step of the shop's own needs, and keeps through its wait."""

    version: int
    step_key: str
    stations: tuple[str, ...] = ()


@dataclass(frozen=True)
class EditMinutes:
    """How long a step takes here; nothing goes back to what is assumed."""

    version: int
    step_key: str
    minutes: Typed | None = None


@dataclass(frozen=True)
class DropStep:
    """The step to take out."""

    version: int
    step_key: str


def edit_minutes(uow: UnitOfWork, part_id: str, order: EditMinutes, now: datetime) -> Saved:
    """Say how long a step takes here."""
    part, key, typed = built_part(uow, part_id), order.step_key, order.minutes
    step, local = part.step(key), StepId.within(part_id, key).local
    job = uow.get_for_edit(Job, part.job_of(key).id, order.version)
    minutes = dict(job.step_edits.get("minutes", {}))
    if typed is None:
        minutes.pop(local, None)
        words = f"{step.name}: minutes as assumed again"
    else:
        new = between("minutes", typed.read("time", "minutes"), 1, 10_000, unit="min", name=step.name)
        minutes[local] = new
        words = f"{step.name} {step.minutes:.0f} min → {new:.0f} min"
    job.step_edits = {**job.step_edits, "minutes": minutes}
    uow.edited(job, [words], now, "design")
    return Saved(job.version)


def add_step(uow: UnitOfWork, part_id: str, own: OwnStep, now: datetime) -> Saved:
    """Add a step of the shop's own after another; the same key again adds nothing."""
    part, key = built_part(uow, part_id), own.id
    before, at = part.step(own.after), part.job_of(own.after)
    rows = list(uow.get(Job, at.id).step_edits.get("own", ()))
    if any(row["key"] == OWN + key for row in rows):
        return Saved(at.version)
    if not _KEY.fullmatch(key):
        raise Refused("id", f"“{key[:20]}” can't be a step's id; letters, digits, dots and dashes are, at most 60")
    job = uow.get_for_edit(Job, at.id, own.version)
    if not own.name.strip():
        raise Refused("name", "the step has no name; give it one, like “Drill the drain”")
    rows.append(
        {
            "key": OWN + key,
            "name": own.name.strip()[:120],
            "after": StepId.within(part_id, own.after).local,
            "minutes": between("minutes", own.minutes.read("time", "minutes"), 1, 10_000, unit="min"),
            "people": int(between("people", own.people, 0, 20)),
            "wait_min": between("wait", own.wait.read("time", "wait"), 0, 100_000, unit="min", name="the wait"),
            "access": own.access,
            "skills": _skills(own),
            "stations": _stations(own.stations),
        }
    )
    job.step_edits = {**job.step_edits, "own": rows}
    uow.edited(job, [f"step “{own.name.strip()}” added after “{before.name}”"], now, "design")
    return Saved(job.version)


def name_step(uow: UnitOfWork, part_id: str, order: NameStep, now: datetime) -> Saved:
    """Say what a step is called here; facts stay with it, whatever its name."""
    part, key = built_part(uow, part_id), order.step_key
    step, local, name = part.step(key), StepId.within(part_id, key).local, order.name.strip()[:120]
    job = uow.get_for_edit(Job, part.job_of(key).id, order.version)
    names = dict(job.step_edits.get("names", {}))
    if name:
        names[local] = name
    else:
        names.pop(local, None)
    job.step_edits = {**job.step_edits, "names": names}
    uow.edited(job, [f"“{step.name}” is called “{name}”" if name else f"“{step.name}” as it was called"], now, "design")
    return Saved(job.version)


def place_step(uow: UnitOfWork, part_id: str, order: PlaceStep, now: datetime) -> Saved:
    """Say which stations a step of the shop's own needs."""
    part, key = built_part(uow, part_id), order.step_key
    step, local = part.step(key), StepId.within(part_id, key).local
    if not step.own:
        raise Refused("step_key", f"“{step.name}” belongs to the recipe, which says what it needs")
    job, stations = uow.get_for_edit(Job, part.job_of(key).id, order.version), _stations(order.stations)
    rows = [{**row, "stations": stations} if row["key"] == local else row for row in job.step_edits.get("own", ())]
    job.step_edits = {**job.step_edits, "own": rows}
    uow.edited(job, [f"“{step.name}” needs {', '.join(stations) or 'no station'}"], now, "design")
    return Saved(job.version)


def _stations(kinds: tuple[str, ...]) -> list[str]:
    for kind in kinds:
        if kind not in STATION_KINDS:
            raise Refused("stations", f"“{kind[:40]}” is no station; they are {', '.join(STATION_KINDS)}")
    return list(dict.fromkeys(kinds))


def _skills(own: OwnStep) -> list[str]:
    found = list(dict.fromkeys(skill.strip().lower() for skill in own.skills if skill.strip()))
    if found and not own.people:
        raise Refused("people", f"“{found[0]}” is asked of nobody: the step has no people; give it one or more")
    if any(len(skill) > 40 for skill in found):
        raise Refused("skills", "a skill is longer than 40 letters; shorten it")
    return found


def drop_step(uow: UnitOfWork, part_id: str, order: DropStep, now: datetime) -> Saved:
    """Take a step of the shop's own out again; what was noted of it stays."""
    part, key = built_part(uow, part_id), order.step_key
    step, local = part.step(key), StepId.within(part_id, key).local
    if not step.own:
        raise Refused("key", f"“{step.name}” belongs to the recipe; only steps of your own can be taken out")
    job = uow.get_for_edit(Job, part.job_of(key).id, order.version)
    rows = list(job.step_edits.get("own", ()))
    followed = next(row["after"] for row in rows if row["key"] == local)
    rows = [row for row in rows if row["key"] != local]
    rows = [{**row, "after": followed} if row["after"] == local else row for row in rows]
    job.step_edits = {**job.step_edits, "own": rows}
    uow.edited(job, [f"step “{step.name}” taken out"], now, "design")
    return Saved(job.version)
