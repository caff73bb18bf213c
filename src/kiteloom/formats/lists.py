"""Lists of items as kits and suppliers write them: CSV, or a spreadsheet; read into rows of plain text."""

from __future__ import annotations

import base64
import binascii
import csv
import io
import zipfile
from collections.abc import Sequence
from dataclasses import dataclass, field

from kiteloom.core.base.problems import Refused
from kiteloom.formats.cells import from_text

#: The longest list, the widest, and the largest file [bytes].
MOST_ROWS, MOST_COLUMNS, MOST_BYTES = 5000, 60, 8_000_000
#: What columns are called on lists, in a few languages; the first that fits counts.
COLUMNS: dict[str, tuple[str, ...]] = {
    "number": ("part no", "part number", "p/n", "item no", "article", "number", "no.", "nr", "artikel", "ref"),
    "name": ("name", "description", "item", "part", "designation", "bezeichnung", "benennung"),
    "count": ("qty", "quantity", "count", "pieces", "pcs", "number of", "menge", "anzahl", "stück"),
    "thread": ("thread", "gewinde"),
    "length_mm": ("length", "länge"),
    "hand": ("hand", "side", "seite"),
    "size": ("size", "variant", "größe"),
}


@dataclass(frozen=True)
class ListRow:
    """One line of a list: which of the file it is, what stands under each column that is known, and what is odd."""

    line: int
    cells: dict[str, str]
    odd: tuple[str, ...] = ()


@dataclass(frozen=True)
class ItemList:
    """A list: its rows, and the columns that were recognised, by what they are."""

    rows: tuple[ListRow, ...]
    columns: dict[str, str] = field(default_factory=dict)


def read_list(content: str, *, spreadsheet: bool) -> ItemList:
    """A list from a file's text, or from a spreadsheet in base64; `Refused` where it can't be read.

    Notes
    -----
    Columns are found by their heads, in whatever line of the first twenty they stand. Of merged cells the value counts
    for the first line only, and the others are said to be odd: whether it is meant for all, nobody but its maker knows.
    """
    rows, merged = _spreadsheet(content) if spreadsheet else (_csv(content), {})
    if len(rows) > MOST_ROWS:
        raise Refused("text", f"the list has {len(rows)} lines; at most {MOST_ROWS} are read at once")
    for n, row in enumerate(rows[:20]):
        columns = _columns(row)
        if "name" in columns and "count" in columns:
            return ItemList(tuple(_rows(rows, n + 1, columns, merged)), {key: row[at] for key, at in columns.items()})
    raise Refused("text", "no line has a column for what it is and one for how many; name them Description and Qty")


def _columns(row: Sequence[str]) -> dict[str, int]:
    found: dict[str, int] = {}
    heads = [cell.strip().lower() for cell in row]
    for key, names in COLUMNS.items():
        for name in names:
            at = next((n for n, head in enumerate(heads) if head.startswith(name) and n not in found.values()), None)
            if at is not None:
                found[key] = at
                break
    return found


def _rows(
    rows: Sequence[Sequence[str]], first: int, columns: dict[str, int], merged: dict[tuple[int, int], str]
) -> list[ListRow]:
    found = []
    for n, row in enumerate(rows[first:], first):
        cells = {key: row[at].strip() for key, at in columns.items() if at < len(row) and row[at].strip()}
        odd = tuple(
            f"“{key.removesuffix('_mm')}” is merged with the line above ({merged[n, at]}): is it meant here too?"
            for key, at in columns.items() if (n, at) in merged
        )  # fmt: skip
        if cells:
            found.append(ListRow(n + 1, cells, odd))
    return found


def _csv(text: str) -> list[list[str]]:
    if len(text) > MOST_BYTES:
        raise Refused("text", f"the file has {len(text) / 1e6:.0f} MB; at most {MOST_BYTES / 1e6:.0f} are read")
    head = text[:4000]
    # A semicolon or a tab parts cells where commas are decimal.
    mark = max((";", "\t", ","), key=lambda one: head.count(one) if one != "," else head.count(one) * 0.5)
    try:
        rows = list(csv.reader(io.StringIO(text.lstrip("\ufeff")), delimiter=mark))
    except csv.Error as wrong:
        raise Refused("text", f"the file can’t be read as a table: {wrong}") from None
    return [[from_text(cell) for cell in row[:MOST_COLUMNS]] for row in rows]


def _spreadsheet(content: str) -> tuple[list[list[str]], dict[tuple[int, int], str]]:
    """The first sheet's cells as text; what is merged into which cell, by line and column, without its first."""
    from openpyxl import load_workbook

    if len(content) > MOST_BYTES * 4 // 3:
        raise Refused("text", f"the file is larger than {MOST_BYTES / 1e6:.0f} MB")
    try:
        data = base64.b64decode(content, validate=True)
        with zipfile.ZipFile(io.BytesIO(data)) as inside:
            # What unpacks to much more than it is was not made by a spreadsheet.
            if sum(one.file_size for one in inside.infolist()) > 40 * MOST_BYTES:
                raise Refused("text", "the spreadsheet unpacks to far more than it is; it is not read")
        sheet = load_workbook(io.BytesIO(data), data_only=True).worksheets[0]
    except (binascii.Error, zipfile.BadZipFile, KeyError, ValueError, IndexError, OSError):
        raise Refused("text", "that is not a spreadsheet (.xlsx); save it as one, or as CSV") from None
    rows = [
        ["" if cell is None else _plain(cell) for cell in row[:MOST_COLUMNS]]
        for row in sheet.iter_rows(max_row=min(sheet.max_row, MOST_ROWS + 1), values_only=True)
    ]
    merged = {}
    for span in sheet.merged_cells.ranges:
        for row in range(span.min_row, min(span.max_row, MOST_ROWS) + 1):
            for column in range(span.min_col, span.max_col + 1):
                if (row, column) != (span.min_row, span.min_col) and row > span.min_row:
                    merged[row - 1, column - 1] = str(span)
    return rows, merged


def _plain(cell: object) -> str:
    return f"{cell:g}" if isinstance(cell, float) else str(cell)
