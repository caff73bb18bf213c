"""Questions put to the plan: what if, what would help most, how sure. Answered in the worker; made so, or left."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping
from dataclasses import asdict, dataclass, field, replace
from datetime import date, datetime
from importlib.metadata import version
from typing import Any, Literal

from sqlalchemy import select, text

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import Typed
from kiteloom.core.plan.how_sure import DRAWS, MOST_DRAWS
from kiteloom.core.plan.looks import compared, drawn, relieved_one_by_one
from kiteloom.core.plan.place import place
from kiteloom.core.plan.standing import MOVED_MIN
from kiteloom.store.models import PlanStudy
from kiteloom.store.unit_of_work import Store, UnitOfWork
from kiteloom.workshop.air.climate import MAIN, Heating, heating, need_temperature, zones
from kiteloom.workshop.base.memory import BESIDE
from kiteloom.workshop.base.saved import Kept
from kiteloom.workshop.base.worker import End, Search, Worker
from kiteloom.workshop.plan.learning import kind_of
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan
from kiteloom.workshop.plan.searches import take_order
from kiteloom.workshop.plan.standing import last_deed
from kiteloom.workshop.plan.supposing import BEFALLS, Supposed, suppose

Kind = Literal["what if", "helps", "sure"]

#: So long a question is looked into at the most [s].
MOST_S = 900.0

#: So long is waited for a what-if that gives way to another [s].
PATIENCE_S = 3.0


@dataclass(frozen=True)
class AskPlan:
    """A question to the plan. The client makes the id; ``changes`` are what is supposed, ``draws`` how many futures."""

    id: str
    kind: Kind
    changes: list[Supposed] = field(default_factory=list)
    draws: int = DRAWS
    seed: int = 1


_LOOKS: dict[Kind, Callable[..., Iterator[Any]]] = {
    "what if": compared,
    "helps": relieved_one_by_one,
    "sure": drawn,
}


def ask_plan(worker: Worker, store: Store, asked: AskPlan, now: datetime) -> Kept:
    """Have a question looked into, in its turn."""
    between("draws", asked.draws, 20, MOST_DRAWS, name="the number of plans drawn")
    between("seed", asked.seed, 0, 1_000_000, name="the seed")
    if asked.kind == "what if" and not asked.changes:
        raise Refused("changes", "nothing is supposed; add at least one change")
    with store.reading() as uow:
        if uow.session.get(PlanStudy, asked.id) is not None:
            return Kept(asked.id)
        shop, change = shop_plan(uow, minute_of(now)), last_deed(uow)
        if shop is None:
            raise need_temperature()
        given: tuple[Any, ...] = (shop.input,)
        if asked.kind == "sure":
            given = (shop.input, _spreads(shop), _held(uow), asked.draws, asked.seed)
        if asked.kind == "what if":
            other, _ = _changed(store, uow, asked.id, asked.changes, now)
            assert other is not None  # there was a temperature before
            given = (shop.input, other.input)
    if asked.kind != "what if" and asked.kind in worker.known():
        raise Refused("", "that is being looked into already; stop it first")
    if not any(placed.state in ("to do", "paused") for placed in shop.plan.placed):
        raise Refused("", "nothing is planned that could come sooner or later")
    with store.writing() as uow:
        if uow.session.get(PlanStudy, asked.id) is not None:
            return Kept(asked.id)
        uow.add(PlanStudy(id=asked.id, kind=asked.kind, asked=_as_kept(asked.changes), found={}, seed=asked.seed,
                          change=change, version=version("kiteloom"), state="waiting", words="",
                          asked_at=now))  # fmt: skip
        uow.changed("search", asked.id)
    if asked.kind == "what if":
        # Another takes the place of the one before; the same, pressed twice, came no further than here.
        worker.stop(asked.kind, PATIENCE_S)

    def told(found: dict[str, Any]) -> None:
        with store.writing() as uow:
            row = uow.get(PlanStudy, asked.id)
            row.found = found
            uow.changed("search", row.id)

    def ended(how: End, why: str) -> None:
        _told(store, asked.id, how, why)

    try:
        worker.ask(
            Search(
                asked.kind,
                _LOOKS[asked.kind],
                given,
                MOST_S,
                lambda: _told(store, asked.id, "looking", ""),
                told,
                ended,
            )
        )
    except Refused:
        with store.writing() as uow:  # somebody else was quicker: theirs is shown, not this
            uow.session.delete(uow.get(PlanStudy, asked.id))
            uow.changed("search", asked.id)
        raise
    return Kept(asked.id)


def _as_kept(changes: list[Supposed]) -> list[Any]:
    return [
        {name: value.isoformat() if isinstance(value, date) else value for name, value in asdict(one).items()}
        for one in changes
    ]


def supposed_of(row: PlanStudy) -> list[Supposed]:
    """The changes a what-if supposes."""
    return [
        Supposed(
            **one
            | {day: date.fromisoformat(one[day]) if one[day] else None for day in ("first", "last")}
            | {"value": Typed(**one["value"]) if one["value"] else None}
        )
        for one in row.asked
    ]


def _told(store: Store, study_id: str, state: str, words: str) -> None:
    with store.writing() as uow:
        row = uow.get(PlanStudy, study_id)
        row.state, row.words = state, words
        uow.changed("search", row.id)


def _spreads(shop: ShopPlan) -> dict[str, float]:
    """How far the minutes of each step may be off, where its kind was done here often enough."""
    found = {}
    for step in shop.input.steps:
        part = shop.parts.get(step.part)
        known = shop.learned.get(kind_of(part, step)) if part is not None and not step.by_plan else None
        if known is not None and not step.own:
            found[step.key] = known.spread
    return found


def _held(uow: UnitOfWork) -> list[str]:
    """The zones a heater holds round the clock, by the names the plan has for their airs."""
    return [
        "" if zone.id == MAIN else zone.id
        for zone in zones(uow)
        if zone.heat_c is not None and (zone.heat_from, zone.heat_to) == (0, 1440)
    ]


def newest_study(uow: UnitOfWork, kind: Kind) -> PlanStudy | None:
    """The last question of a kind, unless it was left."""
    query = select(PlanStudy).where(PlanStudy.kind == kind).order_by(text("plan_study.rowid DESC")).limit(1)
    row = uow.session.scalar(query)
    return row if row is not None and row.hidden_at is None else None


@dataclass(frozen=True, eq=False)
class Beside:
    """The shop as it is supposed beside the shop as it is.

    ``heating`` and ``heating_now`` are how much warmer heaters make their zones until the end, by zone [K·d].
    """

    shop: ShopPlan
    heating: Mapping[str, float]
    now: ShopPlan
    heating_now: Mapping[str, float]

    @property
    def differs_from(self) -> float | None:
        """When the first step ahead begins that has another time; None where none has [min]."""
        there = self.now.plan.by_key
        pairs = [(p.begins, there[p.step.key].begins) for p in self.shop.plan.placed if p.step.key in there]
        return min((min(pair) for pair in pairs if abs(pair[0] - pair[1]) >= MOVED_MIN), default=None)


def supposed_shop(store: Store, uow: UnitOfWork, row: PlanStudy, now: datetime) -> Beside | None:
    """The shop with its plan as it would be after what a what-if supposes, over what is known now.

    Raises
    ------
    Refused
        Where the shop can't be changed so any more.
    """

    def made() -> Beside | None:
        minute, there = minute_of(now), shop_plan(uow, minute_of(now))
        shop, heats = _changed(store, uow, row.id, supposed_of(row), now)
        if shop is None or there is None:
            return None
        keys = tuple(row.found.get("keys", ()))
        job = replace(shop.input, order=keys or shop.input.order, stands={})
        plan = place(job)
        ends = [one.finish or minute for one in (plan, there.plan)]
        return Beside(replace(shop, input=job, plan=plan), heats(ends[0]), there, heating(uow, minute)(ends[1]))

    state = (*_state(uow, now), row.id, bool(row.found))
    return uow.memory.made(state, "a plan that is supposed", made)


def _changed(
    store: Store, uow: UnitOfWork, study_id: str, changes: list[Supposed], now: datetime
) -> tuple[ShopPlan | None, Heating]:
    """The shop after changes, and what its heaters do; made once for all who ask in one minute."""

    def made() -> tuple[ShopPlan | None, Heating]:
        with store.supposing(lambda other: suppose(other, study_id, changes, now)) as other:
            return shop_plan(other, minute_of(now)), heating(other, minute_of(now))

    return uow.memory.made((*_state(uow, now), study_id), "a shop that is supposed", made)


def _state(uow: UnitOfWork, now: datetime) -> tuple[int, int]:
    return uow.last_change(BESIDE), math.floor(minute_of(now))


def make_it_so(store: Store, study_id: str, now: datetime) -> Kept:
    """Make the changes that were supposed, as far as they are the shop's, and take the order that goes with them."""

    def look(uow: UnitOfWork) -> Beside | None:
        return supposed_shop(store, uow, uow.get(PlanStudy, study_id), now)

    def keep(uow: UnitOfWork, found: Beside | None) -> Kept:
        row = uow.get(PlanStudy, study_id)
        if row.kept_at is not None:
            return Kept(row.id)
        changes = supposed_of(row)
        mine = [one for one in changes if one.kind not in BEFALLS]
        if not mine or found is None:
            raise Refused("", "what is supposed is not the shop's to make so")
        suppose(uow, row.id, mine, now)
        if len(mine) == len(changes):
            take_order(uow, found.shop.plan, now)
        row.kept_at = now
        uow.changed("plan", "what was supposed")
        uow.changed("search", row.id)
        return Kept(row.id)

    return store.after_a_look(look, keep)


def stop_study(worker: Worker, store: Store, study_id: str) -> Kept:
    """Stop looking into a question: what was found so far stays."""
    with store.reading() as uow:
        worker.stop(uow.get(PlanStudy, study_id).kind)
    return Kept(study_id)


def leave_study(uow: UnitOfWork, study_id: str, now: datetime) -> Kept:
    """Leave a question and what was found; the plan stays as it is."""
    row = uow.get(PlanStudy, study_id)
    row.hidden_at = row.hidden_at or now
    uow.changed("search", row.id)
    return Kept(row.id)


def settle(uow: UnitOfWork) -> None:
    """What was looked into when the program ended is not any more; what was found stays."""
    for row in uow.all(PlanStudy):
        if row.state in ("waiting", "looking"):
            row.state, row.words = "stopped", "the program was stopped meanwhile"
