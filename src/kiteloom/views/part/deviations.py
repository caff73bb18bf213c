"""What was found wrong on a part, and how each stands, as its Record shows it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from kiteloom.core.base.calendar import minute_of, when
from kiteloom.core.build.step_id import StepId
from kiteloom.core.log.deviations import KINDS, State
from kiteloom.core.shape.loft import Ring
from kiteloom.store.models import Decision, Deviation, Job, Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saying import Choice
from kiteloom.workshop.base.shop import zone_here
from kiteloom.workshop.build.jobs import hand_of
from kiteloom.workshop.log.deviations import decisions, deviations, state_now
from kiteloom.workshop.log.photos import photos_of
from kiteloom.workshop.plan.people import crew_of
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan
from kiteloom.workshop.shape.shapes import form_of

_SAYS = {
    "open": "Not decided yet.",
    "accepted": "Accepted",
    "to mend": "To be mended",
    "mended": "Mended",
    "scrapped": "Scrapped: the part is to be made anew",
}


@dataclass(frozen=True)
class DeviationView:
    """A deviation: what, where on the drawing (shares of span and chord), how it stands, what was decided, pictures.

    ``at`` is where it lies on the part's outline [m]; None where nobody pointed, or nothing is drawn. ``job`` is
    the key of the job that mends it.
    """

    id: str
    kind: str
    words: str
    state: State
    sentence: str
    at: tuple[float, float] | None
    trail: list[str]
    photos: list[str]
    job: str


@dataclass(frozen=True)
class DeviationsView:
    """All of a part's, and what is asked when another is written down."""

    part_id: str
    outline: tuple[Ring, ...]
    shape_kind: str
    deviations: list[DeviationView]
    kinds: list[str]
    crew: list[Choice]
    before: list[Choice]
    """Steps still to do that a mend may go before."""


def deviations_view(uow: UnitOfWork, part_id: str, now: datetime) -> DeviationsView:
    """Read them."""
    part = uow.get(Part, part_id)
    shop = shop_plan(uow, minute_of(now))
    shape = part.design.shape
    outline = form_of(shape).outline(hand_of(part)) if shape is not None else ()
    ahead = [
        Choice(placed.step.in_part, placed.step.name)
        for placed in (shop.plan.placed if shop else ())
        if placed.step.part == part_id and placed.state == "to do" and not placed.step.by_plan
        if not placed.step.at_once
    ]
    return DeviationsView(
        part_id,
        outline,
        shape.kind if shape is not None else "",
        [_view(uow, part, row, shop, now) for row in deviations(uow) if row.part_id == part_id],
        [kind for kind in KINDS if kind != "changed"],
        [Choice(member.id, member.name) for member in crew_of(uow)],
        ahead,
    )


def open_deviations(uow: UnitOfWork, now: datetime) -> list[tuple[Part, DeviationView]]:
    """What nobody has decided yet, of all parts, the newest first."""
    waiting = [row for row in deviations(uow) if state_now(uow, row) == "open"]
    return [(part, _view(uow, part, row, None, now)) for row in waiting for part in [uow.get(Part, row.part_id)]]


def _view(uow: UnitOfWork, part: Part, row: Deviation, shop: ShopPlan | None, now: datetime) -> DeviationView:
    zone, mine = zone_here(uow), decisions(uow).get(row.id, [])
    job = uow.get(Job, mine[-1].job_id) if mine and mine[-1].job_id else None
    state = state_now(uow, row, mended=_through(part, job, shop))
    at = when(minute_of(row.happened_at), zone, minute_of(now))
    who = f" by {row.crew_member.name}" if row.crew_member else ""
    words = f"{row.kind[:1].upper()}{row.kind[1:]}{f': {row.words}' if row.words else ''}. Found {at}{who}."
    if row.kind == "changed":
        words = f"{row.words}. {at[:1].upper()}{at[1:]}{who}."
    return DeviationView(
        row.id,
        row.kind,
        words,
        state,
        "" if row.kind == "changed" else _SAYS[state],
        _place(part, row),
        [_decided(decision, when(minute_of(decision.happened_at), zone, minute_of(now))) for decision in mine],
        photos_of(uow, "deviation", [row.id]).get(row.id, []),
        job.key if job and job.hidden_at is None else "",
    )


def _decided(row: Decision, at: str) -> str:
    verb = {"accept": "accepts it", "mend": "has it mended", "scrap": "scraps it", "open": "opens it again"}[row.kind]
    who = row.crew_member.name if row.crew_member else "Somebody"
    return f"{who} {verb}, {at}: {row.note}"


def _through(part: Part, job: Job | None, shop: ShopPlan | None) -> bool:
    """Whether every step of the job that mends it is done."""
    if job is None or shop is None:
        return False
    mine = [p for p in shop.plan.placed if p.step.part == part.id and StepId.of(p.step.key).job == job.key]
    return bool(mine) and all(placed.done for placed in mine)


def _place(part: Part, row: Deviation) -> tuple[float, float] | None:
    """Where it lies on the part's outline [m]."""
    if row.along is None or row.across is None or part.design.shape is None:
        return None
    return form_of(part.design.shape).point(row.along, row.across, hand_of(part))
