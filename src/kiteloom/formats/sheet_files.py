"""Data sheets as files: JSON for exchange between shops, CSV to look at and edit in any table program.

JSON: ``{"kite loom sheets": 1, "sheets": [{"kind": …, "name": …, "says": {…}}, …]}``. CSV: a row a
sheet, a column a field, quantities with their units; the stages as ``gel: 4 | 9; peel: 10 | 22``
under ``temperatures`` like ``23 °C | 15 °C``.
"""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from kiteloom.core.base.problems import Refused
from kiteloom.core.stores.fields import FIELDS, KINDS
from kiteloom.core.stores.form import Form, StagesForm, cleaned, read, written
from kiteloom.formats.cells import as_text, from_text, writable

MARK = "kite loom sheets"
LARGEST = 2_000


@dataclass(frozen=True)
class FileSheet:
    """A sheet in a file: what it says, or why it can't be read."""

    kind: str
    name: str
    says: dict[str, Any]
    problems: tuple[str, ...] = ()


def write_json(sheets: Sequence[FileSheet]) -> str:
    """Sheets as JSON."""
    rows = [{"kind": sheet.kind, "name": sheet.name, "says": sheet.says} for sheet in sheets]
    return json.dumps({MARK: 1, "sheets": rows}, ensure_ascii=False, indent=1)


def write_csv(sheets: Sequence[FileSheet]) -> str:
    """Sheets as a table, with the columns that any of them uses."""
    forms = [(sheet, written(sheet.kind, sheet.says)) for sheet in sheets]
    used = [field.key for field in FIELDS if any(form.texts.get(field.key) for _, form in forms)]
    out = io.StringIO()
    table = csv.writer(out)
    table.writerow(["kind", "name", *used, "temperatures", "stages"])
    for sheet, form in forms:
        stages = "; ".join(f"{name}: {' | '.join(hours)}" for name, hours in form.stages.rows)
        temps = " | ".join(form.stages.temps)
        cells = [sheet.kind, sheet.name, *(form.texts.get(key, "") for key in used), temps, stages]
        table.writerow([as_text(cell) for cell in cells])
    return out.getvalue()


def read_sheets(text: str) -> list[FileSheet]:
    """The sheets in a file, whichever of the two it is.

    Raises
    ------
    Refused
        If it is neither. A single bad sheet is kept with its problems.
    """
    body = text.lstrip("\ufeff \t\r\n")
    if not body:
        raise Refused("file", "the file is empty")
    found = _from_json(body) if body[0] in "{[" else _from_csv(body)
    if not found:
        raise Refused("file", "the file has no data sheets in it")
    if len(found) > LARGEST:
        raise Refused("file", f"the file has {len(found)} sheets; at most {LARGEST} are taken at once")
    return found


def _from_json(text: str) -> list[FileSheet]:
    try:
        body = json.loads(text)
    except RecursionError:
        raise Refused("file", "the file isn't a list of sheets: its lists lie too deep in one another") from None
    except ValueError as wrong:
        raise Refused("file", f"the file isn't JSON that can be read: {str(wrong)[:120]}") from None
    rows = body.get("sheets") if isinstance(body, dict) else body
    if not isinstance(rows, list):
        raise Refused("file", "the file is JSON, but has no list of “sheets” in it")
    found = []
    for number, row in enumerate(rows, start=1):
        kind, name = (row.get("kind"), row.get("name")) if isinstance(row, dict) else (None, None)
        says = row.get("says") if isinstance(row, dict) else None
        if isinstance(name, str) and not writable(name):
            found.append(FileSheet(str(kind)[:40], f"sheet {number}", {}, ("its name holds half a letter",)))
            continue
        if kind not in KINDS or not isinstance(name, str) or not isinstance(says, dict):
            called = name if isinstance(name, str) else f"sheet {number}"
            found.append(FileSheet(str(kind)[:40], called, {}, (f"“{str(kind)[:40]}” is not a kind of data sheet",)))
            continue
        kept, problems = cleaned(kind, name, says)
        found.append(FileSheet(kind, name.strip(), kept, tuple(p.sentence for p in problems)))
    return found


def _from_csv(text: str) -> list[FileSheet]:
    first = text.splitlines()[0]
    delimiter = max(",;\t", key=first.count)
    try:
        # A lone carriage return ends a row too.
        rows = list(csv.reader(text.splitlines(keepends=True), delimiter=delimiter))
    except csv.Error as wrong:
        raise Refused("file", f"the file isn't a table that can be read: {str(wrong)[:80]}") from None
    rows = [[from_text(cell) for cell in cells] for cells in rows]
    header = [cell.strip() for cell in rows[0]]
    if "kind" not in header or "name" not in header:
        raise Refused("file", f"the file's first row is “{first[:80]}”; it needs columns “kind” and “name”")
    found = []
    for cells in rows[1:]:
        row = dict(zip(header, cells, strict=False))
        kind, name = row.get("kind", "").strip(), row.get("name", "").strip()
        if not any(cell.strip() for cell in cells):
            continue
        if kind not in KINDS:
            found.append(FileSheet(kind, name, {}, (f"“{kind[:40]}” is not a kind of data sheet",)))
            continue
        says, problems = read(kind, name, Form(row, _stages(row)))
        found.append(FileSheet(kind, name, says, tuple(p.sentence for p in problems)))
    return found


def _stages(row: dict[str, str]) -> StagesForm:
    temps = tuple(part.strip() for part in row.get("temperatures", "").split("|"))
    rows = []
    for part in row.get("stages", "").split(";"):
        name, _, hours = part.partition(":")
        if part.strip():
            rows.append((name.strip(), tuple(cell.strip() for cell in hours.split("|"))))
    return StagesForm(temps, tuple(rows))
