"""What was found wrong on a part, what somebody decided, and the job that mends it."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from uuid import NAMESPACE_URL, uuid4, uuid5

from kiteloom.core.base.problems import Refused
from kiteloom.core.build.recipes import recipe_of
from kiteloom.core.log.deviations import KINDS, DecisionKind, State, state_of
from kiteloom.store.models import CrewMember, Decision, Deviation, Job, JobProduct, Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Kept
from kiteloom.workshop.base.saying import joined
from kiteloom.workshop.base.shop import in_shop_zone
from kiteloom.workshop.build.job_edits import AddJob, add_job
from kiteloom.workshop.build.jobs import hand_of, jobs_of
from kiteloom.workshop.build.parts import built_part
from kiteloom.workshop.log.mixes import on_steps
from kiteloom.workshop.log.signing import signed
from kiteloom.workshop.shape.shapes import form_of

#: The way of building that mends, by its key in the file.
MENDS = "patch"


@dataclass(frozen=True)
class FoundWrong:
    """What was found, as it was seen. The client makes the id.

    ``at`` is where on the part's outline, in the coordinates it is drawn in [m].
    """

    id: str
    part_id: str
    kind: str
    words: str = ""
    step_key: str = ""
    at: tuple[float, float] | None = None
    crew_member_id: str | None = None
    happened_at: datetime | None = None


@dataclass(frozen=True)
class Decide:
    """What is decided about it, by whom, and why; mending before which step."""

    id: str
    kind: DecisionKind
    crew_member_id: str | None = None
    note: str = ""
    before: str = ""


def find_wrong(uow: UnitOfWork, order: FoundWrong, now: datetime) -> Kept:
    """Write down what was found wrong; the same id again adds nothing."""
    if uow.kept_already(Deviation, order.id, part_id=order.part_id, kind=order.kind) is not None:
        return Kept(order.id)
    part = uow.get(Part, order.part_id)
    if order.kind not in KINDS:
        raise Refused("kind", f"“{order.kind[:40]}” is nothing that is found; it is one of {', '.join(KINDS)}")
    if order.kind in ("other", "changed") and not order.words.strip():
        raise Refused("words", "nothing was written; say in a few words what is wrong")
    happened = in_shop_zone(uow, order.happened_at) or now
    if happened > now:
        raise Refused("happened_at", "it lies in the future; it can't be later than now")
    place = None
    if order.at is not None and part.design.shape is not None:
        place = form_of(part.design.shape).shares(order.at, hand_of(part))
        if place is None:
            raise Refused("at", f"that point lies beside {part.name}; touch the part itself")
    if order.step_key:
        built_part(uow, part.id).step(order.step_key)
    who = uow.get(CrewMember, order.crew_member_id) if order.crew_member_id else None
    uow.add(
        Deviation(
            id=order.id,
            part_id=part.id,
            step_key=order.step_key,
            kind=order.kind,
            words=order.words.strip()[:500],
            along=place[0] if place else None,
            across=place[1] if place else None,
            crew_member_id=who.id if who else None,
            happened_at=happened,
            recorded_at=now,
        )
    )
    uow.changed("part", part.id)
    return Kept(order.id)


def decide(uow: UnitOfWork, deviation_id: str, order: Decide, now: datetime) -> Kept:
    """Write down what is decided; mending gets a job of its own, calling it off takes that out again."""
    if uow.kept_already(Decision, order.id, deviation_id=deviation_id, kind=order.kind) is not None:
        return Kept(order.id)
    deviation = uow.get(Deviation, deviation_id)
    who, note = signed(uow, order.crew_member_id, order.note)
    before = decisions(uow).get(deviation.id, [])
    last = before[-1] if before else None
    if last is not None and last.job_id is not None and order.kind != "mend":
        _call_off(uow, last.job_id, now)
    job_id = None
    if order.kind == "mend":
        job_id = last.job_id if last is not None and last.job_id else _mend(uow, deviation, order, now)
    uow.add(
        Decision(
            id=order.id,
            deviation_id=deviation.id,
            kind=order.kind,
            note=note,
            crew_member_id=who,
            job_id=job_id,
            happened_at=now,
            recorded_at=now,
        )
    )
    uow.changed("design", deviation.part_id)
    return Kept(order.id)


def _mend(uow: UnitOfWork, deviation: Deviation, order: Decide, now: datetime) -> str:
    part = uow.get(Part, deviation.part_id)
    if order.before:
        step = built_part(uow, part.id).step(order.before)
        if step.at_once:
            raise Refused("before", f"“{step.name}” must follow what comes before it at once; mend before another step")
    rows = jobs_of(part)
    key = str(uuid5(NAMESPACE_URL, f"kiteloom:mend/{order.id}"))
    add_job(uow, part.id, AddJob(key, MENDS, rows[-1].key if rows else None, alone=True), now)
    uow.session.flush()
    job = uow.get(Job, key)
    job.before_key = order.before
    if not job.products:
        _with_its_own_resin(job, rows)
    return key


def _with_its_own_resin(job: Job, others: Sequence[Job]) -> None:
    """What the part is built with is what it is mended with, where its jobs use one such product."""
    for role in recipe_of(job.recipe).roles:
        used = {row.data_sheet_id for other in others for row in other.products if row.data_sheet.kind in role.kinds}
        if len(used) == 1:
            job.products.append(JobProduct(role=role.key, data_sheet_id=used.pop()))


def _call_off(uow: UnitOfWork, job_id: str, now: datetime) -> None:
    """Mending is not wanted any more: its job is hidden, with all that was noted of it."""
    job = uow.get(Job, job_id)
    if job.hidden_at is None:
        job.hidden_at = now
        uow.edited(job, ["mending called off"], now, "design")


def deviations(uow: UnitOfWork) -> list[Deviation]:
    """What was found on all parts, the newest first."""
    return uow.once("deviations", lambda: uow.all(Deviation, Deviation.happened_at.desc()))


def state_now(uow: UnitOfWork, row: Deviation, *, mended: bool = False) -> State:
    """How one stands after what was decided of it; ``mended`` when the job that mends it is through."""
    return state_of(row.kind, [decision.kind for decision in decisions(uow).get(row.id, [])], mended)


def decisions(uow: UnitOfWork) -> dict[str, list[Decision]]:
    """What was decided of each deviation, in the order of its time."""

    def read() -> dict[str, list[Decision]]:
        found: dict[str, list[Decision]] = defaultdict(list)
        for row in uow.all(Decision, Decision.happened_at, Decision.recorded_at):
            found[row.deviation_id].append(row)
        return found

    return uow.once("decisions", read)


def scrapped(uow: UnitOfWork) -> dict[str, str]:
    """Parts that are to be made anew, and why."""
    return {
        row.part_id: f"it is scrapped: {decisions(uow)[row.id][-1].note}"
        for row in deviations(uow)
        if state_now(uow, row) == "scrapped"
    }


def as_built_otherwise(uow: UnitOfWork, parts: Sequence[Part], what: str, why: str, now: datetime) -> None:
    """Ask why what is laid already is changed on paper, and keep the answer as a deviation of each such part.

    Raises
    ------
    Refused
        If a mix is on one of the parts and nobody says why.
    """
    on = {part_id for part_id, _ in on_steps(uow)}
    laid = [part for part in parts if part.id in on]
    if not laid:
        return
    if not why.strip():
        names = joined([part.name for part in laid])
        raise Refused("reason", f"mixes are on {names} already: to change this now is a deviation. Why is it changed?")
    for part in laid:
        key = str(uuid4())
        says = {"happened_at": now, "recorded_at": now}
        words = f"{what}: {why.strip()}"[:500]
        uow.add(Deviation(id=key, part_id=part.id, step_key="", kind="changed", words=words, **says))
