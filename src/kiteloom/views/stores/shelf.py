"""The shelf as it is shown: products with what asks for care, and one sheet as it is typed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from kiteloom.core.base.problems import Refused, plain
from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.mix.ratio import hardener_per_hundred
from kiteloom.core.stores import reading
from kiteloom.core.stores.fields import BY_TABLE, CAUTIONS, CURING, KINDS, MIXED, STAGES, fields_of
from kiteloom.core.stores.form import read, written
from kiteloom.core.stores.lots import Measure, counted_in
from kiteloom.core.stores.questions import Question, questions
from kiteloom.core.stores.sheets import Lacks, cure_from, fitted_energy, lacking, said, two_kinetics
from kiteloom.store.models import DataSheet
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.stores.keeping import kept_wrong
from kiteloom.views.stores.lots import LotView, lots_of
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.log.used_up import lots_here
from kiteloom.workshop.stores.shelf import TAKE_BACK_DAYS, TypedSheet, on_shelf, used_by

#: Without these a product can't be mixed, cupped or waited for.
_NEEDED = ("ratio", "stages", "pot_life.minutes", "areal_weight_g_m2", "thickness_mm")


@dataclass(frozen=True)
class ProductRow:
    """One product on the shelf: what it is in a few words, and what asks for care."""

    id: str
    kind: str
    name: str
    words: str
    lots: list[LotView]
    care: list[str]


@dataclass(frozen=True)
class ShelfGroup:
    """Products of one kind."""

    kind: str
    products: list[ProductRow]


@dataclass(frozen=True)
class Hidden:
    """A sheet that was taken off the shelf, and until when it can be put back."""

    id: str
    name: str
    kind: str
    until: datetime


@dataclass(frozen=True)
class ShelfView:
    """Every product, kind by kind."""

    kinds: list[str]
    groups: list[ShelfGroup]
    hidden: list[Hidden]


@dataclass(frozen=True)
class FieldView:
    """One field of a sheet, as text in the shop's units."""

    key: str
    label: str
    group: str
    style: str
    unit: str
    choices: tuple[str, ...]
    text: str


@dataclass(frozen=True)
class StageRow:
    """A stage's hours at each temperature, as text."""

    name: str
    hours: list[str]


@dataclass(frozen=True)
class StagesView:
    """The stages as typed; the first temperature is the one the others are compared with."""

    temps: list[str]
    rows: list[StageRow]
    usual: tuple[str, ...]


@dataclass(frozen=True)
class Checked:
    """What is odd about a sheet, what it lacks, what follows from it, and what can't be read."""

    questions: list[Question]
    lacks: list[Lacks]
    follows: list[str]
    problems: dict[str, str]


@dataclass(frozen=True)
class SheetView:
    """A data sheet to read or edit; ``version`` 0 when it was never kept."""

    id: str
    version: int
    kind: str
    name: str
    fields: list[FieldView]
    stages: StagesView | None
    checked: Checked
    cautions: dict[str, str]
    lots: list[LotView]
    measure: Measure
    """What its lots are counted in: mass, run or count."""
    used_by: list[str]
    hidden: bool


def shelf(uow: UnitOfWork, now: datetime) -> ShelfView:
    """Read the shelf."""
    units = units_of(uow)
    groups: list[ShelfGroup] = []
    rows = on_shelf(uow)
    for kind in KINDS:
        mine = [_row(uow, sheet, now, units) for sheet in rows if sheet.kind == kind]
        if mine:
            groups.append(ShelfGroup(kind, mine))
    hidden = [
        Hidden(sheet.id, sheet.name, sheet.kind, sheet.hidden_at + timedelta(days=TAKE_BACK_DAYS))
        for sheet in uow.all(DataSheet, DataSheet.name)
        if sheet.hidden_at is not None and now - sheet.hidden_at < timedelta(days=TAKE_BACK_DAYS)
    ]
    return ShelfView(list(KINDS), groups, hidden)


def _row(uow: UnitOfWork, sheet: DataSheet, now: datetime, units: UnitSystem) -> ProductRow:
    asked = questions(sheet.kind, sheet.says, units)
    hard = [lack for lack in lacking(sheet.kind, sheet.says, units) if lack.field in _NEEDED]
    care = []
    if asked:
        care.append(f"{len(asked)} {'question' if len(asked) == 1 else 'questions'} about its sheet")
    if hard:
        care.append(f"sheet lacks {len(hard)} {'figure' if len(hard) == 1 else 'figures'}")
    lots = lots_of(uow, sheet, now)
    care += [lot.care for lot in lots if lot.care and not lot.empty]
    there = {lot.id for lot in lots if not (lot.empty or lot.bad)}
    care += kept_wrong(uow, sheet, [lot for lot in lots_here(uow) if lot.id in there], now)
    return ProductRow(sheet.id, sheet.kind, sheet.name, _in_short(sheet.kind, sheet.says, units), lots, care)


