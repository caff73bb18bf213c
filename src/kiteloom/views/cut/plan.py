"""A cut plan as it is shown: what is in it, and its ways side by side, each with its layout."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any, get_args

from kiteloom.core.base.calendar import minute_of, when
from kiteloom.core.base.fields import asked_of
from kiteloom.core.base.figures import Figure
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.laminate.cutting import (
    OffRoll,
    Plies,
    Way,
    along_mm,
    sheet_g_m2,
    sheet_says,
    way_kind,
    worth_figures,
    worth_of,
)
from kiteloom.core.laminate.layout import Layout
from kiteloom.core.stores.fields import KINDS
from kiteloom.store.models import CutLayout, CutPlan, CutWay, DataSheet, Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.cut.drawn import StockView, drawn_stocks
from kiteloom.views.part.job import GivenField
from kiteloom.workshop.base.saying import Choice, joined
from kiteloom.workshop.base.shop import units_of, zone_here
from kiteloom.workshop.build.parts import BuiltPart, built_parts
from kiteloom.workshop.cut.layouts import as_layout, layout_row
from kiteloom.workshop.cut.ticks import cut_pieces, is_cut
from kiteloom.workshop.cut.wanted import WantedPieces, products_cut, wanted_pieces, way_says
from kiteloom.workshop.stores.sheets import sheets


@dataclass(frozen=True)
class JobInPlan:
    """A job whose ply book takes the plan's product, or a part itself; and whether it is in the plan."""

    part_id: str
    part: str
    assembly: str
    job: str | None
    name: str
    chosen: bool


@dataclass(frozen=True)
class WayView:
    """One way of cutting: how, what it comes to, its layout, and what asks for care.

    ``state`` is none, waiting, looking, done, stopped or failed; ``wrong`` says why it can't be laid out, by ``field``.
    """

    id: str
    version: int
    name: str
    sheet_id: str
    product: str
    products: list[Choice]
    fields: list[GivenField]
    state: str
    sentence: str
    care: list[str]
    wrong: str
    wrong_field: str
    wanted: int
    figures: tuple[Figure, ...]
    stocks: list[StockView]
    cut: int
    cut_at: str
    ready: bool
    """Whether it is laid out and nothing speaks against cutting it."""


@dataclass(frozen=True)
class CutPlanView:
    """A cut plan."""

    id: str
    version: int
    name: str
    sheet_id: str
    product: str
    hidden: bool
    plies: str
    which: list[str]
    """What ``plies`` may be; none where nothing lies at an angle."""
    jobs: list[JobInPlan]
    ways: list[WayView]
    lacks: list[str]
    twice: list[str]
    """What another plan cuts too."""
    cautions: str


def cut_plan_view(uow: UnitOfWork, plan_id: str, knows: Callable[[str], bool]) -> CutPlanView:
    """One plan; ``knows`` says whether a way is looked for just now."""
    plan = uow.get(CutPlan, plan_id)
    sheet = uow.get(DataSheet, plan.data_sheet_id)
    ways = [way for way in plan.ways if way.hidden_at is None]
    shown = [_way(uow, plan, way, n, knows) for n, way in enumerate(ways, 1)]
    lacks = next((wanted.lacks for _, wanted in shown if wanted is not None), ())
    jobs = jobs_for(uow, plan)
    return CutPlanView(
        plan.id,
        plan.version,
        plan.name,
        sheet.id,
        sheet.name,
        plan.hidden_at is not None,
        plan.plies,
        list(get_args(Plies)) if way_kind(sheet.kind) is OffRoll else [],
        jobs,
        [way for way, _ in shown],
        list(lacks),
        _twice(uow, plan, jobs),
        _CLOTH if way_kind(sheet.kind) is OffRoll else _SHEETS,
    )


_CLOTH = (
    "Glass and carbon dust itches and is bad to breathe: sleeves, mask, extraction; carbon conducts. The schedule and "
    "what may be joined where belong to the designer."
)
_SHEETS = (
    "Foam and wood dust: mask and extraction. Never cut urethane or PVC foam with a hot wire. Where joints may lie "
    "belongs to the designer."
)


