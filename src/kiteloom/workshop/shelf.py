"""The shelf: data sheets looked at, typed, checked, copied, hidden; and what was received of each."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from sqlalchemy import select

from kiteloom.core import reading
from kiteloom.core.mixing import hardener_per_hundred
from kiteloom.core.problems import Refused, plain
from kiteloom.core.quantities import UnitSystem, show
from kiteloom.core.sheet_fields import BY_TABLE, CAUTIONS, CURING, KINDS, MIXED, STAGES, fields_of
from kiteloom.core.sheet_form import Form, StagesForm, differences, read, unit_for, written
from kiteloom.core.sheets import Lacks, Question, cure_from, fitted_energy, lacking, questions, said
from kiteloom.store.models import DataSheet, Design
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.lots import LotView, lots_of
from kiteloom.workshop.shop import units_of

#: What was hidden can be taken back for so long [days].
TAKE_BACK_DAYS = 30


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
    used_by: list[str]
    hidden: bool


def on_shelf(uow: UnitOfWork) -> list[DataSheet]:
    """Every sheet that is not hidden."""
    query = select(DataSheet).where(DataSheet.hidden_at.is_(None)).order_by(DataSheet.kind, DataSheet.name)
    return list(uow.session.scalars(query))


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


def used_by(uow: UnitOfWork, sheet_id: str) -> list[str]:
    """The names of what is built with a product."""
    return sorted({d.name for d in uow.all(Design) if sheet_id == d.resin_sheet_id or sheet_id in _chosen(d)})


def _chosen(design: Design) -> set[str]:
    book = design.ply_book
    return {str(row["cloth_id"]) for row in book.get("plies", ())} | {str(book.get("core_id"))}


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
        FieldView(f.key, f.label, f.group, f.style, unit_for(f, units), f.choices, form.texts[f.key])
        for f in fields_of(kind)
    ]
    stages = None
    if kind in CURING:
        rows = [StageRow(stage, list(hours)) for stage, hours in form.stages.rows]
        stages = StagesView(list(form.stages.temps), rows, STAGES)
    checked = Checked(questions(kind, says, units), lacking(kind, says, units), _follows(kind, says), {})
    return SheetView(
        key, version, kind, name, fields, stages, checked, CAUTIONS, lots, used, hidden_at is not None
    )


def check(uow: UnitOfWork, kind: str, name: str, form: Form) -> Checked:
    """A sheet as it is being typed. Nothing is kept."""
    units = units_of(uow)
    says, problems = read(kind, name.strip() or "this product", form, units)
    found = {problem.field: problem.sentence for problem in reversed(problems)}
    return Checked(questions(kind, says, units), lacking(kind, says, units), _follows(kind, says), found)


def _follows(kind: str, says: Mapping[str, Any]) -> list[str]:
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
        words.append("It dries: times between and beyond its temperatures are a rule of thumb.")
    if cure is not None and cure.assumed:
        words.append("Colder or warmer hours assume that it doubles its speed every 10 °C.")
    return words


@dataclass(frozen=True)
class SheetOrder:
    """A sheet as typed. The client makes the id, so a retry adds nothing."""

    id: str
    kind: str
    name: str
    form: Form
    version: int = 0


@dataclass(frozen=True)
class Kept:
    """A sheet that was kept, and its version."""

    id: str
    version: int


class NotRead(Refused):
    """Several fields of a form that can't be read, each with its sentence."""

    def __init__(self, problems: Sequence[Refused]) -> None:
        super().__init__(problems[0].field, problems[0].sentence)
        self.all = tuple(problems)


def keep_sheet(uow: UnitOfWork, order: SheetOrder, now: datetime) -> Kept:
    """Put a new sheet on the shelf; the same id again adds nothing."""
    known = uow.session.get(DataSheet, order.id)
    if known is not None:
        return Kept(known.id, known.version)
    says = _read(uow, order)
    _alone(uow, order.kind, order.name, "")
    uow.add(DataSheet(id=order.id, kind=order.kind, name=order.name.strip(), says=says, updated_at=now))
    uow.changed("sheet", order.id)
    return Kept(order.id, 1)


