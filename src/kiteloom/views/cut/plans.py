"""Cut plans, what is still to be cut of each product, and remnants on the shelf."""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.core.base.calendar import minute_of, when
from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.laminate.layout import Layout, area_mm2
from kiteloom.core.stores.fields import KINDS
from kiteloom.store.models import CutPlan, DataSheet, Remnant
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saying import Choice
from kiteloom.workshop.base.shop import units_of, zone_here
from kiteloom.workshop.build.parts import built_parts
from kiteloom.workshop.cut.layouts import as_layout, layout_row
from kiteloom.workshop.cut.remnants import on_the_shelf, rings_of
from kiteloom.workshop.cut.ticks import cut_pieces, is_cut
from kiteloom.workshop.cut.wanted import products_cut
from kiteloom.workshop.stores.sheets import sheets


@dataclass(frozen=True)
class PlanRow:
    """A plan in a line."""

    id: str
    version: int
    name: str
    product: str
    words: str
    state: str
    """To lay out, laid out, being cut, or cut."""


@dataclass(frozen=True)
class JobToCut:
    """A job that takes a product, and the plan it is in; ``""`` in none."""

    part_id: str
    part: str
    job: str
    name: str
    plan: str


@dataclass(frozen=True)
class ToCut:
    """A product that ply books take, and the jobs that do."""

    sheet_id: str
    product: str
    jobs: list[JobToCut]
    words: str


@dataclass(frozen=True)
class RemnantView:
    """A remnant on the shelf."""

    id: str
    product: str
    words: str
    rings: tuple[tuple[tuple[float, float], ...], ...]


@dataclass(frozen=True)
class CutPlansView:
    """All of it."""

    plans: list[PlanRow]
    away: list[PlanRow]
    to_cut: list[ToCut]
    remnants: list[RemnantView]
    sheets: list[Choice]
    """Products a remnant may be of, and those a plan may be begun for by hand."""


def cut_plans_view(uow: UnitOfWork) -> CutPlansView:
    """Every plan, what is in none, and the shelf."""
    plans = uow.all(CutPlan, CutPlan.updated_at.desc(), CutPlan.id)
    rows = [(plan, _row(uow, plan)) for plan in plans]
    cut = [one for kind in KINDS if kind in ("cloth", "core", "sheet") for one in sheets(uow, kind)]
    return CutPlansView(
        [row for plan, row in rows if plan.hidden_at is None],
        [row for plan, row in rows if plan.hidden_at is not None],
        _to_cut(uow, plans),
        [remnant_view(uow, row) for row in on_the_shelf(uow)],
        [Choice(one.id, one.name) for one in cut],
    )


def _row(uow: UnitOfWork, plan: CutPlan) -> PlanRow:
    ways = [way for way in plan.ways if way.hidden_at is None]
    jobs = f"{len(plan.rows)} {'job' if len(plan.rows) == 1 else 'jobs'}"
    if len(ways) > 1:
        jobs += f", {len(ways)} ways compared"
    cut = next((way for way in ways if is_cut(uow, way.id)), None)
    laid = [way for way in ways if (row := layout_row(uow, way.id)) is not None and row.found]
    some = sum(len(cut_pieces(uow, way.id)) for way in ways)
    state = "cut" if cut else "being cut" if some else "laid out" if laid else "to lay out"
    if some and not cut:
        total = max((len(layout.laid) for way in laid if (layout := _layout(uow, way.id))), default=0)
        jobs += f"; {some} of {total} pieces are cut"
    return PlanRow(plan.id, plan.version, plan.name, uow.get(DataSheet, plan.data_sheet_id).name, jobs, state)


def _layout(uow: UnitOfWork, way_id: str) -> Layout | None:
    row = layout_row(uow, way_id)
    return as_layout(row.found) if row is not None else None


def _to_cut(uow: UnitOfWork, plans: list[CutPlan]) -> list[ToCut]:
    within: dict[tuple[str, str, str | None], str] = {}
    for plan in plans:
        if plan.hidden_at is None:
            for row in plan.rows:
                within.setdefault((plan.data_sheet_id, row["part_id"], row["job"]), plan.name)
    found = []
    for sheet_id, jobs in products_cut(uow, built_parts(uow)).items():
        rows = [
            JobToCut(part.id, part.name, job.key, job.name, within.get((sheet_id, part.id, job.key), ""))
            for part, job in jobs
        ]
        left = sum(not row.plan for row in rows)
        words = f"{left} of {len(rows)} jobs are in no plan yet" if left else "all its jobs are in a plan"
        found.append(ToCut(sheet_id, uow.get(DataSheet, sheet_id).name, rows, words))
    return sorted(found, key=lambda row: row.product)


def remnant_view(uow: UnitOfWork, row: Remnant) -> RemnantView:
    """One remnant."""
    units: UnitSystem = units_of(uow)
    rings = rings_of(row)
    xs, ys = zip(*rings[0], strict=True)
    size = f"{show((max(xs) - min(xs)) / 1000, 'length', units)} × {show((max(ys) - min(ys)) / 1000, 'length', units)}"
    area = show(area_mm2(rings) / 1e6, "area", units)
    at = when(minute_of(row.happened_at), zone_here(uow))
    words = f"{size}, {area}, since {at}{f'. {row.note}' if row.note else ''}"
    return RemnantView(row.id, uow.get(DataSheet, row.data_sheet_id).name, words, rings)
