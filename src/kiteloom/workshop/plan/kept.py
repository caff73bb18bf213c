"""Plans that were kept: the one somebody accepted, and how it stood when the shop closed."""

from __future__ import annotations

from typing import Any, Literal

from sqlalchemy import select

from kiteloom.core.base.calendar import moment_of
from kiteloom.core.plan.placed import Plan
from kiteloom.store.models import KeptPlan
from kiteloom.store.unit_of_work import UnitOfWork


def keep_plan(uow: UnitOfWork, key: str, kind: Literal["accepted", "evening"], plan: Plan, at: float) -> KeptPlan:
    """Keep a plan as it is at a time; the same key again keeps nothing."""
    known = uow.session.get(KeptPlan, key)
    if known is not None:
        return known
    rows: list[dict[str, Any]] = [
        {
            "key": p.step.key,
            "name": p.step.name,
            "start": p.begins,
            "end": p.end,
            "ready": p.ready,
            "mixed": p.mixed,
            "state": p.state,
            "people": list(p.people),
        }
        for p in plan.placed
    ]
    moment = moment_of(at)
    finish = None if plan.finish is None else moment_of(plan.finish)
    kept = KeptPlan(id=key, kind=kind, rows=rows, finish=finish, happened_at=moment, recorded_at=moment)
    uow.add(kept)
    uow.changed("plan", key)
    return kept


def accepted(uow: UnitOfWork) -> KeptPlan | None:
    """The plan that was accepted last."""
    return _last(uow, "accepted")


def last_evening(uow: UnitOfWork, before: float) -> KeptPlan | None:
    """The plan as it stood when the shop closed last, before a time."""
    return _last(uow, "evening", before)


def _last(uow: UnitOfWork, kind: str, before: float | None = None) -> KeptPlan | None:
    query = select(KeptPlan).where(KeptPlan.kind == kind)
    if before is not None:
        query = query.where(KeptPlan.happened_at < moment_of(before))
    return uow.session.scalar(query.order_by(KeptPlan.happened_at.desc(), KeptPlan.recorded_at.desc()).limit(1))