def jobs_for(uow: UnitOfWork, plan: CutPlan) -> list[JobInPlan]:
    """Every job that takes the plan's product, and for sheets every part with a shape; those in the plan marked."""
    chosen = {(row["part_id"], row["job"]) for row in plan.rows}
    parts = built_parts(uow)
    found = [
        JobInPlan(part.id, part.name, part.assembly, job.key, job.name, (part.id, job.key) in chosen)
        for part, job in products_cut(uow, parts).get(plan.data_sheet_id, ())
    ]
    if uow.get(DataSheet, plan.data_sheet_id).kind == "sheet":
        found += [
            JobInPlan(part.id, part.name, part.assembly, None, "the part itself", (part.id, None) in chosen)
            for part in parts
            if _shaped(uow, part)
        ]
    there = {(row.part_id, row.job) for row in found}
    by_id = {part.id: part for part in parts}
    for part_id, job in chosen - there:
        if part_id in by_id:
            part = by_id[part_id]
            found.append(JobInPlan(part.id, part.name, part.assembly, job, "no longer takes it", chosen=True))
    return found


def _twice(uow: UnitOfWork, plan: CutPlan, jobs: list[JobInPlan]) -> list[str]:
    """What of a plan not cut yet another one cuts too: two began one each, or what was cut is laid out again."""
    if any(is_cut(uow, way.id) for way in plan.ways):
        return []
    mine = {(row.part_id, row.job): row.part for row in jobs if row.chosen}
    found = []
    for other in uow.all(CutPlan):
        if (
            other.id == plan.id or other.hidden_at is not None or other.data_sheet_id != plan.data_sheet_id
            or (plan.plies != other.plies and "all" not in (plan.plies, other.plies))
        ):  # fmt: skip
            continue
        both = [mine[key] for row in other.rows if (key := (row["part_id"], row["job"])) in mine]
        if not both:
            continue
        done = next((made for way in other.ways if (made := is_cut(uow, way.id))), None)
        names = list(dict.fromkeys(both))
        said = joined(names if len(names) <= 3 else [*names[:2], f"{len(names) - 2} more"])
        found.append(
            f"{said}: in the cut plan “{other.name}” too. Put one of the two away, or it is cut twice."
            if done is None
            else f"{said}: cut already, in “{other.name}”, {when(minute_of(done.happened_at), zone_here(uow))}."
        )
    return found


def _shaped(uow: UnitOfWork, part: BuiltPart) -> bool:
    return uow.get(Part, part.id).design.shape is not None


def _way(
    uow: UnitOfWork, plan: CutPlan, row: CutWay, number: int, knows: Callable[[str], bool]
) -> tuple[WayView, WantedPieces | None]:
    sheet, units = uow.get(DataSheet, row.data_sheet_id), units_of(uow)
    wanted: WantedPieces | None = None
    says: Way | None = None
    wrong = field = ""
    try:
        says = way_says(uow, row)
        wanted = wanted_pieces(uow, plan, row)
    except Refused as refused:
        wrong, field = refused.sentence, _OWN.get(refused.field, refused.field)
    kept = layout_row(uow, row.id)
    layout = as_layout(kept.found) if kept is not None else None
    finished = is_cut(uow, row.id)
    stale = bool(
        kept is not None and finished is None and layout is not None
        and (wanted is None or kept.made_of != wanted.digest)
    )  # fmt: skip
    state = kept.state if kept is not None else "none"
    if state in ("waiting", "looking") and not knows(row.id):
        state = "stopped"
    done = cut_pieces(uow, row.id)
    count = sum(piece.quantity for piece in wanted.pieces) if wanted else 0
    figures: tuple[Figure, ...] = ()
    stocks: list[StockView] = []
    if layout is not None and kept is not None and says is not None:
        weight = sheet_g_m2(sheet.says)
        figures = worth_figures(worth_of(layout, says, weight), says, sheet.name, weight)
        stocks = drawn_stocks(layout, kept, done, units)
    care = _care(layout, kept, says, wanted, units, stale)
    return (
        WayView(
            row.id,
            row.version,
            f"way {number}",
            sheet.id,
            sheet.name,
            [Choice(one.id, one.name) for kind in _like(sheet.kind) for one in sheets(uow, kind)],
            _fields(sheet, row.says, says, units),
            state,
            _sentence(state, kept, layout, says, units, stale=stale),
            care,
            wrong,
            field,
            count,
            figures,
            stocks,
            len(done & {piece.key for stock in stocks for piece in stock.pieces}),
            when(minute_of(finished.happened_at), zone_here(uow)) if finished else "",
            bool(layout and layout.laid and not stale and not wrong and state not in ("waiting", "looking")),
        ),
        wanted,
    )