def edit_sheet(uow: UnitOfWork, order: SheetOrder, now: datetime) -> Kept:
    """Change a sheet; what is built with it is planned anew by it, what was mixed keeps the sheet of its day."""
    sheet = uow.get_for_edit(DataSheet, order.id, order.version)
    says = _read(uow, SheetOrder(order.id, sheet.kind, order.name, order.form))
    _alone(uow, sheet.kind, order.name, sheet.id)
    words = differences(sheet.kind, sheet.says, says, units_of(uow))
    if order.name.strip() != sheet.name:
        words.insert(0, f"name {sheet.name} → {order.name.strip()}")
    if not words:
        return Kept(sheet.id, sheet.version)
    still_usable(uow, sheet, says)
    sheet.says, sheet.name = says, order.name.strip()
    uow.edited(sheet, words, now, "sheet")
    return Kept(sheet.id, sheet.version)


def _read(uow: UnitOfWork, order: SheetOrder) -> dict[str, Any]:
    says, problems = read(order.kind, order.name, order.form, units_of(uow))
    if problems:
        raise NotRead(problems)
    return says


def _alone(uow: UnitOfWork, kind: str, name: str, mine: str) -> None:
    query = select(DataSheet).where(DataSheet.kind == kind, DataSheet.name == name.strip(), DataSheet.id != mine)
    other = uow.session.scalar(query)
    if other is not None:
        where = "hidden from the shelf; put it back instead" if other.hidden_at else "on the shelf already"
        raise Refused("name", f"a {kind} named “{name.strip()}” is {where}")


def still_usable(uow: UnitOfWork, sheet: DataSheet, says: dict[str, Any]) -> None:
    """What is built with a product needs its figures."""
    users = [
        design
        for design in uow.all(Design, Design.name)
        if sheet.id == design.resin_sheet_id or sheet.id in _chosen(design)
    ]
    if not users:
        return
    try:
        if sheet.kind == "cloth":
            reading.cloth(sheet.name, says)
        elif sheet.kind == "core":
            reading.core_sheet(sheet.name, says)
        else:
            _ = reading.resin_sheet(sheet.name, says).curing
    except Refused as refused:
        raise Refused(refused.field, f"“{users[0].name}” is built with it: {refused.sentence}") from None


def hide_sheet(uow: UnitOfWork, sheet_id: str, version: int, now: datetime) -> Kept:
    """Take a sheet off the shelf. Its batches and lots stay, and it can be put back for thirty days."""
    sheet = uow.get_for_edit(DataSheet, sheet_id, version)
    if users := used_by(uow, sheet_id):
        raise Refused("id", f"{', '.join(users)}: built with it. Choose another product there first")
    if sheet.hidden_at is None:
        sheet.hidden_at = now
        uow.edited(sheet, [f"{sheet.name} taken off the shelf"], now, "sheet")
    return Kept(sheet.id, sheet.version)


def unhide_sheet(uow: UnitOfWork, sheet_id: str, now: datetime) -> Kept:
    """Put a sheet back on the shelf."""
    sheet = uow.get(DataSheet, sheet_id)
    if sheet.hidden_at is not None:
        if now - sheet.hidden_at >= timedelta(days=TAKE_BACK_DAYS):
            raise Refused("id", f"{sheet.name} was taken off the shelf more than {TAKE_BACK_DAYS} days ago")
        sheet.hidden_at = None
        uow.edited(sheet, [f"{sheet.name} put back on the shelf"], now, "sheet")
    return Kept(sheet.id, sheet.version)


def form_of(texts: Mapping[str, str], temps: Sequence[str], rows: Sequence[tuple[str, Sequence[str]]]) -> Form:
    """A form as the API received it."""
    stages = StagesForm(tuple(temps) or ("",), tuple((name, tuple(hours) or ("",)) for name, hours in rows))
    return Form(texts, stages)
