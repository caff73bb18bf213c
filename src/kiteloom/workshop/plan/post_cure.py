"""A post-cure kept, or called off."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import Typed, show
from kiteloom.core.cure.post_cure import COOL_K_H, Leg, PostCure, post_cure
from kiteloom.core.plan.placed import Placed
from kiteloom.store.models import Heating, Zone
from kiteloom.store.unit_of_work import Store, UnitOfWork
from kiteloom.workshop.air.climate import need_temperature
from kiteloom.workshop.air.parts import heatings
from kiteloom.workshop.base.shop import in_shop_zone
from kiteloom.workshop.build.parts import glass_of
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan


@dataclass(frozen=True)
class TypedLeg:
    """A ramp and a hold, as typed."""

    to: Typed
    ramp: Typed
    hold: Typed


@dataclass(frozen=True)
class PostCureOrder:
    """A post-cure as typed: of which cure, from when, how hot the part gets in service; the id once it is kept."""

    part_id: str
    step_key: str
    legs: tuple[TypedLeg, ...]
    service: Typed | None = None
    start: datetime | None = None
    id: str = ""
    cool: Typed | None = None
    """How fast it is cooled after the last hold; as is usual where nobody says."""
    heat_from: str = ""
    """The zone whose heater heats it, or `TENT`."""


#: Where heat comes from that no zone of the shop gives.
TENT = "tent"


def heat_words(uow: UnitOfWork, heat_from: str) -> str:
    """Where a post-cure's heat comes from, in words; ``""`` where nobody said."""
    if heat_from == TENT:
        return "in a heated tent round it"
    zone = uow.session.get(Zone, heat_from) if heat_from else None
    return f"in the {zone.name.lower()}" if zone is not None else ""


@dataclass(frozen=True)
class HeatingView:
    """A post-cure that was kept."""

    id: str
    sentence: str


def keep_post_cure(store: Store, order: PostCureOrder, now: datetime) -> HeatingView:
    """Keep a post-cure: from its start on the part has its temperatures."""
    key = order.id
    if not key:
        raise Refused("id", "a post-cure that is kept needs an id")

    def look(uow: UnitOfWork) -> Trial:
        return tried(uow, order, now)

    def keep(uow: UnitOfWork, seen: Trial) -> HeatingView:
        shop, _, legs, start, found = seen
        if order.heat_from and order.heat_from != TENT:
            uow.get(Zone, order.heat_from)
        if uow.session.get(Heating, key) is None:
            for other in heatings(uow):
                begins = minute_of(other.happened_at)
                soon = begins > shop.now and begins < found.end and start < begins + 14 * 1440
                if other.part_id == order.part_id and soon:
                    at = shop.saying.at(begins)
                    raise Refused("start", f"a post-cure of this part begins {at}; call that off first")
            rows = [{"to_c": leg.to_c, "ramp_k_h": leg.ramp_k_h, "hold_h": leg.hold_h} for leg in legs]
            begins_at = shop.saying.moment(start)
            kept = {"legs": rows, "cool_k_h": cooled(order), "heat_from": order.heat_from}
            uow.add(Heating(id=key, part_id=order.part_id, happened_at=begins_at, recorded_at=now, **kept))
            uow.changed("climate", order.part_id)
        return HeatingView(key, what_it_did(shop, found))

    return store.after_a_look(look, keep)


def call_off(uow: UnitOfWork, heating_id: str, key: str, now: datetime) -> HeatingView:
    """Call a post-cure off: a new row that names it."""
    row = uow.get(Heating, heating_id)
    if uow.session.get(Heating, key) is None:
        if uow.session.scalar(select(Heating.id).where(Heating.undoes_id == heating_id)) is not None:
            raise Refused("id", "this post-cure was called off already")
        uow.add(
            Heating(
                id=key,
                undoes_id=row.id,
                part_id=row.part_id,
                legs=row.legs,
                cool_k_h=row.cool_k_h,
                heat_from=row.heat_from,
                happened_at=row.happened_at,
                recorded_at=now,
            )
        )
        uow.changed("climate", row.part_id)
    return HeatingView(key, "The post-cure is called off.")


#: The plan, the cure it is of, its legs, its start [min], and what it would do.
Trial = tuple[ShopPlan, Placed, list[Leg], float, PostCure]


def tried(uow: UnitOfWork, order: PostCureOrder, now: datetime) -> Trial:
    """The plan, the cure it is of, its legs, its start [min], and what it would do."""
    shop = shop_plan(uow, minute_of(now))
    if shop is None:
        raise need_temperature()
    placed = shop.plan.by_key.get(f"{order.part_id}:{order.step_key}")
    if placed is None or placed.cure is None or placed.mixed is None:
        raise Refused("step_key", f"“{order.step_key}” has no cure in the plan of this part")
    glass = glass_of(shop.part(order.part_id), order.step_key)
    if glass is None:
        raise Refused(
            "part_id",
            f"the sheet of {shop.part(order.part_id).product_of(order.step_key)[1]} gives no glass transition",
        )
    begin = in_shop_zone(uow, order.start, "start")
    start = minute_of(begin) if begin else max(shop.now, placed.mixed)
    between("start", (start - shop.now) / 1440, -30, 60, unit="days", name="the start, from now,")
    if start < placed.mixed:
        raise Refused("start", f"it would begin before the mix, {shop.saying.at(placed.mixed)}")
    legs = [_leg(leg) for leg in order.legs]
    profile = shop.air_of(order.part_id).profile
    return shop, placed, legs, start, post_cure(placed.cure, glass, placed.mixed, profile, start, legs, cooled(order))


def cooled(order: PostCureOrder) -> float:
    """How fast it is cooled [K/h]."""
    if order.cool is None or not order.cool.text.strip():
        return COOL_K_H
    return between("cool", order.cool.read("temperature difference", "cool"), 0.5, 120, unit="K/h", name="the cooling")


def _leg(leg: TypedLeg) -> Leg:
    return Leg(
        leg.to.read("temperature", "to"),
        leg.ramp.read("temperature difference", "ramp"),
        leg.hold.read("time", "hold") / 60,
    )


def what_it_did(shop: ShopPlan, found: PostCure) -> str:
    """What a post-cure does to the glass transition, in a sentence."""
    before, after = (show(c, "temperature", shop.saying.units) for c in (found.before_c, found.after_c))
    say = shop.saying
    return (
        f"Its glass transition goes from {before} to {after}; the last hold ends {say.at(found.held)}, "
        f"and it is cool {say.at(found.end, found.held)}."
    )
