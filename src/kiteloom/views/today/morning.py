"""The first morning: what a shop still has to say before there is a plan, one thing at a time."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from sqlalchemy import func, select

from kiteloom.store.models import Job, Part, Project
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.shop import the_shop
from kiteloom.workshop.plan.people import crew_of, stations_of

Matter = Literal["people", "stations", "air", "airframe", "part", "job"]


@dataclass(frozen=True)
class Begin:
    """One thing to say: its sentence, why, and the button; ``id`` is the airframe or part it is about.

    ``skip`` are the words of the button that puts it off; ``""`` where nothing goes on without it.
    """

    matter: Matter
    sentence: str
    detail: str
    button: str
    skip: str
    id: str = ""


@dataclass(frozen=True)
class Morning:
    """What to say next, and what was put off and is missed now."""

    next: Begin | None
    missed: list[Begin]


def morning(uow: UnitOfWork, *, has_air: bool) -> Morning:
    """What is still to be said.

    What was put off is asked for again only where it is missed: without any temperature nothing can be planned; without
    people or stations a plan is made as if there were enough.
    """
    skipped, open_ = set(the_shop(uow).skipped), list(_open(uow, has_air=has_air))
    ahead = [one for one in open_ if one.matter not in skipped]
    put_off = [one for one in open_ if one.matter in skipped]
    if ahead:
        return Morning(ahead[0], [])
    # Nothing else is left to say: what stands in the plan's way comes first.
    first = next((one for one in put_off if one.matter == "air"), None)
    return Morning(first, [one for one in put_off if one is not first])


def _open(uow: UnitOfWork, *, has_air: bool) -> Iterator[Begin]:
    if not crew_of(uow):
        yield Begin(
            "people",
            "Who works here?",
            "Nothing is planned for somebody outside their hours, or for work whose skill nobody on it has.",
            "Welcome them",
            "Later: plan as if there were enough people",
        )
    if not stations_of(uow):
        yield Begin(
            "stations",
            "What stands in the shop?",
            "A step waits until its bench, jig or pump is free; a part keeps it until its cure lets go.",
            "These are here",
            "Later: plan as if there were room",
        )
    if not has_air:
        yield Begin(
            "air",
            "How warm is it here tonight?",
            "Every cure is computed from the shop’s own temperature. Tonight’s low and tomorrow’s high are enough to "
            "begin with; a logger’s file or a probe makes it sharper.",
            "Plan with these",
            "Later: without it nothing can be planned",
        )
    airframe = uow.session.scalar(select(Project.id).order_by(Project.rank, Project.name).limit(1))
    if airframe is None:
        yield Begin(
            "airframe", "What is being built?", "Give the aircraft a name; its parts come next.", "Found it", ""
        )
        return
    part = uow.session.execute(
        select(Part.id, Part.name).where(Part.hidden_at.is_(None)).order_by(Part.rank).limit(1)
    ).first()
    if part is None:
        yield Begin(
            "part",
            "Found the first part.",
            "A wing skin, a rudder, a set of ribs: its name, its shape from a drawing or a tape measure, and the first "
            "way of building it.",
            "Found a part",
            "",
            airframe,
        )
    elif not uow.session.scalar(select(func.count()).select_from(Job).where(Job.hidden_at.is_(None))):
        yield Begin(
            "job",
            f"How is {part.name} built?",
            "A job is one way of building: skinned over foam, glued of wood, varnished. Its steps, hours and amounts "
            "follow.",
            "Choose its first job",
            "",
            part.id,
        )
