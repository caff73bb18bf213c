"""What of a step is not there before it starts: too little of its product or cloth left, pieces not cut yet."""

from __future__ import annotations

import math

from kiteloom.core.base.calendar import moment_of
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import show
from kiteloom.core.mix.ratio import masses
from kiteloom.core.plan.placed import Placed
from kiteloom.core.stores.fields import USES
from kiteloom.core.stores.lots import too_little
from kiteloom.store.models import DataSheet, Lot
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.stores.lots import lots_of
from kiteloom.views.stores.needs import items_to_use, weekday_words
from kiteloom.workshop.cut.codes import codes_of
from kiteloom.workshop.log.used_up import stocks
from kiteloom.workshop.plan.plan import ShopPlan
from kiteloom.workshop.stores.sheets import resin_of


def missing_words(uow: UnitOfWork, shop: ShopPlan, placed: Placed) -> str:
    """Sentences to add to what is said of a step, each with a space before it; ``""`` where nothing is missing."""
    if placed.state != "to do" or placed.step.part not in shop.parts:
        return ""
    found = [
        _mix(uow, shop, placed),
        *_cloth(uow, shop, placed),
        *_used_up(uow, shop, placed),
        *_items(uow, shop, placed),
        _uncut(uow, shop, placed),
    ]
    return "".join(f" {words}" for words in found if words)


def _mix(uow: UnitOfWork, shop: ShopPlan, placed: Placed) -> str:
    """That too little of its product is left; ``""`` when there is enough, or nobody counts it."""
    need, part = shop.left_g(placed.step.key), shop.parts[placed.step.part]
    if need <= 0:
        return ""
    sheet_id, product = part.product_of(placed.step.in_part)
    lots = lots_of(uow, uow.get(DataSheet, sheet_id), moment_of(shop.now))
    try:
        poured = masses(resin_of(uow.get(DataSheet, sheet_id)).mix, total_g=need)
    except Refused:
        return ""  # a ratio by volume without densities: the page of the mix says so
    short = too_little(
        poured.resin_g, poured.hardener_g, [(lot.component, lot.left) for lot in lots if not (lot.bad or lot.expired)]
    )
    if short is None:
        return ""
    which, left, takes = short
    return _only(shop, f"the {which} of {product}" if which else product, left, takes)


def _only(shop: ShopPlan, of: str, left: float, takes: float, kind: str = "mass") -> str:
    units = shop.saying.units
    return f"Only {show(left, kind, units)} of {of} is left, and it takes {show(takes, kind, units)}."


def _cloth(uow: UnitOfWork, shop: ShopPlan, placed: Placed) -> list[str]:
    """Cloth and core of which too little is left, where its lots are counted."""
    job = shop.parts[placed.step.part].job_of(placed.step.in_part)
    if job.stack is None:
        return []
    local = placed.step.in_part.rpartition(":")[2]
    takes: dict[str, float] = {}
    weights = {ply.cloth.name: ply.cloth.areal_weight_g_m2 for ply in job.stack.plies}
    core = job.stack.core
    if core is not None:
        weights[core.name] = core.thickness_mm * core.density_kg_m3
    for one in job.supplies:
        if one.step == local and one.kind == "area" and one.name in weights:
            takes[one.name] = takes.get(one.name, 0.0) + one.amount * weights[one.name]
    counted = {lot.data_sheet_id for lot in uow.once("lots", lambda: uow.all(Lot))} if takes else set()
    sheets = {uow.get(DataSheet, key).name: key for key in counted}
    found = []
    for name, grams in takes.items():
        lots = lots_of(uow, uow.get(DataSheet, sheets[name]), moment_of(shop.now)) if name in sheets else []
        good = [lot.left for lot in lots if not (lot.bad or lot.expired)]
        if lots and all(left is not None for left in good) and sum(left or 0.0 for left in good) < grams:
            found.append(_only(shop, name, sum(left or 0.0 for left in good), grams))
    return found


def _used_up(uow: UnitOfWork, shop: ShopPlan, placed: Placed) -> list[str]:
    """Consumables of which too little is left, where their lots are counted."""
    job = shop.parts[placed.step.part].job_of(placed.step.in_part)
    local = placed.step.in_part.rpartition(":")[2]
    there, found = stocks(uow), []
    for use, (counted, _) in USES.items():
        takes = sum(one.amount for one in job.supplies if one.step == local and one.name == use)
        rows = there.get(use, [])
        if not takes or not rows or sum(row.amount for row in rows) >= takes:
            continue
        if counted == "count":
            found.append(_few(use, round(sum(row.left for row in rows)), math.ceil(takes)))
        else:
            left = sum(max(row.left, 0.0) for row in rows)
            found.append(_only(shop, use, left, takes / rows[0].per_unit, "run"))
    return found


def _items(uow: UnitOfWork, shop: ShopPlan, placed: Placed) -> list[str]:
    """Items it takes that are not there: on order, or nowhere."""
    found = []
    for one in items_to_use(uow, shop):
        for lack in one.lacks:
            if f"{lack.takes.part}:{lack.takes.step}" != placed.step.key:
                continue
            if lack.short > 0:
                found.append(f"{one.name}: {lack.short:g} of {lack.takes.amount:g} are not there.")
            elif lack.comes is not None:
                found.append(f"{one.name} comes {weekday_words(lack.comes, shop.saying.zone)}.")
    return found


def _few(use: str, left: int, takes: int) -> str:
    return f"Only {max(left, 0)} {use} are left, and it takes {takes}."


def _uncut(uow: UnitOfWork, shop: ShopPlan, placed: Placed) -> str:
    """Pieces of the plies it lays that are laid out on a cut plan, and not cut yet."""
    part = shop.parts[placed.step.part]
    plies = [
        int(item.key.removeprefix("ply-")) - 1
        for item in part.items_of(placed.step.in_part)
        if item.cloth and item.key.removeprefix("ply-").isdigit()
    ]
    if not plies:
        return ""
    codes = codes_of(uow, part.id, part.job_of(placed.step.in_part).key)
    left = [one for ply in plies for one in codes.get(ply, ()) if not one.cut]
    if not left:
        return ""
    names = ", ".join(one.code for one in left)
    return f"Not cut yet: {names} of “{left[0].plan}”."
