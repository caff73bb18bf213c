"""A post-cure tried on a part, kept, and called off."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from sqlalchemy import select

from kiteloom.core import reading
from kiteloom.core.calendar import minute_of
from kiteloom.core.postcure import FASTEST_K_H, SERVICE_C, Leg, PostCure, during, post_cure, programme
from kiteloom.core.problems import Refused, between
from kiteloom.core.quantities import Typed, show
from kiteloom.core.schedule.placed import Placed
from kiteloom.store.models import DataSheet, Design, Heating
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.climate import need_temperature
from kiteloom.workshop.cures import CureCard, card_of
from kiteloom.workshop.part_air import heatings
from kiteloom.workshop.plan import ShopPlan, shop_plan
from kiteloom.workshop.times import glass_of


@dataclass(frozen=True)
class TypedLeg:
    """A ramp and a hold, as typed."""

    to: Typed
    ramp: Typed
    hold: Typed


@dataclass(frozen=True)
class PostCureOrder:
    """A post-cure as typed: of which cure, from when, how hot the part gets in service."""

    surface_id: str
    step_key: str
    legs: tuple[TypedLeg, ...]
    service: Typed | None = None
    start: datetime | None = None


@dataclass(frozen=True)
class PostCureTried:
    """What it would do: the card as it would be, what follows, and what speaks against it."""

    card: CureCard
    sentence: str
    follows: list[str]
    against: list[str]


@dataclass(frozen=True)
class HeatingView:
    """A post-cure that was kept."""

    id: str
    sentence: str


def try_post_cure(uow: UnitOfWork, order: PostCureOrder, now: datetime) -> PostCureTried:
    """Look at a post-cure. Nothing is kept."""
    shop, placed, legs, start, found = tried(uow, order, now)
    air = shop.air_of(order.surface_id)
    heat = programme(start, air.profile.at(start), legs)
    heated = replace(air, known=replace(air.known, profile=during(air.profile, heat)))
    shown = replace(shop, airs={**shop.airs, placed.air: heated})
    return PostCureTried(
        card_of(uow, shown, placed, found.end),
        what_it_did(shop, found),
        _follows(shop, order, found),
        _against(uow, shop, placed, legs, found),
    )


def keep_post_cure(uow: UnitOfWork, key: str, order: PostCureOrder, now: datetime) -> HeatingView:
    """Keep a post-cure: from its start on the part has its temperatures."""
    shop, _, legs, start, found = tried(uow, order, now)
    if uow.session.get(Heating, key) is None:
        for other in heatings(uow):
            begins = minute_of(other.happened_at)
            if (
                other.surface_id == order.surface_id
                and begins < found.end
                and start < begins + 14 * 1440
                and begins > shop.now
            ):
                raise Refused("start", f"a post-cure of this part begins {shop.saying.at(begins)}; call that off first")
        rows = [{"to_c": leg.to_c, "ramp_k_h": leg.ramp_k_h, "hold_h": leg.hold_h} for leg in legs]
        at = shop.saying.moment(start)
        uow.add(Heating(id=key, surface_id=order.surface_id, legs=rows, happened_at=at, recorded_at=now))
        uow.changed("climate", order.surface_id)
    return HeatingView(key, what_it_did(shop, found))


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
                surface_id=row.surface_id,
                legs=row.legs,
                happened_at=row.happened_at,
                recorded_at=now,
            )
        )
        uow.changed("climate", row.surface_id)
    return HeatingView(key, "The post-cure is called off.")


def tried(uow: UnitOfWork, order: PostCureOrder, now: datetime) -> tuple[ShopPlan, Placed, list[Leg], float, PostCure]:
    shop = shop_plan(uow, minute_of(now))
    if shop is None:
        raise need_temperature()
    placed = shop.plan.by_key.get(f"{order.surface_id}:{order.step_key}")
    if placed is None or placed.cure is None or placed.mixed is None:
        raise Refused("step_key", f"“{order.step_key}” has no cure in the plan of this surface")
    glass = glass_of(uow, shop.parts[order.surface_id])
    if glass is None:
        raise Refused("surface_id", f"the sheet of {shop.parts[order.surface_id].product} gives no glass transition")
    start = minute_of(order.start) if order.start else max(shop.now, placed.mixed)
    between("start", (start - shop.now) / 1440, -30, 60, unit="days", name="the start, from now,")
    if start < placed.mixed:
        raise Refused("start", f"it would begin before the mix, {shop.saying.at(placed.mixed)}")
    legs = [_leg(leg) for leg in order.legs]
    profile = shop.air_of(order.surface_id).profile
    return shop, placed, legs, start, post_cure(placed.cure, glass, placed.mixed, profile, start, legs)


def _leg(leg: TypedLeg) -> Leg:
    return Leg(
        leg.to.read("temperature", "to"),
        leg.ramp.read("temperature difference", "ramp"),
        leg.hold.read("time", "hold") / 60,
    )


def what_it_did(shop: ShopPlan, found: PostCure) -> str:
    before, after = (show(c, "temperature", shop.saying.units) for c in (found.before_c, found.after_c))
    return f"Its glass transition goes from {before} to {after}, done {shop.saying.at(found.end)}."


def _follows(shop: ShopPlan, order: PostCureOrder, found: PostCure) -> list[str]:
    units = shop.saying.units
    service = SERVICE_C
    name = "White upper surfaces in the sun come to"
    if order.service is not None and order.service.text.strip():
        service = between("service", order.service.read("temperature", "service"), -20, 150, unit="°C")
        name = "In service it comes to"
    asked, has = show(service, "temperature", units), show(found.after_c, "temperature", units)
    if found.after_c >= service:
        return [
            f"{name} {asked}; after this its glass transition is {has}, above that. The designer decides the margin."
        ]
    return [f"{name} {asked}, more than the {has} of its glass transition after this: hotter or longer is asked."]


def _against(uow: UnitOfWork, shop: ShopPlan, placed: Placed, legs: Sequence[Leg], found: PostCure) -> list[str]:
    units, say = shop.saying.units, shop.saying
    words = []
    if found.soft_at is not None and found.soft_glass_c is not None:
        glass = show(found.soft_glass_c, "temperature", units)
        first = f"From {say.at(found.soft_at)} it would be warmer than its glass transition of {glass}: soft, it sags."
        if found.ramp_k_h is None:
            words.append(f"{first} Even a slow ramp is too fast: let it cure on first, or hold it lower.")
        else:
            ramp = show(found.ramp_k_h, "difference", units)
            words.append(f"{first} Ramp at most {ramp} an hour.")
    if max(leg.ramp_k_h for leg in legs) > FASTEST_K_H:
        fast = show(FASTEST_K_H, "difference", units)
        words.append(f"Faster than {fast} an hour, skin and core are not equally warm (common practice).")
    softens = _core_softens(uow, shop, placed)
    hottest = max(leg.to_c for leg in legs)
    if softens is not None and hottest > softens[1]:
        a, b = show(hottest, "temperature", units), show(softens[1], "temperature", units)
        words.append(f"{softens[0]} softens at {b}; the hottest hold is {a}.")
    return words


def _core_softens(uow: UnitOfWork, shop: ShopPlan, placed: Placed) -> tuple[str, float] | None:
    """The core's name and where it softens, where its sheet says so."""
    design = uow.get(Design, shop.parts[placed.step.part].design_id)
    core_id = design.ply_book.get("core_id")
    if not core_id:
        return None
    sheet = uow.get(DataSheet, core_id)
    core = reading.core_sheet(sheet.name, sheet.says)
    return None if core.softens_c is None else (core.name, core.softens_c)
