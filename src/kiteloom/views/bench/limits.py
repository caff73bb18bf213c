"""Whether a product can be worked with here and now: said before the first gram."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import datetime

from kiteloom.core.air.moisture import LEAST_MARGIN_K, Limit, broken
from kiteloom.core.base.calendar import minute_of
from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.build.step import Step
from kiteloom.core.build.wet import limited
from kiteloom.core.plan.placed import Placed
from kiteloom.core.stores.materials import ResinSheet
from kiteloom.store.models import DataSheet
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.open_time import open_words
from kiteloom.workshop.air.climate import ShopTemperature, shop_temperature
from kiteloom.workshop.air.parts import part_airs
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan
from kiteloom.workshop.stores.sheets import resin_of


@dataclass(frozen=True)
class BenchLimits:
    """What the air is where it goes, and what of its sheet speaks against mixing now."""

    words: str
    against: list[str]


@dataclass(frozen=True)
class WhereItGoes:
    """A product, and the part and step it is for; ``""`` where none was chosen."""

    sheet_id: str
    part_id: str = ""
    step_key: str = ""


def limits_view(uow: UnitOfWork, order: WhereItGoes, now: datetime) -> BenchLimits:
    """The limits of a product's sheet against the air of the part, else of the shop."""
    minute, units = minute_of(now), units_of(uow)
    product = resin_of(uow.get(DataSheet, order.sheet_id))
    air = shop_temperature(uow, minute, minute)
    if air is None:
        return BenchLimits("", ["No temperature was ever given: whether it can be worked here is not known."])
    if order.part_id:
        air = part_airs(uow, minute, minute, air).get(order.part_id, air)
    against = now_against(product, air, minute, units)
    shop = shop_plan(uow, minute)
    placed = shop.plan.by_key.get(f"{order.part_id}:{order.step_key}") if shop else None
    if shop is not None and placed is not None and not against:
        later = _later_against(shop, placed, product)
        against += [later] if later else []
    if shop is not None and placed is not None and product.cure is not None:
        # It is what is being mixed that gels, whatever the step is planned with.
        placed = replace(placed, cure=product.cure)
        too_long = open_words(shop, placed)
        against += [too_long] if too_long else []
    return BenchLimits(_words(air, minute, units), against)


def _words(air: ShopTemperature, minute: float, units: UnitSystem) -> str:
    parts = [show(air.profile.at(minute), "temperature", units)]
    humid, margin = air.humidity(minute), air.margin(minute)
    if humid is not None and margin is not None:
        parts.append(f"{humid:.0f} % humidity, {show(margin, 'difference', units)} above the dew point")
    return f"Where it goes it is {', '.join(parts)}."


def now_against(product: ResinSheet, air: ShopTemperature, minute: float, units: UnitSystem) -> list[str]:
    """What of a product's sheet the air breaks at a time, each in a sentence."""
    celsius, humid, margin = air.profile.at(minute), air.humidity(minute), air.margin(minute)
    here, least = show(celsius, "temperature", units), product.cure.min_c if product.cure else None
    said: dict[Limit, Callable[[], str]] = {
        "cold": lambda: (
            f"It is {here} there, and {product.name} stands still below {show(least or 0.0, 'temperature', units)}: "
            "cold it does not wet out, and what lies uncured in cold damp air may never come to strength. "
            "Warm it first, or put it where it is warm."
        ),
        "hot": lambda: (
            f"It is {here} there, and the sheet of {product.name} says not warmer than "
            f"{show(product.max_c or 0.0, 'temperature', units)}. Cool it first."
        ),
        "damp": lambda: (
            f"The air has {humid:.0f} % humidity, and the sheet of {product.name} says not damper than "
            f"{product.max_rh_pct:.0f} %. Dry it, or warm it."
        ),
        "dew": lambda: (
            f"The air is {show(margin or 0.0, 'difference', units)} above its dew point; "
            f"{show(LEAST_MARGIN_K, 'difference', units)} are wanted, or water settles on what is wet."
        ),
    }
    against = broken(celsius, humid, margin, min_c=least, max_c=product.max_c, max_rh_pct=product.max_rh_pct)
    return [said[limit]() for limit in against]


def _later_against(shop: ShopPlan, placed: Placed, product: ResinSheet) -> str:
    """What the air breaks before a mix made now comes to its first stage; ``""`` for nothing."""
    cure = product.cure
    if cure is None:
        return ""
    step = limited(placed.step, product)
    first = cure.first
    until = shop.plan.airs.reaches(cure, shop.now, first.hours, placed.air)
    unfit = shop.plan.airs.unfit(step, shop.now, shop.now + 60 * 1440 if until is None else until, placed.air)
    if unfit is None:
        return ""
    moment, limit = unfit
    again = f"; it is fit again {shop.saying.at(moment)}" if moment < shop.now + 60 * 1440 else ""
    return (
        f"Mixed now, {_broken(step, limit, shop.saying.units)} before “{first.name}”{again}. Wait, or see to the air."
    )


def _broken(step: Step, limit: str, units: UnitSystem) -> str:
    said: dict[str, Callable[[], str]] = {
        "cold": lambda: f"the air falls below {show(step.min_c or 0.0, 'temperature', units)}",
        "hot": lambda: f"the air gets warmer than {show(step.max_c or 0.0, 'temperature', units)}",
        "damp": lambda: f"the air gets damper than {step.max_rh_pct:.0f} %",
        "dew": lambda: f"the air comes within {show(step.margin_k or 0.0, 'difference', units)} of its dew point",
    }
    return said[limit]()
