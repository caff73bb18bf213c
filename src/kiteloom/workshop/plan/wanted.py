"""What is wanted when: pins and frozen days, and the deliveries steps wait for."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime, timedelta

from kiteloom.core.base.calendar import local_midnight, minute_of, moment_of, when
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.plan.input import Pin as Wanted
from kiteloom.store.models import CrewMember, Delivery, Pin, Shop
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Kept
from kiteloom.workshop.base.shop import in_shop_zone, the_shop, working_hours, zone_at, zone_here
from kiteloom.workshop.build.parts import built_part
from kiteloom.workshop.plan.kept import accepted
from kiteloom.workshop.plan.people import members

#: So many days ahead may be frozen.
MOST_FROZEN = 28


def pins(uow: UnitOfWork, now: float) -> dict[str, Wanted]:
    """The pins that stand, by step; within the frozen days every step of the accepted plan is pinned."""
    found: dict[str, Wanted] = {}
    until = frozen_until(uow, now)
    kept = accepted(uow) if until is not None else None
    if kept is not None and until is not None:
        for row in kept.rows:
            if now <= row["start"] < until and row["state"] == "to do":
                found[row["key"]] = Wanted(row["start"], tuple(row["people"]), kept=True)
    for pin in uow.all(Pin, Pin.happened_at, Pin.recorded_at):
        key = f"{pin.part_id}:{pin.step_key}"
        if pin.start is None:
            found.pop(key, None)
        else:
            found[key] = Wanted(minute_of(pin.start), tuple(pin.crew))
    return found


def frozen_days(uow: UnitOfWork) -> int:
    """How many days after today are kept as the accepted plan has them."""
    return int(the_shop(uow).planning.get("freeze_days", 0))


def frozen_until(uow: UnitOfWork, now: float) -> float | None:
    """The midnight that ends the frozen days [min]; None when none are."""
    zone, days = zone_here(uow), frozen_days(uow)
    # Noon of the last of them, and on to its end: a day on which the clocks change is longer or shorter.
    noon = local_midnight(now, zone) + (days + 0.5) * 1440
    return local_midnight(noon + 1440, zone) if days else None


@dataclass(frozen=True)
class PinStep:
    """An order to pin a step to a time, by somebody perhaps; without a time the pin is taken out."""

    id: str
    part_id: str
    step_key: str
    start: datetime | None = None
    crew: tuple[str, ...] = ()


def pin_step(uow: UnitOfWork, order: PinStep, now: datetime) -> Kept:
    """Pin a step, or take its pin out; the plan goes round it at once."""
    if uow.session.get(Pin, order.id) is not None:
        return Kept(order.id)
    found = built_part(uow, order.part_id)
    found.step(order.step_key)
    start = in_shop_zone(uow, order.start, "start")
    if start is not None:
        days = (start - now).total_seconds() / 86400
        between("start", days, -1, 730, unit="days", name="the pin, from now,")
        _somebody_works(uow, minute_of(start))
    for person in order.crew:
        uow.get(CrewMember, person)
    uow.add(
        Pin(
            id=order.id,
            part_id=found.id,
            step_key=order.step_key,
            start=start,
            crew=list(order.crew),
            happened_at=now,
            recorded_at=now,
        )
    )
    uow.changed("plan", order.id)
    return Kept(order.id)


def _somebody_works(uow: UnitOfWork, minute: float) -> None:
    """Nothing is pinned to a time at which nobody works."""
    shop = the_shop(uow)
    hours = [working_hours(shop), *(member.hours for member in members(uow) if member.hours is not None)]
    if any(begin <= minute < end for each in hours for begin, end in each.intervals(minute - 1440, minute + 1440)):
        return
    zone = zone_at(shop)
    opens = [begin for each in hours for begin, _ in each.intervals(minute, minute + 14 * 1440) if begin > minute]
    then = f"; work begins again {when(min(opens), zone)}" if opens else ""
    raise Refused("start", f"nobody works {when(minute, zone)}{then}. Pin it to an hour of work")


@dataclass(frozen=True)
class FreezeDays:
    """How many of the coming days are kept as the accepted plan has them."""

    version: int
    days: int


def freeze(uow: UnitOfWork, order: FreezeDays, now: datetime) -> Kept:
    """Keep the coming days of the accepted plan as they are."""
    shop, days = uow.get_for_edit(Shop, 1, order.version), order.days
    between("days", days, 0, MOST_FROZEN, unit="days", name="the frozen days")
    if days and accepted(uow) is None:
        raise Refused("days", "no plan was accepted yet; accept one, then its coming days can be frozen")
    shop.planning = {**shop.planning, "freeze_days": days}
    uow.edited(shop, [f"the next {days} days are frozen" if days else "no days are frozen"], now, "plan")
    return Kept("1")


@dataclass(frozen=True)
class DeliveryView:
    """What a step waits for."""

    id: str
    part_id: str
    step_key: str
    what: str
    expected_on: date
    arrived_at: datetime | None
    overdue: bool
    version: int


def deliveries(uow: UnitOfWork, now: datetime) -> list[DeliveryView]:
    """Everything steps wait for, and what came."""
    zone = zone_here(uow)
    today = moment_of(minute_of(now), zone).date()
    return [
        DeliveryView(
            row.id,
            row.part_id,
            row.step_key,
            row.what,
            row.expected_on,
            row.arrived_at,
            row.arrived_at is None and row.expected_on < today,
            row.version,
        )
        for row in uow.all(Delivery, Delivery.expected_on)
        if row.hidden_at is None
    ]


def not_before(uow: UnitOfWork, now: datetime) -> dict[str, tuple[float, str]]:
    """From when steps may go that wait for something, and for what; what is overdue comes tomorrow at the soonest."""
    found: dict[str, tuple[float, str]] = {}
    for view in deliveries(uow, now):
        if view.arrived_at is None:
            key = f"{view.part_id}:{view.step_key}"
            found[key] = max(found.get(key, (0.0, "")), (there_from(uow, view.expected_on, now), view.what))
    return found


def there_from(uow: UnitOfWork, day: date, now: datetime) -> float:
    """When the shop opens on the day something is awaited, tomorrow at the soonest where that is past [min]."""
    zone = zone_here(uow)
    today = moment_of(minute_of(now), zone).date()
    asked = day if day >= today else today + timedelta(days=1)

    def opens_on() -> float:
        midnight = minute_of(datetime.combine(asked, datetime.min.time(), tzinfo=zone))
        # It is there when the shop opens: nobody takes it in before.
        hours = working_hours(the_shop(uow)).intervals(midnight, midnight + 14 * 1440)
        return next((opens for opens, _ in hours), midnight)

    return uow.once(f"opens on {asked}", opens_on)


@dataclass(frozen=True)
class ExpectDelivery:
    """What a step waits for, and when it is expected; ``version`` 0 is a new one."""

    id: str
    part_id: str
    step_key: str
    what: str
    expected_on: date
    version: int = 0


def expect(uow: UnitOfWork, order: ExpectDelivery, now: datetime) -> Kept:
    """Say what a step waits for, or change it."""
    found = built_part(uow, order.part_id)
    found.step(order.step_key)
    if not order.what.strip():
        raise Refused("what", "it does not say what is awaited; name it, like “M5 rod ends”")
    between(
        "expected_on", (order.expected_on - now.date()).days, -366, 730, unit="days", name="the delivery, from today,"
    )
    if order.version == 0:
        if uow.session.get(Delivery, order.id) is None:
            uow.add(
                Delivery(
                    id=order.id,
                    part_id=found.id,
                    step_key=order.step_key,
                    what=order.what.strip()[:120],
                    expected_on=order.expected_on,
                    updated_at=now,
                )
            )
            uow.changed("plan", order.id)
        return Kept(order.id)
    row = uow.get_for_edit(Delivery, order.id, order.version)
    row.what, row.expected_on = order.what.strip()[:120], order.expected_on
    uow.edited(row, [f"{row.what} expected {row.expected_on}"], now, "plan")
    return Kept(row.id)


@dataclass(frozen=True)
class TellDelivery:
    """Whether it came, or is not awaited any more."""

    version: int
    arrived: bool = True
    forget: bool = False


def tell_delivery(uow: UnitOfWork, key: str, order: TellDelivery, now: datetime) -> Kept:
    """It came, or did not after all; or the step does not wait for it any more."""
    row = uow.get_for_edit(Delivery, key, order.version)
    if order.forget:
        row.hidden_at, words = now, f"{row.what} is not awaited any more"
    else:
        row.arrived_at = now if order.arrived else None
        words = f"{row.what}: {'arrived' if order.arrived else 'still awaited'}"
    uow.edited(row, [words], now, "plan")
    return Kept(row.id)
