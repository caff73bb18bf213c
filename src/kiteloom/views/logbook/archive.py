"""The whole shop as open files, its logbook in words beside them."""

from __future__ import annotations

import csv
import io
from datetime import datetime
from importlib.metadata import version
from pathlib import Path

from kiteloom.core.base.calendar import moment_of
from kiteloom.formats.cells import as_text
from kiteloom.store import archive
from kiteloom.store.unit_of_work import Store, UnitOfWork
from kiteloom.views.logbook.logbook import KIND_WORDS, written
from kiteloom.views.logbook.pen import Pen

_COLUMNS = (
    "when", "what kind", "of part", "what", "in words", "by", "more", "corrects", "does not count", "photographs", "id",
)  # fmt: skip


def archived(store: Store, target: Path, now: datetime) -> int:
    """Write the archive; its size in bytes. `CantOpen` as `archive.write`."""
    with store.reading() as uow:
        words = logbook_csv(uow)
    shop = store.path.parent
    return archive.write(shop, target, version("kiteloom"), now, beside={"logbook.csv": words}, as_cell=as_text)


def logbook_csv(uow: UnitOfWork) -> str:
    """The book as a table, oldest first; times are the shop's own, with their offset."""
    pen, out = Pen.of(uow), io.StringIO()
    table = csv.writer(out, lineterminator="\r\n")
    table.writerow(_COLUMNS)
    for entry in written(pen):
        at = moment_of(entry.at, pen.zone).isoformat(timespec="minutes")
        shown = " ".join((*entry.photos, *entry.spoken))
        said = (at, KIND_WORDS[entry.kind], pen.name(entry.part), entry.of, entry.words, pen.signed(entry))
        more = (" ".join(entry.sub), entry.corrects, entry.against, shown, entry.id)
        table.writerow([as_text(cell) for cell in (*said, *more)])
    return out.getvalue()
