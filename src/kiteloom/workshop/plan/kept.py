"""Plans that were kept: the one somebody accepted, and how it stood when the shop closed."""

from __future__ import annotations

import zlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from importlib.metadata import version
from typing import Any, Literal

from sqlalchemy import select

from kiteloom.core.base.calendar import moment_of
from kiteloom.core.plan.input import PlanInput
from kiteloom.core.plan.plan import Plan
from kiteloom.formats.plan_input import read, written
from kiteloom.store.models import KeptPlan, PlanSearch
from kiteloom.store.unit_of_work import UnitOfWork


@dataclass(frozen=True)
class MadeFrom:
    """What a plan was made from, packed, and the seed of the search its order came from; None where it was none."""

    packed: bytes
    seed: int | None = None


def made_from(uow: UnitOfWork, job: PlanInput, plan: Plan) -> MadeFrom:
    """What a plan was made from, ready to be kept: packing takes a while, and is not done in a write."""
    ahead = {p.step.key for p in plan.placed if p.state == "to do"}
    found = uow.session.scalar(
        select(PlanSearch).where(PlanSearch.kept_at.is_not(None)).order_by(PlanSearch.kept_at.desc()).limit(1)
    )
    same = found is not None and _of(found.keys, ahead) == _of(plan.order, ahead)
    return MadeFrom(zlib.compress(written(job).encode()), found.seed if found is not None and same else None)


def _of(keys: Sequence[str], ahead: set[str]) -> list[str]:
    return [key for key in keys if key in ahead]


def input_of(kept: KeptPlan) -> PlanInput | None:
    """What a kept plan was made from; None where that was not kept."""
    return None if kept.made_from is None else read(zlib.decompress(kept.made_from).decode())


def keep_plan(
    uow: UnitOfWork,
    key: str,
    kind: Literal["accepted", "evening"],
    plan: Plan,
    at: float,
    made: MadeFrom | None = None,
) -> KeptPlan:
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
    kept = KeptPlan(id=key, kind=kind, rows=rows, finish=finish, keys=list(plan.order) if made is not None else [],
                    made_from=made.packed if made is not None else None, seed=made.seed if made is not None else None,
                    version=version("kiteloom"), happened_at=moment, recorded_at=moment)  # fmt: skip
    uow.add(kept)
    uow.changed("plan", key)
    return kept


def accepted(uow: UnitOfWork) -> KeptPlan | None:
    """The plan that was accepted last."""
    query = select(KeptPlan).where(KeptPlan.kind == "accepted")
    return uow.session.scalar(query.order_by(KeptPlan.happened_at.desc(), KeptPlan.recorded_at.desc()).limit(1))


@dataclass(frozen=True)
class Evening:
    """The plan as it stood when the shop closed: when that was, its end, and the steps by key."""

    happened_at: datetime
    finish: datetime | None
    rows: Mapping[str, dict[str, Any]]


def last_evening(uow: UnitOfWork, before: float) -> Evening | None:
    """The plan as it stood when the shop closed last, before a time."""
    query = select(KeptPlan.id).where(KeptPlan.kind == "evening", KeptPlan.happened_at < moment_of(before))
    key = uow.session.scalar(query.order_by(KeptPlan.happened_at.desc(), KeptPlan.recorded_at.desc()).limit(1))

    def read() -> Evening:
        kept = uow.get(KeptPlan, key)
        return Evening(kept.happened_at, kept.finish, {row["key"]: row for row in kept.rows})

    # What was kept stays as it is: it is unpacked once.
    return uow.memory.made(key, "last evening", read) if key is not None else None
