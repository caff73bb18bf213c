"""Where we left off: after days away, what was done last, half done, changed, and to be checked first."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import func, select

from kiteloom.core.base.calendar import day_words, minute_of, moment_of
from kiteloom.core.base.quantities import show
from kiteloom.store.models import Batch, DataSheet, Delivery, Lot, Work
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.stores.lots import lot_view
from kiteloom.workshop.base.saying import joined
from kiteloom.workshop.base.shop import zone_here
from kiteloom.workshop.plan.plan import ShopPlan

#: After so long without a note the card is shown [min].
AWAY_MIN = 3 * 1440.0


@dataclass(frozen=True)
class ResumeCard:
    """After an absence: each a few sentences; empty ones are left out."""

    away: str
    last_done: list[str]
    half_done: list[str]
    expired: list[str]
    arrived: list[str]
    check_first: list[str]


def resume_card(uow: UnitOfWork, shop: ShopPlan) -> ResumeCard | None:
    """The card, when nobody has noted anything for three days; else None."""
    newest = (select(func.max(Work.happened_at)).where(Work.kind != "undo"), select(func.max(Batch.happened_at)))
    noted = [at for query in newest if (at := uow.session.scalar(query)) is not None]
    last = max((minute_of(at) for at in noted), default=None)
    if last is None or shop.now - last < AWAY_MIN:
        return None
    say, now = shop.saying, shop.now
    finished = sorted(
        (p for p in shop.plan.placed if p.state == "done" and (fact := shop.fact(p.step.key)) and fact.finished),
        key=lambda p: p.end,
    )
    done = [
        f"{p.step.name}, {shop.names[p.step.part]}, {say.at(p.end)}"
        + (f" by {joined([shop.names.get(who, who) for who in p.people])}" if p.people else "")
        + "."
        for p in finished[-3:][::-1]
    ]
    half = [
        f"{p.step.name}, {shop.names[p.step.part]}: {say.lasting(sum(b - a for a, b in p.pieces[: p.worked]))} "
        f"of about {say.lasting(p.step.length)} done."
        for p in shop.plan.placed
        if p.state == "paused"
    ]
    half += [
        f"{p.step.name}, {shop.names[p.step.part]}: begun {say.at(p.pieces[-1][0])}; was it finished?"
        for p in shop.plan.placed
        if p.state == "running"
    ]
    half += [
        f"{p.step.name}, {shop.names[p.step.part]}: {show(left, 'mass', say.units)} of it were never mixed."
        for p in shop.plan.placed
        if p.state == "done" and (left := shop.left_g(p.step.key)) > 0
    ]
    check = [
        f"{shop.plan.by_key[key].step.name}, {shop.names[key.partition(':')[0]]}: press its witness before going on."
        for key in dict.fromkeys(key for p in shop.plan.placed if p.state == "to do" for key in shop.unreleased(p.step))
        if key in shop.plan.by_key
    ]
    check += [
        f"{left.step.name}, {shop.names[left.step.part]}: {left.why}." for left in shop.plan.unplaced if left.missed
    ]
    return ResumeCard(
        f"Nothing was noted for {int((now - last) // 1440)} days, since {say.at(last)}.",
        done,
        half,
        _expired(uow, last, now),
        _arrived(uow, last, now, shop),
        check,
    )


def _expired(uow: UnitOfWork, last: float, now: float) -> list[str]:
    """Lots whose time ran out meanwhile."""
    found = []
    for lot in uow.all(Lot, Lot.lot_number):
        view = lot_view(uow, lot, moment_of(now))
        if view.good_until is None:
            continue
        ends = minute_of(datetime.combine(view.good_until, datetime.min.time(), tzinfo=moment_of(now).tzinfo)) + 1440
        if last <= ends <= now:
            product = uow.get(DataSheet, lot.data_sheet_id).name
            found.append(
                f"{product}, lot {lot.lot_number}, was good until {day_words(view.good_until, zone_here(uow))}."
            )
    return found


def _arrived(uow: UnitOfWork, last: float, now: float, shop: ShopPlan) -> list[str]:
    found = []
    for row in uow.all(Delivery, Delivery.expected_on):
        if row.hidden_at is not None:
            continue
        where = shop.names.get(row.part_id, "")
        if row.arrived_at is not None and minute_of(row.arrived_at) >= last:
            found.append(f"{row.what}, for {where}: arrived {shop.saying.at(minute_of(row.arrived_at))}.")
        elif row.arrived_at is None and row.expected_on <= moment_of(now, shop.saying.zone).date():
            found.append(
                f"{row.what}, for {where}: expected {day_words(row.expected_on, shop.saying.zone)}; did it come?"
            )
    return found
