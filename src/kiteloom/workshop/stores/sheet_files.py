"""Data sheets taken in from a file, and written out. A file is looked at before anything of it is taken."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal
from uuid import NAMESPACE_URL, uuid5

from sqlalchemy import select

from kiteloom.core.base.problems import Refused
from kiteloom.core.stores.form import differences, same
from kiteloom.formats.sheet_files import FileSheet, read_sheets, write_csv, write_json
from kiteloom.store.models import DataSheet
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.stores.shelf import on_shelf, still_usable


@dataclass(frozen=True)
class FileRow:
    """One sheet of a file, against the shelf."""

    kind: str
    name: str
    what: Literal["new", "same", "differs", "refused"]
    words: list[str]


@dataclass(frozen=True)
class Looked:
    """A file of sheets: what each would do, and how many were taken."""

    rows: list[FileRow]
    taken: int
    sentence: str


def export_sheets(uow: UnitOfWork, form: str, sheet_id: str = "") -> str:
    """The shelf, or one sheet, as ``json`` or ``csv``."""
    rows = [uow.get(DataSheet, sheet_id)] if sheet_id else on_shelf(uow)
    sheets = [FileSheet(row.kind, row.name, dict(row.says)) for row in rows]
    if form not in ("json", "csv"):
        raise Refused("form", f"“{form[:20]}” is not a form; it is json or csv")
    return write_json(sheets) if form == "json" else write_csv(sheets)


@dataclass(frozen=True)
class SheetFile:
    """A file of sheets; looked at only, until told to take it."""

    text: str
    take: bool = False
    replace: bool = False


def import_sheets(uow: UnitOfWork, order: SheetFile, now: datetime) -> Looked:
    """Look at a file, and where told take what is new; what differs only where told to replace it.

    The same file again adds nothing.
    """
    units, rows, taken = units_of(uow), [], 0
    for sheet in read_sheets(order.text):
        if sheet.problems:
            rows.append(FileRow(sheet.kind, sheet.name, "refused", list(sheet.problems)))
            continue
        query = select(DataSheet).where(DataSheet.kind == sheet.kind, DataSheet.name == sheet.name)
        known = uow.session.scalar(query)
        if known is None:
            rows.append(FileRow(sheet.kind, sheet.name, "new", []))
            if order.take:
                key = str(uuid5(NAMESPACE_URL, f"kiteloom:file/{sheet.kind}/{sheet.name}"))
                uow.add(DataSheet(id=key, kind=sheet.kind, name=sheet.name, says=sheet.says, updated_at=now))
                uow.changed("sheet", key)
                taken += 1
        elif same(known.says, sheet.says):
            rows.append(FileRow(sheet.kind, sheet.name, "same", []))
        else:
            words = differences(sheet.kind, known.says, sheet.says, units)
            if not words:
                rows.append(FileRow(sheet.kind, sheet.name, "same", []))
                continue
            rows.append(FileRow(sheet.kind, sheet.name, "differs", words))
            if order.take and order.replace:
                edit = uow.get_for_edit(DataSheet, known.id, known.version)
                still_usable(uow, edit, sheet.says)
                edit.says = sheet.says
                uow.edited(edit, words, now, "sheet")
                taken += 1
    return Looked(rows, taken, _sentence(rows, taken, order.take))


def _sentence(rows: list[FileRow], taken: int, take: bool) -> str:
    counts = {what: sum(row.what == what for row in rows) for what in ("new", "same", "differs", "refused")}
    if take:
        return f"{taken} of {len(rows)} sheets taken." if taken else "Nothing was taken: all of it is here already."
    named = {
        "new": "new",
        "same": "here already, the same",
        "differs": "here already, saying something else",
        "refused": "can't be read",
    }
    parts = [f"{count} {named[what]}" for what, count in counts.items() if count]
    return f"{len(rows)} {'sheet' if len(rows) == 1 else 'sheets'}: {', '.join(parts)}."
