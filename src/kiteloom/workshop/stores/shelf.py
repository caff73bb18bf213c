"""The shelf: data sheets kept, edited, hidden and put back."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import Any

from sqlalchemy import select

from kiteloom.core.base.problems import Refused
from kiteloom.core.stores import reading
from kiteloom.core.stores.form import Form, StagesForm, differences, read
from kiteloom.store.models import DataSheet, Design, Job, Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.shop import units_of

#: What was hidden can be taken back for so long [days].
TAKE_BACK_DAYS = 30


def on_shelf(uow: UnitOfWork) -> list[DataSheet]:
    """Every sheet that is not hidden."""
    query = select(DataSheet).where(DataSheet.hidden_at.is_(None)).order_by(DataSheet.kind, DataSheet.name)
    return list(uow.session.scalars(query))


def used_by(uow: UnitOfWork, sheet_id: str) -> list[str]:
    """The names of what is built with a product."""
    parts = {part.id: part.name for part in uow.all(Part)}
    designs = {design.id: design.name for design in uow.all(Design)}
    users = [job for job in uow.all(Job) if job.hidden_at is None and sheet_id in _chosen(job)]
    return sorted({designs.get(job.design_id or "") or parts[job.part_id or ""] for job in users})


def _chosen(job: Job) -> set[str]:
    book = job.ply_book
    plies = {str(row["cloth_id"]) for row in book.get("plies", ())} | {str(book.get("core_id"))}
    return plies | {row.data_sheet_id for row in job.products}


@dataclass(frozen=True)
class StageHours:
    """A stage's hours at each temperature, as typed."""

    name: str
    hours: list[str]


@dataclass(frozen=True)
class TypedSheet:
    """A sheet as typed. The client makes the id of a new one, so a retry adds nothing; 0 is no version yet."""

    kind: str
    name: str
    texts: dict[str, str]
    temps: list[str] = field(default_factory=list)
    stages: list[StageHours] = field(default_factory=list)
    id: str = ""
    version: int = 0

    @property
    def form(self) -> Form:
        """As the core reads it."""
        rows = tuple((row.name, tuple(row.hours) or ("",)) for row in self.stages)
        return Form(self.texts, StagesForm(tuple(self.temps) or ("",), rows))


@dataclass(frozen=True)
class SheetKept:
    """A sheet that was kept, and its version."""

    id: str
    version: int


class NotRead(Refused):
    """Several fields of a form that can't be read, each with its sentence."""

    def __init__(self, problems: Sequence[Refused]) -> None:
        super().__init__(problems[0].field, problems[0].sentence)
        self.all = tuple(problems)


def keep_sheet(uow: UnitOfWork, order: TypedSheet, now: datetime) -> SheetKept:
    """Put a new sheet on the shelf; the same id again adds nothing."""
    if not order.id:
        raise Refused("id", "a new sheet needs an id")
    known = uow.session.get(DataSheet, order.id)
    if known is not None:
        return SheetKept(known.id, known.version)
    says = _read(uow, order.kind, order)
    _alone(uow, order.kind, order.name, "")
    uow.add(DataSheet(id=order.id, kind=order.kind, name=order.name.strip(), says=says, updated_at=now))
    uow.changed("sheet", order.id)
    return SheetKept(order.id, 1)


def edit_sheet(uow: UnitOfWork, sheet_id: str, order: TypedSheet, now: datetime) -> SheetKept:
    """Change a sheet; what is built with it is planned anew by it, what was mixed keeps the sheet of its day."""
    sheet = uow.get_for_edit(DataSheet, sheet_id, order.version)
    says = _read(uow, sheet.kind, order)
    _alone(uow, sheet.kind, order.name, sheet.id)
    words = differences(sheet.kind, sheet.says, says, units_of(uow))
    if order.name.strip() != sheet.name:
        words.insert(0, f"name {sheet.name} → {order.name.strip()}")
    if not words:
        return SheetKept(sheet.id, sheet.version)
    still_usable(uow, sheet, says)
    sheet.says, sheet.name = says, order.name.strip()
    uow.edited(sheet, words, now, "sheet")
    return SheetKept(sheet.id, sheet.version)


def _read(uow: UnitOfWork, kind: str, order: TypedSheet) -> dict[str, Any]:
    says, problems = read(kind, order.name, order.form, units_of(uow))
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
    users = used_by(uow, sheet.id)
    if not users:
        return
    try:
        if sheet.kind == "cloth":
            reading.cloth(sheet.name, says)
        elif sheet.kind == "core":
            reading.core_sheet(sheet.name, says)
        elif sheet.kind == "cover cloth":
            reading.cover_cloth(sheet.name, says)
        elif sheet.kind == "tape":
            reading.edge_tape(sheet.name, says)
        else:
            _ = reading.resin_sheet(sheet.name, says).curing
    except Refused as refused:
        raise Refused(refused.field, f"“{users[0]}” is built with it: {refused.sentence}") from None


@dataclass(frozen=True)
class HideSheet:
    """Off the shelf, or back on it."""

    version: int
    hidden: bool


def put_away(uow: UnitOfWork, sheet_id: str, order: HideSheet, now: datetime) -> SheetKept:
    """Take a sheet off the shelf, or put it back."""
    return _hide(uow, sheet_id, order.version, now) if order.hidden else _put_back(uow, sheet_id, now)


def _hide(uow: UnitOfWork, sheet_id: str, version: int, now: datetime) -> SheetKept:
    """Take a sheet off the shelf. Its batches and lots stay, and it can be put back for thirty days."""
    sheet = uow.get_for_edit(DataSheet, sheet_id, version)
    if users := used_by(uow, sheet_id):
        raise Refused("id", f"{', '.join(users)}: built with it. Choose another product there first")
    if sheet.hidden_at is None:
        sheet.hidden_at = now
        uow.edited(sheet, [f"{sheet.name} taken off the shelf"], now, "sheet")
    return SheetKept(sheet.id, sheet.version)


def _put_back(uow: UnitOfWork, sheet_id: str, now: datetime) -> SheetKept:
    """Put a sheet back on the shelf."""
    sheet = uow.get(DataSheet, sheet_id)
    if sheet.hidden_at is not None:
        if now - sheet.hidden_at >= timedelta(days=TAKE_BACK_DAYS):
            raise Refused("id", f"{sheet.name} was taken off the shelf more than {TAKE_BACK_DAYS} days ago")
        sheet.hidden_at = None
        uow.edited(sheet, [f"{sheet.name} put back on the shelf"], now, "sheet")
    return SheetKept(sheet.id, sheet.version)
