"""What is still to be used up for an airframe, or for one of its assemblies: mixes, cloth, core, small things."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.base.figures import Figure, Given
from kiteloom.core.build.step_id import StepId
from kiteloom.core.need.supplies import supply_figures
from kiteloom.store.models import Assembly, Project
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saying import Choice
from kiteloom.workshop.build.airframes import assemblies_of, parts_here
from kiteloom.workshop.build.parts import BuiltPart, built_parts
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan


@dataclass(frozen=True)
class AirframeTakes:
    """What is still to be mixed of each product, and what is used up besides; each from the parts it is for.

    ``lacks`` are the parts of which it is not known, each with why.
    """

    of: str
    assemblies: list[Choice]
    mixes: tuple[Figure, ...]
    supplies: tuple[Figure, ...]
    lacks: list[str]


def airframe_takes(uow: UnitOfWork, now: datetime, airframe_id: str, assembly_id: str = "") -> AirframeTakes:
    """Of an airframe's parts, or of those of one assembly; what is done already is left out."""
    airframe = uow.get(Project, airframe_id)
    rows = assemblies_of(uow, airframe.id)
    of = uow.get(Assembly, assembly_id).name if assembly_id else airframe.name
    wanted = {part.id for part in parts_here(uow, airframe.id) if assembly_id in ("", part.assembly_id)}
    parts = [part for part in built_parts(uow) if part.id in wanted]
    shop = shop_plan(uow, minute_of(now))
    used = [
        (part.name, supply)
        for part in parts
        for job in part.jobs
        for supply in job.supplies
        if not _finished(shop, StepId(part.id, job.key, supply.step).key)
    ]
    lacks = [f"{part.name}: {'; '.join(job.cant)}" for part in parts for job in part.jobs if job.cant]
    tied = {face.part_id for part in parts if part.ties is not None for face in part.ties.faces}
    # A fitting that joints tie is bought or made as it is.
    lacks += [f"{part.name}: it has no job yet" for part in parts if not part.jobs and part.id not in tied]
    choices = [Choice(row.id, row.name) for row in rows]
    return AirframeTakes(of, choices, _mixes(parts, shop), supply_figures(used), lacks)


def _finished(shop: ShopPlan | None, key: str) -> bool:
    fact = shop.fact(key) if shop is not None else None
    return fact is not None and fact.finished is not None


def _mixes(parts: list[BuiltPart], shop: ShopPlan | None) -> tuple[Figure, ...]:
    by_product: dict[str, dict[str, float]] = {}
    for part in parts:
        for key, need in part.needs.items():
            left = shop.left_g(f"{part.id}:{key}") if shop is not None else need.total_g
            _, product = part.product_of(key)
            if left > 0:
                of = by_product.setdefault(product or "no product chosen yet", {})
                of[part.name] = of.get(part.name, 0.0) + left
    return tuple(
        Figure(
            f"mix:{product}",
            product,
            sum(of.values()),
            "mass",
            "sum over parts of what is still to mix, losses included",
            tuple(Given(part, grams, "mass") for part, grams in of.items()),
            "Resin and hardener together; each part's losses stand under its Takes.",
        )
        for product, of in sorted(by_product.items())
    )
