"""Coats of paint: the parts coated in one go, in order, with when each may be coated again; ways of putting them on."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime

from kiteloom.core.base.calendar import lasting, minute_of
from kiteloom.core.base.quantities import QUART_L, Typed, show
from kiteloom.core.build.recipe import Recipe
from kiteloom.core.build.step_id import StepId
from kiteloom.core.need.coats import BESIDE, CAN_L, Coating, Way, WayComes, compared, together
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.air.climate import need_temperature
from kiteloom.workshop.base.saying import Span
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.build.jobs import BuiltJob, key_in
from kiteloom.workshop.build.parts import BuiltPart, built_part, built_parts
from kiteloom.workshop.plan.plan import ShopPlan, rounds_of, shop_plan


@dataclass(frozen=True)
class CoatView:
    """A coat on one part: when it is put on and until when it stands before the next, and with which mix."""

    part_id: str
    part: str
    name: str
    job: str
    takes: str
    work: Span | None
    stands: Span | None
    words: str
    """When, and when it may be coated again; or why not."""


@dataclass(frozen=True)
class RoundCoat:
    """One coat on all parts of a round, in order."""

    name: str
    rows: list[CoatView]


@dataclass(frozen=True)
class WayView:
    """A way of putting the coats on, and what it comes to, in words."""

    method: str
    packs: str
    cost: str
    hours: str
    dry: str
    beside: str


@dataclass(frozen=True)
class CoatsView:
    """A job's coats; ``round`` is the name of the round it is coated in with other parts, ``""`` for none."""

    job: str
    product: str
    round: str
    coats: list[RoundCoat]
    span: Span | None
    area: str
    """Of all parts of the round together."""
    ways: list[WayView]
    caution: str


@dataclass(frozen=True)
class CompareWays:
    """Ways to be compared: what a tin and a can hold and cost, and a sprayer, as typed; empty where not known."""

    job: str
    texts: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class ComparedWays:
    """Ways beside each other."""

    ways: list[WayView]


_CAUTION = (
    "Two-pack paint may hold isocyanate: supplied air when it is sprayed. A booth draws its air away from who sprays; "
    "no flame near it. The paint maker’s sheet decides, and local rules."
)


def _of(part: BuiltPart, key: str | None) -> tuple[BuiltJob, Recipe]:
    job = part.job_with(lambda recipe: recipe.coats, key, "is not painted by this job")
    assert job.recipe is not None
    return job, job.recipe


def coats_view(uow: UnitOfWork, part_id: str, key: str | None, now: datetime) -> CoatsView:
    """The coats of one of a part's jobs, with the parts it is coated with."""
    shop = shop_plan(uow, minute_of(now))
    if shop is None:
        raise need_temperature()
    part = shop.part(part_id)
    job, recipe = _of(part, key)
    name, coats = _coats_of(shop.parts, part, job, recipe)
    shown = [
        RoundCoat(f"Coat {n} of {len(coats)}", [_coat(shop, one) for one in coat]) for n, coat in enumerate(coats, 1)
    ]
    spans = [span for coat in shown for row in coat.rows for span in (row.work, row.stands) if span is not None]
    whole = Span(min(one.start for one in spans), max(one.end for one in spans)) if spans else None
    coating = _whole(shop.parts, coats[0])
    units = units_of(uow)
    product = job.products[job.role_of(StepId.of(coats[0][0]).local)]
    return CoatsView(
        job.key, product.name, name, shown, whole, show(coating.area_m2, "area", units),
        _ways(uow, compared(coating, _ways_of({}))), _CAUTION,
    )  # fmt: skip


def compare_ways(uow: UnitOfWork, part_id: str, order: CompareWays) -> ComparedWays:
    """The same coats put on in several ways, with prices as typed."""
    part = built_part(uow, part_id)
    job, recipe = _of(part, order.job)
    parts = {one.id: one for one in built_parts(uow)}
    coats = _coats_of(parts, part, job, recipe)[1]
    return ComparedWays(_ways(uow, compared(_whole(parts, coats[0]), _ways_of(order.texts))))


def _coats_of(
    parts: Mapping[str, BuiltPart], part: BuiltPart, job: BuiltJob, recipe: Recipe
) -> tuple[str, list[list[str]]]:
    """The round a job is coated in, "" for none, and coat by coat the keys of its steps and of those with it."""
    name, keys = recipe.together(job.task) if recipe.together is not None and job.task is not None else ("", ())
    listed = rounds_of(parts).get((name, job.sheets[job.role_of(keys[0])])) if name else None
    return name if listed else "", listed or [[f"{part.id}:{key_in(job, one)}"] for one in keys]


def _whole(parts: Mapping[str, BuiltPart], keys: list[str]) -> Coating:
    """What is coated of all parts of a round together, with the paint of the first."""
    found: list[Coating] = []
    for key in keys:
        part = parts[key.partition(":")[0]]
        job, recipe = _of(part, part.job_of(key.partition(":")[2]).key)
        assert recipe.coats is not None
        assert job.task is not None
        found.append(recipe.coats(job.task))
    return together(found)


def _ways_of(texts: Mapping[str, str]) -> list[Way]:
    def litres(name: str, usual: float) -> float:
        text = texts.get(name, "").strip()
        return Typed(text, "l").read("volume", name) / 1000 if text else usual

    def money(name: str) -> float | None:
        text = texts.get(name, "").strip()
        return Typed(text, "").read("number", name) if text else None

    tin, sprayer = money("tin_price"), money("sprayer_price") or 0.0
    quart = litres("tin_l", QUART_L)
    return [
        Way("spray gun", quart, tin, sprayer),
        Way("cans", litres("can_l", CAN_L), money("can_price")),
        Way("roller", quart, tin),
        Way("brush", quart, tin),
    ]


def _ways(uow: UnitOfWork, found: tuple[WayComes, ...]) -> list[WayView]:
    units = units_of(uow)
    return [
        WayView(
            one.way.method,
            f"{one.packs} {'can' if one.way.method == 'cans' else 'tin'}{'' if one.packs == 1 else 's'} of "
            f"{show(1000 * one.way.pack_l, 'volume', units)}",
            "" if one.cost is None else f"{one.cost:.2f}",
            lasting(60 * one.hours),
            "" if one.dry_g is None else show(one.dry_g, "mass", units),
            f"{100 * BESIDE[one.way.method]:.0f} % more, {show(1000 * one.beside_l, 'volume', units)}",
        )
        for one in found
    ]


def _coat(shop: ShopPlan, key: str) -> CoatView:
    part_id, _, local = key.partition(":")
    part = shop.parts[part_id]
    placed = shop.plan.by_key.get(key)
    step = next(one for one in part.in_shop if one.key == key)
    need = part.needs.get(local)
    takes = show(need.total_g, "mass", shop.saying.units) if need is not None else ""
    if placed is None or placed.start is None:
        return CoatView(
            part_id, part.name, step.name, part.job_of(local).key, takes, None, None, step.refused or "not planned yet"
        )
    ready = placed.over
    work, stands = shop.saying.span((placed.start, placed.end)), shop.saying.span((placed.end, ready))
    mixed = any(link.same_mix for link in placed.step.after)
    words = f"{shop.saying.time(placed.start)} to {shop.saying.time(placed.end)}"
    words += ", with the same mix" if mixed else ""
    words += f"; it stands until {shop.saying.time(ready)}"
    return CoatView(part_id, part.name, step.name, part.job_of(local).key, takes, work, stands, words)
