"""Cells of tables that are opened in spreadsheets: a text stays a text."""

from __future__ import annotations

#: What a spreadsheet takes for the beginning of a formula.
FORMULA = ("=", "+", "-", "@", "\t", "\r")


def as_text(cell: str) -> str:
    """A text that a spreadsheet would take for a formula is kept a text.

    >>> as_text("=A1"), as_text("Tarn")
    ("'=A1", 'Tarn')
    """
    return f"'{cell}" if cell.startswith((*FORMULA, "'")) else cell


def from_text(cell: str) -> str:
    """The same cell read back.

    >>> from_text(as_text("=A1")), from_text("Tarn")
    ('=A1', 'Tarn')
    """
    return cell[1:] if cell.startswith("'") and cell[1:].startswith((*FORMULA, "'")) else cell


def writable(text: str) -> bool:
    """Whether a text can be written at all: half a letter can't.

    >>> writable("Tarn"), writable("\ud800")
    (True, False)
    """
    return not any("\ud800" <= letter <= "\udfff" for letter in text)