def _in_short(kind: str, says: Mapping[str, Any], units: UnitSystem) -> str:
    parts = []
    if kind in MIXED:
        try:
            mix = reading.mix_system(says)
        except Refused:
            pass
        else:
            span = says.get("range_pct")
            parts.append(f"{plain(span[0])} to {plain(span[1])} % hardener" if span else str(mix.ratio))
    minutes, mass = said(says, "pot_life.minutes"), said(says, "pot_life.mass_g")
    if minutes is not None and mass is not None:
        parts.append(f"pot life {plain(minutes)} min for {show(mass, 'mass', units)}")
    if says.get("areal_weight_g_m2") is not None:
        parts.append(show(says["areal_weight_g_m2"], "areal weight", units))
    if says.get("thickness_mm") is not None:
        parts.append(show(says["thickness_mm"], "thickness", units))
    if says.get("use"):
        parts.append(f"for {says['use']}")
    if said(says, "cure.min_c") is not None:
        parts.append(f"from {show(said(says, 'cure.min_c'), 'temperature', units)}")
    return " · ".join(parts)


def sheet_view(uow: UnitOfWork, sheet_id: str, now: datetime) -> SheetView:
    """One sheet."""
    sheet = uow.get(DataSheet, sheet_id)
    used = used_by(uow, sheet_id)
    return _view(
        uow,
        sheet.id,
        sheet.version,
        sheet.kind,
        sheet.name,
        sheet.says,
        lots_of(uow, sheet, now),
        used,
        sheet.hidden_at,
    )


def blank_sheet(uow: UnitOfWork, kind: str, like: str = "") -> SheetView:
    """A sheet still to be typed; like another one, where that is named."""
    if like:
        other = uow.get(DataSheet, like)
        return _view(uow, "", 0, other.kind, f"{other.name}, copy", other.says, [], [], None)
    fields_of(kind)
    return _view(uow, "", 0, kind, "", {}, [], [], None)


def _view(
    uow: UnitOfWork,
    key: str,
    version: int,
    kind: str,
    name: str,
    says: Mapping[str, Any],
    lots: list[LotView],
    used: list[str],
    hidden_at: datetime | None,
) -> SheetView:
    units = units_of(uow)
    form = written(kind, says, units)
    fields = [
        FieldView(f.key, f.label, f.group, f.style, f.unit_for(units), f.choices, form.texts[f.key])
        for f in fields_of(kind)
    ]
    stages = None
    if kind in CURING:
        rows = [StageRow(stage, list(hours)) for stage, hours in form.stages.rows]
        stages = StagesView(list(form.stages.temps), rows, STAGES)
    checked = Checked(questions(kind, says, units), lacking(kind, says, units), _follows(kind, says, units), {})
    measure, hidden = counted_in(says, kind), hidden_at is not None
    return SheetView(key, version, kind, name, fields, stages, checked, CAUTIONS, lots, measure, used, hidden)


def check(uow: UnitOfWork, order: TypedSheet) -> Checked:
    """A sheet as it is being typed. Nothing is kept."""
    units, kind = units_of(uow), order.kind
    says, problems = read(kind, order.name.strip() or "this product", order.form, units)
    found = {problem.field: problem.sentence for problem in reversed(problems)}
    return Checked(questions(kind, says, units), lacking(kind, says, units), _follows(kind, says, units), found)


def _follows(kind: str, says: Mapping[str, Any], units: UnitSystem) -> list[str]:
    """What a sheet's figures amount to, in words."""
    words = []
    known = says.get("equivalents") or {}
    if known.get("epoxide") and known.get("amine"):
        parts = hardener_per_hundred(known["amine"], known["epoxide"])
        words.append(f"The equivalent weights ask for 100 : {parts:.1f} by weight (100 × amine ÷ epoxide).")
    if kind in MIXED and (says.get("ratio") or says.get("ratio_by_volume")):
        try:
            mix = reading.mix_system(says)
        except Refused as refused:
            words.append(f"It can't be weighed: {refused.sentence}.")
        else:
            if mix.by_volume is not None:
                by_weight, by_volume = 100 * mix.by_weight, 100 * mix.by_volume
                words.append(
                    f"100 : {by_weight:.1f} by weight is 100 : {by_volume:.1f} by volume with these densities."
                )
    rows = said(says, "cure.stages") or []
    reference = said(says, "cure.reference_c")
    fitted = fitted_energy(reference, rows) if reference is not None else None
    if (
        fitted is not None
        and said(says, "cure.activation_energy_kj_mol") is None
        and says.get("chemistry") not in BY_TABLE
    ):
        words.append(f"The stages at several temperatures fit an activation energy of {fitted:.1f} kJ/mol.")
    cure = cure_from(says)
    if cure is not None and cure.rule_of_thumb:
        how = "It dries" if cure.reference_rh_pct is None else "It cures by the air’s moisture, faster when damp"
        words.append(f"{how}: times between and beyond its temperatures are a rule of thumb.")
        if cure.reference_rh_pct is not None:
            words.append(f"Its hours are taken as those at {cure.reference_rh_pct:.0f} % humidity, as of standard air.")
    if cure is not None and cure.assumed:
        words.append("Colder or warmer hours assume that it doubles its speed every 10 °C.")
    apart = two_kinetics(says, units)
    return [*words, apart] if apart else words
