"""The shelf: data sheets kept, edited, hidden and put back."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
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
    users = used_by(uow, sheet.id)
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
        raise Refused(refused.field, f"“{users[0]}” is built with it: {refused.sentence}") from None


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
