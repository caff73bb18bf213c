"""A post-cure tried on a part: the card as it would be, what follows, and what speaks against it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from kiteloom.core.air.building import SWITCHES_K
from kiteloom.core.air.room import too_long
from kiteloom.core.base.problems import between
from kiteloom.core.base.quantities import show
from kiteloom.core.build.step_id import StepId
from kiteloom.core.cure.post_cure import (
    CORE_MARGIN_K,
    FASTEST_K_H,
    MARGIN_K,
    SERVICE_C,
    Leg,
    PostCure,
    during,
    programme,
)
from kiteloom.core.plan.placed import Placed
from kiteloom.core.stores.materials import ResinSheet
from kiteloom.store.models import Part, Zone
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.cure.cards import CureCard, card_of
from kiteloom.workshop.air.parts import length_of, place_of
from kiteloom.workshop.build.parts import glass_of
from kiteloom.workshop.plan.plan import ShopPlan
from kiteloom.workshop.plan.post_cure import TENT, PostCureOrder, cooled, tried, what_it_did


@dataclass(frozen=True)
class PostCureTried:
    """What it would do: the card as it would be, what follows, and what speaks against it."""

    card: CureCard
    sentence: str
    follows: list[str]
    against: list[str]


def try_post_cure(uow: UnitOfWork, order: PostCureOrder, now: datetime) -> PostCureTried:
    """Look at a post-cure. Nothing is kept."""
    shop, placed, legs, start, found = tried(uow, order, now)
    air = shop.air_of(order.part_id)
    heat = programme(start, air.profile.at(start), legs, cooled(order))
    heated = replace(air, known=replace(air.known, profile=during(air.profile, heat)))
    shown = replace(
        shop, airs={**shop.airs, placed.air: heated}, heated={**shop.heated, order.part_id: (found.held, found.end)}
    )
    return PostCureTried(
        card_of(uow, shown, placed),
        what_it_did(shop, found),
        _follows(shop, order, found),
        [*_against(shop, placed, legs, found), *_where(uow, shop, order, legs)],
    )


def _follows(shop: ShopPlan, order: PostCureOrder, found: PostCure) -> list[str]:
    units = shop.saying.units
    glass = glass_of(shop.part(order.part_id), order.step_key)
    assert glass is not None
    service = SERVICE_C
    name = "White upper surfaces in the sun come to"
    if order.service is not None and order.service.text.strip():
        service = between("service", order.service.read("temperature", "service"), -20, 150, unit="°C")
        name = "In service it comes to"
    asked, has = show(service, "temperature", units), show(found.after_c, "temperature", units)
    wet = show(found.wet_c, "temperature", units)
    dry = f"That is of the dry resin: damp, it is nearer to {wet} (from memory, 10 to 20 K lower)."
    if found.after_c >= service:
        return [
            f"{name} {asked}; after this its glass transition is {has}, above that. The designer decides the margin.",
            dry,
        ]
    if service > glass.ultimate_c:
        most = show(glass.ultimate_c, "temperature", units)
        of = "after its post-cure" if glass.most_c is not None else "when full, and none after a post-cure"
        return [
            f"{name} {asked}, more than the {has} of its glass transition after this. Its sheet gives {most} {of}: "
            "no oven brings it further. Ask its maker for one after a post-cure, or choose another resin.",
            dry,
        ]
    return [f"{name} {asked}, more than the {has} of its glass transition after this: hotter or longer is asked.", dry]


def _against(shop: ShopPlan, placed: Placed, legs: Sequence[Leg], found: PostCure) -> list[str]:
    units, say = shop.saying.units, shop.saying
    words = []
    if found.near_at is not None and found.near_glass_c is not None:
        glass, margin = show(found.near_glass_c, "temperature", units), show(MARGIN_K, "difference", units)
        first = f"From {say.at(found.near_at)} it would come within {margin} of its glass transition of {glass}"
        first += "." if found.soft_at is None else f", and pass it {say.at(found.soft_at)}: soft, it sags."
        if found.ramp_k_h is None:
            words.append(f"{first} Even a slow ramp is too fast: let it cure on first, or hold it lower.")
        else:
            ramp = show(found.ramp_k_h, "difference", units)
            words.append(
                f"{first} Ramp at most {ramp} an hour; the margin is assumed, and a part still in or on its mould "
                "may go faster."
            )
    product = _product(shop, placed)
    hottest = max(leg.to_c for leg in legs)
    if product is not None and product.max_c is not None and hottest > product.max_c:
        a, b = show(hottest, "temperature", units), show(product.max_c, "temperature", units)
        words.append(f"The sheet of {product.name} says not warmer than {b}; the hottest hold is {a}.")
    if max(leg.ramp_k_h for leg in legs) > FASTEST_K_H:
        fast = show(FASTEST_K_H, "difference", units)
        words.append(f"Faster than {fast} an hour, skin and core are not equally warm (common practice).")
    softens = _core_softens(shop, placed)
    if softens is not None and hottest > softens[1] - CORE_MARGIN_K:
        a, b = show(hottest, "temperature", units), show(softens[1], "temperature", units)
        words.append(f"{softens[0]} softens at {b}; the hottest hold is {a}.")
    return words


def _where(uow: UnitOfWork, shop: ShopPlan, order: PostCureOrder, legs: Sequence[Leg]) -> list[str]:
    """What speaks against where the heat is to come from."""
    if order.heat_from == TENT:
        return []
    units, part, now = shop.saying.units, uow.get(Part, order.part_id), shop.saying.moment(shop.now)
    asked = show(max(leg.to_c for leg in legs), "temperature", units)
    zone = uow.get(Zone, order.heat_from or place_of(uow, order.part_id, now))
    words = [long] if (long := too_long(part.name, length_of(part), zone.name, zone.longest_m, units)) else []
    if zone.heat_c is None or zone.heat_c < max(leg.to_c for leg in legs) - SWITCHES_K:
        has = "has no heater" if zone.heat_c is None else f"is held at {show(zone.heat_c, 'temperature', units)}"
        words.append(f"The {zone.name.lower()} {has}; the hottest hold is {asked}. Say where that heat comes from.")
    return words


def _product(shop: ShopPlan, placed: Placed) -> ResinSheet | None:
    """What a cure is of, by its sheet."""
    job = shop.parts[placed.step.part].job_of(placed.step.in_part)
    return job.products.get(job.role_of(StepId.of(placed.step.key).local))


def _core_softens(shop: ShopPlan, placed: Placed) -> tuple[str, float] | None:
    """The name of the core in this part that softens first, and where, where its sheet says so."""
    stacks = [job.stack for job in shop.parts[placed.step.part].jobs if job.stack is not None]
    soft = [
        (stack.core.softens_c, stack.core.name) for stack in stacks if stack.core and stack.core.softens_c is not None
    ]
    return (min(soft)[1], min(soft)[0]) if soft else None
