"""What a part takes, job by job and step by step, and the losses under it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime

from sqlalchemy import select

from kiteloom.core.base.calendar import minute_of, when
from kiteloom.core.base.fields import asked_of
from kiteloom.core.base.figures import Figure
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import show
from kiteloom.core.build.step_id import StepId
from kiteloom.core.need.figures import resin_figures
from kiteloom.core.need.resin import WORTH_SAYING, Losses, as_taken
from kiteloom.core.need.supplies import supply_figures
from kiteloom.store.models import DataSheet, Job, Photo
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.bench.batches import BatchView, batch_views
from kiteloom.views.bench.bench import Product, product_view
from kiteloom.workshop.base.shop import units_of, zone_here
from kiteloom.workshop.build.jobs import BuiltJob, key_in
from kiteloom.workshop.build.parts import built_part
from kiteloom.workshop.log.mixes import on_steps
from kiteloom.workshop.log.notes import finished_steps
from kiteloom.workshop.log.witness import releases


@dataclass(frozen=True)
class StepNeed:
    """What one step takes; ``figures`` are empty, and the grams 0, where its recipe computes no amount."""

    step_key: str
    step_name: str
    product_id: str
    left_g: float
    figures: tuple[Figure, ...]
    spread: str = ""
    """What its crew puts on in a minute, as text in the scale's unit; ``""`` where it does not follow."""
    finished: bool = False


@dataclass(frozen=True)
class LossField:
    """One loss to edit, as text."""

    field: str
    label: str
    text: str
    unit: str
    assumed: bool


@dataclass(frozen=True)
class Taken:
    """What a job's finished steps really took, and the loss that would have foretold it; ``field`` ``""`` for none."""

    words: str
    field: str
    text: str
    unit: str


@dataclass(frozen=True)
class Pictured:
    """A photograph of a batch, by its id, and what it shows."""

    id: str
    words: str


@dataclass(frozen=True)
class MixView:
    """What a job of a part takes: its product, each step, the losses under it, the batches kept, and photographs."""

    part_id: str
    job_id: str
    job: str
    version: int
    product: Product | None
    needs: list[StepNeed]
    losses: list[LossField]
    batches: list[BatchView]
    photos: list[Pictured]
    taken: Taken | None
    """None before a step of one job is finished whose mixes were weighed."""
    supplies: tuple[Figure, ...]
    """Cloth, core, and what is used up besides, of all its steps together."""


def mix_view(uow: UnitOfWork, part_id: str, job: str | None, step_key: str | None, now: datetime) -> MixView:
    """What a part takes in a job, by the job's key or a step's; in all its jobs where neither is named.

    The product is the one the named step is worked with, else the job's first.
    """
    part = built_part(uow, part_id)
    if step_key:
        job = StepId.within(part_id, step_key).job
    mine = [each for each in part.jobs if job is None or each.key == job]
    if not mine:
        raise Refused("job", f"{part.name} has no job “{(job or '')[:40]}”" if job else f"{part.name} has no job yet")
    named = next((each for each in mine if each.sheets), mine[0])
    role = named.role_of(StepId.within(part_id, step_key).local if step_key else "")
    mixed = role in named.products and named.products[role].parts is not None
    sheet = named.sheets.get(role) if mixed else None
    batches = batch_views(uow, part_id)
    if job is not None:
        batches = [batch for batch in batches if StepId.within(part_id, batch.step_key).job == job]
    return MixView(
        part_id,
        named.id,
        named.key,
        named.version,
        product_view(uow, uow.get(DataSheet, sheet), now) if sheet else None,
        [need for each in mine for need in _needs(uow, part_id, each)],
        _losses(uow, named) if len(mine) == 1 else [],
        batches,
        _photos(uow, batches),
        _taken(uow, part_id, named) if len(mine) == 1 else None,
        supply_figures((_named(each, one.step), one) for each in mine for one in each.supplies),
    )