#: Fields of a way by what the cutting calls them.
_OWN = {
    "overlap_mm": "overlap_m",
    "pitch_mm": "pitch_m",
    "trim_mm": "trim_m",
    "roll_width_mm": "width_m",
    "gap_mm": "gap_m",
    "length_mm": "length_m",
    "sheet_length_mm": "length_m",
    "sheet_width_mm": "width_m",
}


def _like(kind: str) -> list[str]:
    """Kinds of product that are cut as this one is."""
    wanted = way_kind(kind)
    found = []
    for other in KINDS:
        try:
            if way_kind(other) is wanted:
                found.append(other)
        except Refused:
            pass
    return found


def _fields(sheet: DataSheet, said: Mapping[str, Any], says: Way | None, units: UnitSystem) -> list[GivenField]:
    kind, known = way_kind(sheet.kind), sheet_says(sheet.kind, sheet.says)
    found = []
    for name, (asked, default) in asked_of(kind).items():  # type: ignore[arg-type]  # a type is hashable
        value = getattr(says, name) if says is not None else said.get(name, known.get(name, default))
        empty = value is None or not isinstance(value, (int, float, str, bool))
        text = "" if empty else asked.text(value, units)
        found.append(
            GivenField(name, asked.label, asked.style, text, asked.unit_for(units), list(asked.choices),
                       name not in said)
        )  # fmt: skip
    return found


def _sentence(
    state: str, kept: CutLayout | None, layout: Layout | None, says: Way | None, units: UnitSystem, *, stale: bool
) -> str:
    if kept is None:
        return "Not laid out yet."
    if state == "waiting":
        return "Waits for its turn."
    found = _found(layout, says, units)
    if state == "looking":
        return f"Looking for a better one; so far {found}." if layout else "Looking."
    if state == "failed":
        return f"Could not be laid out: {kept.words}."
    if layout is None:
        return "Stopped before anything was found."
    if stale:
        return f"Out of date: what is cut, or how, has changed since it was laid out. It was {found}."
    stopped = " Stopped; this was the best so far." if state == "stopped" else ""
    return f"{found[:1].upper()}{found[1:]}.{stopped}"


def _found(layout: Layout | None, says: Way | None, units: UnitSystem) -> str:
    if layout is None or says is None:
        return ""
    words = []
    left = sum(stock.kind == "remnant" for stock in layout.stocks)
    if isinstance(says, OffRoll) and layout.run_mm:
        words.append(f"{show(layout.run_mm / 1000, 'run', units)} off the roll")
    elif layout.sheets:
        words.append(f"{layout.sheets} {'sheet' if layout.sheets == 1 else 'sheets'}")
    if left:
        words.append(f"{left} {'remnant' if left == 1 else 'remnants'}")
    return f"{joined(words)}, {layout.used_pct:.0f} % of it used" if words else "nothing fits"


def _care(
    layout: Layout | None, kept: CutLayout | None, says: Way | None, wanted: WantedPieces | None, units: UnitSystem,
    stale: bool,
) -> list[str]:  # fmt: skip
    found = list(wanted.asks) if wanted is not None else []
    if layout is not None and kept is not None and layout.oversize and not stale:
        codes = {piece["key"]: f"{piece['code']} of {piece['part']}" for piece in kept.pieces}
        names = [codes.get(key, key) for key in layout.oversize]
        what = "the roll" if isinstance(says, OffRoll) else "a sheet"
        found.append(
            f"{len(names)} {'piece is' if len(names) == 1 else 'pieces are'} wider than {what} whichever way "
            f"{'it lies' if len(names) == 1 else 'they lie'}: {', '.join(names[:6])}{' …' if len(names) > 6 else ''}"
        )
    if isinstance(says, OffRoll) and says.left_m is not None and not stale:
        if layout is not None and layout.run_mm / 1000 > says.left_m:
            short = show(layout.run_mm / 1000 - says.left_m, "length", units)
            found.append(f"It goes {short} beyond what is left on the roll, {show(says.left_m, 'length', units)}.")
        longest = (
            max((along_mm(piece.outline_mm, piece.angle_deg) for piece in wanted.pieces), default=0) if wanted else 0
        )
        if longest / 1000 > says.left_m:
            found.append(
                f"The longest piece is {show(longest / 1000, 'length', units)} along its warp, longer than what is "
                "left on the roll."
            )
    return found
