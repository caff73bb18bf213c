"""An order on paper, as a table, and as the text of a mail."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass

from reportlab.lib import colors
from reportlab.lib.units import mm
from reportlab.platypus import Spacer, Table, TableStyle

from kiteloom.formats.bench_page import BenchPage
from kiteloom.formats.cells import as_text


@dataclass(frozen=True)
class SheetLine:
    """So many of a pack, what it is, what it costs together, and by when it is wanted."""

    count: int
    pack: str
    name: str
    number: str
    price: str
    wanted: str


def order_csv(lines: Sequence[SheetLine]) -> str:
    """Count, pack, what, number, price, wanted by.

    >>> order_csv([SheetLine(2, "1 kg", "Tarn", "", "20.00 EUR", "21 May")]).splitlines()[1]
    '2,1 kg,Tarn,,20.00 EUR,21 May'
    """
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(["count", "pack", "what", "number", "price", "wanted by"])
    for line in lines:
        cells = (line.pack, line.name, line.number, line.price, line.wanted)
        writer.writerow([line.count, *(as_text(cell) for cell in cells)])
    return out.getvalue()


def order_mail(seller: str, shop: str, lines: Sequence[SheetLine], total: str) -> str:
    """The text of a mail: plain, line by line.

    >>> order_mail("Mill", "Boathouse", [SheetLine(2, "1 kg", "Tarn", "", "20.00 EUR", "21 May")], "20.00 EUR")[:22]
    'Order from Boathouse\\n\\n'
    """
    rows = [f"- {line.count} × {line.pack} {line.name}{f' (no. {line.number})' if line.number else ''}: {line.price}"
            for line in lines]  # fmt: skip
    body = [f"Order from {shop}", "", f"To {seller}: please send", "", *rows, "", f"Together {total}, parcel included."]
    body += ["Please say when it comes, and write before you send something else than named here."]
    return "\n".join(body) + "\n"


def order_pdf(
    seller: str,
    shop: str,
    day: str,
    lines: Sequence[SheetLine],
    sums: Sequence[tuple[str, str]],
    *,
    letter: bool = False,
) -> bytes:
    """One sheet, with a box to tick for each line when it comes; A4 or letter."""
    page = BenchPage(f"Order, {seller}", f"{shop}, {day}")
    rows: list[list[object]] = [["", "Count", "Pack", "What", "Number", "Price", "Wanted by"]]
    rows += [["", line.count, line.pack, page.plain(line.name), line.number, line.price, line.wanted] for line in lines]
    table = Table(rows, colWidths=[9 * mm, 14 * mm, 32 * mm, 56 * mm, 24 * mm, 26 * mm, 25 * mm])
    table.setStyle(
        TableStyle(
            [
                ("FONT", (0, 0), (-1, -1), page.font, 8.5),
                ("VALIGN", (0, 0), (-1, -1), "MIDDLE"),
                ("BOX", (0, 1), (0, -1), 1.0, colors.black),
                ("INNERGRID", (0, 1), (0, -1), 1.0, colors.black),
                ("LINEBELOW", (1, 0), (-1, -1), 0.4, colors.grey),
                ("TOPPADDING", (0, 0), (-1, -1), 6),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 6),
            ]
        )
    )
    page.story += [table, Spacer(0, 5 * mm), *(page.plain(f"{name}: {words}") for name, words in sums)]
    return page.printed(letter=letter)