def _named(job: BuiltJob, local: str) -> str:
    return next((step.name for step in job.steps if step.key == local), local)


def _photos(uow: UnitOfWork, batches: list[BatchView]) -> list[Pictured]:
    """What was photographed of these batches, newest first."""
    shown, zone = {batch.id: batch for batch in batches}, zone_here(uow)
    query = select(Photo.id, Photo.batch_id, Photo.happened_at).where(Photo.batch_id.in_(shown))
    return [
        Pictured(row.id, f"{shown[row.batch_id].step_name}, {when(minute_of(row.happened_at), zone)}")
        for row in uow.session.execute(query.order_by(Photo.happened_at.desc()))
    ]


def _needs(uow: UnitOfWork, part_id: str, job: BuiltJob) -> list[StepNeed]:
    there, stands = on_steps(uow), releases(uow)
    assumed = frozenset(asked_of(Losses)) - frozenset(uow.get(Job, job.id).losses)
    rows, units, finished = [], units_of(uow), finished_steps(uow, part_id)
    for step in job.steps:
        need = job.needs.get(step.key)
        product = job.products.get(job.role_of(step.key))
        if need is None and (step.cure is None or step.own or (product is not None and product.parts is None)):
            continue
        key, sheet = key_in(job, step.key), job.sheets.get(job.role_of(step.key), "")
        if need is None:
            rows.append(StepNeed(key, step.name, sheet, 0.0, ()))
            continue
        undecided = stands[f"{part_id}:{key}"].spoilt if (part_id, key) in there else ()
        mixed = sum(mix.grams for mix in there.get((part_id, key), ()) if mix.batch.id not in undecided)
        figures = resin_figures(key, need, job.losses, assumed, mixed)
        if key in finished:
            # Whatever was computed: nothing more is mixed for what is finished.
            figures = (*figures[:-1], replace(figures[-1], value=0.0))
        pace, left = need.total_g / step.wet_min, figures[-1].value or 0.0
        over = key in finished
        rows.append(StepNeed(key, step.name, sheet, left, figures, show(pace, "scale", units), over))
    return rows


def _taken(uow: UnitOfWork, part_id: str, job: BuiltJob) -> Taken | None:
    there, finished, units = on_steps(uow), finished_steps(uow, part_id), units_of(uow)
    keys = {local: key_in(job, local) for local in job.needs}
    done = [local for local, key in keys.items() if key in finished and (part_id, key) in there]
    grams = sum(mix.grams for local in done for mix in there[part_id, keys[local]])
    needs = [job.needs[local] for local in done]
    computed = sum(need.total_g for need in needs)
    if not computed or abs(grams - computed) < WORTH_SAYING * computed:
        return None
    took, said = show(grams, "mass", units), show(computed, "mass", units)
    steps = "The step that is finished" if len(done) == 1 else f"The {len(done)} steps that are finished"
    words = f"{steps} took {took}, where {said} were computed."
    found = as_taken(needs, job.losses, grams)
    if found is None:
        return Taken(f"{words} No loss in its limits explains that: was every cup weighed, and what was left over?",
                     "", "", "")  # fmt: skip
    name, value = found
    asked, _ = asked_of(Losses)[name]
    before, after = (asked.text(v, units) for v in (getattr(job.losses, name), round(value, 1)))
    return Taken(
        f"{words} {asked.label}: {after} instead of {before} would have said so.",
        name,
        after,
        asked.unit_for(units),
    )


def _losses(uow: UnitOfWork, job: BuiltJob) -> list[LossField]:
    units, said = units_of(uow), uow.get(Job, job.id).losses
    counted = job.recipe.losses if job.recipe is not None else ()
    return [
        LossField(
            name, asked.label, asked.text(getattr(job.losses, name), units), asked.unit_for(units), name not in said
        )
        for name, (asked, _) in asked_of(Losses).items()
        if name in counted
    ]
